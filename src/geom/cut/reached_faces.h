// The faces of a body that cutters come near, without those of their loops that are out of reach: a cut works on them
// alone, and the loops are put back when it is done.
#pragma once

#include "base/progress.h"
#include "geom/measure/body_index.h"

#include <set>

namespace kervo::geom {

struct ReachedFace {
    int face = 0;                     ///< of the body
    TopoDS_Face bare;                 ///< without the loops that are out of reach
    std::vector<int> waiting;         ///< these, of the body
    std::vector<TopoDS_Shape> pieces; ///< what it is divided into; filled by the cut
    std::vector<TopoDS_Face> left;    ///< of the pieces, what lies outside of all cutters; filled by the cut
    [[nodiscard]] bool untouched() const { return left.size() == 1 && left.front().IsSame(bare); }
};

class ReachedFaces {
public:
    ReachedFaces(BodyIndexPtr body, const std::vector<TopoDS_Shape>& cutters)
        : body_(std::move(body)), cutters_(cutters) {}

    /// Finds them; how many faces and loops are out of reach.
    size_t find();
    /// Faces that the cutters touch, but do not enter, are not found any more. False where there are none, or so many
    /// that might be that asking one by one is not worth it.
    bool leave_out_what_touches(Progress& progress);

    [[nodiscard]] std::vector<TopoDS_Shape> with_cutters() const; ///< all faces in one compound, then the cutters
    [[nodiscard]] std::vector<TopoDS_Face> as_they_were() const;  ///< bare
    /// Puts the loops that waited into what is left of their faces. Why that cannot be, or null.
    [[nodiscard]] const char* take_loops_back(std::vector<IndexChange::Divided>& divided) const;

    [[nodiscard]] size_t size() const { return reached_.size(); }
    ReachedFace& operator[](size_t i) { return reached_[i]; }
    const ReachedFace& operator[](size_t i) const { return reached_[i]; }
    auto begin() { return reached_.begin(); }
    auto end() { return reached_.end(); }
    [[nodiscard]] auto begin() const { return reached_.begin(); }
    [[nodiscard]] auto end() const { return reached_.end(); }

private:
    [[nodiscard]] std::vector<TopoDS_Shape> loops_in(const TopoDS_Face& face, const std::vector<int>& named,
                                                     bool these) const;
    const char* tell_where(const ReachedFace& each, std::vector<std::vector<int>>& loops) const;
    [[nodiscard]] std::optional<TopoDS_Face> with_loops(const ReachedFace& each, const TopoDS_Face& left,
                                                        const std::vector<int>& loops) const;

    BodyIndexPtr body_;
    const std::vector<TopoDS_Shape>& cutters_;
    std::set<int> left_out_; ///< faces that the cutters only touch
    std::vector<ReachedFace> reached_;
};

} // namespace kervo::geom
