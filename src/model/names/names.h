// Names that survive: every face of a body says where it came from, and is found again after changes.
//
// A face's name is its origin ("50:side/c12": what step 50 made from sketch curve 12) and, after a division, the
// names of the neighbours that only this part has ("10:top[+10:left]"). Parts that no neighbour tells apart are marked
// ambiguous; a reference to one is resolved by nearness, and says so. Edges are told by their faces, vertices too.
#pragma once

#include "base/finding.h"
#include "geom/cut/blade.h"
#include "geom/measure/body_index.h"
#include "model/document/references.h"

#include <NCollection_DataMap.hxx>
#include <TopTools_ShapeMapHasher.hxx>

#include <functional>
#include <memory>
#include <set>

namespace kervo::model {

struct FaceName {
    std::string origin;
    std::vector<std::string> parts; ///< sorted origins of the neighbours that tell it from its siblings
    bool ambiguous = false;
    BodyId owner = {}; ///< the body whose colour it has; empty: the one that it is part of

    [[nodiscard]] std::string text() const;
    static FaceName parse(const std::string& text);
    friend bool operator==(const FaceName&, const FaceName&) = default;
};

/// Names by face, and of free borders by edge (`border_names.h`). A copy shares what is settled, so that a body that
/// differs in a few faces costs only those; a name may be kept of a face that the body no longer has.
class FaceNames {
public:
    [[nodiscard]] const FaceName* Seek(const TopoDS_Shape& face) const {
        const FaceName* own = own_.Seek(face);
        return own != nullptr || !settled_ ? own : settled_->Seek(face);
    }
    /// Of a face that has one.
    [[nodiscard]] const FaceName& Find(const TopoDS_Shape& face) const;
    [[nodiscard]] bool IsBound(const TopoDS_Shape& face) const { return Seek(face) != nullptr; }
    void Bind(const TopoDS_Shape& face, const FaceName& name);
    void add(const FaceNames& more);
    /// The same names, with an owner where they have none.
    [[nodiscard]] FaceNames owned_by(const BodyId& body) const;
    /// Whether some name is ambiguous.
    [[nodiscard]] bool doubtful() const { return doubtful_; }
    /// Whether edges have names.
    [[nodiscard]] bool of_edges() const { return of_edges_; }
    void for_each(const std::function<void(const TopoDS_Shape&, const FaceName&)>& visit) const;
    /// What the faces come from; they all have names.
    [[nodiscard]] std::set<std::string> origins_of(const std::vector<TopoDS_Shape>& faces) const;
    /// To be called when all names are there: makes copies cheap.
    void settle();

private:
    using Map = NCollection_DataMap<TopoDS_Shape, FaceName, TopTools_ShapeMapHasher>;
    std::shared_ptr<const Map> settled_;
    Map own_;
    bool doubtful_ = false;
    bool of_edges_ = false;
};

/// A body as a step leaves it. Never changed once made.
struct Body {
    TopoDS_Shape shape;
    FaceNames names; ///< of every face; of every edge where there are only curves; of free borders
    std::shared_ptr<const geom::LazyIndex> index;
    std::shared_ptr<const geom::Blade> blade = {}; ///< where it is a blade, which no file and no picture of parts holds
};
using BodyPtr = std::shared_ptr<const Body>;

/// A box around a body, which may be somewhat too large, and its volume (mm^3), quickly where it has an index.
std::array<double, 6> box_of(const Body& body);
double volume_of(const Body& body);

/// How many elements of a kind a body has.
size_t count_of(const Body& body, ElementKind kind);

/// For members of one group, what only some of them have: each one's items less those that all share. Members whose
/// remaining items are the same are ambiguous. One that has nothing of its own is told by the mark "~".
struct Distinction {
    std::vector<std::string> own;
    bool ambiguous = false;
};
std::vector<Distinction> tell_apart(const std::vector<std::set<std::string>>& members);

/// A body fresh from one operation of step `step`, its faces named after their roles.
BodyPtr name_fresh(int step, const geom::ShapeWithRoles& made);

/// A body whose faces lie on named input faces; the first origin that `inputs` knows gives the name, and parts of one
/// input face are told apart. `change`: how it differs from another body, where that is known; `more_changed`: that one
/// has new faces too.
BodyPtr name_result(const TopoDS_Shape& shape, const std::vector<geom::FaceOrigin>& origins, const FaceNames& inputs,
                    const geom::IndexChange* change = nullptr, bool more_changed = false);

/// The same for what grew together, where several faces become one: it has the name of the body's own before another's,
/// and the oldest of these, in whatever order the kernel hands them out.
BodyPtr name_united(const TopoDS_Shape& shape, std::vector<geom::FaceOrigin> origins, const FaceNames& inputs);

/// The lasting reference to an element of a body. For many of them `Elements` is made.
Reference refer_to(const BodyId& id, const Body& body, const TopoDS_Shape& element);

struct Resolved {
    TopoDS_Shape element;             ///< null when lost
    std::optional<Finding> finding;   ///< why it is lost, or that it was found by nearness only
    std::optional<Reference> learned; ///< for references made by hand: their name
};

/// Finds the element again: by its exact name; else by source and neighbours; else, with a warning, by source and
/// place; else it is lost (names.lost, names.ambiguous, names.no_body). `body` may be null.
Resolved resolve(const Reference& reference, const Body* body);

/// What the interface calls an element: "upper face", "side of curve 12" ...
std::string describe_face(const FaceName& name);

} // namespace kervo::model
