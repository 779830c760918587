#include "model/steps/free_form/free_form.h"

#include "geom/kernel/finding_place.h"
#include "geom/make/form_face.h"
#include "geom/measure/pick.h"
#include "model/document/step_of.h"
#include "model/names/altering.h"
#include "model/names/border_names.h"
#include "model/route/control_names.h"
#include "model/route/row_points.h"
#include "model/route/spanned.h"

#include <TopoDS.hxx>

#include <charconv>
#include <cmath>
#include <set>

namespace kervo::model {

namespace {

// "p2_3" is (1, 2); nothing where no such point is there.
std::optional<std::pair<int, int>> place_called(const std::string& name, const geom::FreeForm& form) {
    int row = 0;
    int column = 0;
    const char* end = name.data() + name.size();
    if (name.empty() || name.front() != 'p') {
        return std::nullopt;
    }
    const auto first = std::from_chars(name.data() + 1, end, row);
    if (first.ec != std::errc() || first.ptr == end || *first.ptr != '_') {
        return std::nullopt;
    }
    const auto second = std::from_chars(first.ptr + 1, end, column);
    const bool there = second.ec == std::errc() && second.ptr == end && row >= 1 && row <= form.rows() && column >= 1 &&
                       column <= form.columns();
    return there ? std::optional(std::pair(row - 1, column - 1)) : std::nullopt;
}

std::optional<geom::ControlPlaces> places_of(const Row& row, const geom::FreeForm& form, Answers& answers) {
    geom::ControlPlaces places;
    for (const std::string& name : row.of) {
        const auto place = place_called(name, form);
        if (!place) {
            tell_of_row(row,
                        error_finding("form.no_point", "There is no control point \u201c" + name + "\u201d.",
                                      "The last one is \u201c" +
                                          control_point_name(form.rows() - 1, form.columns() - 1) +
                                          "\u201d: row and column."),
                        answers);
            return std::nullopt;
        }
        places.push_back(*place);
    }
    return places;
}

int whole_number(const char* field, const Expression& formula, int most, const char* what, Answers& answers) {
    const double number = answers.number(field, formula, plain_number);
    if (answers.ok() && (number < 1 || number > most || number != std::floor(number))) {
        answers.report(field,
                       error_finding("form.number",
                                     std::string(what) + " is a whole number from 1 to " + std::to_string(most) + ".",
                                     "Give one of these."));
    }
    return answers.ok() ? static_cast<int>(number) : 1;
}

ControlNet net_of(const geom::FreeForm& form, bool lines) {
    ControlNet net{form.rows(), form.columns(), form.surface()->IsUPeriodic(), form.surface()->IsVPeriodic(), {}, {}};
    const auto at = [](const gp_Pnt& p) { return Place{p.X(), p.Y(), p.Z()}; };
    for (int row = 0; row < net.rows; ++row) {
        for (int column = 0; column < net.columns; ++column) {
            net.points.push_back(at(form.at(row, column)));
        }
    }
    for (const auto& line : lines ? form.lines() : std::vector<std::vector<gp_Pnt>>()) {
        std::vector<Place> chain;
        std::transform(line.begin(), line.end(), std::back_inserter(chain), at);
        net.lines.push_back(std::move(chain));
    }
    return net;
}

// Borders that stand for edges of a face are called after what is beyond those.
FaceNames names_beside(const Body& body, const TopoDS_Face& face, const geom::FormFace& made) {
    const geom::Neighbours neighbours(body.shape);
    FaceNames names;
    for (const TopoDS_Shape& edge : geom::edges_of(made.face)) {
        const TopoDS_Shape* old = made.source_of_edge.Seek(edge);
        if (old == nullptr) {
            continue;
        }
        if (const FaceName* known = body.names.Seek(*old)) { // a border itself
            names.Bind(edge, *known);
            continue;
        }
        for (const int index : neighbours.faces_at(*old)) {
            const TopoDS_Shape& other = neighbours.faces()[static_cast<size_t>(index)];
            if (!other.IsSame(face)) {
                names.Bind(edge, border_towards(body.names.Find(other).origin));
            }
        }
    }
    return names;
}

std::string by(int one, int other) {
    return std::to_string(one) + " \u00d7 " + std::to_string(other);
}

} // namespace

// What it is before its control points are moved.
std::optional<geom::FreeForm> FreeFormSurface::start(Source& source, Answers& answers, StepOutput& output) const {
    const char* const patches = "A number of patches";
    const char* const degree = "A degree";
    using geom::most_form_degree;
    using geom::most_patches;
    const std::array<geom::FormWay, 2> ways{
        geom::FormWay{whole_number("degree_first", degree_first, most_form_degree, degree, answers),
                      whole_number("patches_first", patches_first, most_patches, patches, answers)},
        geom::FormWay{whole_number("degree_second", degree_second, most_form_degree, degree, answers),
                      whole_number("patches_second", patches_second, most_patches, patches, answers)}};
    if (made.value == "flat") {
        const double wide = answers.positive("width", width);
        const double deep = answers.positive("depth", depth);
        const gp_Pnt middle(answers.number("x", x, length_dimension), answers.number("y", y, length_dimension),
                            answers.number("z", z, length_dimension));
        return answers.ok() ? std::optional(geom::flat_form(gp_Ax3(middle, gp_Dir(0, 0, 1)), wide, deep, ways))
                            : std::nullopt;
    }
    const auto picked = answers.elements("face", face);
    const double allowed = answers.positive("tolerance", tolerance);
    if (!answers.ok()) {
        return std::nullopt;
    }
    source = {picked.front().body, TopoDS::Face(picked.front().element)};
    const auto found = geom::form_of_face(source.face, ways);
    if (!found) {
        answers.report("face", found.finding());
        return std::nullopt;
    }
    output.facts["off"] = format_quantity(found->off, "mm", 3) + " mm";
    if (found->off <= allowed) {
        return found->form;
    }
    Finding finding = error_finding(
        "form.off", "With so many patches it is off the face by up to " + format_quantity(found->off, "mm", 3) + " mm.",
        "Give it more patches, a higher degree, or a larger tolerance.");
    geom::add_place(finding, found->off_at);
    for (auto more = ways; more[0].patches < most_patches || more[1].patches < most_patches;) {
        for (geom::FormWay& way : more) {
            way.patches = std::min(2 * way.patches, most_patches);
        }
        if (const auto finer = geom::form_of_face(source.face, more); finer && finer->off <= allowed) {
            finding.offers = {{"Make it of " + by(more[0].patches, more[1].patches) + " patches",
                               {{"patches_first", std::to_string(more[0].patches)},
                                {"patches_second", std::to_string(more[1].patches)}}}};
            break;
        }
    }
    answers.report("patches_first", std::move(finding));
    return std::nullopt;
}

void FreeFormSurface::work(geom::FreeForm& form, Answers& answers) const {
    if (rows.size() > most_rows) {
        answers.report("rows", too_many_rows(rows.size()));
        return;
    }
    std::set<std::string> names;
    for (const Row& row : rows) {
        if (!is_row_name(row.name) || !names.insert(row.name).second) {
            tell_of_row(row, bad_row_name(is_row_name(row.name)), answers);
            return;
        }
        const auto places = places_of(row, form, answers);
        if (!places) {
            return;
        }
        if (row.makes == "more_rows" || row.makes == "more_columns") {
            const bool first_way = row.makes == "more_rows";
            if (form.patches(first_way) > geom::most_patches / 2) {
                tell_of_row(row,
                            error_finding("form.too_many", "That would be more patches than can be worked on.",
                                          "Name the points where more are wanted, or leave the row out."),
                            answers);
                return;
            }
            form.halve(first_way, *places);
            continue;
        }
        const gp_XYZ numbers = numbers_of(row, answers);
        const double within = row.makes == "move_softly" ? answers.positive("reach", reach) : 0;
        if (places->empty()) {
            answers.report("rows",
                           note_finding("form.nobody", "Row \u201c" + row.name + "\u201d: It names no control point.",
                                        "Click some in the model, or type their names, as p2_3."));
        }
        if (!answers.ok()) {
            return;
        }
        if (row.makes == "put") {
            form.put(*places, gp_Pnt(numbers));
        } else if (row.makes == "move_softly") {
            form.move_softly(*places, numbers, within);
        } else {
            form.move(*places, numbers);
        }
    }
}

void FreeFormSurface::hand_out(const StepInputs& inputs, const geom::FormFace& made_face, const Source& source,
                               Answers& answers, StepOutput& output) const {
    const BodyPtr before = source.face.IsNull() ? nullptr : answers.body(source.body);
    const bool replaces = before && result.value == "instead";
    if (replaces && (!is_surface(*before) || geom::faces_of(before->shape).size() != 1)) {
        answers.report("result",
                       error_finding("form.not_alone", "Only a surface that is one face can be replaced by another.",
                                     "Let it be a surface of its own."));
        output.findings.back().offers = {{"Make it a surface of its own", {{"result", "apart"}}}};
        return;
    }
    const std::string step = std::to_string(inputs.step) + ":";
    FaceNames names = before ? names_beside(*before, source.face, made_face) : FaceNames();
    names.Bind(made_face.face, {step + "form", {}, false});
    name_sides(inputs.step, made_face, {"first-row", "last-row", "first-column", "last-column"}, names);
    const BodyId id = replaces ? source.body : std::to_string(inputs.step);
    output.bodies[id] = body_of_faces({made_face.face}, names);
    if (!replaces) {
        output.births.push_back({id, {}, {}});
    }
}

StepOutput FreeFormSurface::evaluate(const StepInputs& inputs) const {
    StepOutput output;
    Answers answers(inputs, output);
    Source source;
    auto form = start(source, answers, output);
    if (!form) {
        return output;
    }
    work(*form, answers);
    if (!answers.ok()) {
        return output;
    }
    output.net = net_of(*form, lines.value == "shown");
    output.facts["control points"] = by(form->rows(), form->columns());
    output.facts["patches"] = by(form->patches(true), form->patches(false));
    output.facts["counts"] =
        output.facts["control points"] + " control points, " + output.facts["patches"] + " patches";
    const bool kept = !source.face.IsNull() && outline.value == "kept";
    const auto face_of_it = kept ? geom::face_with_outline(*form, source.face) : geom::whole_face(*form);
    if (!face_of_it) {
        answers.report("rows", face_of_it.finding());
        return output;
    }
    tell_turn(face_of_it->turns, "Move the control points less far, or more of them.", "rows", answers);
    hand_out(inputs, *face_of_it, source, answers, output);
    return output;
}

std::vector<StepVerb> FreeFormSurface::verbs() {
    return {{"free_form", StepVerb::Group::shape, "Free-form surface",
             "Makes a flat surface whose control points are moved.", "", "Free-form surface",
             [] { return FreeFormSurface(); }, false, "build_up"},
            {"free_form_face", StepVerb::Group::shape, "Free-form like a face",
             "Makes a surface with control points that is like the selected face, or the one clicked next.", "",
             "Free-form surface",
             [] {
                 FreeFormSurface step;
                 step.made.value = "face";
                 return step;
             },
             true, "free_form"}};
}

template struct StepOf<FreeFormSurface>;

} // namespace kervo::model
