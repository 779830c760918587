// kervo-reader: reads one file from a stranger and writes what it found as plain bodies. It runs as a child of Kervo,
// under limits on time and memory, so that a crash or an endless loop in a reader costs nothing but this process.
//
//   kervo-reader step|brep INPUT BODIES.brep LIST.json
//   kervo-reader svg|dxf INPUT - LIST.json
//
// Exit code 0: the outputs are there. 1: LIST.json holds a finding. Anything else: it broke.
#include "io/cad_files.h"
#include "io/document_json.h"
#include "io/outline_files.h"
#include "io/safe_file.h"
#include "io/sketch_json.h"

#include <BinTools.hxx>
#include <Message.hxx>
#include <Message_PrinterOStream.hxx>
#include <Standard_Failure.hxx>

#include <iostream>

namespace {

int refuse(const kervo::Finding& finding, const std::string& list_path) {
    const kervo::io::Json list{{"cause", finding.cause}, {"mend", finding.mend}};
    return kervo::io::write_text_atomically(list_path, list.dump()) ? 2 : 1;
}

std::string words(const kervo::io::Json& list) {
    return list.dump(-1, ' ', false, kervo::io::Json::error_handler_t::replace);
}

int read_outlines(const std::string& format, const std::string& input, const std::string& list_path) {
    using namespace kervo;
    const auto bytes = io::read_whole(input);
    if (!bytes) {
        return refuse(bytes.finding(), list_path);
    }
    const auto outlines = format == "svg" ? io::read_svg(*bytes, "") : io::read_dxf(*bytes, "");
    if (!outlines) {
        return refuse(outlines.finding(), list_path);
    }
    return io::write_text_atomically(list_path, words(io::artwork_to_json(*outlines))) ? 2 : 0;
}

int read(const std::string& format, const std::string& input, const std::string& bodies_path,
         const std::string& list_path) {
    using namespace kervo;
    const auto bodies = format == "step" ? io::read_step(input) : io::read_brep(input);
    if (!bodies) {
        return refuse(bodies.finding(), list_path);
    }
    io::Json list;
    list["bodies"] = io::Json::array();
    std::vector<TopoDS_Shape> shapes;
    for (const auto& body : *bodies) {
        list["bodies"].push_back({{"name", body.name}, {"color", body.color}});
        shapes.push_back(body.shape);
    }
    const bool written = BinTools::Write(geom::gather(shapes), bodies_path.c_str());
    return written && !io::write_text_atomically(list_path, words(list)) ? 0 : 2;
}

} // namespace

int main(int argc, char** argv) {
    if (argc != 5) {
        std::cerr << "usage: kervo-reader step|brep|svg|dxf INPUT BODIES LIST\n";
        return 2;
    }
    Message::DefaultMessenger()->RemovePrinters(STANDARD_TYPE(Message_PrinterOStream));
    try {
        const std::string format = argv[1];
        return format == "svg" || format == "dxf" ? read_outlines(format, argv[2], argv[4])
                                                  : read(format, argv[2], argv[3], argv[4]);
    } catch (const Standard_Failure& failure) {
        std::cerr << failure.GetMessageString() << '\n';
    } catch (const std::exception& failure) {
        std::cerr << failure.what() << '\n';
    }
    return 2;
}
