#include "geom/make/form_face.h"

#include "geom/kernel/finding_place.h"
#include "geom/kernel/shape.h"
#include "geom/measure/folded_face.h"

#include <BRepBuilderAPI_MakeFace.hxx>
#include <BRepCheck_Analyzer.hxx>
#include <BRepLib.hxx>
#include <BRep_Builder.hxx>
#include <BRep_Tool.hxx>
#include <Geom2d_Curve.hxx>
#include <Precision.hxx>
#include <Standard_Failure.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Iterator.hxx>
#include <TopoDS_Vertex.hxx>
#include <TopoDS_Wire.hxx>

#include <algorithm>
#include <array>
#include <cmath>

namespace kervo::geom {

namespace {

constexpr double close_enough = 1e-6; // mm: an edge beside its place on the surface
constexpr double loosest = 1e-4;      // mm

Finding failed() {
    return error_finding("form.failed", "The surface makes no sound face.",
                         "Move the control points less far, or give it more patches.");
}

bool is_tight(const TopoDS_Face& face) {
    for (const TopoDS_Shape& edge : edges_of(face)) {
        if (BRep_Tool::Tolerance(TopoDS::Edge(edge)) > loosest) {
            return false;
        }
    }
    return true;
}

bool is_border(const TopoDS_Edge& edge, const TopoDS_Face& face) {
    return !BRep_Tool::Degenerated(edge) && !BRep_Tool::IsClosed(edge, face);
}

// Where the normals of two neighbouring places look to opposite sides: a fold as sharp as an edge, which may lie flat
// on itself, and crosses nothing.
std::optional<gp_Pnt> turn_in(const Geom_BSplineSurface& surface) {
    if (is_graph(surface)) {
        return std::nullopt;
    }
    constexpr int in_a_patch = 4;
    const auto places = [](int knots, const auto& knot) {
        std::vector<double> all;
        for (int i = 1; i < knots; ++i) {
            for (int k = 0; k < in_a_patch; ++k) {
                all.push_back(knot(i) + (knot(i + 1) - knot(i)) * (k + 0.5) / in_a_patch);
            }
        }
        return all;
    };
    const auto us = places(surface.NbUKnots(), [&](int i) { return surface.UKnot(i); });
    const auto vs = places(surface.NbVKnots(), [&](int i) { return surface.VKnot(i); });
    std::vector<gp_Vec> before;
    for (const double u : us) {
        std::vector<gp_Vec> here;
        for (const double v : vs) {
            gp_Pnt at;
            gp_Vec du;
            gp_Vec dv;
            surface.D1(u, v, at, du, dv);
            const gp_Vec normal = du.Crossed(dv);
            if ((!here.empty() && normal.Dot(here.back()) < 0) ||
                (!before.empty() && normal.Dot(before[here.size()]) < 0)) {
                return at;
            }
            here.push_back(normal);
        }
        before = std::move(here);
    }
    return std::nullopt;
}

Result<FormFace> proved(FormFace made, const FreeForm& form) {
    if (!is_tight(made.face) || !BRepCheck_Analyzer(made.face).IsValid()) {
        return failed();
    }
    if (const auto at = folded_at(made.face)) {
        Finding finding = error_finding("form.crosses", "The surface runs through itself here.",
                                        "Move the control points less far, or more of them.");
        add_place(finding, *at);
        return finding;
    }
    made.turns = turn_in(*form.surface());
    return made;
}

// The edges of a face again, with the same curves in the parameters of another surface.
class Outline {
public:
    Outline(const TopoDS_Face& face, const Handle(Geom_Surface) & surface) : face_(face), surface_(surface) {}

    TopoDS_Edge edge(const TopoDS_Edge& source) {
        if (const TopoDS_Shape* known = edges_.Seek(source)) {
            return TopoDS::Edge(known->Oriented(source.Orientation()));
        }
        const TopoDS_Edge forward = TopoDS::Edge(source.Oriented(TopAbs_FORWARD));
        double from = 0;
        double to = 0;
        const Handle(Geom2d_Curve) flat = BRep_Tool::CurveOnSurface(forward, face_, from, to);
        if (flat.IsNull()) {
            throw Standard_Failure("an edge without a curve on its face");
        }
        BRep_Builder builder;
        TopoDS_Edge made;
        builder.MakeEdge(made);
        for (TopoDS_Iterator each(forward); each.More(); each.Next()) {
            const TopoDS_Vertex old = TopoDS::Vertex(each.Value());
            const gp_Pnt2d on = flat->Value(old.Orientation() == TopAbs_REVERSED ? to : from);
            builder.Add(made, vertex(old, surface_->Value(on.X(), on.Y())).Oriented(old.Orientation()));
        }
        if (BRep_Tool::IsClosed(forward, face_)) {
            double again = 0;
            const Handle(Geom2d_Curve) other =
                BRep_Tool::CurveOnSurface(TopoDS::Edge(forward.Reversed()), face_, again, again);
            builder.UpdateEdge(made, flat, other, surface_, TopLoc_Location(), Precision::Confusion());
        } else {
            builder.UpdateEdge(made, flat, surface_, TopLoc_Location(), Precision::Confusion());
        }
        builder.Range(made, surface_, TopLoc_Location(), from, to);
        if (BRep_Tool::Degenerated(forward)) {
            builder.Degenerated(made, true);
        } else if (!BRepLib::BuildCurve3d(made, close_enough, GeomAbs_C1, 14, 500)) {
            throw Standard_Failure("an edge without a curve in space");
        }
        edges_.Bind(source, made);
        if (is_border(forward, face_)) {
            sources_.Bind(made, source);
        }
        return TopoDS::Edge(made.Oriented(source.Orientation()));
    }

    [[nodiscard]] const ByShape<TopoDS_Shape>& sources() const { return sources_; }

private:
    TopoDS_Shape vertex(const TopoDS_Vertex& old, const gp_Pnt& place) {
        if (const TopoDS_Shape* known = vertices_.Seek(old)) {
            return *known;
        }
        TopoDS_Vertex made;
        BRep_Builder().MakeVertex(made, place, Precision::Confusion());
        vertices_.Bind(old, made);
        return made;
    }

    const TopoDS_Face& face_;
    Handle(Geom_Surface) surface_;
    ByShape<TopoDS_Shape> vertices_, edges_; // by those of the face
    ByShape<TopoDS_Shape> sources_;
};

} // namespace

Result<FormFace> whole_face(const FreeForm& form) try {
    const BRepBuilderAPI_MakeFace whole(form.surface(), Precision::Confusion());
    if (!whole.IsDone()) {
        return failed();
    }
    FormFace made{whole.Face(), {}, {}, {}};
    std::array<double, 4> ends{}; // first and last of u, of v
    form.surface()->Bounds(ends[0], ends[1], ends[2], ends[3]);
    for (const TopoDS_Shape& edge : edges_of(made.face)) {
        if (!is_border(TopoDS::Edge(edge), made.face)) {
            continue;
        }
        double from = 0;
        double to = 0;
        const Handle(Geom2d_Curve) flat = BRep_Tool::CurveOnSurface(TopoDS::Edge(edge), made.face, from, to);
        const gp_Pnt2d middle = flat->Value((from + to) / 2);
        const std::array<double, 4> away{std::fabs(middle.X() - ends[0]), std::fabs(middle.X() - ends[1]),
                                         std::fabs(middle.Y() - ends[2]), std::fabs(middle.Y() - ends[3])};
        const auto nearest = std::min_element(away.begin(), away.end());
        made.side_of_edge.Bind(edge, static_cast<int>(nearest - away.begin()));
    }
    return proved(std::move(made), form);
} catch (const Standard_Failure&) {
    return failed();
}

Result<FormFace> face_with_outline(const FreeForm& form, const TopoDS_Face& face) try {
    BRep_Builder builder;
    TopoDS_Face made;
    builder.MakeFace(made, form.surface(), Precision::Confusion());
    const TopoDS_Face forward = TopoDS::Face(face.Oriented(TopAbs_FORWARD));
    Outline outline(forward, form.surface());
    for (TopoDS_Iterator wires(forward); wires.More(); wires.Next()) {
        if (wires.Value().ShapeType() != TopAbs_WIRE) {
            continue;
        }
        TopoDS_Wire wire;
        builder.MakeWire(wire);
        for (TopoDS_Iterator edges(wires.Value().Oriented(TopAbs_FORWARD)); edges.More(); edges.Next()) {
            builder.Add(wire, outline.edge(TopoDS::Edge(edges.Value())));
        }
        wire.Closed(true);
        builder.Add(made, wire.Oriented(wires.Value().Orientation()));
    }
    BRepLib::SameParameter(made, close_enough, true);
    BRepLib::UpdateTolerances(made);
    made.Orientation(face.Orientation());
    return proved({made, {}, outline.sources(), {}}, form);
} catch (const Standard_Failure&) {
    return failed();
}

} // namespace kervo::geom
