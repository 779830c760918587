// Shells, solids, and what is handed out.
#include "model/steps/built_up/building.h"

#include "base/text.h"
#include "geom/kernel/finding_place.h"
#include "geom/measure/self_crossing.h"
#include "model/names/altering.h"

#include <TopoDS_Iterator.hxx>

#include <algorithm>
#include <numeric>

namespace kervo::model {

void Building::add_shell(const Row& row) {
    std::vector<size_t> which = named(row, Is::faces);
    for (size_t i = 0; row.of.empty() && i < faces_.size(); ++i) {
        if (!faces_[i].in_shell) {
            which.push_back(i);
        }
    }
    if (!answers_.ok()) {
        return;
    }
    if (which.empty()) {
        return lacks(row, "faces");
    }
    std::vector<TopoDS_Shape> faces;
    for (const size_t i : which) {
        if (faces_[i].in_shell) {
            return tell(error_finding("build.taken", "One of its faces is in another shell.", "Name others."), row);
        }
        faces.push_back(faces_[i].face);
    }
    auto sewn = geom::sew(faces, sewn_up_to, answers_.progress());
    if (!sewn) {
        Finding why = sewn.finding();
        why.severity = why.code == "divide.cancelled" ? Severity::error : Severity::warning; // the faces stay loose
        return tell(std::move(why), row);
    }
    for (const size_t i : which) {
        faces_[i].in_shell = true;
    }
    shells_.push_back({std::move(*sewn)});
    know(row, Is::shells, {shells_.size() - 1});
}

// Why it is none, or the solid.
void Building::add_solid(const Row& row) {
    std::vector<size_t> which = named(row, Is::shells);
    for (size_t i = 0; row.of.empty() && i < shells_.size(); ++i) {
        which.push_back(i);
    }
    if (!answers_.ok()) {
        return;
    }
    if (which.empty()) {
        return lacks(row, "a shell");
    }
    std::vector<TopoDS_Shape> parts;
    Finding open = warning_finding("build.open", "", "Make the faces that are missing, or leave it a surface.");
    size_t edges = 0;
    for (const size_t i : which) {
        for (TopoDS_Iterator it(shells_[i].sewn.shape);
             shells_[i].sewn.shape.ShapeType() == TopAbs_COMPOUND && it.More(); it.Next()) {
            parts.push_back(it.Value());
        }
        if (shells_[i].sewn.shape.ShapeType() != TopAbs_COMPOUND) {
            parts.push_back(shells_[i].sewn.shape);
        }
        for (const geom::Border& border : shells_[i].sewn.open) {
            edges += border.edges.size();
            for (const TopoDS_Edge& edge : border.edges) {
                geom::add_place(open, geom::center_of(edge));
            }
        }
    }
    if (edges > 0) {
        open.cause = "It encloses nothing: " + counted(edges, "edge has", "edges have") + " only one face.";
        return tell(std::move(open), row);
    }
    const auto solid = geom::solids_within(geom::gather(parts));
    if (!solid) {
        return tell(solid.finding(), row);
    }
    if (const auto crossing = geom::self_crossing(*solid)) {
        Finding finding = warning_finding("build.crosses_itself",
                                          "Faces run through each other here, so there is no telling what is inside.",
                                          "Move a point, or make an edge where they meet.");
        geom::add_place(finding, crossing->place);
        return tell(std::move(finding), row);
    }
    if (!geom::is_valid(*solid)) {
        return tell(warning_finding("build.not_valid", "What it encloses is no valid solid.",
                                    "Look whether faces or edges touch each other between their borders."),
                    row);
    }
    for (const size_t i : which) {
        shells_[i].in_solid = true;
        solid_origins_.insert(solid_origins_.end(), shells_[i].sewn.origins.begin(), shells_[i].sewn.origins.end());
    }
    solids_.push_back(*solid);
}

void Building::tell_counts() {
    const bool all_sewn = std::all_of(faces_.begin(), faces_.end(), [](const Face& face) { return face.in_shell; });
    size_t free = all_sewn ? 0 : free_edges().size();
    for (const Shell& shell : shells_) {
        for (const geom::Border& border : shell.sewn.open) {
            free += all_sewn ? border.edges.size() : 0;
        }
    }
    const size_t used = edges_in_faces().size();
    const auto lumps = std::accumulate(solids_.begin(), solids_.end(), size_t{0}, [](size_t sum, const auto& solid) {
        return sum + geom::solids_of(solid).size();
    });
    output_.facts["points"] = std::to_string(net_.points());
    output_.facts["edges"] = std::to_string(net_.edges());
    output_.facts["faces"] = std::to_string(faces_.size());
    output_.facts["shells"] = std::to_string(shells_.size());
    output_.facts["solids"] = std::to_string(lumps);
    output_.facts["free edges"] = std::to_string(free);
    std::string text = counted(net_.points(), "point", "points") + ", " + counted(net_.edges(), "edge", "edges") +
                       ", " + counted(faces_.size(), "face", "faces") + ", " +
                       counted(shells_.size(), "shell", "shells") + ", " + counted(lumps, "solid", "solids") + ".";
    if (!faces_.empty()) {
        text += " " + (free == 0 ? std::string("No edge is free.")
                                 : counted(free, "edge has", "edges have") + " only one face.");
    }
    if (used < net_.edges() && !faces_.empty()) {
        text += " " + counted(net_.edges() - used, "edge bounds", "edges bound") + " no face.";
    }
    output_.facts["counts"] = text;
}

// Shells that are no solids, and faces in none.
void Building::hand_out_surfaces(const BodyId& id) {
    std::vector<TopoDS_Shape> shapes;
    std::vector<geom::FaceOrigin> origins;
    for (const Shell& shell : shells_) {
        if (!shell.in_solid) {
            shapes.push_back(shell.sewn.shape);
            origins.insert(origins.end(), shell.sewn.origins.begin(), shell.sewn.origins.end());
        }
    }
    for (const Face& face : faces_) {
        if (!face.in_shell) {
            shapes.push_back(face.face);
            origins.push_back({face.face, face.face});
        }
    }
    if (!shapes.empty()) {
        output_.bodies[id] = name_result(geom::gather(shapes), origins, names_);
        output_.births.push_back({id, {}, {}});
    }
}

// The most that came of it under the step's own name; what it was not used for beside it.
void Building::hand_out(const BodyId& id) {
    tell_counts();
    if (!solids_.empty()) {
        const TopoDS_Shape all = geom::gather(solids_);
        output_.bodies[id] = name_result(all, solid_origins_, names_);
        output_.births.push_back({id, {}, {}});
        output_.added = geom::volume_of(all);
    }
    hand_out_surfaces(output_.bodies.empty() ? id : id + ".faces");
    const auto in_faces = edges_in_faces();
    std::vector<TopoDS_Shape> edges;
    FaceNames called;
    for (size_t i = 0; i < net_.edges(); ++i) {
        if (!in_faces.contains(i)) {
            edges.push_back(net_.edge(i));
            called.Bind(net_.edge(i), FaceName{prefix_ + edge_names_[i], {}, false});
        }
    }
    if (!edges.empty()) {
        const BodyId own = output_.bodies.empty() ? id : id + ".edges";
        output_.bodies[own] = body_of_edges(edges, called);
        output_.births.push_back(
            {own, output_.bodies.size() > 1 ? "edges" : "", {}, output_.bodies.size() > 1 ? id : ""});
    }
}

} // namespace kervo::model
