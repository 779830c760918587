// The kernel's shapes as Kervo passes them around: exact boundary representations, in millimetres, never changed once
// they are made. Everything that calls the kernel lives in this folder.
#pragma once

#include <TopoDS_Face.hxx>
#include <TopoDS_Shape.hxx>
#include <gp_Ax3.hxx>
#include <gp_Pnt.hxx>

#include <string>
#include <vector>

namespace kervo::geom {

/// A face of a freshly made shape (of curves and of borders of surfaces: an edge), with the part it plays there ("top",
/// "side", ...).
struct FaceRole {
    TopoDS_Shape face;
    std::string role;
};

/// A new shape whose faces know what they are.
struct ShapeWithRoles {
    TopoDS_Shape shape;
    std::vector<FaceRole> roles;
};

/// Result face -> input face it lies on. A result face may have several origins where inputs coincide.
struct FaceOrigin {
    TopoDS_Shape result;
    TopoDS_Shape source;
};

/// Distance below which the kernel takes two points for one (mm).
inline constexpr double coincidence = 1e-7;

std::vector<TopoDS_Shape> faces_of(const TopoDS_Shape& shape);
std::vector<TopoDS_Shape> edges_of(const TopoDS_Shape& shape);
std::vector<TopoDS_Shape> vertices_of(const TopoDS_Shape& shape);
std::vector<TopoDS_Shape> solids_of(const TopoDS_Shape& shape);

/// One shape as it is; several as a compound.
TopoDS_Shape gather(const std::vector<TopoDS_Shape>& shapes);

} // namespace kervo::geom
