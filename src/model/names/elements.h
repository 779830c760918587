// The faces, edges and vertices of a body as plain values: what they are called, where they lie, what they look like,
// what is beside them. Who has it needs no shape to refer to an element, to find it again, or to tell what is like it.
//
//   ElementMaker maker;
//   const ElementsPtr elements = maker.elements_of(*body);              // off the window's thread
//   const Reference picked = elements->reference("10", {ElementKind::edge, 4});
//   const auto found = elements->find(picked);                          // {edge, 4}
#pragma once

#include "base/space.h"
#include "geom/measure/looks.h"
#include "model/names/names.h"

#include <memory>
#include <mutex>
#include <unordered_map>

namespace kervo::model {

/// A face, edge or vertex by its place in the order of the body, or the body as a whole (index 0).
struct Element {
    ElementKind kind = ElementKind::body;
    int index = 0;
    friend bool operator==(const Element&, const Element&) = default;
};

enum class Likeness {
    kind,     ///< the same kind of surface or curve
    radius,   ///< the same kind and radius (of rings: both), within a millionth of a millimetre
    chain,    ///< what continues it smoothly, and what continues that
    connected ///< what it hangs together with, over edges (faces) or vertices (edges)
};

/// Never changed once made; any thread may read it.
class Elements {
public:
    struct Face {
        FaceName name;
        Point3 center; ///< of its area
        geom::Look look;
        std::optional<Frame3> plane; ///< of a flat face: z out of the material
        std::vector<int> edges;
    };
    struct Edge {
        std::string name;       ///< of a curve that bounds no face; of a free border
        std::vector<int> faces; ///< beside it, ascending; a seam has one
        std::vector<int> vertices;
        std::array<Vector3, 2> out; ///< where it goes at its first and its last vertex, out of them; 0: nowhere
        Point3 center;
        geom::Look look;
        bool seen = true;    ///< no seam, and of some length
        bool smooth = false; ///< two faces run into each other here
    };
    struct Vertex {
        std::vector<int> edges;
        std::vector<int> faces; ///< ascending
        Point3 place;
    };
    std::vector<Face> faces;
    std::vector<Edge> edges;
    std::vector<Vertex> vertices;
    std::vector<std::vector<int>> lumps; ///< faces of each solid

    [[nodiscard]] size_t count(ElementKind kind) const;
    [[nodiscard]] Point3 center(const Element& element) const;
    /// As `refer_to` would make it.
    [[nodiscard]] Reference reference(const BodyId& body, const Element& element) const;
    /// The element of exactly that name; of several the one that lies where it was picked. Nothing where there is none:
    /// what has changed since is for an evaluation to find.
    [[nodiscard]] std::optional<Element> find(const Reference& reference) const;
    /// The faces or edges that are like this one; itself too where it is one of them. None for a vertex, nor by radius
    /// for what has none.
    [[nodiscard]] std::vector<Element> alike(const Element& element, Likeness how) const;
    /// What a face or an edge looks like.
    [[nodiscard]] const geom::Look& look(const Element& element) const;
    /// The faces or edges that look like that, in kind or radius: of another body.
    [[nodiscard]] std::vector<Element> like(const geom::Look& wanted, ElementKind kind, Likeness how) const;
    /// For people; sizes in `unit`.
    [[nodiscard]] std::string words(const Element& element, const std::string& unit) const;

private:
    struct Name {
        std::vector<std::string> faces, ends;
        [[nodiscard]] std::string key() const;
    };
    [[nodiscard]] Name name_of(const Element& element) const;
    [[nodiscard]] std::vector<std::string> texts_of(const std::vector<int>& of) const;
    [[nodiscard]] std::vector<std::string> texts_at(const Edge& edge) const;
    [[nodiscard]] std::vector<std::string> texts_at(int vertex) const;
    [[nodiscard]] bool has_twin(const Element& element, const std::vector<int>& of_its_name) const;
    /// Elements of a kind by the key of their name.
    [[nodiscard]] const std::unordered_map<std::string, std::vector<int>>& by_name(ElementKind kind) const;
    [[nodiscard]] std::vector<int> chain(int edge) const;
    template <class Next> [[nodiscard]] static std::vector<int> reached(int from, const Next& next);

    mutable std::array<std::once_flag, 4> once_;
    mutable std::array<std::unordered_map<std::string, std::vector<int>>, 4> by_name_;
};
using ElementsPtr = std::shared_ptr<const Elements>;

/// Makes them, and keeps what it worked out of faces and edges for bodies that share them. Not safe to share between
/// threads. Sources: the kernel's own integrals for centres and lengths.
class ElementMaker {
public:
    ElementMaker();
    ~ElementMaker();
    ElementMaker(const ElementMaker&) = delete;
    ElementMaker& operator=(const ElementMaker&) = delete;
    ElementsPtr elements_of(const Body& body);
    /// Forgets all faces and edges if it knows of more than so many.
    void forget_beyond(size_t most);

private:
    struct Known;
    std::unique_ptr<Known> known_;
};

/// The shapes of all elements of a kind, in the order of the body; of `body`, itself.
std::vector<TopoDS_Shape> shapes_of(const Body& body, ElementKind kind);
/// Where an element of the body stands in that order; nothing for what is not of it.
std::optional<Element> element_of(const Body& body, const TopoDS_Shape& element);
/// The shape of an element; null for an index that the body has not.
TopoDS_Shape shape_of(const Body& body, const Element& element);

} // namespace kervo::model
