#include "geom/measure/measure.h"

#include "geom/kernel/is_curves.h"
#include "geom/measure/arc_length.h"
#include "geom/measure/face_integrals.h"

#include <BRepAdaptor_Curve.hxx>
#include <BRepAdaptor_Surface.hxx>
#include <BRepBndLib.hxx>
#include <BRepGProp.hxx>
#include <BRepGProp_Domain.hxx>
#include <BRepGProp_Face.hxx>
#include <BRepGProp_Vinert.hxx>
#include <BRep_Builder.hxx>
#include <BRep_Tool.hxx>
#include <GProp_GProps.hxx>
#include <TopExp.hxx>
#include <TopExp_Explorer.hxx>
#include <TopTools_IndexedDataMapOfShapeListOfShape.hxx>
#include <TopTools_IndexedMapOfShape.hxx>
#include <TopTools_MapOfShape.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Compound.hxx>

namespace kervo::geom {

namespace {

std::vector<TopoDS_Shape> elements_of(const TopoDS_Shape& shape, TopAbs_ShapeEnum kind) {
    TopTools_IndexedMapOfShape map;
    TopExp::MapShapes(shape, kind, map);
    return {map.cbegin(), map.cend()};
}

} // namespace

std::vector<TopoDS_Shape> faces_of(const TopoDS_Shape& shape) {
    return elements_of(shape, TopAbs_FACE);
}
std::vector<TopoDS_Shape> edges_of(const TopoDS_Shape& shape) {
    return elements_of(shape, TopAbs_EDGE);
}
std::vector<TopoDS_Shape> vertices_of(const TopoDS_Shape& shape) {
    return elements_of(shape, TopAbs_VERTEX);
}
std::vector<TopoDS_Shape> solids_of(const TopoDS_Shape& shape) {
    return elements_of(shape, TopAbs_SOLID);
}

TopoDS_Shape gather(const std::vector<TopoDS_Shape>& shapes) {
    if (shapes.size() == 1) {
        return shapes.front();
    }
    BRep_Builder builder;
    TopoDS_Compound compound;
    builder.MakeCompound(compound);
    for (const TopoDS_Shape& shape : shapes) {
        builder.Add(compound, shape);
    }
    return compound;
}

double volume_of(const TopoDS_Shape& shape) {
    VolumeMeter meter(shape);
    double total = 0;
    for (const TopoDS_Shape& solid : solids_of(shape)) {
        total += meter.measure(solid).volume;
    }
    return total;
}

namespace {

VolumeMeter::Cone cone_over_forward(const TopoDS_Face& face, const gp_Pnt& apex) {
    if (const auto exact = integrate_face(face, apex)) {
        return {exact->cone, exact->moment};
    }
    BRepGProp_Vinert cone;
    cone.SetLocation(apex);
    BRepGProp_Face surface;
    surface.Load(face);
    if (BRep_Tool::NaturalRestriction(face)) {
        cone.Perform(surface);
    } else {
        BRepGProp_Domain domain;
        domain.Init(face);
        cone.Perform(surface, domain);
    }
    return {cone.Mass(), cone.Mass() == 0 ? gp_XYZ(0, 0, 0) : cone.CentreOfMass().XYZ() * cone.Mass()};
}

} // namespace

VolumeMeter::VolumeMeter(const TopoDS_Shape& around) : apex_(apex_within(rough_box_of(around))) {}

// Beside the middle, so that hardly any face lies in a plane with it: such a face has no cone and no centre.
gp_Pnt VolumeMeter::apex_within(const std::array<double, 6>& box) {
    return {box[0] * 0.53 + box[3] * 0.47, box[1] * 0.46 + box[4] * 0.54, box[2] * 0.51 + box[5] * 0.49};
}

VolumeMeter::Cone VolumeMeter::cone_over(const TopoDS_Shape& face, const gp_Pnt& apex) {
    const Cone over = cone_over_forward(TopoDS::Face(face.Oriented(TopAbs_FORWARD)), apex);
    const double sign = face.Orientation() == TopAbs_FORWARD ? 1 : -1;
    return {sign * over.volume, over.moment * sign};
}

VolumeMeter::Cone VolumeMeter::cone_over(const std::vector<TopoDS_Face>& faces, const gp_Pnt& apex) {
    Cone sum;
    for (const TopoDS_Face& face : faces) {
        sum += cone_over(face, apex);
    }
    return sum;
}

VolumeMeter::Measured VolumeMeter::measure(const TopoDS_Shape& shape) {
    Cone sum;
    for (TopExp_Explorer it(shape, TopAbs_FACE); it.More(); it.Next()) {
        const TopoDS_Shape& face = it.Current();
        if (face.Orientation() != TopAbs_FORWARD && face.Orientation() != TopAbs_REVERSED) {
            continue; // inside or on no side of the material
        }
        const Cone* known = faces_.Seek(face);
        if (known == nullptr) {
            known = faces_.Bound(face, cone_over_forward(TopoDS::Face(face.Oriented(TopAbs_FORWARD)), apex_));
        }
        const double sign = face.Orientation() == TopAbs_FORWARD ? 1 : -1;
        sum.volume += sign * known->volume;
        sum.moment += known->moment * sign;
    }
    return {sum.volume, sum.volume == 0 ? apex_ : gp_Pnt(sum.moment / sum.volume)};
}

double area_of(const TopoDS_Shape& shape) {
    double total = 0;
    for (TopExp_Explorer it(shape, TopAbs_FACE); it.More(); it.Next()) {
        const TopoDS_Face& face = TopoDS::Face(it.Current());
        const auto own = integrate_face(face, gp_Pnt());
        if (own && own->area > 0) {
            total += own->area;
        } else {
            GProp_GProps properties;
            BRepGProp::SurfaceProperties(face, properties);
            total += properties.Mass();
        }
    }
    return total;
}

double length_of(const TopoDS_Shape& edge) {
    double sum = 0;
    for (const TopoDS_Shape& each : edges_of(edge)) {
        if (!BRep_Tool::Degenerated(TopoDS::Edge(each))) {
            sum += arc_length(BRepAdaptor_Curve(TopoDS::Edge(each)));
        }
    }
    return sum;
}

std::optional<gp_Dir> direction_of(const TopoDS_Shape& edge) {
    const BRepAdaptor_Curve curve(TopoDS::Edge(edge));
    return curve.GetType() == GeomAbs_Line ? std::optional(curve.Line().Direction()) : std::nullopt;
}

gp_Pnt centroid_of(const TopoDS_Shape& shape) {
    const auto solids = solids_of(shape);
    if (solids.empty() && is_curves(shape)) {
        gp_XYZ moment(0, 0, 0);
        double length = 0;
        for (const TopoDS_Shape& edge : edges_of(shape)) {
            const double own = length_of(edge);
            moment += center_of(edge).XYZ() * own;
            length += own;
        }
        return {moment / length};
    }
    if (solids.empty()) {
        GProp_GProps properties;
        BRepGProp::SurfaceProperties(shape, properties);
        return properties.CentreOfMass();
    }
    VolumeMeter meter(shape);
    double volume = 0;
    gp_XYZ moment(0, 0, 0);
    for (const TopoDS_Shape& solid : solids) {
        const auto one = meter.measure(solid);
        volume += one.volume;
        moment += one.center.XYZ() * one.volume;
    }
    return {moment / volume};
}

namespace {

// Of a wall all round a cylinder between two circles, the place half-way between their middles.
std::optional<gp_Pnt> middle_of_band(const TopoDS_Shape& face) {
    if (face.NbChildren() != 1 ||
        BRepAdaptor_Surface(TopoDS::Face(face), Standard_False).GetType() != GeomAbs_Cylinder) {
        return std::nullopt;
    }
    gp_XYZ sum(0, 0, 0);
    int circles = 0;
    int others = 0;
    for (TopExp_Explorer it(face, TopAbs_EDGE); it.More(); it.Next()) {
        const TopoDS_Edge& edge = TopoDS::Edge(it.Current());
        if (TopExp::FirstVertex(edge).IsSame(TopExp::LastVertex(edge)) &&
            BRepAdaptor_Curve(edge).GetType() == GeomAbs_Circle) {
            sum += BRepAdaptor_Curve(edge).Circle().Location().XYZ();
            ++circles;
        } else {
            ++others;
        }
    }
    return circles == 2 && others == 2 ? std::optional(gp_Pnt(sum / 2)) : std::nullopt;
}

} // namespace

gp_Pnt center_of(const TopoDS_Shape& element) {
    if (element.ShapeType() == TopAbs_VERTEX) {
        return BRep_Tool::Pnt(TopoDS::Vertex(element));
    }
    if (element.ShapeType() == TopAbs_FACE) {
        if (const auto middle = middle_of_band(element)) { // thousands of holes
            return *middle;
        }
    }
    GProp_GProps properties;
    if (element.ShapeType() == TopAbs_EDGE) {
        BRepGProp::LinearProperties(element, properties);
    } else {
        BRepGProp::SurfaceProperties(element, properties);
    }
    return properties.CentreOfMass();
}

namespace {

std::array<double, 6> corners_of(Bnd_Box box) {
    std::array<double, 6> out{};
    if (!box.IsVoid()) {
        box.SetGap(0);
        box.Get(out[0], out[1], out[2], out[3], out[4], out[5]);
    }
    return out;
}

} // namespace

std::array<double, 6> box_of(const TopoDS_Shape& shape) {
    Bnd_Box box;
    BRepBndLib::AddOptimal(shape, box, Standard_False, Standard_False);
    return corners_of(box);
}

Bnd_Box bounds_of(const TopoDS_Shape& shape) {
    Bnd_Box box;
    BRepBndLib::Add(shape, box, Standard_False); // not by its triangles, which may be there or not
    return box;
}

std::array<double, 6> rough_box_of(const TopoDS_Shape& shape) {
    return corners_of(bounds_of(shape));
}

std::string surface_kind(const TopoDS_Shape& face) {
    switch (BRepAdaptor_Surface(TopoDS::Face(face), Standard_False).GetType()) {
    case GeomAbs_Plane:
        return "plane";
    case GeomAbs_Cylinder:
        return "cylinder";
    case GeomAbs_Cone:
        return "cone";
    case GeomAbs_Sphere:
        return "sphere";
    case GeomAbs_Torus:
        return "torus";
    case GeomAbs_SurfaceOfRevolution:
        return "revolved";
    case GeomAbs_SurfaceOfExtrusion:
        return "extruded";
    default:
        return "free-form";
    }
}

std::optional<gp_Ax1> axis_of(const TopoDS_Shape& element) {
    if (element.ShapeType() == TopAbs_EDGE) {
        const BRepAdaptor_Curve curve(TopoDS::Edge(element));
        switch (curve.GetType()) {
        case GeomAbs_Line:
            return curve.Line().Position();
        case GeomAbs_Circle:
            return curve.Circle().Axis();
        case GeomAbs_Ellipse:
            return curve.Ellipse().Axis();
        default:
            return std::nullopt;
        }
    }
    if (element.ShapeType() != TopAbs_FACE) {
        return std::nullopt;
    }
    const BRepAdaptor_Surface surface(TopoDS::Face(element), Standard_False);
    switch (surface.GetType()) {
    case GeomAbs_Cylinder:
        return surface.Cylinder().Axis();
    case GeomAbs_Cone:
        return surface.Cone().Axis();
    case GeomAbs_Sphere:
        return surface.Sphere().Position().Axis();
    case GeomAbs_Torus:
        return surface.Torus().Axis();
    default:
        return std::nullopt;
    }
}

std::string curve_kind(const TopoDS_Shape& edge) {
    switch (BRepAdaptor_Curve(TopoDS::Edge(edge)).GetType()) {
    case GeomAbs_Line:
        return "line";
    case GeomAbs_Circle:
        return "circle";
    case GeomAbs_Ellipse:
        return "ellipse";
    default:
        return "free-form";
    }
}

Counts count(const TopoDS_Shape& shape) {
    Counts counts;
    const auto faces = faces_of(shape);
    counts.lumps = static_cast<int>(solids_of(shape).size());
    counts.shells = static_cast<int>(elements_of(shape, TopAbs_SHELL).size());
    counts.faces = static_cast<int>(faces.size());
    counts.loops = static_cast<int>(elements_of(shape, TopAbs_WIRE).size());
    counts.edges = static_cast<int>(edges_of(shape).size());
    counts.vertices = static_cast<int>(vertices_of(shape).size());
    for (const TopoDS_Shape& face : faces) {
        ++counts.faces_by_surface[surface_kind(face)];
    }
    return counts;
}

std::vector<TopoDS_Shape> visible_edges_of(const TopoDS_Shape& shape) {
    TopTools_MapOfShape seams;
    for (TopExp_Explorer face(shape, TopAbs_FACE); face.More(); face.Next()) {
        TopTools_MapOfShape own;
        for (TopExp_Explorer edge(face.Current(), TopAbs_EDGE); edge.More(); edge.Next()) {
            if (!own.Add(edge.Current())) {
                seams.Add(edge.Current());
            }
        }
    }
    std::vector<TopoDS_Shape> edges = edges_of(shape);
    std::erase_if(edges, [&](const TopoDS_Shape& edge) {
        return seams.Contains(edge) || BRep_Tool::Degenerated(TopoDS::Edge(edge));
    });
    return edges;
}

bool is_smooth(const TopoDS_Shape& edge, const TopoDS_Shape& one, const TopoDS_Shape& other) {
    const TopoDS_Edge& along = TopoDS::Edge(edge);
    const std::array<TopoDS_Face, 2> faces{TopoDS::Face(one), TopoDS::Face(other)};
    std::array<gp_Vec, 2> normals;
    for (size_t i = 0; i < 2; ++i) {
        const BRepAdaptor_Surface surface(faces[i], Standard_False);
        double first = 0;
        double last = 0;
        const Handle(Geom2d_Curve) flat = BRep_Tool::CurveOnSurface(along, faces[i], first, last);
        if (flat.IsNull()) {
            return false;
        }
        const gp_Pnt2d middle = flat->Value((first + last) / 2);
        gp_Pnt place;
        gp_Vec du;
        gp_Vec dv;
        surface.D1(middle.X(), middle.Y(), place, du, dv);
        normals[i] = du.Crossed(dv);
        if (normals[i].Magnitude() < coincidence) {
            return false;
        }
        if (faces[i].Orientation() == TopAbs_REVERSED) {
            normals[i].Reverse();
        }
    }
    constexpr double flush = 1e-3; // rad
    return normals[0].Angle(normals[1]) < flush;
}

bool is_closed(const TopoDS_Shape& shape) {
    TopTools_IndexedDataMapOfShapeListOfShape faces_at_edge;
    TopExp::MapShapesAndAncestors(shape, TopAbs_EDGE, TopAbs_FACE, faces_at_edge);
    for (int i = 1; i <= faces_at_edge.Extent(); ++i) {
        if (!BRep_Tool::Degenerated(TopoDS::Edge(faces_at_edge.FindKey(i))) && faces_at_edge(i).Extent() % 2 != 0) {
            return false;
        }
    }
    return faces_at_edge.Extent() > 0;
}

} // namespace kervo::geom
