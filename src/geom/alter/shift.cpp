#include "geom/alter/shift.h"

#include "geom/alter/alteration.h"
#include "geom/alter/shifted_surfaces.h"
#include "geom/kernel/by_shape.h"
#include "geom/kernel/rebuild.h"
#include "geom/measure/self_crossing.h"

#include <BRepAdaptor_Curve.hxx>
#include <BRepAdaptor_Surface.hxx>
#include <BRepLib.hxx>
#include <BRep_Builder.hxx>
#include <BRep_Tool.hxx>
#include <Geom2d_Line.hxx>
#include <GeomAPI_ExtremaCurveCurve.hxx>
#include <GeomAPI_IntSS.hxx>
#include <GeomAPI_ProjectPointOnCurve.hxx>
#include <GeomAPI_ProjectPointOnSurf.hxx>
#include <Geom_Circle.hxx>
#include <Geom_Line.hxx>
#include <Geom_TrimmedCurve.hxx>
#include <ShapeFix_Edge.hxx>
#include <Standard_Failure.hxx>
#include <TopExp.hxx>
#include <TopTools_IndexedDataMapOfShapeListOfShape.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Iterator.hxx>
#include <gce_MakeCirc.hxx>

#include <algorithm>
#include <cmath>

namespace kervo::geom {

using shifting::apart;
using shifting::follow;
using shifting::Refusal;
using shifting::refuse;
using shifting::runs_past;
using shifting::ShiftedSurfaces;

namespace {

constexpr double meets = 1e-5; // mm, within which curves and surfaces count as meeting

class Shifting {
public:
    Shifting(const TopoDS_Shape& solid, const std::vector<TopoDS_Face>& faces, const Shift& shift)
        : solid_(solid), surfaces_(solid, faces, shift) {
        TopExp::MapShapesAndAncestors(solid, TopAbs_EDGE, TopAbs_FACE, faces_at_edge_);
        TopExp::MapShapesAndUniqueAncestors(solid, TopAbs_VERTEX, TopAbs_FACE, faces_at_vertex_);
        TopExp::MapShapesAndUniqueAncestors(solid, TopAbs_VERTEX, TopAbs_EDGE, edges_at_vertex_);
    }

    /// Throws a refusal.
    TopoDS_Shape make(std::vector<FaceOrigin>& origins) {
        for (int i = 1; i <= faces_at_edge_.Extent(); ++i) {
            find_curve(TopoDS::Edge(faces_at_edge_.FindKey(i)));
        }
        for (int i = 1; i <= faces_at_vertex_.Extent(); ++i) {
            find_place(TopoDS::Vertex(faces_at_vertex_.FindKey(i)));
        }
        for (int i = 1; i <= faces_at_edge_.Extent(); ++i) {
            build(TopoDS::Edge(faces_at_edge_.FindKey(i)));
        }
        TopoDS_Solid result;
        const BRep_Builder builder;
        builder.MakeSolid(result);
        for (TopoDS_Iterator shell(solid_); shell.More(); shell.Next()) {
            TopoDS_Shell made;
            builder.MakeShell(made);
            for (TopoDS_Iterator face(shell.Value()); face.More(); face.Next()) {
                const TopoDS_Face now = rebuilt(TopoDS::Face(face.Value()));
                origins.push_back({now, face.Value()});
                builder.Add(made, now);
            }
            made.Closed(shell.Value().Closed());
            builder.Add(result, made.Oriented(shell.Value().Orientation()));
        }
        BRepLib::SameParameter(result, coincidence, Standard_True);
        BRepLib::UpdateTolerances(result);
        return result;
    }

private:
    [[nodiscard]] static gp_Pnt middle(const TopoDS_Edge& edge) {
        const BRepAdaptor_Curve curve(edge);
        return curve.Value((curve.FirstParameter() + curve.LastParameter()) / 2);
    }
    [[nodiscard]] static gp_Vec heading(const Handle(Geom_Curve) & curve, double at) {
        gp_Pnt place;
        gp_Vec along;
        curve->D1(at, place, along);
        return along;
    }

    // The curves of edges that shift.
    void find_curve(const TopoDS_Edge& edge) {
        const auto& around = faces_at_edge_.FindFromKey(edge);
        if (BRep_Tool::Degenerated(edge) ||
            std::none_of(around.begin(), around.end(), [&](const auto& f) { return surfaces_.moves(f); })) {
            return;
        }
        const TopoDS_Face one = TopoDS::Face(around.First());
        const TopoDS_Face other = TopoDS::Face(around.Last());
        const bool seam = one.IsSame(other);
        double first = 0;
        double last = 0;
        const Handle(Geom_Curve) before = BRep_Tool::Curve(edge, first, last);
        const gp_Pnt at = middle(edge);
        Handle(Geom_Curve) curve;
        gp_Pnt expected;
        if (seam) {
            curve = iso_of(edge, one);
            expected = follow(at, {surfaces_.wanted(one, at)});
        } else if (surfaces_.moves(one) && surfaces_.moves(other) && surfaces_.motion()) {
            curve = Handle(Geom_Curve)::DownCast(before->Transformed(*surfaces_.motion()));
            expected = at.Transformed(*surfaces_.motion());
        } else {
            const auto here = surfaces_.wanted(one, at);
            const auto there = surfaces_.wanted(other, at);
            expected = follow(at, {here, there});
            curve = here.first.IsParallel(there.first, 1e-4) ? beside(edge, one, other) : met(one, other, expected);
        }
        const double half = parameter(curve, expected);
        if (!seam && heading(curve, half).Dot(heading(before, (first + last) / 2)) < 0) {
            curve = curve->Reversed();
        }
        curves_.Bind(edge, curve);
    }

    // A seam runs along the same parameter as before, and as fast, so that its curves in the parameters stay.
    Handle(Geom_Curve) iso_of(const TopoDS_Edge& edge, const TopoDS_Face& face) const {
        double first = 0;
        double last = 0;
        const Handle(Geom2d_Curve) flat = BRep_Tool::CurveOnSurface(edge, face, first, last);
        const gp_Pnt2d start = flat->Value(first);
        const gp_Pnt2d end = flat->Value(last);
        const bool upright = std::fabs(end.X() - start.X()) < std::fabs(end.Y() - start.Y());
        Handle(Geom_Curve) iso = upright ? surfaces_.now(face)->UIso(start.X()) : surfaces_.now(face)->VIso(start.Y());
        const Handle(Geom_TrimmedCurve) trimmed = Handle(Geom_TrimmedCurve)::DownCast(iso);
        iso = trimmed.IsNull() ? iso : trimmed->BasisCurve();
        const Handle(Geom2d_Line) line = Handle(Geom2d_Line)::DownCast(flat);
        if (line.IsNull()) {
            return iso;
        }
        const auto place = [&](double t) {
            const gp_Pnt2d at = line->Value(t);
            return surfaces_.now(face)->Value(at.X(), at.Y());
        };
        if (iso->IsKind(STANDARD_TYPE(Geom_Line))) {
            return new Geom_Line(place(0), gp_Dir(gp_Vec(place(0), place(1))));
        }
        if (const Handle(Geom_Circle) circle = Handle(Geom_Circle)::DownCast(iso); !circle.IsNull()) {
            const gp_Pnt middle = circle->Location();
            const gp_Vec x(middle, place(0));
            const gp_Vec y(middle, place(M_PI / 2));
            return new Geom_Circle(gp_Ax2(middle, gp_Dir(x.Crossed(y)), gp_Dir(x)), circle->Radius());
        }
        return iso;
    }

    // The branch of where the two surfaces meet that passes nearest.
    Handle(Geom_Curve) met(const TopoDS_Face& one, const TopoDS_Face& other, const gp_Pnt& expected) const {
        const GeomAPI_IntSS meeting(surfaces_.now(one), surfaces_.now(other), coincidence);
        Handle(Geom_Curve) best;
        double nearest = 0;
        for (int i = 1; meeting.IsDone() && i <= meeting.NbLines(); ++i) {
            const GeomAPI_ProjectPointOnCurve projection(expected, meeting.Line(i));
            if (projection.NbPoints() > 0 && (best.IsNull() || projection.LowerDistance() < nearest)) {
                best = meeting.Line(i);
                nearest = projection.LowerDistance();
            }
        }
        if (best.IsNull()) {
            refuse(apart(), expected);
        }
        const Handle(Geom_TrimmedCurve) trimmed = Handle(Geom_TrimmedCurve)::DownCast(best);
        return trimmed.IsNull() ? best : trimmed->BasisCurve();
    }

    // Where two faces run smoothly into each other: the same curve beside, when both shift outwards.
    Handle(Geom_Curve) beside(const TopoDS_Edge& edge, const TopoDS_Face& one, const TopoDS_Face& other) const {
        if (!surfaces_.moves(one) || !surfaces_.moves(other)) {
            refuse(error_finding("shift.smooth", "This face runs smoothly into one that stays.",
                                 "Pick the neighbouring face too, or shift them before they are rounded."),
                   middle(edge));
        }
        const BRepAdaptor_Curve curve(edge);
        const auto place = [&](double t) {
            const gp_Pnt p = curve.Value(curve.FirstParameter() * (1 - t) + curve.LastParameter() * t);
            return follow(p, {surfaces_.wanted(one, p)});
        };
        if (curve.GetType() == GeomAbs_Line) {
            return new Geom_Line(place(0), gp_Dir(gp_Vec(place(0), place(1))));
        }
        const gce_MakeCirc circle(place(0), place(0.3), place(0.6));
        if (curve.GetType() != GeomAbs_Circle || !circle.IsDone()) {
            refuse(apart(), middle(edge));
        }
        return new Geom_Circle(circle.Value());
    }

    // Where vertices go: to the meeting of two of their edges that is nearest to what is expected.
    void find_place(const TopoDS_Vertex& vertex) {
        const auto& around = faces_at_vertex_.FindFromKey(vertex);
        if (std::none_of(around.begin(), around.end(), [&](const auto& f) { return surfaces_.moves(f); })) {
            return;
        }
        const gp_Pnt before = BRep_Tool::Pnt(vertex);
        std::vector<shifting::Way> shifts;
        for (const TopoDS_Shape& face : around) {
            shifts.push_back(surfaces_.wanted(TopoDS::Face(face), before));
        }
        const gp_Pnt expected = follow(before, shifts);
        std::vector<Handle(Geom_Curve)> curves;
        for (const TopoDS_Shape& edge : edges_at_vertex_.FindFromKey(vertex)) {
            if (!BRep_Tool::Degenerated(TopoDS::Edge(edge))) {
                curves.push_back(curve_of(TopoDS::Edge(edge)));
            }
        }
        std::optional<gp_Pnt> best;
        const auto offer = [&](const gp_Pnt& place) {
            if (!best || place.Distance(expected) < best->Distance(expected)) {
                best = place;
            }
        };
        for (size_t i = 0; i < curves.size(); ++i) {
            for (size_t k = i + 1; k < curves.size(); ++k) {
                const GeomAPI_ExtremaCurveCurve extrema(curves[i], curves[k]);
                for (int n = 1; n <= extrema.NbExtrema(); ++n) {
                    if (extrema.Distance(n) < meets) {
                        gp_Pnt one;
                        gp_Pnt other;
                        extrema.Points(n, one, other);
                        offer(one);
                    }
                }
            }
        }
        if (!best && curves.size() == 1) {
            offer(curves.front()->Value(parameter(curves.front(), expected)));
        }
        if (!best) {
            refuse(apart(), expected);
        }
        for (const TopoDS_Shape& face : around) {
            const GeomAPI_ProjectPointOnSurf projection(*best, surfaces_.now(TopoDS::Face(face)));
            if (projection.NbPoints() == 0 || projection.LowerDistance() > meets) {
                refuse(apart(), expected);
            }
        }
        TopoDS_Vertex moved;
        BRep_Builder().MakeVertex(moved, *best, coincidence);
        vertices_.Bind(vertex, moved);
    }

    [[nodiscard]] Handle(Geom_Curve) curve_of(const TopoDS_Edge& edge) const {
        double first = 0;
        double last = 0;
        if (const auto* curve = curves_.Seek(edge)) {
            return *curve;
        }
        const Handle(Geom_Curve) curve = BRep_Tool::Curve(edge, first, last);
        const Handle(Geom_TrimmedCurve) trimmed = Handle(Geom_TrimmedCurve)::DownCast(curve);
        return trimmed.IsNull() ? curve : trimmed->BasisCurve(); // it may become longer
    }

    static double parameter(const Handle(Geom_Curve) & curve, const gp_Pnt& place) {
        const GeomAPI_ProjectPointOnCurve projection(place, curve);
        if (projection.NbPoints() == 0) {
            refuse(apart(), place);
        }
        return projection.LowerDistanceParameter();
    }

    [[nodiscard]] TopoDS_Vertex vertex_now(const TopoDS_Vertex& vertex) const {
        const auto* moved = vertices_.Seek(vertex);
        return moved != nullptr ? TopoDS::Vertex(*moved) : vertex;
    }

    // Edges with another curve, or with an end elsewhere.
    void build(const TopoDS_Edge& any) {
        const TopoDS_Edge edge = TopoDS::Edge(any.Oriented(TopAbs_FORWARD));
        const TopoDS_Vertex start = TopExp::FirstVertex(edge);
        const TopoDS_Vertex end = TopExp::LastVertex(edge);
        if (!curves_.IsBound(edge) && !vertices_.IsBound(start) && !vertices_.IsBound(end)) {
            return;
        }
        const BRep_Builder builder;
        if (BRep_Tool::Degenerated(edge)) { // stays at the same parameters
            const TopoDS_Face face = TopoDS::Face(faces_at_edge_.FindFromKey(edge).First());
            double first = 0;
            double last = 0;
            const Handle(Geom2d_Curve) flat = BRep_Tool::CurveOnSurface(edge, face, first, last);
            TopoDS_Edge made;
            builder.MakeEdge(made);
            builder.UpdateEdge(made, flat, surfaces_.now(face), TopLoc_Location(), coincidence);
            builder.Range(made, first, last);
            builder.Degenerated(made, Standard_True);
            builder.Add(made, vertex_now(start).Oriented(TopAbs_FORWARD));
            builder.Add(made, vertex_now(end).Oriented(TopAbs_REVERSED));
            edges_.Bind(edge, made);
            return;
        }
        double was_first = 0;
        double was_last = 0;
        const Handle(Geom_Curve) before = BRep_Tool::Curve(edge, was_first, was_last);
        const Handle(Geom_Curve) curve = curve_of(edge);
        const TopoDS_Vertex from = vertex_now(start);
        const TopoDS_Vertex to = vertex_now(end);
        double first = parameter(curve, BRep_Tool::Pnt(from));
        double last = parameter(curve, BRep_Tool::Pnt(to));
        if (curve->IsPeriodic()) {
            while (last <= first + coincidence) {
                last += curve->Period();
            }
            while (last > first + curve->Period() + coincidence) {
                last -= curve->Period();
            }
            // An arc that would all but vanish has turned over and runs the long way.
            if (before->IsPeriodic() &&
                last - first > curve->Period() - (curve->Period() - (was_last - was_first)) / 2 &&
                was_last - was_first < before->Period() - coincidence) {
                refuse(runs_past(), BRep_Tool::Pnt(from));
            }
        } else if (start.IsSame(end)) {
            first = curve->FirstParameter();
            last = curve->LastParameter();
        }
        if (last - first < meets) {
            refuse(runs_past(), BRep_Tool::Pnt(from));
        }
        TopoDS_Edge made;
        builder.MakeEdge(made, curve, coincidence);
        builder.Add(made, from.Oriented(TopAbs_FORWARD));
        builder.Add(made, to.Oriented(TopAbs_REVERSED));
        builder.Range(made, first, last);
        edges_.Bind(edge, made);
    }

    TopoDS_Face rebuilt(const TopoDS_Face& face) const {
        bool changed = surfaces_.moves(face);
        std::vector<TopoDS_Shape> loops;
        const BRep_Builder builder;
        const TopoDS_Shape forward = face.Oriented(TopAbs_FORWARD);
        for (TopoDS_Iterator loop(forward); loop.More(); loop.Next()) {
            TopoDS_Wire wire;
            builder.MakeWire(wire);
            for (TopoDS_Iterator it(loop.Value().Oriented(TopAbs_FORWARD)); it.More(); it.Next()) {
                const auto* made = edges_.Seek(it.Value());
                changed = changed || made != nullptr;
                builder.Add(wire, made != nullptr ? made->Oriented(it.Value().Orientation()) : it.Value());
            }
            wire.Closed(loop.Value().Closed());
            loops.push_back(wire.Oriented(loop.Value().Orientation()));
        }
        if (!changed) {
            return face;
        }
        TopoDS_Face made;
        if (surfaces_.moves(face)) {
            builder.MakeFace(made, surfaces_.now(face), coincidence);
            for (const TopoDS_Shape& loop : loops) {
                builder.Add(made, loop);
            }
            made.Orientation(face.Orientation());
        } else {
            made = face_with_loops(face, loops);
        }
        lay_on(made, face);
        return made;
    }

    // Curves in the parameters of the face for edges that are new, on the same turn of its surface as before.
    void lay_on(const TopoDS_Face& made, const TopoDS_Face& face) const {
        const TopoDS_Face forward = TopoDS::Face(made.Oriented(TopAbs_FORWARD));
        const TopoDS_Face before = TopoDS::Face(face.Oriented(TopAbs_FORWARD));
        for (const TopoDS_Shape& any : edges_of(before)) {
            const TopoDS_Edge old = TopoDS::Edge(any.Oriented(TopAbs_FORWARD));
            const auto* now_there = edges_.Seek(old);
            if (now_there == nullptr || BRep_Tool::Degenerated(old)) {
                continue;
            }
            const TopoDS_Edge edge = TopoDS::Edge(now_there->Oriented(TopAbs_FORWARD));
            const bool seam = faces_at_edge_.FindFromKey(old).First().IsSame(faces_at_edge_.FindFromKey(old).Last());
            if (seam) {
                const auto flat = [&](const TopoDS_Shape& side) {
                    double first = 0;
                    double last = 0;
                    return BRep_Tool::CurveOnSurface(TopoDS::Edge(side), before, first, last);
                };
                BRep_Builder().UpdateEdge(edge, flat(old), flat(old.Reversed()), forward, coincidence);
                continue;
            }
            ShapeFix_Edge().FixAddPCurve(edge, forward, Standard_False, coincidence);
            bring_near(edge, forward, old, before);
        }
    }

    static gp_Pnt2d middle_on(const TopoDS_Edge& edge, const TopoDS_Face& face) {
        double first = 0;
        double last = 0;
        const Handle(Geom2d_Curve) flat = BRep_Tool::CurveOnSurface(edge, face, first, last);
        return flat.IsNull() ? gp_Pnt2d() : flat->Value((first + last) / 2);
    }
    static void bring_near(const TopoDS_Edge& edge, const TopoDS_Face& face, const TopoDS_Edge& old,
                           const TopoDS_Face& before) {
        const Handle(Geom_Surface) surface = BRep_Tool::Surface(face);
        const gp_Pnt2d here = middle_on(edge, face);
        const gp_Pnt2d there = middle_on(old, before);
        const auto turns = [](double apart, bool periodic, double period) {
            return periodic ? std::round(apart / period) * period : 0;
        };
        const gp_Vec2d by(
            turns(there.X() - here.X(), surface->IsUPeriodic(), surface->IsUPeriodic() ? surface->UPeriod() : 1),
            turns(there.Y() - here.Y(), surface->IsVPeriodic(), surface->IsVPeriodic() ? surface->VPeriod() : 1));
        if (by.Magnitude() > 1) {
            double first = 0;
            double last = 0;
            const Handle(Geom2d_Curve) flat = BRep_Tool::CurveOnSurface(edge, face, first, last);
            BRep_Builder().UpdateEdge(edge, Handle(Geom2d_Curve)::DownCast(flat->Translated(by)), face, coincidence);
        }
    }

    const TopoDS_Shape& solid_;
    TopTools_IndexedDataMapOfShapeListOfShape faces_at_edge_, faces_at_vertex_, edges_at_vertex_;
    ShiftedSurfaces surfaces_;
    ByShape<Handle(Geom_Curve)> curves_; ///< of edges that shift
    ByShape<TopoDS_Shape> vertices_;     ///< in place of those that shift
    ByShape<TopoDS_Shape> edges_;        ///< in place of those that change
};

} // namespace

Result<Altered> shift_faces(const TopoDS_Shape& body, const std::vector<TopoDS_Face>& faces, const Shift& shift) {
    Altered altered;
    std::vector<TopoDS_Shape> solids;
    for (const TopoDS_Shape& solid : solids_of(body)) {
        const auto here = those_on(solid, faces, [](const TopoDS_Face& face) { return face; });
        if (here.empty()) {
            keep(solid, altered, solids);
            continue;
        }
        const PrivateCopy own(solid);
        try {
            std::vector<TopoDS_Face> copied;
            std::transform(here.begin(), here.end(), std::back_inserter(copied),
                           [&](const TopoDS_Face& face) { return TopoDS::Face(own.of(face)); });
            Altered in_copy;
            solids.push_back(Shifting(own.shape(), copied, shift).make(in_copy.origins));
            add_from_copy(in_copy, own, altered);
        } catch (const Refusal& refusal) {
            return refusal.finding;
        } catch (const Standard_Failure&) {
            Finding finding = apart();
            add_place(finding, center_of(here.front()));
            return finding;
        }
        if (!is_sound(solids.back())) {
            Finding finding = runs_past();
            add_place(finding, center_of(here.front()));
            return finding;
        }
        if (const auto crossing = new_crossing(own.shape(), solids.back())) {
            Finding finding = runs_past();
            add_place(finding, crossing->place);
            return finding;
        }
    }
    altered.shape = gather(solids);
    return altered;
}

} // namespace kervo::geom
