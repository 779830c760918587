#include "model/steps/import/import.h"

#include "base/text.h"
#include "geom/measure/measure.h"
#include "geom/surface/borders.h"
#include "model/document/step_of.h"

#include <algorithm>
#include <filesystem>
#include <set>

namespace kervo::model {

namespace {

// Faces and free borders are numbered in the order of the file, which does not change: the document keeps the file.
geom::ShapeWithRoles numbered(const TopoDS_Shape& shape) {
    geom::ShapeWithRoles made{shape, {}};
    int number = 0;
    for (const TopoDS_Shape& face : geom::faces_of(shape)) {
        made.roles.push_back({face, "face" + std::to_string(++number)});
    }
    number = 0;
    for (const geom::Border& border : geom::free_borders(shape)) {
        for (const TopoDS_Edge& edge : border.edges) {
            made.roles.push_back({edge, "border" + std::to_string(++number)});
        }
    }
    return made;
}

Finding left_out(const std::vector<std::string>& what) {
    return note_finding("import.left_out", "The file holds more than came in: " + listed(what) + ".",
                        "Bodies, their places, names and colours are here; the rest can be set in Contents.");
}

Finding sorted(const std::map<BodyId, Sorting>& sorting) {
    std::set<std::vector<Sorting::Holder>> groups;
    std::set<std::string> layers;
    size_t hidden = 0;
    for (const auto& [body, sorted] : sorting) {
        for (size_t deep = 1; deep <= sorted.groups.size(); ++deep) {
            groups.insert({sorted.groups.begin(), sorted.groups.begin() + static_cast<long>(deep)});
        }
        layers.insert(sorted.layer);
        hidden += sorted.hidden ? 1 : 0;
    }
    layers.erase(std::string());
    std::vector<std::string> has;
    const auto count = [&](size_t number, const std::string& one, const std::string& many) {
        if (number > 0) {
            has.push_back(counted(number, one, many));
        }
    };
    count(groups.size(), "group", "groups");
    count(layers.size(), "layer", "layers");
    count(hidden, "hidden body", "hidden bodies");
    Finding finding = note_finding("import.sorted", "In the file there are " + listed(has) + ".",
                                   "Contents can be sorted as the file is.");
    finding.offers.push_back({"Sort as in the file", {}, 0, true});
    return finding;
}

Finding not_followed(const std::vector<std::string>& names) {
    std::vector<std::string> quoted;
    std::transform(names.begin(), names.end(), std::back_inserter(quoted),
                   [](const std::string& name) { return "\u201c" + name + "\u201d"; });
    return warning_finding("import.not_followed",
                           "The file refers to others, which are not read: " + listed(quoted) + ".",
                           "Import those as well, or export all of it as one file.");
}

Finding unsound(const std::string& name) {
    return warning_finding("import.unsound",
                           "\u201c" + name + "\u201d is not sound: its faces do not fit together as they should.",
                           "Cuts through it may fail. Mend it where it comes from, or take another export.");
}

} // namespace

StepOutput Import::evaluate(const StepInputs& inputs) const {
    StepOutput output;
    Answers answers(inputs, output);
    const auto asset = inputs.assets.find(file.name);
    if (file.name.empty()) {
        answers.report("file",
                       error_finding("import.unanswered", "No file is chosen yet.", "Choose a STEP or BREP file."));
        return output;
    }
    if (asset == inputs.assets.end() || asset->second == nullptr || asset->second->missing) {
        answers.report("file", error_finding("import.missing", "The file \u201c" + file.name + "\u201d is missing.",
                                             "Put it beside the document again, or choose another file."));
        return output;
    }
    const auto read = inputs.services->read_import(*asset->second, *inputs.progress);
    if (!read) {
        answers.report("file", read.finding());
        return output;
    }
    std::vector<ImportedBody> bodies = read->bodies;
    if (!read->not_followed.empty()) {
        answers.report("file", not_followed(read->not_followed));
    }
    if (!read->left_out.empty()) {
        answers.report("file", left_out(read->left_out));
    }
    if (solids.value == "together" && bodies.size() > 1) {
        std::vector<TopoDS_Shape> shapes;
        std::transform(bodies.begin(), bodies.end(), std::back_inserter(shapes),
                       [](const ImportedBody& each) { return each.shape; });
        bodies.resize(1);
        bodies.front().shape = geom::gather(shapes);
        bodies.front().name = std::filesystem::path(file.name).stem().string();
        bodies.front().sound =
            std::all_of(read->bodies.begin(), read->bodies.end(), [](const ImportedBody& each) { return each.sound; });
    }
    int number = 0;
    for (const ImportedBody& imported : bodies) {
        const BodyId id = std::to_string(inputs.step) + "." + std::to_string(++number);
        output.bodies[id] = name_fresh(inputs.step, numbered(imported.shape));
        output.births.push_back({id, imported.name, imported.color});
        if (!imported.sorting.says_nothing() && solids.value == "apart") {
            output.sorting[id] = imported.sorting;
        }
        output.added += geom::volume_of(imported.shape);
        if (!imported.sound) {
            answers.report("file", unsound(imported.name));
        }
    }
    if (!output.sorting.empty()) {
        answers.report("file", sorted(output.sorting));
    }
    if (bodies.empty()) {
        answers.report("file", error_finding("import.empty", "The file holds no bodies.", "Choose another file."));
    }
    return output;
}

template struct StepOf<Import>;

} // namespace kervo::model
