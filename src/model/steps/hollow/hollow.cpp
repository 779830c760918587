#include "model/steps/hollow/hollow.h"

#include "geom/alter/hollow.h"
#include "model/document/step_of.h"

#include "model/names/altering.h"
#include <algorithm>

#include <TopoDS.hxx>

#include <algorithm>

namespace kervo::model {

namespace {

// The faces that are picked, of this body alone.
Answers::Elements faces_on(const BodyId& id, const char* field, const References& references, Answers& answers) {
    Answers::Elements faces = references.empty() ? Answers::Elements{} : answers.elements(field, references);
    if (std::erase_if(faces, [&](const Answers::Picked& face) { return face.body != id; }) > 0) {
        answers.report(field, error_finding("hollow.other_body", "This face is on another body.",
                                            "Pick faces of the body that becomes hollow."));
    }
    return faces;
}

} // namespace

StepOutput Hollow::evaluate(const StepInputs& inputs) const {
    StepOutput output;
    Answers answers(inputs, output);
    const BodyPtr body = answers.picked_body("workpiece", workpiece);
    if (!body) {
        return output;
    }
    const BodyId& id = workpiece.front().body;
    std::vector<TopoDS_Face> opened;
    for (const auto& face : faces_on(id, "open", open, answers)) {
        opened.push_back(TopoDS::Face(face.element));
    }
    const double wall = answers.positive("thickness", thickness);
    std::vector<geom::WallThickness> own;
    for (const auto& face : faces_on(id, "thick_faces", thick_faces, answers)) {
        own.push_back({TopoDS::Face(face.element), face.own.text.empty()
                                                       ? answers.positive("other_thickness", other_thickness)
                                                       : answers.positive("thick_faces", face.own)});
    }
    if (answers.ok() && geom::solids_of(body->shape).size() != 1) {
        answers.report("workpiece", error_finding("hollow.one_solid", "This body is not one solid.",
                                                  "Pick a body of one solid lump."));
    }
    if (!answers.ok()) {
        return output;
    }
    const auto core = geom::core_of(geom::solids_of(body->shape).front(), wall, own, opened, *inputs.progress);
    if (!core) {
        answers.report("thickness", core.finding());
        return output;
    }
    const auto is_round_corner = [](const auto& made) {
        return !made.source.IsNull() && made.source.ShapeType() != TopAbs_FACE;
    };
    if (std::any_of(core->made.begin(), core->made.end(), is_round_corner)) {
        answers.report("thickness",
                       note_finding("hollow.round_corners",
                                    "Inside, the walls are round where the body's edges go in: sharp corners could not "
                                    "be made there.",
                                    ""));
    }
    const geom::Neighbours neighbours(body->shape);
    const std::string prefix = std::to_string(inputs.step) + ":";
    geom::ShapeWithRoles cutter{core->shape, {}};
    for (const auto& made : core->made) {
        std::string role = "opening";
        if (!made.source.IsNull()) {
            role = name_after(inputs.step, "inner", *body, neighbours, made.source).substr(prefix.size());
        }
        cutter.roles.push_back({made.face, role});
    }
    std::vector<SweptRegion> all;
    all.emplace_back("core", std::move(cutter));
    CutRules rules;
    spared.add({&workpiece}, answers, all, rules);
    cut_bodies({body}, all, verdicts, rules, inputs, output, answers);
    return output;
}

std::vector<StepVerb> Hollow::verbs() {
    return {{"hollow", StepVerb::Group::cut, "Hollow", "Leaves the walls of a body, open at the selected faces.",
             "Shift+W", "Hollow", [] { return Hollow(); }, true, "opening"}};
}

template struct StepOf<Hollow>;

} // namespace kervo::model
