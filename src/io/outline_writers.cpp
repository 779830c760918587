#include "io/outline_files.h"
#include "io/safe_file.h"

#include "sketch/arrangement.h"

#include <dxflib/dl_dxf.h>

#include <algorithm>
#include <cmath>
#include <iterator>
#include <memory>
#include <numbers>
#include <sstream>

namespace kervo::io {

using sketch::Point2;
using sketch::Stretch;
using sketch::StretchKind;

namespace {

constexpr double full_turn = 2 * std::numbers::pi;

struct Outlines {
    std::vector<sketch::FilledOutline> shapes; ///< each curve by itself, what a figure fills together
    std::vector<Stretch> guides;
};

Outlines outlines_of(const sketch::Sketch& drawing) {
    Outlines all;
    for (const auto& curve : drawing.curves) {
        if (!sketch::is_sound(drawing, curve)) {
            continue;
        }
        Stretch stretch = sketch::stretch_of(drawing, curve);
        if (curve.construction) {
            all.guides.push_back(std::move(stretch));
        } else {
            all.shapes.push_back({sketch::FillRule::none, {std::move(stretch)}});
        }
    }
    auto figures = sketch::figure_outlines(drawing);
    all.shapes.insert(all.shapes.end(), std::make_move_iterator(figures.begin()),
                      std::make_move_iterator(figures.end()));
    return all;
}

Stretch forward(const Stretch& s) {
    return s.sweep < 0 && s.kind != StretchKind::line ? s.reversed() : s;
}

class DxfFile {
public:
    bool write(const Outlines& all, const std::string& path) {
        writer_.reset(dxf_.out(path.c_str(), DL_Codes::AC1015));
        if (!writer_) {
            return false;
        }
        begin();
        for (const auto& shape : all.shapes) {
            for (const Stretch& stretch : shape.stretches) {
                add(forward(stretch), DL_Attributes("outlines", 256, -1, "BYLAYER", 1.0));
            }
        }
        for (const Stretch& guide : all.guides) {
            add(forward(guide), DL_Attributes("guides", 256, -1, "BYLAYER", 1.0));
        }
        writer_->sectionEnd();
        dxf_.writeObjects(*writer_);
        dxf_.writeObjectsEnd(*writer_);
        writer_->dxfEOF();
        writer_->close();
        return true;
    }

private:
    // What a file of this version must have before its entities, as dxflib's manual lists it.
    void begin() {
        DL_WriterA& w = *writer_;
        dxf_.writeHeader(w);
        w.dxfString(9, "$INSUNITS");
        w.dxfInt(70, 4); // mm
        w.sectionEnd();
        w.sectionTables();
        dxf_.writeVPort(w);
        w.tableLinetypes(3);
        for (const char* type : {"BYBLOCK", "BYLAYER", "CONTINUOUS"}) {
            dxf_.writeLinetype(w, DL_LinetypeData(type, type, 0, 0, 0.0));
        }
        w.tableEnd();
        w.tableLayers(3);
        for (const char* layer : {"0", "outlines", "guides"}) {
            const int color = layer[0] == 'g' ? DL_Codes::gray : DL_Codes::black;
            dxf_.writeLayer(w, DL_LayerData(layer, 0), DL_Attributes("", color, 25, "CONTINUOUS", 1.0));
        }
        w.tableEnd();
        w.tableStyle(1);
        dxf_.writeStyle(w, DL_StyleData("standard", 0, 2.5, 1.0, 0.0, 0, 2.5, "txt", ""));
        w.tableEnd();
        dxf_.writeView(w);
        dxf_.writeUcs(w);
        w.tableAppid(1);
        dxf_.writeAppid(w, "ACAD");
        w.tableEnd();
        dxf_.writeDimStyle(w, 1, 1, 1, 1, 1);
        dxf_.writeBlockRecord(w);
        w.tableEnd();
        w.sectionEnd();
        w.sectionBlocks();
        for (const char* block : {"*Model_Space", "*Paper_Space", "*Paper_Space0"}) {
            dxf_.writeBlock(w, DL_BlockData(block, 0, 0.0, 0.0, 0.0));
            dxf_.writeEndBlock(w, block);
        }
        w.sectionEnd();
        w.sectionEntities();
    }

    void add(const Stretch& s, const DL_Attributes& attributes) {
        DL_WriterA& w = *writer_;
        const bool closed = s.closed(sketch::joining_tolerance);
        const auto degrees = [](double angle) {
            const double held = std::fmod(angle, full_turn);
            return (held < 0 ? held + full_turn : held) * 360 / full_turn;
        };
        switch (s.kind) {
        case StretchKind::line:
            dxf_.writeLine(w, DL_LineData(s.start[0], s.start[1], 0, s.end[0], s.end[1], 0), attributes);
            return;
        case StretchKind::arc:
            closed
                ? dxf_.writeCircle(w, DL_CircleData(s.center[0], s.center[1], 0, s.radius), attributes)
                : dxf_.writeArc(
                      w, DL_ArcData(s.center[0], s.center[1], 0, s.radius, degrees(s.from), degrees(s.from + s.sweep)),
                      attributes);
            return;
        case StretchKind::ellipse: {
            // The format wants the longer axis first.
            const double half = std::hypot(s.axis[0], s.axis[1]);
            const bool other = s.radius > half;
            const double turn = other ? full_turn / 4 : 0;
            const Point2 major = other ? Point2{-s.axis[1] / half * s.radius, s.axis[0] / half * s.radius} : s.axis;
            dxf_.writeEllipse(w,
                              DL_EllipseData(s.center[0], s.center[1], 0, major[0], major[1], 0,
                                             other ? half / s.radius : s.radius / half, closed ? 0 : s.from - turn,
                                             closed ? full_turn : s.from - turn + s.sweep),
                              attributes);
            return;
        }
        case StretchKind::spline:
            break;
        }
        const sketch::Spline run = s.spline->segment(s.from, s.from + s.sweep);
        dxf_.writeSpline(
            w, DL_SplineData(run.degree, static_cast<int>(run.knots.size()), static_cast<int>(run.poles.size()), 0, 8),
            attributes);
        for (const double knot : run.knots) {
            dxf_.writeKnot(w, DL_KnotData(knot));
        }
        for (const Point2& pole : run.poles) {
            dxf_.writeControlPoint(w, DL_ControlPointData(pole[0], pole[1], 0, 1));
        }
    }

    DL_Dxf dxf_;
    std::unique_ptr<DL_WriterA> writer_;
};

// Writes path data, the y-axis turned over.
class PathText {
public:
    PathText() { text_.precision(15); }

    void add(const Stretch& s) {
        if (!begun_ || sketch::distance(at_, s.start) > 1e-9) {
            close();
            text_ << "M" << place(s.start);
            begun_ = true;
            start_ = s.start;
        }
        switch (s.kind) {
        case StretchKind::line:
            text_ << "L" << place(s.end);
            break;
        case StretchKind::arc:
        case StretchKind::ellipse:
            around(s);
            break;
        case StretchKind::spline:
            smooth(s);
            break;
        }
        at_ = s.end;
    }
    void close() {
        if (begun_ && sketch::distance(at_, start_) < 1e-9) {
            text_ << "Z";
        }
    }
    [[nodiscard]] std::string text() {
        close();
        return text_.str();
    }

private:
    static std::string place(const Point2& p) {
        std::ostringstream text;
        text.precision(15);
        text << p[0] << "," << (p[1] == 0 ? 0 : -p[1]);
        return text.str();
    }
    void around(const Stretch& s) {
        // An arc of a path is given by its ends, which say little where they lie together or across from each other.
        const bool ellipse = s.kind == StretchKind::ellipse;
        const double tilt = ellipse ? std::atan2(s.axis[1], s.axis[0]) * 360 / full_turn : 0;
        const int parts = static_cast<int>(std::ceil(std::fabs(s.sweep) / (full_turn / 3) - 1e-9));
        for (int i = 0; i < parts; ++i) {
            const double share = s.sweep / parts;
            const Point2 to = i + 1 == parts ? s.end : s.at((i + 1.0) / parts);
            text_ << "A" << (ellipse ? std::hypot(s.axis[0], s.axis[1]) : s.radius) << "," << s.radius << " "
                  << (tilt == 0 ? 0 : -tilt) << " "
                  << "0 " << (share < 0 ? 1 : 0) << " " << place(to);
        }
    }
    void smooth(const Stretch& s) {
        const bool back = s.sweep < 0;
        const sketch::Spline run =
            s.spline->segment(std::min(s.from, s.from + s.sweep), std::max(s.from, s.from + s.sweep));
        auto breaks = run.breaks();
        for (size_t i = 0; i + 1 < breaks.size(); ++i) {
            const size_t at = back ? breaks.size() - 2 - i : i;
            std::vector<Point2> poles = run.segment(breaks[at], breaks[at + 1]).poles;
            if (run.degree <= 3) {
                if (back) {
                    std::reverse(poles.begin(), poles.end());
                }
                curve(poles);
            } else {
                cubic_pieces(run, back ? breaks[at + 1] : breaks[at], back ? breaks[at] : breaks[at + 1], 0);
            }
        }
    }
    void curve(const std::vector<Point2>& poles) {
        text_ << (poles.size() == 2 ? "L" : poles.size() == 3 ? "Q" : "C");
        for (size_t i = 1; i < poles.size(); ++i) {
            text_ << (i > 1 ? " " : "") << place(poles[i]);
        }
    }
    // Ends and directions as they are (Hermite); halved until the middle, and a quarter and three, lie near enough.
    void cubic_pieces(const sketch::Spline& run, double from, double to, int depth) { // NOLINT(misc-no-recursion)
        const auto a = run.at(from);
        const auto b = run.at(to);
        const double third = (to - from) / 3;
        const std::vector<Point2> poles{a.place,
                                        {a.place[0] + third * a.first[0], a.place[1] + third * a.first[1]},
                                        {b.place[0] - third * b.first[0], b.place[1] - third * b.first[1]},
                                        b.place};
        const sketch::Spline piece = sketch::spline_by_poles(poles, 3, false);
        double off = 0;
        for (const double t : {0.25, 0.5, 0.75}) {
            off = std::max(off, sketch::distance(piece.at(t).place, run.at(from + t * (to - from)).place));
        }
        if (off < 2e-5 || depth > 12) {
            curve(poles);
        } else {
            cubic_pieces(run, from, (from + to) / 2, depth + 1);
            cubic_pieces(run, (from + to) / 2, to, depth + 1);
        }
    }

    std::ostringstream text_;
    Point2 at_{}, start_{};
    bool begun_ = false;
};

std::string path_text(const std::vector<Stretch>& stretches) {
    PathText path;
    for (const Stretch& stretch : stretches) {
        path.add(stretch);
    }
    return path.text();
}

} // namespace

std::optional<Finding> write_dxf(const sketch::Sketch& drawing, const std::string& path) {
    return write_atomically(path, [&](const std::string& fresh) -> std::optional<Finding> {
        if (!DxfFile().write(outlines_of(drawing), fresh)) {
            return error_finding("file.write", "The file cannot be written.", "Choose another place.");
        }
        return std::nullopt;
    });
}

std::optional<Finding> write_svg(const sketch::Sketch& drawing, const std::string& path) {
    const Outlines all = outlines_of(drawing);
    std::array<double, 4> box{1e300, 1e300, -1e300, -1e300};
    const auto grow = [&](const Stretch& stretch) {
        const auto own = stretch.box();
        box = {std::min(box[0], own[0]), std::min(box[1], own[1]), std::max(box[2], own[2]), std::max(box[3], own[3])};
    };
    for (const auto& shape : all.shapes) {
        std::for_each(shape.stretches.begin(), shape.stretches.end(), grow);
    }
    std::for_each(all.guides.begin(), all.guides.end(), grow);
    if (box[0] > box[2]) {
        box = {};
    }
    constexpr double margin = 1;
    const double width = box[2] - box[0] + 2 * margin;
    const double height = box[3] - box[1] + 2 * margin;
    std::ostringstream svg;
    svg.precision(15);
    svg << "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n"
        << R"(<svg xmlns="http://www.w3.org/2000/svg" width=")" << width << R"(mm" height=")" << height
        << R"(mm" viewBox=")" << box[0] - margin << " " << -box[3] - margin << " " << width << " " << height << "\">\n"
        << R"(<g id="outlines" fill="none" stroke="#000" stroke-width="0.25">)" << '\n';
    for (const auto& shape : all.shapes) {
        if (shape.stretches.empty()) {
            continue;
        }
        const bool filled = shape.fill == sketch::FillRule::nonzero || shape.fill == sketch::FillRule::even_odd;
        svg << "<path";
        if (filled) {
            svg << R"( fill="#000" fill-rule=")" << (shape.fill == sketch::FillRule::even_odd ? "evenodd" : "nonzero")
                << "\"";
        }
        svg << " d=\"" << path_text(shape.stretches) << "\"/>\n";
    }
    svg << "</g>\n"
        << R"(<g id="guides" fill="none" stroke="#888" stroke-width="0.18" stroke-dasharray="6 1 1 1">)" << '\n';
    for (const Stretch& guide : all.guides) {
        svg << "<path d=\"" << path_text({guide}) << "\"/>\n";
    }
    svg << "</g>\n</svg>\n";
    return write_text_atomically(path, svg.str());
}

} // namespace kervo::io
