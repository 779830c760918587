#include "geom/view/tessellate.h"

#include "base/parallel.h"
#include "geom/view/flat_mesh.h"
#include "geom/view/spline_mesh.h"

#include <BRepAdaptor_Curve.hxx>
#include <BRepAdaptor_Curve2d.hxx>
#include <BRepAdaptor_Surface.hxx>
#include <BRepMesh_IncrementalMesh.hxx>
#include <BRepTools.hxx>
#include <BRep_Builder.hxx>
#include <BRep_Tool.hxx>
#include <GCPnts_QuasiUniformDeflection.hxx>
#include <GCPnts_TangentialDeflection.hxx>
#include <IMeshTools_Parameters.hxx>
#include <NCollection_DataMap.hxx>
#include <Poly_PolygonOnTriangulation.hxx>
#include <Poly_Triangulation.hxx>
#include <TopExp_Explorer.hxx>
#include <TopTools_MapOfShape.hxx>
#include <TopTools_ShapeMapHasher.hxx>
#include <TopoDS.hxx>

#include <algorithm>
#include <array>
#include <cmath>
#include <mutex>
#include <unordered_set>

namespace kervo::geom {

namespace {

constexpr double turn = 2 * M_PI;

// Which faces are flat, which are strips of a cylinder between two edges around it, is left to no general mesher; it
// takes minutes for a flat face with thousands of loops.
class Tessellation {
public:
    Tessellation(const TopoDS_Shape& shape, const TessellationOptions& options) : shape_(shape), options_(options) {}

    void run() {
        std::vector<TopoDS_Face> bare; // without triangles
        for (const TopoDS_Shape& face : faces_of(shape_)) {
            const auto mesh = triangulation(face);
            if (mesh.IsNull()) {
                bare.push_back(TopoDS::Face(face));
            } else if (!as_fine(mesh->Deflection(), options_.chord)) {
                BRepTools::Clean(shape_);
                run();
                return;
            } else {
                present_.insert(mesh.get());
            }
        }
        std::vector<TopoDS_Face> flats;
        std::vector<TopoDS_Face> strips;
        std::vector<TopoDS_Shape> others;
        for (const TopoDS_Face& face : bare) {
            const auto kind = BRepAdaptor_Surface(face, Standard_False).GetType();
            if (kind == GeomAbs_Plane) {
                flats.push_back(face);
            } else if (kind == GeomAbs_Cylinder && face.NbChildren() == 1) {
                strips.push_back(face);
            } else {
                others.push_back(face);
            }
        }
        if (bare.size() == 1 && others.size() == 1 && faces_of(shape_).size() == 1 && mesh_spline(bare.front())) {
            return; // alone: no neighbour has to meet it
        }
        mesh_by_kernel(others); // first: its edges are as it divides them
        others.clear();
        for (const TopoDS_Face& face : strips) {
            if (!mesh_strip(face)) {
                others.push_back(face);
            }
        }
        mesh_by_kernel(others);
        mesh_flats(flats);
    }

private:
    static Handle(Poly_Triangulation) triangulation(const TopoDS_Shape& face) {
        TopLoc_Location location;
        return BRep_Tool::Triangulation(TopoDS::Face(face), location);
    }

    // Their neighbours that have triangles go with them: the kernel keeps to those, where their edges meet.
    void mesh_by_kernel(const std::vector<TopoDS_Shape>& faces) {
        if (faces.empty()) {
            return;
        }
        TopTools_MapOfShape edges;
        for (const TopoDS_Shape& face : faces) {
            for (TopExp_Explorer it(face, TopAbs_EDGE); it.More(); it.Next()) {
                edges.Add(it.Current());
            }
        }
        std::vector<TopoDS_Shape> together = faces;
        for (const TopoDS_Shape& face : faces_of(shape_)) {
            const auto mesh = triangulation(face);
            if (mesh.IsNull() || !present_.contains(mesh.get())) {
                continue;
            }
            for (TopExp_Explorer it(face, TopAbs_EDGE); it.More(); it.Next()) {
                if (edges.Contains(it.Current())) {
                    together.push_back(face);
                    break;
                }
            }
        }
        IMeshTools_Parameters parameters;
        parameters.Deflection = options_.chord;
        parameters.Angle = options_.angle;
        parameters.InParallel = Standard_True;
        const BRepMesh_IncrementalMesh mesher(gather(together), parameters);
        for (const TopoDS_Shape& face : faces) {
            if (const auto mesh = triangulation(face); !mesh.IsNull()) {
                mesh->Deflection(options_.chord); // what was asked for; the kernel notes what it came to
                present_.insert(mesh.get());
            }
        }
        for (TopTools_MapOfShape::Iterator it(edges); it.More(); it.Next()) {
            nodes_.UnBind(it.Value()); // they are where the kernel put them
        }
    }

    // Whether the picture finds the edge on a triangulation of this shape.
    [[nodiscard]] bool shown(const TopoDS_Shape& edge) const {
        Handle(Poly_PolygonOnTriangulation) polygon;
        Handle(Poly_Triangulation) mesh;
        TopLoc_Location location;
        for (int i = 1;; ++i) {
            BRep_Tool::PolygonOnTriangulation(TopoDS::Edge(edge), polygon, mesh, location, i);
            if (polygon.IsNull() || present_.contains(mesh.get())) {
                return !polygon.IsNull();
            }
        }
    }

    // Nodes that a neighbour has already, or new ones.
    const EdgeNodes& nodes_of(const TopoDS_Shape& shape) {
        if (const EdgeNodes* known = nodes_.Seek(shape)) {
            return *known;
        }
        const TopoDS_Edge edge = TopoDS::Edge(shape.Oriented(TopAbs_FORWARD));
        EdgeNodes nodes;
        Handle(Poly_PolygonOnTriangulation) polygon;
        Handle(Poly_Triangulation) mesh;
        TopLoc_Location location;
        for (int i = 1;; ++i) { // a present neighbour's before that of a face that is gone
            BRep_Tool::PolygonOnTriangulation(edge, polygon, mesh, location, i);
            if (polygon.IsNull()) {
                break;
            }
            const bool present = present_.contains(mesh.get());
            if (nodes.points.empty() || present) {
                nodes = taken_from(*polygon, *mesh, location);
            }
            if (present) {
                break;
            }
        }
        if (nodes.points.empty()) {
            nodes = divided(edge);
        }
        return *nodes_.Bound(shape, nodes);
    }

    static EdgeNodes taken_from(const Poly_PolygonOnTriangulation& polygon, const Poly_Triangulation& mesh,
                                const TopLoc_Location& location) {
        EdgeNodes nodes;
        if (!polygon.HasParameters()) {
            return nodes;
        }
        for (int i = 1; i <= polygon.NbNodes(); ++i) {
            nodes.points.push_back(mesh.Node(polygon.Node(i)).Transformed(location.Transformation()));
            nodes.parameters.push_back(polygon.Parameter(i));
        }
        return nodes;
    }

    [[nodiscard]] EdgeNodes divided(const TopoDS_Edge& edge) const {
        const BRepAdaptor_Curve curve(edge);
        const double first = curve.FirstParameter();
        const double last = curve.LastParameter();
        EdgeNodes nodes;
        const auto evenly = [&](int parts) {
            for (int i = 0; i <= parts; ++i) {
                nodes.parameters.push_back(first + (last - first) * i / parts);
            }
        };
        if (curve.GetType() == GeomAbs_Line) {
            evenly(1);
        } else if (curve.GetType() == GeomAbs_Circle || curve.GetType() == GeomAbs_Ellipse) {
            const double radius =
                curve.GetType() == GeomAbs_Circle ? curve.Circle().Radius() : curve.Ellipse().MajorRadius();
            const double step = std::min(options_.angle, 2 * std::acos(std::max(0.0, 1 - options_.chord / radius)));
            evenly(std::max(last - first > turn - 1e-9 ? 8 : 1,
                            static_cast<int>(std::ceil((last - first) / step - 1e-9))));
        } else {
            const GCPnts_TangentialDeflection sampler(curve, options_.angle, options_.chord, 2);
            for (int i = 1; i <= sampler.NbPoints(); ++i) {
                nodes.parameters.push_back(sampler.Parameter(i));
            }
        }
        for (const double at : nodes.parameters) {
            nodes.points.push_back(curve.Value(at));
        }
        return nodes;
    }

    void store(const TopoDS_Face& face, const Handle(Poly_Triangulation) & mesh) {
        mesh->Deflection(options_.chord);
        builder_.UpdateFace(face, mesh);
        present_.insert(mesh.get());
    }
    static Handle(Poly_PolygonOnTriangulation)
        polygon(const std::vector<int>& nodes, const EdgeNodes& on, double chord) {
        Handle(Poly_PolygonOnTriangulation) made =
            new Poly_PolygonOnTriangulation(static_cast<int>(nodes.size()), Standard_True);
        for (size_t i = 0; i < nodes.size(); ++i) {
            made->SetNode(static_cast<int>(i) + 1, nodes[i] + 1);
            made->SetParameter(static_cast<int>(i) + 1, on.parameters[i]);
        }
        made->Deflection(chord);
        return made;
    }

    bool mesh_spline(const TopoDS_Face& face) {
        const auto made = spline_mesh(face, options_);
        if (!made) {
            return false;
        }
        store(face, made->triangles);
        for (const SplineMesh::Side& side : made->sides) {
            const EdgeNodes on{{}, side.parameters};
            builder_.UpdateEdge(side.edge, polygon(side.nodes, on, options_.chord), made->triangles, face.Location());
        }
        return true;
    }

    // The nodes of an edge around a cylinder.
    struct Row {
        TopoDS_Edge edge;
        const EdgeNodes* on;
        std::vector<gp_Pnt2d> uv; // by ascending u
        bool backward = false;
    };

    // Both rows, the lower one first; false where their nodes do not stand over each other.
    bool rows_of(const TopoDS_Face& face, const std::vector<TopoDS_Edge>& around, const std::vector<TopoDS_Edge>& along,
                 std::array<Row, 2>& rows) {
        for (const size_t i : {0U, 1U}) {
            Row& row = rows[i];
            row.edge = around[i];
            row.on = &nodes_of(around[i]);
            const BRepAdaptor_Curve2d curve(around[i], face);
            for (const double at : row.on->parameters) {
                row.uv.push_back(curve.Value(at));
            }
            row.backward = row.uv.front().X() > row.uv.back().X();
            if (row.backward) {
                std::reverse(row.uv.begin(), row.uv.end());
            }
        }
        if (rows[0].uv.front().Y() > rows[1].uv.front().Y()) {
            std::swap(rows[0], rows[1]);
        }
        const size_t count = rows[0].uv.size();
        if (rows[1].uv.size() != count) {
            return false;
        }
        for (size_t i = 0; i < count; ++i) {
            if (std::fabs(rows[0].uv[i].X() - rows[1].uv[i].X()) > 1e-9) {
                return false;
            }
        }
        for (const TopoDS_Edge& edge : along) {
            if (nodes_of(edge).points.size() != 2) {
                return false;
            }
        }
        return true;
    }

    // A part of a cylinder between two edges around it and two along it, or one that is both: pairs of triangles from
    // one edge to the other. False where it is something else.
    bool mesh_strip(const TopoDS_Face& given) {
        const TopoDS_Face face = TopoDS::Face(given.Oriented(TopAbs_FORWARD));
        std::vector<TopoDS_Edge> around;
        std::vector<TopoDS_Edge> along;
        for (TopExp_Explorer it(face, TopAbs_EDGE); it.More(); it.Next()) {
            const TopoDS_Edge& edge = TopoDS::Edge(it.Current());
            const BRepAdaptor_Curve2d curve(edge, face);
            if (curve.GetType() != GeomAbs_Line) {
                return false;
            }
            const gp_Dir2d way = curve.Line().Direction();
            (std::fabs(way.Y()) < 1e-12 ? around : along).push_back(edge);
            if (std::fabs(way.X()) > 1e-12 && std::fabs(way.Y()) > 1e-12) {
                return false;
            }
        }
        if (around.size() != 2 || along.size() != 2) {
            return false;
        }
        std::array<Row, 2> rows;
        if (!rows_of(face, around, along, rows)) {
            return false;
        }
        const size_t count = rows[0].uv.size();
        const TopLoc_Location location = face.Location();
        const gp_Trsf back = location.Transformation().Inverted();
        const int wide = static_cast<int>(count);
        Handle(Poly_Triangulation) mesh = new Poly_Triangulation(2 * wide, 2 * (wide - 1), Standard_True);
        for (int row = 0; row < 2; ++row) {
            const Row& from = rows[static_cast<size_t>(row)];
            for (int i = 0; i < wide; ++i) {
                const int at = row * wide + i + 1;
                mesh->SetNode(at,
                              from.on->points[static_cast<size_t>(from.backward ? wide - 1 - i : i)].Transformed(back));
                mesh->SetUVNode(at, from.uv[static_cast<size_t>(i)]);
            }
        }
        for (int i = 1; i < wide; ++i) {
            mesh->SetTriangle(2 * i - 1, Poly_Triangle(i, i + 1, wide + i + 1));
            mesh->SetTriangle(2 * i, Poly_Triangle(i, wide + i + 1, wide + i));
        }
        store(face, mesh);
        for (int row = 0; row < 2; ++row) {
            const Row& from = rows[static_cast<size_t>(row)];
            std::vector<int> nodes;
            for (int i = 0; i < wide; ++i) {
                nodes.push_back(row * wide + (from.backward ? wide - 1 - i : i));
            }
            builder_.UpdateEdge(from.edge, polygon(nodes, *from.on, options_.chord), mesh, location);
        }
        // From the lower row to the upper one, or down.
        const auto column = [&](const TopoDS_Edge& edge) {
            const BRepAdaptor_Curve2d curve(edge, face);
            const bool up = curve.Value(curve.FirstParameter()).Y() < curve.Value(curve.LastParameter()).Y();
            const bool left = std::fabs(curve.Value(curve.FirstParameter()).X() - rows[0].uv.front().X()) < 1e-9;
            const int low = left ? 0 : wide - 1;
            return polygon(up ? std::vector{low, wide + low} : std::vector{wide + low, low}, nodes_of(edge),
                           options_.chord);
        };
        if (along[0].IsSame(along[1])) {
            const bool forward = along[0].Orientation() == TopAbs_FORWARD;
            builder_.UpdateEdge(along[0], column(along[forward ? 0 : 1]), column(along[forward ? 1 : 0]), mesh,
                                location);
        } else {
            for (const TopoDS_Edge& edge : along) {
                builder_.UpdateEdge(edge, column(edge), mesh, location);
            }
        }
        return true;
    }

    void mesh_flats(const std::vector<TopoDS_Face>& faces) {
        std::vector<FlatMesh> made(faces.size());
        parallel_for(faces.size(), [&](size_t i) {
            made[i] = mesh_flat(
                faces[i], options_.chord,
                [&](const TopoDS_Shape& edge) {
                    const std::lock_guard lock(guard_);
                    return nodes_of(edge);
                },
                // Edges hold on to every triangulation they are told of; to those of large faces, which change
                // often, only where no other shows them.
                [&, few = faces[i].NbChildren() < many_loops](const TopoDS_Shape& edge) {
                    return few || !shown(edge);
                });
        });
        std::vector<TopoDS_Shape> others;
        for (size_t i = 0; i < faces.size(); ++i) {
            if (made[i].triangles.IsNull()) {
                others.push_back(faces[i]);
                continue;
            }
            store(faces[i], made[i].triangles);
            for (const auto& [edge, nodes] : made[i].edges) {
                builder_.UpdateEdge(TopoDS::Edge(edge), polygon(nodes, nodes_of(edge), options_.chord),
                                    made[i].triangles, faces[i].Location());
            }
        }
        mesh_by_kernel(others);
    }

    const TopoDS_Shape& shape_;
    const TessellationOptions& options_;
    BRep_Builder builder_;
    std::unordered_set<const Poly_Triangulation*> present_;
    std::mutex guard_;
    NCollection_DataMap<TopoDS_Shape, EdgeNodes, TopTools_ShapeMapHasher> nodes_;
};

} // namespace

void tessellate(const TopoDS_Shape& shape, const TessellationOptions& options) {
    Tessellation(shape, options).run();
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
