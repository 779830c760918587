// kervo-reader: reads one file from a stranger and writes what it found as plain bodies. It runs as a child of Kervo,
// under limits on time and memory, so that a crash or an endless loop in a reader costs nothing but this process.
//
//   kervo-reader step|brep INPUT BODIES.brep LIST.json
//
// Exit code 0: both outputs are there. 1: LIST.json holds a finding. Anything else: it broke.
#include "io/cad_files.h"
#include "io/document_json.h"
#include "io/safe_file.h"

#include <BinTools.hxx>
#include <Message.hxx>
#include <Message_PrinterOStream.hxx>
#include <Standard_Failure.hxx>

#include <iostream>

namespace {

int read(const std::string& format, const std::string& input, const std::string& bodies_path,
         const std::string& list_path) {
    using namespace kervo;
    const auto bodies = format == "step" ? io::read_step(input) : io::read_brep(input);
    io::Json list;
    if (!bodies) {
        list["cause"] = bodies.finding().cause;
        list["mend"] = bodies.finding().mend;
        return io::write_text_atomically(list_path, list.dump()) ? 2 : 1;
    }
    list["bodies"] = io::Json::array();
    std::vector<TopoDS_Shape> shapes;
    for (const auto& body : *bodies) {
        list["bodies"].push_back({{"name", body.name}, {"color", body.color}});
        shapes.push_back(body.shape);
    }
    const bool written = BinTools::Write(geom::gather(shapes), bodies_path.c_str());
    return written &&
                   !io::write_text_atomically(list_path, list.dump(-1, ' ', false, io::Json::error_handler_t::replace))
               ? 0
               : 2;
}

} // namespace

int main(int argc, char** argv) {
    if (argc != 5) {
        std::cerr << "usage: kervo-reader step|brep INPUT BODIES LIST\n";
        return 2;
    }
    Message::DefaultMessenger()->RemovePrinters(STANDARD_TYPE(Message_PrinterOStream));
    try {
        return read(argv[1], argv[2], argv[3], argv[4]);
    } catch (const Standard_Failure& failure) {
        std::cerr << failure.GetMessageString() << '\n';
    } catch (const std::exception& failure) {
        std::cerr << failure.what() << '\n';
    }
    return 2;
}
