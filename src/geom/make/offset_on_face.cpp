#include "geom/make/curves_on_face.h"

#include "geom/kernel/by_shape.h"
#include "geom/kernel/join_ends.h"
#include "geom/kernel/splines.h"
#include "geom/make/curve_flaws.h"
#include "geom/make/geodesic.h"
#include "geom/make/on_face.h"
#include "geom/measure/measure.h"
#include "geom/measure/pick.h"

#include <BRepAdaptor_Curve.hxx>
#include <BRepBuilderAPI_MakeEdge.hxx>
#include <ElCLib.hxx>
#include <Geom_Surface.hxx>
#include <TopExp.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>
#include <gce_MakeCirc.hxx>
#include <gp_Circ.hxx>
#include <gp_Lin.hxx>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace kervo::geom {

namespace {

// An edge on the face, and what is square to it: into the face from its borders, else to the left.
class Beside {
public:
    Beside(const TopoDS_Face& face, const TopoDS_Edge& edge, double distance)
        : face_(face), edge_(edge), curve_(edge), surface_(all_round(face)), distance_(distance) {
        for (TopExp_Explorer it(face, TopAbs_EDGE); it.More(); it.Next()) {
            if (it.Current().IsSame(edge)) {
                edge_.Orientation(it.Current().Orientation());
            }
        }
        closed_ = curve_.Value(curve_.FirstParameter()).Distance(curve_.Value(curve_.LastParameter())) < coincidence;
    }

    [[nodiscard]] bool closed() const { return closed_; }

    struct Place {
        gp_Pnt foot, there;
        gp_Vec square; ///< to the line that led there: where the offset goes on, if it does not turn back
    };
    /// At shares of the curve's parameters. Findings: space.beside, space.no_line.
    Result<std::vector<Place>> places(int parts) const {
        std::vector<gp_Pnt> on;
        for (int i = 0; i <= parts; ++i) {
            on.push_back(curve_.Value(share_of(curve_, i, parts)));
        }
        if (surface_.IsNull()) {
            return no_curve(on.front());
        }
        const auto feet = feet_of(face_, on);
        if (!feet || feet->brought > 10 * curve_true_enough) {
            return curve_flaw("space.beside", "This curve is not on the face.", "Project it onto the face first.",
                              feet ? feet->from : on.front());
        }
        std::vector<Place> found;
        for (int i = 0; i <= parts; ++i) {
            const gp_Pnt2d& foot = feet->at[static_cast<size_t>(i)];
            gp_Pnt place;
            gp_Vec along;
            curve_.D1(share_of(curve_, i, parts), place, along);
            const gp_Vec left = to_the_left(foot, along);
            const auto end = geodesic_from(surface_, foot, left * (distance_ < 0 ? -1 : 1), std::fabs(distance_));
            if (!end) {
                return curve_flaw("space.no_line", "From here no line on the face goes as far.",
                                  "Take a smaller distance.", place);
            }
            const gp_Vec on_from_there = to_the_left(end->at, end->way) * (distance_ < 0 ? 1 : -1);
            found.push_back({place, surface_->Value(end->at.X(), end->at.Y()), on_from_there});
        }
        return found;
    }

    static Finding folds(const gp_Pnt& at) {
        return curve_flaw("space.folds", "So far beside the curve, the offset runs through itself here.",
                          "Take a smaller distance, or the other side.", at);
    }

private:
    // As long as one likes; to the left of a direction as the edge runs, seen from outside of the face.
    [[nodiscard]] gp_Vec to_the_left(const gp_Pnt2d& at, const gp_Vec& along) const {
        gp_Pnt place;
        gp_Vec u;
        gp_Vec v;
        surface_->D1(at.X(), at.Y(), place, u, v);
        const bool turned = (face_.Orientation() == TopAbs_REVERSED) != (edge_.Orientation() == TopAbs_REVERSED);
        return u.Crossed(v).Crossed(along) * (turned ? -1 : 1);
    }

    const TopoDS_Face& face_;
    TopoDS_Edge edge_;
    BRepAdaptor_Curve curve_;
    Handle(Geom_Surface) surface_;
    double distance_;
    bool closed_ = false;
};

constexpr double nearer = 0.98; // on a curved face a little is as it should be

// Where the offset turns back, or comes nearer to another place of the curve than to the one that it was made from.
std::optional<Finding> fold_in(const std::vector<Beside::Place>& places, const TopoDS_Edge& curve) {
    for (size_t i = 1; i < places.size(); ++i) {
        if (gp_Vec(places[i - 1].there, places[i].there).Dot(places[i].square + places[i - 1].square) <= 0) {
            return Beside::folds(places[i].there);
        }
    }
    constexpr size_t looked_at = 40;
    for (size_t i = 0; i < places.size(); i += std::max<size_t>(1, places.size() / looked_at)) {
        if (distance_to(curve, places[i].there) < nearer * places[i].there.Distance(places[i].foot)) {
            return Beside::folds(places[i].there);
        }
    }
    return std::nullopt;
}

// The line or the arc that all of the places lie on; null where there is none.
TopoDS_Edge plain_through(const std::vector<Beside::Place>& places, bool closed) {
    const gp_Pnt& first = places.front().there;
    const gp_Pnt& last = places.back().there;
    const gp_Pnt& middle = places[places.size() / 2].there;
    const auto all_near = [&](const auto& distance) {
        return std::all_of(places.begin(), places.end(),
                           [&](const Beside::Place& place) { return distance(place.there) < coincidence; });
    };
    if (!closed &&
        all_near([line = gp_Lin(first, gp_Dir(gp_Vec(first, last)))](const gp_Pnt& at) { return line.Distance(at); })) {
        return BRepBuilderAPI_MakeEdge(first, last).Edge();
    }
    const gce_MakeCirc made(first, middle, closed ? places[places.size() / 4].there : last);
    if (!made.IsDone()) {
        return {};
    }
    gp_Circ circle = made.Value();
    if (!all_near([&](const gp_Pnt& at) { return circle.Distance(at); })) {
        return {};
    }
    circle.SetPosition(gp_Ax2(circle.Location(), circle.Axis().Direction(), gp_Dir(gp_Vec(circle.Location(), first))));
    const double ahead = ElCLib::Parameter(circle, places[1].there);
    if (ahead > std::numbers::pi) { // the other way round
        circle.SetAxis(circle.Axis().Reversed());
    }
    return closed ? BRepBuilderAPI_MakeEdge(circle).Edge() : BRepBuilderAPI_MakeEdge(circle, first, last).Edge();
}

Result<TopoDS_Edge> offset_of(const Beside& beside, const TopoDS_Edge& source) {
    gp_Pnt where = center_of(source);
    for (int parts = 32; parts <= 1024; parts *= 2) {
        const auto places = beside.places(2 * parts); // every second one is for the proof
        if (!places) {
            return places.finding();
        }
        if (auto fold = fold_in(*places, source)) {
            return std::move(*fold);
        }
        if (const TopoDS_Edge plain = plain_through(*places, beside.closed()); !plain.IsNull()) {
            return plain;
        }
        std::vector<gp_Pnt> through;
        for (size_t i = 0; i < places->size() - (beside.closed() ? 1 : 0); i += 2) {
            through.push_back((*places)[i].there);
        }
        const Handle(Geom_BSplineCurve) curve =
            spline_through(through, beside.closed() ? 3 : max_curve_degree, beside.closed());
        if (curve.IsNull()) {
            return no_curve(through.front());
        }
        const TopoDS_Edge edge = BRepBuilderAPI_MakeEdge(curve).Edge();
        double worst = 0;
        for (size_t i = 1; i < places->size(); i += 2) {
            const double off = distance_to(edge, (*places)[i].there);
            if (off > worst) {
                worst = off;
                where = (*places)[i].there;
            }
        }
        if (worst < curve_true_enough) {
            return edge;
        }
    }
    return no_curve(where);
}

// Where edges that met at an end are apart now, or would cross.
std::optional<Finding> torn(const std::vector<TopoDS_Edge>& before, const std::vector<TopoDS_Edge>& now) {
    struct End {
        gp_Pnt was, is;
    };
    ByShape<std::vector<End>> at;
    for (size_t i = 0; i < before.size(); ++i) {
        const BRepAdaptor_Curve was(before[i]);
        const BRepAdaptor_Curve is(now[i]);
        entry(at, TopExp::FirstVertex(before[i]))
            .push_back({was.Value(was.FirstParameter()), is.Value(is.FirstParameter())});
        entry(at, TopExp::LastVertex(before[i]))
            .push_back({was.Value(was.LastParameter()), is.Value(is.LastParameter())});
    }
    for (ByShape<std::vector<End>>::Iterator it(at); it.More(); it.Next()) {
        for (const End& end : it.Value()) {
            if (end.is.Distance(it.Value().front().is) > 10 * curve_true_enough) {
                return curve_flaw("space.corner", "The curves meet at an angle here, and what is beside them does not.",
                                  "Round the corner first, or take them one by one.", end.was);
            }
        }
    }
    return std::nullopt;
}

// Where what is beside one of the curves comes nearer to another.
std::optional<Finding> too_near_to_others(const std::vector<TopoDS_Edge>& curves,
                                          const std::vector<TopoDS_Edge>& beside) {
    const TopoDS_Shape all = gather({curves.begin(), curves.end()});
    constexpr int looked_at = 40;
    for (size_t i = 0; curves.size() > 1 && i < curves.size(); ++i) {
        const BRepAdaptor_Curve curve(beside[i]);
        for (int k = 0; k <= looked_at; ++k) {
            const gp_Pnt place = curve.Value(share_of(curve, k, looked_at));
            if (distance_to(all, place) < nearer * distance_to(curves[i], place)) {
                return Beside::folds(place);
            }
        }
    }
    return std::nullopt;
}

} // namespace

Result<CurveOnFace> offset_on_face(const TopoDS_Face& face, const std::vector<TopoDS_Edge>& curves, double distance,
                                   Progress& progress) try {
    std::vector<TopoDS_Edge> whole;
    for (const TopoDS_Edge& curve : curves) {
        const TopoDS_Edge forward = TopoDS::Edge(curve.Oriented(TopAbs_FORWARD));
        auto edge = offset_of(Beside(face, forward, distance), forward);
        if (!edge) {
            return edge.finding();
        }
        whole.push_back(*edge);
    }
    if (auto tear = torn(curves, whole)) {
        return std::move(*tear);
    }
    if (auto fold = too_near_to_others(curves, whole)) {
        return std::move(*fold);
    }
    CurveOnFace made;
    for (const TopoDS_Edge& edge : whole) {
        auto parts = parts_within(edge, face, "Take a smaller distance.", progress);
        if (!parts) {
            return parts.finding();
        }
        made.edges.insert(made.edges.end(), parts->begin(), parts->end());
    }
    made.edges = join_ends(made.edges, 10 * curve_true_enough);
    return made;
} catch (const Standard_Failure&) {
    return curve_flaw("space.failed", "What is beside the curve could not be found.", "Take a smaller distance.",
                      center_of(curves.front()));
}

} // namespace kervo::geom
