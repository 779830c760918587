#include "geom/surface/projected_curves.h"

#include "geom/cut/score.h"
#include "geom/kernel/by_shape.h"
#include "geom/kernel/face_foot.h"
#include "geom/kernel/finding_place.h"
#include "geom/kernel/join_ends.h"
#include "geom/measure/measure.h"
#include "geom/measure/pick.h"

#include <BRepAdaptor_Curve.hxx>
#include <BRepBuilderAPI_MakeEdge.hxx>
#include <BRepPrimAPI_MakePrism.hxx>
#include <BRep_Tool.hxx>
#include <GeomAPI_Interpolate.hxx>
#include <Geom_BSplineCurve.hxx>
#include <Standard_Failure.hxx>
#include <TColgp_HArray1OfPnt.hxx>
#include <TopoDS.hxx>

#include <algorithm>
#include <array>
#include <cmath>
#include <deque>
#include <limits>
#include <optional>

namespace kervo::geom {

namespace {

constexpr double exactness = 1e-9; // mm: of places that are worked out
constexpr double loose = 0.02;     // of its size: a curve of the kernel's was 0.1 of 80 off near a limb, and said 0.002
constexpr double close_fit = 1e-6; // mm: of curves through these
constexpr double grazing = 1e-7;   // sine
constexpr double limb = 3e-3;      // sine

Finding failed(const gp_Pnt& at) {
    Finding finding = error_finding("project.failed", "The curve could not be projected here.",
                                    "Move it a little, or choose another direction.");
    add_place(finding, at);
    return finding;
}

// A curve in which a wall meets a face.
class Meeting {
public:
    Meeting(const TopoDS_Edge& edge, TopoDS_Face face, size_t curve, const ProjectedSource& source,
            ProjectionRays& rays, const gp_Dir& up, const gp_Dir& along)
        : edge_(edge), face_(std::move(face)), curve_(curve), on_(edge), source_(source), rays_(rays), up_(up),
          along_(along), loose_(loose * length_of(edge)) {}

    /// Above which parameters of the projected curve it begins and ends: there other hits change their numbers.
    [[nodiscard]] std::array<double, 2> ends() const {
        return {source_.below(on_.Value(on_.FirstParameter())), source_.below(on_.Value(on_.LastParameter()))};
    }

    /// `changes`: the ends of all that the curve meets, ascending; each stretch between them is looked at. False where
    /// something is wrong, which `wrong` then tells.
    bool add_parts(const std::vector<double>& changes, std::vector<ProjectedPart>& parts) {
        const double first = on_.FirstParameter();
        const double last = on_.LastParameter();
        std::vector<double> ends{first};
        std::vector<std::optional<State>> states;
        double before = first;
        for (const double here : places_to_look(changes)) {
            const auto exact = exactly(on_.Value(here));
            if (wrong || (exact && std::fabs(exact->normal.Dot(along_)) < limb)) { // there a ray cannot tell two hits
                continue;
            }
            const auto next = state_of(exact, here);
            if (!wrong && !states.empty() && !(next == states.back())) {
                ends.push_back(change_between(before, here, states.back(), next));
            }
            if (states.size() < ends.size()) {
                states.push_back(next);
            }
            before = here;
        }
        ends.push_back(last);
        for (size_t i = 0; i < states.size() && !wrong; ++i) {
            if (states[i]) {
                parts.push_back(part(ends[i], ends[i + 1], states.size() == 1, states[i]->hit));
            }
        }
        return !wrong;
    }

    [[nodiscard]] size_t curve() const { return curve_; }

    std::optional<gp_Pnt> wrong;

private:
    struct State {
        int hit;
        bool front; ///< of the face is met
        friend bool operator==(const State&, const State&) = default;
    };

    struct Exact {
        gp_Pnt place;
        double above;  // the parameter of the curve that is projected
        gp_Pnt from;   // there
        gp_Vec normal; // of the front of the face
        gp_Vec way;    // of the edge
    };
    // Spread evenly, and one between each two changes; none at an end, where a ray meets borders.
    [[nodiscard]] std::vector<double> places_to_look(const std::vector<double>& changes) const {
        constexpr int even = 24;
        std::vector<double> places;
        std::vector<std::array<double, 2>> grid; // of the edge, of the curve above
        for (int i = 0; i <= even; ++i) {
            const auto at = [&](double share) {
                return on_.FirstParameter() + share * (on_.LastParameter() - on_.FirstParameter());
            };
            if (i < even) {
                places.push_back(at((i + 0.37) / even));
            }
            grid.push_back(
                {at(static_cast<double>(i) / even), source_.below(on_.Value(at(static_cast<double>(i) / even)))});
        }
        const double jump = (source_.parameter(1) - source_.parameter(0)) / 2; // over where a ring begins
        for (size_t k = 0; k + 1 < changes.size(); ++k) {
            const double wanted = (changes[k] + changes[k + 1]) / 2;
            for (size_t i = 0; i + 1 < grid.size() && changes[k + 1] - changes[k] > coincidence; ++i) {
                auto [low, from] = grid[i];
                auto [high, to] = grid[i + 1];
                if ((from - wanted) * (to - wanted) >= 0 || std::fabs(to - from) > jump) {
                    continue;
                }
                for (int n = 0; n < 40; ++n) {
                    const double middle = (low + high) / 2;
                    ((source_.below(on_.Value(middle)) < wanted) == (from < wanted) ? low : high) = middle;
                }
                places.push_back((low + high) / 2);
            }
        }
        std::sort(places.begin(), places.end());
        return places;
    }

    // Nothing where it lies behind the curve, or the face runs along the direction.
    std::optional<State> state_of(const std::optional<Exact>& exact, double t) {
        if (!exact) {
            wrong = on_.Value(t);
            return std::nullopt;
        }
        const double far = gp_Vec(exact->from, exact->place).Dot(along_);
        const double lean = exact->normal.Dot(along_);
        if (far < -same_hit || std::fabs(lean) < grazing) {
            return std::nullopt;
        }
        const auto hits = rays_.from(exact->from);
        double best = std::numeric_limits<double>::infinity();
        int hit = 0;
        for (size_t k = 0; k < hits.size(); ++k) {
            if (std::fabs(hits[k].far - far) < best) {
                best = std::fabs(hits[k].far - far);
                hit = static_cast<int>(k) + 1;
            }
        }
        if (best > same_hit / std::max(1e-3, std::fabs(lean))) {
            wrong = exact->place;
            return std::nullopt;
        }
        return State{hit, lean < 0};
    }

    // The place on both the face and the wall under the curve nearest to where the kernel has it: tangent planes of
    // both, and the plane square to them through the place, meet (Newton).
    [[nodiscard]] std::optional<Exact> exactly(const gp_Pnt& near) const {
        Exact exact{near, 0, {}, {}, {}};
        for (int i = 0; i < 12; ++i) {
            exact.above = source_.below(exact.place);
            const auto foot = foot_on(face_, exact.place);
            exact.from = source_.at(exact.above);
            const gp_Vec across = source_.way_on(exact.above).Crossed(along_);
            if (!foot || !foot->normal || across.Magnitude() < 1e-12) {
                return std::nullopt;
            }
            exact.normal = gp_Vec(*foot->normal);
            const gp_Vec wall = across.Normalized();
            exact.way = exact.normal.Crossed(wall);
            const double sine2 = exact.way.SquareMagnitude();
            const double off_face = exact.normal.Dot(gp_Vec(exact.place, foot->place));
            const double off_wall = wall.Dot(gp_Vec(exact.place, exact.from));
            if (std::max(foot->distance, source_.aside(exact.from, exact.place)) < exactness) {
                return exact;
            }
            if (sine2 < 1e-12) {
                return std::nullopt;
            }
            const double cosine = exact.normal.Dot(wall);
            exact.place.Translate(
                (exact.normal * (off_face - cosine * off_wall) + wall * (off_wall - cosine * off_face)) / sine2);
            if (exact.place.Distance(near) > loose_) {
                return std::nullopt;
            }
        }
        return std::nullopt;
    }

    // The kernel's curve where that is exact enough, else a cubic one through exact places, as many as it takes.
    [[nodiscard]] TopoDS_Edge between(double first, double last, bool whole) const {
        const TopoDS_Edge edge = TopoDS::Edge(edge_.Oriented(TopAbs_FORWARD));
        double from = 0;
        double to = 0;
        Handle(Geom_Curve) curve = BRep_Tool::Curve(edge, from, to);
        if (off(*curve, first, last, 24) < close_fit) {
            return whole ? edge : BRepBuilderAPI_MakeEdge(curve, first, last).Edge();
        }
        const bool ring = whole && curve->Value(first).Distance(curve->Value(last)) < coincidence;
        for (int count = 32; count <= 1024; count *= 2) {
            const Handle(TColgp_HArray1OfPnt) through = new TColgp_HArray1OfPnt(1, ring ? count : count + 1);
            for (int i = 0; i < through->Length(); ++i) {
                const auto exact = exactly(curve->Value(first + (last - first) * i / count));
                if (!exact) {
                    return {};
                }
                through->SetValue(i + 1, exact->place);
            }
            GeomAPI_Interpolate fitting(through, ring, 1e-9);
            if (!ring) {
                fitting.Load(way_at(through->Value(1), through->Value(2)),
                             way_at(through->Value(count + 1), through->Value(count), -1), Standard_False);
            }
            fitting.Perform();
            if (!fitting.IsDone()) {
                return {};
            }
            curve = fitting.Curve(); // places along it are evenly spread, which on the kernel's they need not be
            first = curve->FirstParameter();
            last = curve->LastParameter();
            if (off(*curve, first, last, 2 * count) < close_fit) {
                return BRepBuilderAPI_MakeEdge(curve).Edge();
            }
        }
        return {};
    }

    // Of the edge at an exact place, towards the next, or from it; a unit, as parameters are lengths of chords.
    [[nodiscard]] gp_Vec way_at(const gp_Pnt& place, const gp_Pnt& next, double sign = 1) const {
        const gp_Vec chord = gp_Vec(place, next).Normalized() * sign;
        const auto exact = exactly(place);
        return !exact ? chord : exact->way.Normalized() * (exact->way.Dot(chord) < 0 ? -1 : 1);
    }

    // How far a curve is from where it should be, at most, at so many places.
    [[nodiscard]] double off(const Geom_Curve& curve, double first, double last, int places) const {
        double most = 0;
        for (int i = 0; i < places; ++i) {
            const gp_Pnt place = curve.Value(first + (last - first) * (i + 0.5) / places);
            const auto exact = exactly(place);
            most = std::max(most, exact ? exact->place.Distance(place) : std::numeric_limits<double>::infinity());
        }
        return most;
    }

    double change_between(double low, double high, const std::optional<State>& one, const std::optional<State>& other) {
        const bool at_limb = one && other && one->front != other->front;
        const auto as_at_first = [&](double t) {
            const auto exact = exactly(on_.Value(t));
            return at_limb ? exact && (exact->normal.Dot(along_) < 0) == one->front : state_of(exact, t) == one;
        };
        for (int i = 0; i < 60 && !wrong && high - low > 1e-13 * (1 + std::fabs(high)); ++i) {
            const double middle = (low + high) / 2;
            (as_at_first(middle) ? low : high) = middle;
        }
        wrong.reset(); // where it changes a ray may meet a border
        return (low + high) / 2;
    }

    ProjectedPart part(double first, double last, bool whole, int hit) {
        TopoDS_Edge edge = between(first, last, whole);
        const double within = first + 0.43 * (last - first);
        const auto exact = exactly(on_.Value(within));
        if (edge.IsNull() || !exact) {
            wrong = on_.Value(within);
            return {};
        }
        const gp_Vec way = on_.DN(within, 1);
        const gp_Vec left = gp_Vec(up_).Crossed(source_.way_on(exact->above));
        const double side = way.Crossed(left).Dot(along_);
        const double own = way.Crossed(exact->normal.Crossed(way)).Dot(along_);
        if ((side > 0) != (own > 0)) {
            edge.Reverse();
        }
        return {edge, curve_, hit, gp_Vec(exact->from, exact->place).Dot(along_), face_};
    }

    TopoDS_Edge edge_;
    TopoDS_Face face_;
    size_t curve_;
    BRepAdaptor_Curve on_;
    const ProjectedSource& source_;
    ProjectionRays& rays_;
    gp_Dir up_, along_;
    double loose_; // mm
};

// A place that rays meet and no part passes through.
std::optional<gp_Pnt> left_out(const ProjectedSource& source, size_t curve, const std::vector<ProjectedPart>& parts,
                               ProjectionRays& rays, const gp_Dir& along) {
    for (const double share : {0.0931, 0.2711, 0.4397, 0.6173, 0.7879, 0.9419}) {
        const gp_Pnt from = source.at(source.parameter(share));
        for (const auto& [far, grazes] : rays.from(from)) {
            const gp_Pnt place = from.Translated(gp_Vec(along) * far);
            const auto passes = [&](const ProjectedPart& part) {
                return part.curve == curve && distance_to(part.edge, place) < under_the_curve * 10;
            };
            if (!grazes && std::none_of(parts.begin(), parts.end(), passes)) {
                return place;
            }
        }
    }
    return std::nullopt;
}

// Near hits first; ends at one place are one vertex.
void put_together(std::vector<ProjectedPart>& parts) {
    std::vector<TopoDS_Edge> apart;
    for (const ProjectedPart& part : parts) {
        apart.push_back(part.edge);
    }
    const auto together = join_ends(apart, same_hit);
    for (size_t i = 0; i < parts.size(); ++i) {
        parts[i].edge = together[i];
    }
    std::stable_sort(parts.begin(), parts.end(), [](const auto& a, const auto& b) {
        return std::pair(a.hit, a.curve) < std::pair(b.hit, b.curve);
    });
}

} // namespace

Result<std::vector<ProjectedPart>> projected_curves(const std::vector<TopoDS_Edge>& curves, const gp_Dir& up,
                                                    const std::vector<TopoDS_Shape>& onto, const gp_Dir& along,
                                                    HitOrder order, Progress& progress) try {
    std::vector<TopoDS_Shape> edges(curves.begin(), curves.end());
    const TopoDS_Shape faces = gather(onto);
    gp_Trsf level; // z becomes the direction
    level.SetTransformation(gp_Ax3(gp_Pnt(), along));
    const auto reach = box_of(faces.Moved(TopLoc_Location(level)));
    const auto begin = box_of(gather(edges).Moved(TopLoc_Location(level)));
    constexpr double before = 1; // mm: what the curves lie on is met
    const double far = reach[5] - begin[2] + 2 * before;
    const Finding misses = error_finding("project.misses", "The curves meet none of the faces in this direction.",
                                         "Turn the direction over, or choose other faces.");
    if (far <= before) {
        return misses;
    }
    gp_Trsf move;
    move.SetTranslation(gp_Vec(along) * -before);
    const TopLoc_Location back(move);
    std::deque<ProjectedSource> sources;
    for (const TopoDS_Edge& curve : curves) {
        sources.emplace_back(curve, along);
    }
    ProjectionRays rays(faces, along, order);
    std::vector<ProjectedPart> parts;
    BRepPrimAPI_MakePrism walls(gather(edges).Moved(back), gp_Vec(along) * (far + before));
    ByShape<size_t> curve_of;
    for (size_t i = 0; i < curves.size(); ++i) {
        for (const TopoDS_Shape& wall : walls.Generated(curves[i].Moved(back))) {
            curve_of.Bind(wall, i);
        }
    }
    std::deque<Meeting> all;
    std::vector<std::vector<double>> changes(curves.size());
    for (const TopoDS_Shape& each : onto) {
        if (curve_of.IsEmpty()) { // they all run along the direction
            return misses;
        }
        const auto meetings = meeting_curves(walls.Shape(), each);
        if (!meetings) {
            return meetings.finding();
        }
        for (const MeetingCurve& met : *meetings) {
            const size_t* curve = met.on_one.IsNull() ? nullptr : curve_of.Seek(met.on_one);
            if (curve != nullptr && !met.on_other.IsNull()) { // what is left out rays would tell
                all.emplace_back(TopoDS::Edge(met.edge), TopoDS::Face(met.on_other), *curve, sources[*curve], rays, up,
                                 along);
                const auto ends = all.back().ends();
                changes[*curve].insert(changes[*curve].end(), ends.begin(), ends.end());
            }
        }
    }
    for (auto& each : changes) {
        std::sort(each.begin(), each.end());
    }
    for (Meeting& meeting : all) {
        if (!meeting.add_parts(changes[meeting.curve()], parts)) {
            return failed(*meeting.wrong);
        }
        if (progress.cancelled()) {
            return error_finding("project.cancelled", "Projecting was cancelled.", "");
        }
    }
    for (size_t i = 0; i < sources.size(); ++i) {
        const auto place = sources[i].runs_along() ? std::nullopt : left_out(sources[i], i, parts, rays, along);
        if (place) {
            return failed(*place);
        }
    }
    if (parts.empty()) {
        return misses;
    }
    put_together(parts);
    return parts;
} catch (const Standard_Failure&) {
    return failed(curves.empty() ? gp_Pnt() : center_of(curves.front()));
}

} // namespace kervo::geom
