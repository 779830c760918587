#include "model/steps/revolve/revolve.h"

#include "geom/kernel/copy.h"
#include "geom/kernel/finding_place.h"
#include "geom/measure/measure.h"
#include "geom/surface/swept_curves.h"
#include "model/document/step_of.h"
#include "model/sketching/sketch_plane.h"

#include <cmath>
#include <numbers>

namespace kervo::model {

namespace {

constexpr double tau = 2 * std::numbers::pi;
constexpr double slack = 1e-7; // mm and rad, as the kernel takes two places or directions for one

// An axis in the plane of a sketch: where it passes, and the angle of its direction.
struct FlatAxis {
    sketch::Point2 at{};
    double way = 0;
};

gp_Ax1 axis_in_space(const gp_Ax3& frame, const FlatAxis& axis) {
    const gp_Vec direction =
        gp_Vec(frame.XDirection()) * std::cos(axis.way) + gp_Vec(frame.YDirection()) * std::sin(axis.way);
    return {in_space(frame, axis.at), gp_Dir(direction)};
}

class Turning {
public:
    /// `here`: a place of what is turned.
    Turning(const Revolve& step, const SketchResult& drawn, const gp_Pnt& here, Answers& answers)
        : step_(step), drawn_(drawn), here_(here), answers_(answers) {}

    std::optional<FlatAxis> axis() const {
        if (step_.axis.value == "x") {
            return FlatAxis{};
        }
        if (step_.axis.value == "y") {
            return FlatAxis{{}, std::numbers::pi / 2};
        }
        return step_.axis.value == "guide" ? guide() : element();
    }

    /// Where the turn begins and how far it goes, rad.
    std::optional<std::pair<double, double>> turn(const FlatAxis& axis) const {
        const double sign = step_.way.value == "right" ? -1 : 1;
        if (step_.turn.value == "whole") {
            return std::pair(0.0, tau);
        }
        if (step_.turn.value == "face") {
            const auto angle = to_face(axis);
            if (!angle) {
                return std::nullopt;
            }
            double sweep = std::fmod(sign * *angle + 2 * tau, tau);
            sweep = sweep < slack ? tau : sweep; // the face lies in the plane of the sketch: once round
            return std::pair(0.0, sign * sweep);
        }
        const double angle = answers_.number("angle", step_.angle, angle_dimension);
        if (answers_.ok() && (angle < slack || angle > tau + slack)) {
            answers_.report("angle", error_finding("revolve.angle", "Nothing turns by this angle.",
                                                   "Give an angle above 0 and up to 360 deg; the way is a choice."));
        }
        if (!answers_.ok()) {
            return std::nullopt;
        }
        const bool symmetric = step_.turn.value == "symmetric";
        return std::pair(symmetric ? -angle / 2 : 0.0, symmetric ? angle : sign * angle);
    }

    /// A region that lies on both sides of its axis would run through itself.
    void check_sides(const FlatAxis& axis, const TakenRegion& taken) const {
        const double c = std::cos(axis.way);
        const double s = std::sin(axis.way);
        double low = 0;
        double high = 0;
        for (const auto& loop : taken.region->loops) {
            for (const auto& stretch : loop) {
                const sketch::Similarity square{
                    c, -s, {-c * axis.at[0] - s * axis.at[1], s * axis.at[0] - c * axis.at[1]}, false};
                const auto placed = stretch.placed(square);
                for (const double t : sketch::monotone_parts(placed)) { // there it reaches farthest
                    low = std::min(low, placed.at(t)[1]);
                    high = std::max(high, placed.at(t)[1]);
                }
            }
        }
        if (low < -slack && high > slack) {
            Finding finding = error_finding("revolve.crosses_axis",
                                            "A region lies on both sides of the axis: " +
                                                format_quantity(std::min(-low, high), "mm", 3) + " mm reach over.",
                                            "Draw it on one side of the axis, or let the axis be one of its borders.");
            geom::add_place(finding, taken.inside());
            answers_.report("regions", std::move(finding));
        }
    }

private:
    std::optional<FlatAxis> guide() const {
        std::vector<sketch::Stretch> lines;
        for (const auto& stretch : sketch::stretches_of(drawn_.solution.sketch, true)) {
            if (stretch.kind == sketch::StretchKind::line &&
                drawn_.solution.sketch.curve(stretch.curve)->construction) {
                lines.push_back(stretch);
            }
        }
        if (lines.size() != 1) {
            answers_.report("axis", error_finding("revolve.guide",
                                                  lines.empty() ? "The sketch has no line that is a guide."
                                                                : "The sketch has " + std::to_string(lines.size()) +
                                                                      " lines that are guides.",
                                                  "Draw one line as the axis and make it a guide (G), or choose "
                                                  "another axis."));
            return std::nullopt;
        }
        return FlatAxis{lines[0].start, lines[0].heading(true)};
    }

    std::optional<FlatAxis> element() const {
        const TopoDS_Shape picked = answers_.element("axis_element", step_.axis_element);
        if (picked.IsNull()) {
            return std::nullopt;
        }
        const auto axis = geom::axis_of(picked);
        const gp_Dir& normal = drawn_.frame.Direction();
        if (!axis) {
            answers_.report("axis_element", error_finding("revolve.no_axis", "This element has no axis.",
                                                          "Pick a straight or round edge, or a round face."));
            return std::nullopt;
        }
        const double aside = gp_Vec(drawn_.frame.Location(), axis->Location()).Dot(gp_Vec(normal));
        if (!axis->Direction().IsNormal(normal, slack) || std::fabs(aside) > slack) {
            answers_.report("axis_element",
                            error_finding("revolve.axis_aside", "The axis does not lie in the plane of the sketch.",
                                          "Pick an axis in that plane, or draw the sketch on a plane through it."));
            return std::nullopt;
        }
        const sketch::Point2 at = on_plane(drawn_.frame, axis->Location());
        const sketch::Point2 ahead = on_plane(drawn_.frame, axis->Location().Translated(gp_Vec(axis->Direction())));
        return FlatAxis{at, std::atan2(ahead[1] - at[1], ahead[0] - at[0])};
    }

    // The turn, counterclockwise about the axis, that brings the plane of the sketch into that of the face: the half
    // plane where the regions lie, into the half where the face lies.
    std::optional<double> to_face(const FlatAxis& flat) const {
        const TopoDS_Shape face = answers_.element("to_face", step_.to_face);
        if (face.IsNull()) {
            return std::nullopt;
        }
        const gp_Ax1 axis = axis_in_space(drawn_.frame, flat);
        const auto plane = geom::plane_of(face);
        const bool through = plane && plane->Axis().Direction().IsNormal(axis.Direction(), slack) &&
                             plane->Distance(axis.Location()) < slack;
        if (!through) {
            answers_.report("to_face",
                            error_finding("revolve.face_aside", "This face does not lie in a plane through the axis.",
                                          "Pick a flat face whose plane holds the axis, or give an angle."));
            return std::nullopt;
        }
        const auto across = [&](const gp_Pnt& p) { // from the axis to the point
            const gp_Vec from(axis.Location(), p);
            return from - gp_Vec(axis.Direction()) * from.Dot(gp_Vec(axis.Direction()));
        };
        const gp_Vec there = across(geom::center_of(face));
        const gp_Vec here = across(here_);
        if (there.Magnitude() < slack || here.Magnitude() < slack) {
            answers_.report("to_face", error_finding("revolve.face_aside", "This face lies on both sides of the axis.",
                                                     "Pick a face beside the axis, or give an angle."));
            return std::nullopt;
        }
        return here.AngleWithRef(there, gp_Vec(axis.Direction()));
    }

    const Revolve& step_;
    const SketchResult& drawn_;
    const gp_Pnt here_;
    Answers& answers_;
};

bool lies_on_both_sides(const TopoDS_Shape& face, const gp_Ax3& frame, const gp_Ax1& axis) {
    gp_Trsf level; // the axis becomes x, across it in the plane becomes y
    level.SetTransformation(gp_Ax3(axis.Location(), frame.Direction(), axis.Direction()));
    const auto box = geom::box_of(face.Moved(TopLoc_Location(level)));
    return box[1] < -slack && box[4] > slack;
}

// What curves sweep, each chain a surface.
std::vector<SweptRegion> turned_curves(const Revolve& step, Answers& answers) {
    std::vector<SweptRegion> turned;
    for (const CurveChain& chain : drawn_chains(step.sketch, answers)) {
        const SketchResult& drawn = *answers.sketch("sketch", step.sketch);
        const Turning turning(step, drawn, in_space(drawn.frame, chain.pieces.front().start), answers);
        const auto flat = turning.axis();
        const auto range = flat && answers.ok() ? turning.turn(*flat) : std::nullopt;
        if (!range) {
            break;
        }
        auto made = geom::surface_about(drawn.frame, chain.pieces, axis_in_space(drawn.frame, *flat), range->first,
                                        range->second);
        if (!made) {
            answers.report("sketch", made.finding());
            break;
        }
        turned.emplace_back(chain.key, std::move(*made));
    }
    return turned;
}

} // namespace

std::vector<SweptRegion> Revolve::cutters(const std::vector<BodyPtr>& /*bodies*/, Answers& answers,
                                          StepOutput& output) const {
    if (taking.curves()) {
        return turned_curves(*this, answers);
    }
    if (taking.offers_curves(sketch, regions, result, answers)) {
        return {};
    }
    std::vector<SweptRegion> turned;
    for (const TakenRegion& taken : chosen_regions(sketch, regions, answers, output)) {
        const Turning turning(*this, *taken.sketch, taken.inside(), answers);
        const auto flat = answers.ok() ? turning.axis() : std::nullopt;
        if (!flat) {
            break;
        }
        turning.check_sides(*flat, taken);
        if (const auto range = answers.ok() ? turning.turn(*flat) : std::nullopt) {
            const Profile profile = profile_of(taken);
            const gp_Ax1 about = axis_in_space(profile.frame, *flat);
            const auto make = [profile, about, range = *range](const std::vector<geom::OutlineLoop>& loops) {
                const auto face = geom::make_profile_face(profile.frame, loops);
                return SweptRegion(profile.key, geom::make_revolution(face, about, range.first, range.second));
            };
            turned.push_back(make(profile.loops));
            turned.back().with_profile = [profile, make, about](double scale) -> Result<SweptRegion> {
                const auto loops = geom::scaled(profile.loops, scale, geom::middle_of(profile.loops));
                if (lies_on_both_sides(geom::make_profile_face(profile.frame, loops).face, profile.frame, about)) {
                    return error_finding("revolve.crosses_axis",
                                         "A copy is so much larger that it lies on both sides of the axis.",
                                         "Let the formula of its size give less.");
                }
                return make(loops);
            };
        }
    }
    return turned;
}

StepOutput Revolve::evaluate(const StepInputs& inputs) const {
    return carry_out(
        inputs,
        [&](const std::vector<BodyPtr>& bodies, Answers& answers, StepOutput& output) {
            return cutters(bodies, answers, output);
        },
        &taking);
}

std::vector<StepVerb> Revolve::verbs() {
    return {{"revolve_cut", StepVerb::Group::cut, "Revolve cut",
             "Cuts chosen bodies with regions turned about an axis: grooves.", "", "Revolve cut", Revolve::cut, true,
             "extrude_cut"},
            {"revolve", StepVerb::Group::join, "Revolve", "Turns regions of a sketch about an axis to a body.", "V",
             "Revolve", [] { return Revolve(); }, true, "extrude"}};
}

template struct StepOf<Revolve>;

} // namespace kervo::model
