#include "io/formats/stl/stl.h"

#include "geom/measure/measure.h"
#include "geom/view/tessellate.h"

#include <BRepBuilderAPI_Copy.hxx>

#include <algorithm>
#include <array>
#include <cmath>
#include <cstring>
#include <fstream>
#include <map>
#include <set>

namespace kervo::io {

namespace {

using Node = std::array<float, 3>;
using Triangle = std::array<Node, 3>;

struct Mesh {
    std::string name;
    std::vector<Triangle> triangles;
    bool closed = false;
};

// Without minus zero, which is another word for zero.
float as_written(double value) {
    return static_cast<float>(value) + 0.0F;
}

// One written place for all that lie within the kernel's own tolerance: faces know their nodes each by itself, and what
// is 0 for one is 1e-15 for its neighbour.
class Nodes {
public:
    Node at(const gp_Pnt& place) {
        const Cell middle = cell_of(place);
        for (int i = -1; i <= 1; ++i) {
            for (int j = -1; j <= 1; ++j) {
                for (int k = -1; k <= 1; ++k) {
                    const auto near = cells_.find({middle[0] + i, middle[1] + j, middle[2] + k});
                    if (near != cells_.end() && near->second.Distance(place) < same) {
                        return written(near->second);
                    }
                }
            }
        }
        cells_.emplace(middle, place);
        return written(place);
    }

private:
    static constexpr double same = 1e-7; // mm
    using Cell = std::array<long long, 3>;
    static Cell cell_of(const gp_Pnt& place) {
        return {std::llround(place.X() / same), std::llround(place.Y() / same), std::llround(place.Z() / same)};
    }
    static Node written(const gp_Pnt& place) {
        return {as_written(place.X()), as_written(place.Y()), as_written(place.Z())};
    }
    std::map<Cell, gp_Pnt> cells_;
};

// Every edge is passed once in each direction.
bool is_closed(const std::vector<Triangle>& triangles) {
    std::map<std::pair<Node, Node>, int> edges;
    for (const Triangle& triangle : triangles) {
        for (size_t i = 0; i < 3; ++i) {
            const Node& from = triangle[i];
            const Node& to = triangle[(i + 1) % 3];
            from < to ? ++edges[{from, to}] : --edges[{to, from}];
        }
    }
    return std::all_of(edges.begin(), edges.end(), [](const auto& edge) { return edge.second == 0; });
}

Mesh mesh_of(const NamedBody& body, double chord) {
    // A copy without the picture's triangles, so that the file has the tolerance that was asked for.
    const TopoDS_Shape copy = BRepBuilderAPI_Copy(body.shape, Standard_True, Standard_False).Shape();
    geom::tessellate(copy, {chord, 0.35});
    Mesh mesh{body.name, {}, false};
    Nodes nodes;
    for (const auto& corners : geom::triangles_of(copy)) {
        const Triangle triangle{nodes.at(corners[0]), nodes.at(corners[1]), nodes.at(corners[2])};
        if (triangle[0] != triangle[1] && triangle[1] != triangle[2] && triangle[2] != triangle[0]) {
            mesh.triangles.push_back(triangle);
        }
    }
    mesh.closed = is_closed(mesh.triangles);
    return mesh;
}

std::array<float, 3> normal_of(const Triangle& triangle) {
    const auto point = [](const Node& node) { return gp_Pnt(node[0], node[1], node[2]); };
    gp_Vec normal = gp_Vec(point(triangle[0]), point(triangle[1])).Crossed({point(triangle[0]), point(triangle[2])});
    if (normal.Magnitude() > 0) {
        normal.Normalize();
    }
    return {as_written(normal.X()), as_written(normal.Y()), as_written(normal.Z())};
}

void write_binary(const std::vector<Mesh>& meshes, std::ofstream& out) {
    const auto put = [&](const auto& value) { out.write(reinterpret_cast<const char*>(&value), sizeof value); };
    size_t count = 0;
    for (const Mesh& mesh : meshes) {
        count += mesh.triangles.size();
    }
    out << std::string(80, ' '); // without "solid", by which readers know text
    put(static_cast<unsigned>(count));
    for (const Mesh& mesh : meshes) {
        for (const Triangle& triangle : mesh.triangles) {
            put(normal_of(triangle));
            put(triangle);
            put(static_cast<unsigned short>(0));
        }
    }
}

void write_text(const std::vector<Mesh>& meshes, std::ofstream& out) {
    out.precision(9); // as many digits as a float needs to come back as it was
    for (const Mesh& mesh : meshes) {
        std::string name = mesh.name; // one word or many, on one line
        std::replace_if(
            name.begin(), name.end(), [](unsigned char c) { return c < ' '; }, ' ');
        out << "solid " << name << '\n';
        for (const Triangle& triangle : mesh.triangles) {
            const auto normal = normal_of(triangle);
            out << "  facet normal " << normal[0] << ' ' << normal[1] << ' ' << normal[2] << "\n    outer loop\n";
            for (const Node& node : triangle) {
                out << "      vertex " << node[0] << ' ' << node[1] << ' ' << node[2] << '\n';
            }
            out << "    endloop\n  endfacet\n";
        }
        out << "endsolid " << name << '\n';
    }
}

// Two bodies that have nodes in common touch: whoever joins equal places, as most readers do, makes one of them.
Findings touching(const std::vector<Mesh>& meshes) {
    std::map<Node, size_t> first;
    std::set<std::pair<size_t, size_t>> pairs;
    for (size_t i = 0; i < meshes.size(); ++i) {
        for (const Triangle& triangle : meshes[i].triangles) {
            for (const Node& node : triangle) {
                if (const size_t other = first.emplace(node, i).first->second; other != i) {
                    pairs.emplace(other, i);
                }
            }
        }
    }
    if (pairs.empty()) {
        return {};
    }
    const auto& [one, other] = *pairs.begin();
    return {warning_finding("stl.touching",
                            "Bodies touch, such as \u201c" + meshes[one].name + "\u201d and \u201c" +
                                meshes[other].name + "\u201d: a reader that joins equal places makes one of them.",
                            "Write each to a file of its own, or as text, where each is a solid with a name.")};
}

Written write_stl(const ModelToWrite& model, const FormatAnswers& answers, const std::string& path) {
    std::vector<Mesh> meshes;
    Findings told;
    for (const NamedBody& body : model.bodies) {
        meshes.push_back(mesh_of(body, answers.at("chord")));
        if (!meshes.back().closed && !geom::solids_of(body.shape).empty()) {
            told.push_back(warning_finding("stl.open", "The triangles of \u201c" + body.name + "\u201d leave gaps.",
                                           "Choose a smaller distance from the true surface."));
        }
    }
    std::ofstream out(path, std::ios::binary);
    const bool text = answers.at("text") != 0;
    text ? write_text(meshes, out) : write_binary(meshes, out);
    out.close();
    const Findings touch = text ? Findings() : touching(meshes);
    Written written(out.good());
    written.told = std::move(told);
    written.told.insert(written.told.end(), touch.begin(), touch.end());
    return written;
}

} // namespace

Format stl_format() {
    Format format{"stl", "STL", {".stl"}};
    format.questions = {{"chord", "Distance from the true surface", "How far triangles may lie from it; less is finer.",
                         "mm", 0.05, 1e-4},
                        {"text", "As text", "Each body is a solid with its name; the file is larger.", "", 0, 0, true}};
    format.write_bodies = write_stl;
    return format;
}

} // namespace kervo::io
