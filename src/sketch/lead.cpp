#include "sketch/lead.h"

#include "sketch/solve.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <set>

namespace kervo::sketch {

namespace {

// Two points of a figure, as the indices of their x; what lies between them must not turn over unseen.
using Side = std::array<int, 2>;

std::vector<Side> sides_of(const Cluster& cluster) {
    std::set<Side> sides;
    for (const Equation* equation : cluster.equations) {
        if (equation->kind == ConstraintKind::coincident && !equation->law && equation->pattern() == "pp") {
            continue; // they are to become one
        }
        std::vector<int> points;
        size_t at = 0;
        for (const Operand& operand : equation->on) {
            for (size_t i = 0; i < operand.points; ++i, at += 2) {
                points.push_back(equation->unknowns[at]);
            }
            at += operand.radius ? 1 : 0;
        }
        constexpr size_t few = 6; // of more points only neighbours are looked at
        for (size_t i = 0; i < points.size(); ++i) {
            const size_t last = points.size() <= few ? points.size() : std::min(points.size(), i + 2);
            for (size_t k = i + 1; k < last; ++k) {
                if (points[i] != points[k]) {
                    sides.insert({std::min(points[i], points[k]), std::max(points[i], points[k])});
                }
            }
        }
    }
    return {sides.begin(), sides.end()};
}

std::vector<int> radii_of(const Cluster& cluster) {
    std::set<int> radii;
    for (const Equation* equation : cluster.equations) {
        size_t at = 0;
        for (const Operand& operand : equation->on) {
            at += 2 * operand.points;
            if (operand.radius) {
                radii.insert(equation->unknowns[at++]);
            }
        }
    }
    return {radii.begin(), radii.end()};
}

class Way {
public:
    Way(const Values& drawn, const Values& held, const Cluster& cluster)
        : drawn_(drawn), held_(held), cluster_(cluster), sides_(sides_of(cluster)), radii_(radii_of(cluster)),
          here_(drawn), residual_(linearise(drawn, cluster).residual) {
        for (const int unknown : cluster.unknowns) {
            size_ = std::max(size_, std::fabs(drawn[static_cast<size_t>(unknown)]));
        }
    }

    // An angle may be reached by either way round; the residual is that of the shorter one.
    void go_round_the_other_way() {
        int row = 0;
        for (const Equation* equation : cluster_.equations) {
            if (equation->kind == ConstraintKind::angle && !equation->law) {
                const double length =
                    std::hypot(equation->drawn[2] - equation->drawn[0], equation->drawn[3] - equation->drawn[1]);
                const double turn = 2 * std::numbers::pi * length;
                residual_[row] += residual_[row] > 0 ? -turn : turn;
            }
            row += equation->residuals;
        }
    }
    [[nodiscard]] bool has_angles() const {
        return std::any_of(cluster_.equations.begin(), cluster_.equations.end(), [](const Equation* equation) {
            return !equation->law && equation->kind == ConstraintKind::angle;
        });
    }

    // The end of the way; nothing where it cannot be followed.
    std::optional<Values> follow() {
        double done = 0;
        double step = 1;
        constexpr int most_steps = 400;
        constexpr double shortest = 1.0 / 4096;
        for (int i = 0; i < most_steps && done < 1; ++i) {
            const double next = std::min(1.0, done + step);
            if (auto there = at(next)) {
                here_ = std::move(*there);
                done = next;
                step *= 2;
            } else {
                step /= 2;
                if (step < shortest) {
                    return std::nullopt;
                }
            }
        }
        if (done < 1) {
            return std::nullopt;
        }
        return here_;
    }

private:
    // From `here_` to where a share of the way is done: one Newton step, and what corrects it.
    std::optional<Values> at(double done) {
        Values x = here_;
        for (size_t i = 0; i < x.size(); ++i) {
            if (cluster_.column[i] < 0) {
                x[i] = drawn_[i] + (held_[i] - drawn_[i]) * done;
            }
        }
        Values predicted;
        constexpr int most_corrections = 10;
        for (int i = 0; i <= most_corrections; ++i) {
            const Linearised now = linearise(x, cluster_);
            const Eigen::VectorXd off = difference(now.residual, done);
            const Eigen::VectorXd weights = Eigen::VectorXd::Constant(now.jacobian.cols(), movement_weight);
            const auto move = weighted_step(now.jacobian, weights, -(now.jacobian.transpose() * off));
            if (!move || !move->allFinite()) {
                return std::nullopt;
            }
            x = moved(x, cluster_, *move);
            if (i == 0) {
                predicted = x;
            }
            if (move->lpNorm<Eigen::Infinity>() <= 1e-9 * (1 + size_)) {
                return keeps_its_shape(predicted, x) ? std::optional<Values>(x) : std::nullopt;
            }
            if (i > 0 && !keeps_its_shape(predicted, x)) {
                return std::nullopt;
            }
        }
        return std::nullopt;
    }

    // What the residuals are more than they should be when a share of the way is done; angles by the nearest turn.
    [[nodiscard]] Eigen::VectorXd difference(const Eigen::VectorXd& residual, double done) const {
        Eigen::VectorXd off = residual - residual_ * (1 - done);
        int row = 0;
        for (const Equation* equation : cluster_.equations) {
            if (equation->kind == ConstraintKind::angle && !equation->law) {
                const double turn =
                    2 * std::numbers::pi *
                    std::hypot(equation->drawn[2] - equation->drawn[0], equation->drawn[3] - equation->drawn[1]);
                off[row] = turn > 0 ? std::remainder(off[row], turn) : off[row];
            }
            row += equation->residuals;
        }
        return off;
    }

    // Each side and radius must lie nearly where the predictor saw it, measured by itself.
    [[nodiscard]] bool keeps_its_shape(const Values& predicted, const Values& corrected) const {
        constexpr double share = 0.3;
        const double least = 1e-7 * (1 + size_);
        const auto between = [](const Values& x, const Side& side) {
            const auto a = static_cast<size_t>(side[0]);
            const auto b = static_cast<size_t>(side[1]);
            return std::array<double, 2>{x[b] - x[a], x[b + 1] - x[a + 1]};
        };
        const auto stays = [&](double off, double before, double after) {
            return off <= share * std::min(before, after) + least;
        };
        for (const Side& side : sides_) {
            const auto before = between(here_, side);
            const auto seen = between(predicted, side);
            const auto after = between(corrected, side);
            if (!stays(std::hypot(after[0] - seen[0], after[1] - seen[1]), std::hypot(before[0], before[1]),
                       std::hypot(after[0], after[1]))) {
                return false;
            }
        }
        for (const int unknown : radii_) {
            const auto i = static_cast<size_t>(unknown);
            if (corrected[i] <= 0 || !stays(std::fabs(corrected[i] - predicted[i]), here_[i], corrected[i])) {
                return false;
            }
        }
        return true;
    }

    const Values& drawn_;
    const Values& held_;
    const Cluster& cluster_;
    std::vector<Side> sides_;
    std::vector<int> radii_;
    Values here_;
    Eigen::VectorXd residual_; ///< as drawn
    double size_ = 0;          ///< mm, of the drawing
};

} // namespace

bool lead(Values& x, const Values& drawn, const Cluster& cluster) {
    const auto arrive = [&](Way way) {
        auto end = way.follow();
        if (!end || !(polish(*end, cluster) || linearise(*end, cluster).worst() <= solve_tolerance)) {
            return false;
        }
        x = std::move(*end);
        return true;
    };
    if (cluster.unknowns.empty() || linearise(x, cluster).worst() <= 1e-12) {
        return linearise(x, cluster).worst() <= solve_tolerance;
    }
    if (arrive(Way(drawn, x, cluster))) {
        return true;
    }
    Values jumped = drawn; // what is held is there from the beginning
    for (size_t i = 0; i < x.size(); ++i) {
        jumped[i] = cluster.column[i] < 0 ? x[i] : drawn[i];
    }
    if (jumped != drawn && arrive(Way(jumped, x, cluster))) {
        return true;
    }
    Way other(drawn, x, cluster);
    if (other.has_angles()) {
        other.go_round_the_other_way();
        return arrive(std::move(other));
    }
    return false;
}

} // namespace kervo::sketch
