#include "geom/surface/cap.h"

#include "geom/kernel/finding_place.h"
#include "geom/surface/columns.h"

#include <BRepBuilderAPI_MakeFace.hxx>
#include <Precision.hxx>
#include <Standard_Failure.hxx>

#include <algorithm>
#include <cmath>

namespace kervo::geom {

namespace {

constexpr size_t looked_at = 64; // places around

// Of the tangent of a cubic that turns by an angle, in chords: for an arc of a circle it comes nearest to the arc.
double length_for(double turn) {
    return turn < 1e-6 ? 1 : 2 * std::tan(turn / 4) / std::sin(turn / 2);
}

class Spokes {
public:
    Spokes(const BorderWay& way, double firmness) : way_(way), firmness_(firmness) {
        gp_XYZ sum(0, 0, 0);
        std::array<gp_Vec, looked_at> passing; // the ways in which the curves pass the middle
        for (size_t i = 0; i < looked_at; ++i) {
            const Column here = half(static_cast<double>(i) / looked_at, false);
            sum += here[3].XYZ();
            passing[i] = gp_Vec(here[2], here[3]);
        }
        middle_ = gp_Pnt(sum / looked_at);
        gp_Vec normal; // of a plane through them
        for (size_t i = 0; i < looked_at; ++i) {
            normal += passing[i].Crossed(passing[(i + looked_at / 4) % looked_at]);
        }
        normal_ = gp_Dir(normal); // throws where there is none
    }

    [[nodiscard]] Column column(double share, bool at_vertex) const {
        Column poles = half(share, at_vertex);
        const gp_Vec into(poles[3], poles[2]);
        poles[3] = middle_;
        poles[2] = middle_.Translated(into - gp_Vec(normal_) * into.Dot(gp_Vec(normal_)));
        return poles;
    }

private:
    struct End {
        gp_Pnt at;
        gp_Vec off; // unit; null where nothing says it
    };
    [[nodiscard]] End end(double share, bool at_vertex) const {
        const auto ahead = way_.at(share);
        const auto behind = at_vertex ? way_.at(share, false) : ahead;
        if (!ahead || !behind) {
            throw Standard_Failure("no place");
        }
        const gp_Vec off = ahead->off + behind->off;
        return {ahead->at, off.Magnitude() < 1e-6 ? gp_Vec() : off.Normalized()};
    }

    // From a place of the border to the middle of its curve to the opposite one.
    [[nodiscard]] Column half(double share, bool at_vertex) const {
        const End a = end(share, at_vertex);
        const End b = end(share + 0.5, at_vertex);
        const gp_Vec chord(a.at, b.at);
        const bool both = a.off.Magnitude() > 0 && b.off.Magnitude() > 0;
        const double turn = both ? a.off.Angle(b.off.Reversed()) : 0;
        const double length = chord.Magnitude() * length_for(turn) * firmness_ / 3;
        const auto towards = [&](const End& from, const gp_Vec& way) {
            return from.at.XYZ() + (from.off.Magnitude() > 0 ? from.off * length : way / 3).XYZ();
        };
        const std::array<gp_XYZ, 4> p{a.at.XYZ(), towards(a, chord), towards(b, chord.Reversed()), b.at.XYZ()};
        return {a.at, gp_Pnt((p[0] + p[1]) / 2), gp_Pnt((p[0] + p[1] * 2 + p[2]) / 4),
                gp_Pnt((p[0] + p[1] * 3 + p[2] * 3 + p[3]) / 8)};
    }

    const BorderWay& way_;
    double firmness_;
    gp_Pnt middle_;
    gp_Dir normal_;
};

Finding told(const char* code, const char* cause, const char* mend, const gp_Pnt& at) {
    Finding finding = error_finding(code, cause, mend);
    add_place(finding, at);
    return finding;
}

Finding failed(const BorderWay& way) {
    return told("fill.failed", "No surface could be spanned in this border.",
                "Divide it by an edge, and span each part.", way.at(0)->at);
}

} // namespace

Result<Cap> cap(const BorderWay& way, double firmness) try {
    const Spokes spokes(way, firmness);
    auto ends = way.vertices();
    ends.push_back(1 + ends.front());
    Cap made;
    for (size_t i = 0; i + 1 < ends.size(); ++i) {
        const double from = ends[i];
        const double to = ends[i + 1];
        const auto column = [&](double share) { return spokes.column(share, share == from || share == to); };
        const auto surface = surface_of_columns(column, from, to).surface;
        if (surface.IsNull()) {
            return failed(way);
        }
        if (const auto fold = turned_over(*surface, from, to, true)) {
            return told("fill.folds", "What spans this border would turn over here.",
                        "Divide the border by an edge, and span each part; or let it leave less firmly.", *fold);
        }
        for (size_t k = 0; k < looked_at; ++k) {
            const double share = from + (to - from) * (static_cast<double>(k) + 0.5) / looked_at;
            const auto place = way.at(share);
            if (!place || place->off.Magnitude() == 0) {
                continue;
            }
            const double lean = lean_at_end(*surface, share, 0, place->along.Crossed(place->off));
            if (lean > made.lean) {
                made.lean = lean;
                made.lean_at = place->at;
            }
        }
        const BRepBuilderAPI_MakeFace face(surface, Precision::Confusion());
        if (!face.IsDone()) {
            return failed(way);
        }
        made.faces.push_back(face.Face());
    }
    return made;
} catch (const Standard_Failure&) {
    return failed(way);
}

} // namespace kervo::geom
