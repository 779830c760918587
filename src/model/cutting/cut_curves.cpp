#include "model/cutting/cut_curves.h"

#include "geom/cut/curve_division.h"
#include "geom/kernel/by_shape.h"
#include "model/names/altering.h"
#include "model/names/border_names.h"

#include <map>

namespace kervo::model {

Result<DividedCurves> divide_curves(const Body& body, const NamedCutters& cutters, const std::vector<int>& by,
                                    Progress& progress) {
    auto made = geom::divide_curves(body.shape, cutters.solids(by), progress);
    if (!made) {
        return made.finding();
    }
    DividedCurves divided{std::move(made->division), {}, body.names};
    divided.parts = std::exchange(divided.division.origins, {});
    divided.names.add(cutters.names(by));
    geom::ByShape<std::set<std::string>> around;
    for (const auto& cut : made->cuts) {
        const FaceName* name = divided.names.Seek(cut.element);
        const std::string& at = name != nullptr ? name->origin : cutters.keys[static_cast<size_t>(by[cut.cutter])];
        geom::entry(around, cut.part).insert(cut.at_start ? name_at_start(at) : name_at_end(at));
        divided.division.origins.push_back({cut.part, cut.element});
    }
    for (size_t first = 0, next = 0; first < divided.parts.size(); first = next) { // the parts of one edge
        std::vector<std::set<std::string>> beside;
        for (; next < divided.parts.size() && divided.parts[next].source.IsSame(divided.parts[first].source); ++next) {
            beside.push_back(geom::entry(around, divided.parts[next].result));
        }
        const auto told = tell_apart(beside);
        const FaceName whole = body.names.Find(divided.parts[first].source);
        for (size_t i = first; i < next; ++i) {
            FaceName name = whole;
            if (next > first + 1) {
                const auto& own = told[i - first].own;
                name.parts.insert(name.parts.end(), own.begin(), own.end());
                std::sort(name.parts.begin(), name.parts.end());
                name.ambiguous = name.ambiguous || told[i - first].ambiguous;
            }
            divided.names.Bind(divided.parts[i].result, name);
            divided.division.origins.push_back({divided.parts[i].result, divided.parts[i].result});
        }
    }
    return divided;
}

BodyPtr curves_of_parts(const std::vector<TopoDS_Shape>& staying, const std::vector<geom::FaceOrigin>& parts,
                        const FaceNames& names, bool whole) {
    std::vector<TopoDS_Shape> edges;
    for (const TopoDS_Shape& piece : staying) {
        const auto more = geom::edges_of(piece);
        edges.insert(edges.end(), more.begin(), more.end());
    }
    FaceNames named;
    std::vector<TopoDS_Shape> made;
    if (whole) {
        for (const auto& [edge, like] : geom::parts_joined(edges, parts)) {
            named.Bind(edge, FaceName(names.Find(like)));
            made.push_back(edge);
        }
    } else {
        for (const TopoDS_Shape& edge : edges) {
            named.Bind(edge, FaceName(names.Find(edge)));
        }
        made = edges;
    }
    return body_of_edges(made, named);
}

} // namespace kervo::model
