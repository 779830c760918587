#include "scene/line_bundle.h"

#include "geom/kernel/space.h"

#include <Graphic3d_ArrayOfSegments.hxx>
#include <Graphic3d_AspectLine3d.hxx>
#include <Graphic3d_Group.hxx>
#include <Prs3d_Presentation.hxx>

namespace kervo::scene {

void LineBundle::Compute(const Handle(PrsMgr_PresentationManager) & /*manager*/,
                         const Handle(Prs3d_Presentation) & presentation, const Standard_Integer /*mode*/) {
    if (lines_.empty()) {
        return;
    }
    const Handle(Graphic3d_ArrayOfSegments) segments =
        new Graphic3d_ArrayOfSegments(static_cast<int>(lines_.size()) * 2);
    for (const Segment3& line : lines_) {
        segments->AddVertex(geom::exact(line[0]));
        segments->AddVertex(geom::exact(line[1]));
    }
    const Handle(Graphic3d_Group) group = presentation->NewGroup();
    group->SetPrimitivesAspect(new Graphic3d_AspectLine3d(color_, Aspect_TOL_SOLID, width_));
    group->AddPrimitiveArray(segments);
}

} // namespace kervo::scene
