// Writes STEP files by hand, entity by entity (ISO 10303-21; entities of ISO 10303-42 and -203).
#pragma once

#include <array>
#include <cmath>
#include <map>
#include <string>
#include <vector>

namespace kervo::io::test {

using Triple = std::array<double, 3>;

class Part21 {
public:
    /// "CARTESIAN_POINT('',(0.,0.,0.))"; its number.
    int add(const std::string& entity) {
        data_ += "#" + std::to_string(++last_) + "=" + entity + ";\n";
        return last_;
    }
    static std::string to(int entity) { return "#" + std::to_string(entity); }
    static std::string list(const std::vector<int>& entities) {
        std::string text = "(";
        for (const int each : entities) {
            text += (text.size() > 1 ? "," : "") + to(each);
        }
        return text + ")";
    }
    static std::string number(double value) {
        char text[40];
        std::snprintf(text, sizeof text, "%.15E", value);
        return text;
    }
    static std::string triple(const Triple& p) {
        return "(" + number(p[0]) + "," + number(p[1]) + "," + number(p[2]) + ")";
    }

    int point(const Triple& p) { return add("CARTESIAN_POINT(''," + triple(p) + ")"); }
    int direction(const Triple& d) { return add("DIRECTION(''," + triple(d) + ")"); }
    int vertex(const Triple& p) { return add("VERTEX_POINT(''," + to(point(p)) + ")"); }
    int axis(const Triple& p, const Triple& z = {0, 0, 1}, const Triple& x = {1, 0, 0}) {
        return add("AXIS2_PLACEMENT_3D(''," + to(point(p)) + "," + to(direction(z)) + "," + to(direction(x)) + ")");
    }
    int line(const Triple& p, const Triple& d) {
        return add("LINE(''," + to(point(p)) + "," + to(add("VECTOR(''," + to(direction(d)) + ",1.)")) + ")");
    }
    int edge(int from, int to_vertex, int curve) {
        return add("EDGE_CURVE(''," + to(from) + "," + to(to_vertex) + "," + to(curve) + ",.T.)");
    }
    /// Edges with .T. or .F., in their order.
    int loop(const std::vector<std::pair<int, bool>>& edges) {
        std::vector<int> oriented;
        for (const auto& [edge, along] : edges) {
            oriented.push_back(add("ORIENTED_EDGE('',*,*," + to(edge) + (along ? ",.T.)" : ",.F.)")));
        }
        return add("EDGE_LOOP(''," + list(oriented) + ")");
    }
    int bound(int loop, const std::string& kind = "FACE_OUTER_BOUND") {
        return add(kind + "(''," + to(loop) + ",.T.)");
    }
    int face(const std::vector<int>& bounds, int surface, bool along = true) {
        return add("ADVANCED_FACE(''," + list(bounds) + "," + to(surface) + (along ? ",.T.)" : ",.F.)"));
    }

    /// Flat faces by the numbers of their corners, counterclockwise from outside; the further loops of a face are
    /// holes. `turned`: planes look inwards, and the faces against them.
    std::vector<int> flat_faces(const std::vector<Triple>& corners,
                                const std::vector<std::vector<std::vector<int>>>& faces, bool turned = false,
                                const std::string& outer = "FACE_OUTER_BOUND") {
        std::vector<int> vertices;
        for (const Triple& p : corners) {
            vertices.push_back(vertex(p));
        }
        std::map<std::pair<int, int>, int> edges;
        const auto edge_between = [&](int a, int b) {
            const auto found = edges.find({a, b});
            if (found != edges.end()) {
                return std::pair(found->second, true);
            }
            const auto other = edges.find({b, a});
            if (other != edges.end()) {
                return std::pair(other->second, false);
            }
            const Triple& p = corners[static_cast<size_t>(a)];
            const Triple& q = corners[static_cast<size_t>(b)];
            const int curve = line(p, unit({q[0] - p[0], q[1] - p[1], q[2] - p[2]}));
            return std::pair(
                edges[{a, b}] = edge(vertices[static_cast<size_t>(a)], vertices[static_cast<size_t>(b)], curve), true);
        };
        std::vector<int> made;
        for (const auto& loops : faces) {
            std::vector<int> bounds;
            for (const auto& corners_of : loops) {
                std::vector<std::pair<int, bool>> around;
                for (size_t i = 0; i < corners_of.size(); ++i) {
                    around.push_back(edge_between(corners_of[i], corners_of[(i + 1) % corners_of.size()]));
                }
                bounds.push_back(bound(loop(around), bounds.empty() ? outer : "FACE_BOUND"));
            }
            const Triple& o = corners[static_cast<size_t>(loops[0][0])];
            const Triple& p = corners[static_cast<size_t>(loops[0][1])];
            const Triple& q = corners[static_cast<size_t>(loops[0][2])];
            made.push_back(face(bounds, plane(o, p, q, turned), !turned));
        }
        return made;
    }
    /// Through three places, that run counterclockwise seen from where it looks; or clockwise.
    int plane(const Triple& o, const Triple& p, const Triple& q, bool turned = false) {
        const Triple x = unit({p[0] - o[0], p[1] - o[1], p[2] - o[2]});
        Triple z = unit(cross(x, {q[0] - o[0], q[1] - o[1], q[2] - o[2]}));
        if (turned) {
            z = {-z[0], -z[1], -z[2]};
        }
        return add("PLANE(''," + to(axis(o, z, x)) + ")");
    }
    int shell(const std::vector<int>& faces, const std::string& kind = "CLOSED_SHELL") {
        return add(kind + "(''," + list(faces) + ")");
    }
    int solid(const std::vector<int>& faces, const std::string& name = {}) {
        return add("MANIFOLD_SOLID_BREP('" + name + "'," + to(shell(faces)) + ")");
    }

    static std::vector<Triple> box_corners(const Triple& p, const Triple& size) {
        std::vector<Triple> corners;
        for (int i = 0; i < 8; ++i) {
            corners.push_back({p[0] + ((i & 1) != 0 ? size[0] : 0), p[1] + ((i & 2) != 0 ? size[1] : 0),
                               p[2] + ((i & 4) != 0 ? size[2] : 0)});
        }
        return corners;
    }
    static std::vector<std::vector<std::vector<int>>> box_faces() {
        return {{{0, 2, 3, 1}}, {{4, 5, 7, 6}}, {{0, 1, 5, 4}}, {{2, 6, 7, 3}}, {{0, 4, 6, 2}}, {{1, 3, 7, 5}}};
    }
    std::vector<int> box(const Triple& p, const Triple& size, bool turned = false) {
        return flat_faces(box_corners(p, size), box_faces(), turned);
    }

    /// A body that turns about z: its wall a surface, between circles at z = 0 and z = height. With a seam at y = 0.
    int turned(double low, double high, double height, const std::string& surface, int seam,
               const std::string& name = {}) {
        const int a = vertex({low, 0, 0});
        const int b = vertex({high, 0, height});
        const int bottom = edge(a, a, circle({0, 0, 0}, low));
        const int top = edge(b, b, circle({0, 0, height}, high));
        const int up = edge(a, b, seam);
        const int wall = face({bound(loop({{bottom, true}, {up, true}, {top, false}, {up, false}}))}, add(surface));
        const int floor = face({bound(loop({{bottom, false}}))}, add("PLANE(''," + to(axis({0, 0, 0})) + ")"), false);
        const int roof = face({bound(loop({{top, true}}))}, add("PLANE(''," + to(axis({0, 0, height})) + ")"));
        return solid({wall, floor, roof}, name);
    }
    int circle(const Triple& center, double radius) {
        return add("CIRCLE(''," + to(axis(center)) + "," + number(radius) + ")");
    }
    int cylinder(double radius, double height, const std::string& name = {}) {
        return turned(radius, radius, height,
                      "CYLINDRICAL_SURFACE(''," + to(axis({0, 0, 0})) + "," + number(radius) + ")",
                      line({radius, 0, 0}, {0, 0, 1}), name);
    }

    /// Units of length and angle: an SI prefix (".MILLI."), "$", or what is given by `length` or `angle`.
    int context(const std::string& prefix = ".MILLI.", int length = 0, int angle = 0) {
        if (length == 0) {
            length = add("(LENGTH_UNIT() NAMED_UNIT(*) SI_UNIT(" + prefix + ",.METRE.))");
        }
        if (angle == 0) {
            angle = add("(NAMED_UNIT(*) PLANE_ANGLE_UNIT() SI_UNIT($,.RADIAN.))");
        }
        const int round = add("(NAMED_UNIT(*) SI_UNIT($,.STERADIAN.) SOLID_ANGLE_UNIT())");
        const int exact =
            add("UNCERTAINTY_MEASURE_WITH_UNIT(LENGTH_MEASURE(1.E-7)," + to(length) + ",'distance_accuracy_value','')");
        return add("(GEOMETRIC_REPRESENTATION_CONTEXT(3) GLOBAL_UNCERTAINTY_ASSIGNED_CONTEXT((" + to(exact) +
                   ")) GLOBAL_UNIT_ASSIGNED_CONTEXT((" + to(length) + "," + to(angle) + "," + to(round) +
                   ")) REPRESENTATION_CONTEXT('',''))");
    }
    /// So many of a unit of its own are one metre-based `unit`: 25.4 of ".MILLI." for an inch.
    int length_unit(const std::string& name, double count, const std::string& prefix = ".MILLI.") {
        const int base = add("(LENGTH_UNIT() NAMED_UNIT(*) SI_UNIT(" + prefix + ",.METRE.))");
        const int measure = add("LENGTH_MEASURE_WITH_UNIT(LENGTH_MEASURE(" + number(count) + ")," + to(base) + ")");
        const int powers = add("DIMENSIONAL_EXPONENTS(1.,0.,0.,0.,0.,0.,0.)");
        return add("(CONVERSION_BASED_UNIT('" + name + "'," + to(measure) + ") LENGTH_UNIT() NAMED_UNIT(" + to(powers) +
                   "))");
    }
    int degrees() {
        const int base = add("(NAMED_UNIT(*) PLANE_ANGLE_UNIT() SI_UNIT($,.RADIAN.))");
        const int measure =
            add("PLANE_ANGLE_MEASURE_WITH_UNIT(PLANE_ANGLE_MEASURE(0.017453292519943295)," + to(base) + ")");
        const int powers = add("DIMENSIONAL_EXPONENTS(0.,0.,0.,0.,0.,0.,0.)");
        return add("(CONVERSION_BASED_UNIT('DEGREE'," + to(measure) + ") NAMED_UNIT(" + to(powers) +
                   ") PLANE_ANGLE_UNIT())");
    }

    struct Product {
        int definition = 0, representation = 0;
    };
    /// With items as its shape, of the kind of representation.
    Product product(const std::string& name, const std::vector<int>& items, int context,
                    const std::string& kind = "ADVANCED_BREP_SHAPE_REPRESENTATION") {
        if (application_ == 0) {
            application_ = add("APPLICATION_CONTEXT('core data for automotive mechanical design processes')");
        }
        const int about = add("PRODUCT_CONTEXT(''," + to(application_) + ",'mechanical')");
        const int made = add("PRODUCT('" + name + "','" + name + "',''," + list({about}) + ")");
        const int formation = add("PRODUCT_DEFINITION_FORMATION('',''," + to(made) + ")");
        const int design = add("PRODUCT_DEFINITION_CONTEXT('part definition'," + to(application_) + ",'design')");
        Product product;
        product.definition = add("PRODUCT_DEFINITION('design',''," + to(formation) + "," + to(design) + ")");
        const int shape = add("PRODUCT_DEFINITION_SHAPE('',''," + to(product.definition) + ")");
        product.representation = add(kind + "(''," + list(items) + "," + to(context) + ")");
        add("SHAPE_DEFINITION_REPRESENTATION(" + to(shape) + "," + to(product.representation) + ")");
        return product;
    }
    /// `part` in `whole`, moved from one axis placement to another. Both belong to the representations.
    void place(const Product& part, const Product& whole, const std::string& name, int from, int to_axis) {
        const int usage = add("NEXT_ASSEMBLY_USAGE_OCCURRENCE('1','" + name + "',''," + to(whole.definition) + "," +
                              to(part.definition) + ",$)");
        const int shape = add("PRODUCT_DEFINITION_SHAPE('',''," + to(usage) + ")");
        const int moved = add("ITEM_DEFINED_TRANSFORMATION('',''," + to(from) + "," + to(to_axis) + ")");
        const int relation = add("(REPRESENTATION_RELATIONSHIP('',''," + to(part.representation) + "," +
                                 to(whole.representation) + ") REPRESENTATION_RELATIONSHIP_WITH_TRANSFORMATION(" +
                                 to(moved) + ") SHAPE_REPRESENTATION_RELATIONSHIP())");
        add("CONTEXT_DEPENDENT_SHAPE_REPRESENTATION(" + to(relation) + "," + to(shape) + ")");
    }
    int color(double red, double green, double blue) {
        const int rgb = add("COLOUR_RGB(''," + number(red) + "," + number(green) + "," + number(blue) + ")");
        const int fill = add("FILL_AREA_STYLE_COLOUR(''," + to(rgb) + ")");
        const int area = add("FILL_AREA_STYLE(''," + list({fill}) + ")");
        const int surface = add("SURFACE_STYLE_FILL_AREA(" + to(area) + ")");
        const int side = add("SURFACE_SIDE_STYLE(''," + list({surface}) + ")");
        const int usage = add("SURFACE_STYLE_USAGE(.BOTH.," + to(side) + ")");
        return add("PRESENTATION_STYLE_ASSIGNMENT(" + list({usage}) + ")");
    }

    [[nodiscard]] std::string text(const std::string& schema = "AUTOMOTIVE_DESIGN { 1 0 10303 214 1 1 1 1 }",
                                   const std::string& header = {}) const {
        return "ISO-10303-21;\nHEADER;\n" +
               (header.empty()
                    ? "FILE_DESCRIPTION((''),'2;1');\nFILE_NAME('a','2026-01-01T00:00:00',(''),(''),'','','')"
                      ";\nFILE_SCHEMA(('" +
                          schema + "'));\n"
                    : header) +
               "ENDSEC;\nDATA;\n" + data_ + "ENDSEC;\nEND-ISO-10303-21;\n";
    }

private:
    static Triple cross(const Triple& a, const Triple& b) {
        return {a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]};
    }
    static Triple unit(const Triple& d) {
        const double length = std::hypot(d[0], d[1], d[2]);
        return {d[0] / length, d[1] / length, d[2] / length};
    }

    std::string data_;
    int last_ = 0;
    int application_ = 0;
};

} // namespace kervo::io::test
