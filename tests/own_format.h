// A format that is none of Kervo's own: balls, one in a line. What it takes to add one is all here.
#pragma once

#include "geom/measure/measure.h"
#include "io/formats/format.h"

#include <BRepPrimAPI_MakeSphere.hxx>

#include <cmath>
#include <fstream>
#include <numbers>
#include <sstream>

namespace kervo::io {

/// "x y z radius", in mm. Line by line; a radius of 666 breaks whoever reads it.
inline Result<ReadBodies> read_balls(const std::string& bytes, Progress& progress) {
    ReadBodies file;
    std::istringstream text(bytes);
    double x = 0, y = 0, z = 0, radius = 0;
    while (text >> x >> y >> z >> radius) {
        progress.report(0.5, "balls");
        if (radius == 666) {
            std::abort();
        }
        if (!(radius > 0)) {
            return unreadable("a ball has no radius");
        }
        file.bodies.push_back({"Ball " + std::to_string(file.bodies.size() + 1), "#aa7744",
                               BRepPrimAPI_MakeSphere(gp_Pnt(x, y, z), radius).Shape()});
    }
    return file.bodies.empty() ? Result<ReadBodies>(unreadable("it holds no balls")) : file;
}

/// Balls as large as the bodies, where those are, a factor larger if that is asked for.
inline Written write_balls(const ModelToWrite& model, const FormatAnswers& answers, const std::string& path) {
    std::ofstream out(path);
    for (const NamedBody& body : model.bodies) {
        const gp_Pnt at = geom::center_of(body.shape);
        const double radius = std::cbrt(geom::volume_of(body.shape) * 3 / 4 / std::numbers::pi);
        out << at.X() << ' ' << at.Y() << ' ' << at.Z() << ' ' << answers.at("factor") * radius << '\n';
    }
    out.close();
    return out.good();
}

inline Format balls_format() {
    Format format{"balls", "Balls", {".balls", ".ball"}};
    format.questions = {{"factor", "Larger by", "How much larger the balls are than the bodies.", "", 1, 0.1}};
    format.read_bodies = read_balls;
    format.write_bodies = write_balls;
    return format;
}

} // namespace kervo::io
