#include "geom/make/stock.h"

#include "geom/measure/measure.h"

#include <BRepBuilderAPI_MakeFace.hxx>
#include <BRepPrimAPI_MakeBox.hxx>
#include <BRepPrimAPI_MakeCone.hxx>
#include <BRepPrimAPI_MakeCylinder.hxx>
#include <BRepPrimAPI_MakeSphere.hxx>
#include <BRepPrimAPI_MakeTorus.hxx>
#include <BRepPrim_OneAxis.hxx>
#include <gp_Pln.hxx>

namespace kervo::geom {

namespace {

gp_Ax2 shifted(const gp_Ax3& place, double x, double y, double z) {
    const gp_Vec shift =
        gp_Vec(place.XDirection()) * x + gp_Vec(place.YDirection()) * y + gp_Vec(place.Direction()) * z;
    return {place.Location().Translated(shift), place.Direction(), place.XDirection()};
}

// Works for cylinders and cones alike: whatever is not a cap is the side.
ShapeWithRoles with_turned_roles(const TopoDS_Shape& shape, BRepPrim_OneAxis& primitive) {
    ShapeWithRoles result{shape, {}};
    for (const TopoDS_Shape& face : faces_of(shape)) {
        std::string role = "side";
        if (primitive.HasTop() && face.IsSame(primitive.TopFace())) {
            role = "top";
        } else if (primitive.HasBottom() && face.IsSame(primitive.BottomFace())) {
            role = "bottom";
        }
        result.roles.push_back({face, role});
    }
    return result;
}

} // namespace

ShapeWithRoles make_box(double width, double depth, double height, const gp_Ax3& place) {
    BRepPrimAPI_MakeBox maker(shifted(place, -width / 2, -depth / 2, 0), width, depth, height);
    const TopoDS_Shape solid = maker.Solid();
    return {solid,
            {{maker.BottomFace(), "bottom"},
             {maker.TopFace(), "top"},
             {maker.BackFace(), "left"},
             {maker.FrontFace(), "right"},
             {maker.LeftFace(), "front"},
             {maker.RightFace(), "back"}}};
}

ShapeWithRoles make_cylinder(double diameter, double height, const gp_Ax3& place) {
    BRepPrimAPI_MakeCylinder maker(shifted(place, 0, 0, 0), diameter / 2, height);
    const TopoDS_Shape solid = maker.Solid();
    return with_turned_roles(solid, maker.Cylinder());
}

ShapeWithRoles make_sphere(double diameter, const gp_Ax3& place) {
    BRepPrimAPI_MakeSphere maker(shifted(place, 0, 0, diameter / 2), diameter / 2);
    const TopoDS_Shape solid = maker.Solid();
    return {solid, {{faces_of(solid).front(), "side"}}};
}

ShapeWithRoles make_cone(double bottom_diameter, double top_diameter, double height, const gp_Ax3& place) {
    if (bottom_diameter == top_diameter) {
        return make_cylinder(bottom_diameter, height, place);
    }
    BRepPrimAPI_MakeCone maker(shifted(place, 0, 0, 0), bottom_diameter / 2, top_diameter / 2, height);
    const TopoDS_Shape solid = maker.Solid();
    return with_turned_roles(solid, maker.Cone());
}

ShapeWithRoles make_ring(double diameter, double tube_diameter, const gp_Ax3& place) {
    BRepPrimAPI_MakeTorus maker(shifted(place, 0, 0, tube_diameter / 2), diameter / 2, tube_diameter / 2);
    const TopoDS_Shape solid = maker.Solid();
    return {solid, {{faces_of(solid).front(), "side"}}};
}

ShapeWithRoles make_rectangle(double width, double depth, const gp_Ax3& place) {
    const gp_Ax3 frame(shifted(place, 0, 0, 0));
    const TopoDS_Shape face =
        BRepBuilderAPI_MakeFace(gp_Pln(frame), -width / 2, width / 2, -depth / 2, depth / 2).Face();
    return {face, {{face, "face"}}};
}

} // namespace kervo::geom
