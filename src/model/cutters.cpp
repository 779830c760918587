#include "model/cutters.h"

#include "geom/finding_place.h"
#include "geom/measure.h"

#include <algorithm>

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

Sides sides_kept(const std::string& keeps) {
    return {keeps == "front"  ? Verdict::stays
            : keeps == "back" ? Verdict::goes
                              : Verdict::apart,
            keeps == "front" ? Verdict::goes : Verdict::stays};
}

} // namespace

std::vector<FieldOption> sides_of_a_blade() {
    return {{"both", "Both sides, as two bodies"}, {"front", "The front"}, {"back", "The back"}};
}

CutterList::CutterList(const std::vector<BodyPtr>& met, const Choice& blades_keep)
    : blades_(sides_kept(blades_keep.value)), meets_something_(!met.empty()) {
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
    cutters.emplace_back(id, with_names(body));
    if (geom::solids_of(body.shape).empty()) {
        sides[id] = blades_;
    }
}

FieldInfo asks_for_spared() {
    return FieldInfo("spared", "Spared", Question::what_is_cut,
                     "Bodies around which the cut passes: what is in them stays.")
        .picks({ElementKind::body})
        .one_by_one();
}

void add_spared(const References& spared, const References& workpieces, Answers& answers,
                std::vector<SweptRegion>& cutters, SidesOfCutters& sides) {
    for (const Reference& reference : spared) {
        const BodyId& id = reference.body;
        const BodyPtr body = answers.body(id);
        if (!body || geom::solids_of(body->shape).empty()) {
            answers.report("spared",
                           error_finding("cut.spared", "Only solids can be spared.", "Take it off the list."));
        } else if (std::any_of(workpieces.begin(), workpieces.end(),
                               [&](const Reference& each) { return each.body == id; })) {
            answers.report("spared", error_finding("cut.itself", "A body cannot be cut and be spared.",
                                                   "Take it off one of the lists."));
        } else {
            cutters.emplace_back(id, with_names(*body));
            sides[id] = {Verdict::stays, Verdict::stays, true};
        }
    }
}

void CutterList::add_blade(const std::string& key, const geom::Blade& blade, const std::string& name) {
    if (!meets_something_) {
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

void check_reach(const geom::Blade& blade, const std::vector<BodyPtr>& bodies, const char* field, Answers& answers) {
    if (blade.endless()) {
        return;
    }
    const auto mm = [](double value) { return format_fixed(value, "mm"); };
    for (const BodyPtr& body : bodies) {
        for (const geom::Crossing& crossing : geom::crossings(blade, body->shape)) {
            const auto& [x0, y0, x1, y1] = crossing.needed;
            Finding finding =
                error_finding("blade.ends_inside", "The blade ends inside the material here, so it divides nothing.",
                              "From x " + mm(x0) + " to " + mm(x1) + " and y " + mm(y0) + " to " + mm(y1) +
                                  " mm in the blade would do: a rectangle of " + mm(x1 - x0) + " by " + mm(y1 - y0) +
                                  " mm about " + mm((x0 + x1) / 2) + ", " + mm((y0 + y1) / 2) + ".");
            geom::add_place(finding, crossing.place);
            answers.report(field, std::move(finding));
        }
    }
}

} // namespace kervo::model
