#include "model/sketching/taken.h"

#include "geom/kernel/finding_place.h"
#include "geom/measure/measure.h"
#include "geom/measure/pick.h"
#include "geom/view/project.h"
#include "model/sketching/sketch_plane.h"
#include "sketch/arrangement.h"

#include <TopoDS.hxx>
#include <gp_Lin.hxx>

#include <algorithm>
#include <cmath>

namespace kervo::model {

using sketch::Point2;
using sketch::Source;
using sketch::Stretch;

namespace {

Stretch stretch_of(const geom::OutlinePiece& piece) {
    if (!piece.poles.empty()) {
        return sketch::stretch_over(
            std::make_shared<const sketch::Spline>(sketch::spline_over(piece.poles, piece.degree, piece.knots)));
    }
    if (piece.other_half > 0) {
        return sketch::ellipse_about(piece.center, piece.axis, piece.other_half, piece.from, piece.sweep);
    }
    return piece.radius > 0 ? sketch::arc_about(piece.center, piece.radius, piece.from, piece.sweep)
                            : sketch::line_between(piece.start, piece.end);
}

Finding nothing_taken(const std::string& cause, const std::string& mend) {
    return error_finding("taken.nothing", cause, mend);
}

// Several of the same names are told apart by a number, in their order.
void number_them(std::vector<Taken>& taken) {
    std::vector<Source> seen;
    for (Taken& one : taken) {
        one.source.number = static_cast<int>(std::count(seen.begin(), seen.end(), one.source));
        Source plain = one.source;
        plain.number = 0;
        seen.push_back(std::move(plain));
    }
}

Source source_of(const std::string& kind, const BodyId& id, const Body& body, const TopoDS_Shape& element) {
    const Reference reference = refer_to(id, body, element);
    return {kind, id, reference.faces, reference.ends, 0};
}

Point2 middle_of(const Stretch& s) {
    return s.at(0.5);
}

// Parts of one candidate that run on from each other, put together again.
std::vector<Stretch> merged(const Stretch& whole, const std::vector<Stretch>& parts) {
    std::vector<std::pair<double, double>> spans;
    const bool closed = whole.closed(sketch::joining_tolerance);
    for (const Stretch& part : parts) {
        const double middle = sketch::nearest_parameter(whole, middle_of(part));
        double a = sketch::nearest_parameter(whole, part.start);
        double b = sketch::nearest_parameter(whole, part.end);
        if (a > b) {
            std::swap(a, b);
        }
        if (closed && (middle < a || middle > b)) { // it runs over the seam
            spans.emplace_back(b, 1);
            spans.emplace_back(0, a);
        } else if (closed && b - a < 1e-9) {
            spans.emplace_back(0, 1);
        } else {
            spans.emplace_back(a, b);
        }
    }
    std::sort(spans.begin(), spans.end());
    std::vector<std::pair<double, double>> runs;
    for (const auto& span : spans) {
        if (span.second - span.first < 1e-9) {
            continue;
        }
        if (!runs.empty() && span.first - runs.back().second < 1e-7) {
            runs.back().second = std::max(runs.back().second, span.second);
        } else {
            runs.push_back(span);
        }
    }
    std::vector<Stretch> out;
    for (const auto& [from, to] : runs) {
        out.push_back(from < 1e-9 && to > 1 - 1e-9 ? whole : whole.part(std::max(from, 0.0), std::min(to, 1.0)));
    }
    return out;
}

Result<std::vector<Taken>> take(const std::string& kind, const BodyId& id, const Body& body, const gp_Ax3& frame) {
    return kind == "section" ? take_section(id, body, frame) : take_silhouette(id, body, frame);
}

std::optional<Stretch> edge_now(const Source& source, const Body* body, const gp_Ax3& frame) {
    const Resolved resolved = resolve({ElementKind::edge, source.body, source.faces, source.ends, {}}, body);
    if (resolved.element.IsNull()) {
        return std::nullopt;
    }
    const auto piece = geom::project_edge(resolved.element, frame);
    return piece ? std::optional(stretch_of(*piece)) : std::nullopt;
}

} // namespace

Result<std::vector<Taken>> take_edges(const BodyId& id, const Body& body, const TopoDS_Shape& element,
                                      const gp_Ax3& frame) {
    std::vector<Taken> taken;
    for (const TopoDS_Shape& edge : geom::edges_of(element)) {
        if (const auto piece = geom::project_edge(edge, frame)) {
            taken.push_back({source_of("edge", id, body, edge), stretch_of(*piece)});
        }
    }
    number_them(taken);
    if (taken.empty()) {
        return nothing_taken("Seen from this sketch, the edge is only a point.", "Pick another edge.");
    }
    return taken;
}

Result<std::vector<Taken>> take_section(const BodyId& id, const Body& body, const gp_Ax3& frame) {
    std::vector<Taken> taken;
    const auto section = geom::section_edges(body.shape, gp_Pln(frame));
    if (!section) {
        return section.finding();
    }
    for (const auto& [edge, face] : *section) {
        const auto piece = geom::project_edge(edge, frame);
        if (!piece) {
            continue;
        }
        const Source source = face.IsNull() ? Source{"section", id, {}, {}, 0} : source_of("section", id, body, face);
        taken.push_back({source, stretch_of(*piece)});
    }
    number_them(taken);
    if (taken.empty()) {
        return nothing_taken("The plane of the sketch does not cut this body.",
                             "Pick another body, or move the plane.");
    }
    return taken;
}

Result<std::vector<Taken>> take_silhouette(const BodyId& id, const Body& body, const gp_Ax3& frame) {
    std::vector<Taken> candidates; // as they are before others cut them
    for (const TopoDS_Shape& edge : geom::edges_of(body.shape)) {
        if (const auto piece = geom::project_edge(edge, frame)) {
            candidates.push_back({source_of("silhouette", id, body, edge), stretch_of(*piece)});
        }
    }
    for (const TopoDS_Shape& face : geom::faces_of(body.shape)) {
        const auto turning = geom::turning_curves(face, frame);
        if (!turning) {
            return error_finding("taken.free_form",
                                 "The outline of a free-form face cannot be followed from this side.",
                                 "Take its edges, or a section, instead.");
        }
        for (const geom::OutlinePiece& piece : *turning) {
            candidates.push_back({source_of("silhouette", id, body, face), stretch_of(piece)});
        }
    }
    // All of them cut the plane into regions; behind some lies material. What has it on one side only is the outline.
    std::vector<Stretch> all;
    for (size_t i = 0; i < candidates.size(); ++i) {
        all.push_back(candidates[i].stretch);
        all.back().curve = static_cast<int>(i) + 1;
    }
    std::vector<std::pair<Stretch, int>> sides; // and how many covered regions they bound
    Progress progress;
    const auto arranged = sketch::arrange(all, progress, sketch::Folds::are_cut);
    if (!arranged.findings.empty()) {
        return arranged.findings.front();
    }
    for (const sketch::Region& region : arranged.regions) {
        if (geom::hits_along(body.shape, gp_Lin(in_space(frame, region.inside), frame.Direction())).empty()) {
            continue;
        }
        for (const auto& loop : region.loops) {
            for (const Stretch& side : loop) {
                const auto known = std::find_if(sides.begin(), sides.end(), [&](const auto& other) {
                    return sketch::distance(middle_of(other.first), middle_of(side)) < sketch::joining_tolerance;
                });
                if (known == sides.end()) {
                    sides.emplace_back(side, 1);
                } else {
                    ++known->second;
                }
            }
        }
    }
    std::map<int, std::vector<Stretch>> parts;
    for (const auto& [side, count] : sides) {
        if (count == 1) {
            parts[side.curve].push_back(side);
        }
    }
    std::vector<Taken> taken;
    for (const auto& [curve, own] : parts) {
        const Taken& candidate = candidates[static_cast<size_t>(curve) - 1];
        for (const Stretch& run : merged(candidate.stretch, own)) {
            taken.push_back({candidate.source, run});
        }
    }
    number_them(taken);
    if (taken.empty()) {
        return nothing_taken("Nothing is seen of this body.", "Pick another body.");
    }
    return taken;
}

bool freeze(sketch::Sketch& drawing, int curve, bool on) {
    sketch::Curve* taken = drawing.curve(curve);
    if (taken == nullptr || taken->source.kind.empty() || taken->source.frozen == on) {
        return false;
    }
    taken->source.frozen = on;
    if (on) {
        drawing.add_constraint(sketch::ConstraintKind::fixed, {curve});
    } else {
        std::erase_if(drawing.constraints, [&](const sketch::Constraint& constraint) {
            return constraint.kind == sketch::ConstraintKind::fixed && constraint.on == std::vector<int>{curve};
        });
    }
    return true;
}

std::vector<int> add_taken(sketch::Sketch& drawing, const std::vector<Taken>& taken) {
    std::vector<Stretch> fresh;
    std::vector<Source> sources;
    std::vector<int> thawed;
    for (const Taken& one : taken) {
        const auto same = [&](const sketch::Curve& curve) {
            Source source = curve.source;
            source.frozen = false;
            return source == one.source;
        };
        const auto at = std::find_if(drawing.curves.begin(), drawing.curves.end(), same);
        const bool known = at != drawing.curves.end();
        if (known && freeze(drawing, at->id, false)) {
            thawed.push_back(at->id);
        }
        if (!known && one.stretch.length() > sketch::joining_tolerance) {
            fresh.push_back(one.stretch);
            sources.push_back(one.source);
        }
    }
    auto ids = sketch::add_curves(drawing, fresh);
    for (size_t i = 0; i < ids.size(); ++i) {
        drawing.curve(ids[i])->source = sources[i];
    }
    ids.insert(ids.end(), thawed.begin(), thawed.end());
    return ids;
}

Findings follow_sources(sketch::Sketch& drawing, const std::map<BodyId, BodyPtr>& bodies, const gp_Ax3& frame) {
    Findings findings;
    std::map<std::pair<std::string, BodyId>, std::vector<Taken>> whole;
    for (size_t i = 0; i < drawing.curves.size(); ++i) {
        const Source source = drawing.curves[i].source;
        const int id = drawing.curves[i].id;
        if (!source) {
            continue;
        }
        const auto at = bodies.find(source.body);
        const Body* body = at == bodies.end() ? nullptr : at->second.get();
        std::optional<Stretch> now;
        if (source.kind == "edge") {
            now = edge_now(source, body, frame);
        } else if (body != nullptr) {
            const auto [all, fresh] = whole.try_emplace({source.kind, source.body});
            if (fresh) {
                const auto taken = take(source.kind, source.body, *body, frame);
                all->second = taken ? *taken : std::vector<Taken>{};
            }
            for (const Taken& one : all->second) {
                if (one.source == source) {
                    now = one.stretch;
                }
            }
        }
        if (!now || !sketch::lay(drawing, id, *now)) {
            Finding lost = warning_finding("taken.lost",
                                           "A curve that was taken from the model is no longer found there; it stays "
                                           "where it was.",
                                           "Delete it, freeze it, or take it again.");
            const gp_Pnt place = in_space(frame, middle_of(sketch::stretch_of(drawing, *drawing.curve(id))));
            geom::add_place(lost, place);
            findings.push_back(std::move(lost));
        }
    }
    for (const auto& [key, taken] : whole) {
        const bool grown = std::any_of(taken.begin(), taken.end(), [&](const Taken& one) {
            return std::none_of(drawing.curves.begin(), drawing.curves.end(),
                                [&](const sketch::Curve& curve) { return curve.source == one.source; });
        });
        if (grown) {
            findings.push_back(warning_finding("taken.more",
                                               "A " + key.first + " in this sketch has more curves than were taken.",
                                               "Take it again to have the new ones too."));
        }
    }
    return findings;
}

} // namespace kervo::model
