#include "model/names/border_names.h"

#include "geom/kernel/by_shape.h"
#include "geom/kernel/tolerances.h"
#include "geom/measure/along_edge.h"
#include "geom/measure/measure.h"
#include "geom/measure/pick.h"
#include "geom/surface/border_side.h"

#include <Bnd_Box.hxx>
#include <TopoDS.hxx>

#include <algorithm>
#include <array>
#include <optional>

namespace kervo::model {

namespace {

constexpr char mark = '|';
constexpr double on_it = 1e-5; // mm: as loose as what cuts leave is, at least

Bnd_Box box_around(const TopoDS_Shape& shape) {
    const auto corners = geom::rough_box_of(shape);
    Bnd_Box box(gp_Pnt(corners[0], corners[1], corners[2]), gp_Pnt(corners[3], corners[4], corners[5]));
    box.Enlarge(on_it);
    return box;
}

struct Known {
    TopoDS_Shape shape;
    const FaceName* name;
    Bnd_Box box;
};

using Places = std::array<gp_Pnt, 3>;

bool lie_on(const Places& places, const Known& known, double tolerance) {
    return std::none_of(places.begin(), places.end(), [&](const gp_Pnt& place) { return known.box.IsOut(place); }) &&
           std::all_of(places.begin(), places.end(),
                       [&](const gp_Pnt& place) { return geom::distance_to(known.shape, place) <= tolerance; });
}

// What gives borders their names. What stands for the same is told by the smallest name, so that no order counts.
class Sources {
public:
    explicit Sources(const FaceNames& inputs) {
        inputs.for_each([&](const TopoDS_Shape& shape, const FaceName& name) {
            if (shape.ShapeType() != TopAbs_EDGE && shape.ShapeType() != TopAbs_FACE) {
                return;
            }
            const bool border = shape.ShapeType() == TopAbs_EDGE;
            (border ? borders_ : faces_).push_back({shape, &name, box_around(shape)});
            if (!border) {
                for (const TopoDS_Shape& edge : geom::edges_of(shape)) {
                    geom::entry(bounding_, edge).push_back(&name);
                }
            }
        });
    }

    [[nodiscard]] std::optional<FaceName> name_of(const TopoDS_Edge& edge, const FaceName& of_face) const {
        const FaceName* found = nullptr;
        const auto take = [&](const FaceName& name) {
            if (found == nullptr || name.text() < found->text()) {
                found = &name;
            }
        };
        if (const auto* around = bounding_.Seek(edge)) {
            for (const FaceName* name : *around) {
                if (name->origin != of_face.origin) {
                    take(*name);
                }
            }
            if (found != nullptr) {
                return border_towards(found->origin);
            }
        }
        const Places places = geom::places_within(edge);
        const double tolerance = std::max(on_it, geom::largest_tolerance(edge));
        const Known own{edge, nullptr, box_around(edge)};
        for (const Known& border : borders_) {
            if (!border.box.IsOut(own.box) &&
                (lie_on(places, border, tolerance) ||
                 lie_on(geom::places_within(TopoDS::Edge(border.shape)), own, tolerance))) {
                take(*border.name);
            }
        }
        if (found != nullptr) { // what a curve has cut is called after it
            return is_border_name(found->origin) ? *found : border_towards(found->origin);
        }
        for (const Known& face : faces_) {
            if (face.name->origin != of_face.origin && lie_on(places, face, tolerance)) {
                take(*face.name);
            }
        }
        return found != nullptr ? std::optional(border_towards(found->origin)) : std::nullopt;
    }

private:
    std::vector<Known> borders_, faces_;
    geom::ByShape<std::vector<const FaceName*>> bounding_;
};

} // namespace

FaceName border_towards(const std::string& origin) {
    return {mark + origin, {}, false};
}

bool is_border_name(const std::string& text) {
    return !text.empty() && text.front() == mark;
}

void name_borders(Body& body, const FaceNames& inputs) {
    std::optional<Sources> sources;
    for (const geom::BorderSide& side : geom::border_sides(body.shape)) {
        if (body.names.IsBound(side.edge)) {
            continue;
        }
        if (const FaceName* own = inputs.Seek(side.edge)) {
            body.names.Bind(side.edge, *own);
            continue;
        }
        if (!sources) {
            sources.emplace(inputs);
        }
        if (const auto name = sources->name_of(side.edge, body.names.Find(side.face))) {
            body.names.Bind(side.edge, *name);
        }
    }
}

} // namespace kervo::model
