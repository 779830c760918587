#include "model/cutting/reaching.h"

#include "geom/kernel/by_shape.h"
#include "geom/kernel/finding_place.h"
#include "geom/make/curves_on_face.h"
#include "geom/surface/extend.h"
#include "geom/surface/reach.h"
#include "model/names/names.h"

#include <algorithm>
#include <utility>

namespace kervo::model {

namespace {

// Of each border edge, what is missing at most.
std::vector<geom::BorderExtension> missing_of(const TopoDS_Shape& surface, const std::vector<BodyPtr>& bodies) {
    std::vector<geom::BorderExtension> all;
    for (const BodyPtr& body : bodies) {
        for (const geom::ShortBorder& each : geom::short_borders(surface, body->shape)) {
            const auto known =
                std::find_if(all.begin(), all.end(), [&](const auto& other) { return other.edge.IsSame(each.edge); });
            if (known == all.end()) {
                all.push_back({each.edge, each.missing});
            } else {
                known->amount = std::max(known->amount, each.missing);
            }
        }
    }
    return all;
}

// What is added is called after the face that it goes on from.
geom::ShapeWithRoles with_roles(const geom::Altered& grown, const geom::ShapeWithRoles& before) {
    geom::ByShape<std::string> role_of;
    for (const geom::FaceRole& role : before.roles) {
        if (role.face.ShapeType() != TopAbs_FACE) {
            continue;
        }
        role_of.Bind(role.face, role.role);
        for (const TopoDS_Shape& edge : geom::edges_of(role.face)) {
            if (!role_of.IsBound(edge)) {
                role_of.Bind(edge, role.role);
            }
        }
    }
    geom::ShapeWithRoles made{grown.shape, {}};
    geom::ByShape<bool> known;
    for (const geom::FaceOrigin& origin : grown.origins) {
        if (origin.result.ShapeType() == TopAbs_FACE && !known.IsBound(origin.result)) {
            known.Bind(origin.result, true);
            made.roles.push_back({origin.result, role_of.Find(origin.source)});
        }
    }
    for (const auto& added : grown.made) {
        made.roles.push_back({added.face, role_of.Find(added.source)});
    }
    return made;
}

} // namespace

Result<SweptRegion> Reaching::reaching(const SweptRegion& surface, const std::vector<BodyPtr>& bodies,
                                       Progress& progress) {
    constexpr int rounds = 3; // what is added may end inside the material at its sides
    geom::ShapeWithRoles now = surface.solid();
    for (int i = 0; i < rounds; ++i) {
        const auto missing = missing_of(now.shape, bodies);
        if (missing.empty()) {
            break;
        }
        const auto grown = geom::extended_borders(now.shape, missing, geom::Continuation::straight, progress);
        if (!grown) {
            return grown.finding();
        }
        now = with_roles(*grown, now);
    }
    return SweptRegion(surface.key, std::move(now));
}

Result<SweptRegion> Reaching::curves_reaching(const SweptRegion& curves, const std::vector<BodyPtr>& bodies,
                                              Progress& progress) {
    const geom::ShapeWithRoles& now = curves.solid();
    geom::ByShape<std::string> role_of;
    for (const geom::FaceRole& role : now.roles) {
        role_of.Bind(role.face, role.role);
    }
    std::vector<std::string> roles;
    for (const TopoDS_Shape& edge : geom::edges_of(now.shape)) {
        roles.push_back(role_of.Find(edge));
    }
    std::vector<geom::GoneOn> added;
    for (const BodyPtr& body : bodies) {
        const auto more = geom::gone_on_to_borders(now.shape, body->shape, progress);
        if (!more) {
            return more.finding();
        }
        for (const geom::GoneOn& each : *more) {
            added.push_back(each);
            roles.push_back(role_of.Find(each.from));
        }
    }
    if (added.empty()) {
        return curves;
    }
    const auto edges = geom::joined_with(now.shape, added);
    geom::ShapeWithRoles made{geom::gather({edges.begin(), edges.end()}), {}};
    for (size_t i = 0; i < edges.size(); ++i) {
        made.roles.push_back({edges[i], roles[i]});
    }
    return SweptRegion(curves.key, std::move(made));
}

void Reaching::apply(std::vector<SweptRegion>& cutters, const std::vector<BodyPtr>& bodies, const char* field,
                     Answers& answers) const {
    for (SweptRegion& cutter : cutters) {
        if (!extends() || !answers.ok() || cutter.is_blade() || !(cutter.is_surface() || cutter.is_curves())) {
            continue;
        }
        auto longer = (cutter.is_curves() ? curves_reaching : reaching)(cutter, bodies, answers.progress());
        if (longer) {
            cutter = std::move(*longer);
        } else {
            answers.report(field, longer.finding());
        }
    }
}

bool tell_short_borders(const SweptRegion& surface, const TopoDS_Shape& body, const char* field, Answers& answers) {
    const auto all = geom::short_borders(surface.solid().shape, body);
    std::vector<Offer> offers{Reaching::offer()};
    for (const geom::ShortBorder& each : all) {
        Finding finding = error_finding(
            "surface.short",
            "The surface ends inside the material here: " + format_quantity(each.missing, "mm") + " mm are missing.",
            "Extend it there by that, or by more.");
        geom::add_place(finding, each.place);
        finding.offers = std::exchange(offers, {});
        answers.report(field, std::move(finding));
    }
    return !all.empty();
}

} // namespace kervo::model
