#include "io/journal.h"

#include "io/json_text.h"
#include "io/safe_file.h"

#include <algorithm>
#include <array>
#include <cerrno>
#include <charconv>
#include <cstring>
#include <fcntl.h>
#include <filesystem>
#include <fstream>
#include <sys/file.h>
#include <thread>
#include <unistd.h>

namespace kervo::io {

namespace {

// 64-bit FNV-1a: tells a whole line from a torn or mixed one.
std::string checksum(std::string_view bytes) {
    unsigned long long hash = 1469598103934665603ULL;
    for (const char c : bytes) {
        hash = (hash ^ static_cast<unsigned char>(c)) * 1099511628211ULL;
    }
    std::array<char, 17> text{};
    std::snprintf(text.data(), text.size(), "%016llx", hash);
    return {text.data(), 16};
}

std::string hexed(const std::string& bytes) {
    static constexpr std::string_view digits = "0123456789abcdef";
    std::string out;
    out.reserve(bytes.size() * 2);
    for (const char c : bytes) {
        out += digits[static_cast<unsigned char>(c) >> 4U];
        out += digits[static_cast<unsigned char>(c) & 15U];
    }
    return out;
}

std::string unhexed(const std::string& text) {
    std::string out;
    out.reserve(text.size() / 2);
    for (size_t i = 0; i + 1 < text.size(); i += 2) {
        unsigned value = 0;
        std::from_chars(text.data() + i, text.data() + i + 2, value, 16);
        out += static_cast<char>(value);
    }
    return out;
}

std::string line_of(const Json& record) {
    const std::string text = record.dump();
    return checksum(text) + " " + text + "\n";
}

Json files_in(const model::Document& document, std::vector<std::string>& known) {
    Json files = Json::object();
    for (const auto& [name, asset] : document.assets) {
        if (!asset->missing && std::find(known.begin(), known.end(), name.text()) == known.end()) {
            files[name.text()] = hexed(asset->bytes);
            known.push_back(name.text());
        }
    }
    return files;
}

} // namespace

Journal::~Journal() {
    if (file_ >= 0) {
        ::close(file_);
    }
}

Journal::Journal(Journal&& other) noexcept
    : path_(std::move(other.path_)), file_(std::exchange(other.file_, -1)), last_(std::move(other.last_)),
      files_known_(std::move(other.files_known_)), torn_(other.torn_) {}

Journal& Journal::operator=(Journal&& other) noexcept {
    std::swap(path_, other.path_);
    std::swap(file_, other.file_);
    std::swap(last_, other.last_);
    std::swap(files_known_, other.files_known_);
    std::swap(torn_, other.torn_);
    return *this;
}

Result<Journal> Journal::start(const std::string& path, const model::Document& document) {
    Journal journal;
    journal.path_ = path;
    journal.last_ = to_json(document);
    const Json first{{"document", journal.last_}, {"files", files_in(document, journal.files_known_)}};
    if (auto problem = write_text_atomically(path, line_of(first), Readers::only_the_owner)) {
        return *problem;
    }
    journal.file_ = ::open(path.c_str(), O_WRONLY | O_APPEND | O_CLOEXEC);
    if (journal.file_ < 0) {
        return error_finding("file.write", "The journal cannot be written: " + std::string(std::strerror(errno)) + ".",
                             "Changes are safe only once the document is saved.");
    }
    ::flock(journal.file_, LOCK_EX | LOCK_NB);
    return journal;
}

std::optional<Finding> Journal::append(const model::Document& document) {
    Json next = to_json(document);
    auto known = torn_ ? std::vector<std::string>{} : files_known_;
    const Json files = files_in(document, known);
    const Json record =
        torn_ ? Json{{"document", next}, {"files", files}} : Json{{"patch", Json::diff(last_, next)}, {"files", files}};
    if (!torn_ && record["patch"].empty() && files.empty()) {
        return std::nullopt;
    }
    const std::string line = (torn_ ? "\n" : "") + line_of(record);
    const off_t before = ::lseek(file_, 0, SEEK_END);
    size_t written = 0;
    while (written < line.size()) {
        const ssize_t count = ::write(file_, line.data() + written, line.size() - written);
        if (count < 0 && errno != EINTR) {
            const std::string why = std::strerror(errno);
            // What was written of the line goes again; where that fails, the next record begins a line of its own and
            // holds the whole document.
            torn_ = before < 0 || ::ftruncate(file_, before) != 0 || torn_;
            return error_finding("file.write", "The journal cannot be written: " + why + ".",
                                 "Save the document somewhere else.");
        }
        written += count > 0 ? static_cast<size_t>(count) : 0;
    }
    files_known_ = std::move(known);
    torn_ = false;
    // Written is enough to survive the end of the process. The way to the disk, which a power cut asks for, takes
    // anything from nothing to a second, and the window must not wait for it.
    // It is opened anew for that, since the lock goes with the file that is open here.
    if (const int flushed = ::open(path_.c_str(), O_WRONLY | O_CLOEXEC); flushed >= 0) {
        std::thread([flushed] {
            ::fdatasync(flushed);
            ::close(flushed);
        }).detach();
    }
    last_ = std::move(next);
    return std::nullopt;
}

void Journal::discard() {
    if (file_ >= 0) {
        ::close(file_);
        file_ = -1;
        ::unlink(path_.c_str());
    }
}

std::optional<Recovered> recover(const std::string& journal_path) {
    std::ifstream in(journal_path, std::ios::binary);
    Json state;
    std::map<std::string, std::string> files;
    int records = 0;
    bool torn = false;
    std::string line;
    while (std::getline(in, line)) {
        const bool whole = line.size() >= 18 && checksum(std::string_view(line).substr(17)) == line.substr(0, 16);
        const auto record = whole ? parse_json(line.substr(17)) : Result<Json>(Finding{});
        // What follows a torn record counts again from the next one that holds a whole document.
        if (!record || (torn && !record->contains("document"))) {
            torn = true;
            continue;
        }
        try {
            Json next = record->contains("document") ? record->at("document") : state.patch(record->at("patch"));
            for (const auto& [name, bytes] : record->at("files").items()) {
                files[name] = unhexed(bytes.get<std::string>());
            }
            state = std::move(next);
            torn = false;
        } catch (const Json::exception&) {
            torn = true; // whole by its checksum, but not ours: what came before still counts
            continue;
        }
        ++records;
    }
    if (records == 0) {
        return std::nullopt;
    }
    auto read = document_from_json(state);
    if (!read) {
        return std::nullopt;
    }
    model::Document document = *read;
    for (auto& [name, asset] : document.assets) {
        if (const auto file = files.find(name.text()); file != files.end()) {
            asset = std::make_shared<const model::Asset>(model::Asset{name, file->second, false});
        }
    }
    return Recovered{std::move(document), records - 1};
}

bool journal_in_use(const std::string& journal_path) {
    const int file = ::open(journal_path.c_str(), O_RDONLY | O_CLOEXEC);
    if (file < 0) {
        return false;
    }
    const bool free = ::flock(file, LOCK_EX | LOCK_NB) == 0;
    ::close(file);
    return !free;
}

std::string journal_path_for(const std::string& document_path) {
    const std::filesystem::path path(document_path);
    return (path.parent_path() / ("." + path.filename().string() + ".journal")).string();
}

} // namespace kervo::io
