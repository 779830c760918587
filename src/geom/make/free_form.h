// Free-form surfaces with control points: made over a rectangle or like a face, moved, and given more control points.
#pragma once

#include "base/finding.h"

#include <Geom_BSplineSurface.hxx>
#include <TopoDS_Face.hxx>
#include <gp_Ax3.hxx>

#include <array>
#include <functional>
#include <utility>
#include <vector>

namespace kervo::geom {

inline constexpr int most_form_degree = 7;
inline constexpr int most_patches = 200; // each way

/// Along one of the two ways of a surface: polynomials of this degree (1 to 7), so many of them (1 to 200), as smooth
/// where they meet as they can be.
struct FormWay {
    int degree = 3;
    int patches = 4;
};

/// Places of control points, by row (along the first way of the surface) and column (along its second), from 0.
using ControlPlaces = std::vector<std::pair<int, int>>;

/// A B-spline surface, by its control points. Where a whole side of it is one point, that side stays one.
class FreeForm {
public:
    explicit FreeForm(Handle(Geom_BSplineSurface) surface);
    FreeForm(const FreeForm& other);
    FreeForm& operator=(const FreeForm& other);
    FreeForm(FreeForm&&) = default;
    FreeForm& operator=(FreeForm&&) = default;
    ~FreeForm() = default;

    [[nodiscard]] const Handle(Geom_BSplineSurface) & surface() const { return surface_; }
    [[nodiscard]] int rows() const { return surface_->NbUPoles(); }
    [[nodiscard]] int columns() const { return surface_->NbVPoles(); }
    [[nodiscard]] gp_Pnt at(int row, int column) const { return surface_->Pole(row + 1, column + 1); }

    void move(const ControlPlaces& places, const gp_Vec& by);
    /// What lies within `reach` (mm) of one of them goes along, by (1 - (distance / reach)^2)^2 of the way.
    void move_softly(const ControlPlaces& places, const gp_Vec& by, double reach);
    void put(const ControlPlaces& places, const gp_Pnt& to);

    /// Halves patches, which does not change the shape (knot insertion: Boehm 1980): those in which one of these
    /// control points has its greatest weight, all where none is named.
    void halve(bool first_way, const ControlPlaces& where);
    [[nodiscard]] int patches(bool first_way) const;

    /// The lines between patches, and its border, as chains of points.
    [[nodiscard]] std::vector<std::vector<gp_Pnt>> lines() const;

private:
    void shift(int row, int column, const gp_Vec& by, std::vector<char>& done);

    Handle(Geom_BSplineSurface) surface_;
    std::array<bool, 4> is_point_{}; ///< the first and last row, the first and last column
};

/// Flat, along x and y of a frame: from -width/2 to width/2, and so on (mm).
FreeForm flat_form(const gp_Ax3& frame, double width, double depth, const std::array<FormWay, 2>& ways);

/// A place for each pair of parameters from 0 to 1.
using PlaceOfShares = std::function<gp_Pnt(double u, double v)>;
/// Interpolated where its control points weigh most (as `form_of_face`). Throws the kernel's failures.
FreeForm form_through(const PlaceOfShares& place, const std::array<FormWay, 2>& ways);

struct FormOfFace {
    FreeForm form;
    double off = 0; ///< mm, the most that it was found away from the face's surface, at the same parameters
    gp_Pnt off_at;
};
/// Over the range of the face's parameters, with the same parameters: interpolated at the places where its control
/// points weigh most (Greville abscissae; de Boor, A Practical Guide to Splines, XIII). Closed where the face is closed
/// there. `off` is measured between those places. Findings: form.patches (closed in fewer than degree + 1 patches),
/// form.failed.
Result<FormOfFace> form_of_face(const TopoDS_Face& face, const std::array<FormWay, 2>& ways);

} // namespace kervo::geom
