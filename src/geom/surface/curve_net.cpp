#include "geom/surface/curve_net.h"

#include "base/units.h"
#include "geom/kernel/finding_place.h"
#include "geom/measure/arc_length.h"

#include <BRepAdaptor_Curve.hxx>
#include <BRepExtrema_DistShapeShape.hxx>
#include <BRep_Tool.hxx>
#include <BSplCLib.hxx>
#include <Standard_Failure.hxx>
#include <TColStd_Array1OfReal.hxx>
#include <TopoDS.hxx>
#include <math_Matrix.hxx>

#include <algorithm>
#include <cmath>
#include <numeric>
#include <optional>

namespace kervo::geom {

namespace {

constexpr double meeting = 1e-3; // mm

// Thrown within this source alone.
struct Refusal {
    Finding finding;
};
[[noreturn]] void refuse(const char* code, const std::string& cause, const char* mend,
                         const std::vector<gp_Pnt>& places) {
    Finding finding = error_finding(code, cause, mend);
    for (const gp_Pnt& place : places) {
        add_place(finding, place);
    }
    throw Refusal{std::move(finding)};
}

struct Crossing {
    double apart = 0;            // mm
    double first = 0, other = 0; // parameters
    gp_Pnt at;
};

double parameter_of(const BRepExtrema_DistShapeShape& found, int solution, bool first, const TopoDS_Edge& edge) {
    const auto kind = first ? found.SupportTypeShape1(solution) : found.SupportTypeShape2(solution);
    double at = 0;
    if (kind == BRepExtrema_IsVertex) {
        const TopoDS_Shape vertex = first ? found.SupportOnShape1(solution) : found.SupportOnShape2(solution);
        return BRep_Tool::Parameter(TopoDS::Vertex(vertex), edge);
    }
    first ? found.ParOnEdgeS1(solution, at) : found.ParOnEdgeS2(solution, at);
    return at;
}

// Where two curves are nearest to each other. Throws where they meet several times.
Crossing crossing_of(const TopoDS_Edge& one, const TopoDS_Edge& other) {
    const BRepExtrema_DistShapeShape found(one, other);
    if (!found.IsDone() || found.NbSolution() == 0) {
        throw Standard_Failure("no distance");
    }
    const auto middle = [&](int i) {
        return gp_Pnt((found.PointOnShape1(i).XYZ() + found.PointOnShape2(i).XYZ()) / 2);
    };
    for (int i = 2; found.Value() < meeting && i <= found.NbSolution(); ++i) {
        if (middle(i).Distance(middle(1)) > 2 * meeting) {
            refuse("net.twice", "Two of the curves meet more than once.",
                   "Divide one of them between these places, and take the part that is meant.", {middle(1), middle(i)});
        }
    }
    return {found.Value(), parameter_of(found, 1, true, one), parameter_of(found, 1, false, other), middle(1)};
}

// Splines through values at some places: what each value weighs anywhere. Cubic, or as high as so few places allow.
class Weights {
public:
    explicit Weights(const std::vector<double>& places)
        : degree_(std::min<int>(3, static_cast<int>(places.size()) - 1)), count_(static_cast<int>(places.size())),
          flat_(1, count_ + degree_ + 1), inverse_(1, count_, 1, count_, 0.0) {
        for (int i = 0; i <= degree_; ++i) {
            flat_(i + 1) = places.front();
            flat_(count_ + i + 1) = places.back();
        }
        for (int j = 1; j < count_ - degree_; ++j) { // averaged (Piegl and Tiller, The NURBS Book, 9.8)
            flat_(degree_ + 1 + j) = std::accumulate(places.begin() + j, places.begin() + j + degree_, 0.0) / degree_;
        }
        for (int i = 1; i <= count_; ++i) {
            const auto basis = basis_at(places[static_cast<size_t>(i - 1)]);
            for (int k = 1; k <= count_; ++k) {
                inverse_(i, k) = basis[static_cast<size_t>(k - 1)];
            }
        }
        inverse_.Invert();
    }

    [[nodiscard]] std::vector<double> at(double place) const {
        const auto basis = basis_at(place);
        std::vector<double> weights(static_cast<size_t>(count_), 0);
        for (int i = 1; i <= count_; ++i) {
            for (int k = 1; k <= count_; ++k) {
                weights[static_cast<size_t>(i - 1)] += basis[static_cast<size_t>(k - 1)] * inverse_(k, i);
            }
        }
        return weights;
    }

private:
    [[nodiscard]] std::vector<double> basis_at(double place) const {
        math_Matrix some(1, 1, 1, degree_ + 1);
        int first = 0;
        BSplCLib::EvalBsplineBasis(0, degree_ + 1, flat_, place, first, some);
        std::vector<double> all(static_cast<size_t>(count_), 0);
        for (int i = 0; i <= degree_; ++i) {
            all[static_cast<size_t>(first - 1 + i)] = some(1, i + 1);
        }
        return all;
    }

    int degree_, count_;
    TColStd_Array1OfReal flat_;
    math_Matrix inverse_;
};

// A curve over shares from 0 to 1, from its first crossing to its last.
class NetCurve {
public:
    NetCurve(const TopoDS_Edge& edge, std::vector<double> parameters)
        : curve_(edge), parameters_(std::move(parameters)) {}

    // Lengths from the first crossing to each, as shares of the whole.
    [[nodiscard]] std::vector<double> shares() const {
        std::vector<double> all{0};
        for (size_t i = 1; i < parameters_.size(); ++i) {
            all.push_back(all.back() + arc_length(curve_, parameters_[i - 1], parameters_[i]));
        }
        for (double& each : all) {
            each /= all.back();
        }
        return all;
    }
    // Its crossings are at these shares from now on: its parameter is a spline over them, as smooth as that of the net;
    // where that would turn back, a monotone one (Fritsch and Butland 1984).
    void stand(const std::vector<double>& shares, const Weights& weights) {
        shares_ = shares;
        constexpr int looks = 200;
        const bool rises = parameters_.back() > parameters_.front();
        smooth_ = &weights;
        for (int i = 0; smooth_ != nullptr && i < looks; ++i) {
            const double here = parameter(static_cast<double>(i) / looks);
            const double next = parameter((i + 1.0) / looks);
            smooth_ = (next > here) == rises ? smooth_ : nullptr;
        }
        slopes_.assign(shares.size(), 0);
        const size_t last = shares.size() - 1;
        const auto slope = [&](size_t i) {
            return (parameters_[i + 1] - parameters_[i]) / (shares[i + 1] - shares[i]);
        };
        slopes_.front() = slope(0);
        slopes_.back() = slope(last - 1);
        for (size_t i = 1; i < last; ++i) {
            const double before = slope(i - 1);
            const double behind = slope(i);
            const double left = shares[i] - shares[i - 1];
            const double right = shares[i + 1] - shares[i];
            const double w = (left + 2 * right) / (3 * (left + right));
            slopes_[i] = before * behind / (w * behind + (1 - w) * before);
        }
    }
    [[nodiscard]] gp_Pnt at(double share) const { return curve_.Value(parameter(share)); }

private:
    [[nodiscard]] double parameter(double share) const {
        if (smooth_ != nullptr) {
            const auto weights = smooth_->at(share);
            return std::inner_product(weights.begin(), weights.end(), parameters_.begin(), 0.0);
        }
        size_t i = 0;
        while (i + 2 < shares_.size() && share > shares_[i + 1]) {
            ++i;
        }
        const double wide = shares_[i + 1] - shares_[i];
        const double t = (share - shares_[i]) / wide;
        const double rest = 1 - t;
        return parameters_[i] * rest * rest * (1 + 2 * t) + parameters_[i + 1] * t * t * (1 + 2 * rest) +
               slopes_[i] * wide * t * rest * rest - slopes_[i + 1] * wide * t * t * rest;
    }

    BRepAdaptor_Curve curve_;
    std::vector<double> parameters_; // of the crossings, all ascending or all descending
    std::vector<double> shares_, slopes_;
    const Weights* smooth_ = nullptr;
};

class Net {
public:
    explicit Net(const std::vector<TopoDS_Edge>& curves) {
        constexpr size_t most = 100;
        if (curves.size() > most) {
            refuse("net.too_many", "A net takes 100 curves at most.", "Take some off.", {});
        }
        sort_out(curves);
        put_in_order();
        for (size_t way : {0U, 1U}) {
            std::vector<double> mean(ways_[1 - way].size(), 0);
            for (const size_t each : ways_[way]) {
                std::vector<double> parameters;
                for (const size_t other : ways_[1 - way]) {
                    parameters.push_back(parameter(each, other));
                }
                curves_[way].emplace_back(curves[each], std::move(parameters));
                const auto shares = curves_[way].back().shares();
                for (size_t i = 0; i < mean.size(); ++i) {
                    mean[i] += shares[i] / static_cast<double>(ways_[way].size());
                }
            }
            shares_[way] = std::move(mean);
            weights_[way].emplace(shares_[way]);
            for (NetCurve& curve : curves_[way]) {
                curve.stand(shares_[way], *weights_[way]);
            }
        }
    }

    Net(const Net&) = delete; // its curves know its weights
    Net& operator=(const Net&) = delete;

    // Curves of the first way run along u, and lie at shares of v.
    [[nodiscard]] gp_Pnt at(double u, double v) const {
        const auto along = weights_[0]->at(u);  // of the second way's curves
        const auto across = weights_[1]->at(v); // of the first way's
        gp_XYZ sum(0, 0, 0);
        for (size_t i = 0; i < across.size(); ++i) {
            sum += curves_[0][i].at(u).XYZ() * across[i];
        }
        for (size_t k = 0; k < along.size(); ++k) {
            sum += curves_[1][k].at(v).XYZ() * along[k];
        }
        for (size_t i = 0; i < across.size(); ++i) {
            for (size_t k = 0; k < along.size(); ++k) {
                sum -= crossing(ways_[0][i], ways_[1][k]).at.XYZ() * (across[i] * along[k]);
            }
        }
        return {sum};
    }

    // Places on the curves, with where the surface should be there.
    template <class Visit> void each_place(int on_each, const Visit& visit) const {
        for (int i = 0; i <= on_each; ++i) {
            const double share = static_cast<double>(i) / on_each;
            for (size_t k = 0; k < curves_[0].size(); ++k) {
                visit(curves_[0][k].at(share), share, shares_[1][k]);
            }
            for (size_t k = 0; k < curves_[1].size(); ++k) {
                visit(curves_[1][k].at(share), shares_[0][k], share);
            }
        }
    }
    [[nodiscard]] std::array<size_t, 2> counts() const { return {ways_[0].size(), ways_[1].size()}; }

private:
    [[nodiscard]] const Crossing& crossing(size_t one, size_t other) const {
        return crossings_[std::min(one, other) * count_ + std::max(one, other)];
    }
    // On the first one.
    [[nodiscard]] double parameter(size_t one, size_t other) const {
        return one < other ? crossing(one, other).first : crossing(one, other).other;
    }

    // What meets the first curve goes the other way; what does not, its own.
    void sort_out(const std::vector<TopoDS_Edge>& curves) {
        count_ = curves.size();
        crossings_.resize(count_ * count_);
        for (size_t i = 0; i < count_; ++i) {
            for (size_t k = i + 1; k < count_; ++k) {
                crossings_[i * count_ + k] = crossing_of(curves[i], curves[k]);
            }
        }
        const auto way_of = [&](size_t i) { return i > 0 && crossing(0, i).apart < meeting ? 1U : 0U; };
        for (size_t i = 0; i < count_; ++i) {
            ways_[way_of(i)].push_back(i);
        }
        if (ways_[0].size() < 2 || ways_[1].size() < 2) {
            refuse("net.few", "A net takes two curves and more each way, which cross.",
                   "Pick the curves that are missing.", {});
        }
        for (size_t i = 0; i < count_; ++i) {
            for (size_t k = i + 1; k < count_; ++k) {
                const bool cross = way_of(i) != way_of(k);
                const Crossing& there = crossing(i, k);
                if (cross && there.apart >= meeting) {
                    refuse("net.apart",
                           "Two curves that should cross are " + format_quantity(there.apart, "mm", 3) +
                               " mm apart here.",
                           "Let each curve of one way meet each of the other.", {there.at});
                }
                if (!cross && there.apart < meeting) {
                    refuse("net.order", "Two curves that go the same way meet here.",
                           "Take one of them off, or end the net before that place.", {there.at});
                }
            }
        }
    }

    // As the first curve of the other way meets them; all others must agree, forwards or backwards.
    void put_in_order() {
        for (size_t way : {0U, 1U}) {
            const size_t across = ways_[1 - way].front();
            std::sort(ways_[way].begin(), ways_[way].end(),
                      [&](size_t a, size_t b) { return parameter(across, a) < parameter(across, b); });
        }
        for (size_t way : {0U, 1U}) {
            for (const size_t across : ways_[1 - way]) {
                const bool rises = parameter(across, ways_[way].back()) > parameter(across, ways_[way].front());
                for (size_t i = 1; i < ways_[way].size(); ++i) {
                    const double before = parameter(across, ways_[way][i - 1]);
                    const double here = parameter(across, ways_[way][i]);
                    if (before == here || (here > before) != rises) {
                        refuse("net.order", "The curves do not cross in one order here.",
                               "Take off the curve that runs across the others.", {crossing(across, ways_[way][i]).at});
                    }
                }
            }
        }
    }

    size_t count_ = 0;
    std::vector<Crossing> crossings_;
    std::array<std::vector<size_t>, 2> ways_; // indices of curves
    std::array<std::vector<NetCurve>, 2> curves_;
    std::array<std::vector<double>, 2> shares_; // along the curves of a way: where those of the other cross
    std::array<std::optional<Weights>, 2> weights_;
};

} // namespace

Result<NetSurface> surface_through_net(const std::vector<TopoDS_Edge>& curves) try {
    const Net net(curves);
    constexpr double close_enough = 1e-5; // mm
    constexpr double most_gap = 1e-3;
    constexpr int most = 128; // patches
    for (int patches = 8;; patches *= 2) {
        const FreeForm form =
            form_through([&](double u, double v) { return net.at(u, v); }, {FormWay{3, patches}, FormWay{3, patches}});
        NetSurface made;
        made.curves = net.counts();
        net.each_place(5 * patches + 3, [&](const gp_Pnt& place, double u, double v) {
            if (const double off = place.Distance(form.surface()->Value(u, v)); off > made.gap) {
                made.gap = off;
                made.gap_at = place;
            }
        });
        if (made.gap > close_enough && patches < most) {
            continue;
        }
        if (made.gap > most_gap) {
            refuse("net.gap", "The surface is " + format_quantity(made.gap, "mm", 3) + " mm beside a curve here.",
                   "Take curves without corners, or divide the net there.", {made.gap_at});
        }
        auto face = whole_face(form);
        if (!face) {
            return face.finding();
        }
        made.made = std::move(*face);
        return made;
    }
} catch (const Refusal& refusal) {
    return refusal.finding;
} catch (const Standard_Failure&) {
    return error_finding("net.failed", "No surface could be spanned in this net.", "Take curves off, or others.");
}

} // namespace kervo::geom
