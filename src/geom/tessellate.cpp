#include "geom/tessellate.h"

#include <BRepAdaptor_Curve.hxx>
#include <BRepMesh_IncrementalMesh.hxx>
#include <BRep_Tool.hxx>
#include <GCPnts_QuasiUniformDeflection.hxx>
#include <IMeshTools_Parameters.hxx>
#include <Poly_Triangulation.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Iterator.hxx>

namespace kervo::geom {

namespace {

constexpr int many_loops = 24;

int loops_in(const TopoDS_Shape& face) {
    int loops = 0;
    for (TopoDS_Iterator it(face); it.More(); it.Next()) {
        ++loops;
    }
    return loops;
}

} // namespace

void tessellate(const TopoDS_Shape& shape, const TessellationOptions& options) {
    IMeshTools_Parameters parameters;
    parameters.Deflection = options.chord;
    parameters.Angle = options.angle;
    parameters.InParallel = Standard_True;
    std::vector<TopoDS_Shape> pierced;
    std::vector<TopoDS_Shape> plain;
    for (const TopoDS_Shape& face : faces_of(shape)) {
        (loops_in(face) >= many_loops ? pierced : plain).push_back(face);
    }
    if (pierced.empty()) {
        const BRepMesh_IncrementalMesh mesher(shape, parameters);
        return;
    }
    // The kernel's other triangulator is an order of magnitude faster on flat faces with many loops; but it comes to
    // grief on some simple ones, as on a quarter of a ring. Both divide an edge alike.
    const BRepMesh_IncrementalMesh simple(gather(plain), parameters);
    parameters.MeshAlgo = IMeshTools_MeshAlgoType_Delabella;
    const BRepMesh_IncrementalMesh other(gather(pierced), parameters);
}

std::vector<std::array<gp_Pnt, 3>> triangles_of(const TopoDS_Shape& shape) {
    std::vector<std::array<gp_Pnt, 3>> triangles;
    for (TopExp_Explorer it(shape, TopAbs_FACE); it.More(); it.Next()) {
        TopLoc_Location location;
        const auto mesh = BRep_Tool::Triangulation(TopoDS::Face(it.Current()), location);
        if (mesh.IsNull()) {
            continue;
        }
        const bool reversed = it.Current().Orientation() == TopAbs_REVERSED;
        for (int i = 1; i <= mesh->NbTriangles(); ++i) {
            int a = 0;
            int b = 0;
            int c = 0;
            mesh->Triangle(i).Get(a, b, c);
            if (reversed) {
                std::swap(b, c);
            }
            const gp_Trsf& place = location.Transformation();
            triangles.push_back(
                {mesh->Node(a).Transformed(place), mesh->Node(b).Transformed(place), mesh->Node(c).Transformed(place)});
        }
    }
    return triangles;
}

std::vector<gp_Pnt> polyline_of(const TopoDS_Shape& edge, double deflection) {
    if (BRep_Tool::Degenerated(TopoDS::Edge(edge))) {
        return {};
    }
    const BRepAdaptor_Curve curve(TopoDS::Edge(edge));
    if (curve.GetType() == GeomAbs_Line) {
        return {curve.Value(curve.FirstParameter()), curve.Value(curve.LastParameter())};
    }
    std::vector<gp_Pnt> points;
    const GCPnts_QuasiUniformDeflection sampler(curve, deflection);
    for (int i = 1; sampler.IsDone() && i <= sampler.NbPoints(); ++i) {
        points.push_back(sampler.Value(i));
    }
    return points;
}

} // namespace kervo::geom
