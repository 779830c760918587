// Bodies opened by cutaways: the exact faces that close them where they are cut, and what is left of them. Nothing of
// the document is changed by it.
#pragma once

#include "base/progress.h"
#include "model/document/cutaways.h"
#include "model/route/evaluate.h"

namespace kervo::model {

/// A face that closes a body where it is cut.
struct CutFace {
    std::string letter; ///< of the cutaway
    TopoDS_Shape face;  ///< as a body has it: looks out of the material
    double area = 0;    ///< mm^2
};

struct Opened {
    /// What is left, the cut faces included, which belong to `cut_faces_of` of the letter; null where nothing is, or
    /// where it was not asked for: of one plane or slab only the cut faces are worked out.
    BodyPtr left;
    std::vector<int> sources; ///< for each face of what is left, the face of the body that it lies on; -1: a cut face
    std::vector<CutFace> faces;
    bool divided = false; ///< what is left was worked out
};

/// The owner of cut faces (`FaceName::owner`).
BodyId cut_faces_of(const std::string& letter);
bool is_cut_faces(const BodyId& owner);

/// What cutaways cut with, where they cut with a body.
using CuttingBodies = std::map<BodyId, BodyPtr>;

/// Opens a body, which is no blade, by cutaways that concern it. One plane or slab is a section; all else is a division
/// (`geom::divide`), whose volumes must balance. Bodies of curves have no cut faces and stay whole.
/// Findings: cutaway.failed; cutaway.no_body, where one cuts with a body that is not there or has no inside.
Result<Opened> open_up(const Body& body, const std::vector<Cutaway>& cutaways, const CuttingBodies& cutting,
                       Progress& progress);

/// How much each cutaway cuts of each body.
struct CutArea {
    std::string letter;
    BodyId body;
    double area = 0; ///< mm^2
};

/// To what the cutaway cuts of the body already.
void add_area(std::vector<CutArea>& areas, const BodyId& body, const CutFace& face);

/// Whether a body of an evaluation is hidden, by itself or with its layer.
bool is_hidden(const Document& document, const Evaluation& evaluation, const BodyId& body);

/// All bodies of an evaluation as they are after a step (0: at the end), opened by these cutaways. Hidden ones and
/// blades are left out.
struct OpenedBodies {
    std::vector<CutArea> areas;
    Findings findings;
};
OpenedBodies open_all(const Document& document, const Evaluation& evaluation, int as_of, Progress& progress);

/// The cutaways that open this body of an evaluation.
std::vector<Cutaway> opening(const std::vector<Cutaway>& cutaways, const Document& document,
                             const Evaluation& evaluation, const BodyId& body);

} // namespace kervo::model
