#include "io/document_file.h"

#include "io/safe_file.h"

#include <filesystem>
#include <zip.h>

namespace kervo::io {

namespace fs = std::filesystem;

namespace {

constexpr zip_uint64_t largest_entry = 2ULL << 30; // bytes; a stranger's zip may promise anything

struct ZipCloser {
    void operator()(zip_t* zip) const { zip_discard(zip); }
};
using Zip = std::unique_ptr<zip_t, ZipCloser>;

std::optional<std::string> read_entry(zip_t* zip, const std::string& name) {
    zip_stat_t stat;
    if (zip_stat(zip, name.c_str(), 0, &stat) != 0 || (stat.valid & ZIP_STAT_SIZE) == 0 || stat.size > largest_entry) {
        return std::nullopt;
    }
    zip_file_t* file = zip_fopen(zip, name.c_str(), 0);
    if (file == nullptr) {
        return std::nullopt;
    }
    std::string bytes(stat.size, '\0');
    const zip_int64_t read = zip_fread(file, bytes.data(), stat.size);
    zip_fclose(file);
    return read == static_cast<zip_int64_t>(stat.size) ? std::optional<std::string>(std::move(bytes)) : std::nullopt;
}

// `get` fetches an imported file by name.
template <class Get> void fill_assets(model::Document& document, Get&& get) {
    for (auto& [name, asset] : document.assets) {
        if (auto bytes = get(name)) {
            asset = std::make_shared<model::Asset>(model::Asset{name, std::move(*bytes), false});
        }
    }
}

Finding damaged(const std::string& path) {
    return error_finding("file.zip", "\u201c" + path + "\u201d is damaged.",
                         "Take an older copy. The file was not changed.");
}

Result<model::Document> open_zip(const std::string& path) {
    int error = 0;
    const Zip zip(zip_open(path.c_str(), ZIP_RDONLY | ZIP_CHECKCONS, &error));
    const auto text = zip ? read_entry(zip.get(), "document.json") : std::nullopt;
    if (!text) {
        return damaged(path);
    }
    auto document = document_from_text(*text);
    if (document) {
        fill_assets(*document, [&](const std::string& name) { return read_entry(zip.get(), "assets/" + name); });
    }
    return document;
}

Result<model::Document> open_bare(const std::string& path, const std::string& text) {
    auto document = document_from_text(text);
    if (document) {
        fill_assets(*document, [&](const std::string& name) -> std::optional<std::string> {
            // Only plain names: a document from a stranger must not read files from elsewhere.
            if (fs::path(name).filename() != name) {
                return std::nullopt;
            }
            const auto bytes = read_whole((fs::path(path).parent_path() / name).string());
            return bytes ? std::optional<std::string>(*bytes) : std::nullopt;
        });
    }
    return document;
}

std::optional<Finding> write_zip(const model::Document& document, const std::string& path, const std::string& preview) {
    int error = 0;
    Zip zip(zip_open(path.c_str(), ZIP_CREATE | ZIP_TRUNCATE, &error));
    const Finding failed = error_finding("file.write", "\u201c" + path + "\u201d cannot be written.",
                                         "Choose another place; the old file is as it was.");
    if (!zip) {
        return failed;
    }
    // libzip reads the buffers when the archive is closed, so they must live until then.
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
        good = good && (asset->missing || add("assets/" + name, asset->bytes));
    }
    good = good && (preview.empty() || add("preview.png", preview));
    if (!good || zip_close(zip.get()) != 0) {
        return failed;
    }
    zip.release(); // NOLINT(bugprone-unused-return-value): closed above
    return std::nullopt;
}

} // namespace

Result<model::Document> open_document(const std::string& path) {
    const auto content = read_whole(path);
    if (!content) {
        return content.finding();
    }
    return content->rfind("PK", 0) == 0 ? open_zip(path) : open_bare(path, *content);
}

Result<std::string> read_document_text(const std::string& path) {
    auto content = read_whole(path);
    if (!content || content->rfind("PK", 0) != 0) {
        return content;
    }
    int error = 0;
    const Zip zip(zip_open(path.c_str(), ZIP_RDONLY | ZIP_CHECKCONS, &error));
    auto text = zip ? read_entry(zip.get(), "document.json") : std::nullopt;
    return text ? Result<std::string>(std::move(*text)) : damaged(path);
}

std::optional<Finding> save_document(const model::Document& document, const std::string& path,
                                     const std::string& preview) {
    if (fs::path(path).extension() != ".json") {
        return write_atomically(path, [&](const std::string& fresh) { return write_zip(document, fresh, preview); });
    }
    for (const auto& [name, asset] : document.assets) {
        const auto place = fs::path(path).parent_path() / name;
        if (!asset->missing) {
            if (auto problem = write_text_atomically(place.string(), asset->bytes)) {
                return problem;
            }
        }
    }
    return write_text_atomically(path, to_text(document));
}

Result<model::AssetPtr> load_asset(const model::Document& document, const std::string& path) {
    auto bytes = read_whole(path);
    if (!bytes) {
        return bytes.finding();
    }
    const fs::path file = fs::path(path).filename();
    std::string name = file.string();
    for (int twin = 2; document.assets.contains(name); ++twin) {
        name = file.stem().string() + "-" + std::to_string(twin) + file.extension().string();
    }
    return std::make_shared<const model::Asset>(model::Asset{name, std::move(*bytes), false});
}

} // namespace kervo::io
