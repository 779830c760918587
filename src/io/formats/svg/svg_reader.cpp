// SVG after the W3C's recommendation (Scalable Vector Graphics 2): chapters 7 (coordinates), 9 (paths), 10 (shapes).
#include "io/formats/outline_pen.h"
#include "io/formats/svg/svg.h"
#include "io/formats/svg/svg_text.h"

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
using svg::draw_path;
using svg::length_of;
using svg::numbers_of;
using svg::transform_of;

namespace {

constexpr double full_turn = 2 * std::numbers::pi;
constexpr double mm_per_pixel = 25.4 / 96; ///< of CSS
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
            if (!draw_path(pen, node.attribute("d").value())) {
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
