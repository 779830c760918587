// A general cut of the faces alone that the cutters may reach. They are split by the cutters and put back among the
// others, which are not looked at; loops out of reach wait meanwhile. Its cost follows what is reached, not the size of
// the body. Where its result is not proven sound, nothing is done, and the whole body must be divided.
#pragma once

#include "geom/cut/divide.h"
#include "geom/measure/body_index.h"

namespace kervo::geom {

struct LocalDivision {
    Division division;               ///< origins of the faces that were split or made
    std::optional<IndexChange> left; ///< how what lies outside of all cutters differs from the workpiece, if it is one
};

/// Either the division, the same as that of the whole body: what lies outside of all cutters first; or, in `why_not`,
/// why it must be asked of the whole body: hardly anything is out of reach, a cutter lies wholly inside, touches a face
/// from outside, or leaves nothing. `worth_it`: how many faces and loops must be out of reach; to divide few faces
/// costs as much as what this saves.
std::optional<LocalDivision> divide_reached(const LazyIndex& workpiece, const std::vector<TopoDS_Shape>& cutters,
                                            Progress& progress, std::string& why_not, size_t worth_it = 60);

/// The same without the faces that the cutters touch and do not enter, such as a round one whose line the floor of a
/// pocket touches: the general fuse would score them there, and four faces would meet in an edge. For cuts of which
/// there is no other result.
std::optional<LocalDivision> divide_past_touching(const LazyIndex& workpiece, const std::vector<TopoDS_Shape>& cutters,
                                                  Progress& progress, std::string& why_not);

} // namespace kervo::geom
