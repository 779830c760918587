#include "io/reader/import_child.h"

#include "base/helper.h"
#include "geom/measure/measure.h"
#include "io/document/document_json.h"
#include "io/document/sketch_json.h"
#include "io/formats/format.h"

#include <BinTools.hxx>
#include <Standard_Failure.hxx>
#include <TopoDS_Iterator.hxx>

#include <algorithm>
#include <filesystem>
#include <functional>
#include <sstream>

namespace kervo::io {

namespace fs = std::filesystem;

namespace {

Finding import_problem(const char* code, const std::string& cause) {
    return error_finding(code, cause,
                         "The document is as it was. Export the file anew from where it comes, or choose another.");
}

std::string& reader_program() {
    static std::string path;
    return path;
}

constexpr size_t longest_list = 256ULL << 20U; // bytes
constexpr size_t largest_bodies = 4ULL << 30U;

Finding nothing_usable() {
    return import_problem("import.crashed", "The reader left nothing that could be used.");
}

std::vector<TopoDS_Shape> children_of(const TopoDS_Shape& shape) {
    std::vector<TopoDS_Shape> children;
    for (TopoDS_Iterator it(shape); it.More(); it.Next()) {
        children.push_back(it.Value());
    }
    return children;
}

Result<model::ImportedFile> collect(const Helper& helper, const std::string& file_name) {
    const auto text = helper.output(longest_list);
    auto bytes = helper.more_output(largest_bodies);
    if (!text || !bytes) {
        return nothing_usable();
    }
    try {
        TopoDS_Shape shape;
        std::istringstream stream(std::move(*bytes));
        BinTools::Read(shape, stream);
        const Json list = Json::parse(*text);
        const std::vector<TopoDS_Shape> shapes = shape.IsNull() ? std::vector<TopoDS_Shape>{} : children_of(shape);
        model::ImportedFile file;
        for (size_t i = 0; i < shapes.size(); ++i) {
            const Json& item = list.at("bodies").at(i);
            std::string name = item.at("name").get<std::string>();
            if (name.empty()) {
                name = fs::path(file_name).stem().string() + (shapes.size() > 1 ? " " + std::to_string(i + 1) : "");
            }
            model::Sorting sorting{{}, item.at("layer").get<std::string>(), item.at("hidden").get<bool>()};
            for (const Json& group : item.at("groups")) {
                sorting.groups.push_back({group.at("number").get<int>(), group.at("name").get<std::string>()});
            }
            file.bodies.push_back(
                {name, item.at("color").get<std::string>(), shapes[i], item.at("sound").get<bool>(), sorting});
        }
        file.not_followed = list.at("not_followed").get<std::vector<std::string>>();
        file.left_out = list.at("left_out").get<std::vector<std::string>>();
        return file.bodies.empty() ? Result<model::ImportedFile>(nothing_usable()) : file;
    } catch (const Json::exception&) {
        return nothing_usable();
    } catch (const Standard_Failure&) {
        return nothing_usable();
    } catch (const std::bad_alloc&) {
        return nothing_usable();
    }
}

// Runs the reader; `collect` takes what it left.
template <class Read>
Result<Read> read_in_child(const model::Asset& asset, Content content, const ImportLimits& limits, Progress& progress,
                           const std::function<Result<Read>(const Helper&)>& collect) {
    const Format* format = format_of(asset.name.text());
    if (format == nullptr || !format->reads(content)) {
        return no_such_format("import.format", asset.name.text(), readers_of(content));
    }
    const std::string task = (content == Content::bodies ? "bodies:" : "outlines:") + format->id;
    Helper helper;
    using End = Helper::End;
    HelperLimits within;
    within.still = limits.seconds;
    within.megabytes = limits.megabytes;
    within.program = limits.reader.empty() ? reader_program() : limits.reader;
    switch (helper.run(task, asset.bytes, within, progress)) {
    case End::done:
        return collect(helper);
    case End::refused: {
        const auto text = helper.output(longest_list);
        const Json refusal = text ? Json::parse(*text, nullptr, false) : Json();
        return import_problem("import.unreadable",
                              refusal.is_object() ? refusal.value("cause", std::string{}) : "The file cannot be read.");
    }
    case End::crashed:
        return import_problem("import.crashed",
                              "The file broke the reader; it is damaged, or needs more memory than the limit.");
    case End::missing:
        return import_problem("import.crashed", "The reader, kervo-reader, is missing beside Kervo.");
    case End::too_long:
        return import_problem("import.too_long", "Reading the file came to a standstill and was stopped.");
    case End::cancelled:
        break;
    }
    return import_problem("import.cancelled", "Reading the file was cancelled.");
}

ImportLimits with_defaults(ImportLimits limits, double seconds, unsigned long megabytes) {
    limits.seconds = limits.seconds > 0 ? limits.seconds : seconds;
    limits.megabytes = limits.megabytes > 0 ? limits.megabytes : megabytes;
    return limits;
}

} // namespace

Result<model::ImportedFile> import_in_child(const model::Asset& asset, const ImportLimits& limits, Progress& progress) {
    return read_in_child<model::ImportedFile>(asset, Content::bodies, with_defaults(limits, 180, 4096), progress,
                                              [&](const Helper& helper) { return collect(helper, asset.name.text()); });
}

Result<sketch::Artwork> outlines_in_child(const model::Asset& asset, const ImportLimits& limits, Progress& progress) {
    return read_in_child<sketch::Artwork>(asset, Content::outlines, with_defaults(limits, 20, 1024), progress,
                                          [&asset](const Helper& helper) -> Result<sketch::Artwork> {
                                              const auto text = helper.output(longest_list);
                                              try {
                                                  auto file = artwork_from_json(Json::parse(text ? *text : ""));
                                                  file.name = asset.name.text();
                                                  return file;
                                              } catch (const std::exception&) {
                                                  return nothing_usable();
                                              }
                                          });
}

void use_reader(const std::string& path) {
    reader_program() = path;
}

model::Services standard_services() {
    model::Services services;
    services.read_import = [](const model::Asset& asset, Progress& progress) {
        return import_in_child(asset, {}, progress);
    };
    return services;
}

} // namespace kervo::io
