#include "base/parallel.h"
#include "geom/kernel/space.h"
#include "geom/measure/measure.h"
#include "geom/outline/profile.h"
#include "model/names/elements.h"

#include <NCollection_DataMap.hxx>
#include <Standard_Failure.hxx>
#include <TopTools_IndexedMapOfShape.hxx>
#include <TopTools_OrientedShapeMapHasher.hxx>
#include <TopTools_ShapeMapHasher.hxx>
#include <TopoDS_Iterator.hxx>
#include <spdlog/spdlog.h>

#include <algorithm>

namespace kervo::model {

namespace {

size_t at(int index) {
    return static_cast<size_t>(index);
}

void add_once(std::vector<int>& all, int one) {
    if (std::find(all.begin(), all.end(), one) == all.end()) {
        all.push_back(one);
    }
}

} // namespace

// What hangs on a face or an edge alone, and takes the kernel its time.
struct ElementMaker::Known {
    struct FacePart {
        Point3 center;
        geom::Look look;
        std::optional<Frame3> plane;
    };
    struct EdgePart {
        Point3 center;
        geom::Look look;
        std::array<Vector3, 2> out;
        bool degenerate = false;
        TopoDS_Shape sides[2]; ///< the faces for which `smooth` was worked out
        bool smooth = false;
    };
    using Faces = NCollection_DataMap<TopoDS_Shape, FacePart, TopTools_OrientedShapeMapHasher>;
    using Edges = NCollection_DataMap<TopoDS_Shape, EdgePart, TopTools_ShapeMapHasher>;
    Faces faces;
    Edges edges;
};

namespace {

// Of each shape what is known, else what `work` makes of it, several at once. Where the kernel fails it stays as it is
// begun: a picture is no proof.
template <class Part, class Map, class Work>
std::vector<Part> parts_of(const std::vector<TopoDS_Shape>& shapes, const Map& known, const Work& work) {
    std::vector<Part> parts(shapes.size());
    std::vector<size_t> unknown;
    for (size_t i = 0; i < shapes.size(); ++i) {
        if (const Part* part = known.Seek(shapes[i])) {
            parts[i] = *part;
        } else {
            unknown.push_back(i);
        }
    }
    parallel_for(unknown.size(), [&](size_t k) {
        try {
            work(shapes[unknown[k]], parts[unknown[k]]);
        } catch (const Standard_Failure& failure) {
            spdlog::warn("an element is not looked at: {}", failure.GetMessageString());
        }
    });
    return parts;
}

template <class FacePart> void look_at_face(const TopoDS_Shape& face, FacePart& part) {
    part.center = geom::plain(geom::center_of(face));
    part.look = geom::look_of_face(face);
    if (const auto plane = geom::plane_of(face)) {
        part.plane = geom::plain(geom::frame_on_plane(*plane));
    }
}

template <class EdgePart> void look_at_edge(const TopoDS_Shape& edge, EdgePart& part) {
    part.degenerate = geom::is_degenerate(edge);
    part.center = geom::plain(geom::center_of(edge));
    if (!part.degenerate) {
        part.look = geom::look_of_edge(edge);
        part.out = geom::ways_out(edge);
    }
}

// Which elements lie on which, by their places in the order of the body.
void add_neighbours(Elements& elements, const std::vector<TopoDS_Shape>& faces, const std::vector<TopoDS_Shape>& edges,
                    const std::vector<TopoDS_Shape>& vertices) {
    TopTools_IndexedMapOfShape edge_index(static_cast<int>(edges.size()) + 1);
    TopTools_IndexedMapOfShape vertex_index(static_cast<int>(vertices.size()) + 1);
    for (const TopoDS_Shape& edge : edges) {
        edge_index.Add(edge);
    }
    for (const TopoDS_Shape& vertex : vertices) {
        vertex_index.Add(vertex);
    }
    for (int i = 0; i < static_cast<int>(edges.size()); ++i) {
        Elements::Edge& edge = elements.edges[at(i)];
        for (const TopoDS_Shape& vertex : geom::ends_of(edges[at(i)])) {
            if (!vertex.IsNull()) {
                add_once(edge.vertices, vertex_index.FindIndex(vertex) - 1);
            }
        }
        for (const int vertex : edge.vertices) {
            elements.vertices[at(vertex)].edges.push_back(i);
        }
    }
    for (int i = 0; i < static_cast<int>(faces.size()); ++i) {
        std::vector<int>& own = elements.faces[at(i)].edges;
        for (TopoDS_Iterator wire(faces[at(i)], Standard_False); wire.More(); wire.Next()) {
            for (TopoDS_Iterator edge(wire.Value(), Standard_False); edge.More(); edge.Next()) {
                if (const int index = edge_index.FindIndex(edge.Value()) - 1; index >= 0) {
                    Elements::Edge& here = elements.edges[at(index)];
                    if (!here.faces.empty() && here.faces.back() == i) {
                        here.seen = false; // a seam
                        continue;
                    }
                    here.faces.push_back(i);
                    own.push_back(index);
                }
            }
        }
    }
    for (Elements::Vertex& vertex : elements.vertices) {
        for (const int edge : vertex.edges) {
            const auto& around = elements.edges[at(edge)].faces;
            vertex.faces.insert(vertex.faces.end(), around.begin(), around.end());
        }
        std::sort(vertex.faces.begin(), vertex.faces.end());
        vertex.faces.erase(std::unique(vertex.faces.begin(), vertex.faces.end()), vertex.faces.end());
    }
}

std::vector<std::vector<int>> lumps_of(const TopoDS_Shape& shape, const std::vector<TopoDS_Shape>& faces) {
    const auto solids = geom::solids_of(shape);
    std::vector<std::vector<int>> lumps(solids.size());
    if (solids.size() == 1) {
        for (int i = 0; i < static_cast<int>(faces.size()); ++i) {
            lumps.front().push_back(i);
        }
        return lumps;
    }
    TopTools_IndexedMapOfShape index;
    for (const TopoDS_Shape& face : faces) {
        index.Add(face);
    }
    for (size_t k = 0; k < solids.size(); ++k) {
        for (const TopoDS_Shape& face : geom::faces_of(solids[k])) {
            lumps[k].push_back(index.FindIndex(face) - 1);
        }
    }
    return lumps;
}

} // namespace

ElementMaker::ElementMaker() : known_(std::make_unique<Known>()) {}
ElementMaker::~ElementMaker() = default;

ElementsPtr ElementMaker::elements_of(const Body& body) {
    auto elements = std::make_shared<Elements>();
    const auto faces = geom::faces_of(body.shape);
    const auto edges = geom::edges_of(body.shape);
    const auto vertices = geom::vertices_of(body.shape);
    elements->faces.resize(faces.size());
    elements->edges.resize(edges.size());
    elements->vertices.resize(vertices.size());
    add_neighbours(*elements, faces, edges, vertices);
    elements->lumps = lumps_of(body.shape, faces);

    const auto face_parts = parts_of<Known::FacePart>(
        faces, known_->faces, [](const TopoDS_Shape& face, Known::FacePart& part) { look_at_face(face, part); });
    for (size_t i = 0; i < faces.size(); ++i) {
        Elements::Face& face = elements->faces[i];
        if (const FaceName* name = body.names.Seek(faces[i])) {
            face.name = *name;
        }
        face.center = face_parts[i].center;
        face.look = face_parts[i].look;
        face.plane = face_parts[i].plane;
        known_->faces.Bind(faces[i], face_parts[i]);
    }
    auto edge_parts = parts_of<Known::EdgePart>(
        edges, known_->edges, [](const TopoDS_Shape& edge, Known::EdgePart& part) { look_at_edge(edge, part); });
    parallel_for(edges.size(), [&](size_t i) {
        const auto& beside = elements->edges[i].faces;
        Known::EdgePart& part = edge_parts[i];
        if (beside.size() != 2 || !elements->edges[i].seen || part.degenerate) {
            part.smooth = false;
            return;
        }
        const TopoDS_Shape sides[2] = {faces[at(beside[0])], faces[at(beside[1])]};
        if (part.sides[0].IsNull() || !part.sides[0].IsSame(sides[0]) || !part.sides[1].IsSame(sides[1])) {
            part.smooth = geom::is_smooth(edges[i], sides[0], sides[1]);
            part.sides[0] = sides[0];
            part.sides[1] = sides[1];
        }
    });
    for (size_t i = 0; i < edges.size(); ++i) {
        Elements::Edge& edge = elements->edges[i];
        if (const FaceName* name = edge.faces.size() < 2 ? body.names.Seek(edges[i]) : nullptr) {
            edge.name = name->text();
        }
        edge.center = edge_parts[i].center;
        edge.look = edge_parts[i].look;
        edge.out = edge_parts[i].out;
        edge.seen = edge.seen && !edge_parts[i].degenerate;
        edge.smooth = edge_parts[i].smooth;
        known_->edges.Bind(edges[i], edge_parts[i]);
    }
    for (size_t i = 0; i < vertices.size(); ++i) {
        elements->vertices[i].place = geom::plain(geom::center_of(vertices[i]));
    }
    return elements;
}

void ElementMaker::forget_beyond(size_t most) {
    if (static_cast<size_t>(known_->faces.Extent()) + static_cast<size_t>(known_->edges.Extent()) > most) {
        known_->faces.Clear();
        known_->edges.Clear();
    }
}

std::vector<TopoDS_Shape> shapes_of(const Body& body, ElementKind kind) {
    switch (kind) {
    case ElementKind::face:
        return geom::faces_of(body.shape);
    case ElementKind::edge:
        return geom::edges_of(body.shape);
    case ElementKind::vertex:
        return geom::vertices_of(body.shape);
    case ElementKind::body:
        break;
    }
    return {body.shape};
}

std::optional<Element> element_of(const Body& body, const TopoDS_Shape& element) {
    const ElementKind kind = element.ShapeType() == TopAbs_FACE     ? ElementKind::face
                             : element.ShapeType() == TopAbs_EDGE   ? ElementKind::edge
                             : element.ShapeType() == TopAbs_VERTEX ? ElementKind::vertex
                                                                    : ElementKind::body;
    const auto all = shapes_of(body, kind);
    const auto same =
        std::find_if(all.begin(), all.end(), [&](const TopoDS_Shape& each) { return each.IsSame(element); });
    return same == all.end() ? std::nullopt : std::optional(Element{kind, static_cast<int>(same - all.begin())});
}

TopoDS_Shape shape_of(const Body& body, const Element& element) {
    const auto all = shapes_of(body, element.kind);
    return element.index >= 0 && at(element.index) < all.size() ? all[at(element.index)] : TopoDS_Shape();
}

} // namespace kervo::model
