#include "io/import_child.h"

#include "geom/measure.h"
#include "io/document_json.h"
#include "io/safe_file.h"
#include "io/sketch_json.h"

#include <BinTools.hxx>
#include <Standard_Failure.hxx>
#include <TopoDS_Iterator.hxx>

#include <algorithm>
#include <chrono>
#include <csignal>
#include <fcntl.h>
#include <filesystem>
#include <functional>
#include <sys/resource.h>
#include <sys/wait.h>
#include <thread>
#include <unistd.h>

namespace kervo::io {

namespace fs = std::filesystem;

namespace {

Finding import_problem(const char* code, const std::string& cause) {
    return error_finding(code, cause,
                         "The document is as it was. Export the file anew from where it comes, or choose another.");
}

std::string reader_path(const ImportLimits& limits) {
    return limits.reader.empty() ? (fs::read_symlink("/proc/self/exe").parent_path() / "kervo-reader").string()
                                 : limits.reader;
}

// Between fork and exec only calls that are safe in a process with threads.
[[noreturn]] void become_reader(const std::vector<char*>& arguments, const ImportLimits& limits) {
    const auto seconds = static_cast<rlim_t>(limits.seconds) + 1;
    const rlimit processor{seconds, seconds};
    const rlimit memory{limits.megabytes << 20U, limits.megabytes << 20U};
    const rlimit no_core{0, 0};
    ::setrlimit(RLIMIT_CPU, &processor);
    ::setrlimit(RLIMIT_AS, &memory);
    ::setrlimit(RLIMIT_CORE, &no_core);
    const int nothing = ::open("/dev/null", O_RDWR);
    ::dup2(nothing, 0);
    ::dup2(nothing, 1);
    ::dup2(nothing, 2);
    ::execv(arguments[0], arguments.data());
    ::_exit(127);
}

enum class End { done, refused, crashed, too_long, cancelled };

End run_reader(std::vector<std::string> words, const ImportLimits& limits, Progress& progress) {
    std::vector<char*> arguments;
    for (std::string& word : words) {
        arguments.push_back(word.data());
    }
    arguments.push_back(nullptr);
    const pid_t child = ::fork();
    if (child == 0) {
        become_reader(arguments, limits);
    }
    if (child < 0) {
        return End::crashed;
    }
    const auto deadline = std::chrono::steady_clock::now() + std::chrono::duration<double>(limits.seconds);
    int status = 0;
    while (::waitpid(child, &status, WNOHANG) == 0) {
        const bool late = std::chrono::steady_clock::now() > deadline;
        if (late || progress.cancelled()) {
            ::kill(child, SIGKILL);
            ::waitpid(child, &status, 0);
            return late ? End::too_long : End::cancelled;
        }
        std::this_thread::sleep_for(std::chrono::milliseconds(5));
    }
    if (WIFSIGNALED(status)) {
        return WTERMSIG(status) == SIGXCPU ? End::too_long : End::crashed;
    }
    return WEXITSTATUS(status) == 0 ? End::done : WEXITSTATUS(status) == 1 ? End::refused : End::crashed;
}

std::string format_of(const std::string& name) {
    std::string extension = fs::path(name).extension().string();
    for (char& c : extension) {
        c = static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
    }
    return extension == ".step" || extension == ".stp"   ? "step"
           : extension == ".brep" || extension == ".brp" ? "brep"
           : extension == ".svg" || extension == ".dxf"  ? extension.substr(1)
                                                         : "";
}

Result<std::vector<model::ImportedBody>> collect(const std::string& bodies_path, const std::string& list_path,
                                                 const std::string& file_name) {
    const auto text = read_whole(list_path);
    TopoDS_Shape shape;
    try {
        if (!text || !BinTools::Read(shape, bodies_path.c_str())) {
            return import_problem("import.crashed", "The reader left nothing that could be used.");
        }
        const Json list = Json::parse(*text);
        std::vector<TopoDS_Shape> shapes;
        if (list.at("bodies").size() == 1) {
            shapes.push_back(shape);
        } else {
            for (TopoDS_Iterator it(shape); it.More(); it.Next()) {
                shapes.push_back(it.Value());
            }
        }
        std::vector<model::ImportedBody> bodies;
        for (size_t i = 0; i < shapes.size(); ++i) {
            const Json& item = list.at("bodies").at(i);
            std::string name = item.at("name").get<std::string>();
            if (name.empty()) {
                name = fs::path(file_name).stem().string() + (shapes.size() > 1 ? " " + std::to_string(i + 1) : "");
            }
            bodies.push_back({name, item.at("color").get<std::string>(), shapes[i]});
        }
        return bodies;
    } catch (const Json::exception&) {
        return import_problem("import.crashed", "The reader left nothing that could be used.");
    } catch (const Standard_Failure&) {
        return import_problem("import.crashed", "The reader left nothing that could be used.");
    }
}

} // namespace

namespace {

// Runs the reader; `collect` takes its two files and the list that it left.
template <class Read>
Result<Read> read_in_child(const model::Asset& asset, const std::vector<std::string>& formats,
                           const std::string& wanted, const ImportLimits& limits, Progress& progress,
                           const std::function<Result<Read>(const std::string&, const std::string&)>& collect) {
    const std::string format = format_of(asset.name.text());
    if (std::find(formats.begin(), formats.end(), format) == formats.end()) {
        return import_problem("import.format",
                              "\u201c" + asset.name.text() + "\u201d is neither " + wanted + " by its name.");
    }
    const TemporaryFolder folder;
    const std::string input = folder.file("input." + format);
    if (auto problem = write_text_atomically(input, asset.bytes)) {
        return *problem;
    }
    const std::string bodies = folder.file("bodies.bin");
    const std::string list = folder.file("list.json");
    switch (run_reader({reader_path(limits), format, input, bodies, list}, limits, progress)) {
    case End::done:
        return collect(bodies, list);
    case End::refused: {
        const auto text = read_whole(list);
        const Json refusal = text ? Json::parse(*text, nullptr, false) : Json();
        return import_problem("import.unreadable",
                              refusal.is_object() ? refusal.value("cause", std::string{}) : "The file cannot be read.");
    }
    case End::crashed:
        return import_problem("import.crashed",
                              "The file broke the reader; it is damaged, or needs more memory than the limit.");
    case End::too_long:
        return import_problem("import.too_long", "Reading the file took too long and was stopped.");
    case End::cancelled:
        break;
    }
    return import_problem("import.cancelled", "Reading the file was cancelled.");
}

} // namespace

Result<std::vector<model::ImportedBody>> import_in_child(const model::Asset& asset, const ImportLimits& limits,
                                                         Progress& progress) {
    return read_in_child<std::vector<model::ImportedBody>>(
        asset, {"step", "brep"}, "STEP nor BREP", limits, progress,
        [&](const std::string& bodies, const std::string& list) { return collect(bodies, list, asset.name.text()); });
}

Result<sketch::Artwork> outlines_in_child(const model::Asset& asset, const ImportLimits& limits, Progress& progress) {
    return read_in_child<sketch::Artwork>(
        asset, {"svg", "dxf"}, "SVG nor DXF", limits, progress,
        [&asset](const std::string& /*bodies*/, const std::string& list) -> Result<sketch::Artwork> {
            const auto text = read_whole(list);
            try {
                const Json json = Json::parse(text ? *text : "");
                auto file = artwork_from_json(json);
                file.name = asset.name.text();
                return file;
            } catch (const std::exception&) {
                return import_problem("import.crashed", "The reader left nothing that could be used.");
            }
        });
}

model::Services standard_services() {
    model::Services services;
    services.read_import = [](const model::Asset& asset, Progress& progress) {
        return import_in_child(asset, {}, progress);
    };
    return services;
}

} // namespace kervo::io
