#include "model/route/spanned.h"

#include "geom/kernel/finding_place.h"
#include "geom/surface/sew.h"
#include "model/names/border_names.h"

#include <algorithm>
#include <numbers>

namespace kervo::model {

namespace {
constexpr double sewing = 1e-4;                           // mm: they are made where the borders are
constexpr double smooth = 0.1 * std::numbers::pi / 180.0; // what is more is told
} // namespace

void hand_out_spanned(int step, const TopoDS_Shape& spanned, double gap, const std::string& role,
                      const std::vector<BodyId>& between, bool sewn, const char* field, Answers& answers,
                      StepOutput& output) {
    const BodyId id = std::to_string(step);
    geom::ShapeWithRoles made{spanned, {}};
    for (const TopoDS_Shape& face : geom::faces_of(spanned)) {
        made.roles.push_back({face, role});
    }
    FaceNames names = name_fresh(step, made)->names;
    std::vector<TopoDS_Shape> parts;
    for (const BodyId& body : between) {
        names.add(answers.body(body)->names);
        if (sewn) {
            parts.push_back(answers.body(body)->shape);
        }
    }
    parts.push_back(spanned); // last: the edges of the others are what both have then
    const auto whole = geom::sew(parts, std::max(sewing, 2 * gap), answers.progress());
    if (!whole) {
        answers.report(field, whole.finding());
        return;
    }
    const BodyPtr body = name_result(whole->shape, whole->origins, names);
    if (!sewn) {
        output.bodies[id] = body;
        output.births.push_back({id, {}, {}});
        return;
    }
    for (const BodyId& used : between) {
        output.bodies[used] = nullptr;
    }
    output.bodies[between.front()] = body;
}

void tell_lean(double lean, const gp_Pnt& at, const char* code, const char* mend, const char* field, Answers& answers) {
    if (lean > smooth) {
        Finding finding =
            warning_finding(code, "It is off being tangent here by " + format_quantity(lean, "deg", 3) + " deg.", mend);
        geom::add_place(finding, at);
        answers.report(field, std::move(finding));
    }
}

void name_sides(int step, const geom::FormFace& made, const std::array<const char*, 4>& roles, FaceNames& names) {
    for (const TopoDS_Shape& edge : geom::edges_of(made.face)) {
        if (const int* side = made.side_of_edge.Seek(edge)) {
            names.Bind(edge, border_towards(std::to_string(step) + ":" + roles[static_cast<size_t>(*side)]));
        }
    }
}

void tell_turn(const std::optional<gp_Pnt>& at, const char* mend, const char* field, Answers& answers) {
    if (at) {
        Finding finding = warning_finding("surface.turns", "The surface turns over here, as sharply as an edge.", mend);
        geom::add_place(finding, *at);
        answers.report(field, std::move(finding));
    }
}

} // namespace kervo::model
