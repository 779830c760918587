#include "model/steps/section/section.h"

#include "geom/cut/blade.h"
#include "geom/cut/score.h"
#include "geom/kernel/finding_place.h"
#include "geom/measure/measure.h"
#include "geom/measure/section_properties.h"
#include "geom/outline/profile.h"
#include "geom/surface/sew.h"
#include "geom/view/section_of.h"
#include "model/document/step_of.h"
#include "model/names/border_names.h"
#include "model/sketching/place_of.h"

#include <TopoDS.hxx>

#include <cmath>

namespace kervo::model {

namespace {

constexpr size_t most_planes = 2000;

// What one plane makes of all bodies.
class Slice {
public:
    Slice(const SectionStep& step, const StepInputs& inputs, const gp_Ax3& plane)
        : step_(step), inputs_(inputs), plane_(plane), origin_(std::to_string(inputs.step) + ":") {}

    // Nothing, or why it cannot be made.
    std::optional<Finding> cut(const BodyId& id, const Body& body) {
        const auto faces = geom::faces_of(body.shape);
        if (geom::solids_of(body.shape).empty()) {
            return cut_surface(id, body);
        }
        const auto section = geom::section_of(body.shape, plane_);
        if (!section) {
            return section.finding();
        }
        touches_ = touches_ || section->touches;
        for (const geom::SectionFace& each : section->faces) {
            geom::ProfileFace profile{TopoDS::Face(each.face), {}, plane_};
            for (const auto& [edge, source] : each.cut) {
                const FaceName* name = source < 0 ? nullptr : body.names.Seek(faces[static_cast<size_t>(source)]);
                profile.curve_of_edge.emplace_back(edge, name != nullptr ? name->origin : "edge");
            }
            flat_.push_back(each.face);
            add(id, profile);
        }
        return std::nullopt;
    }

    [[nodiscard]] bool empty() const { return made_.empty(); }
    /// Curves of surfaces beside what solids make.
    [[nodiscard]] bool is_mixed() const { return !curves_.empty() && curves_.size() < made_.size(); }
    [[nodiscard]] bool touches() const { return touches_; }
    [[nodiscard]] const std::vector<TopoDS_Shape>& flat() const { return flat_; }
    [[nodiscard]] const std::vector<gp_Pnt>& open_ends() const { return open_ends_; }

    // Faces side by side are one surface.
    [[nodiscard]] Result<BodyPtr> body() const {
        if (!names_.of_edges() || !curves_.empty()) {
            return name_fresh(inputs_.step, {geom::gather(made_), roles_});
        }
        constexpr double same_border = 1e-6; // mm
        const auto sewn = geom::sew(made_, same_border, *inputs_.progress);
        return sewn ? Result<BodyPtr>(name_result(sewn->shape, sewn->origins, names_)) : sewn.finding();
    }

private:
    void add(const BodyId& id, const geom::ProfileFace& profile) {
        if (step_.result.value == "curves") {
            for (const auto& [edge, label] : profile.curve_of_edge) {
                add_curve(edge, label);
            }
        } else if (step_.result.value == "ribs") {
            ribs_.push_back(profile);
            made_.push_back(profile.face);
        } else {
            made_.push_back(profile.face);
            names_.Bind(profile.face, {origin_ + "section/" + id, {}, false});
            for (const auto& [edge, label] : profile.curve_of_edge) {
                names_.Bind(edge, border_towards(origin_ + label));
            }
        }
    }

    void add_curve(const TopoDS_Shape& edge, const std::string& label) {
        made_.push_back(edge);
        curves_.push_back(edge);
        roles_.push_back({edge, "section/" + label});
    }

    std::optional<Finding> cut_surface(const BodyId& id, const Body& body) {
        const auto box = box_of(body);
        const gp_Pnt middle((box[0] + box[3]) / 2, (box[1] + box[4]) / 2, (box[2] + box[5]) / 2);
        const double reach = gp_Pnt(box[0], box[1], box[2]).Distance(gp_Pnt(box[3], box[4], box[5])) + 1;
        const gp_Vec off(plane_.Location(), middle);
        const double x = off.Dot(gp_Vec(plane_.XDirection()));
        const double y = off.Dot(gp_Vec(plane_.YDirection()));
        const auto sheet = geom::rectangle(plane_, {x - reach, y - reach, x + reach, y + reach});
        const auto curves = geom::meeting_curves(body.shape, sheet);
        if (!curves) {
            return curves.finding();
        }
        std::vector<gp_Pnt> ends;
        for (const geom::MeetingCurve& curve : *curves) {
            const FaceName* name = curve.on_one.IsNull() ? nullptr : body.names.Seek(curve.on_one);
            add_curve(curve.edge, name != nullptr ? name->origin : id);
            for (const TopoDS_Shape& vertex : geom::vertices_of(curve.edge)) {
                ends.push_back(geom::center_of(vertex));
            }
        }
        // Where a contour is closed, its ends meet in pairs.
        for (size_t i = 0; i < ends.size(); ++i) {
            const auto there = std::count_if(ends.begin(), ends.end(),
                                             [&](const gp_Pnt& other) { return other.Distance(ends[i]) < 1e-5; });
            if (there == 1) {
                open_ends_.push_back(ends[i]);
            }
        }
        return std::nullopt;
    }

public:
    // Ribs are made when their thickness is known; their volume must be that of their faces times it.
    [[nodiscard]] Result<BodyPtr> ribs(double thickness, double behind) {
        const gp_Vec normal(plane_.Direction());
        geom::ShapeWithRoles all;
        std::vector<TopoDS_Shape> solids;
        double area = 0;
        for (geom::ProfileFace& profile : ribs_) {
            area += geom::area_of(profile.face);
            gp_Trsf down;
            down.SetTranslation(normal * -behind);
            const TopLoc_Location moved(down);
            profile.face = TopoDS::Face(profile.face.Moved(moved));
            for (auto& [edge, label] : profile.curve_of_edge) {
                edge = edge.Moved(moved);
            }
            const auto rib = geom::prism_over(profile, normal * thickness);
            solids.push_back(rib.shape);
            all.roles.insert(all.roles.end(), rib.roles.begin(), rib.roles.end());
        }
        all.shape = solids.size() == 1 ? solids.front() : geom::gather(solids);
        const double volume = geom::volume_of(all.shape);
        if (std::fabs(volume - area * thickness) > 1e-7 * area * thickness) {
            return error_finding("section.failed", "The ribs are not as large as they should be.",
                                 "Make flat faces, and thicken them.");
        }
        return name_fresh(inputs_.step, all);
    }

private:
    const SectionStep& step_;
    const StepInputs& inputs_;
    gp_Ax3 plane_;
    std::string origin_;
    std::vector<TopoDS_Shape> made_, curves_, flat_;
    std::vector<geom::ProfileFace> ribs_;
    std::vector<geom::FaceRole> roles_;
    FaceNames names_;
    std::vector<gp_Pnt> open_ends_;
    bool touches_ = false;
};

// What there is to tell: of one plane all of it, of a series the areas in their order, and the largest.
void tell(const std::vector<geom::SectionProperties>& sections, StepOutput& output) {
    const auto text = [](double value) { return format_fixed(value, "", 6); };
    double sum = 0;
    std::string areas;
    for (const auto& each : sections) {
        sum += each.area;
        areas += (areas.empty() ? "" : "; ") + text(each.area);
    }
    output.facts["area"] = text(sum) + " mm2";
    if (sections.size() > 1) {
        output.facts["areas"] = areas;
    } else if (!sections.empty()) {
        const auto& s = sections.front();
        output.facts["perimeter"] = text(s.perimeter) + " mm";
        output.facts["centroid"] = text(s.x) + ", " + text(s.y) + " mm in the plane";
        output.facts["second moments"] =
            "Ixx " + text(s.ixx) + ", Iyy " + text(s.iyy) + ", Ixy " + text(s.ixy) + " mm4";
        output.facts["section moduli"] = "Wx " + text(s.wx) + ", Wy " + text(s.wy) + " mm3";
    }
}

Finding touching(const std::vector<gp_Pnt>& places) {
    Finding finding = note_finding(
        "section.touches",
        (places.size() == 1 ? "A plane touches" : std::to_string(places.size()) + " planes touch") +
            std::string(" a face, an edge or a vertex: what is made there is the section a hair in front."),
        "Move them a little if the other side was meant.");
    for (const gp_Pnt& place : places) {
        geom::add_place(finding, place);
    }
    return finding;
}

Finding open_contour(const std::vector<gp_Pnt>& ends) {
    double gap = 0;
    for (size_t i = 1; i < ends.size(); ++i) {
        gap = std::max(gap, ends.front().Distance(ends[i]));
    }
    Finding finding = note_finding(
        "section.open", "A contour is not closed: its ends are up to " + format_fixed(gap, "mm") + " mm apart.",
        "It stays open. Close the surface, if a face is wanted.");
    geom::add_place(finding, ends.front());
    return finding;
}

} // namespace

std::vector<double> SectionStep::heights(Answers& answers) const {
    if (planes.value == "one") {
        return {0};
    }
    const double first = answers.number("from", from, length_dimension);
    const double last = answers.number("to", to, length_dimension);
    const bool by_count = spaced.value == "count";
    const double wanted = by_count ? answers.number("count", count, plain_number) : 0;
    const double distance = by_count ? 0 : answers.positive("spacing", spacing);
    if (!answers.ok()) {
        return {};
    }
    const double steps = by_count ? std::round(wanted) - 1 : std::floor(std::fabs(last - first) / distance + 1e-9);
    if (by_count && std::fabs(wanted - std::round(wanted)) > 1e-9) {
        answers.report("count", error_finding("section.count", "A number of planes is a whole number.", "Round it."));
    } else if (steps < 0 || steps >= most_planes) {
        answers.report(
            by_count ? "count" : "spacing",
            error_finding("section.count", "There are to be 1 to 2000 planes.", "Take another number or distance."));
    }
    std::vector<double> all;
    const double way = by_count ? (last - first) / std::max(steps, 1.0) : std::copysign(distance, last - first);
    for (int i = 0; answers.ok() && i <= static_cast<int>(steps); ++i) {
        all.push_back(first + way * i);
    }
    return all;
}

StepOutput SectionStep::evaluate(const StepInputs& inputs) const {
    StepOutput output;
    Answers answers(inputs, output);
    answers.bodies("bodies", bodies);
    const auto frame = plane.frame(answers, output);
    const auto where = heights(answers);
    const double thick = result.value == "ribs" ? answers.positive("thickness", thickness) : 0;
    if (!answers.ok() || !frame) {
        return output;
    }
    const gp_Vec normal(frame->Direction());
    if (planes.value == "series") {
        output.dimensions.push_back({"from", place_of(frame->Location()),
                                     place_of(frame->Location().Translated(normal * where.front())), 1,
                                     place_of(frame->Direction())});
    }
    const std::string base = std::to_string(inputs.step);
    std::vector<geom::SectionProperties> sections;
    std::vector<gp_Pnt> touched;
    int number = 0;
    for (const double height : where) {
        ++number;
        const gp_Ax3 here = frame->Translated(normal * height);
        if (number == 1 || number == static_cast<int>(where.size())) {
            output.blades.push_back({here, {}});
        }
        Slice slice(*this, inputs, here);
        for (const Reference& each : bodies) {
            if (const auto failed = slice.cut(each.body, *answers.body(each.body))) {
                answers.report("bodies", *failed);
            }
        }
        if (inputs.progress->cancelled() || !answers.ok()) {
            return output;
        }
        inputs.progress->report(static_cast<double>(number) / static_cast<double>(where.size()), "sections");
        sections.push_back(geom::section_properties(slice.flat(), here));
        if (slice.touches()) {
            touched.push_back(here.Location());
        }
        if (!slice.open_ends().empty()) {
            answers.report("bodies", open_contour(slice.open_ends()));
        }
        if (slice.empty()) {
            continue;
        }
        if (slice.is_mixed()) {
            answers.report("bodies", error_finding("section.mixed", "Surfaces make curves, solids something else.",
                                                   "Cut them in two steps, or make curves of both."));
            return output;
        }
        const double behind = lies.value == "centred" ? thick / 2 : lies.value == "back" ? thick : 0;
        const bool solid = result.value == "ribs" && !slice.flat().empty();
        const auto body = solid ? slice.ribs(thick, behind) : slice.body();
        if (!body) {
            answers.report("result", body.finding());
            return output;
        }
        const BodyId id = planes.value == "one" ? base : base + "." + std::to_string(number);
        output.bodies[id] = *body;
        output.births.push_back({id, planes.value == "one" ? "" : "Section " + std::to_string(number), {}});
        output.added += solid ? geom::volume_of((*body)->shape) : 0;
    }
    if (!touched.empty()) {
        answers.report("planes", touching(touched));
    }
    if (output.bodies.empty()) {
        answers.report("plane", error_finding("section.none", "No plane passes through these bodies.",
                                              "Move the planes, or take other bodies."));
    }
    tell(sections, output);
    return output;
}

std::vector<StepVerb> SectionStep::verbs() {
    return {{"section", StepVerb::Group::cut, "Section",
             "Makes faces, curves or ribs where a plane passes through bodies.", "", "Section",
             [] { return SectionStep(); }},
            {"slices", StepVerb::Group::cut, "Slices",
             "The same by a series of planes: contours, faces or ribs side by side.", "", "Slices",
             [] {
                 SectionStep step;
                 step.planes.value = "series";
                 return step;
             },
             true, "section"}};
}

template struct StepOf<SectionStep>;

} // namespace kervo::model
