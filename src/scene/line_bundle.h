// Many straight lines shown as one object: hatches, outlines of caps.
#pragma once

#include "scene/mesh.h"

#include <AIS_InteractiveObject.hxx>
#include <Quantity_Color.hxx>

#include <vector>

namespace kervo::scene {

class LineBundle : public AIS_InteractiveObject {
public:
    LineBundle(std::vector<Segment3> lines, const Quantity_Color& color, double width)
        : lines_(std::move(lines)), color_(color), width_(width) {}

    void Compute(const Handle(PrsMgr_PresentationManager) & manager, const Handle(Prs3d_Presentation) & presentation,
                 const Standard_Integer mode) override;
    void ComputeSelection(const Handle(SelectMgr_Selection) & /*selection*/, const Standard_Integer /*mode*/) override {
    }
    Standard_Boolean AcceptDisplayMode(const Standard_Integer mode) const override { return mode == 0; }

private:
    std::vector<Segment3> lines_;
    Quantity_Color color_;
    double width_;
};

} // namespace kervo::scene
