// Faces that close bodies where cutaways cut them: filled and hatched. Exact ones come from what the evaluation opened;
// while a cutaway is dragged they are made of triangles alone, at once.
#pragma once

#include "model/looking/open_up.h"
#include "model/looking/taken_away.h"
#include "scene/shown_body.h"

namespace kervo::scene {

/// How cut faces of a body are filled.
struct CapStyle {
    std::string color; ///< "#rrggbb"; empty: after the body's own
    model::Hatch hatch = model::Hatch::lines;
    double spacing = 1; ///< mm between lines
    double angle = 0;   ///< rad, of the lines to the x of the plane
};
/// By the cutaway, else by the body's material; `place` among the solids that are opened and the size of the whole (mm)
/// give neighbours other angles and spacings.
CapStyle cap_style(const model::Document& document, const model::Cutaway& cutaway, const model::BodyId& body,
                   size_t place, double size);

struct Cap {
    model::BodyId body;
    std::string letter; ///< of the cutaway
    std::string color;  ///< "#rrggbb"; empty: after the body's own
    bool inked = false; ///< filled with ink
    std::shared_ptr<const Mesh> mesh;
    std::vector<Segment3> hatch;
    std::vector<Segment3> outline;
};

/// Of a face that was worked out. `deflection` (mm) of its triangles and lines.
Cap exact_cap(const model::BodyId& body, const model::CutFace& face, const CapStyle& style, double deflection);

/// Of all planes of the cutaways, which all concern the body, out of its triangles: rows that are `fineness` mm high
/// fill them. What others of these cutaways take away is left out of each. Surfaces have outlines alone. `within`: as
/// of `left_of`. Time grows with the triangles and the rows.
std::vector<Cap> live_caps(const model::BodyId& id, const ShownBody& body, const std::vector<model::Cutaway>& cutaways,
                           const std::function<CapStyle(const model::Cutaway&)>& style, double fineness,
                           const std::function<model::Stretches(const model::BodyId&, const Line3&)>& within);

/// Whether these show a body while the one of that letter is dragged: they are planes, slabs and boxes alone, and it is
/// one of them.
bool are_live(const std::vector<model::Cutaway>& cutaways, const std::string& dragged);

/// Where a line runs inside of a closed body.
model::Stretches inside_of(const ShownBody& body, const Line3& line);

} // namespace kervo::scene
