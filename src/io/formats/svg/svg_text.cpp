#include "io/formats/svg/svg_text.h"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <cstring>
#include <map>
#include <numbers>
#include <sstream>

namespace kervo::io::svg {

using sketch::Point2;

namespace {
constexpr double full_turn = 2 * std::numbers::pi;
constexpr double farthest = 1e12; ///< numbers beyond are none: nothing can be worked out with them
} // namespace

Scanner::Scanner(const char* text) : at_(text), end_(text + std::strlen(text)) {}

void Scanner::skip() {
    while (at_ != end_ && (std::isspace(static_cast<unsigned char>(*at_)) != 0 || *at_ == ',')) {
        ++at_;
    }
}

bool Scanner::done() {
    skip();
    return at_ == end_;
}

std::optional<double> Scanner::number() {
    skip();
    const char* from = at_ != end_ && *at_ == '+' ? at_ + 1 : at_;
    double value = 0;
    const auto [rest, problem] = std::from_chars(from, end_, value);
    if (problem != std::errc{} || !(std::fabs(value) <= farthest)) {
        return std::nullopt;
    }
    at_ = rest;
    return value;
}

std::optional<double> Scanner::flag() {
    skip();
    if (at_ == end_ || (*at_ != '0' && *at_ != '1')) {
        return std::nullopt;
    }
    return *at_++ == '1' ? 1.0 : 0.0;
}

char Scanner::letter() {
    skip();
    return at_ != end_ && std::isalpha(static_cast<unsigned char>(*at_)) != 0 ? *at_++ : '\0';
}

std::string Scanner::word() {
    skip();
    const char* from = at_;
    while (at_ != end_ && (std::isalpha(static_cast<unsigned char>(*at_)) != 0 || *at_ == '%')) {
        ++at_;
    }
    return {from, at_};
}

bool Scanner::take(char c) {
    skip();
    if (at_ == end_ || *at_ != c) {
        return false;
    }
    ++at_;
    return true;
}

double length_of(const char* text, double whole, double otherwise) {
    Scanner scanner(text);
    const auto value = scanner.number();
    if (!value) {
        return otherwise;
    }
    static const std::map<std::string, double> units{
        {"", 1},    {"px", 1},         {"mm", 96 / 25.4}, {"cm", 96 / 2.54}, {"in", 96}, {"pt", 96.0 / 72},
        {"pc", 16}, {"q", 96 / 101.6}, {"Q", 96 / 101.6}, {"em", 16},        {"ex", 8}};
    const std::string unit = scanner.word();
    if (unit == "%") {
        return *value * whole / 100;
    }
    const auto known = units.find(unit);
    return known == units.end() ? otherwise : *value * known->second;
}

std::vector<double> numbers_of(const char* text) {
    Scanner scanner(text);
    std::vector<double> numbers;
    while (const auto number = scanner.number()) {
        numbers.push_back(*number);
    }
    return numbers;
}

Affine transform_of(const char* text) {
    Affine whole;
    Scanner scanner(text);
    while (!scanner.done()) {
        const std::string name = scanner.word();
        if (name.empty() || !scanner.take('(')) {
            break;
        }
        std::vector<double> n;
        while (const auto number = scanner.number()) {
            n.push_back(*number);
        }
        if (!scanner.take(')') || n.empty()) {
            break;
        }
        const double angle = n[0] * full_turn / 360;
        Affine step;
        if (name == "matrix" && n.size() == 6) {
            step = {n[0], n[1], n[2], n[3], n[4], n[5]};
        } else if (name == "translate") {
            step.e = n[0];
            step.f = n.size() > 1 ? n[1] : 0;
        } else if (name == "scale") {
            step.a = n[0];
            step.d = n.size() > 1 ? n[1] : n[0];
        } else if (name == "rotate") {
            const double c = std::cos(angle);
            const double s = std::sin(angle);
            const Point2 about = n.size() > 2 ? Point2{n[1], n[2]} : Point2{};
            step = {c, s, -s, c, about[0] - c * about[0] + s * about[1], about[1] - s * about[0] - c * about[1]};
        } else if (name == "skewX") {
            step.c = std::tan(angle);
        } else if (name == "skewY") {
            step.b = std::tan(angle);
        }
        whole = whole.after(step);
    }
    return whole;
}

namespace {

// An arc of a path, by its ends (SVG 2, appendix B.2.4: from end points to centre).
void arc_to(Pen& pen, double rx, double ry, double tilt, bool large, bool clockwise, const Point2& to) {
    const Point2 from = pen.at();
    rx = std::fabs(rx);
    ry = std::fabs(ry);
    if (sketch::distance(from, to) < 1e-12) {
        return;
    }
    if (rx < 1e-12 || ry < 1e-12) {
        pen.line(to);
        return;
    }
    const double c = std::cos(tilt);
    const double s = std::sin(tilt);
    const double dx = (from[0] - to[0]) / 2;
    const double dy = (from[1] - to[1]) / 2;
    const double x = c * dx + s * dy;
    const double y = c * dy - s * dx;
    const double too_far = x * x / (rx * rx) + y * y / (ry * ry);
    if (too_far > 1) {
        rx *= std::sqrt(too_far);
        ry *= std::sqrt(too_far);
    }
    const double under = rx * rx * y * y + ry * ry * x * x;
    const double over = rx * rx * ry * ry - under;
    const double k = (large == clockwise ? -1 : 1) * std::sqrt(std::max(0.0, over / under));
    const double cx = k * rx * y / ry;
    const double cy = -k * ry * x / rx;
    const Point2 center{c * cx - s * cy + (from[0] + to[0]) / 2, s * cx + c * cy + (from[1] + to[1]) / 2};
    const double start = std::atan2((y - cy) / ry, (x - cx) / rx);
    const double end = std::atan2((-y - cy) / ry, (-x - cx) / rx);
    double sweep = std::fmod(end - start, full_turn);
    sweep += clockwise && sweep < 0 ? full_turn : !clockwise && sweep > 0 ? -full_turn : 0;
    pen.round(center, {rx * c, rx * s}, {-ry * s, ry * c}, start, sweep, to);
}

class PathReader {
public:
    PathReader(Pen& pen, const char* text) : pen_(pen), scanner_(text) {}

    bool draw() {
        while (!scanner_.done()) {
            if (const char next = scanner_.letter(); next != '\0') {
                command_ = next;
            } else if (command_ == '\0' || command_ == 'z' || command_ == 'Z') {
                return false;
            }
            const char kind = static_cast<char>(std::toupper(static_cast<unsigned char>(command_)));
            if (!draw_one(kind)) {
                return false;
            }
            before_ = kind;
        }
        return true;
    }

private:
    bool draw_one(char kind) {
        switch (kind) {
        case 'M':
        case 'L':
        case 'H':
        case 'V':
            return draw_line(kind);
        case 'C':
        case 'S':
        case 'Q':
        case 'T':
            return draw_curve(kind);
        case 'A':
            return draw_arc();
        case 'Z':
            pen_.close();
            return true;
        default:
            return false;
        }
    }

    bool draw_line(char kind) {
        Point2 to = pen_.at();
        if (kind != 'V') {
            to[0] = number(to[0]);
        }
        if (kind != 'H') {
            to[1] = number(to[1]);
        }
        if (broken_) {
            return false;
        }
        if (kind == 'M') {
            pen_.move(to);
            command_ = relative() ? 'l' : 'L'; // what follows are lines
        } else {
            pen_.line(to);
        }
        return true;
    }

    bool draw_curve(char kind) {
        const bool cubic = kind == 'C' || kind == 'S';
        std::vector<Point2> poles{pen_.at()};
        poles.push_back(kind == 'C' || kind == 'Q' ? place() : mirrored(cubic ? "CS" : "QT"));
        for (int more = cubic ? 2 : 1; more > 0; --more) {
            poles.push_back(place());
        }
        if (broken_) {
            return false;
        }
        handle_ = poles[poles.size() - 2];
        pen_.bezier(poles);
        return true;
    }

    bool draw_arc() {
        const auto rx = scanner_.number();
        const auto ry = scanner_.number();
        const auto tilt = scanner_.number();
        const auto large = scanner_.flag();
        const auto clockwise = scanner_.flag();
        const Point2 to = place();
        if (broken_ || !rx || !ry || !tilt || !large || !clockwise) {
            return false;
        }
        arc_to(pen_, *rx, *ry, *tilt * full_turn / 360, *large != 0, *clockwise != 0, to);
        return true;
    }

    [[nodiscard]] bool relative() const { return std::islower(static_cast<unsigned char>(command_)) != 0; }
    double number(double base) {
        const auto read = scanner_.number();
        broken_ = broken_ || !read;
        return read.value_or(0) + (relative() ? base : 0);
    }
    Point2 place() {
        const Point2 from = pen_.at();
        const double x = number(from[0]);
        const double y = number(from[1]);
        return {x, y};
    }
    /// The last curve's handle on the other side, where it was one of this kind.
    [[nodiscard]] Point2 mirrored(const char* after) const {
        const Point2 at = pen_.at();
        return before_ != '\0' && std::strchr(after, before_) != nullptr
                   ? Point2{2 * at[0] - handle_[0], 2 * at[1] - handle_[1]}
                   : at;
    }

    Pen& pen_;
    Scanner scanner_;
    char command_ = '\0', before_ = '\0';
    Point2 handle_{}; ///< of the last curve
    bool broken_ = false;
};

} // namespace

bool draw_path(Pen& pen, const char* text) {
    return PathReader(pen, text).draw();
}

namespace {

using Entities = std::map<std::string, std::string>;

// By "&name;".
Entities entities_of(const std::string& text) {
    Entities entities;
    for (size_t at = text.find("<!ENTITY"); at != std::string::npos; at = text.find("<!ENTITY", at + 1)) {
        const size_t open = text.find_first_of("\"'", at);
        const size_t close = open == std::string::npos ? open : text.find(text[open], open + 1);
        if (close == std::string::npos) {
            break;
        }
        constexpr size_t longest_name = 100;
        std::istringstream words(text.substr(at + 8, std::min(open - at - 8, longest_name)));
        std::string name;
        std::string more;
        words >> name >> more;
        if (more.empty() && name != "%") { // others lie in files elsewhere
            entities["&" + name + ";"] = text.substr(open + 1, close - open - 1);
        }
    }
    return entities;
}

void write_out(const std::string& text, const Entities& entities, // NOLINT(misc-no-recursion): as deep as the limit
               size_t largest, int depth, std::string& out) {
    constexpr int deepest = 8;
    constexpr size_t longest_name = 100;
    for (size_t at = 0; at < text.size() && out.size() < largest;) {
        const size_t mark = std::min(text.find('&', at), text.size());
        out.append(text, at, mark - at);
        at = mark;
        if (mark == text.size()) {
            break;
        }
        const size_t end = text.substr(mark, longest_name).find(';');
        const auto known = end == std::string::npos ? entities.end() : entities.find(text.substr(mark, end + 1));
        if (known == entities.end() || depth == deepest) {
            out += '&';
            ++at;
        } else {
            write_out(known->second, entities, largest, depth + 1, out);
            at += end + 1;
        }
    }
}

} // namespace

std::string with_entities_written_out(const std::string& text) {
    const Entities entities = entities_of(text);
    const size_t declared = text.rfind("<!ENTITY");
    const size_t behind = declared == std::string::npos ? declared : text.find("]>", declared);
    if (entities.empty() || behind == std::string::npos) {
        return text;
    }
    std::string out = text.substr(0, behind);
    write_out(text.substr(behind), entities, 4 * text.size() + (1U << 20U), 0, out);
    return out;
}

} // namespace kervo::io::svg
