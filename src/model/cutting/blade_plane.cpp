#include "model/cutting/blade_plane.h"

#include "geom/cut/blade.h"
#include "geom/measure/measure.h"
#include "geom/outline/profile.h"
#include "model/sketching/place_of.h"
#include "model/steps/sketch/sketch_step.h"

#include <cmath>

namespace kervo::model {

namespace {

class Plane {
public:
    Plane(const BladePlane& blade, Answers& answers) : blade_(blade), answers_(answers) {}

    std::optional<gp_Ax3> made() {
        const std::string& way = blade_.plane.value;
        if (way == "principal") {
            return principal_frame(blade_.principal.value);
        }
        if (way == "face") {
            return of_face("face", blade_.face);
        }
        if (way == "points") {
            return through_points();
        }
        if (way == "edge_angle") {
            return at_angle();
        }
        if (way == "square_axis") {
            return square_to_axis();
        }
        if (way == "midway") {
            return midway();
        }
        if (way == "parallel") {
            return parallel();
        }
        if (way == "tangent") {
            return tangent();
        }
        return way == "curve" ? square_to_curve() : by_numbers();
    }

private:
    std::optional<gp_Ax3> none(const char* field, const char* cause, const char* mend) {
        answers_.report(field, error_finding("blade.no_plane", cause, mend));
        return std::nullopt;
    }

    std::optional<gp_Pln> flat(const char* field, const References& references) {
        const TopoDS_Shape face = answers_.element(field, references);
        if (face.IsNull()) {
            return std::nullopt;
        }
        const auto plane = geom::plane_of(face);
        if (!plane) {
            none(field, "This face is not flat.", "Pick a flat one.");
        }
        return plane;
    }
    std::optional<gp_Ax3> of_face(const char* field, const References& references) {
        const auto plane = flat(field, references);
        return plane ? std::optional(geom::frame_on_plane(*plane)) : std::nullopt;
    }
    std::optional<gp_Pnt> vertex(const char* field, const References& references) {
        const TopoDS_Shape found = answers_.element(field, references);
        return found.IsNull() ? std::nullopt : std::optional(geom::center_of(found));
    }

    std::optional<gp_Ax3> through_points() {
        const auto found = answers_.elements("points", blade_.points);
        if (!answers_.ok()) {
            return std::nullopt;
        }
        if (found.size() != 3) {
            return none("points", "A blade goes through three points.", "Pick three vertices.");
        }
        const gp_Pnt a = geom::center_of(found[0].element);
        const gp_Vec ab(a, geom::center_of(found[1].element));
        const gp_Vec ac(a, geom::center_of(found[2].element));
        const gp_Vec normal = ab.Crossed(ac);
        if (normal.Magnitude() < 1e-9 * (ab.SquareMagnitude() + ac.SquareMagnitude())) {
            return none("points", "The three points are in line.", "Pick another third one.");
        }
        return gp_Ax3(a, gp_Dir(normal), gp_Dir(ab));
    }

    std::optional<gp_Ax3> at_angle() {
        const TopoDS_Shape edge = answers_.element("edge", blade_.edge);
        const TopoDS_Shape face = answers_.element("from_face", blade_.from_face);
        const double angle = answers_.number("angle", blade_.angle, angle_dimension);
        if (edge.IsNull() || face.IsNull() || !answers_.ok()) {
            return std::nullopt;
        }
        const auto way = geom::direction_of(edge);
        const auto plane = geom::plane_of(face);
        if (!way) {
            return none("edge", "This edge is not straight.", "Pick a straight one.");
        }
        if (!plane || !way->IsNormal(plane->Axis().Direction(), 1e-7)) {
            return none("from_face", "It is no flat face along the edge.", "Pick a flat face beside the edge.");
        }
        // Turned from the face into the material, whichever way the edge was drawn.
        const gp_Vec normal(plane->Axis().Direction());
        const gp_Pnt at = geom::center_of(edge);
        gp_Dir about = *way;
        if (normal.Crossed(gp_Vec(about)).Dot(gp_Vec(at, geom::center_of(face))) > 0) {
            about.Reverse();
        }
        return gp_Ax3(at, plane->Axis().Direction(), about).Rotated(gp_Ax1(at, about), angle);
    }

    std::optional<gp_Ax3> square_to_axis() {
        const gp_Ax1 axis = answers_.axis("axis_element", blade_.axis, blade_.axis_element);
        const auto point = blade_.at.value == "point" ? vertex("axis_point", blade_.axis_point) : gp_Pnt();
        return answers_.ok() && point ? std::optional(geom::plane_at(*point, axis.Direction())) : std::nullopt;
    }

    std::optional<gp_Ax3> midway() {
        const auto one = flat("first", blade_.first);
        const auto two = flat("second", blade_.second);
        return one && two ? std::optional(geom::midway(*one, *two, blade_.between.value == "outer")) : std::nullopt;
    }

    std::optional<gp_Ax3> parallel() {
        auto frame = blade_.parallel.value == "face" ? of_face("parallel_face", blade_.parallel_face)
                                                     : principal_frame(blade_.parallel.value);
        const auto point = vertex("through", blade_.through);
        if (!frame || !point) {
            return std::nullopt;
        }
        const gp_Vec normal(frame->Direction());
        return frame->Translated(normal * gp_Vec(frame->Location(), *point).Dot(normal));
    }

    std::optional<gp_Ax3> tangent() {
        const TopoDS_Shape face = answers_.element("round_face", blade_.round_face);
        if (face.IsNull()) {
            return std::nullopt;
        }
        std::optional<gp_Ax3> frame;
        if (blade_.touches.value == "point") {
            const auto point = vertex("touching", blade_.touching);
            if (!point) {
                return std::nullopt;
            }
            frame = geom::tangent_plane(face, *point);
        } else {
            const gp_Ax1 towards = answers_.axis("towards_element", blade_.towards, blade_.towards_element);
            const double turn = answers_.number("turn", blade_.turn, angle_dimension);
            if (!answers_.ok()) {
                return std::nullopt;
            }
            frame = geom::tangent_plane(face, towards.Direction(), turn);
        }
        return frame ? frame
                     : none("round_face", "No plane touches this face there.",
                            "Pick a cylinder, cone, sphere or ring and a way across its axis, or a point beside the "
                            "face.");
    }

    std::optional<gp_Ax3> square_to_curve() {
        const TopoDS_Shape edge = answers_.element("curve", blade_.curve);
        const bool share = blade_.place_is.value == "share";
        const double value = share ? answers_.number("share", blade_.share, plain_number)
                                   : answers_.number("along", blade_.along, length_dimension);
        if (edge.IsNull() || !answers_.ok()) {
            return std::nullopt;
        }
        const double length = geom::length_of(edge);
        const auto frame = geom::square_to(edge, share ? value * length : value);
        if (!frame) {
            answers_.report(share ? "share" : "along",
                            error_finding("blade.no_plane", "This place is not on the edge.",
                                          "The edge is " + format_fixed(length, "mm") + " mm long."));
        }
        return frame;
    }

    std::optional<gp_Ax3> by_numbers() {
        const gp_Pnt origin(answers_.number("origin_x", blade_.origin_x, length_dimension),
                            answers_.number("origin_y", blade_.origin_y, length_dimension),
                            answers_.number("origin_z", blade_.origin_z, length_dimension));
        const gp_Vec normal(answers_.number("normal_x", blade_.normal_x, plain_number),
                            answers_.number("normal_y", blade_.normal_y, plain_number),
                            answers_.number("normal_z", blade_.normal_z, plain_number));
        if (!answers_.ok()) {
            return std::nullopt;
        }
        if (normal.Magnitude() < 1e-9) {
            return none("normal_x", "It has no direction.", "One of the three numbers must not be zero.");
        }
        return geom::plane_at(origin, gp_Dir(normal));
    }

    const BladePlane& blade_;
    Answers& answers_;
};

} // namespace

std::optional<gp_Ax3> BladePlane::frame(Answers& answers, StepOutput& output) const {
    auto frame = Plane(*this, answers).made();
    const double distance = answers.number("offset", offset, length_dimension);
    if (!frame || !answers.ok()) {
        return std::nullopt;
    }
    const gp_Pnt start = frame->Location();
    if (turned.value == "yes") { // about x, so that what lies in the plane keeps its place along it
        frame->Rotate(gp_Ax1(frame->Location(), frame->XDirection()), M_PI);
    }
    frame->Translate(gp_Vec(frame->Direction()) * distance);
    output.dimensions.push_back(
        {"offset", place_of(start), place_of(frame->Location()), 1, place_of(frame->Direction())});
    return frame;
}

} // namespace kervo::model
