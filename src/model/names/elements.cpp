#include "model/names/elements.h"

#include "geom/kernel/space.h"
#include "geom/measure/measure.h"
#include "geom/outline/profile.h"
#include "model/names/border_names.h"
#include "model/names/words.h"

#include <NCollection_DataMap.hxx>
#include <Standard_Failure.hxx>
#include <TopTools_IndexedMapOfShape.hxx>
#include <TopTools_OrientedShapeMapHasher.hxx>
#include <TopTools_ShapeMapHasher.hxx>
#include <TopoDS_Iterator.hxx>
#include <spdlog/spdlog.h>

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

bool are_opposite(const Vector3& a, const Vector3& b) {
    return a.length() > 0 && b.length() > 0 && std::atan2(a.cross(b).length(), -a.dot(b)) <= same_way;
}

} // namespace

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

std::vector<std::string> Elements::texts_at(const Edge& edge) const {
    std::vector<std::string> texts = texts_of(edge.faces);
    if (!edge.name.empty()) {
        texts.push_back(edge.name);
        std::sort(texts.begin(), texts.end());
    }
    return texts;
}

std::vector<std::string> Elements::texts_at(int index) const {
    const Vertex& vertex = vertices[at(index)];
    std::vector<std::string> texts = texts_of(vertex.faces);
    std::set<std::string> borders;
    for (const int edge : vertex.edges) {
        const Edge& around = edges[at(edge)];
        if (around.name.empty()) {
            continue;
        }
        if (!faces.empty()) {
            borders.insert(around.name);
            continue;
        }
        if (around.vertices.front() == index) {
            borders.insert(name_at_start(around.name));
        }
        if (around.vertices.back() == index) {
            borders.insert(name_at_end(around.name));
        }
    }
    texts.insert(texts.end(), borders.begin(), borders.end());
    std::sort(texts.begin(), texts.end());
    return texts;
}

Elements::Name Elements::name_of(const Element& element) const {
    if (element.kind == ElementKind::face) {
        return {{faces[at(element.index)].name.text()}, {}};
    }
    if (element.kind == ElementKind::vertex) {
        return {texts_at(element.index), {}};
    }
    const Edge& edge = edges[at(element.index)];
    Name name{texts_at(edge), {}};
    std::set<std::string> beside;
    for (const int vertex : faces.empty() ? std::vector<int>() : edge.vertices) {
        for (const std::string& text : texts_at(vertex)) {
            if (std::find(name.faces.begin(), name.faces.end(), text) == name.faces.end()) {
                beside.insert(text);
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

} // namespace kervo::model
