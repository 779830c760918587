// A body as the window knows it: what is drawn of it, what can be picked, what its elements are called. Made once,
// beside the evaluation, of the exact body; from then on plain values that any thread may read.
#pragma once

#include "model/names/elements.h"
#include "scene/curvature.h"
#include "scene/pick_tree.h"

#include <map>
#include <memory>

namespace kervo::scene {

/// What the graphics card is given.
struct Drawn;
using DrawnPtr = std::shared_ptr<const Drawn>;

/// A plane that cuts.
struct ShownBlade {
    Frame3 frame;                  ///< z looks to its front
    double front = 0, back = 0;    ///< the kerf reaches from -back to front along z (mm)
    std::vector<Polyline3> window; ///< the lines that bound it; none: it is endless

    [[nodiscard]] bool endless() const { return window.empty(); }
    [[nodiscard]] double kerf() const { return front + back; }
};
ShownBlade shown(const geom::Blade& blade);

enum class Substance { solid, surface, curves };

struct ShownBody {
    Substance substance = Substance::solid;
    int borders = 0; ///< of a surface: free ones
    std::optional<ShownBlade> blade;
    model::ElementsPtr elements;
    std::shared_ptr<const Mesh> mesh;
    std::unique_ptr<const PickTree> tree;
    DrawnPtr drawn;
    std::shared_ptr<const Curvature> curvature; ///< null where nothing is drawn
    double volume = 0;                          ///< mm^3
    Box3 box;
    std::optional<std::string> failed; ///< why the kernel could not draw it; then nothing of it is seen

    [[nodiscard]] bool divides() const { return blade || substance != Substance::solid; }
};
using ShownBodyPtr = std::shared_ptr<const ShownBody>;
using ShownBodies = std::vector<std::pair<model::BodyId, ShownBodyPtr>>;
std::vector<model::BodyId> ids_of(const ShownBodies& bodies);
/// Null where there is none.
ShownBodyPtr find_body(const ShownBodies& bodies, const model::BodyId& id);

/// Makes them, fine enough for a picture, and keeps those of the picture before. Not safe to share between threads.
class BodyShower {
public:
    using Bodies = std::vector<std::pair<model::BodyId, model::BodyPtr>>;
    /// What is not asked for is forgotten.
    void show(const std::vector<model::BodyPtr>& bodies);
    /// Of those that were shown last.
    [[nodiscard]] ShownBodies operator()(const Bodies& bodies) const;
    [[nodiscard]] ShownBodyPtr operator()(const model::BodyPtr& body) const { return known_.at(body); }

private:
    void look_at(const model::Body& body, ShownBody& fresh);

    std::map<model::BodyPtr, ShownBodyPtr> known_;
    model::ElementMaker elements_;
};

/// Triangles of a shape by its faces, and lines by its edges: what can be picked of it. `seen` tells which edges are;
/// none: all.
std::shared_ptr<const Mesh> mesh_of(const TopoDS_Shape& shape, double deflection, const model::Elements* elements);

} // namespace kervo::scene
