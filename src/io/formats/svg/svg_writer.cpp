#include "io/formats/drawn_outlines.h"
#include "io/formats/plain_file.h"
#include "io/formats/svg/svg.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <sstream>

namespace kervo::io {

using sketch::Point2;
using sketch::Stretch;
using sketch::StretchKind;

namespace {

constexpr double full_turn = 2 * std::numbers::pi;

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

std::string svg_text(const sketch::Sketch& drawing) {
    const DrawnOutlines all = drawn_outlines(drawing);
    std::array<double, 4> box{1e300, 1e300, -1e300, -1e300};
    const auto grow = [&](const Stretch& stretch) {
        for (const double t : sketch::monotone_parts(stretch)) { // its extremes lie where it turns
            const Point2 p = stretch.at(t);
            box = {std::min(box[0], p[0]), std::min(box[1], p[1]), std::max(box[2], p[0]), std::max(box[3], p[1])};
        }
    };
    for (const auto& shape : all.shapes) {
        std::for_each(shape.stretches.begin(), shape.stretches.end(), grow);
    }
    std::for_each(all.guides.begin(), all.guides.end(), grow);
    if (box[0] > box[2]) {
        box = {};
    }
    constexpr double least = 0.1; // mm; of a page without a width nothing is shown
    const double width = std::max(box[2] - box[0], least);
    const double height = std::max(box[3] - box[1], least);
    std::ostringstream svg;
    svg.precision(15);
    svg << "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n"
        << R"(<svg xmlns="http://www.w3.org/2000/svg" width=")" << width << R"(mm" height=")" << height
        << R"(mm" viewBox=")" << box[0] << " " << -box[1] - height << " " << width << " " << height
        << R"(" data-kervo-corner=")" << box[0] << " " << box[1] << "\">\n" // where the page lies in the sketch
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
    return svg.str();
}

Format svg_format() {
    Format format{"svg", "SVG", {".svg"}};
    format.read_outlines = [](const std::string& bytes, Progress& /*progress*/) { return read_svg(bytes); };
    format.write_outlines = [](const sketch::Sketch& drawing, const FormatAnswers& /*answers*/,
                               const std::string& path) { return write_plain(path, svg_text(drawing)); };
    return format;
}

} // namespace kervo::io
