#include "geom/cut/blade.h"

#include "geom/kernel/common_part.h"
#include "geom/kernel/face_foot.h"
#include "geom/measure/arc_length.h"
#include "geom/measure/measure.h"
#include "geom/view/section.h"

#include <BRepAdaptor_Curve.hxx>
#include <BRepAdaptor_Surface.hxx>
#include <BRepBuilderAPI_MakeFace.hxx>
#include <BRepPrimAPI_MakeBox.hxx>
#include <BRepPrimAPI_MakePrism.hxx>
#include <BRep_Tool.hxx>
#include <TopLoc_Location.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Face.hxx>
#include <gp_Trsf.hxx>

#include <algorithm>
#include <cmath>

namespace kervo::geom {

namespace {

// The box around a shape, in the coordinates of a frame.
std::array<double, 6> box_in(const gp_Ax3& frame, const TopoDS_Shape& shape) {
    gp_Trsf to_frame;
    to_frame.SetTransformation(frame);
    return box_of(shape.Moved(TopLoc_Location(to_frame)));
}

// How far the corners of a box reach over a frame, with as much again around it: {xmin, ymin, xmax, ymax, highest}.
struct Reach {
    double x0 = 1e300, y0 = 1e300, x1 = -1e300, y1 = -1e300, top = -1e300;

    Reach(const gp_Ax3& frame, const std::array<double, 6>& box) {
        for (int i = 0; i < 8; ++i) {
            const gp_Vec corner(frame.Location(), gp_Pnt(box[(i & 1) != 0 ? 3 : 0], box[(i & 2) != 0 ? 4 : 1],
                                                         box[(i & 4) != 0 ? 5 : 2]));
            x0 = std::min(x0, corner.Dot(frame.XDirection()));
            x1 = std::max(x1, corner.Dot(frame.XDirection()));
            y0 = std::min(y0, corner.Dot(frame.YDirection()));
            y1 = std::max(y1, corner.Dot(frame.YDirection()));
            top = std::max(top, corner.Dot(frame.Direction()));
        }
        const double gap = std::ceil(std::hypot(x1 - x0, y1 - y0) / 2) + 1;
        x0 = std::floor(x0) - gap;
        y0 = std::floor(y0) - gap;
        x1 = std::ceil(x1) + gap;
        y1 = std::ceil(y1) + gap;
        top = std::ceil(top) + gap;
    }
};

ShapeWithRoles slab(const gp_Ax3& frame, const Reach& reach, double low, double high, const char* at_low,
                    const char* at_high) {
    const gp_Vec x(frame.XDirection());
    const gp_Vec y(frame.YDirection());
    const gp_Vec z(frame.Direction());
    const gp_Pnt corner = frame.Location().Translated(x * reach.x0 + y * reach.y0 + z * low);
    BRepPrimAPI_MakeBox maker(gp_Ax2(corner, frame.Direction(), frame.XDirection()), reach.x1 - reach.x0,
                              reach.y1 - reach.y0, high - low);
    ShapeWithRoles made{maker.Solid(), {}};
    made.roles.push_back({maker.BottomFace(), at_low});
    made.roles.push_back({maker.TopFace(), at_high});
    for (const TopoDS_Face& face : {maker.LeftFace(), maker.RightFace(), maker.FrontFace(), maker.BackFace()}) {
        made.roles.push_back({face, "far"});
    }
    return made;
}

} // namespace

ShapeWithRoles in_front_of(const gp_Ax3& frame, double height, const std::array<double, 6>& box) {
    const Reach reach(frame, box);
    return slab(frame, reach, height, std::max(reach.top, height + 1), "blade", "far");
}

ShapeWithRoles endless_kerf(const Blade& blade, const std::array<double, 6>& box) {
    return slab(blade.frame, Reach(blade.frame, box), -blade.back, blade.front, "back", "front");
}

ShapeWithRoles bounded_kerf(const Blade& blade) {
    const gp_Vec z(blade.frame.Direction());
    ShapeWithRoles made;
    std::vector<TopoDS_Shape> solids;
    for (const TopoDS_Shape& face : blade.window) {
        gp_Trsf down;
        down.SetTranslation(z * -blade.back);
        BRepPrimAPI_MakePrism prism(face.Moved(TopLoc_Location(down)), z * blade.kerf());
        solids.push_back(prism.Shape());
        made.roles.push_back({prism.FirstShape(), "back"});
        made.roles.push_back({prism.LastShape(), "front"});
        for (const TopoDS_Shape& side : faces_of(prism.Shape())) {
            if (!side.IsSame(prism.FirstShape()) && !side.IsSame(prism.LastShape())) {
                made.roles.push_back({side, "rim"});
            }
        }
    }
    made.shape = gather(solids);
    return made;
}

ShapeWithRoles bounded_sheet(const Blade& blade) {
    ShapeWithRoles made{gather(blade.window), {}};
    for (const TopoDS_Shape& face : blade.window) {
        made.roles.push_back({face, "blade"});
    }
    return made;
}

std::optional<std::vector<Crossing>> crossings(const Blade& blade, const TopoDS_Shape& workpiece) {
    std::vector<Crossing> found;
    const double size = std::sqrt(area_of(gather(blade.window)));
    for (const double height : blade.kerf() > 0 ? std::vector{-blade.back, blade.front} : std::vector{0.0}) {
        const gp_Vec lift = gp_Vec(blade.frame.Direction()) * height;
        gp_Trsf up;
        up.SetTranslation(lift);
        const auto sections = section_faces(workpiece, gp_Pln(gp_Ax3(blade.frame).Translated(lift)));
        if (!sections) {
            return std::nullopt;
        }
        for (const TopoDS_Shape& section : *sections) {
            double covered = 0;
            TopoDS_Shape border;
            for (const TopoDS_Shape& face : blade.window) {
                const auto common = common_part(section, face.Moved(TopLoc_Location(up)));
                if (!common) {
                    return std::nullopt;
                }
                covered += area_of(*common);
            }
            const double whole = area_of(section);
            if (covered < 1e-9 * whole || covered > whole - 1e-9 * std::max(whole, size * size)) {
                continue;
            }
            for (const TopoDS_Shape& face : blade.window) { // where the rim runs through the section
                for (const TopoDS_Shape& edge : edges_of(face)) {
                    const auto inner =
                        border.IsNull() ? common_part(edge.Moved(TopLoc_Location(up)), section) : std::nullopt;
                    if (inner && length_of(*inner) > coincidence) {
                        border = edges_of(*inner).front();
                    }
                }
            }
            const auto box = box_in(blade.frame, section);
            found.push_back(
                {border.IsNull() ? center_of(section) : center_of(border), {box[0], box[1], box[3], box[4]}});
        }
    }
    return found;
}

std::array<double, 4> window_that_passes(const Blade& blade, const std::vector<TopoDS_Shape>& workpieces) {
    constexpr double step = 100; // to the mm
    const auto window = box_in(blade.frame, gather(blade.window));
    std::array<double, 4> sides{window[0], window[1], window[3], window[4]};
    Blade wider = blade;
    for (bool grew = true; grew;) { // what it reaches now may be another part of the material
        const auto before = sides;
        for (const TopoDS_Shape& workpiece : workpieces) {
            for (const Crossing& crossing : crossings(wider, workpiece).value_or(std::vector<Crossing>{})) {
                for (size_t i = 0; i < 2; ++i) {
                    sides[i] = std::min(sides[i], std::floor(crossing.needed[i] * step + coincidence) / step);
                    sides[i + 2] =
                        std::max(sides[i + 2], std::ceil(crossing.needed[i + 2] * step - coincidence) / step);
                }
            }
        }
        grew = sides != before;
        wider.window = {rectangle(blade.frame, sides)};
    }
    return sides;
}

TopoDS_Shape rectangle(const gp_Ax3& frame, const std::array<double, 4>& sides) {
    return BRepBuilderAPI_MakeFace(gp_Pln(frame), sides[0], sides[2], sides[1], sides[3]).Face();
}

gp_Ax3 plane_at(const gp_Pnt& point, const gp_Dir& normal) {
    const gp_Dir up(0, 0, 1);
    return normal.IsParallel(up, 1e-9) ? gp_Ax3(point, normal, gp_Dir(1, 0, 0))
                                       : gp_Ax3(point, normal, up.Crossed(normal));
}

gp_Ax3 midway(const gp_Pln& one, const gp_Pln& two, bool other) {
    const gp_Dir a = one.Axis().Direction();
    gp_Dir b = two.Axis().Direction();
    if (a.IsParallel(b, 1e-9)) {
        const double apart = gp_Vec(one.Location(), two.Location()).Dot(gp_Vec(a));
        return plane_at(one.Location().Translated(gp_Vec(a) * (apart / 2)), a);
    }
    if (other) {
        b.Reverse();
    }
    // Both planes hold the line in which they meet; the bisector does too. Its normal is across the sum of theirs, so
    // that it parts the material between two faces that look away from each other.
    const gp_Vec along = gp_Vec(a).Crossed(gp_Vec(b));
    const double da = gp_Vec(gp_Pnt(), one.Location()).Dot(gp_Vec(a));
    const double db = gp_Vec(gp_Pnt(), two.Location()).Dot(gp_Vec(b));
    const gp_Vec on = (gp_Vec(b).Crossed(along) * da + along.Crossed(gp_Vec(a)) * db) / along.SquareMagnitude();
    const gp_Vec near = gp_Vec(gp_Pnt(), one.Location()) - on; // the place on the line beside the first face
    const gp_Vec at = on + along * (near.Dot(along) / along.SquareMagnitude());
    return plane_at(gp_Pnt(at.XYZ()), gp_Dir(gp_Vec(a) - gp_Vec(b)));
}

std::optional<gp_Ax3> tangent_plane(const TopoDS_Shape& face, const gp_Dir& towards, double turn) {
    const BRepAdaptor_Surface surface(TopoDS::Face(face), Standard_False);
    const auto axis = axis_of(face);
    if (!axis) {
        return std::nullopt;
    }
    const gp_Dir way = towards.Rotated(*axis, turn);
    const gp_Vec across = gp_Vec(way) - gp_Vec(axis->Direction()) * way.Dot(axis->Direction());
    const bool sphere = surface.GetType() == GeomAbs_Sphere;
    if (!sphere && across.Magnitude() < 1e-9) {
        return std::nullopt;
    }
    gp_Ax3 frame;
    switch (surface.GetType()) {
    case GeomAbs_Cylinder:
        frame =
            plane_at(axis->Location().Translated(across.Normalized() * surface.Cylinder().Radius()), gp_Dir(across));
        break;
    case GeomAbs_Sphere:
        frame = plane_at(surface.Sphere().Location().Translated(gp_Vec(way) * surface.Sphere().Radius()), way);
        break;
    case GeomAbs_Torus:
        frame = plane_at(axis->Location().Translated(across.Normalized() *
                                                     (surface.Torus().MajorRadius() + surface.Torus().MinorRadius())),
                         gp_Dir(across));
        break;
    case GeomAbs_Cone: {
        const gp_Cone cone = surface.Cone();
        // Along the ruling on that side; where the kernel's reference circle is, or its tip.
        const gp_Vec out = across.Normalized();
        const gp_Vec up(cone.Axis().Direction());
        const gp_Vec normal = out * std::cos(cone.SemiAngle()) - up * std::sin(cone.SemiAngle());
        frame = plane_at(cone.Location().Translated(out * cone.RefRadius()), gp_Dir(normal));
        break;
    }
    default:
        return std::nullopt;
    }
    return frame;
}

std::optional<gp_Ax3> tangent_plane(const TopoDS_Shape& face, const gp_Pnt& at) {
    const auto foot = foot_on(TopoDS::Face(face), at);
    return foot && foot->normal ? std::optional(plane_at(foot->place, *foot->normal)) : std::nullopt;
}

std::optional<gp_Ax3> square_to(const TopoDS_Shape& edge, double along) {
    const BRepAdaptor_Curve curve(TopoDS::Edge(edge));
    const double length = length_of(edge);
    if (along < -coincidence || along > length + coincidence) {
        return std::nullopt;
    }
    gp_Pnt point;
    gp_Vec way;
    curve.D1(parameter_after(curve, curve.FirstParameter(), std::clamp(along, 0.0, length)), point, way);
    if (way.Magnitude() < 1e-9) {
        return std::nullopt;
    }
    return plane_at(point, gp_Dir(way));
}

} // namespace kervo::geom
