#include "io/formats/drawn_outlines.h"
#include "io/formats/dxf/dxf.h"

#include "sketch/arrangement.h"

#include <dxflib/dl_dxf.h>

#include <algorithm>
#include <cmath>
#include <memory>
#include <numbers>

namespace kervo::io {

using sketch::Point2;
using sketch::Stretch;
using sketch::StretchKind;

namespace {

constexpr double full_turn = 2 * std::numbers::pi;

Stretch forward(const Stretch& s) {
    return s.sweep < 0 && s.kind != StretchKind::line ? s.reversed() : s;
}

class DxfFile {
public:
    bool write(const DrawnOutlines& all, const std::string& path) {
        writer_.reset(dxf_.out(path.c_str(), DL_Codes::AC1015));
        if (!writer_) {
            return false;
        }
        begin();
        for (const auto& shape : all.shapes) {
            for (const auto& chain : chained(shape.stretches)) {
                add(chain, DL_Attributes("outlines", 256, -1, "BYLAYER", 1.0));
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

    // Lines and arcs that run on are one polyline; what else a chain has stands by itself.
    void add(const std::vector<Stretch>& chain, const DL_Attributes& attributes) {
        const bool plain = std::none_of(chain.begin(), chain.end(), [](const Stretch& s) { return s.free(); });
        if (chain.size() == 1 || !plain) {
            for (const Stretch& stretch : chain) {
                add(forward(stretch), attributes);
            }
            return;
        }
        const bool closed = sketch::distance(chain.front().start, chain.back().end) < sketch::joining_tolerance;
        const auto count = static_cast<int>(chain.size()) + (closed ? 0 : 1);
        dxf_.writePolyline(*writer_, DL_PolylineData(count, 0, 0, closed ? 1 : 0), attributes);
        for (const Stretch& s : chain) {
            const double bulge = s.kind == StretchKind::line ? 0 : std::tan(s.sweep / 4);
            dxf_.writeVertex(*writer_, DL_VertexData(s.start[0], s.start[1], 0, bulge));
        }
        if (!closed) {
            dxf_.writeVertex(*writer_, DL_VertexData(chain.back().end[0], chain.back().end[1], 0, 0));
        }
        dxf_.writePolylineEnd(*writer_);
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

} // namespace

bool write_dxf(const sketch::Sketch& drawing, const std::string& path) {
    return DxfFile().write(drawn_outlines(drawing), path);
}

Format dxf_format() {
    Format format{"dxf", "DXF", {".dxf"}};
    format.read_outlines = read_dxf;
    format.write_outlines = [](const sketch::Sketch& drawing, const FormatAnswers& /*answers*/,
                               const std::string& path) { return write_dxf(drawing, path); };
    return format;
}

} // namespace kervo::io
