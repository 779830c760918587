#include "io/formats/hand_over.h"

#include "base/text.h"
#include "geom/kernel/private_copy.h"
#include "geom/measure/self_crossing.h"
#include "io/document/safe_file.h"
#include "model/document/asset_name.h"
#include "model/document/groups_and_layers.h"

#include <Standard_Failure.hxx>
#include <spdlog/spdlog.h>

#include <algorithm>
#include <filesystem>
#include <map>
#include <memory>
#include <set>

namespace kervo::io {

namespace {

using Write = std::function<Written(const Format&, const FormatAnswers&, const std::string& fresh)>;

Result<Findings> write(Content content, const std::string& path, const FormatAnswers& given, const Write& writes) {
    const Format* format = format_of(path);
    if (format == nullptr || !format->writes(content)) {
        return no_such_format("export.format", path, writers_of(content));
    }
    const FormatAnswers answers = format->complete(given);
    for (const FormatQuestion& question : format->questions) {
        if (!(answers.at(question.key) >= question.least)) {
            return error_finding("export.answer",
                                 "\u201c" + question.text + "\u201d is " +
                                     format_quantity(answers.at(question.key), "", 6) + " " + question.unit + ".",
                                 "It must be at least " + format_quantity(question.least, "", 6) + " " + question.unit +
                                     ".");
        }
    }
    Findings told;
    const auto problem = write_atomically(path, [&](const std::string& fresh) -> std::optional<Finding> {
        Written written(false);
        try {
            written = writes(*format, answers, fresh);
        } catch (const Standard_Failure& failure) {
            spdlog::warn("{} is not written: {}", path, failure.GetMessageString());
        }
        told = std::move(written.told);
        return written.well
                   ? std::nullopt
                   : std::optional(error_finding("file.write", "The file cannot be written.", "Choose another place."));
    });
    return problem ? Result<Findings>(*problem) : told;
}

std::optional<Finding> problem_of(const Result<Findings>& result) {
    return result ? std::nullopt : std::optional(result.finding());
}

// Copies of shapes, wherever they lie: one for each shape.
class Copies {
public:
    TopoDS_Shape of(const TopoDS_Shape& shape) {
        return own(shape).shape().Located(shape.Location()).Oriented(shape.Orientation());
    }
    /// Of a face of the shape.
    TopoDS_Shape part_of(const TopoDS_Shape& shape, const TopoDS_Shape& face) {
        return own(shape).of(face.Moved(shape.Location().Inverted())).Moved(shape.Location());
    }

private:
    const geom::PrivateCopy& own(const TopoDS_Shape& shape) {
        auto& copy = copies_[shape.TShape().get()];
        if (!copy) {
            copy = std::make_unique<geom::PrivateCopy>(shape.Located({}).Oriented(TopAbs_FORWARD));
        }
        return *copy;
    }
    std::map<const TopoDS_TShape*, std::unique_ptr<geom::PrivateCopy>> copies_;
};

std::vector<model::Sorting::Holder> groups_around(const model::Document& document, int group) {
    std::vector<model::Sorting::Holder> holders;
    for (const model::Group* each = model::find_group(document, group); each != nullptr;
         each = model::find_group(document, each->within)) {
        holders.insert(holders.begin(), {each->id, each->name});
    }
    return holders;
}

// Which of the bodies are wanted.
class Choosing {
public:
    Choosing(const model::Document& document, const model::Evaluation& evaluation, const ExportOptions& options)
        : document_(document), evaluation_(evaluation), options_(options), not_met_(options.only) {}

    bool wants(const model::BodyId& id, const model::Body& body) {
        const model::BodyTraits& traits = evaluation_.traits.at(id);
        const auto asks_for_it = [&](const std::string& word) { return word == id || word == traits.name; };
        const bool asked = std::any_of(options_.only.begin(), options_.only.end(), asks_for_it);
        std::erase_if(not_met_, asks_for_it);
        if (body.blade) { // it is no part
            blade_ = asked ? traits.name : blade_;
            return false;
        }
        if (!options_.only.empty()) {
            return asked;
        }
        const bool hidden = !options_.hidden_too && is_hidden(document_, id, traits.layer);
        hidden_ += hidden ? 1 : 0;
        return !hidden;
    }
    [[nodiscard]] Findings told() const {
        if (hidden_ == 0) {
            return {};
        }
        return {note_finding("export.hidden",
                             hidden_ == 1 ? "A hidden body is left out."
                                          : std::to_string(hidden_) + " hidden bodies are left out.",
                             "Show them first, or say that hidden bodies are wanted.")};
    }
    [[nodiscard]] std::optional<Finding> problem(bool none) const {
        if (!blade_.empty()) {
            return error_finding("export.blade",
                                 "\u201c" + blade_ + "\u201d is a blade; it cuts, and is no part that is handed over.",
                                 "Choose bodies.");
        }
        if (!not_met_.empty()) {
            return error_finding("export.no_body", "There is no body called \u201c" + not_met_.front() + "\u201d.",
                                 "Choose bodies that exist at the end of the route, by name or by id.");
        }
        if (none) {
            return hidden_ > 0 ? error_finding("export.no_body", "All bodies are hidden.",
                                               "Show some, or say that hidden bodies are wanted.")
                               : error_finding("export.no_body", "There is no body to hand over.",
                                               "Choose bodies that exist at the end of the route.");
        }
        return std::nullopt;
    }

private:
    const model::Document& document_;
    const model::Evaluation& evaluation_;
    const ExportOptions& options_;
    std::vector<std::string> not_met_;
    std::string blade_;
    int hidden_ = 0;
};

} // namespace

Result<ModelToWrite> model_to_write(const model::Document& document, const model::Evaluation& evaluation,
                                    const ExportOptions& options) try {
    ModelToWrite model{{}, document.title, options.author};
    std::vector<std::string> stale;
    std::vector<std::string> unsound;
    Copies copies;
    Choosing choosing(document, evaluation, options);
    for (const auto& [id, body] : evaluation.bodies_as_of(options.as_of)) {
        if (!choosing.wants(id, *body)) {
            continue;
        }
        const model::BodyTraits& traits = evaluation.traits.at(id);
        if (traits.stale) {
            stale.push_back(traits.name);
        }
        if (!options.unsound_too && !geom::is_sound_body(body->shape)) {
            unsound.push_back(traits.name);
        }
        NamedBody named{traits.name, traits.color, copies.of(body->shape)};
        named.sorting = {groups_around(document, traits.group), traits.layer, is_hidden(document, id, traits.layer)};
        for (const TopoDS_Shape& face : geom::faces_of(body->shape)) {
            const model::FaceName* name = body->names.Seek(face);
            const auto owner = name != nullptr ? evaluation.traits.find(name->owner) : evaluation.traits.end();
            if (owner != evaluation.traits.end() && !owner->second.color.empty() &&
                owner->second.color != traits.color) {
                named.own_colors.emplace_back(copies.part_of(body->shape, face), owner->second.color);
            }
        }
        model.bodies.push_back(std::move(named));
    }
    if (const auto problem = choosing.problem(model.bodies.empty())) {
        return *problem;
    }
    if (!stale.empty() && !options.stale_too) {
        return error_finding("export.stale", "These bodies follow a failed step and are stale: " + listed(stale) + ".",
                             "Mend the step, or say that stale bodies are wanted.");
    }
    if (!unsound.empty()) {
        return error_finding(
            "export.unsound",
            "These bodies are not closed as they should be, or run through themselves: " + listed(unsound) + ".",
            "Mend what they are made from, or say that unsound bodies are wanted.");
    }
    model.told = choosing.told();
    return model;
} catch (const Standard_Failure&) {
    return error_finding("export.failed", "A body cannot be copied.", "Hand over the others without it.");
}

namespace {

Result<Findings> write_one(const ModelToWrite& model, const std::string& path, const FormatAnswers& answers) {
    auto written = write(Content::bodies, path, answers,
                         [&](const Format& format, const FormatAnswers& complete, const std::string& fresh) {
                             return format.write_bodies(model, complete, fresh);
                         });
    if (written) {
        written->insert(written->begin(), model.told.begin(), model.told.end());
    }
    return written;
}

// "part.stl" and "Rail 2" to "part-Rail 2.stl": names that are taken, and what no file may be called, change.
std::string beside(const std::string& path, const std::string& name, std::set<std::string>& taken) {
    const std::filesystem::path whole(path);
    const std::string stem = (whole.parent_path() / whole.stem()).string() + "-" + model::AssetName::like(name).text();
    std::string made = stem + whole.extension().string();
    for (int number = 2; !taken.insert(made).second; ++number) {
        made = stem + " " + std::to_string(number) + whole.extension().string();
    }
    return made;
}

} // namespace

Result<Findings> write_model(const ModelToWrite& model, const std::string& path, const ExportOptions& options) {
    if (!options.apart) {
        return write_one(model, path, options.answers);
    }
    Findings told = model.told;
    std::set<std::string> taken;
    for (const NamedBody& body : model.bodies) {
        ModelToWrite one{{body}, body.name, model.author};
        one.bodies.front().sorting.groups.clear();
        const auto written = write_one(one, beside(path, body.name, taken), options.answers);
        if (!written) {
            return written;
        }
        told.insert(told.end(), written->begin(), written->end());
    }
    return told;
}

Result<Findings> export_bodies(const model::Document& document, const model::Evaluation& evaluation,
                               const std::string& path, const ExportOptions& options) {
    const auto model = model_to_write(document, evaluation, options);
    return model ? write_model(*model, path, options) : model.finding();
}

std::optional<Finding> export_outlines(const sketch::Sketch& drawing, const std::string& path,
                                       const FormatAnswers& answers) {
    return problem_of(write(Content::outlines, path, answers,
                            [&](const Format& format, const FormatAnswers& complete, const std::string& fresh) {
                                return format.write_outlines(drawing, complete, fresh);
                            }));
}

std::optional<Finding> export_parameters(const model::Document& document, const std::string& path,
                                         const FormatAnswers& answers) {
    return problem_of(write(Content::parameters, path, answers,
                            [&](const Format& format, const FormatAnswers& complete, const std::string& fresh) {
                                return format.write_parameters(document, complete, fresh);
                            }));
}

} // namespace kervo::io
