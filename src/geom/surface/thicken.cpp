#include "geom/surface/thicken.h"

#include "geom/kernel/by_shape.h"
#include "geom/kernel/face_foot.h"
#include "geom/kernel/finding_place.h"
#include "geom/kernel/hanging_together.h"
#include "geom/kernel/inset.h"
#include "geom/kernel/tolerances.h"
#include "geom/measure/measure.h"
#include "geom/measure/pick.h"
#include "geom/measure/self_crossing.h"
#include "geom/surface/assemble.h"
#include "geom/surface/borders.h"
#include "geom/surface/sew.h"

#include <BRepBuilderAPI_MakeSolid.hxx>
#include <Standard_Failure.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Solid.hxx>

#include <algorithm>
#include <cmath>

namespace kervo::geom {

namespace {

using Side = Thickened::Side;

constexpr double patience = 10; // seconds of processor time

Finding failed() {
    return error_finding("thicken.failed", "This surface cannot be made so thick.",
                         "Choose less, the other side, or smooth its edges first.");
}

Result<Inset> offset(const TopoDS_Shape& shape, double distance, bool thickens, Progress& progress) {
    InsetTask task;
    task.solid = shape;
    task.thickness = -distance;
    task.thickens = thickens;
    auto [end, inset] = make_inset(task, patience, progress);
    if (end == InsetEnd::no_helper) {
        return error_finding("thicken.no_helper", "kervo-reader is missing beside Kervo, which makes walls by it.",
                             "Install Kervo anew.");
    }
    if (end == InsetEnd::cancelled) {
        return error_finding("divide.cancelled", "Stopped.", "");
    }
    if (end != InsetEnd::done || faces_of(inset.shape).empty()) {
        return failed();
    }
    tighten_tolerances(inset.shape);
    return std::move(inset);
}

// One part of a surface, that hangs together.
class Part {
public:
    Part(const TopoDS_Shape& part, Progress& progress) : part_(part), progress_(progress), faces_(faces_of(part)) {
        sources_ = faces_;
        const auto edges = edges_of(part);
        sources_.insert(sources_.end(), edges.begin(), edges.end());
    }

    Result<Thickened> thickened(double front, double back) {
        auto made = free_borders(part_).empty() ? between_shells(front, back) : along(front, back);
        if (!made) {
            return made;
        }
        if (!is_closed(made->solid) || volume_of(made->solid) <= 0 || !is_sound_body(made->solid)) {
            return failed();
        }
        if (const auto uneven = uneven_place(*made, front, back)) {
            Finding finding = error_finding("thicken.uneven", "It would be thinner or thicker here than it should be.",
                                            "Choose a smaller thickness, or the other side.");
            add_place(finding, *uneven);
            return finding;
        }
        return made;
    }

private:
    // Walls on the borders.
    Result<Thickened> along(double front, double back) {
        if (front > 0 && back > 0) {
            auto behind = along(0, back);
            auto ahead = behind ? Part(away(*behind), progress_).along(front + back, 0) : behind;
            return ahead ? traced(std::move(*ahead), *behind) : ahead;
        }
        const auto inset = offset(part_, front > 0 ? front : -back, true, progress_);
        if (!inset) {
            return inset.finding();
        }
        ByShape<TopoDS_Shape> source_of;
        for (const Inset::Made& made : inset->made) {
            source_of.Bind(made.face, sources_.at(made.source));
        }
        Thickened thick;
        const auto solid = solids_within(assembled({inset->shape}).shape);
        if (!solid) {
            return failed();
        }
        thick.solid = *solid;
        for (const TopoDS_Shape& face : faces_of(thick.solid)) {
            thick.made.push_back(told(face, source_of.Seek(face), front > 0));
        }
        return thick;
    }

    // What a face of the solid is. The surface itself is the other side, as the helper copied it.
    [[nodiscard]] Thickened::Made told(const TopoDS_Shape& face, const TopoDS_Shape* source, bool ahead) const {
        if (source != nullptr && source->ShapeType() == TopAbs_FACE) {
            return {face, *source, ahead ? Side::front : Side::back};
        }
        if (source != nullptr && source->ShapeType() == TopAbs_EDGE) {
            return {face, *source, Side::rim};
        }
        for (const TopoDS_Shape& own : faces_) {
            const gp_Pnt inside = places_on(TopoDS::Face(face)).front();
            if (distance_to(own, inside) < 1e-5) {
                return {face, own, ahead ? Side::back : Side::front};
            }
        }
        return {face, rim_at(face), Side::rim};
    }

    // The border edge that a wall stands on.
    [[nodiscard]] TopoDS_Shape rim_at(const TopoDS_Shape& wall) const {
        for (const Border& border : free_borders(part_)) {
            for (const TopoDS_Edge& edge : border.edges) {
                if (distance_to(wall, center_of(edge)) < 1e-5) {
                    return edge;
                }
            }
        }
        return {};
    }

    // Its faces away from the surface, which look as that does.
    static TopoDS_Shape away(const Thickened& behind) {
        std::vector<TopoDS_Shape> faces;
        for (const Thickened::Made& made : behind.made) {
            if (made.side == Side::back) {
                faces.push_back(made.face.Reversed());
            }
        }
        return assembled(faces).shape;
    }

    // What was made of the shifted surface, told of the surface itself.
    static Thickened traced(Thickened thick, const Thickened& behind) {
        ByShape<TopoDS_Shape> source_of; // of shifted faces, and of their borders, which rims have too
        for (const Thickened::Made& made : behind.made) {
            source_of.Bind(made.face, made.source);
            for (const TopoDS_Shape& edge :
                 made.side == Side::rim ? edges_of(made.face) : std::vector<TopoDS_Shape>()) {
                source_of.Bind(edge, made.source);
            }
        }
        for (Thickened::Made& made : thick.made) {
            const TopoDS_Shape* source = made.source.IsNull() ? nullptr : source_of.Seek(made.source);
            made.source = source != nullptr ? *source : TopoDS_Shape();
        }
        return thick;
    }

    // A closed surface: the solid between its two shifted shells.
    Result<Thickened> between_shells(double front, double back) {
        const auto solid = solids_within(part_);
        if (!solid) {
            return solid.finding();
        }
        const bool looks_out = volume_of(BRepBuilderAPI_MakeSolid(closed_shell(part_)).Solid()) > 0;
        Thickened thick;
        std::vector<TopoDS_Shape> shells;
        for (const auto& [side, distance] : {std::pair(Side::front, front), std::pair(Side::back, back)}) {
            if (distance == 0) {
                for (const TopoDS_Shape& face : faces_) {
                    thick.made.push_back({face, face, side});
                    shells.push_back(face);
                }
                continue;
            }
            const bool outwards = looks_out == (side == Side::front);
            const auto inset = offset(*solid, outwards ? distance : -distance, false, progress_);
            if (!inset) {
                return inset.finding();
            }
            for (const TopoDS_Shape& face : faces_of(inset->shape)) {
                shells.push_back(face);
            }
            const auto of_solid = faces_of(*solid);
            const auto edges = edges_of(*solid);
            for (const Inset::Made& made : inset->made) {
                thick.made.push_back(
                    {made.face,
                     made.source < of_solid.size() ? of_solid[made.source] : edges.at(made.source - of_solid.size()),
                     side});
            }
        }
        const auto between = solids_within(assembled(shells).shape);
        if (!between) {
            return failed();
        }
        thick.solid = *between;
        return thick;
    }

    // Each shifted face is as far from the surface as it should be, everywhere that is asked, and no nearer to any.
    [[nodiscard]] std::optional<gp_Pnt> uneven_place(const Thickened& thick, double front, double back) const {
        for (const Thickened::Made& made : thick.made) {
            if (made.side == Side::rim || made.source.IsNull() || made.source.ShapeType() != TopAbs_FACE) {
                continue;
            }
            const double wanted = made.side == Side::front ? front : back;
            const double slack = 1e-4 + 1e-6 * wanted;
            for (const gp_Pnt& place : places_on(TopoDS::Face(made.face))) {
                const auto foot = foot_on(TopoDS::Face(made.source), place);
                if (!foot || std::fabs(foot->distance - wanted) > slack || distance_to(part_, place) < wanted - slack) {
                    return place;
                }
            }
        }
        return std::nullopt;
    }

    TopoDS_Shape part_;
    Progress& progress_;
    std::vector<TopoDS_Shape> faces_, sources_;
};

} // namespace

Result<Thickened> thickened(const TopoDS_Shape& surface, double front, double back, Progress& progress) try {
    Thickened all;
    std::vector<TopoDS_Shape> solids;
    for (const auto& faces : hanging_together(faces_of(surface), TopAbs_EDGE)) {
        auto made = Part(assembled(faces).shape, progress).thickened(front, back);
        if (!made) {
            return made;
        }
        solids.push_back(made->solid);
        all.made.insert(all.made.end(), made->made.begin(), made->made.end());
    }
    all.solid = gather(solids);
    return all;
} catch (const Standard_Failure&) {
    return failed();
}

} // namespace kervo::geom
