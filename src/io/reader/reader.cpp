#include "io/reader/reader.h"

#include "base/helper.h"
#include "geom/kernel/inset.h"
#include "geom/kernel/tolerances.h"
#include "geom/measure/measure.h"
#include "geom/measure/self_crossing.h"
#include "geom/view/tessellate.h"
#include "io/document/document_json.h"
#include "io/document/sketch_json.h"
#include "io/formats/format.h"
#include "io/reader/sandbox.h"

#include <BRep_Builder.hxx>
#include <BinTools.hxx>
#include <Message.hxx>
#include <Message_PrinterOStream.hxx>
#include <Standard_Failure.hxx>
#include <TopoDS_Compound.hxx>
#include <TopoDS_Iterator.hxx>

#include <iostream>
#include <sstream>

namespace kervo::io {

namespace {

constexpr double loose = 1e-6; // mm

enum Outcome { done = 0, refused = 1, broken = 2 };

Outcome tell(const Json& list, Outcome outcome) {
    const std::string text = list.dump(-1, ' ', false, Json::error_handler_t::replace);
    return write_all(helper_output, text) ? outcome : broken;
}

Outcome refuse(const Finding& finding) {
    return tell({{"cause", finding.cause}, {"mend", finding.mend}}, refused);
}

Outcome read_outlines(const Format& format, const std::string& bytes, Progress& progress) {
    const auto outlines = format.read_outlines(bytes, progress);
    return outlines ? tell(artwork_to_json(*outlines), done) : refuse(outlines.finding());
}

// Everything that Kervo asks of a shape as soon as it has one, for the first time here, where it may crash.
bool try_out(const TopoDS_Shape& shape) {
    const bool sound = geom::is_sound_body(shape);
    geom::volume_of(shape);
    geom::bounds_of(shape);
    geom::tessellate(shape, {1, 0.5});
    return sound;
}

std::string bytes_of(const TopoDS_Shape& shape) {
    std::ostringstream out;
    BinTools::Write(shape, out);
    return out.str();
}

TopoDS_Shape from_bytes(const std::string& bytes) {
    TopoDS_Shape shape;
    std::istringstream in(bytes);
    BinTools::Read(shape, in);
    return shape;
}

// What is tried out is what Kervo will get: these bytes, read again. Whether each body is sound.
std::vector<bool> try_out_all(const std::string& bytes, size_t count, Progress& progress) {
    const TopoDS_Shape all = from_bytes(bytes);
    std::vector<bool> sound;
    for (TopoDS_Iterator it(all); it.More(); it.Next()) {
        progress.report(static_cast<double>(sound.size()) / static_cast<double>(count), "check");
        sound.push_back(try_out(it.Value()));
    }
    return sound;
}

Outcome read_bodies(const Format& format, const std::string& bytes, Progress& progress) {
    const auto file = format.read_bodies(bytes, progress);
    if (!file) {
        return refuse(file.finding());
    }
    const auto& bodies = file->bodies;
    TopoDS_Compound all;
    BRep_Builder builder;
    builder.MakeCompound(all);
    for (const auto& body : bodies) {
        builder.Add(all, body.shape);
    }
    std::string text = bytes_of(all);
    const auto sound = try_out_all(text, bodies.size(), progress);
    if (geom::largest_tolerance(all) > loose) { // no looser than it is, unless that is what holds it together
        const TopoDS_Shape own = from_bytes(text);
        geom::tighten_tolerances(own);
        std::string tight = bytes_of(own);
        if (try_out_all(tight, bodies.size(), progress) == sound) {
            text = std::move(tight);
        }
    }
    if (sound.size() != bodies.size()) {
        return broken;
    }
    Json list{{"bodies", Json::array()}, {"not_followed", file->not_followed}, {"left_out", file->left_out}};
    for (size_t at = 0; at < bodies.size(); ++at) {
        const NamedBody& body = bodies[at];
        Json groups = Json::array();
        for (const auto& [number, name] : body.sorting.groups) {
            groups.push_back({{"number", number}, {"name", name}});
        }
        list["bodies"].push_back({{"name", body.name},
                                  {"color", body.color},
                                  {"sound", static_cast<bool>(sound[at])},
                                  {"groups", groups},
                                  {"layer", body.sorting.layer},
                                  {"hidden", body.sorting.hidden}});
    }
    return write_all(helper_more_output, text) ? tell(list, done) : broken;
}

// "bodies:step", "outlines:svg"; null where no format reads that.
const Format* format_asked(const std::string& task, Content content, const std::string& prefix) {
    for (const Format* format : task.starts_with(prefix) ? readers_of(content) : std::vector<const Format*>()) {
        if (task == prefix + format->id) {
            return format;
        }
    }
    return nullptr;
}

} // namespace

int run_reader(int argc, char** argv) {
    const std::string task = argc == 2 ? argv[1] : "";
    const auto bytes = read_all(helper_input, 4ULL << 30U);
    Headway* headway = share_headway(helper_headway);
    const Format* of_bodies = format_asked(task, Content::bodies, "bodies:");
    const Format* of_outlines = format_asked(task, Content::outlines, "outlines:");
    const bool inset = task == "inset";
    if (!bytes || headway == nullptr || !(of_bodies != nullptr || of_outlines != nullptr || inset)) {
        std::cerr << "This program is started by Kervo, with files of its own.\n";
        return broken;
    }
    Message::DefaultMessenger()->RemovePrinters(STANDARD_TYPE(Message_PrinterOStream));
    shut_all_doors();
    Progress progress([headway](double fraction, const std::string&) {
        ++headway->count;
        headway->permille = static_cast<std::uint32_t>(1000 * fraction);
    });
    try {
        if (inset) {
            return write_all(helper_output, geom::answer_inset(*bytes)) ? done : broken;
        }
        return of_outlines != nullptr ? read_outlines(*of_outlines, *bytes, progress)
                                      : read_bodies(*of_bodies, *bytes, progress);
    } catch (const Standard_Failure& failure) {
        std::cerr << failure.GetMessageString() << '\n';
    } catch (const std::exception& failure) {
        std::cerr << failure.what() << '\n';
    }
    return broken;
}

} // namespace kervo::io
