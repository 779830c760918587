#include "readers.h"

#include "base/helper.h"
#include "geom/measure/measure.h"
#include "geom/measure/self_crossing.h"
#include "io/document/document_file.h"
#include "io/document/journal.h"
#include "io/formats/csv/parameters_csv.h"
#include "io/formats/dxf/dxf.h"
#include "io/formats/svg/svg.h"
#include "io/reader/import_child.h"

#include <algorithm>
#include <cmath>

namespace kervo::fuzz {

namespace {

// A document that was read is written, and read as the same.
std::string comes_back(const model::Document& document) {
    const auto again = io::document_from_text(io::to_text(document));
    if (!again) {
        return "what was read is written so that it cannot be read: " + again.finding().cause;
    }
    model::Document without_files = document;
    for (auto& [name, asset] : without_files.assets) {
        asset = std::make_shared<const model::Asset>(model::Asset{name, {}, true});
    }
    return io::to_text(*again) == io::to_text(without_files) ? "" : "it is written otherwise the second time";
}

std::string read_document(const std::string& bytes) {
    const auto document = io::document_from_text(bytes);
    return document ? comes_back(*document) : document.finding().cause.empty() ? "a finding without a cause" : "";
}

// Hands the bytes over as a file.
template <class Read> std::string with_file(const std::string& bytes, const Read& read) {
    const MemoryFile file;
    if (!write_all(file.descriptor(), bytes)) {
        return {};
    }
    return read("/proc/self/fd/" + std::to_string(file.descriptor()));
}

std::string read_container(const std::string& bytes) {
    return with_file(bytes, [](const std::string& path) {
        const auto document = io::open_document(path);
        return document ? comes_back(*document) : std::string();
    });
}

std::string read_journal(const std::string& bytes) {
    return with_file(bytes, [](const std::string& path) {
        const auto found = io::recover(path);
        return !found ? std::string() : found->changes < 0 ? "less than no changes" : comes_back(found->document);
    });
}

bool is_finite(const sketch::Point2& p) {
    return std::isfinite(p[0]) && std::isfinite(p[1]);
}

std::string check_outlines(const Result<sketch::Artwork>& read) {
    if (!read) {
        return read.finding().cause.empty() ? "a finding without a cause" : "";
    }
    for (const auto& shape : read->shapes) {
        for (const auto& chain : shape.chains) {
            for (size_t i = 0; i < chain.size(); ++i) {
                if (!is_finite(chain[i].start) || !is_finite(chain[i].end) || !is_finite(chain[i].at(0.5))) {
                    return "a curve that is nowhere";
                }
                if (i > 0 && sketch::distance(chain[i - 1].end, chain[i].start) > 1e-6) {
                    return "a chain with a gap";
                }
            }
        }
    }
    return {};
}

std::string read_csv(const std::string& bytes) {
    const auto table = io::with_parameters_from_csv({}, bytes);
    if (!table) {
        return {};
    }
    const auto again = io::with_parameters_from_csv({}, io::parameters_to_csv(*table));
    return again && again->parameters == table->parameters ? "" : "the table does not come back";
}

// The kernel's own readers break on many files; what counts is that nobody but the reader process does.
std::string read_bodies(const std::string& name, const std::string& bytes) {
    Progress progress;
    io::ImportLimits limits;
    limits.seconds = 3;
#ifdef KERVO_BIN
    limits.reader = KERVO_BIN "/kervo-reader";
#endif
    const auto file = io::import_in_child({model::AssetName::like(name), bytes, false}, limits, progress);
    if (!file) {
        return file.finding().code.starts_with("import.") ? "" : "a finding of another kind";
    }
    const bool as_told = std::all_of(file->bodies.begin(), file->bodies.end(), [](const auto& body) {
        return (geom::is_valid(body.shape) && !geom::self_crossing(body.shape)) == body.sound;
    });
    return as_told ? "" : "a body is not as it was told";
}

} // namespace

const std::map<std::string, Reader>& readers() {
    static const std::map<std::string, Reader> all{
        {"document", read_document},
        {"container", read_container},
        {"journal", read_journal},
        {"svg", [](const std::string& bytes) { return check_outlines(io::read_svg(bytes)); }},
        {"dxf",
         [](const std::string& bytes) {
             Progress progress;
             return check_outlines(io::read_dxf(bytes, progress));
         }},
        {"csv", read_csv},
        {"step", [](const std::string& bytes) { return read_bodies("a.step", bytes); }},
        {"brep", [](const std::string& bytes) { return read_bodies("a.brep", bytes); }},
    };
    return all;
}

} // namespace kervo::fuzz
