// What a body consists of, with boxes, so that a cut looks only at what it reaches. It is made once for a body and
// handed on, changed only where a cut changed the body.
#pragma once

#include "geom/measure/measure.h"

#include <TopoDS_Face.hxx>
#include <TopoDS_Wire.hxx>

#include <memory>
#include <mutex>
#include <optional>

namespace kervo::geom {

struct Box {
    std::array<double, 3> low{1e300, 1e300, 1e300}, high{-1e300, -1e300, -1e300};
    void add(const gp_XYZ& p);
    void add(const Box& other);
    void enlarge(double gap);
    [[nodiscard]] bool meets(const Box& other) const;
    [[nodiscard]] std::array<double, 6> corners() const { return {low[0], low[1], low[2], high[0], high[1], high[2]}; }
};

struct BodyIndex {
    enum class Kind { plane, ruled, other };
    struct Face {
        TopoDS_Face face; ///< as it lies in the body
        Kind kind = Kind::other;
        gp_Dir direction; ///< of a plane its normal, out of the material; of a ruled face (a cylinder, an extruded
                          ///< curve) the way its straight lines run
        gp_Pnt place;     ///< on a plane
        Box box;
    };
    struct Loop {
        int face = 0;
        TopoDS_Wire wire; ///< as it lies in the face
        Box box;
        bool outer = false;
    };
    std::vector<Face> faces; ///< in the order of the shell
    std::vector<Loop> loops; ///< of flat and ruled faces
    Box box;
    gp_Pnt apex; ///< where the tips of cones over the faces are to be
};
using BodyIndexPtr = std::shared_ptr<const BodyIndex>;

/// Of a solid with one shell; null for anything else.
BodyIndexPtr index_of(const TopoDS_Shape& shape);

/// How a body differs from the one it was cut from.
struct IndexChange {
    struct Pierced {
        int face = 0; ///< of the body it was cut from
        TopoDS_Face now;
        std::vector<TopoDS_Wire> loops; ///< that it did not have
    };
    struct Part {
        TopoDS_Face face;
        TopoDS_Face bare;       ///< without the loops that it took over
        std::vector<int> loops; ///< of the body it was cut from
    };
    struct Divided {
        int face = 0;            ///< of the body it was cut from
        std::vector<Part> parts; ///< none where it is gone
    };
    BodyIndexPtr before;
    std::vector<Pierced> pierced;
    std::vector<Divided> divided;
    std::vector<TopoDS_Face> made;
    VolumeMeter::Cone cone; ///< of what is left
};
BodyIndexPtr changed(const IndexChange& change);

/// The index of a body, and its volume, each made when it is first asked for. Safe to share between threads.
class LazyIndex {
public:
    explicit LazyIndex(TopoDS_Shape shape) : shape_(std::move(shape)) {}
    explicit LazyIndex(IndexChange change) : change_(std::move(change)), cone_(change_->cone) {}
    /// Null where the body is no solid with one shell.
    [[nodiscard]] BodyIndexPtr get() const;
    /// The sum of the cones over its faces: the volume of the body (mm^3). Of a body that has an index.
    [[nodiscard]] VolumeMeter::Cone cone() const;

private:
    mutable std::mutex guard_;
    mutable bool known_ = false;
    mutable BodyIndexPtr index_;
    mutable TopoDS_Shape shape_;
    mutable std::optional<IndexChange> change_;
    mutable std::optional<VolumeMeter::Cone> cone_;
};

Box box_within(const Bnd_Box& bounds);
/// The box of an edge; of lines, circles and ellipses exactly, but for the edge's tolerance.
Box box_of_edge(const TopoDS_Shape& edge);
/// The loops of a flat or ruled face, as of the face 0. The outer one is what reaches farthest on every side.
std::vector<BodyIndex::Loop> loops_of(const TopoDS_Face& face);

} // namespace kervo::geom
