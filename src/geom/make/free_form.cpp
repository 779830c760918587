#include "geom/make/free_form.h"

#include <BRepTools.hxx>
#include <BRep_Tool.hxx>
#include <BSplCLib.hxx>
#include <Precision.hxx>
#include <Standard_Failure.hxx>
#include <TColStd_Array1OfInteger.hxx>
#include <TColStd_Array1OfReal.hxx>
#include <TColgp_Array2OfPnt.hxx>
#include <math_Gauss.hxx>
#include <math_Matrix.hxx>
#include <math_Vector.hxx>

#include <algorithm>
#include <cmath>
#include <functional>

namespace kervo::geom {

namespace {

// Where a pole weighs most, within the range of the parameter. `period`: of closed ones; 0: it is open.
double greatest_weight(const TColStd_Array1OfReal& flat, int degree, int pole, double from, double period) {
    double sum = 0;
    for (int i = 1; i <= degree; ++i) {
        sum += flat.Value(flat.Lower() + pole + i);
    }
    const double at = sum / degree;
    return at < from ? at + period : at;
}

// Evenly spaced knots over a range, clamped at both ends, or closed.
class Basis {
public:
    Basis(const FormWay& way, double from, double to, bool closed)
        : way_(way), from_(from), to_(to), closed_(closed), flat_(1, knot_count()) {
        for (int i = 0; i < knot_count(); ++i) {
            const int at = closed ? i - way.degree : std::clamp(i - way.degree, 0, way.patches);
            flat_.SetValue(i + 1, knot(at));
        }
    }

    [[nodiscard]] int poles() const { return closed_ ? way_.patches : way_.patches + way_.degree; }
    // Where a pole weighs most, within the range.
    [[nodiscard]] double greatest(int pole) const {
        return greatest_weight(flat_, way_.degree, pole, from_, closed_ ? to_ - from_ : 0);
    }
    // What each pole weighs at those places: one line for each.
    [[nodiscard]] math_Matrix weights() const {
        math_Matrix all(1, poles(), 1, poles(), 0.0);
        math_Matrix some(1, 1, 1, way_.degree + 1);
        for (int k = 0; k < poles(); ++k) {
            int first = 0;
            BSplCLib::EvalBsplineBasis(0, way_.degree + 1, flat_, greatest(k), first, some);
            for (int i = 0; i <= way_.degree; ++i) {
                all(k + 1, (first - 1 + i) % poles() + 1) += some(1, i + 1);
            }
        }
        return all;
    }
    [[nodiscard]] TColStd_Array1OfReal knots() const {
        TColStd_Array1OfReal all(1, way_.patches + 1);
        for (int i = 0; i <= way_.patches; ++i) {
            all.SetValue(i + 1, knot(i));
        }
        return all;
    }
    [[nodiscard]] TColStd_Array1OfInteger counts() const {
        TColStd_Array1OfInteger all(1, way_.patches + 1);
        all.Init(1);
        if (!closed_) {
            all.SetValue(1, way_.degree + 1);
            all.SetValue(way_.patches + 1, way_.degree + 1);
        }
        return all;
    }
    [[nodiscard]] int degree() const { return way_.degree; }
    [[nodiscard]] bool closed() const { return closed_; }

private:
    [[nodiscard]] int knot_count() const { return way_.patches + 2 * way_.degree + 1; }
    [[nodiscard]] double knot(int at) const {
        return at == way_.patches ? to_ : from_ + (to_ - from_) * at / way_.patches;
    }

    FormWay way_;
    double from_, to_;
    bool closed_;
    TColStd_Array1OfReal flat_;
};

// Through the places where the poles weigh most.
Handle(Geom_BSplineSurface) through(const PlaceOfShares& place, const Basis& u, const Basis& v) {
    const int rows = u.poles();
    const int columns = v.poles();
    TColgp_Array2OfPnt net(1, rows, 1, columns);
    for (int i = 1; i <= rows; ++i) {
        for (int k = 1; k <= columns; ++k) {
            net(i, k) = place(u.greatest(i - 1), v.greatest(k - 1));
        }
    }
    const auto solve = [&](const Basis& basis, int count, int others, const auto& pole) {
        math_Gauss lines(basis.weights());
        if (!lines.IsDone()) {
            throw Standard_Failure("no surface through these places");
        }
        math_Vector values(1, count);
        for (int other = 1; other <= others; ++other) {
            for (int axis = 1; axis <= 3; ++axis) {
                for (int i = 1; i <= count; ++i) {
                    values(i) = pole(i, other).Coord(axis);
                }
                lines.Solve(values);
                for (int i = 1; i <= count; ++i) {
                    pole(i, other).SetCoord(axis, values(i));
                }
            }
        }
    };
    solve(u, rows, columns, [&](int i, int other) -> gp_Pnt& { return net(i, other); });
    solve(v, columns, rows, [&](int i, int other) -> gp_Pnt& { return net(other, i); });
    return new Geom_BSplineSurface(net, u.knots(), v.knots(), u.counts(), v.counts(), u.degree(), v.degree(),
                                   u.closed(), v.closed());
}

bool same_place(const gp_Pnt& a, const gp_Pnt& b) {
    return a.Distance(b) < Precision::Confusion();
}

} // namespace

FreeForm::FreeForm(Handle(Geom_BSplineSurface) surface) : surface_(std::move(surface)) {
    const auto all_one = [&](int count, const auto& pole) {
        bool one = true;
        for (int i = 1; i < count; ++i) {
            one = one && same_place(pole(0), pole(i));
        }
        return one;
    };
    is_point_ = {all_one(columns(), [&](int i) { return at(0, i); }),
                 all_one(columns(), [&](int i) { return at(rows() - 1, i); }),
                 all_one(rows(), [&](int i) { return at(i, 0); }),
                 all_one(rows(), [&](int i) { return at(i, columns() - 1); })};
}

FreeForm::FreeForm(const FreeForm& other)
    : surface_(Handle(Geom_BSplineSurface)::DownCast(other.surface_->Copy())), is_point_(other.is_point_) {}

FreeForm& FreeForm::operator=(const FreeForm& other) {
    FreeForm copy(other);
    return *this = std::move(copy);
}

// Each once, and a side that is one point as a whole.
void FreeForm::shift(int row, int column, const gp_Vec& by, std::vector<char>& done) {
    char& moved = done[static_cast<size_t>(row) * static_cast<size_t>(columns()) + static_cast<size_t>(column)];
    if (moved != 0) {
        return;
    }
    moved = 1;
    surface_->SetPole(row + 1, column + 1, at(row, column).Translated(by));
    if ((is_point_[0] && row == 0) || (is_point_[1] && row == rows() - 1)) {
        for (int other = 0; other < columns(); ++other) {
            shift(row, other, by, done);
        }
    }
    if ((is_point_[2] && column == 0) || (is_point_[3] && column == columns() - 1)) {
        for (int other = 0; other < rows(); ++other) {
            shift(other, column, by, done);
        }
    }
}

void FreeForm::move(const ControlPlaces& places, const gp_Vec& by) {
    std::vector<char> done(static_cast<size_t>(rows()) * static_cast<size_t>(columns()), 0);
    for (const auto& [row, column] : places) {
        shift(row, column, by, done);
    }
}

void FreeForm::move_softly(const ControlPlaces& places, const gp_Vec& by, double reach) {
    std::vector<gp_Pnt> middles;
    std::transform(places.begin(), places.end(), std::back_inserter(middles),
                   [&](const auto& place) { return at(place.first, place.second); });
    std::vector<double> shares; // as it was before
    for (int row = 0; row < rows(); ++row) {
        for (int column = 0; column < columns(); ++column) {
            double away = reach;
            for (const gp_Pnt& middle : middles) {
                away = std::min(away, middle.Distance(at(row, column)));
            }
            shares.push_back(std::pow(1 - std::pow(away / reach, 2), 2));
        }
    }
    std::vector<char> done(shares.size(), 0);
    for (int row = 0; row < rows(); ++row) {
        for (int column = 0; column < columns(); ++column) {
            const double share =
                shares[static_cast<size_t>(row) * static_cast<size_t>(columns()) + static_cast<size_t>(column)];
            if (share > 0) {
                shift(row, column, by * share, done);
            }
        }
    }
}

void FreeForm::put(const ControlPlaces& places, const gp_Pnt& to) {
    for (const auto& [row, column] : places) {
        move({{row, column}}, gp_Vec(at(row, column), to));
    }
}

void FreeForm::halve(bool first_way, const ControlPlaces& where) {
    const auto count = [&] { return first_way ? surface_->NbUKnots() : surface_->NbVKnots(); };
    const auto knot = [&](int i) { return first_way ? surface_->UKnot(i) : surface_->VKnot(i); };
    const int degree = first_way ? surface_->UDegree() : surface_->VDegree();
    const bool closed = first_way ? surface_->IsUPeriodic() : surface_->IsVPeriodic();
    const TColStd_Array1OfReal& flat = first_way ? surface_->UKnotSequence() : surface_->VKnotSequence();
    const double from = knot(1);
    const double to = knot(count());
    std::vector<double> places;
    for (const auto& [row, column] : where) {
        places.push_back(greatest_weight(flat, degree, first_way ? row : column, from, closed ? to - from : 0));
    }
    std::vector<double> added;
    const double on = (to - from) * 1e-9;
    for (int i = 1; i < count(); ++i) {
        const bool meant = where.empty() || std::any_of(places.begin(), places.end(), [&](double place) {
                               return place > knot(i) - on && place < knot(i + 1) + on;
                           });
        if (meant) {
            added.push_back((knot(i) + knot(i + 1)) / 2);
        }
    }
    for (const double place : added) {
        if (first_way) {
            surface_->InsertUKnot(place, 1, 0);
        } else {
            surface_->InsertVKnot(place, 1, 0);
        }
    }
}

int FreeForm::patches(bool first_way) const {
    return (first_way ? surface_->NbUKnots() : surface_->NbVKnots()) - 1;
}

std::vector<std::vector<gp_Pnt>> FreeForm::lines() const {
    constexpr int in_a_line = 160; // places, about
    std::vector<std::vector<gp_Pnt>> all;
    const auto add = [&](int lines, const auto& at, int across, const auto& along, const auto& place) {
        const int in_a_patch = std::clamp(in_a_line / across, 2, 16);
        for (int line = 1; line <= lines; ++line) {
            std::vector<gp_Pnt> chain;
            for (int i = 1; i < across; ++i) {
                for (int k = 0; k < in_a_patch; ++k) {
                    chain.push_back(place(at(line), along(i) + (along(i + 1) - along(i)) * k / in_a_patch));
                }
            }
            chain.push_back(place(at(line), along(across)));
            all.push_back(std::move(chain));
        }
    };
    const auto u = [&](int i) { return surface_->UKnot(i); };
    const auto v = [&](int i) { return surface_->VKnot(i); };
    add(surface_->NbUKnots(), u, surface_->NbVKnots(), v, [&](double a, double b) { return surface_->Value(a, b); });
    add(surface_->NbVKnots(), v, surface_->NbUKnots(), u, [&](double a, double b) { return surface_->Value(b, a); });
    return all;
}

FreeForm flat_form(const gp_Ax3& frame, double width, double depth, const std::array<FormWay, 2>& ways) {
    const Basis u(ways[0], -width / 2, width / 2, false);
    const Basis v(ways[1], -depth / 2, depth / 2, false);
    TColgp_Array2OfPnt net(1, u.poles(), 1, v.poles());
    for (int i = 1; i <= u.poles(); ++i) {
        for (int k = 1; k <= v.poles(); ++k) { // a plane has its own places as control points
            net(i, k) = frame.Location().XYZ() + frame.XDirection().XYZ() * u.greatest(i - 1) +
                        frame.YDirection().XYZ() * v.greatest(k - 1);
        }
    }
    return FreeForm(new Geom_BSplineSurface(net, u.knots(), v.knots(), u.counts(), v.counts(), u.degree(), v.degree()));
}

FreeForm form_through(const PlaceOfShares& place, const std::array<FormWay, 2>& ways) {
    return FreeForm(through(place, Basis(ways[0], 0, 1, false), Basis(ways[1], 0, 1, false)));
}

Result<FormOfFace> form_of_face(const TopoDS_Face& face, const std::array<FormWay, 2>& ways) try {
    double u0 = 0;
    double u1 = 0;
    double v0 = 0;
    double v1 = 0;
    BRepTools::UVBounds(face, u0, u1, v0, v1);
    const Handle(Geom_Surface) surface = BRep_Tool::Surface(face);
    const auto goes_round = [](bool periodic, double period, double from, double to) {
        return periodic && std::fabs(to - from - period) < period * 1e-9;
    };
    const bool u_closed = goes_round(surface->IsUPeriodic(), surface->IsUPeriodic() ? surface->UPeriod() : 0, u0, u1);
    const bool v_closed = goes_round(surface->IsVPeriodic(), surface->IsVPeriodic() ? surface->VPeriod() : 0, v0, v1);
    if ((u_closed && ways[0].patches <= ways[0].degree) || (v_closed && ways[1].patches <= ways[1].degree)) {
        return error_finding("form.patches", "A face that is closed needs more patches than its degree.",
                             "Give it more patches that way, or a lower degree.");
    }
    const Basis u(ways[0], u0, u1, u_closed);
    const Basis v(ways[1], v0, v1, v_closed);
    const auto place = [&](double at_u, double at_v) { return surface->Value(at_u, at_v); };
    FormOfFace made{FreeForm(through(place, u, v)), 0, {}};
    // Between the places that it was made through, where it is farthest off.
    constexpr std::array<double, 3> in_a_patch{0.13, 0.5, 0.79};
    for (int i = 0; i < ways[0].patches; ++i) {
        for (int k = 0; k < ways[1].patches; ++k) {
            for (const double a : in_a_patch) {
                for (const double b : in_a_patch) {
                    const double at_u = u0 + (u1 - u0) * (i + a) / ways[0].patches;
                    const double at_v = v0 + (v1 - v0) * (k + b) / ways[1].patches;
                    const gp_Pnt there = place(at_u, at_v);
                    const double off = there.Distance(made.form.surface()->Value(at_u, at_v));
                    if (off > made.off) {
                        made.off = off;
                        made.off_at = there;
                    }
                }
            }
        }
    }
    return made;
} catch (const Standard_Failure&) {
    return error_finding("form.failed", "No free-form surface could be made of this face.",
                         "Give it more patches, or take another face.");
}

} // namespace kervo::geom
