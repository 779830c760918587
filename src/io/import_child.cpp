#include "io/import_child.h"

#include "geom/measure.h"
#include "io/document_json.h"
#include "io/reader_channel.h"
#include "io/sketch_json.h"

#include <BinTools.hxx>
#include <Standard_Failure.hxx>
#include <TopoDS_Iterator.hxx>

#include <algorithm>
#include <array>
#include <chrono>
#include <csignal>
#include <fcntl.h>
#include <filesystem>
#include <functional>
#include <sstream>
#include <sys/prctl.h>
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

// What the reader is given, by number of `ReaderFile`, and how far it is.
struct Channel {
    MemoryFile input, list, bodies, headway;
    Headway* how_far = share_headway(headway.descriptor());

    Channel() = default;
    ~Channel() { forget_headway(how_far); }
    Channel(const Channel&) = delete;
    Channel& operator=(const Channel&) = delete;
    [[nodiscard]] std::array<int, 4> files() const {
        return {input.descriptor(), list.descriptor(), bodies.descriptor(), headway.descriptor()};
    }
};

void limit(int resource, rlim_t most) {
    const rlimit both{most, most};
    ::setrlimit(static_cast<__rlimit_resource>(resource), &both);
}

// Between fork and exec only calls that are safe in a process with threads.
[[noreturn]] void become_reader(char* const* arguments, const ImportLimits& limits, std::array<int, 4> files) {
    constexpr rlim_t hours = 3600;
    constexpr rlim_t gigabyte = 1ULL << 30U;
    limit(RLIMIT_CPU, 2 * hours);
    limit(RLIMIT_AS, static_cast<rlim_t>(limits.megabytes) << 20U);
    limit(RLIMIT_FSIZE, 4 * gigabyte); // also of files in memory
    limit(RLIMIT_CORE, 0);
    ::prctl(PR_SET_PDEATHSIG, SIGKILL); // it ends with the one who asked
    const int nothing = ::open("/dev/null", O_RDWR);
    ::dup2(nothing, 0);
    ::dup2(nothing, 1);
    ::dup2(nothing, 2);
    for (int i = 0; i < 4; ++i) {
        ::dup2(files[static_cast<size_t>(i)], reader_input + i);
    }
    ::close_range(reader_headway + 1, ~0U, 0);
    ::execv(arguments[0], arguments);
    ::_exit(127);
}

enum class End { done, refused, crashed, too_long, cancelled };

End run_reader(std::string reader, std::string format, const ImportLimits& limits, const Channel& channel,
               Progress& progress) {
    using Clock = std::chrono::steady_clock;
    const std::array<char*, 3> arguments{reader.data(), format.data(), nullptr};
    const pid_t parent = ::getpid();
    const pid_t child = ::fork();
    if (child == 0) {
        if (::getppid() != parent) { // it ended in between
            ::_exit(127);
        }
        become_reader(arguments.data(), limits, channel.files());
    }
    if (child < 0) {
        return End::crashed;
    }
    const auto patience = std::chrono::duration<double>(limits.seconds);
    auto moved = Clock::now();
    std::uint32_t count = 0;
    int status = 0;
    while (::waitpid(child, &status, WNOHANG) == 0) {
        if (const std::uint32_t now = channel.how_far->count; now != count) {
            count = now;
            moved = Clock::now();
            progress.report(channel.how_far->permille / 1000.0, "read");
        }
        const bool stands_still = Clock::now() - moved > patience;
        if (stands_still || progress.cancelled()) {
            ::kill(child, SIGKILL);
            ::waitpid(child, &status, 0);
            return stands_still ? End::too_long : End::cancelled;
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

Result<model::ImportedFile> collect(const Channel& channel, const std::string& file_name) {
    const auto text = read_all(channel.list.descriptor(), longest_list);
    auto bytes = read_all(channel.bodies.descriptor(), largest_bodies);
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
            file.bodies.push_back({name, item.at("color").get<std::string>(), shapes[i], item.at("sound").get<bool>()});
        }
        file.not_followed = list.at("not_followed").get<std::vector<std::string>>();
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
Result<Read> read_in_child(const model::Asset& asset, const std::vector<std::string>& formats,
                           const std::string& wanted, const ImportLimits& limits, Progress& progress,
                           const std::function<Result<Read>(const Channel&)>& collect) {
    const std::string format = format_of(asset.name.text());
    if (std::find(formats.begin(), formats.end(), format) == formats.end()) {
        return import_problem("import.format",
                              "\u201c" + asset.name.text() + "\u201d is neither " + wanted + " by its name.");
    }
    const Channel channel;
    if (channel.how_far == nullptr || !write_all(channel.input.descriptor(), asset.bytes)) {
        return import_problem("import.crashed", "There is no memory to read the file.");
    }
    switch (run_reader(reader_path(limits), format, limits, channel, progress)) {
    case End::done:
        return collect(channel);
    case End::refused: {
        const auto text = read_all(channel.list.descriptor(), longest_list);
        const Json refusal = text ? Json::parse(*text, nullptr, false) : Json();
        return import_problem("import.unreadable",
                              refusal.is_object() ? refusal.value("cause", std::string{}) : "The file cannot be read.");
    }
    case End::crashed:
        return import_problem("import.crashed",
                              "The file broke the reader; it is damaged, or needs more memory than the limit.");
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
    return read_in_child<model::ImportedFile>(
        asset, {"step", "brep"}, "STEP nor BREP", with_defaults(limits, 180, 4096), progress,
        [&](const Channel& channel) { return collect(channel, asset.name.text()); });
}

Result<sketch::Artwork> outlines_in_child(const model::Asset& asset, const ImportLimits& limits, Progress& progress) {
    return read_in_child<sketch::Artwork>(asset, {"svg", "dxf"}, "SVG nor DXF", with_defaults(limits, 20, 1024),
                                          progress, [&asset](const Channel& channel) -> Result<sketch::Artwork> {
                                              const auto text = read_all(channel.list.descriptor(), longest_list);
                                              try {
                                                  auto file = artwork_from_json(Json::parse(text ? *text : ""));
                                                  file.name = asset.name.text();
                                                  return file;
                                              } catch (const std::exception&) {
                                                  return nothing_usable();
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
