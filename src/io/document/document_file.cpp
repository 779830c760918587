#include "io/document/document_file.h"

#include "io/document/json_text.h"
#include "io/document/safe_file.h"

#include <algorithm>
#include <filesystem>
#include <zip.h>

namespace kervo::io {

namespace fs = std::filesystem;

namespace {

constexpr size_t largest_document = 64ULL << 20; // bytes of text
constexpr size_t largest_asset = 1ULL << 30;

struct ZipCloser {
    void operator()(zip_t* zip) const { zip_discard(zip); }
};
using Zip = std::unique_ptr<zip_t, ZipCloser>;

Finding damaged(const std::string& path) {
    return error_finding("file.zip", "\u201c" + path + "\u201d is damaged.",
                         "Take an older copy. The file was not changed.");
}

// What a stranger's zip says of sizes is not believed: memory is taken as bytes come. `path`: of the zip.
Result<std::string> read_entry(zip_t* zip, const std::string& path, const std::string& name, size_t largest) {
    constexpr size_t at_a_time = 1 << 20;
    zip_file_t* file = zip_fopen(zip, name.c_str(), 0);
    if (file == nullptr) {
        return damaged(path);
    }
    std::string bytes;
    zip_int64_t read = 1;
    while (read > 0 && bytes.size() <= largest) {
        const size_t before = bytes.size();
        bytes.resize(before + at_a_time);
        read = zip_fread(file, bytes.data() + before, at_a_time);
        bytes.resize(before + static_cast<size_t>(std::max<zip_int64_t>(read, 0)));
    }
    zip_fclose(file);
    if (bytes.size() > largest) {
        return error_finding("file.too_large",
                             "\u201c" + path + "\u201d holds more than " + std::to_string(largest >> 20) +
                                 " MB as \u201c" + name + "\u201d.",
                             "It was not made by Kervo; take another file.");
    }
    return read == 0 ? Result<std::string>(std::move(bytes)) : damaged(path);
}

// `get` fetches an imported file by name.
template <class Get> void fill_assets(model::Document& document, Get&& get) {
    for (auto& [name, asset] : document.assets) {
        if (auto bytes = get(name.text())) {
            asset = std::make_shared<model::Asset>(model::Asset{name, std::move(*bytes), false});
        }
    }
}

// A container in memory.
Zip zip_over(const std::string& bytes) {
    zip_error_t error;
    zip_error_init(&error);
    zip_source_t* source = zip_source_buffer_create(bytes.data(), bytes.size(), 0, &error);
    zip_t* zip = source == nullptr ? nullptr : zip_open_from_source(source, ZIP_RDONLY | ZIP_CHECKCONS, &error);
    if (zip == nullptr) {
        zip_source_free(source);
    }
    zip_error_fini(&error);
    return Zip(zip);
}

bool is_container(const std::string& bytes) {
    return bytes.starts_with("PK");
}

Result<model::Document> open_zip(const std::string& path, const std::string& bytes) {
    const Zip zip = zip_over(bytes);
    const auto text = zip ? read_entry(zip.get(), path, "document.json", largest_document) : damaged(path);
    if (!text) {
        return text.finding();
    }
    auto document = document_from_text(*text);
    if (document) {
        fill_assets(*document, [&](const std::string& name) {
            return read_entry(zip.get(), path, "assets/" + name, largest_asset);
        });
    }
    return document;
}

Result<model::Document> open_bare(const std::string& path, const std::string& text) {
    auto document = document_from_text(text);
    if (document) {
        fill_assets(*document, [&](const std::string& name) {
            return read_beside((fs::path(path).parent_path() / name).string());
        });
    }
    return document;
}

struct SourceFreer {
    void operator()(zip_source_t* source) const { zip_source_free(source); }
};

// What is in a source that was written, as bytes; nothing where that fails.
std::optional<std::string> bytes_of(zip_source_t* source) {
    zip_stat_t status;
    if (zip_source_stat(source, &status) != 0 || zip_source_open(source) != 0) {
        return std::nullopt;
    }
    std::string bytes(status.size, '\0');
    const zip_int64_t read = zip_source_read(source, bytes.data(), bytes.size());
    zip_source_close(source);
    return read == static_cast<zip_int64_t>(bytes.size()) ? std::optional(std::move(bytes)) : std::nullopt;
}

// The container as bytes; nothing where there is no memory for it.
std::optional<std::string> packed(const model::Document& document, const std::string& preview) {
    zip_error_t error;
    zip_error_init(&error);
    const std::unique_ptr<zip_source_t, SourceFreer> target(zip_source_buffer_create(nullptr, 0, 0, &error));
    zip_error_fini(&error);
    if (!target) {
        return std::nullopt;
    }
    zip_source_keep(target.get()); // the archive takes one reference
    Zip zip(zip_open_from_source(target.get(), ZIP_CREATE | ZIP_TRUNCATE, &error));
    if (!zip) {
        zip_source_free(target.get());
        return std::nullopt;
    }
    // The buffers are read when the archive is closed, so they must live until then.
    const std::string text = to_text(document);
    const auto add = [&](const std::string& name, const std::string& bytes) {
        zip_source_t* source = zip_source_buffer(zip.get(), bytes.data(), bytes.size(), 0);
        if (source == nullptr || zip_file_add(zip.get(), name.c_str(), source, ZIP_FL_ENC_UTF_8) < 0) {
            zip_source_free(source);
            return false;
        }
        return true;
    };
    bool good = add("document.json", text);
    for (const auto& [name, asset] : document.assets) {
        good = good && (asset->missing || add("assets/" + name.text(), asset->bytes));
    }
    good = good && (preview.empty() || add("preview.png", preview));
    if (!good || zip_close(zip.get()) != 0) {
        return std::nullopt;
    }
    zip.release(); // NOLINT(bugprone-unused-return-value): closed above
    return bytes_of(target.get());
}

// Imported files of a bare document go beside it; nothing that is there and another's is replaced.
std::optional<Finding> write_assets_beside(const model::Document& document, const fs::path& path) {
    for (const auto& [name, asset] : document.assets) {
        const auto place = path.parent_path() / name.text();
        if (asset->missing) {
            continue;
        }
        std::error_code ignored;
        if (fs::symlink_status(place, ignored).type() != fs::file_type::not_found || place == path) {
            const auto there = read_beside(place.string());
            if (place == path || !there || *there != asset->bytes) {
                return error_finding("file.taken",
                                     "\u201c" + place.string() +
                                         "\u201d is there already, and is not the file of that name that the document "
                                         "holds.",
                                     "Save the document into another folder, or as one file (.kervo).");
            }
            continue;
        }
        if (auto problem = write_text_atomically(place.string(), asset->bytes)) {
            return problem;
        }
    }
    return std::nullopt;
}

} // namespace

Result<OpenedFile> open_file(const std::string& path) {
    const auto content = read_whole(path);
    if (!content) {
        return content.finding();
    }
    auto document = is_container(*content) ? open_zip(path, *content) : open_bare(path, *content);
    return document ? Result<OpenedFile>(OpenedFile{std::move(*document), FileState::of(*content)})
                    : document.finding();
}

Result<model::Document> open_document(const std::string& path) {
    auto opened = open_file(path);
    return opened ? Result<model::Document>(std::move(opened->document)) : opened.finding();
}

Result<std::string> read_document_text(const std::string& path) {
    auto content = read_whole(path);
    if (!content || !is_container(*content)) {
        return content;
    }
    const Zip zip = zip_over(*content);
    return zip ? read_entry(zip.get(), path, "document.json", largest_document) : damaged(path);
}

std::optional<Finding> save_document(const model::Document& document, const std::string& path, const Saving& saving) {
    FileLock own; // for as long as this takes
    FileLock& lock = saving.lock != nullptr ? *saving.lock : own;
    if (!lock.holds(path)) {
        auto taken = FileLock::take(path);
        if (!taken) {
            return taken.finding();
        }
        own = std::move(*taken);
    }
    if (saving.expected) {
        const auto there = state_of(path);
        if (there && *there != *saving.expected) {
            return error_finding("file.changed", "\u201c" + path + "\u201d was changed by another program meanwhile.",
                                 "Save under another name, or open it again.");
        }
    }
    const bool bare = fs::path(path).extension() == ".json";
    const auto bytes = bare ? to_text(document) : packed(document, saving.preview);
    if (!bytes) {
        return error_finding("file.write", "\u201c" + path + "\u201d cannot be written: there is no memory for it.",
                             "Close other programs and try again; the old file is as it was.");
    }
    if (auto problem = bare ? write_assets_beside(document, path) : std::nullopt) {
        return problem;
    }
    if (auto problem = write_text_atomically(path, *bytes, {Readers::as_usual, &lock})) {
        return problem;
    }
    if (saving.saved != nullptr) {
        *saving.saved = FileState::of(*bytes);
    }
    return std::nullopt;
}

model::AssetPtr new_asset(const model::Document& document, const std::string& file_name, std::string bytes) {
    model::AssetName name = model::AssetName::like(file_name);
    const fs::path file(name.text());
    for (int twin = 2; document.assets.contains(name); ++twin) {
        name = model::AssetName::like(file.stem().string() + "-" + std::to_string(twin) + file.extension().string());
    }
    return std::make_shared<const model::Asset>(model::Asset{name, std::move(bytes), false});
}

Result<model::AssetPtr> load_asset(const model::Document& document, const std::string& path) {
    auto bytes = read_whole(path);
    if (!bytes) {
        return bytes.finding();
    }
    return new_asset(document, fs::path(path).filename().string(), std::move(*bytes));
}

} // namespace kervo::io
