// What cuts, with names for its faces.
#pragma once

#include "model/cutting/swept_region.h"
#include "model/names/names.h"

namespace kervo::model {

/// Refers to what it is made of. Solids are built only where the general way is gone.
class NamedCutters {
public:
    NamedCutters(int step, const std::vector<SweptRegion>& swept);

    std::vector<std::string> keys; ///< of the cutters, then of their fronts

    [[nodiscard]] int index_of(const std::string& key) const;
    [[nodiscard]] const std::vector<SweptRegion>& swept() const { return swept_; }
    [[nodiscard]] std::vector<int> all() const; ///< indices
    /// Empty where one of them is no prism.
    [[nodiscard]] std::vector<const geom::StraightCutter*> straight() const;
    [[nodiscard]] std::vector<TopoDS_Shape> solids(const std::vector<int>& which) const;
    /// Of the faces of these solids.
    [[nodiscard]] FaceNames names(const std::vector<int>& which) const;
    /// Of a face that a straight cut made: the same as the solid's face has.
    [[nodiscard]] FaceName name_of(const geom::StraightDivision::Made& made);

    /// That they miss a workpiece, and by how much, since a cutter that does not reach is the usual cause.
    [[nodiscard]] Finding missed(const TopoDS_Shape& workpiece) const;

private:
    // Whether a curve of the sketch makes several sides, which their neighbours tell apart.
    bool sides_are_alike(int cutter);

    int step_;
    const std::vector<SweptRegion>& swept_;
    std::vector<bool> alike_;
};

} // namespace kervo::model
