// Faces in closed edges.
#include "model/steps/built_up/building.h"

#include "geom/kernel/finding_place.h"
#include "geom/make/flat_loops.h"
#include "geom/surface/fill_border.h"

#include <algorithm>

namespace kervo::model {

// Edges that it names; of points those from one to the next and back to the first; all that there are where it names
// nothing.
std::vector<size_t> Building::edges_named(const Row& row) {
    const bool of_points = !row.of.empty() && std::all_of(row.of.begin(), row.of.end(), [&](const auto& name) {
        return known_.contains(name) && known_.at(name).is == Is::points;
    });
    std::vector<size_t> edges;
    if (of_points) {
        const auto points = named(row, Is::points);
        for (size_t i = 0; points.size() > 2 && i < points.size() && answers_.ok(); ++i) {
            const size_t from = points[i];
            const size_t to = points[(i + 1) % points.size()];
            const auto added = net_.line(from, to);
            if (!added) {
                tell(added.finding(), row);
            } else if (added->fresh) {
                add_edge(row, added, point_names_[from] + "-" + point_names_[to], edges);
            } else {
                edges.push_back(added->index);
            }
        }
    } else if (row.of.empty()) {
        for (size_t i = 0; i < net_.edges(); ++i) {
            edges.push_back(i);
        }
    } else {
        edges = named(row, Is::edges);
    }
    std::sort(edges.begin(), edges.end());
    edges.erase(std::unique(edges.begin(), edges.end()), edges.end());
    return edges;
}

std::string Building::labels_of(const std::vector<size_t>& edges) const {
    std::set<std::string> labels;
    for (const size_t edge : edges) {
        labels.insert(edge_names_[edge]);
    }
    std::string all;
    for (const std::string& label : labels) {
        all += (all.empty() ? "" : ".") + label;
    }
    return all;
}

// False where the very same face is there already.
bool Building::add_face(const Row& row, const TopoDS_Face& face, std::vector<size_t> edges, const std::string& role) {
    constexpr double same = 1e-6; // mm
    const gp_Pnt center = geom::center_of(face);
    const auto known = std::find_if(faces_.begin(), faces_.end(), [&](const Face& each) {
        return each.edges == edges && geom::center_of(each.face).Distance(center) < same;
    });
    if (known != faces_.end()) {
        return false;
    }
    faces_.push_back({face, std::move(edges), FaceName{prefix_ + role, {}, false}});
    names_.Bind(face, faces_.back().name);
    mark(row.name, center);
    return true;
}

void Building::add_flat_faces(const Row& row) {
    const auto edges = edges_named(row);
    if (!answers_.ok()) {
        return;
    }
    if (edges.empty()) {
        return lacks(row, "edges, or three points or more");
    }
    const auto found = geom::flat_faces(net_, edges);
    if (!found) {
        return tell(found.finding(), row);
    }
    if (found->empty()) {
        Finding finding = error_finding("build.nothing_flat", "These edges enclose nothing that is flat.",
                                        "Close them, or span a free face in them.");
        for (const size_t point : net_.closed_chains(edges).trouble) {
            geom::add_place(finding, net_.place(point));
        }
        return tell(std::move(finding), row);
    }
    const size_t before = faces_.size();
    Finding doubled = warning_finding("build.same_face", "A face is there already.",
                                      "It was not made again; take one of the two rows out.");
    std::vector<size_t> made;
    for (const geom::LoopFace& face : *found) {
        const bool alone = !row.of.empty() && found->size() == 1;
        if (add_face(row, face.face, face.edges, row.name + (alone ? "" : "/" + labels_of(face.edges)))) {
            made.push_back(faces_.size() - 1);
        } else {
            geom::add_place(doubled, geom::center_of(face.face));
        }
    }
    // "All" means what is not there yet; who names edges means just these.
    if (!doubled.places.empty() && (!row.of.empty() || faces_.size() == before)) {
        tell(std::move(doubled), row);
    }
    know(row, Is::faces, made);
}

std::set<size_t> Building::edges_in_faces() const {
    std::set<size_t> all;
    for (const Face& face : faces_) {
        all.insert(face.edges.begin(), face.edges.end());
    }
    return all;
}

// Edges that only one face has.
std::vector<size_t> Building::free_edges() const {
    std::vector<int> uses(net_.edges(), 0);
    for (const Face& face : faces_) {
        for (const size_t edge : face.edges) {
            ++uses[edge];
        }
    }
    std::vector<size_t> free;
    for (size_t i = 0; i < uses.size(); ++i) {
        if (uses[i] == 1) {
            free.push_back(i);
        }
    }
    return free;
}

void Building::add_free_face(const Row& row) {
    const auto edges = row.of.empty() ? free_edges() : edges_named(row);
    if (!answers_.ok()) {
        return;
    }
    const auto chains = net_.closed_chains(edges);
    if (edges.empty() || !chains.trouble.empty()) {
        Finding finding = error_finding(
            "build.open_chain", edges.empty() ? "There is no edge that only one face has." : "Its edges do not close.",
            "Name edges that lead back to where they begin.");
        for (const size_t point : chains.trouble) {
            geom::add_place(finding, net_.place(point));
        }
        return tell(std::move(finding), row);
    }
    Finding doubled = warning_finding("build.same_face", "This face is there already.",
                                      "It was not made again; take one of the two rows out.");
    std::vector<size_t> made;
    for (const auto& chain : chains.closed) {
        std::vector<geom::BorderSide> around;
        std::transform(chain.begin(), chain.end(), std::back_inserter(around),
                       [&](size_t i) { return geom::BorderSide(net_.edge(i), {}); });
        const auto filled = geom::fill_border(around);
        if (!filled) {
            return tell(filled.finding(), row);
        }
        const bool alone = !row.of.empty() && chains.closed.size() == 1 && filled->parts.size() == 1;
        for (const auto& [face, of] : filled->parts) {
            std::vector<size_t> beside;
            std::transform(of.begin(), of.end(), std::back_inserter(beside), [&](size_t i) { return chain[i]; });
            std::sort(beside.begin(), beside.end());
            if (add_face(row, face, beside, row.name + (alone ? "" : "/" + labels_of(beside)))) {
                made.push_back(faces_.size() - 1);
            } else {
                geom::add_place(doubled, geom::center_of(face));
            }
        }
    }
    if (!doubled.places.empty()) {
        tell(std::move(doubled), row);
    }
    know(row, Is::faces, made);
}

} // namespace kervo::model
