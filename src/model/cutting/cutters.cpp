#include "model/cutting/cutters.h"

#include "geom/kernel/finding_place.h"
#include "geom/kernel/hanging_together.h"
#include "geom/kernel/is_curves.h"
#include "geom/measure/measure.h"

#include <algorithm>
#include <map>

namespace kervo::model {

namespace {

// Their faces are called after the cutter's, so that the wall of a hole says which pin made it.
geom::ShapeWithRoles with_names(const Body& body) {
    geom::ShapeWithRoles made{body.shape, {}};
    for (const TopoDS_Shape& face : geom::faces_of(body.shape)) {
        const std::string& origin = body.names.Find(face).origin;
        made.roles.push_back({face, "cut/" + (origin.find('&') == std::string::npos ? origin : "(" + origin + ")")});
    }
    return made;
}

geom::ShapeWithRoles called(geom::ShapeWithRoles made, const std::string& name) {
    for (geom::FaceRole& role : made.roles) {
        role.role += name.empty() ? "" : "/" + name;
    }
    return made;
}

} // namespace

std::vector<FieldOption> sides_of_a_blade() {
    return {{"both", "Both sides, as two bodies"}, {"front", "The front"}, {"back", "The back"}};
}

Sides sides_kept(const Choice& keeps) {
    return {keeps.value == "front"  ? Verdict::stays
            : keeps.value == "back" ? Verdict::goes
                                    : Verdict::apart,
            keeps.value == "front" ? Verdict::goes : Verdict::stays};
}

CutterList::CutterList(const std::vector<BodyPtr>& met, const Choice& blades_keep)
    : met_(met), blades_(sides_kept(blades_keep)) {
    for (const BodyPtr& body : met) {
        const auto [x0, y0, z0, x1, y1, z1] = box_of(*body);
        box_.add(gp_XYZ(x0, y0, z0));
        box_.add(gp_XYZ(x1, y1, z1));
    }
}

void CutterList::add(const BodyId& id, const Body& body) {
    if (body.blade) {
        add_blade(id, *body.blade, id);
        return;
    }
    if (geom::is_curves(body.shape)) {
        add_curves(id, body);
        return;
    }
    cutters.emplace_back(id, with_names(body));
    if (geom::solids_of(body.shape).empty()) {
        sides[id] = blades_;
    }
}

void CutterList::add_curves(const BodyId& id, const Body& body) {
    std::map<std::string, std::vector<TopoDS_Shape>> by_name;
    for (const auto& chain : geom::hanging_together(geom::edges_of(body.shape), TopAbs_VERTEX)) {
        std::string first;
        for (const TopoDS_Shape& edge : chain) {
            const std::string& origin = body.names.Find(edge).origin;
            first = first.empty() ? origin : std::min(first, origin);
        }
        auto& all = by_name[first.substr(first.find(':') + 1)];
        all.insert(all.end(), chain.begin(), chain.end());
    }
    for (const auto& [name, edges] : by_name) {
        geom::ShapeWithRoles made{geom::gather(edges), {}};
        for (const TopoDS_Shape& edge : edges) {
            made.roles.push_back({edge, "cut/" + body.names.Find(edge).origin});
        }
        std::string key = id;
        key += "/";
        key += name;
        cutters.emplace_back(std::move(key), std::move(made));
        sides[cutters.back().key] = blades_;
    }
}

void CutterList::add_chosen(const References& chosen, Answers& answers, StepOutput& output) {
    answers.bodies("cutters", chosen);
    for (const Reference& reference : chosen) {
        const BodyPtr body = answers.body(reference.body);
        if (body && body->blade) {
            output.blades.push_back(*body->blade);
            check_reach(*body->blade, met_, "cutters", maker_of(reference.body), answers);
        }
        if (body) {
            add(reference.body, *body);
        }
    }
}

bool CutterList::has_solids() const {
    return std::any_of(cutters.begin(), cutters.end(),
                       [this](const SweptRegion& each) { return !sides.contains(each.key); });
}

void use_up(const References& chosen, const Answers& answers, StepOutput& output) {
    for (const Reference& reference : chosen) {
        const BodyPtr body = answers.body(reference.body);
        if (body && !body->blade) {
            output.bodies[reference.body] = nullptr;
        }
    }
}

void Spared::add(const std::vector<const References*>& others, Answers& answers, std::vector<SweptRegion>& cutters,
                 CutRules& rules) const {
    for (const Reference& reference : bodies) {
        const BodyId& id = reference.body;
        const BodyPtr body = answers.body(id);
        if (!body || geom::solids_of(body->shape).empty()) {
            answers.report("spared",
                           error_finding("cut.spared", "Only solids can be spared.", "Take it off the list."));
        } else if (std::any_of(others.begin(), others.end(),
                               [&](const References* list) { return names_body(*list, id); })) {
            answers.report("spared", error_finding("cut.itself", "A body that is spared can neither be cut nor cut.",
                                                   "Take it off one of the lists."));
        } else {
            cutters.emplace_back(id, with_names(*body));
            rules.sides[id] = {Verdict::stays, Verdict::stays, true};
        }
    }
    if (are.value == "united") {
        rules.united = bodies;
    }
}

void CutterList::add_blade(const std::string& key, const geom::Blade& blade, const std::string& name) {
    if (met_.empty()) {
        return;
    }
    const std::string lost = key + "=";
    sides[key] = blades_;
    if (blade.kerf() > geom::coincidence) {
        sides[lost] = {Verdict::goes, Verdict::stays};
    }
    if (!blade.endless()) {
        if (blade.kerf() > geom::coincidence) {
            cutters.emplace_back(lost, called(geom::bounded_kerf(blade), name));
            cutters.back().front_key = key;
        } else {
            cutters.emplace_back(key, called(geom::bounded_sheet(blade), name));
        }
        return;
    }
    cutters.emplace_back(key, called(geom::in_front_of(blade.frame, blade.front, box_.corners()), name));
    if (blade.kerf() > geom::coincidence) {
        cutters.emplace_back(lost, called(geom::endless_kerf(blade, box_.corners()), name));
    }
}

void check_reach(const geom::Blade& blade, const std::vector<BodyPtr>& bodies, const char* field, int step,
                 Answers& answers) {
    std::vector<TopoDS_Shape> shapes;
    std::vector<geom::Crossing> crossings;
    for (const BodyPtr& body : bodies) {
        const auto here = geom::crossings(blade, body->shape);
        if (!here) {
            answers.report(field, error_finding("blade.unclear",
                                                "Whether the blade passes through the body could not be computed.",
                                                "Move the blade a little, or make it endless."));
            return;
        }
        crossings.insert(crossings.end(), here->begin(), here->end());
        shapes.push_back(body->shape);
    }
    if (crossings.empty()) {
        return;
    }
    const auto [x0, y0, x1, y1] = geom::window_that_passes(blade, shapes);
    const auto mm = [](double value) { return format_quantity(value, "mm") + " mm"; };
    const std::string size = mm(x1 - x0) + " by " + mm(y1 - y0);
    std::vector<Offer> offers{{"Bound it by " + size,
                               {{"bounds", "rectangle"},
                                {"width", mm(x1 - x0)},
                                {"height", mm(y1 - y0)},
                                {"middle_x", mm((x0 + x1) / 2)},
                                {"middle_y", mm((y0 + y1) / 2)}},
                               step},
                              {"Make it endless", {{"bounds", "endless"}}, step}};
    for (const geom::Crossing& crossing : crossings) {
        Finding finding =
            error_finding("blade.ends_inside", "The blade ends inside the material here, so it divides nothing.",
                          "A rectangle of " + size + " about " + mm((x0 + x1) / 2) + ", " + mm((y0 + y1) / 2) +
                              " in the blade would do.");
        geom::add_place(finding, crossing.place);
        finding.offers = std::exchange(offers, {});
        answers.report(field, std::move(finding));
    }
}

} // namespace kervo::model
