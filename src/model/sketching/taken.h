// What a sketch takes from the model: edges, sections and silhouettes of bodies, as curves that follow their sources.
//
//   auto taken = take_edges("40", *body, edge, frame);      // an edge, or all edges of a face
//   add_taken(drawing, *taken);                             // curves of the sketch, each with its source
//   follow_sources(drawing, bodies, frame);                 // and later: where they are now
#pragma once

#include "model/names/names.h"
#include "sketch/figures.h"

#include <gp_Ax3.hxx>

#include <map>

namespace kervo::model {

/// A curve as it lies in the sketch's plane, and where it comes from.
struct Taken {
    sketch::Source source;
    sketch::Stretch stretch;
};

/// An edge, or all edges of a face, seen along the normal of the sketch. Finding: taken.nothing.
Result<std::vector<Taken>> take_edges(const BodyId& id, const Body& body, const TopoDS_Shape& element,
                                      const gp_Ax3& frame);
/// Where the sketch's plane cuts the body. Finding: taken.nothing.
Result<std::vector<Taken>> take_section(const BodyId& id, const Body& body, const gp_Ax3& frame);
/// The outline of the body, seen along the normal of the sketch, with what one sees through it. Findings:
/// taken.nothing, taken.free_form (its outline is not known exactly).
Result<std::vector<Taken>> take_silhouette(const BodyId& id, const Body& body, const gp_Ax3& frame);

/// Lets a taken curve stay where it is, whatever its source does, or follow it again. False where it was not taken, or
/// is so already.
bool freeze(sketch::Sketch& drawing, int curve, bool on);

/// Adds curves for what the sketch has not taken yet; what is frozen follows again. The ids of all these.
std::vector<int> add_taken(sketch::Sketch& drawing, const std::vector<Taken>& taken);

/// Lays every taken curve where its source is now. Findings (warnings): taken.lost, what is named stays where it was;
/// taken.more, a section or silhouette has grown curves that are not taken yet.
Findings follow_sources(sketch::Sketch& drawing, const std::map<BodyId, BodyPtr>& bodies, const gp_Ax3& frame);

} // namespace kervo::model
