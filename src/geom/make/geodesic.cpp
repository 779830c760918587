#include "geom/make/geodesic.h"

#include <Standard_Failure.hxx>
#include <gp_Mat2d.hxx>
#include <gp_Vec2d.hxx>

#include <algorithm>
#include <cmath>

namespace kervo::geom {

namespace {

struct Local {
    gp_Pnt place;
    gp_Vec u, v, uu, vv, uv;
    Local(const Handle(Geom_Surface) & surface, const gp_XY& at) {
        surface->D2(at.X(), at.Y(), place, u, v, uu, vv, uv);
    }
    [[nodiscard]] gp_XY seen(const gp_Vec& vector) const { return {u.Dot(vector), v.Dot(vector)}; }
    // The parameters' rates of a tangent vector; nothing where there is no tangent plane.
    [[nodiscard]] std::optional<gp_XY> rates(const gp_Vec& vector) const {
        const double e = u.Dot(u);
        const double f = u.Dot(v);
        const double g = v.Dot(v);
        const double area = e * g - f * f;
        if (area < 1e-12 * std::max(e, g) * std::max(e, g)) {
            return std::nullopt;
        }
        const gp_XY b = seen(vector);
        return gp_XY((b.X() * g - b.Y() * f) / area, (b.Y() * e - b.X() * f) / area);
    }
    [[nodiscard]] gp_Vec bend(const gp_XY& rate) const {
        return uu * (rate.X() * rate.X()) + uv * (2 * rate.X() * rate.Y()) + vv * (rate.Y() * rate.Y());
    }
};

gp_Mat2d matrix(double a, double b, double c, double d) {
    return {gp_XY(a, c), gp_XY(b, d)};
}

// A chain of places whose ends stay.
class Chain {
public:
    Chain(const Handle(Geom_Surface) & surface, std::vector<gp_XY> at) : surface_(surface), at_(std::move(at)) {}

    /// Whether it came to rest where every chain beside it is longer.
    bool relax() {
        double damping = 0;
        double energy = look();
        constexpr int most = 200;
        for (int round = 0; round < most; ++round) {
            const auto step = newton(damping);
            if (!step) {
                damping = std::max(1e-4, damping * 10);
                if (damping > 1e8) {
                    return false;
                }
                continue;
            }
            const auto before = at_;
            double moved = 0;
            for (size_t i = 1; i + 1 < at_.size(); ++i) {
                const gp_XY& by = (*step)[i];
                moved = std::max(moved, (local_[i].u * by.X() + local_[i].v * by.Y()).Magnitude());
                at_[i] += by;
            }
            const double now = look();
            if (now > energy * (1 + 1e-14)) {
                at_ = before;
                look();
                damping = std::max(1e-4, damping * 10);
                continue;
            }
            energy = now;
            if (moved < 1e-11 * (1 + std::sqrt(energy * static_cast<double>(at_.size())))) {
                return damping == 0 || newton(0).has_value();
            }
            damping = damping < 1e-3 ? 0 : damping / 10;
        }
        return false;
    }

    /// With a place between every two.
    [[nodiscard]] Chain finer() const {
        std::vector<gp_XY> more{at_.front()};
        for (size_t i = 1; i < at_.size(); ++i) {
            more.push_back((at_[i - 1] + at_[i]) / 2);
            more.push_back(at_[i]);
        }
        return {surface_, std::move(more)};
    }
    [[nodiscard]] const std::vector<gp_XY>& places() const { return at_; }
    /// Whether it goes around a closed surface in one chord somewhere, which costs nothing in space.
    [[nodiscard]] bool jumps() const {
        const double u = surface_->IsUPeriodic() ? surface_->UPeriod() / 4 : std::numeric_limits<double>::infinity();
        const double v = surface_->IsVPeriodic() ? surface_->VPeriod() / 4 : std::numeric_limits<double>::infinity();
        for (size_t i = 1; i < at_.size(); ++i) {
            const gp_XY by = at_[i] - at_[i - 1];
            if (std::fabs(by.X()) > u || std::fabs(by.Y()) > v) {
                return true;
            }
        }
        return false;
    }
    [[nodiscard]] double length() const {
        double sum = 0;
        for (size_t i = 1; i < local_.size(); ++i) {
            sum += local_[i].place.Distance(local_[i - 1].place);
        }
        return sum;
    }

private:
    double look() {
        local_.clear();
        for (const gp_XY& at : at_) {
            local_.emplace_back(surface_, at);
        }
        double energy = 0;
        for (size_t i = 1; i < local_.size(); ++i) {
            energy += local_[i].place.SquareDistance(local_[i - 1].place);
        }
        return energy;
    }

    // By elimination from one end to the other; nothing where the energy is not convex there.
    [[nodiscard]] std::optional<std::vector<gp_XY>> newton(double damping) const {
        const size_t last = at_.size() - 1;
        std::vector<gp_Mat2d> left(at_.size()); // what each step takes of the one behind it
        std::vector<gp_XY> right(at_.size());
        for (size_t i = 1; i < last; ++i) {
            const Local& here = local_[i];
            const gp_Vec pull(here.place.XYZ() * 2 - local_[i - 1].place.XYZ() - local_[i + 1].place.XYZ());
            const double uv = 2 * here.u.Dot(here.v) + pull.Dot(here.uv);
            gp_Mat2d own = matrix(2 * here.u.Dot(here.u) * (1 + damping) + pull.Dot(here.uu), uv, uv,
                                  2 * here.v.Dot(here.v) * (1 + damping) + pull.Dot(here.vv));
            gp_XY down = here.seen(pull).Reversed();
            if (i > 1) {
                const gp_Mat2d back = between(i, i - 1);
                own.Subtract(back.Multiplied(left[i - 1]));
                down -= right[i - 1].Multiplied(back);
            }
            if (own.Value(1, 1) <= 0 || own.Determinant() <= 1e-14 * own.Value(1, 1) * std::fabs(own.Value(2, 2))) {
                return std::nullopt;
            }
            const gp_Mat2d turned = own.Inverted();
            left[i] = i + 1 < last ? turned.Multiplied(between(i, i + 1)) : gp_Mat2d();
            right[i] = down.Multiplied(turned);
        }
        std::vector<gp_XY> step(at_.size());
        for (size_t i = last; i-- > 1;) {
            step[i] = right[i] - step[i + 1].Multiplied(left[i]);
        }
        return step;
    }

    [[nodiscard]] gp_Mat2d between(size_t one, size_t other) const {
        const Local& a = local_[one];
        const Local& b = local_[other];
        return matrix(-a.u.Dot(b.u), -a.u.Dot(b.v), -a.v.Dot(b.u), -a.v.Dot(b.v));
    }

    Handle(Geom_Surface) surface_;
    std::vector<gp_XY> at_;
    std::vector<Local> local_;
};

constexpr int coarse = 128;

std::optional<Geodesic> relaxed(const Handle(Geom_Surface) & surface, const gp_XY& from, const gp_XY& to) {
    std::vector<gp_XY> straight;
    for (int i = 0; i <= coarse; ++i) {
        straight.push_back(from + (to - from) * (static_cast<double>(i) / coarse));
    }
    std::vector<Chain> chains{Chain(surface, std::move(straight))};
    for (int i = 0; i < 3; ++i) {
        if (i > 0) {
            chains.push_back(chains.back().finer());
        }
        if (!chains.back().relax() || chains.back().jumps()) {
            return std::nullopt;
        }
    }
    const auto better = [](auto fine, auto rough, double by) { return (fine * by - rough) / (by - 1); };
    Geodesic made;
    for (size_t i = 0; i <= coarse; ++i) {
        const gp_XY a = better(chains[1].places()[2 * i], chains[0].places()[i], 4.0);
        const gp_XY b = better(chains[2].places()[4 * i], chains[1].places()[2 * i], 4.0);
        made.places.emplace_back(better(b, a, 16.0));
    }
    made.length = better(better(chains[2].length(), chains[1].length(), 4.0),
                         better(chains[1].length(), chains[0].length(), 4.0), 16.0);
    return made;
}

} // namespace

std::vector<Geodesic> geodesics_between(const Handle(Geom_Surface) & surface, const gp_Pnt2d& from,
                                        const gp_Pnt2d& to) {
    const auto ways_round = [](bool periodic, double period, double difference) {
        if (!periodic) {
            return std::vector<double>{0};
        }
        const double near = -period * std::round(difference / period);
        return std::vector<double>{near, near - period, near + period};
    };
    std::vector<Geodesic> found;
    const double width = to.X() - from.X();
    const double height = to.Y() - from.Y();
    for (const double u : ways_round(surface->IsUPeriodic(), surface->IsUPeriodic() ? surface->UPeriod() : 0, width)) {
        for (const double v :
             ways_round(surface->IsVPeriodic(), surface->IsVPeriodic() ? surface->VPeriod() : 0, height)) {
            try {
                if (auto made = relaxed(surface, from.XY(), to.XY() + gp_XY(u, v))) {
                    found.push_back(std::move(*made));
                }
            } catch (const Standard_Failure&) { // this way round leads over a pole
            }
        }
    }
    std::sort(found.begin(), found.end(), [](const auto& a, const auto& b) { return a.length < b.length; });
    return found;
}

std::optional<GeodesicEnd> geodesic_from(const Handle(Geom_Surface) & surface, const gp_Pnt2d& from, const gp_Vec& way,
                                         double length) {
    struct State {
        gp_XY at, rate;
        State on(const State& by, double share) const { return {at + by.at * share, rate + by.rate * share}; }
    };
    const auto start = Local(surface, from.XY()).rates(way);
    if (!start) {
        return std::nullopt;
    }
    const auto slope = [&](const State& state) -> std::optional<State> {
        const Local here(surface, state.at);
        const auto turn = here.rates(here.bend(state.rate));
        return turn ? std::optional(State{state.rate, turn->Reversed()}) : std::nullopt;
    };
    const Local first(surface, from.XY());
    const double speed = (first.u * start->X() + first.v * start->Y()).Magnitude();
    const auto go = [&](int steps) -> std::optional<State> {
        State now{from.XY(), *start / speed};
        const double h = length / steps;
        for (int i = 0; i < steps; ++i) {
            const auto a = slope(now);
            const auto b = a ? slope(now.on(*a, h / 2)) : a;
            const auto c = b ? slope(now.on(*b, h / 2)) : b;
            const auto d = c ? slope(now.on(*c, h)) : c;
            if (!d) {
                return std::nullopt;
            }
            now = now.on(*a, h / 6).on(*b, h / 3).on(*c, h / 3).on(*d, h / 6);
        }
        return now;
    };
    const auto rough = go(32);
    const auto fine = go(64);
    if (!rough || !fine ||
        surface->Value(rough->at.X(), rough->at.Y()).Distance(surface->Value(fine->at.X(), fine->at.Y())) > 1e-7) {
        return std::nullopt;
    }
    const Local end(surface, fine->at);
    const gp_Vec on = end.u * fine->rate.X() + end.v * fine->rate.Y();
    return GeodesicEnd{gp_Pnt2d(fine->at), on.Normalized()};
}

double geodesic_curvature(const Handle(Geom_Surface) & surface, const gp_Pnt2d& at, const gp_Vec2d& first,
                          const gp_Vec2d& second) {
    const Local here(surface, at.XY());
    const gp_Vec along = here.u * first.X() + here.v * first.Y();
    const gp_Vec bend = here.bend(first.XY()) + here.u * second.X() + here.v * second.Y();
    const gp_Vec normal = here.u.Crossed(here.v);
    if (along.Magnitude() < 1e-12 || normal.Magnitude() < 1e-12) {
        return 0;
    }
    return bend.Dot(normal.Normalized().Crossed(along.Normalized())) / along.SquareMagnitude();
}

} // namespace kervo::geom
