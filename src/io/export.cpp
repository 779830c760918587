#include "io/export.h"

#include <algorithm>
#include <filesystem>

namespace kervo::io {

std::optional<Finding> export_bodies(const model::Evaluation& evaluation, const std::string& path,
                                     const ExportOptions& options) {
    std::vector<NamedBody> bodies;
    std::vector<std::string> wanted = options.only;
    std::string stale;
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
        bodies.push_back({traits.name, traits.color, body->shape, {}});
        for (const TopoDS_Shape& face : geom::faces_of(body->shape)) {
            const model::FaceName* name = body->names.Seek(face);
            const auto owner = name != nullptr ? evaluation.traits.find(name->owner) : evaluation.traits.end();
            if (owner != evaluation.traits.end() && !owner->second.color.empty()) {
                bodies.back().own_colors.emplace_back(face, owner->second.color);
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
    std::string extension = std::filesystem::path(path).extension().string();
    std::transform(extension.begin(), extension.end(), extension.begin(),
                   [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
    if (extension == ".step" || extension == ".stp") {
        return write_step(bodies, path);
    }
    if (extension == ".brep" || extension == ".brp") {
        return write_brep(bodies, path);
    }
    if (extension == ".stl") {
        return write_stl(bodies, path, options.chord);
    }
    return error_finding("export.format", "\u201c" + extension + "\u201d is no format that bodies are written in.",
                         "End the file's name in .step, .brep or .stl.");
}

} // namespace kervo::io
