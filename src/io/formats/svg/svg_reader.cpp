// SVG after the W3C's recommendation (Scalable Vector Graphics 2): chapters 7 (coordinates), 9 (paths), 10 (shapes).
#include "io/formats/outline_joins.h"
#include "io/formats/outline_pen.h"
#include "io/formats/svg/svg.h"
#include "io/formats/svg/svg_style.h"
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
#include <sstream>

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
        read_styles(root_, 0);
        const auto box = view_box(root_);
        const bool boxed = !box.empty();
        const double width = length_of(value(root_, "width").c_str(), boxed ? box[2] : 100, boxed ? box[2] : 100);
        const double height = length_of(value(root_, "height").c_str(), boxed ? box[3] : 100, boxed ? box[3] : 100);
        Affine to_mm{mm_per_pixel, 0, 0, -mm_per_pixel, 0, height * mm_per_pixel};
        // What Kervo wrote says where its lower left corner lies in the sketch.
        if (const auto corner = numbers_of(root_.attribute("data-kervo-corner").value()); corner.size() == 2) {
            to_mm.e += corner[0];
            to_mm.f += corner[1];
        }
        if (boxed) {
            to_mm = to_mm.after(fitted(root_, box, width, height));
        }
        viewport_ = {boxed ? box[2] : width, boxed ? box[3] : height};
        Style style;
        walk(root_, to_mm, style, "", 0);
        join_ends(file_.shapes, skipped_);
        skipped_.insert(sheet_.left_out().begin(), sheet_.left_out().end());
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

    void read_styles(const pugi::xml_node& node, int depth) { // NOLINT(misc-no-recursion): as deep as the limit
        for (const auto& child : node.children()) {
            if (std::strcmp(local_name(child), "style") == 0) {
                std::string css;
                for (const auto& text : child.children()) {
                    css += text.value();
                }
                sheet_.read(css);
            } else if (depth < most_depth) {
                read_styles(child, depth + 1);
            }
        }
    }

    [[nodiscard]] std::string value(const pugi::xml_node& node, const char* property) const {
        return sheet_.value(node, property);
    }

    // What is inherited stays where the element says nothing.
    [[nodiscard]] Style styled(const pugi::xml_node& node, Style style) const {
        if (const std::string fill = value(node, "fill"); !fill.empty() && fill != "inherit") {
            style.filled = fill != "none" && fill != "transparent";
        }
        if (const std::string rule = value(node, "fill-rule"); !rule.empty() && rule != "inherit") {
            style.even_odd = rule == "evenodd";
        }
        if (const std::string seen = value(node, "visibility"); !seen.empty() && seen != "inherit") {
            style.visible = seen != "hidden" && seen != "collapse";
        }
        style.shown = value(node, "display") != "none";
        return style;
    }

    // x y width height; empty where there is none with a size.
    static std::vector<double> view_box(const pugi::xml_node& node) {
        auto box = numbers_of(node.attribute("viewBox").value());
        return box.size() == 4 && box[2] > 0 && box[3] > 0 ? box : std::vector<double>();
    }

    // The map of the box onto what it is shown in: uniformly and centred, or as preserveAspectRatio wants it.
    Affine fitted(const pugi::xml_node& node, const std::vector<double>& box, double width, double height) {
        std::istringstream words(node.attribute("preserveAspectRatio").value());
        std::string align;
        std::string how;
        words >> align >> how;
        if (align == "defer") {
            align = how;
            words >> how;
        }
        double sx = width / box[2];
        double sy = height / box[3];
        if (align == "none") {
            return {sx, 0, 0, sy, -sx * box[0], -sy * box[1]};
        }
        const bool slice = how == "slice";
        if (slice && std::fabs(sx - sy) > 1e-9 * sx) {
            skipped_.insert("that it is cut at its frame (slice)");
        }
        sx = sy = slice ? std::max(sx, sy) : std::min(sx, sy);
        const auto share = [&](const char* least, const char* most) {
            return align.find(least) != std::string::npos ? 0.0 : align.find(most) != std::string::npos ? 1.0 : 0.5;
        };
        return {sx,
                0,
                0,
                sy,
                (width - sx * box[2]) * share("xMin", "xMax") - sx * box[0],
                (height - sy * box[3]) * share("YMin", "YMax") - sy * box[1]};
    }

    [[nodiscard]] Affine transform(const pugi::xml_node& node) {
        const std::string css = value(node, "transform");
        if (css.empty() || css == "none") {
            return {};
        }
        constexpr size_t longest = 10000;
        if (css.size() > longest) {
            skipped_.insert("more than can be read (it is nested too deep, or too large)");
            return {};
        }
        const std::string origin = value(node, "transform-origin");
        if (!origin.empty() && numbers_of(origin.c_str()) != std::vector<double>{0, 0}) {
            skipped_.insert("about what something is turned (transform-origin)");
        }
        for (const char* unknown : {"%", "calc", "3d", "em"}) {
            if (css.find(unknown) != std::string::npos) {
                skipped_.insert("a transform with what is not in its own units");
            }
        }
        return transform_of(svg::transform_attribute(css).c_str());
    }

    // Of the children of a switch, the first one for which all conditions hold.
    [[nodiscard]] static bool holds(const pugi::xml_node& node) {
        if (const auto languages = node.attribute("systemLanguage")) {
            const std::string all = languages.value();
            std::istringstream words(all);
            std::string one;
            bool english = false;
            while (std::getline(words, one, ',')) {
                one.erase(0, one.find_first_not_of(' '));
                english = english || one == "en" || one.starts_with("en-");
            }
            if (!english) {
                return false;
            }
        }
        const auto extensions = node.attribute("requiredExtensions");
        return extensions.empty();
    }

    void walk(const pugi::xml_node& node, Affine to_mm, Style style, // NOLINT(misc-no-recursion)
              const std::string& layer, int depth) {
        if (depth > most_depth || file_.shapes.size() > most_shapes) {
            skipped_.insert("more than can be read (it is nested too deep, or too large)");
            return;
        }
        const std::string kind = local_name(node);
        style = styled(node, style);
        if (!style.shown || !holds(node) ||
            (kind == "svg" && depth > 0 && !value(node, "width").empty() &&
             length_of(value(node, "width").c_str(), viewport_[0], 1) <= 0)) {
            return;
        }
        to_mm = to_mm.after(transform(node));
        for (const char* cover : {"clip-path", "mask"}) {
            if (const std::string by = value(node, cover); !by.empty() && by != "none") {
                skipped_.insert(std::string(cover) == "mask" ? "a mask, which hides a part of what is here"
                                                             : "a clip path, which cuts off a part of what is here");
            }
        }
        if (kind == "g" && std::strcmp(node.attribute("id").value(), "guides") == 0) {
            skipped_.insert("its guides, which bound nothing");
            return;
        }
        static const std::set<std::string> groups{"svg", "g", "a", "switch"};
        static const std::set<std::string> silent{
            "defs",   "symbol",  "title",          "desc",           "metadata", "style",  "clipPath",  "mask",
            "marker", "pattern", "linearGradient", "radialGradient", "filter",   "script", "namedview", "view"};
        if (groups.contains(kind) || (kind == "symbol" && used_)) {
            const bool inner = kind == "symbol" || (kind == "svg" && depth > 0);
            std::vector<Point2> frame; // of what is shown, mm
            if (inner) {
                frame = frame_of(node, to_mm);
                to_mm = to_mm.after(inner_viewport(node));
            }
            const std::string id = kind == "g" ? group_name(node) : "";
            const Point2 around = viewport_;
            const size_t before = file_.shapes.size();
            if (const auto box = view_box(node); inner && !box.empty()) {
                viewport_ = {box[2], box[3]};
            }
            for (const auto& child : node.children()) {
                if (child.type() == pugi::node_element && (kind != "switch" || holds(child))) {
                    const bool used = used_;
                    used_ = false;
                    walk(child, to_mm, style, id.empty() ? layer : id, depth + 1);
                    used_ = used;
                    if (kind == "switch") {
                        break;
                    }
                }
            }
            viewport_ = around;
            if (inner && value(node, "overflow") != "visible" && value(node, "overflow") != "auto") {
                tell_what_is_cut(before, frame);
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

    [[nodiscard]] double size_of(const pugi::xml_node& node, const char* side, size_t i) const {
        const double own = length_of(value(node, side).c_str(), viewport_[i], viewport_[i]);
        return used_ ? length_of(value(using_, side).c_str(), viewport_[i], own) : own; // a use may say how large
    }
    [[nodiscard]] Point2 place_of(const pugi::xml_node& node) const {
        return {length_of(value(node, "x").c_str(), viewport_[0], 0),
                length_of(value(node, "y").c_str(), viewport_[1], 0)};
    }

    Affine inner_viewport(const pugi::xml_node& node) {
        Affine put;
        put.e = place_of(node)[0];
        put.f = place_of(node)[1];
        if (const auto box = view_box(node); !box.empty()) {
            put = put.after(fitted(node, box, size_of(node, "width", 0), size_of(node, "height", 1)));
        }
        return put;
    }

    // The four corners of the frame in which a nested drawing is shown, mm.
    [[nodiscard]] std::vector<Point2> frame_of(const pugi::xml_node& node, const Affine& to_mm) const {
        const Point2 at = place_of(node);
        const Point2 size{size_of(node, "width", 0), size_of(node, "height", 1)};
        return {to_mm({at[0], at[1]}), to_mm({at[0] + size[0], at[1]}), to_mm({at[0] + size[0], at[1] + size[1]}),
                to_mm({at[0], at[1] + size[1]})};
    }

    // Shapes that reach out of the frame, which others cut off there.
    void tell_what_is_cut(size_t before, const std::vector<Point2>& frame) {
        constexpr double slack = 1e-6;
        const auto side = [&](size_t i, const Point2& p) {
            const Point2& from = frame[i];
            const Point2& to = frame[(i + 1) % 4];
            const double length = std::hypot(to[0] - from[0], to[1] - from[1]);
            return ((to[0] - from[0]) * (p[1] - from[1]) - (to[1] - from[1]) * (p[0] - from[0])) /
                   std::max(length, 1e-12);
        };
        const Point2 middle{(frame[0][0] + frame[2][0]) / 2, (frame[0][1] + frame[2][1]) / 2};
        const auto outside = [&](const Stretch& stretch) {
            for (const double share : {0.0, 0.125, 0.25, 0.375, 0.5, 0.625, 0.75, 0.875, 1.0}) {
                const Point2 p = stretch.at(share);
                for (size_t i = 0; i < 4; ++i) {
                    if (side(i, p) * (side(i, middle) > 0 ? 1 : -1) < -slack) {
                        return true;
                    }
                }
            }
            return false;
        };
        for (size_t k = before; k < file_.shapes.size(); ++k) {
            for (const auto& chain : file_.shapes[k].chains) {
                if (std::any_of(chain.begin(), chain.end(), outside)) {
                    skipped_.insert("that a drawing within it is cut at its frame");
                    return;
                }
            }
        }
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
        put.e = place_of(node)[0];
        put.f = place_of(node)[1];
        used_ = true;
        using_ = node;
        walk(found->second, to_mm.after(put), style, layer, depth + 1);
        used_ = false;
    }

    void draw(const pugi::xml_node& node, const std::string& kind, const Affine& to_mm, const Style& style,
              const std::string& layer) {
        Pen pen(to_mm);
        const auto x_of = [&](const char* name, double otherwise = 0) {
            return length_of(value(node, name).c_str(), viewport_[0], otherwise);
        };
        const auto y_of = [&](const char* name, double otherwise = 0) {
            return length_of(value(node, name).c_str(), viewport_[1], otherwise);
        };
        const auto ellipse = [&](double cx, double cy, double rx, double ry) {
            if (rx > 0 && ry > 0) {
                pen.move({cx + rx, cy});
                pen.round({cx, cy}, {rx, 0}, {0, ry}, 0, full_turn, {cx + rx, cy});
            }
        };
        if (kind == "path") {
            if (!draw_path(pen, path_text(value(node, "d")).c_str())) {
                skipped_.insert("a path that breaks off");
            }
        } else if (kind == "circle") {
            const double across =
                std::hypot(viewport_[0], viewport_[1]) / std::numbers::sqrt2; // what percentages are of
            const double r = length_of(value(node, "r").c_str(), across, 0);
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

    // In style sheets a path stands as path("...").
    static std::string path_text(const std::string& d) {
        if (!d.starts_with("path(")) {
            return d;
        }
        const size_t from = d.find_first_of("\"'");
        const size_t to = d.find_last_of("\"'");
        return from < to ? d.substr(from + 1, to - from - 1) : std::string();
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
    svg::StyleSheet sheet_;
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
    const std::string text = svg::with_entities_written_out(bytes);
    const auto parsed = document.load_buffer(text.data(), text.size());
    if (!parsed) {
        return error_finding("import.unreadable",
                             std::string("The drawing cannot be read: ") + parsed.description() + ".",
                             "Choose another file.");
    }
    return Reader(document).read();
}

} // namespace kervo::io
