#include "io/formats/stl/stl.h"

#include "geom/view/tessellate.h"

#include <BRepBuilderAPI_Copy.hxx>

#include <array>
#include <fstream>

namespace kervo::io {

namespace {

bool write_stl(const std::vector<NamedBody>& bodies, double chord, const std::string& path) {
    std::ofstream out(path, std::ios::binary);
    const std::string header(80, ' ');
    out << header;
    std::vector<std::array<gp_Pnt, 3>> triangles;
    for (const NamedBody& body : bodies) {
        // A copy without the picture's triangles, so that the file has the tolerance that was asked for.
        const TopoDS_Shape copy = BRepBuilderAPI_Copy(body.shape, Standard_True, Standard_False).Shape();
        geom::tessellate(copy, {chord, 0.35});
        const auto more = geom::triangles_of(copy);
        triangles.insert(triangles.end(), more.begin(), more.end());
    }
    const auto put = [&](const auto& value) { out.write(reinterpret_cast<const char*>(&value), sizeof value); };
    put(static_cast<unsigned>(triangles.size()));
    for (const auto& t : triangles) {
        gp_Vec normal = gp_Vec(t[0], t[1]).Crossed(gp_Vec(t[0], t[2]));
        if (normal.Magnitude() > 0) {
            normal.Normalize();
        }
        for (const gp_XYZ& v : {normal.XYZ(), t[0].XYZ(), t[1].XYZ(), t[2].XYZ()}) {
            put(static_cast<float>(v.X()));
            put(static_cast<float>(v.Y()));
            put(static_cast<float>(v.Z()));
        }
        put(static_cast<unsigned short>(0));
    }
    out.close();
    return out.good();
}

} // namespace

Format stl_format() {
    Format format{"stl", "STL", {".stl"}};
    format.questions = {{"chord", "Distance from the true surface", "How far triangles may lie from it; less is finer.",
                         "mm", 0.05, 1e-4}};
    format.write_bodies = [](const std::vector<NamedBody>& bodies, const FormatAnswers& answers,
                             const std::string& path) { return write_stl(bodies, answers.at("chord"), path); };
    return format;
}

} // namespace kervo::io
