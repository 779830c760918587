// Random routes of every kind of step, each of which can be written in several ways that must come to the same: moved
// and turned, larger or smaller, in another order, by other steps.
#pragma once

#include "route.h"

#include <random>
#include <set>

namespace kervo::test {

/// How a route is written. The same seed makes the same things.
struct Writing {
    bool moved = false;          ///< turned by 90 deg about z, and 1e5 mm away
    double scale = 1;            ///< of all lengths
    bool sketches_first = false; ///< they stand on nothing, and may come in any order
    bool by_bodies = false;      ///< cuts by profiles are made as bodies that cut
    std::set<int> without = {};  ///< numbers of steps that are left out
};

class RandomRoute {
public:
    /// Routes of lower seeds know solids alone.
    static constexpr unsigned first_with_surfaces = 5000;
    /// And of lower ones than that nothing that is built from points, or no free-form surfaces.
    static constexpr unsigned first_with_points = 6000;
    static constexpr unsigned first_with_forms = 7000;

    RandomRoute(unsigned seed, const Writing& writing)
        : random_(seed), writing_(writing), surfaces_(seed >= first_with_surfaces), points_(seed >= first_with_points),
          forms_(seed >= first_with_forms) {
        route_.parameter("a", mm(writing.scale * 6));
        base();
        const int steps = 1 + whole(10);
        for (int i = 0; i < steps; ++i) {
            one_more();
        }
        if (writing.sketches_first) {
            auto& all = route_.json()["steps"];
            Json sketches = Json::array();
            Json others = Json::array();
            for (const Json& step : all) {
                (step["kind"] == "sketch" ? sketches : others).push_back(step);
            }
            for (const Json& step : others) {
                sketches.push_back(step);
            }
            all = sketches;
            int number = 0;
            for (Json& step : all) {
                step["number"] = number += 10;
            }
        }
    }
    [[nodiscard]] const Route& route() const { return route_; }
    [[nodiscard]] int steps() const { return count_; }
    /// Bodies that only cut, and are left over where they miss.
    [[nodiscard]] const std::set<std::string>& cutters() const { return cutters_; }
    /// Copies of another size are there, which of profiles are others than of bodies.
    [[nodiscard]] bool resizes() const { return resizes_; }

private:
    int whole(int below) { return static_cast<int>(random_() % static_cast<unsigned>(below)); }
    // On a raster of 0.1 mm, as people type; sometimes off it.
    double length(double low, double high) {
        const double value = low + (high - low) * (random_() % 10007) / 10006.0;
        return random_() % 4 == 0 ? value : std::round(value * 10) / 10;
    }

    // --- How things are written ---
    [[nodiscard]] std::string text(double value) const { return mm(value * writing_.scale); }
    [[nodiscard]] std::array<double, 3> place(double x, double y, double z) const {
        const double s = writing_.scale;
        return writing_.moved ? std::array{-y * s + far_x, x * s + far_y, z * s + far_z}
                              : std::array{x * s, y * s, z * s};
    }
    [[nodiscard]] std::array<double, 2> in_plane(bool upright, double u, double v) const {
        const auto p = upright ? place(u, 0, v) : place(u, v, 0);
        if (upright) { // xz, or yz when turned
            return {writing_.moved ? p[1] : p[0], p[2]};
        }
        return {p[0], p[1]};
    }
    [[nodiscard]] std::string along(bool y) const { return writing_.moved != y ? "y" : "x"; }
    [[nodiscard]] double sign_along(bool y) const { return writing_.moved && y ? -1 : 1; }
    int add(const std::string& kind, Json answers) {
        const int number = count_++;
        if (writing_.without.contains(number)) {
            return 999990 - number; // nobody has it
        }
        return route_.add(kind, std::move(answers));
    }
    Json picked(const std::string& kind, int body, double x, double y, double z) {
        return Json::array({pick(kind, body, place(x, y, z))});
    }
    Json at_region(bool upright, double u, double v) const {
        const auto p = in_plane(upright, u, v);
        return region(p[0], p[1]);
    }

    // --- What there is ---
    struct Solid {
        int id = 0;
        double w = 0, d = 0, h = 0, x = 0, y = 0; ///< as it was, its bottom at z = 0
        bool round = false;
    };
    int stock(const Solid& s) {
        const auto p = place(s.x, s.y, 0);
        Json answers{{"shape", s.round ? "cylinder" : "box"},
                     {"height", text(s.h)},
                     {"x", mm(p[0])},
                     {"y", mm(p[1])},
                     {"z", mm(p[2])}};
        if (s.round) {
            answers["diameter"] = text(s.w);
        } else {
            answers["width"] = text(writing_.moved ? s.d : s.w);
            answers["depth"] = text(writing_.moved ? s.w : s.d);
        }
        return add("stock", answers);
    }
    void base() {
        Solid s;
        s.round = whole(4) == 0;
        s.w = length(30, 80);
        s.d = s.round ? s.w : length(30, 80);
        s.h = length(8, 40);
        s.id = stock(s);
        bodies_.push_back(s);
    }
    Solid& any() { return bodies_[static_cast<size_t>(whole(static_cast<int>(bodies_.size())))]; }

    // A figure about a place in a sketch; where it is inside, in its plane.
    struct Figure {
        int sketch = 0;
        double u = 0, v = 0;
        bool upright = false;
    };
    Figure figure(const Solid& on, bool upright, double offset, double largest) {
        Drawing d;
        Figure f;
        f.upright = upright;
        f.u = on.x + length(-0.45, 0.45) * on.w;
        f.v = upright ? length(0.1, 0.9) * on.h : on.y + length(-0.45, 0.45) * on.d;
        const double size = length(1.5, largest);
        const auto p = [&](double du, double dv) { return in_plane(upright, f.u + du, f.v + dv); };
        switch (whole(4)) {
        case 0: {
            const auto c = p(0, 0);
            d.circle(c[0], c[1], size * writing_.scale);
            break;
        }
        case 1:
            d.polygon({p(-size, -size / 2), p(size, -size / 2), p(size, size / 2), p(-size, size / 2)});
            break;
        case 2:
            d.polygon({p(-size, -size), p(size, -size / 3), p(size / 4, size)});
            break;
        default: { // a slot
            const auto point = [&](double du, double dv) {
                const auto q = p(du, dv);
                return d.point(q[0], q[1]);
            };
            const double r = size / 2;
            const int a = point(-size, -r);
            const int b = point(size, -r);
            const int c = point(size, r);
            const int e = point(-size, r);
            d.line(a, b);
            d.arc(point(size, 0), b, c);
            d.line(c, e);
            d.arc(point(-size, 0), e, a);
        }
        }
        f.sketch = sketch(d, upright, offset);
        return f;
    }
    int sketch(const Drawing& drawing, bool upright, double offset) {
        const auto o = place(0, 0, 0);
        const std::string plane = !upright ? "xy" : writing_.moved ? "yz" : "xz";
        const double from = !upright ? o[2] : writing_.moved ? o[0] : 0;
        return add("sketch",
                   {{"plane", plane}, {"offset", mm(from + offset * writing_.scale)}, {"drawing", drawing.json()}});
    }

    // --- Steps ---
    void cut() {
        const Solid& body = any();
        const bool upright = whole(3) == 0;
        const bool through = whole(2) == 0;
        const bool tapered = !through && whole(5) == 0;
        const double depth = length(1, upright ? body.d / 2 : body.h);
        const Figure f = figure(body, upright, upright ? length(-body.d / 2, body.d / 2) - body.y : body.h, 12);
        Json extent{{"to", through ? "everything_both" : "distance"},
                    {"distance", whole(4) == 0 ? "a" : text(depth)},
                    {"way", "back"}};
        if (tapered) {
            extent["taper"] = "3 deg";
        }
        if (writing_.by_bodies && !through) {
            const int made = add(
                "extrude",
                Route::with({{"result", "new_body"}, {"sketch", f.sketch}, {"regions", at_region(upright, f.u, f.v)}},
                            extent));
            --count_; // it counts as one
            cutters_.insert(std::to_string(made));
            last_cut_ = add("body_cut", {{"workpieces", {std::to_string(body.id)}},
                                         {"cutters", {std::to_string(made)}},
                                         {"short_ends", "meant"}});
            cut_body_ = body.id;
            return;
        }
        last_cut_ = add("extrude", Route::with({{"result", "cut"},
                                                {"workpieces", {std::to_string(body.id)}},
                                                {"sketch", f.sketch},
                                                {"regions", at_region(upright, f.u, f.v)}},
                                               extent));
        cut_body_ = body.id;
    }
    void unite() {
        const Solid& body = any();
        const Figure f = figure(body, false, body.h - 1, 8);
        add("extrude", {{"result", "united"},
                        {"unite_with", {std::to_string(body.id)}},
                        {"sketch", f.sketch},
                        {"regions", at_region(false, f.u, f.v)},
                        {"to", "distance"},
                        {"distance", text(length(2, 9))}});
    }
    void repeat() {
        if (last_cut_ == 0) {
            return cut();
        }
        const bool y = whole(2) == 0;
        const std::string size = whole(3) == 0 ? "0.7" : "1";
        resizes_ = resizes_ || size != "1";
        add("repeat", {{"result", "cut"},
                       {"workpieces", {std::to_string(cut_body_)}},
                       {"of", last_cut_},
                       {"arrange", "line"},
                       {"direction", along(y)},
                       {"count", std::to_string(2 + whole(3))},
                       {"spacing", text(sign_along(y) * length(-20, 20))},
                       {"scale", size}});
    }
    void edges() {
        const Solid& body = any();
        const double side = whole(2) == 0 ? 1 : -1;
        const Json edge = body.round ? picked("edge", body.id, body.x + side * body.w / 2, body.y, body.h)
                                     : picked("edge", body.id, body.x + side * body.w / 2, body.y + 1, body.h);
        const std::string size = text(length(0.3, 2.5));
        if (whole(2) == 0) {
            add("round_edges", {{"by", "picked"}, {"edges", edge}, {"size", "radius"}, {"radius", size}});
        } else {
            add("bevel_edges", {{"by", "picked"}, {"edges", edge}, {"size", "distance"}, {"distance", size}});
        }
    }
    void shift() {
        const Solid& body = any();
        const bool top = whole(2) == 0;
        const Json face = top ? picked("face", body.id, body.x + 1.3, body.y + 0.7, body.h)
                              : picked("face", body.id, body.x + body.w / 2, body.y, body.h / 3);
        add("shift_faces", {{"faces", face}, {"motion", "outwards"}, {"distance", text(length(-6, 6))}});
    }
    void hollow() {
        const Solid& body = any();
        Json answers{{"workpiece", {std::to_string(body.id)}}, {"thickness", text(length(0.5, 3))}};
        if (whole(3) > 0) {
            answers["open"] = picked("face", body.id, body.x + 1.3, body.y + 0.7, body.h);
        }
        add("hollow", answers);
    }
    void blade() {
        const Solid& body = any();
        const auto o = place(0, 0, length(0.2, 0.8) * body.h);
        add("blade", {{"result", "cut"},
                      {"workpieces", {std::to_string(body.id)}},
                      {"plane", "principal"},
                      {"principal", "xy"},
                      {"offset", mm(o[2])},
                      {"keeps", whole(2) == 0 ? "both" : "back"},
                      {"kerf", whole(2) == 0 ? "0 mm" : text(length(0.2, 2))}});
    }
    void another() {
        Solid s;
        s.round = whole(2) == 0;
        s.w = length(10, 40);
        s.d = s.round ? s.w : length(10, 40);
        s.h = length(5, 30);
        const Solid& beside = any();
        s.x = beside.x + length(-30, 30);
        s.y = beside.y + length(-30, 30);
        s.id = stock(s);
        if (whole(2) == 0) {
            add("join", {{"bodies", {std::to_string(beside.id), std::to_string(s.id)}},
                         {"operation", whole(3) == 0 ? "common" : "unite"}});
        } else {
            bodies_.push_back(s);
        }
    }
    void mirror() {
        const Solid& body = any();
        // About the middle of the document, which is carried along by a face where it is moved: so only where it is
        // not.
        const bool y = whole(2) == 0;
        add("copy_bodies", {{"bodies", {std::to_string(body.id)}},
                            {"arrange", "line"},
                            {"direction", along(y)},
                            {"count", "2"},
                            {"spacing", text(sign_along(y) * length(5, 90))},
                            {"result", whole(2) == 0 ? "united" : "apart"}});
    }
    void holes() {
        const Solid& body = any();
        Drawing d;
        for (int i = 0; i <= whole(4); ++i) {
            const auto p = in_plane(false, body.x + length(-0.4, 0.4) * body.w, body.y + length(-0.4, 0.4) * body.d);
            d.point(p[0], p[1]);
        }
        const auto o = place(0, 0, body.h);
        const int sketch = add("sketch", {{"plane", "xy"}, {"offset", mm(o[2])}, {"drawing", d.json()}});
        Json answers{{"workpieces", {std::to_string(body.id)}},
                     {"sketch", sketch},
                     {"at", "points"},
                     {"way", "back"},
                     {"diameter", text(length(1, 5))},
                     {"depth", text(length(2, 12))}};
        answers["to"] = whole(2) == 0 ? "through" : "depth";
        if (whole(3) == 0) {
            answers["shape"] = "counterbored";
            answers["head_diameter"] = text(9);
            answers["head_depth"] = text(1.5);
        }
        add("holes", answers);
    }
    void place_or_resize() {
        Solid& body = any();
        if (whole(2) == 0) {
            const double x = length(-20, 20);
            const double y = length(-20, 20);
            add("place", {{"bodies", {std::to_string(body.id)}},
                          {"way", "amounts"},
                          {"x", text(writing_.moved ? -y : x)},
                          {"y", text(writing_.moved ? x : y)}});
            body.x += x;
            body.y += y;
        } else {
            add("resize", {{"bodies", {std::to_string(body.id)}}, {"by", "factor"}, {"factor", "1.25"}});
        }
    }
    void draft() {
        const Solid& body = any();
        add("draft_faces", {{"faces", picked("face", body.id, body.x + body.w / 2, body.y, body.h / 3)},
                            {"neutral", picked("face", body.id, body.x + 1.3, body.y + 0.7, 0)},
                            {"angle", "2 deg"}});
    }
    void separate() { add("separate", {{"workpieces", {std::to_string(any().id)}}, {"lumps", "apart"}}); }

    int circle_onto(int target, const Solid& over) {
        Drawing d;
        const auto p = in_plane(false, over.x + length(-0.5, 0.5) * over.w, over.y + length(-0.5, 0.5) * over.d);
        d.circle(p[0], p[1], length(1, 9) * writing_.scale);
        return add("projected_curves", {{"sketch", sketch(d, false, 3 * over.h)},
                                        {"onto", {std::to_string(target)}},
                                        {"hits", whole(2) == 0 ? "all" : "near"}});
    }

    // What becomes of a surface: trimmed, thick, longer, what cuts, sewn with another.
    void use(int surface, const Solid& of, const std::array<double, 3>& border) {
        const std::string id = std::to_string(surface);
        if (whole(3) == 0) {
            add("extend", {{"borders", picked("edge", surface, border[0], border[1], border[2])},
                           {"chain", whole(2) == 0 ? "edges" : "whole"},
                           {"amount", text(length(0.5, 12))}});
        }
        switch (whole(6)) {
        case 4:
            add("trim", {{"workpieces", {id}},
                         {"cutters", {std::to_string(circle_onto(surface, of))}},
                         {"stays", whole(2) == 0 ? "front" : "back"}});
            break;
        case 5:
            add("score", {{"workpieces", {std::to_string(of.id)}},
                          {"by", {std::to_string(circle_onto(of.id, of))}},
                          {"ways", "one"}});
            break;
        case 0:
        case 1:
            add("thicken", {{"surfaces", {id}},
                            {"becomes", whole(3) == 0 ? "shifted" : "solid"},
                            {"thickness", text(length(0.3, 4))},
                            {"side", whole(2) == 0 ? "front" : "back"}});
            break;
        case 2:
            add("body_cut", {{"workpieces", {std::to_string(any().id)}},
                             {"cutters", {id}},
                             {"surfaces_reach", whole(2) == 0 ? "extended" : "as_they_are"},
                             {"blades_keep", whole(2) == 0 ? "front" : "back"}});
            break;
        default: {
            const int other = add("copied_faces", {{"faces", picked("face", of.id, of.x + of.w / 2, of.y, of.h / 3)}});
            add("sew", {{"surfaces", {id, std::to_string(other)}}});
        }
        }
    }
    void surfaces() {
        const Solid body = any();
        if (whole(2) == 0) { // an open line, swept through
            const bool upright = whole(2) == 0;
            const double reach = length(0.3, 1.4);
            const double low = upright ? length(0.1, 0.9) * body.h : body.y + length(-0.4, 0.4) * body.d;
            const double high = low + length(-0.3, 0.3) * (upright ? body.h : body.d);
            Drawing d;
            const auto a = in_plane(upright, body.x - reach * body.w, low);
            const auto b = in_plane(upright, body.x + reach * body.w, high);
            d.line(d.point(a[0], a[1]), d.point(b[0], b[1]));
            const int drawn = sketch(d, upright, 0);
            const int leaves = whole(3);
            add("extrude", {{"result", "cut"},
                            {"filled", "curves"},
                            {"workpieces", {std::to_string(body.id)}},
                            {"sketch", drawn},
                            {"to", "everything_both"},
                            {"surfaces_reach", whole(2) == 0 ? "extended" : "as_they_are"},
                            {"surfaces_leave", leaves == 0   ? "both"
                                               : leaves == 1 ? "front"
                                                             : "back"}});
            return;
        }
        Json faces = picked("face", body.id, body.x + 1.3, body.y + 0.7, body.h);
        if (whole(2) == 0) {
            faces.push_back(picked("face", body.id, body.x + body.w / 2, body.y, body.h / 3)[0]);
        }
        const int surface = add("copied_faces", {{"faces", faces}, {"state", whole(3) == 0 ? body.id : 0}});
        use(surface, body,
            body.round ? std::array{body.x, body.y + body.w / 2, body.h}
                       : std::array{body.x - body.w / 2, body.y + 1, body.h});
    }

    // A block with three to five sides from its corners upwards, under a leaning lid, which cuts a body.
    void built() {
        const Solid body = any();
        const double x = body.x + length(-0.5, 0.5) * body.w;
        const double y = body.y + length(-0.5, 0.5) * body.d;
        const double low = length(-0.2, 0.8) * body.h;
        const double high = low + length(0.3, 1.2) * body.h;
        const double reach = length(0.15, 0.5) * body.w;
        const double lean = length(-0.3, 0.3) * (high - low) / reach;
        const double turned = length(0, 3);
        const int count = 3 + whole(3);
        Json rows = Json::array();
        std::vector<std::string> rings[2];
        for (int i = 0; i <= count; ++i) {
            const double turn = turned + 2 * pi * i / count;
            for (const bool upper : {false, true}) {
                const std::string name = (upper ? "b" : "a") + std::to_string(i % count);
                rings[upper ? 1 : 0].push_back(name);
                if (i < count) {
                    const double z = upper ? high + lean * reach * std::cos(turn) : low;
                    const auto at = place(x + reach * std::cos(turn), y + reach * std::sin(turn), z);
                    rows.push_back({{"name", name}, {"makes", "point"}, {"at", {mm(at[0]), mm(at[1]), mm(at[2])}}});
                }
            }
        }
        for (int i = 0; i < count; ++i) {
            rows.push_back({{"name", "e" + std::to_string(i)},
                            {"makes", "edges"},
                            {"of", {rings[0][static_cast<size_t>(i)], rings[1][static_cast<size_t>(i)]}}});
        }
        rows.push_back({{"name", "low"}, {"makes", "edges"}, {"of", rings[0]}});
        rows.push_back({{"name", "high"}, {"makes", "edges"}, {"of", rings[1]}});
        for (const char* makes : {"flat_faces", "shell", "solid"}) {
            rows.push_back({{"name", makes}, {"makes", makes}});
        }
        const std::string id = std::to_string(add("built_up", {{"rows", rows}}));
        add("body_cut", {{"workpieces", {std::to_string(body.id)}}, {"cutters", {id}}, {"short_ends", "meant"}});
    }

    // A level surface through a body whose control points are moved, which cuts it.
    void shaped() {
        const Solid body = any();
        const std::array<int, 2> patches{1 + whole(5), 1 + whole(5)};
        const std::array<int, 2> degrees{1 + whole(5), 1 + whole(5)};
        const std::array<int, 2> count{patches[0] + degrees[0], patches[1] + degrees[1]};
        const std::array<double, 2> size{body.w * length(1.6, 3), body.d * length(1.6, 3)};
        const size_t first = writing_.moved ? 1 : 0; // turned: x is what was y
        Json rows = Json::array();
        const int moves = 1 + whole(3);
        for (int i = 0; i < moves; ++i) {
            std::vector<std::string> names;
            for (int k = 0; k <= whole(3); ++k) {
                const int row = whole(count[0]);
                const int column = whole(count[1]);
                const auto at = writing_.moved ? std::array{count[1] - 1 - column, row} : std::array{row, column};
                names.push_back("p" + std::to_string(at[0] + 1) + "_" + std::to_string(at[1] + 1));
            }
            const auto from = place(0, 0, 0);
            const auto to = place(length(-0.1, 0.1) * size[0], length(-0.1, 0.1) * size[1], length(-0.4, 0.4) * body.h);
            rows.push_back({{"name", "m" + std::to_string(i)},
                            {"makes", whole(3) == 0 ? "move_softly" : "move"},
                            {"of", names},
                            {"at", {mm(to[0] - from[0]), mm(to[1] - from[1]), mm(to[2] - from[2])}}});
        }
        if (whole(3) == 0) {
            rows.push_back({{"name", "f"}, {"makes", writing_.moved ? "more_columns" : "more_rows"}});
        }
        const auto at =
            place(body.x + length(-0.1, 0.1) * body.w, body.y + length(-0.1, 0.1) * body.d, length(0.2, 0.8) * body.h);
        const int id = add("free_form", {{"width", text(size[first])},
                                         {"depth", text(size[1 - first])},
                                         {"patches_first", std::to_string(patches[first])},
                                         {"patches_second", std::to_string(patches[1 - first])},
                                         {"degree_first", std::to_string(degrees[first])},
                                         {"degree_second", std::to_string(degrees[1 - first])},
                                         {"x", mm(at[0])},
                                         {"y", mm(at[1])},
                                         {"z", mm(at[2])},
                                         {"reach", text(0.3 * size[0])},
                                         {"rows", rows}});
        add("body_cut", {{"workpieces", {std::to_string(body.id)}},
                         {"cutters", {std::to_string(id)}},
                         {"blades_keep", whole(2) == 0 ? "front" : "back"}});
    }

    void one_more() {
        if (forms_ && whole(3) == 0) {
            return shaped();
        }
        if (points_ && whole(4) == 0) {
            return built();
        }
        if (surfaces_ && whole(3) == 0) {
            return surfaces();
        }
        switch (whole(16)) {
        case 0:
        case 1:
        case 2:
        case 3:
            return cut();
        case 4:
            return unite();
        case 5:
            return repeat();
        case 6:
            return edges();
        case 7:
            return shift();
        case 8:
            return hollow();
        case 9:
            return blade();
        case 10:
            return another();
        case 11:
            return mirror();
        case 12:
            return holes();
        case 13:
            return place_or_resize();
        case 14:
            return draft();
        default:
            return separate();
        }
    }

    static constexpr double far_x = 1e5, far_y = -7e4, far_z = 3e4;
    std::mt19937 random_;
    Writing writing_;
    Route route_;
    std::vector<Solid> bodies_;
    std::set<std::string> cutters_;
    int count_ = 0, last_cut_ = 0, cut_body_ = 0;
    bool resizes_ = false;
    bool surfaces_, points_, forms_;
};

} // namespace kervo::test
