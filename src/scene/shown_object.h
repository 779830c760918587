// What stands in the kernel's viewer: bodies, what is lit up of them, and the fill of cuts. All of it is drawn from
// triangles and lines that are there; the viewer is never given a shape.
#pragma once

#include "scene/viewer.h"

#include <AIS_InteractiveObject.hxx>
#include <Quantity_Color.hxx>

namespace kervo::scene {

Quantity_Color color_of(const std::string& hex);

/// Not picked by the viewer, and in one way of drawing.
class DrawnObject : public AIS_InteractiveObject {
public:
    DEFINE_STANDARD_RTTI_INLINE(DrawnObject, AIS_InteractiveObject)
    void ComputeSelection(const Handle(SelectMgr_Selection) & /*selection*/, const Standard_Integer /*mode*/) override {
    }
    Standard_Boolean AcceptDisplayMode(const Standard_Integer mode) const override { return mode == 0; }
};

class ShownObject : public DrawnObject {
public:
    explicit ShownObject(BodyLook look) : look_(std::move(look)) {}
    DEFINE_STANDARD_RTTI_INLINE(ShownObject, DrawnObject)
    /// It must be displayed again to be seen.
    void set_look(const BodyLook& look) { look_ = look; }

protected:
    void Compute(const Handle(PrsMgr_PresentationManager) & manager, const Handle(Prs3d_Presentation) & picture,
                 const Standard_Integer mode) override;

private:
    BodyLook look_;
};

class LitElement : public DrawnObject {
public:
    /// `opened`: what is left of its body, where that is what is drawn.
    LitElement(Highlight lit, std::optional<OpenedBody> opened) : lit_(std::move(lit)), opened_(std::move(opened)) {}
    DEFINE_STANDARD_RTTI_INLINE(LitElement, DrawnObject)

protected:
    void Compute(const Handle(PrsMgr_PresentationManager) & manager, const Handle(Prs3d_Presentation) & picture,
                 const Standard_Integer mode) override;

private:
    void add_faces(const Handle(Prs3d_Presentation) & picture, const Mesh::Range& range) const;
    void add_lines(const Handle(Prs3d_Presentation) & picture, const std::vector<const Polyline3*>& lines,
                   double width) const;

    void add_left_of_faces(const Handle(Prs3d_Presentation) & picture) const;

    Highlight lit_;
    std::optional<OpenedBody> opened_;
};

class CapFill : public DrawnObject {
public:
    CapFill(std::shared_ptr<const Mesh> mesh, const Quantity_Color& color) : mesh_(std::move(mesh)), color_(color) {}
    DEFINE_STANDARD_RTTI_INLINE(CapFill, DrawnObject)

protected:
    void Compute(const Handle(PrsMgr_PresentationManager) & manager, const Handle(Prs3d_Presentation) & picture,
                 const Standard_Integer mode) override;

private:
    std::shared_ptr<const Mesh> mesh_;
    Quantity_Color color_;
};

/// Many straight lines as one object: hatches, outlines of caps.
class LineBundle : public DrawnObject {
public:
    LineBundle(std::vector<Segment3> lines, const Quantity_Color& color, double width)
        : lines_(std::move(lines)), color_(color), width_(width) {}
    DEFINE_STANDARD_RTTI_INLINE(LineBundle, DrawnObject)

protected:
    void Compute(const Handle(PrsMgr_PresentationManager) & manager, const Handle(Prs3d_Presentation) & picture,
                 const Standard_Integer mode) override;

private:
    std::vector<Segment3> lines_;
    Quantity_Color color_;
    double width_;
};

} // namespace kervo::scene
