#include "io/document/keeper.h"

#include "io/document/safe_file.h"

#include <algorithm>
#include <cerrno>
#include <filesystem>
#include <sys/stat.h>
#include <unistd.h>

namespace kervo::io {

namespace fs = std::filesystem;

void Keeper::start_journal(const std::string& place, const model::Document& now, const Beyond& beyond) {
    place_ = place;
    auto started = Journal::start(place, saved_, now, saved_as_, beyond);
    if (journal_ && journal_->path() != place) { // that of another document, or of this one in another place
        drop_journal();
    }
    outdated_ = !started;
    if (started) {
        journal_ = std::move(*started);
        trouble_.reset();
    } else {
        trouble_ = started.finding();
    }
}

namespace {

// What may hold somebody's changes is not written over. Done as well where there is nothing to put aside.
bool put_aside(const std::string& place) {
    struct stat status {};
    if (::lstat(place.c_str(), &status) != 0) {
        return errno == ENOENT;
    }
    for (int count = 1;; ++count) {
        const std::string aside = place + ".aside-" + std::to_string(count);
        if (::lstat(aside.c_str(), &status) != 0) {
            return ::rename(place.c_str(), aside.c_str()) == 0;
        }
    }
}

} // namespace

Result<Keeper::Opened> Keeper::open(const std::string& path) {
    FileLock lock;
    const bool again = lock_.holds(path);
    if (!again) {
        auto taken = FileLock::take(path);
        if (!taken) {
            return taken.finding();
        }
        lock = std::move(*taken);
    }
    const std::string place = journal_path_for(path);
    if (lock.empty() && !again && place != place_ &&
        journal_in_use(place)) { // no file, or no locks on this file system
        return error_finding("file.in_use", "\u201c" + path + "\u201d is open in another window.",
                             "Close it there first.");
    }
    auto file = open_file(path);
    std::optional<Finding> unreadable;
    // Opened again, its changes are saved or were given up.
    auto unsaved = again && !stays_ ? std::nullopt : recover(place, &unreadable);
    const bool readable = ::access(place.c_str(), R_OK) == 0;
    if (!again && !unsaved && ((unreadable && readable) || !put_aside(place))) { // at another time it may be read
        return unreadable ? *unreadable
                          : error_finding("file.read", "\u201c" + place + "\u201d holds changes that cannot be read.",
                                          "Move it elsewhere, and open the document again.");
    }
    if (unsaved && (unsaved->changes == 0 || (file && model::same_content(unsaved->document, file->document)))) {
        unsaved.reset();
    }
    if (!file && (file.finding().code == "file.newer" || !unsaved)) {
        return file.finding();
    }
    if (!again) {
        lock_ = std::move(lock);
    }
    path_ = path;
    saved_ = file ? file->document : model::Document{};
    saved_as_ = file ? std::optional(file->state) : state_of(path);
    looked_.clear();
    differs_ = false;
    const bool changed = unsaved && unsaved->saved && saved_as_ && *unsaved->saved != *saved_as_;
    unsaved ? start_journal(place, unsaved->document, {unsaved->changes, unsaved->until})
            : start_journal(place, saved_);
    return Opened{saved_, std::move(unsaved), changed};
}

namespace {

// A name that nobody uses: process numbers come again, and what a crash left under one must not be overwritten.
std::string free_place(const std::string& folder) {
    std::error_code ignored;
    fs::create_directories(folder, ignored);
    for (int count = 1;; ++count) {
        auto place = folder + "/untitled-" + std::to_string(::getpid()) + "-" + std::to_string(count) + ".journal";
        if (!fs::exists(place, ignored)) {
            return place;
        }
    }
}

// Journals of untitled documents, the newest first.
std::vector<std::string> left_in(const std::string& folder) {
    std::vector<std::pair<fs::file_time_type, std::string>> found;
    std::error_code failed;
    for (const auto& entry : fs::directory_iterator(folder, failed)) {
        const std::string name = entry.path().filename().string();
        if (name.starts_with("untitled-") && name.ends_with(".journal") && entry.is_regular_file(failed)) {
            found.emplace_back(entry.last_write_time(failed), entry.path().string());
        }
    }
    std::sort(found.rbegin(), found.rend());
    std::vector<std::string> places;
    for (auto& [time, place] : found) {
        places.push_back(std::move(place));
    }
    return places;
}

} // namespace

void Keeper::start_untitled(const std::string& folder) {
    path_.clear();
    lock_ = FileLock();
    saved_ = {};
    saved_as_.reset();
    start_journal(free_place(folder), saved_);
}

std::optional<Recovered> Keeper::bring_back(const std::string& folder) {
    for (const std::string& left : left_in(folder)) {
        if (left == place_ || journal_in_use(left)) {
            continue;
        }
        // Only one process can have it under a name of its own.
        const std::string own = free_place(folder);
        if (::rename(left.c_str(), own.c_str()) != 0) {
            continue;
        }
        const auto unsaved = recover(own);
        if (!unsaved || unsaved->changes == 0) {
            ::unlink(own.c_str());
            continue;
        }
        path_.clear();
        lock_ = FileLock();
        saved_ = {};
        saved_as_.reset();
        start_journal(own, unsaved->document, {unsaved->changes, unsaved->until});
        return unsaved;
    }
    return std::nullopt;
}

void Keeper::record(const model::Document& now) {
    if (place_.empty()) {
        return;
    }
    if (!journal_ || outdated_) {
        start_journal(place_, now);
    } else {
        trouble_ = journal_->append(now);
    }
}

std::optional<Finding> Keeper::save(const model::Document& document, const std::string& path,
                                    const std::string& preview, Others others) {
    const bool same_place = path == path_ || lock_.holds(path);
    FileLock lock;
    FileLock& held = same_place ? lock_ : lock;
    std::optional<FileState> written;
    Saving saving{preview, &held, {}, &written};
    if (same_place && others == Others::stay) {
        saving.expected = saved_as_;
    }
    if (auto problem = save_document(document, path, saving)) {
        return problem;
    }
    if (!same_place) {
        lock_ = std::move(lock);
    }
    path_ = path;
    saved_ = document;
    saved_as_ = written;
    looked_.clear();
    differs_ = false;
    start_journal(journal_path_for(path), document);
    return std::nullopt;
}

bool Keeper::changed_outside() {
    struct stat status {};
    if (path_.empty() || !saved_as_ || ::stat(path_.c_str(), &status) != 0) {
        return false;
    }
    std::string looks;
    for (const long part : {static_cast<long>(status.st_ino), static_cast<long>(status.st_size),
                            static_cast<long>(status.st_mtim.tv_sec), static_cast<long>(status.st_mtim.tv_nsec)}) {
        looks += std::to_string(part) + " ";
    }
    if (looks != looked_) {
        const auto there = state_of(path_);
        looked_ = looks;
        differs_ = there && *there != *saved_as_;
    }
    return differs_;
}

void Keeper::drop_journal() {
    if (journal_ && !stays_) {
        journal_->discard();
    }
    journal_.reset();
    stays_ = false;
}

void Keeper::leave() {
    drop_journal();
    place_.clear();
    trouble_.reset();
    lock_ = FileLock();
    path_.clear();
}

} // namespace kervo::io
