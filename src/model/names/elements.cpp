#include "model/names/elements.h"

#include "geom/kernel/space.h"
#include "geom/measure/measure.h"
#include "geom/outline/profile.h"
#include "model/names/words.h"

#include <NCollection_DataMap.hxx>
#include <Standard_Failure.hxx>
#include <TopTools_IndexedMapOfShape.hxx>
#include <TopTools_OrientedShapeMapHasher.hxx>
#include <TopTools_ShapeMapHasher.hxx>
#include <TopoDS_Iterator.hxx>
#include <spdlog/spdlog.h>
#include <tbb/parallel_for.h>

#include <algorithm>
#include <cmath>
#include <set>

namespace kervo::model {

namespace {

constexpr double same_radius = 1e-6; // mm
constexpr double same_way = 1e-4;    // rad

size_t at(int index) {
    return static_cast<size_t>(index);
}

void add_once(std::vector<int>& all, int one) {
    if (std::find(all.begin(), all.end(), one) == all.end()) {
        all.push_back(one);
    }
}

bool are_opposite(const Vector3& a, const Vector3& b) {
    return a.length() > 0 && b.length() > 0 && std::atan2(a.cross(b).length(), -a.dot(b)) <= same_way;
}

} // namespace

// --- What is asked --------------------------------------------------------------------------------------------------

size_t Elements::count(ElementKind kind) const {
    switch (kind) {
    case ElementKind::face:
        return faces.size();
    case ElementKind::edge:
        return edges.size();
    case ElementKind::vertex:
        return vertices.size();
    case ElementKind::body:
        break;
    }
    return 1;
}

Point3 Elements::center(const Element& element) const {
    switch (element.kind) {
    case ElementKind::face:
        return faces[at(element.index)].center;
    case ElementKind::edge:
        return edges[at(element.index)].center;
    case ElementKind::vertex:
        return vertices[at(element.index)].place;
    case ElementKind::body:
        break;
    }
    return {};
}

std::string Elements::Name::key() const {
    std::string key;
    for (const auto* texts : {&faces, &ends}) {
        for (const std::string& text : *texts) {
            key += text + '\n';
        }
        key += '\n';
    }
    return key;
}

std::vector<std::string> Elements::texts_of(const std::vector<int>& of) const {
    std::vector<std::string> texts;
    for (const int face : of) {
        texts.push_back(faces[at(face)].name.text());
    }
    std::sort(texts.begin(), texts.end());
    return texts;
}

Elements::Name Elements::name_of(const Element& element) const {
    if (element.kind == ElementKind::face) {
        return {{faces[at(element.index)].name.text()}, {}};
    }
    if (element.kind == ElementKind::vertex) {
        return {texts_of(vertices[at(element.index)].faces), {}};
    }
    const Edge& edge = edges[at(element.index)];
    if (!edge.name.empty()) {
        return {{edge.name}, {}};
    }
    Name name{texts_of(edge.faces), {}};
    std::set<std::string> beside;
    for (const int vertex : edge.vertices) {
        for (const std::string& face : texts_of(vertices[at(vertex)].faces)) {
            if (std::find(name.faces.begin(), name.faces.end(), face) == name.faces.end()) {
                beside.insert(face);
            }
        }
    }
    name.ends = {beside.begin(), beside.end()};
    return name;
}

const std::unordered_map<std::string, std::vector<int>>& Elements::by_name(ElementKind kind) const {
    const auto which = static_cast<size_t>(kind);
    std::call_once(once_[which], [&] {
        for (int i = 0; i < static_cast<int>(count(kind)); ++i) {
            by_name_[which][name_of({kind, i}).key()].push_back(i);
        }
    });
    return by_name_[which];
}

bool Elements::has_twin(const Element& element, const std::vector<int>& of_its_name) const {
    const auto faces_at = [&](int index) -> const std::vector<int>& {
        return element.kind == ElementKind::edge ? edges[at(index)].faces : vertices[at(index)].faces;
    };
    // Faces of one name are a matter of their own: another element counts where it lies on the same ones.
    return element.kind != ElementKind::face && std::any_of(of_its_name.begin(), of_its_name.end(), [&](int other) {
               const auto& own = faces_at(element.index);
               const auto& its = faces_at(other);
               return other != element.index &&
                      std::find_first_of(own.begin(), own.end(), its.begin(), its.end()) != own.end();
           });
}

Reference Elements::reference(const BodyId& body, const Element& element) const {
    Reference reference = whole(body);
    if (element.kind == ElementKind::body) {
        return reference;
    }
    Name name = name_of(element);
    const bool twin = has_twin(element, by_name(element.kind).at(name.key()));
    reference.kind = element.kind;
    reference.near = center(element).array();
    reference.faces = std::move(name.faces);
    reference.ends = std::move(name.ends);
    if (twin) {
        reference.ends.push_back(has_a_twin);
    }
    return reference;
}

std::optional<Element> Elements::find(const Reference& reference) const {
    if (reference.kind == ElementKind::body) {
        return Element{};
    }
    Name name{reference.faces, reference.ends};
    std::erase(name.ends, has_a_twin);
    const auto& known = by_name(reference.kind);
    const auto same = known.find(name.key());
    if (same == known.end()) {
        return std::nullopt;
    }
    if (same->second.size() == 1) {
        return Element{reference.kind, same->second.front()};
    }
    for (const int index : same->second) {
        const Element element{reference.kind, index};
        if (reference.near && (center(element) - Point3(*reference.near)).length() < same_place) {
            return element;
        }
    }
    return std::nullopt;
}

template <class Next> std::vector<int> Elements::reached(int from, const Next& next) {
    std::vector<int> all{from};
    std::set<int> seen{from};
    for (size_t k = 0; k < all.size(); ++k) {
        next(all[k], [&](int other) {
            if (seen.insert(other).second) {
                all.push_back(other);
            }
        });
    }
    return all;
}

std::vector<int> Elements::chain(int edge) const {
    const auto way_at = [](const Edge& of, int vertex) { return of.out[of.vertices.front() == vertex ? 0 : 1]; };
    return reached(edge, [&](int from, const auto& add) {
        const Edge& here = edges[at(from)];
        for (const int vertex : here.vertices) {
            for (const int other : vertices[at(vertex)].edges) {
                const Edge& there = edges[at(other)];
                if (there.seen && are_opposite(way_at(here, vertex), way_at(there, vertex))) {
                    add(other);
                }
            }
        }
    });
}

const geom::Look& Elements::look(const Element& element) const {
    static const geom::Look none;
    return element.kind == ElementKind::face   ? faces[at(element.index)].look
           : element.kind == ElementKind::edge ? edges[at(element.index)].look
                                               : none;
}

std::vector<Element> Elements::like(const geom::Look& wanted, ElementKind kind, Likeness how) const {
    std::vector<Element> found;
    const bool none = wanted.kind.empty() || how == Likeness::chain || how == Likeness::connected;
    for (int i = 0; !none && i < static_cast<int>(count(kind)); ++i) {
        const geom::Look& own = look({kind, i});
        const bool round = wanted.radii() && own.radii() && std::fabs(own.radius - wanted.radius) <= same_radius &&
                           std::fabs(own.tube - wanted.tube) <= same_radius;
        const bool seen = kind == ElementKind::face || edges[at(i)].seen;
        if (seen && own.kind == wanted.kind && (how == Likeness::kind || round)) {
            found.push_back({kind, i});
        }
    }
    return found;
}

std::vector<Element> Elements::alike(const Element& element, Likeness how) const {
    if (how == Likeness::kind || how == Likeness::radius) {
        return like(look(element), element.kind, how);
    }
    std::vector<int> found;
    if (element.kind == ElementKind::face) {
        found = reached(element.index, [&](int from, const auto& add) {
            for (const int edge : faces[at(from)].edges) {
                if (how == Likeness::connected || edges[at(edge)].smooth) {
                    std::for_each(edges[at(edge)].faces.begin(), edges[at(edge)].faces.end(), add);
                }
            }
        });
    } else if (element.kind == ElementKind::edge) {
        found = how == Likeness::chain ? chain(element.index) : reached(element.index, [&](int from, const auto& add) {
            for (const int vertex : edges[at(from)].vertices) {
                const auto& around = vertices[at(vertex)].edges;
                std::for_each(around.begin(), around.end(), add);
            }
        });
        std::erase_if(found, [&](int edge) { return !edges[at(edge)].seen; });
    }
    std::vector<Element> elements;
    for (const int index : found) {
        elements.push_back({element.kind, index});
    }
    return elements;
}

std::string Elements::words(const Element& element, const std::string& unit) const {
    if (element.kind == ElementKind::face) {
        const Face& face = faces[at(element.index)];
        return face_in_words(&face.name, face.look, unit);
    }
    if (element.kind == ElementKind::edge) {
        const Edge& edge = edges[at(element.index)];
        return edge_in_words(texts_of(edge.faces), edge.look, unit);
    }
    return to_string(element.kind);
}

// --- How they are made ----------------------------------------------------------------------------------------------

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
    tbb::parallel_for(size_t{0}, unknown.size(), [&](size_t k) {
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
    tbb::parallel_for(size_t{0}, edges.size(), [&](size_t i) {
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
        if (const FaceName* name = edge.faces.empty() ? body.names.Seek(edges[i]) : nullptr) {
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
