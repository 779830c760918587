#include "io/formats/brep/brep.h"

#include "io/formats/plain_file.h"

#include "geom/measure/measure.h"
#include "io/formats/told_stream.h"

#include <BRepTools.hxx>
#include <BRep_Builder.hxx>

#include <sstream>

namespace kervo::io {

namespace {

Result<ReadBodies> read_brep(const std::string& bytes, Progress& progress) {
    TopoDS_Shape shape;
    const std::string lines = bytes + "\n";
    ToldStream stream(lines, progress);
    stream.exceptions(std::ios::eofbit); // the kernel would look for what is cut off for ever
    try {
        BRepTools::Read(shape, stream, BRep_Builder());
    } catch (const std::ios_base::failure&) {
        shape.Nullify();
    }
    if (shape.IsNull()) {
        return unreadable("it is not a BREP file, or it is cut off");
    }
    ReadBodies file;
    for (const TopoDS_Shape& solid : geom::solids_of(shape)) {
        file.bodies.push_back({{}, {}, solid});
    }
    if (file.bodies.empty() && !geom::faces_of(shape).empty()) {
        file.bodies.push_back({{}, {}, shape});
    }
    if (file.bodies.empty()) {
        return unreadable("it holds no bodies");
    }
    return file;
}

} // namespace

std::string brep_text(const std::vector<NamedBody>& bodies) {
    std::vector<TopoDS_Shape> shapes;
    for (const NamedBody& body : bodies) {
        shapes.push_back(body.shape);
    }
    std::ostringstream text;
    BRepTools::Write(geom::gather(shapes), text);
    return text.str();
}

std::string brep_of(const std::string& name, const std::string& color, const model::Body& body) {
    return brep_text({{name, color, body.shape}});
}

Format brep_format() {
    Format format{"brep", "BREP", {".brep", ".brp"}};
    format.read_bodies = read_brep;
    format.write_bodies = [](const ModelToWrite& model, const FormatAnswers& /*answers*/, const std::string& path) {
        return Written(write_plain(path, brep_text(model.bodies)));
    };
    return format;
}

} // namespace kervo::io
