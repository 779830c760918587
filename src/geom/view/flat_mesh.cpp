#include <CGAL/Constrained_Delaunay_triangulation_2.h>
#include <CGAL/Exact_predicates_inexact_constructions_kernel.h>
#include <CGAL/Spatial_sort_traits_adapter_2.h>
#include <CGAL/Triangulation_face_base_with_info_2.h>
#include <CGAL/Triangulation_vertex_base_with_info_2.h>
#include <CGAL/property_map.h>
#include <CGAL/spatial_sort.h>

#include "geom/view/flat_mesh.h"

#include <BRep_Tool.hxx>
#include <Geom_Plane.hxx>
#include <NCollection_DataMap.hxx>
#include <TopTools_MapOfShape.hxx>
#include <TopTools_ShapeMapHasher.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Edge.hxx>
#include <TopoDS_Iterator.hxx>

#include <algorithm>
#include <list>
#include <memory>
#include <mutex>
#include <optional>

namespace kervo::geom {

namespace {

struct FaceMark {
    bool outside = false;
};
using Kernel = CGAL::Exact_predicates_inexact_constructions_kernel;
using VertexBase = CGAL::Triangulation_vertex_base_with_info_2<int, Kernel>;
using FaceBase =
    CGAL::Triangulation_face_base_with_info_2<FaceMark, Kernel, CGAL::Constrained_triangulation_face_base_2<Kernel>>;
using Triangulation =
    CGAL::Constrained_Delaunay_triangulation_2<Kernel, CGAL::Triangulation_data_structure_2<VertexBase, FaceBase>,
                                               CGAL::No_constraint_intersection_tag>;

class FlatTriangulation {
public:
    FlatTriangulation(const gp_Ax3& axes, double chord) : axes_(axes), chord_(chord) {}

    // Adds the loops of the face that it does not have. False where chords cross, or a loop lies where it must not.
    bool add_loops(const TopoDS_Face& face, const NodesOf& nodes_of) {
        std::vector<Segment> fresh;
        std::vector<std::pair<Kernel::Point_2, int>> places;
        const size_t before = points_.size();
        for (TopoDS_Iterator it(face.Oriented(TopAbs_FORWARD)); it.More(); it.Next()) {
            if (loops_.Add(it.Value())) {
                for (TopoDS_Iterator edge(it.Value()); edge.More(); edge.Next()) {
                    add_edge(edge.Value(), nodes_of, fresh);
                }
            }
        }
        for (size_t i = before; i < points_.size(); ++i) {
            const gp_XYZ from = points_[i].XYZ() - axes_.Location().XYZ();
            places.emplace_back(Kernel::Point_2(from * axes_.XDirection().XYZ(), from * axes_.YDirection().XYZ()),
                                static_cast<int>(i));
        }
        using Place = std::pair<Kernel::Point_2, int>;
        using Traits = CGAL::Spatial_sort_traits_adapter_2<Kernel, CGAL::First_of_pair_property_map<Place>>;
        CGAL::spatial_sort(places.begin(), places.end(), Traits());
        handles_.resize(points_.size());
        Triangulation::Face_handle hint;
        for (const auto& [place, node] : places) {
            const auto handle = mesh_.insert(place, hint);
            handle->info() = node;
            handles_[static_cast<size_t>(node)] = handle;
            hint = handle->face();
        }
        try {
            for (const Segment& segment : fresh) {
                mesh_.insert_constraint(handle(segment.from), handle(segment.to));
            }
        } catch (const Triangulation::Intersection_of_constraints_exception&) {
            return false;
        }
        return mark(fresh, before == 0);
    }

    [[nodiscard]] Handle(Poly_Triangulation) triangles(const TopLoc_Location& location) const {
        std::vector<Poly_Triangle> inside;
        inside.reserve(mesh_.number_of_faces());
        for (auto face = mesh_.finite_faces_begin(); face != mesh_.finite_faces_end(); ++face) {
            if (!face->info().outside) {
                inside.emplace_back(face->vertex(0)->info() + 1, face->vertex(1)->info() + 1,
                                    face->vertex(2)->info() + 1);
            }
        }
        Handle(Poly_Triangulation) made =
            new Poly_Triangulation(static_cast<int>(points_.size()), static_cast<int>(inside.size()), Standard_False);
        const bool moved = !location.IsIdentity();
        const gp_Trsf back = moved ? location.Transformation().Inverted() : gp_Trsf();
        for (size_t i = 0; i < points_.size(); ++i) {
            made->SetNode(static_cast<int>(i) + 1, moved ? points_[i].Transformed(back) : points_[i]);
        }
        for (size_t i = 0; i < inside.size(); ++i) {
            made->SetTriangle(static_cast<int>(i) + 1, inside[i]);
        }
        return made;
    }

    [[nodiscard]] const std::vector<int>* nodes(const TopoDS_Shape& edge) const { return edges_.Seek(edge); }

    // Whether the face is this one, as fine, with some loops more.
    [[nodiscard]] bool goes_on_to(const TopoDS_Face& face, double chord) const {
        if (!as_fine(chord_, chord)) {
            return false;
        }
        int known = 0;
        for (TopoDS_Iterator it(face); it.More(); it.Next()) {
            known += loops_.Contains(it.Value()) ? 1 : 0;
        }
        return known == loops_.Extent();
    }
    [[nodiscard]] int loops() const { return loops_.Extent(); }

private:
    struct Segment { // with the material to its left, or on both sides
        int from = 0, to = 0;
        bool border = true;
    };

    void add_edge(const TopoDS_Shape& edge, const NodesOf& nodes_of, std::vector<Segment>& fresh) {
        if (BRep_Tool::Degenerated(TopoDS::Edge(edge))) {
            return;
        }
        const EdgeNodes on = nodes_of(edge);
        std::vector<int> nodes;
        for (size_t i = 0; i < on.points.size(); ++i) {
            const bool first = i == 0;
            if (first || i + 1 == on.points.size()) {
                nodes.push_back(vertex(TopoDS::Edge(edge.Oriented(TopAbs_FORWARD)), first, on.points[i]));
            } else {
                nodes.push_back(static_cast<int>(points_.size()));
                points_.push_back(on.points[i]);
            }
        }
        const bool forward = edge.Orientation() != TopAbs_REVERSED;
        const bool border = edge.Orientation() == TopAbs_FORWARD || edge.Orientation() == TopAbs_REVERSED;
        for (size_t i = 0; i + 1 < nodes.size(); ++i) {
            fresh.push_back(forward ? Segment{nodes[i], nodes[i + 1], border}
                                    : Segment{nodes[i + 1], nodes[i], border});
        }
        edges_.Bind(edge, nodes);
    }

    int vertex(const TopoDS_Edge& edge, bool first, const gp_Pnt& place) {
        for (TopoDS_Iterator it(edge); it.More(); it.Next()) {
            if (it.Value().Orientation() == (first ? TopAbs_FORWARD : TopAbs_REVERSED)) {
                int* known = vertices_.ChangeSeek(it.Value());
                if (known == nullptr) {
                    known = vertices_.Bound(it.Value(), static_cast<int>(points_.size()));
                    points_.push_back(place);
                }
                return *known;
            }
        }
        points_.push_back(place);
        return static_cast<int>(points_.size()) - 1;
    }

    [[nodiscard]] Triangulation::Vertex_handle handle(int node) const { return handles_[static_cast<size_t>(node)]; }

    // What lies to the right of a border, as far as the next one, is outside.
    bool mark(const std::vector<Segment>& fresh, bool all) {
        struct Sides {
            Triangulation::Face_handle left, right;
        };
        std::vector<Sides> sides;
        std::vector<Triangulation::Face_handle> flood;
        if (all) {
            flood.push_back(mesh_.infinite_face());
        }
        for (const Segment& segment : fresh) {
            if (!segment.border || handle(segment.from) == handle(segment.to)) {
                continue;
            }
            Triangulation::Face_handle face;
            int index = 0;
            if (!mesh_.is_edge(handle(segment.from), handle(segment.to), face, index)) {
                return false; // a node of another loop lies on the chord
            }
            // Seen from this face the edge runs from its ccw to its cw neighbour.
            const bool left = face->vertex(mesh_.ccw(index)) == handle(segment.from);
            const auto other = face->neighbor(index);
            sides.push_back(left ? Sides{face, other} : Sides{other, face});
            flood.push_back(sides.back().right);
        }
        while (!flood.empty()) {
            const auto face = flood.back();
            flood.pop_back();
            if (face->info().outside) {
                continue;
            }
            face->info().outside = true;
            for (int i = 0; i < 3; ++i) {
                if (!face->is_constrained(i) && !face->neighbor(i)->info().outside) {
                    flood.push_back(face->neighbor(i));
                }
            }
        }
        return std::all_of(sides.begin(), sides.end(), [](const Sides& side) { return !side.left->info().outside; });
    }

    gp_Ax3 axes_;
    double chord_;
    Triangulation mesh_;
    std::vector<gp_Pnt> points_;
    std::vector<Triangulation::Vertex_handle> handles_;
    TopTools_MapOfShape loops_;
    NCollection_DataMap<TopoDS_Shape, int, TopTools_ShapeMapHasher> vertices_;
    NCollection_DataMap<TopoDS_Shape, std::vector<int>, TopTools_ShapeMapHasher> edges_;
};

// The last few triangulations of faces with many loops. One that is taken is gone: whoever takes it goes on with it.
class Kept {
public:
    std::unique_ptr<FlatTriangulation> take(const TopoDS_Face& face, double chord) {
        const std::lock_guard lock(guard_);
        for (auto it = kept_.begin(); it != kept_.end(); ++it) {
            if ((*it)->goes_on_to(face, chord)) {
                auto found = std::move(*it);
                kept_.erase(it);
                return found;
            }
        }
        return nullptr;
    }
    void keep(std::unique_ptr<FlatTriangulation> mesh) {
        if (mesh->loops() < many_loops) {
            return;
        }
        const std::lock_guard lock(guard_);
        kept_.push_front(std::move(mesh));
        if (kept_.size() > most) {
            kept_.pop_back();
        }
    }

private:
    static constexpr size_t most = 6;
    std::mutex guard_;
    std::list<std::unique_ptr<FlatTriangulation>> kept_;
};

Kept& kept() {
    static Kept all;
    return all;
}

} // namespace

FlatMesh mesh_flat(const TopoDS_Face& face, double chord, const NodesOf& nodes_of,
                   const std::function<bool(const TopoDS_Shape& edge)>& wanted) {
    FlatMesh result;
    TopLoc_Location location;
    const auto plane = Handle(Geom_Plane)::DownCast(BRep_Tool::Surface(face, location));
    if (plane.IsNull()) {
        return result;
    }
    auto mesh = face.NbChildren() >= many_loops ? kept().take(face, chord) : nullptr;
    if (!mesh) {
        gp_Ax3 axes = plane->Position();
        axes.Transform(location.Transformation());
        mesh = std::make_unique<FlatTriangulation>(axes, chord);
    }
    if (!mesh->add_loops(face, nodes_of)) {
        return result;
    }
    result.triangles = mesh->triangles(face.Location());
    for (TopoDS_Iterator it(face); it.More(); it.Next()) {
        for (TopoDS_Iterator edge(it.Value()); edge.More(); edge.Next()) {
            if (const auto* nodes = mesh->nodes(edge.Value()); nodes != nullptr && wanted(edge.Value())) {
                result.edges.emplace_back(edge.Value(), *nodes);
            }
        }
    }
    kept().keep(std::move(mesh));
    return result;
}

} // namespace kervo::geom
