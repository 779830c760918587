// SVG after the W3C's recommendation (Scalable Vector Graphics 2): chapters 7 (coordinates), 9 (paths), 10 (shapes).
#include "io/formats/outline_pen.h"
#include "io/formats/svg/svg.h"

#include <pugixml.hpp>

#include <algorithm>
#include <charconv>
#include <cmath>
#include <cstring>
#include <map>
#include <numbers>
#include <optional>
#include <set>

namespace kervo::io {

using sketch::FillRule;
using sketch::Point2;
using sketch::Stretch;

namespace {

constexpr double full_turn = 2 * std::numbers::pi;
constexpr double mm_per_pixel = 25.4 / 96; ///< of CSS
constexpr double farthest = 1e12;          ///< numbers beyond are none: nothing can be worked out with them

// Reads numbers and letters one after the other from a text such as that of a path.
class Scanner {
public:
    explicit Scanner(const char* text) : at_(text), end_(text + std::strlen(text)) {}

    void skip() {
        while (at_ != end_ && (std::isspace(static_cast<unsigned char>(*at_)) != 0 || *at_ == ',')) {
            ++at_;
        }
    }
    [[nodiscard]] bool done() {
        skip();
        return at_ == end_;
    }
    std::optional<double> number() {
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
    std::optional<double> flag() { // of arcs: 0 or 1, what follows may stand right behind it
        skip();
        if (at_ == end_ || (*at_ != '0' && *at_ != '1')) {
            return std::nullopt;
        }
        return *at_++ == '1' ? 1.0 : 0.0;
    }
    char letter() {
        skip();
        return at_ != end_ && std::isalpha(static_cast<unsigned char>(*at_)) != 0 ? *at_++ : '\0';
    }
    std::string word() {
        skip();
        const char* from = at_;
        while (at_ != end_ && (std::isalpha(static_cast<unsigned char>(*at_)) != 0 || *at_ == '%')) {
            ++at_;
        }
        return {from, at_};
    }
    bool take(char c) {
        skip();
        if (at_ == end_ || *at_ != c) {
            return false;
        }
        ++at_;
        return true;
    }

private:
    const char* at_;
    const char* end_;
};

// A length in user units (pixels of CSS); percentages of `whole`.
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

// One path's text. What stands behind a mistake is not drawn, as the recommendation wants it.
void draw_path(Pen& pen, const char* text, bool& broken) {
    Scanner scanner(text);
    char command = '\0';
    char before = '\0';
    Point2 handle{}; // of the last curve
    broken = false;
    while (!scanner.done()) {
        if (const char next = scanner.letter(); next != '\0') {
            command = next;
        } else if (command == '\0' || command == 'z' || command == 'Z') {
            broken = true;
            return;
        }
        const bool relative = std::islower(static_cast<unsigned char>(command)) != 0;
        const char kind = static_cast<char>(std::toupper(static_cast<unsigned char>(command)));
        const auto number = [&](double base) -> double {
            const auto read = scanner.number();
            broken = broken || !read;
            return read.value_or(0) + (relative ? base : 0);
        };
        const auto place = [&] {
            const Point2 from = pen.at();
            const double x = number(from[0]);
            const double y = number(from[1]);
            return Point2{x, y};
        };
        const auto mirrored = [&](const char* after) {
            const Point2 at = pen.at();
            return std::strchr(after, before) != nullptr && before != '\0'
                       ? Point2{2 * at[0] - handle[0], 2 * at[1] - handle[1]}
                       : at;
        };
        const Point2 at = pen.at();
        switch (kind) {
        case 'M': {
            const Point2 to = place();
            if (!broken) {
                pen.move(to);
            }
            command = relative ? 'l' : 'L'; // what follows are lines
            break;
        }
        case 'L': {
            const Point2 to = place();
            if (!broken) {
                pen.line(to);
            }
            break;
        }
        case 'H': {
            const double x = number(at[0]);
            if (!broken) {
                pen.line({x, at[1]});
            }
            break;
        }
        case 'V': {
            const double y = number(at[1]);
            if (!broken) {
                pen.line({at[0], y});
            }
            break;
        }
        case 'C':
        case 'S': {
            const Point2 first = kind == 'C' ? place() : mirrored("CS");
            const Point2 second = place();
            const Point2 to = place();
            if (!broken) {
                pen.bezier({at, first, second, to});
                handle = second;
            }
            break;
        }
        case 'Q':
        case 'T': {
            const Point2 first = kind == 'Q' ? place() : mirrored("QT");
            const Point2 to = place();
            if (!broken) {
                pen.bezier({at, first, to});
                handle = first;
            }
            break;
        }
        case 'A': {
            const auto rx = scanner.number();
            const auto ry = scanner.number();
            const auto tilt = scanner.number();
            const auto large = scanner.flag();
            const auto clockwise = scanner.flag();
            const Point2 to = place();
            broken = broken || !rx || !ry || !tilt || !large || !clockwise;
            if (!broken) {
                arc_to(pen, *rx, *ry, *tilt * full_turn / 360, *large != 0, *clockwise != 0, to);
            }
            break;
        }
        case 'Z':
            pen.close();
            break;
        default:
            broken = true;
        }
        if (broken) {
            return;
        }
        before = kind;
    }
}

class Reader {
public:
    explicit Reader(const pugi::xml_document& document) : root_(document.document_element()) { index_ids(root_, 0); }

    Result<sketch::Artwork> read() {
        if (std::strcmp(local_name(root_), "svg") != 0) {
            return error_finding("import.unreadable", "The file holds no SVG drawing.", "Choose another file.");
        }
        const auto box = numbers_of(root_.attribute("viewBox").value());
        const bool boxed = box.size() == 4 && box[2] > 0 && box[3] > 0;
        const double width = length_of(root_.attribute("width").value(), boxed ? box[2] : 100, boxed ? box[2] : 100);
        const double height = length_of(root_.attribute("height").value(), boxed ? box[3] : 100, boxed ? box[3] : 100);
        Affine to_mm{mm_per_pixel, 0, 0, -mm_per_pixel, 0, height * mm_per_pixel};
        if (boxed) {
            // Uniformly, centred, unless the file wants it stretched (preserveAspectRatio="none").
            double sx = width / box[2];
            double sy = height / box[3];
            if (std::strcmp(root_.attribute("preserveAspectRatio").value(), "none") != 0) {
                sx = sy = std::min(sx, sy);
            }
            to_mm = to_mm.after(
                {sx, 0, 0, sy, (width - sx * box[2]) / 2 - sx * box[0], (height - sy * box[3]) / 2 - sy * box[1]});
        }
        viewport_ = {boxed ? box[2] : width, boxed ? box[3] : height};
        Style style;
        walk(root_, to_mm, style, "", 0);
        file_.skipped.assign(skipped_.begin(), skipped_.end());
        if (file_.shapes.empty()) {
            return error_finding("import.unreadable",
                                 "The drawing holds no outlines" + (file_.skipped.empty()
                                                                        ? std::string(".")
                                                                        : "; it has " + file_.skipped.front() + "."),
                                 "Choose another file, or turn its words and pictures to paths first.");
        }
        return std::move(file_);
    }

private:
    struct Style {
        bool filled = true;
        bool even_odd = false;
        bool shown = true;
        bool visible = true;
    };

    static const char* local_name(const pugi::xml_node& node) {
        const char* colon = std::strchr(node.name(), ':');
        return colon == nullptr ? node.name() : colon + 1;
    }

    static std::string prefix(const pugi::xml_node& node) {
        return {node.name(), static_cast<size_t>(local_name(node) - node.name())};
    }

    void index_ids(const pugi::xml_node& node, int depth) { // NOLINT(misc-no-recursion): as deep as the limit
        if (depth > most_depth) {
            return;
        }
        if (const auto id = node.attribute("id")) {
            by_id_.emplace(id.value(), node);
        }
        for (const auto& child : node.children()) {
            index_ids(child, depth + 1);
        }
    }

    static void apply(Style& style, const std::string& property, std::string value) {
        value.erase(0, value.find_first_not_of(" \t\n"));
        value.erase(value.find_last_not_of(" \t\n") + 1);
        if (property == "fill") {
            style.filled = value != "none" && value != "transparent";
        } else if (property == "fill-rule") {
            style.even_odd = value == "evenodd";
        } else if (property == "display") {
            style.shown = value != "none";
        } else if (property == "visibility") {
            style.visible = value != "hidden" && value != "collapse";
        }
    }

    static Style styled(const pugi::xml_node& node, Style style) {
        for (const char* property : {"fill", "fill-rule", "display", "visibility"}) {
            if (const auto attribute = node.attribute(property)) {
                apply(style, property, attribute.value());
            }
        }
        std::string text = node.attribute("style").value();
        for (size_t from = 0; from < text.size();) {
            const size_t to = std::min(text.find(';', from), text.size());
            const std::string one = text.substr(from, to - from);
            if (const size_t colon = one.find(':'); colon != std::string::npos) {
                std::string key = one.substr(0, colon);
                std::erase_if(key, [](char c) { return std::isspace(static_cast<unsigned char>(c)) != 0; });
                apply(style, key, one.substr(colon + 1));
            }
            from = to + 1;
        }
        return style;
    }

    void walk(const pugi::xml_node& node, Affine to_mm, Style style, // NOLINT(misc-no-recursion)
              const std::string& layer, int depth) {
        if (depth > most_depth || file_.shapes.size() > most_shapes) {
            skipped_.insert("more than can be read (it is nested too deep, or too large)");
            return;
        }
        const std::string kind = local_name(node);
        style = styled(node, style);
        if (!style.shown || (kind == "svg" && depth > 0 && !node.attribute("width").empty() &&
                             length_of(node.attribute("width").value(), viewport_[0], 1) <= 0)) {
            return;
        }
        to_mm = to_mm.after(transform_of(node.attribute("transform").value()));
        static const std::set<std::string> groups{"svg", "g", "a", "switch"};
        static const std::set<std::string> silent{
            "defs",   "symbol",  "title",          "desc",           "metadata", "style",  "clipPath",  "mask",
            "marker", "pattern", "linearGradient", "radialGradient", "filter",   "script", "namedview", "view"};
        if (groups.contains(kind) || (kind == "symbol" && used_)) {
            if (kind == "symbol" || (kind == "svg" && depth > 0)) {
                to_mm = to_mm.after(inner_viewport(node));
            }
            const std::string id = kind == "g" ? group_name(node) : "";
            for (const auto& child : node.children()) {
                if (child.type() == pugi::node_element) {
                    const bool used = used_;
                    used_ = false;
                    walk(child, to_mm, style, id.empty() ? layer : id, depth + 1);
                    used_ = used;
                }
            }
        } else if (kind == "use") {
            use(node, to_mm, style, layer, depth);
        } else if (!silent.contains(kind) && prefix(node) == prefix(root_)) { // others speak other languages
            draw(node, kind, to_mm, style, layer);
        }
    }

    static std::string group_name(const pugi::xml_node& node) {
        for (const auto& attribute : node.attributes()) { // drawing programs keep a layer's name beside its id
            const char* colon = std::strchr(attribute.name(), ':');
            if (colon != nullptr && std::strcmp(colon, ":label") == 0) {
                return attribute.value();
            }
        }
        return node.attribute("id").value();
    }

    [[nodiscard]] Affine inner_viewport(const pugi::xml_node& node) const {
        const double x = length_of(node.attribute("x").value(), viewport_[0], 0);
        const double y = length_of(node.attribute("y").value(), viewport_[1], 0);
        Affine put;
        put.e = x;
        put.f = y;
        const auto box = numbers_of(node.attribute("viewBox").value());
        if (box.size() == 4 && box[2] > 0 && box[3] > 0) {
            const auto size = [&](const char* side, size_t i) { // a use may say how large it wants it
                const double own = length_of(node.attribute(side).value(), viewport_[i], viewport_[i]);
                return used_ ? length_of(using_.attribute(side).value(), viewport_[i], own) : own;
            };
            const double width = size("width", 0);
            const double height = size("height", 1);
            const double k = std::min(width / box[2], height / box[3]);
            put =
                put.after({k, 0, 0, k, (width - k * box[2]) / 2 - k * box[0], (height - k * box[3]) / 2 - k * box[1]});
        }
        return put;
    }

    void use(const pugi::xml_node& node, const Affine& to_mm, // NOLINT(misc-no-recursion)
             const Style& style, const std::string& layer, int depth) {
        std::string target = node.attribute("href").value();
        if (target.empty()) {
            target = node.attribute("xlink:href").value();
        }
        const auto found = by_id_.find(target.empty() ? "" : target.substr(1));
        if (target.empty() || target[0] != '#' || found == by_id_.end()) {
            skipped_.insert("a use of what is not in the file");
            return;
        }
        if (++uses_ > most_uses) { // a use of a use of a use multiplies
            skipped_.insert("more than can be read (it is nested too deep, or too large)");
            return;
        }
        Affine put;
        put.e = length_of(node.attribute("x").value(), viewport_[0], 0);
        put.f = length_of(node.attribute("y").value(), viewport_[1], 0);
        used_ = true;
        using_ = node;
        walk(found->second, to_mm.after(put), style, layer, depth + 1);
        used_ = false;
    }

    void draw(const pugi::xml_node& node, const std::string& kind, const Affine& to_mm, const Style& style,
              const std::string& layer) {
        Pen pen(to_mm);
        const auto x_of = [&](const char* name, double otherwise = 0) {
            return length_of(node.attribute(name).value(), viewport_[0], otherwise);
        };
        const auto y_of = [&](const char* name, double otherwise = 0) {
            return length_of(node.attribute(name).value(), viewport_[1], otherwise);
        };
        const auto ellipse = [&](double cx, double cy, double rx, double ry) {
            if (rx > 0 && ry > 0) {
                pen.move({cx + rx, cy});
                pen.round({cx, cy}, {rx, 0}, {0, ry}, 0, full_turn, {cx + rx, cy});
            }
        };
        if (kind == "path") {
            bool broken = false;
            draw_path(pen, node.attribute("d").value(), broken);
            if (broken) {
                skipped_.insert("a path that breaks off");
            }
        } else if (kind == "circle") {
            const double r = x_of("r");
            ellipse(x_of("cx"), y_of("cy"), r, r);
        } else if (kind == "ellipse") {
            ellipse(x_of("cx"), y_of("cy"), x_of("rx"), y_of("ry"));
        } else if (kind == "line") {
            pen.move({x_of("x1"), y_of("y1")});
            pen.line({x_of("x2"), y_of("y2")});
        } else if (kind == "rect") {
            rectangle(pen, x_of("x"), y_of("y"), x_of("width"), y_of("height"), x_of("rx", -1), y_of("ry", -1));
        } else if (kind == "polyline" || kind == "polygon") {
            const auto n = numbers_of(node.attribute("points").value());
            for (size_t i = 0; i + 1 < n.size(); i += 2) {
                i == 0 ? pen.move({n[0], n[1]}) : pen.line({n[i], n[i + 1]});
            }
            if (kind == "polygon") {
                pen.close();
            }
        } else {
            skipped_.insert(kind == "text"    ? "words that are not outlines"
                            : kind == "image" ? "a picture"
                                              : "\u201c" + kind + "\u201d");
            return;
        }
        sketch::ArtShape shape;
        shape.layer = layer;
        shape.fill = !style.filled || kind == "line" ? FillRule::none
                     : style.even_odd                ? FillRule::even_odd
                                                     : FillRule::nonzero;
        shape.chains = pen.take();
        const bool near = std::all_of(shape.chains.begin(), shape.chains.end(), [](const auto& chain) {
            return std::all_of(chain.begin(), chain.end(), lies_near);
        });
        if (!near) {
            skipped_.insert("an outline that reaches too far");
        } else if (style.visible && !shape.chains.empty()) {
            file_.shapes.push_back(std::move(shape));
        }
    }

    static void rectangle(Pen& pen, double x, double y, double w, double h, double rx, double ry) {
        if (!(w > 0) || !(h > 0)) {
            return;
        }
        rx = std::clamp(rx < 0 ? std::max(ry, 0.0) : rx, 0.0, w / 2);
        ry = std::clamp(ry < 0 ? rx : ry, 0.0, h / 2);
        rx = ry == 0 ? 0 : rx;
        pen.move({x + rx, y});
        const auto corner = [&](double cx, double cy, double from, const Point2& to) {
            if (rx > 0) {
                pen.round({cx, cy}, {rx, 0}, {0, ry}, from, full_turn / 4, to);
            }
        };
        pen.line({x + w - rx, y});
        corner(x + w - rx, y + ry, -full_turn / 4, {x + w, y + ry});
        pen.line({x + w, y + h - ry});
        corner(x + w - rx, y + h - ry, 0, {x + w - rx, y + h});
        pen.line({x + rx, y + h});
        corner(x + rx, y + h - ry, full_turn / 4, {x, y + h - ry});
        pen.line({x, y + ry});
        corner(x + rx, y + ry, full_turn / 2, {x + rx, y});
        pen.close();
    }

    static constexpr int most_depth = 200;
    static constexpr size_t most_shapes = 20000;
    static constexpr int most_uses = 5000;

    pugi::xml_node root_;
    std::map<std::string, pugi::xml_node> by_id_;
    Point2 viewport_{};
    bool used_ = false; ///< the node that is walked next is drawn by a use
    pugi::xml_node using_;
    int uses_ = 0;
    std::set<std::string> skipped_;
    sketch::Artwork file_;
};

} // namespace

Result<sketch::Artwork> read_svg(const std::string& bytes) {
    pugi::xml_document document;
    const auto parsed = document.load_buffer(bytes.data(), bytes.size());
    if (!parsed) {
        return error_finding("import.unreadable",
                             std::string("The drawing cannot be read: ") + parsed.description() + ".",
                             "Choose another file.");
    }
    return Reader(document).read();
}

} // namespace kervo::io
