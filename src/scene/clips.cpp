#include "scene/clips.h"

#include "geom/kernel/space.h"

#include <Graphic3d_ClipPlane.hxx>
#include <gp_Pln.hxx>

namespace kervo::scene {

namespace {

constexpr size_t most_clip_planes = 8; // of the kernel's shaders

// The kernel cuts off what lies behind a plane; what lies behind all of a chain.
Handle(Graphic3d_ClipPlane) clip_of(const model::Wedge& wedge) {
    Handle(Graphic3d_ClipPlane) chain;
    for (const model::HalfSpace& half : wedge) {
        Handle(Graphic3d_ClipPlane) plane =
            new Graphic3d_ClipPlane(gp_Pln(geom::exact(half.origin), geom::exact_way(-half.normal)));
        plane->SetCapping(Standard_False);
        plane->SetOn(Standard_True);
        plane->SetChainNextPlane(chain);
        chain = plane;
    }
    return chain;
}

} // namespace

bool BodyLook::drawn_opened() const {
    size_t planes = 0;
    bool round = false;
    for (const model::Cutaway& cutaway : cutaways) {
        const size_t own = model::planes_of(cutaway).size();
        planes += own;
        round = round || own == 0;
    }
    return opened && (round || planes > most_clip_planes);
}

Handle(Graphic3d_SequenceOfHClipPlane) clips_of(const BodyLook& look) {
    Handle(Graphic3d_SequenceOfHClipPlane) planes = new Graphic3d_SequenceOfHClipPlane();
    for (const model::Cutaway& cutaway : look.drawn_opened() ? std::vector<model::Cutaway>() : look.cutaways) {
        for (const model::Wedge& wedge : model::wedges_of(cutaway)) {
            planes->Append(clip_of(wedge));
        }
    }
    return planes;
}

} // namespace kervo::scene
