// kervo-reader: reads one file from a stranger and tells what it found as plain bodies or outlines. It runs as a child
// of Kervo, under limits of time and memory, with nothing open but the four files of base/helper.h and nothing
// that it could open, so that a crash, an endless loop or worse costs nothing but this process.
//
//   kervo-reader step|brep|svg|dxf
//   kervo-reader inset     makes what the kernel may never end with (geom/inset.h)
//
// Exit code 0: list and bodies are there. 1: the list holds a finding. Anything else: it broke.
#include "base/helper.h"
#include "geom/inset.h"
#include "geom/measure.h"
#include "geom/self_crossing.h"
#include "geom/tessellate.h"
#include "io/cad_files.h"
#include "io/document_json.h"
#include "io/outline_files.h"
#include "io/sandbox.h"
#include "io/sketch_json.h"

#include <BRep_Builder.hxx>
#include <BinTools.hxx>
#include <Message.hxx>
#include <Message_PrinterOStream.hxx>
#include <Standard_Failure.hxx>
#include <TopoDS_Compound.hxx>
#include <TopoDS_Iterator.hxx>

#include <iostream>
#include <sstream>

namespace {

using namespace kervo;

enum Outcome { done = 0, refused = 1, broken = 2 };

Outcome tell(const io::Json& list, Outcome outcome) {
    const std::string text = list.dump(-1, ' ', false, io::Json::error_handler_t::replace);
    return write_all(helper_output, text) ? outcome : broken;
}

Outcome refuse(const Finding& finding) {
    return tell({{"cause", finding.cause}, {"mend", finding.mend}}, refused);
}

Outcome read_outlines(const std::string& format, const std::string& bytes, Progress& progress) {
    const auto outlines = format == "svg" ? io::read_svg(bytes, "") : io::read_dxf(bytes, "", progress);
    return outlines ? tell(io::artwork_to_json(*outlines), done) : refuse(outlines.finding());
}

// Everything that Kervo asks of a shape as soon as it has one, for the first time here, where it may crash.
bool try_out(const TopoDS_Shape& shape) {
    const bool sound = geom::is_valid(shape) && !geom::self_crossing(shape);
    geom::volume_of(shape);
    geom::bounds_of(shape);
    geom::tessellate(shape, {1, 0.5});
    return sound;
}

Outcome read_bodies(const std::string& format, const std::string& bytes, Progress& progress) {
    std::vector<io::NamedBody> bodies;
    io::Json list{{"bodies", io::Json::array()}, {"not_followed", io::Json::array()}};
    if (format == "step") {
        const auto file = io::read_step(bytes, progress);
        if (!file) {
            return refuse(file.finding());
        }
        bodies = file->bodies;
        list["not_followed"] = file->not_followed;
    } else {
        const auto read = io::read_brep(bytes, progress);
        if (!read) {
            return refuse(read.finding());
        }
        bodies = *read;
    }
    TopoDS_Compound all;
    BRep_Builder builder;
    builder.MakeCompound(all);
    for (const auto& body : bodies) {
        builder.Add(all, body.shape);
    }
    std::ostringstream out;
    BinTools::Write(all, out);
    const std::string text = out.str();
    // What is tried out is what Kervo will get: these bytes, read again.
    TopoDS_Shape again;
    std::istringstream in(text);
    BinTools::Read(again, in);
    size_t at = 0;
    for (TopoDS_Iterator it(again); it.More(); it.Next(), ++at) {
        progress.report(static_cast<double>(at) / static_cast<double>(bodies.size()), "check");
        list["bodies"].push_back(
            {{"name", bodies[at].name}, {"color", bodies[at].color}, {"sound", try_out(it.Value())}});
    }
    return at == bodies.size() && write_all(helper_more_output, text) ? tell(list, done) : broken;
}

} // namespace

int main(int argc, char** argv) {
    const std::string format = argc == 2 ? argv[1] : "";
    const auto bytes = read_all(helper_input, 4ULL << 30U);
    Headway* headway = share_headway(helper_headway);
    const bool outlines = format == "svg" || format == "dxf";
    const bool inset = format == "inset";
    if (!bytes || headway == nullptr || !(outlines || inset || format == "step" || format == "brep")) {
        std::cerr << "kervo-reader is started by Kervo, with files of its own.\n";
        return broken;
    }
    Message::DefaultMessenger()->RemovePrinters(STANDARD_TYPE(Message_PrinterOStream));
    io::shut_all_doors();
    Progress progress([headway](double fraction, const std::string&) {
        ++headway->count;
        headway->permille = static_cast<std::uint32_t>(1000 * fraction);
    });
    try {
        if (inset) {
            return write_all(helper_output, geom::answer_inset(*bytes)) ? done : broken;
        }
        return outlines ? read_outlines(format, *bytes, progress) : read_bodies(format, *bytes, progress);
    } catch (const Standard_Failure& failure) {
        std::cerr << failure.GetMessageString() << '\n';
    } catch (const std::exception& failure) {
        std::cerr << failure.what() << '\n';
    }
    return broken;
}
