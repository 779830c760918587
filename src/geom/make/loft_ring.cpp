#include "geom/make/loft_ring.h"

#include "geom/outline/walls.h"

#include <GCPnts_AbscissaPoint.hxx>
#include <GeomAdaptor_Curve.hxx>
#include <GeomConvert.hxx>
#include <GeomConvert_ApproxCurve.hxx>
#include <Geom_TrimmedCurve.hxx>
#include <TColStd_Array1OfReal.hxx>

#include <algorithm>
#include <cmath>

namespace kervo::geom {

namespace {
constexpr int samples = 48;
} // namespace

double Ring::Piece::at_length(double way) const {
    if (curve->IsPeriodic()) { // on past its ends
        const double turns = std::floor(way / length);
        way -= turns * length;
        return inner(way) + turns * (to - from);
    }
    return way <= 0 ? from : way >= length ? to : inner(way);
}

double Ring::Piece::inner(double way) const {
    const GeomAdaptor_Curve adaptor(curve);
    return GCPnts_AbscissaPoint(adaptor, to > from ? way : -way, from).Parameter();
}

Ring::Ring(const LoftSection& section, bool backward) {
    for (const OutlinePiece& piece : section.loop) {
        double first = 0;
        double last = 0;
        const Handle(Geom_Curve) curve = curve_on(section.frame, piece, {}, first, last);
        const bool forward = runs_forward(piece) != backward;
        const double length = GCPnts_AbscissaPoint::Length(GeomAdaptor_Curve(curve), first, last);
        pieces_.push_back({curve, forward ? first : last, forward ? last : first, length, piece.curve});
        length_ += length;
    }
    if (backward) {
        std::reverse(pieces_.begin(), pieces_.end());
    }
}

std::vector<double> Ring::breaks() const {
    std::vector<double> all;
    if (round()) {
        return all;
    }
    double way = 0;
    for (const Piece& piece : pieces_) {
        all.push_back(std::fmod(way / length_ - start_ + 1, 1));
        way += piece.length;
    }
    std::sort(all.begin(), all.end());
    if (!all.empty() && all.back() > 1 - 1e-9) {
        all.back() = 0;
        std::sort(all.begin(), all.end());
    }
    return all;
}

void Ring::begin_at(double share) {
    start_ = std::fmod(start_ + share, 1);
}

gp_Pnt Ring::at(double share) const {
    const auto [piece, way] = place(share);
    return piece->curve->Value(piece->at_length(way));
}

gp_Pnt Ring::center() const {
    gp_XYZ sum;
    for (int i = 0; i < samples; ++i) {
        sum += at(static_cast<double>(i) / samples).XYZ();
    }
    return sum / samples;
}

std::pair<Handle(Geom_BSplineCurve), std::string> Ring::part(double low, double high) const {
    const auto [piece, middle] = place((low + high) / 2);
    const double half = (high - low) / 2 * length_;
    double from = piece->at_length(middle - half);
    double to = piece->at_length(middle + half);
    const bool back = from > to;
    if (back) {
        std::swap(from, to);
    }
    const Handle(Geom_Curve) cut = new Geom_TrimmedCurve(piece->curve, from, to);
    Handle(Geom_BSplineCurve) spline = GeomConvert::CurveToBSplineCurve(cut);
    if (spline->IsRational()) {
        spline = GeomConvert_ApproxCurve(cut, coincidence, GeomAbs_C2, 100, 8).Curve();
    }
    spline = Handle(Geom_BSplineCurve)::DownCast(spline->Copy());
    if (back) {
        spline->Reverse();
    }
    TColStd_Array1OfReal knots = spline->Knots();
    const double first = knots.First();
    const double span = knots.Last() - first;
    for (int i = knots.Lower(); i <= knots.Upper(); ++i) {
        knots.SetValue(i, (knots.Value(i) - first) / span);
    }
    spline->SetKnots(knots);
    return {spline, piece->label};
}

std::pair<const Ring::Piece*, double> Ring::place(double share) const {
    double way = std::fmod(share + start_, 1) * length_;
    for (const Piece& piece : pieces_) {
        if (way <= piece.length) {
            return {&piece, way};
        }
        way -= piece.length;
    }
    return {&pieces_.back(), pieces_.back().length};
}

void align(Ring& ring, const Ring& other) {
    std::vector<double> starts = ring.breaks();
    if (ring.round()) {
        for (int i = 0; i < 360; ++i) {
            starts.push_back(i / 360.0);
        }
    }
    const gp_Vec apart(ring.center(), other.center());
    std::vector<gp_Pnt> wanted;
    for (int i = 0; i < samples; ++i) {
        wanted.push_back(other.at(static_cast<double>(i) / samples).Translated(-apart));
    }
    const auto twist = [&](double start) {
        double sum = 0;
        for (int i = 0; i < samples; ++i) {
            sum += ring.at(start + static_cast<double>(i) / samples).SquareDistance(wanted[static_cast<size_t>(i)]);
        }
        return sum;
    };
    double best = 0;
    double least = twist(0);
    for (const double start : starts) {
        if (const double here = twist(start); here < least * (1 - 1e-9)) {
            best = start;
            least = here;
        }
    }
    ring.begin_at(best);
}

std::vector<std::vector<double>> divisions_of(const std::vector<Ring>& rings) {
    std::vector<std::vector<double>> own;
    for (const Ring& ring : rings) {
        own.push_back(ring.breaks());
    }
    const size_t size = rings.front().size();
    if (std::all_of(rings.begin(), rings.end(), [&](const Ring& ring) { return ring.size() == size; })) {
        if (size == 1) {
            own.assign(rings.size(), {0.0});
        }
        return own;
    }
    constexpr double same = 0.004; // corners so near to each other belong together
    std::vector<double> all{0};
    for (const auto& breaks : own) {
        all.insert(all.end(), breaks.begin(), breaks.end());
    }
    std::sort(all.begin(), all.end());
    std::vector<double> common;
    for (const double share : all) {
        if (common.empty() || (share - common.back() > same && share < 1 - same)) {
            common.push_back(share);
        }
    }
    std::vector<std::vector<double>> divisions;
    for (size_t i = 0; i < rings.size(); ++i) {
        std::vector<double> mine = common;
        for (double& share : mine) {
            for (const double corner : own[i]) {
                if (std::fabs(corner - share) <= same) {
                    share = corner;
                }
            }
        }
        divisions.push_back(std::move(mine));
    }
    return divisions;
}

} // namespace kervo::geom
