#include "io/document/journal.h"

#include "io/document/json_text.h"
#include "io/document/safe_file.h"

#include <algorithm>
#include <array>
#include <cerrno>
#include <charconv>
#include <cstring>
#include <ctime>
#include <fcntl.h>
#include <filesystem>
#include <map>
#include <thread>
#include <unistd.h>

namespace kervo::io {

namespace {

// Tells a whole line from a torn or mixed one.
std::string checksum(std::string_view bytes) {
    std::array<char, 17> text{};
    std::snprintf(text.data(), text.size(), "%016llx", static_cast<unsigned long long>(content_hash(bytes)));
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

std::string time_now() {
    const std::time_t now = std::time(nullptr);
    std::tm parts{};
    ::gmtime_r(&now, &parts);
    std::array<char, 32> text{};
    std::strftime(text.data(), text.size(), "%Y-%m-%dT%H:%M:%SZ", &parts);
    return text.data();
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

Json first_record(const model::Document& saved, const std::optional<FileState>& file, std::vector<std::string>& known) {
    Json record{{"number", 0}, {"document", to_json(saved)}, {"files", files_in(saved, known)}};
    if (file) {
        record["file"] = {{"size", file->size}, {"hash", std::to_string(file->hash)}};
    }
    return record;
}

Finding cannot_keep(const std::string& why) {
    return error_finding("file.write", "Changes cannot be kept safe: " + why + (why.ends_with('.') ? "" : "."),
                         "Save the document somewhere else, or mend that: then they are kept again.");
}

} // namespace

Journal::~Journal() {
    if (file_ >= 0) {
        ::close(file_);
    }
}

Journal::Journal(Journal&& other) noexcept {
    *this = std::move(other);
}

Journal& Journal::operator=(Journal&& other) noexcept {
    std::swap(path_, other.path_);
    std::swap(file_, other.file_);
    std::swap(lock_, other.lock_);
    std::swap(saved_, other.saved_);
    std::swap(saved_as_, other.saved_as_);
    std::swap(last_, other.last_);
    std::swap(number_, other.number_);
    std::swap(files_known_, other.files_known_);
    std::swap(torn_, other.torn_);
    std::swap(lost_, other.lost_);
    return *this;
}

Result<Journal> Journal::start(const std::string& path, const model::Document& saved, const model::Document& now,
                               const std::optional<FileState>& file, const Beyond& beyond) {
    Journal journal;
    journal.path_ = path;
    journal.saved_ = saved;
    journal.saved_as_ = file;
    if (auto problem = journal.write_anew(now, beyond)) {
        return *problem;
    }
    return journal;
}

std::optional<Finding> Journal::open_to_append() {
    const int fresh = ::open(path_.c_str(), O_WRONLY | O_APPEND | O_CLOEXEC);
    if (fresh < 0) {
        return cannot_keep(std::strerror(errno));
    }
    if (file_ >= 0) {
        ::close(file_);
    }
    file_ = fresh;
    return std::nullopt;
}

std::optional<Finding> Journal::write_anew(const model::Document& now, const Beyond& beyond) {
    std::vector<std::string> known;
    std::string lines = line_of(first_record(saved_, saved_as_, known));
    Json state = to_json(now);
    int number = 1;
    if (!model::same_content(now, saved_)) {
        lines += line_of({{"number", beyond.changes},
                          {"time", beyond.until.empty() ? time_now() : beyond.until},
                          {"document", state},
                          {"files", files_in(now, known)}});
        number = beyond.changes + 1;
    }
    if (auto problem = write_text_atomically(path_, lines, {Readers::only_the_owner, &lock_})) {
        return cannot_keep(problem->cause);
    }
    if (auto problem = open_to_append()) {
        return problem;
    }
    last_ = std::move(state);
    number_ = number;
    files_known_ = std::move(known);
    torn_ = false;
    lost_ = std::make_shared<std::atomic<bool>>(false);
    return std::nullopt;
}

// Written is enough to survive the end of the process. The way to the disk, which a power cut asks for, takes anything
// from nothing to a second, and the window must not wait for it. The file is opened anew for that, since the lock goes
// with the one that is open here.
void Journal::flush() {
    if (const int flushed = ::open(path_.c_str(), O_WRONLY | O_CLOEXEC); flushed >= 0) {
        std::thread([flushed, lost = lost_] {
            if (::fdatasync(flushed) != 0) {
                *lost = true;
            }
            ::close(flushed);
        }).detach();
    } else {
        *lost_ = true;
    }
}

std::optional<Finding> Journal::append(const model::Document& document) {
    if (torn_ || *lost_ || file_ < 0 || !is_file_at(file_, path_)) {
        return write_anew(document, {number_, {}});
    }
    Json next = to_json(document);
    auto known = files_known_;
    const Json files = files_in(document, known);
    const Json record{{"number", number_}, {"time", time_now()}, {"patch", Json::diff(last_, next)}, {"files", files}};
    if (record["patch"].empty() && files.empty()) {
        return std::nullopt;
    }
    const std::string line = line_of(record);
    const off_t before = ::lseek(file_, 0, SEEK_END);
    size_t written = 0;
    while (written < line.size()) {
        const ssize_t count = ::write(file_, line.data() + written, line.size() - written);
        if (count < 0 && errno != EINTR) {
            const std::string why = std::strerror(errno);
            // What was written of the line goes again; where that fails, all of it is written anew.
            torn_ = before < 0 || ::ftruncate(file_, before) != 0;
            return cannot_keep(why);
        }
        written += count > 0 ? static_cast<size_t>(count) : 0;
    }
    files_known_ = std::move(known);
    last_ = std::move(next);
    ++number_;
    flush();
    return std::nullopt;
}

void Journal::discard() {
    if (file_ >= 0) {
        ::unlink(path_.c_str());
        ::close(file_);
        file_ = -1;
        lock_ = FileLock();
    }
}

namespace {

// A journal may come from a stranger, with a document: a patch does no more than ours do, and leads no deeper than a
// document goes.
bool is_plain(const Json& patch) {
    constexpr long deepest = 64;
    return patch.is_array() && std::all_of(patch.begin(), patch.end(), [](const Json& change) {
               const std::string what = change.at("op").get<std::string>();
               const std::string path = change.at("path").get<std::string>();
               return (what == "add" || what == "remove" || what == "replace") &&
                      std::count(path.begin(), path.end(), '/') <= deepest;
           });
}

// Puts the state together from records.
class Reading {
public:
    void take(std::string_view line) {
        const bool whole = line.size() >= 18 && checksum(line.substr(17)) == line.substr(0, 16);
        const auto record = whole ? parse_json(std::string(line.substr(17))) : Result<Json>(Finding{});
        try {
            if (record && follows(*record)) {
                apply(*record);
                return;
            }
        } catch (const std::exception&) { // whole by its checksum, but not ours
        }
        ++skipped_;
        broken_ = true;
    }

    [[nodiscard]] std::optional<Recovered> result() const {
        auto read = records_ > 0 ? document_from_json(state_) : Result<model::Document>(Finding{});
        if (!read) {
            return std::nullopt;
        }
        for (auto& [name, asset] : read->assets) {
            if (const auto file = files_.find(name.text()); file != files_.end()) {
                asset = std::make_shared<const model::Asset>(model::Asset{name, file->second, false});
            }
        }
        return Recovered{std::move(*read), next_ - 1, skipped_, until_, saved_};
    }

private:
    // A patch counts only upon the very record before it.
    [[nodiscard]] bool follows(const Json& record) const {
        return record.contains("document") ||
               (records_ > 0 && !broken_ && record.value("number", next_) == next_ && is_plain(record.at("patch")));
    }

    void apply(const Json& record) {
        Json state = record.contains("document") ? record.at("document") : state_.patch(record.at("patch"));
        for (const auto& [name, bytes] : record.at("files").items()) {
            files_[name] = unhexed(bytes.get<std::string>());
        }
        if (record.contains("file")) {
            const Json& file = record.at("file");
            saved_ = FileState{file.at("size").get<std::uint64_t>(), std::stoull(file.at("hash").get<std::string>())};
        }
        state_ = std::move(state);
        next_ = record.value("number", next_) + 1;
        until_ = record.value("time", std::string());
        broken_ = false;
        ++records_;
    }

    Json state_;
    std::map<std::string, std::string> files_;
    std::optional<FileState> saved_;
    std::string until_;
    int next_ = 0;
    int records_ = 0;
    int skipped_ = 0;
    bool broken_ = false;
};

} // namespace

std::optional<Recovered> recover(const std::string& journal_path, std::optional<Finding>* unreadable) {
    const auto content = read_whole(journal_path);
    if (!content) {
        std::error_code unknown;
        const auto there = std::filesystem::symlink_status(journal_path, unknown).type();
        if (unreadable != nullptr && there != std::filesystem::file_type::not_found) {
            *unreadable = content.finding();
        }
        return std::nullopt;
    }
    Reading reading;
    const std::string_view text = *content;
    for (size_t at = 0; at < text.size();) {
        const size_t end = std::min(text.find('\n', at), text.size());
        if (end > at) {
            reading.take(text.substr(at, end - at));
        }
        at = end + 1;
    }
    return reading.result();
}

bool journal_in_use(const std::string& journal_path) {
    return !FileLock::take(journal_path);
}

std::string journal_path_for(const std::string& document_path) {
    std::error_code none;
    const auto led_to = std::filesystem::canonical(document_path, none);
    const std::filesystem::path path = none ? std::filesystem::path(document_path) : led_to;
    return (path.parent_path() / ("." + path.filename().string() + ".journal")).string();
}

} // namespace kervo::io
