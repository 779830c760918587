#include "model/cutting/named_cutters.h"

#include "geom/measure/pick.h"

#include <algorithm>
#include <numeric>
#include <set>

namespace kervo::model {

namespace {

// What of a cutter must come near a body to divide it: of a blade's front side, the blade.
TopoDS_Shape edge_of(const SweptRegion& cutter) {
    for (const geom::FaceRole& role : cutter.solid().roles) {
        if (role.role.starts_with("blade")) {
            return role.face;
        }
    }
    return cutter.solid().shape;
}

} // namespace

Finding NamedCutters::missed(const TopoDS_Shape& workpiece) const {
    double gap = -1;
    Place place{};
    for (const SweptRegion& cutter : swept_) {
        const auto [width, on_cutter, on_workpiece] = geom::gap_between(edge_of(cutter), workpiece);
        if (gap < 0 || width < gap) {
            gap = width;
            place = {on_workpiece.X(), on_workpiece.Y(), on_workpiece.Z()};
        }
    }
    Finding finding = warning_finding(
        "cut.misses", "What cuts does not meet this workpiece; " + format_fixed(gap, "mm") + " mm are missing.",
        "Let the cut reach farther, or take the body off the list.");
    finding.field = "workpieces";
    finding.places.push_back(place);
    return finding;
}

NamedCutters::NamedCutters(int step, const std::vector<SweptRegion>& swept) : step_(step), swept_(swept) {
    for (const SweptRegion& region : swept) {
        keys.push_back(region.key);
    }
    for (const SweptRegion& region : swept) {
        if (!region.front_key.empty()) {
            keys.push_back(region.front_key);
        }
    }
}

int NamedCutters::index_of(const std::string& key) const {
    return static_cast<int>(std::find(keys.begin(), keys.end(), key) - keys.begin());
}

std::vector<int> NamedCutters::all() const {
    std::vector<int> indices(swept_.size());
    std::iota(indices.begin(), indices.end(), 0);
    return indices;
}

std::vector<const geom::StraightCutter*> NamedCutters::straight() const {
    std::vector<const geom::StraightCutter*> all;
    for (const SweptRegion& region : swept_) {
        if (!region.straight) {
            return {};
        }
        all.push_back(&*region.straight);
    }
    return all;
}

std::vector<TopoDS_Shape> NamedCutters::solids(const std::vector<int>& which) const {
    std::vector<TopoDS_Shape> shapes;
    for (const int i : which) {
        shapes.push_back(swept_[static_cast<size_t>(i)].solid().shape);
    }
    return shapes;
}

FaceNames NamedCutters::names(const std::vector<int>& which) const {
    FaceNames all;
    for (const int i : which) {
        all.add(name_fresh(step_, swept_[static_cast<size_t>(i)].solid())->names);
    }
    return all;
}

FaceName NamedCutters::name_of(const geom::StraightDivision::Made& made) {
    const SweptRegion& region = swept_[static_cast<size_t>(made.cutter)];
    const auto& loop = region.straight->loops.front();
    if (made.piece >= 0 && !sides_are_alike(made.cutter)) {
        return {std::to_string(step_) + ":side/c" + loop[static_cast<size_t>(made.piece)].curve, {}, false};
    }
    if (made.piece < 0) {
        const bool start = (made.piece == geom::StraightDivision::high_end) == region.down;
        return {std::to_string(step_) + (start ? ":start" : ":end"), {}, false};
    }
    const auto& solid = region.solid();
    return name_fresh(step_, solid)->names.Find(solid.roles[static_cast<size_t>(made.piece)].face);
}

bool NamedCutters::sides_are_alike(int cutter) {
    if (alike_.empty()) {
        for (const SweptRegion& region : swept_) {
            std::set<std::string> curves;
            const auto& loop = region.straight->loops.front();
            alike_.push_back(std::any_of(loop.begin(), loop.end(),
                                         [&](const auto& piece) { return !curves.insert(piece.curve).second; }));
        }
    }
    return alike_[static_cast<size_t>(cutter)];
}

} // namespace kervo::model
