#include "scene/shown_body.h"

#include "base/parallel.h"
#include "geom/kernel/space.h"
#include "geom/measure/measure.h"
#include "geom/surface/borders.h"
#include "geom/view/tessellate.h"
#include "scene/drawn.h"
#include "scene/preview.h"

#include <BRep_Builder.hxx>
#include <BRep_Tool.hxx>
#include <Poly_PolygonOnTriangulation.hxx>
#include <Poly_Triangulation.hxx>
#include <Standard_Failure.hxx>
#include <StdPrs_ShadedShape.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Compound.hxx>

#include <algorithm>

namespace kervo::scene {

ShownBlade shown(const geom::Blade& blade) {
    ShownBlade plain{geom::plain(blade.frame), blade.front, blade.back, {}};
    for (const TopoDS_Shape& face : blade.window) {
        for (Polyline3& line : lines_of(face, 0.1)) {
            plain.window.push_back(std::move(line));
        }
    }
    return plain;
}

std::vector<model::BodyId> ids_of(const ShownBodies& bodies) {
    std::vector<model::BodyId> ids;
    std::transform(bodies.begin(), bodies.end(), std::back_inserter(ids), [](const auto& each) { return each.first; });
    return ids;
}

ShownBodyPtr find_body(const ShownBodies& bodies, const model::BodyId& id) {
    const auto found = std::find_if(bodies.begin(), bodies.end(), [&](const auto& each) { return each.first == id; });
    return found == bodies.end() ? nullptr : found->second;
}

// --- Plain numbers --------------------------------------------------------------------------------------------------

namespace {

void add_face(Mesh& mesh, const TopoDS_Face& face) {
    TopLoc_Location location;
    const Handle(Poly_Triangulation) found = BRep_Tool::Triangulation(face, location);
    const auto first = static_cast<uint32_t>(mesh.triangles.size());
    if (!found.IsNull()) {
        const gp_Trsf& place = location.Transformation();
        const auto base = static_cast<uint32_t>(mesh.nodes.size()) - 1; // the kernel counts from 1
        for (int i = 1; i <= found->NbNodes(); ++i) {
            mesh.nodes.push_back(geom::plain(found->Node(i).Transformed(place)));
            mesh.box.add(mesh.nodes.back());
        }
        const bool reversed = face.Orientation() == TopAbs_REVERSED;
        for (int i = 1; i <= found->NbTriangles(); ++i) {
            int a = 0;
            int b = 0;
            int c = 0;
            found->Triangle(i).Get(a, b, c);
            if (reversed) {
                std::swap(b, c);
            }
            mesh.triangles.push_back(
                {base + static_cast<uint32_t>(a), base + static_cast<uint32_t>(b), base + static_cast<uint32_t>(c)});
        }
    }
    mesh.faces.push_back({first, static_cast<uint32_t>(mesh.triangles.size())});
}

// By the nodes that the triangles beside have on it; of one that bounds no face, or none that has any, by its curve.
Polyline3 line_of(const TopoDS_Edge& edge, const TopoDS_Face* beside, double deflection) {
    Polyline3 line;
    if (beside != nullptr) {
        TopLoc_Location place;
        const Handle(Poly_Triangulation) triangles = BRep_Tool::Triangulation(*beside, place);
        const Handle(Poly_PolygonOnTriangulation) nodes =
            triangles.IsNull() ? Handle(Poly_PolygonOnTriangulation)()
                               : BRep_Tool::PolygonOnTriangulation(edge, triangles, place);
        for (int k = 1; !nodes.IsNull() && k <= nodes->NbNodes(); ++k) {
            line.push_back(geom::plain(triangles->Node(nodes->Node(k)).Transformed(place)));
        }
    }
    if (line.empty()) {
        for (const gp_Pnt& p : geom::polyline_of(edge, deflection)) {
            line.push_back(geom::plain(p));
        }
    }
    return line;
}

} // namespace

std::shared_ptr<const Mesh> mesh_of(const TopoDS_Shape& shape, double deflection, const model::Elements* elements) {
    auto mesh = std::make_shared<Mesh>();
    const auto faces = geom::faces_of(shape);
    for (const TopoDS_Shape& face : faces) {
        add_face(*mesh, TopoDS::Face(face));
    }
    const auto edges = elements == nullptr ? std::vector<TopoDS_Shape>() : geom::edges_of(shape);
    for (size_t i = 0; i < edges.size(); ++i) {
        const model::Elements::Edge& edge = elements->edges[i];
        const TopoDS_Face* beside =
            edge.faces.empty() ? nullptr : &TopoDS::Face(faces[static_cast<size_t>(edge.faces.front())]);
        mesh->edges.push_back(edge.seen ? line_of(TopoDS::Edge(edges[i]), beside, deflection) : Polyline3());
        for (const Point3& p : mesh->edges.back()) {
            mesh->box.add(p);
        }
    }
    for (const auto& vertex : elements == nullptr ? std::vector<model::Elements::Vertex>() : elements->vertices) {
        mesh->vertices.push_back(vertex.place);
        mesh->box.add(vertex.place);
    }
    return mesh;
}

// --- For the graphics card ------------------------------------------------------------------------------------------

Handle(Graphic3d_ArrayOfSegments) segments_of(const std::vector<const Polyline3*>& lines) {
    size_t ends = 0;
    for (const Polyline3* line : lines) {
        ends += line->size() < 2 ? 0 : 2 * (line->size() - 1);
    }
    if (ends == 0) {
        return {};
    }
    Handle(Graphic3d_ArrayOfSegments) array = new Graphic3d_ArrayOfSegments(static_cast<int>(ends));
    for (const Polyline3* line : lines) {
        for (size_t i = 1; i < line->size(); ++i) {
            array->AddVertex(geom::exact((*line)[i - 1]));
            array->AddVertex(geom::exact((*line)[i]));
        }
    }
    return array;
}

Handle(Graphic3d_ArrayOfTriangles) triangles_of(const Mesh& mesh, const Mesh::Range& range) {
    if (range.first == range.last) {
        return {};
    }
    Handle(Graphic3d_ArrayOfTriangles) array =
        new Graphic3d_ArrayOfTriangles(static_cast<int>(3 * (range.last - range.first)));
    for (uint32_t i = range.first; i < range.last; ++i) {
        for (const uint32_t node : mesh.triangles[i]) {
            array->AddVertex(geom::exact(mesh.nodes[node]));
        }
    }
    return array;
}

namespace {

bool nothing_is_open(const TopoDS_Shape& shape) {
    const BRep_Builder builder;
    TopoDS_Compound closed;
    TopoDS_Compound open;
    builder.MakeCompound(closed);
    builder.MakeCompound(open);
    StdPrs_ShadedShape::ExploreSolids(shape, builder, closed, open, Standard_True);
    return open.NbChildren() == 0;
}

void add_triangles(Drawn& drawn, const model::Body& body) {
    std::map<model::BodyId, std::vector<TopoDS_Shape>> by_owner;
    for (const TopoDS_Shape& face : geom::faces_of(body.shape)) {
        const model::FaceName* name = body.names.Seek(face);
        by_owner[name != nullptr ? name->owner : model::BodyId()].push_back(face);
    }
    for (const auto& [owner, faces] : by_owner) {
        const auto triangles =
            StdPrs_ShadedShape::FillTriangles(by_owner.size() == 1 ? body.shape : geom::gather(faces));
        if (owner.empty()) {
            drawn.triangles = triangles;
        } else {
            drawn.foreign.emplace_back(owner, triangles);
        }
    }
    drawn.closed = nothing_is_open(body.shape);
}

void add_edges(Drawn& drawn, const Mesh& mesh, const model::Elements& elements) {
    std::vector<const Polyline3*> sharp;
    std::vector<const Polyline3*> smooth;
    std::vector<const Polyline3*> free;
    const bool encloses = !elements.lumps.empty();
    for (size_t i = 0; i < mesh.edges.size(); ++i) {
        const model::Elements::Edge& edge = elements.edges[i];
        (!encloses && edge.faces.size() == 1 ? free : edge.smooth ? smooth : sharp).push_back(&mesh.edges[i]);
    }
    drawn.edges = segments_of(sharp);
    drawn.smooth = segments_of(smooth);
    drawn.free = segments_of(free);
}

} // namespace

// --- All of it ------------------------------------------------------------------------------------------------------

namespace {

std::shared_ptr<ShownBody> nothing_of(const model::Body& body, const std::string& cause) {
    auto nothing = std::make_shared<ShownBody>();
    nothing->elements = std::make_shared<model::Elements>();
    nothing->mesh = std::make_shared<Mesh>();
    nothing->tree = std::make_unique<PickTree>(nothing->mesh);
    nothing->drawn = std::make_shared<Drawn>();
    if (body.blade) {
        nothing->blade = ShownBlade{geom::plain(body.blade->frame), body.blade->front, body.blade->back, {}};
    }
    nothing->failed = cause;
    return nothing;
}

} // namespace

void BodyShower::look_at(const model::Body& body, ShownBody& fresh) {
    const double chord = std::max(size_of(body) * 5e-4, 1e-4);
    geom::tessellate(body.shape, {chord, 0.2});
    const auto drawn = std::make_shared<Drawn>();
    both_at_once(
        [&] {
            fresh.elements = elements_.elements_of(body);
            fresh.mesh = mesh_of(body.shape, chord, fresh.elements.get());
            add_edges(*drawn, *fresh.mesh, *fresh.elements);
        },
        [&] { add_triangles(*drawn, body); });
    fresh.tree = std::make_unique<PickTree>(fresh.mesh);
    fresh.drawn = drawn;
    fresh.curvature = std::make_shared<Curvature>(drawn);
    fresh.substance = !fresh.elements->lumps.empty()   ? Substance::solid
                      : !fresh.elements->faces.empty() ? Substance::surface
                                                       : Substance::curves;
    if (body.blade) {
        fresh.blade = shown(*body.blade);
    } else if (fresh.substance == Substance::surface) {
        fresh.borders = static_cast<int>(geom::free_borders(body.shape).size());
    }
    fresh.volume = model::volume_of(body);
    fresh.box = geom::plain(geom::bounds_of(body.shape));
}

void BodyShower::show(const std::vector<model::BodyPtr>& bodies) {
    std::map<model::BodyPtr, ShownBodyPtr> all;
    for (const model::BodyPtr& body : bodies) {
        if (all.contains(body)) {
            continue;
        }
        if (const auto same = known_.find(body); same != known_.end()) {
            all.insert(*same);
            continue;
        }
        auto fresh = std::make_shared<ShownBody>();
        try {
            look_at(*body, *fresh);
        } catch (const Standard_Failure& failure) {
            fresh = nothing_of(*body, failure.GetMessageString());
        } catch (const std::exception& failure) {
            fresh = nothing_of(*body, failure.what());
        }
        all[body] = std::move(fresh);
    }
    known_ = std::move(all);
    size_t elements = 0;
    for (const auto& [body, shown] : known_) {
        elements += shown->elements->faces.size() + shown->elements->edges.size();
    }
    elements_.forget_beyond(4 * elements + 10000);
}

ShownBodies BodyShower::operator()(const Bodies& bodies) const {
    ShownBodies shown;
    for (const auto& [id, body] : bodies) {
        shown.emplace_back(id, known_.at(body));
    }
    return shown;
}

} // namespace kervo::scene
