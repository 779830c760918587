#include "io/formats/hand_over.h"

#include "geom/kernel/private_copy.h"
#include "io/document/safe_file.h"

#include <Standard_Failure.hxx>
#include <spdlog/spdlog.h>

#include <algorithm>
#include <map>
#include <memory>

namespace kervo::io {

namespace {

using Write = std::function<bool(const Format&, const FormatAnswers&, const std::string& fresh)>;

std::optional<Finding> write(Content content, const std::string& path, const FormatAnswers& given,
                             const Write& writes) {
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
    return write_atomically(path, [&](const std::string& fresh) -> std::optional<Finding> {
        bool written = false;
        try {
            written = writes(*format, answers, fresh);
        } catch (const Standard_Failure& failure) {
            spdlog::warn("{} is not written: {}", path, failure.GetMessageString());
        }
        return written
                   ? std::nullopt
                   : std::optional(error_finding("file.write", "The file cannot be written.", "Choose another place."));
    });
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

} // namespace

Result<std::vector<NamedBody>> bodies_to_write(const model::Evaluation& evaluation, const ExportOptions& options) try {
    std::vector<NamedBody> bodies;
    std::vector<std::string> wanted = options.only;
    std::string stale;
    Copies copies;
    for (const auto& [id, body] : evaluation.bodies_as_of(options.as_of)) {
        if (body->blade) { // it is no part
            continue;
        }
        const model::BodyTraits& traits = evaluation.traits.at(id);
        const auto asked = std::find_if(wanted.begin(), wanted.end(), [&, body_id = id](const std::string& w) {
            return w == body_id || w == traits.name;
        });
        if (!options.only.empty() && asked == wanted.end()) {
            continue;
        }
        if (asked != wanted.end()) {
            wanted.erase(asked);
        }
        if (traits.stale) {
            stale += (stale.empty() ? "" : ", ") + traits.name;
        }
        bodies.push_back({traits.name, traits.color, copies.of(body->shape), {}});
        for (const TopoDS_Shape& face : geom::faces_of(body->shape)) {
            const model::FaceName* name = body->names.Seek(face);
            const auto owner = name != nullptr ? evaluation.traits.find(name->owner) : evaluation.traits.end();
            if (owner != evaluation.traits.end() && !owner->second.color.empty()) {
                bodies.back().own_colors.emplace_back(copies.part_of(body->shape, face), owner->second.color);
            }
        }
    }
    if (!wanted.empty() || bodies.empty()) {
        return error_finding("export.no_body",
                             wanted.empty() ? "There is no body to hand over."
                                            : "There is no body called \u201c" + wanted.front() + "\u201d.",
                             "Choose bodies that exist at the end of the route.");
    }
    if (!stale.empty() && !options.stale_too) {
        return error_finding("export.stale", "These bodies follow a failed step and are stale: " + stale + ".",
                             "Mend the step, or say that stale bodies are wanted.");
    }
    return bodies;
} catch (const Standard_Failure&) {
    return error_finding("export.failed", "A body cannot be copied.", "Hand over the others without it.");
}

std::optional<Finding> write_bodies(const std::vector<NamedBody>& bodies, const std::string& path,
                                    const FormatAnswers& answers) {
    return write(Content::bodies, path, answers,
                 [&](const Format& format, const FormatAnswers& complete, const std::string& fresh) {
                     return format.write_bodies(bodies, complete, fresh);
                 });
}

std::optional<Finding> export_bodies(const model::Evaluation& evaluation, const std::string& path,
                                     const ExportOptions& options) {
    const auto bodies = bodies_to_write(evaluation, options);
    return bodies ? write_bodies(*bodies, path, options.answers) : bodies.finding();
}

std::optional<Finding> export_outlines(const sketch::Sketch& drawing, const std::string& path,
                                       const FormatAnswers& answers) {
    return write(Content::outlines, path, answers,
                 [&](const Format& format, const FormatAnswers& complete, const std::string& fresh) {
                     return format.write_outlines(drawing, complete, fresh);
                 });
}

std::optional<Finding> export_parameters(const model::Document& document, const std::string& path,
                                         const FormatAnswers& answers) {
    return write(Content::parameters, path, answers,
                 [&](const Format& format, const FormatAnswers& complete, const std::string& fresh) {
                     return format.write_parameters(document, complete, fresh);
                 });
}

} // namespace kervo::io
