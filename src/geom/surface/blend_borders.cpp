#include "geom/surface/blend_borders.h"

#include "geom/kernel/finding_place.h"
#include "geom/surface/columns.h"

#include <BRepBuilderAPI_MakeFace.hxx>
#include <Geom_BSplineSurface.hxx>
#include <Precision.hxx>
#include <Standard_Failure.hxx>

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

namespace kervo::geom {

namespace {

Finding failed() {
    return error_finding("span.failed", "No surface could be spanned between these borders.",
                         "Choose other borders, or another firmness.");
}

// Which place of the second border belongs to one of the first.
struct Match {
    double shift = 0; // share
    bool same_way = true;
    [[nodiscard]] double operator()(double share) const { return same_way ? share + shift : shift - share; }
};

Match least_twist(const BorderWay& one, const BorderWay& other) {
    constexpr int places = 128;
    std::vector<gp_Pnt> from;
    std::vector<gp_Pnt> to;
    for (int i = 0; i < places; ++i) {
        const double share = one.closed() ? i / double(places) : i / double(places - 1);
        from.push_back(one.at(share)->at);
        to.push_back(other.at(share)->at);
    }
    Match best;
    double least = std::numeric_limits<double>::infinity();
    for (const bool same_way : {true, false}) {
        for (int shift = 0; shift < (one.closed() ? places : 1); ++shift) {
            double sum = 0;
            for (int i = 0; i < places; ++i) {
                const int k = !one.closed() ? (same_way ? i : places - 1 - i)
                              : same_way    ? (i + shift) % places
                                            : (shift - i + places) % places;
                sum += from[static_cast<size_t>(i)].SquareDistance(to[static_cast<size_t>(k)]);
            }
            if (sum < least * (1 - 1e-9)) {
                least = sum;
                best = {one.closed() ? shift / double(places) : same_way ? 0.0 : 1.0, same_way};
            }
        }
    }
    if (!one.closed()) {
        return best;
    }
    // Between the places: the vertex of a parabola through three shifts, closer and closer.
    const auto twist = [&](double shift) {
        double sum = 0;
        const Match match{shift, best.same_way};
        for (int i = 0; i < places; ++i) {
            sum += from[static_cast<size_t>(i)].SquareDistance(other.at(match(i / double(places)))->at);
        }
        return sum;
    };
    for (double step = 0.5 / places; step > 1e-7; step /= 8) {
        const double before = twist(best.shift - step);
        const double here = twist(best.shift);
        const double behind = twist(best.shift + step);
        const double bend = before - 2 * here + behind;
        if (bend > 0) {
            best.shift += std::clamp((before - behind) / (2 * bend), -2.0, 2.0) * step;
        }
    }
    return best;
}

// The columns of poles across, from the first border to the second.
class Span {
public:
    Span(const BorderWay& one, const BorderWay& other, const Blending& blending)
        : one_(one), other_(other), blending_(blending), match_(least_twist(one, other)) {
        if (blending.turned_over) {
            match_.same_way = !match_.same_way;
            match_.shift = one.closed() ? match_.shift : match_.same_way ? 0.0 : 1.0;
        }
        if (one.closed()) {
            snap_to_corner();
            match_.shift += blending.shift / other.length();
        }
    }

    // Between two shares of the first border, seen from within.
    [[nodiscard]] Column column(double share, double from, double to) const {
        const bool at_end = share == from || share == to;
        const auto a = place(one_, share, at_end);
        const auto b = place(other_, match_(share), at_end);
        const gp_Vec way(a.at, b.at);
        const auto tangent = [&](const gp_Vec& off, const gp_Vec& across, size_t end) {
            constexpr double least = 0.25; // of the distance: where the way off leads aside
            const double gap = std::max(across.Dot(off), least * across.Magnitude());
            return blending_.tangent[end] ? off * (blending_.firmness[end] * gap / 3) : across / 3;
        };
        return {a.at, a.at.Translated(tangent(a.off, way, 0)), b.at.Translated(tangent(b.off, way.Reversed(), 1)),
                b.at};
    }

    // Where faces end: at the vertices of both borders.
    [[nodiscard]] std::vector<double> breaks() const {
        std::vector<double> all = one_.vertices();
        for (const double share : other_.vertices()) {
            double mine = match_.same_way ? share - match_.shift : match_.shift - share;
            mine -= one_.closed() ? std::floor(mine) : 0;
            all.push_back(mine);
        }
        if (!one_.closed()) {
            all.insert(all.end(), {0, 1});
        }
        std::sort(all.begin(), all.end());
        std::vector<double> apart;
        for (const double share : all) {
            if (apart.empty() || share - apart.back() > same_) {
                apart.push_back(share);
            }
        }
        if (one_.closed()) {
            if (apart.size() > 1 && apart.front() + 1 - apart.back() <= same_) {
                apart.pop_back();
            }
            apart.push_back(apart.front() + 1);
        }
        return apart;
    }

    // The most between its tangent planes and those of the faces.
    void measure_angle(const Geom_BSplineSurface& surface, double from, double to, Blended& blended) const {
        constexpr int places = 37;
        for (int i = 0; i < places; ++i) {
            const double share = from + (to - from) * (i + 0.5) / places;
            for (const size_t end : {0U, 1U}) {
                const auto place = end == 0 ? one_.at(share) : other_.at(match_(share), match_.same_way);
                if (!blending_.tangent[end] || !place) {
                    continue;
                }
                const double angle =
                    lean_at_end(surface, share, static_cast<double>(end), place->along.Crossed(place->off));
                if (angle > blended.angle) {
                    blended.angle = angle;
                    blended.worst = place->at;
                }
            }
        }
    }

private:
    // At a vertex, where the border may have a corner, the way off lies between those on both sides of it.
    static BorderSide::Place place(const BorderWay& way, double share, bool at_vertex) {
        const auto ahead = way.at(share);
        const auto behind = at_vertex ? way.at(share, false) : ahead;
        if (!ahead || !behind || (ahead->off + behind->off).Magnitude() < 1e-6) {
            throw Standard_Failure("no way off");
        }
        BorderSide::Place place = *ahead;
        place.off = (ahead->off + behind->off).Normalized();
        return place;
    }

    // Whether the border turns there.
    static bool is_corner(const BorderWay& way, double share) {
        constexpr double turned = 0.1; // rad
        const auto ahead = way.at(share);
        const auto behind = way.at(share, false);
        return ahead && behind && ahead->along.Angle(behind->along) > turned;
    }

    // A corner of the second border that is matched nearly to one of the first is matched to it.
    void snap_to_corner() {
        constexpr double near = 0.02; // share
        for (const double mine : one_.vertices()) {
            for (const double share : other_.vertices()) {
                const double off = share - match_(mine);
                const double least = off - std::round(off);
                if (std::fabs(least) < near && is_corner(one_, mine) && is_corner(other_, share)) {
                    match_.shift += least;
                    return;
                }
            }
        }
    }

    static constexpr double same_ = 1e-7;
    const BorderWay& one_;
    const BorderWay& other_;
    const Blending& blending_;
    Match match_;
};

} // namespace

Result<Blended> blend_borders(const BorderWay& one, const BorderWay& other, const Blending& blending) try {
    if (one.closed() != other.closed()) {
        return error_finding("span.unlike", "One border is closed, the other is not.",
                             "Take the whole border at both, or a part of both.");
    }
    const Span span(one, other, blending);
    const auto breaks = span.breaks();
    Blended blended;
    std::vector<TopoDS_Face> faces;
    for (size_t i = 0; i + 1 < breaks.size(); ++i) {
        const double from = breaks[i];
        const double to = breaks[i + 1];
        const auto [surface, gap] =
            surface_of_columns([&](double share) { return span.column(share, from, to); }, from, to);
        if (surface.IsNull()) {
            return failed();
        }
        if (const auto fold = turned_over(*surface, from, to, false)) {
            Finding finding = error_finding("span.folds", "The surface would turn over here.",
                                            "Let it leave its borders less firmly, or shift or turn one of them.");
            add_place(finding, *fold);
            return finding;
        }
        blended.gap = std::max(blended.gap, gap);
        span.measure_angle(*surface, from, to, blended);
        const BRepBuilderAPI_MakeFace face(surface, Precision::Confusion());
        if (!face.IsDone()) {
            return failed();
        }
        faces.push_back(face.Face());
    }
    std::vector<TopoDS_Shape> all(faces.begin(), faces.end());
    blended.shape = gather(all);
    return blended;
} catch (const Standard_Failure&) {
    return failed();
}

} // namespace kervo::geom
