// Points and edges.
#include "model/steps/built_up/building.h"

#include "geom/kernel/finding_place.h"
#include "geom/kernel/hanging_together.h"
#include "model/names/border_names.h"

#include <TopoDS.hxx>

#include <algorithm>

namespace kervo::model {

namespace {

std::string in_quotes(const std::string& name) {
    return "\u201c" + name + "\u201d";
}

} // namespace

void Building::tell(Finding finding, const Row& row) {
    tell_of_row(row, std::move(finding), answers_);
}

// A row that somebody is just about to fill in.
void Building::lacks(const Row& row, const std::string& what) {
    tell(warning_finding("build.incomplete", "It needs " + what + ".", "Name them in the row, or take the row out."),
         row);
}

void Building::take(const std::vector<TakenElement>& taken) {
    for (const auto& [name, body, element] : taken) {
        const Row row{name, {}};
        if (element.ShapeType() == TopAbs_VERTEX) {
            const auto point = net_.point(geom::center_of(element));
            point_names_.resize(net_.points());
            point_names_[point.index] = name;
            mark(name, net_.place(point.index), true);
            know(row, Is::points, {point.index});
        } else if (element.ShapeType() == TopAbs_EDGE) {
            std::vector<size_t> made;
            add_edge(row, net_.taken(TopoDS::Edge(element)), name, made);
            mark(name, geom::center_of(element));
            know(row, Is::edges, made);
        } else {
            names_.add(answers_.body(body)->names);
            faces_.push_back({TopoDS::Face(element), {}, names_.Find(element)});
            mark(name, geom::center_of(element));
            know(row, Is::faces, {faces_.size() - 1});
        }
    }
}

void Building::work(const Rows& rows) {
    if (rows.size() > most_rows) {
        answers_.report("rows", too_many_rows(rows.size()));
        return;
    }
    for (const Row& row : rows) {
        if (answers_.progress().cancelled()) {
            answers_.report("rows", error_finding("divide.cancelled", "Stopped.", ""));
        }
        if (!answers_.ok()) {
            return;
        }
        if (!is_row_name(row.name) || known_.contains(row.name)) {
            tell(bad_row_name(known_.contains(row.name)), row);
            return;
        }
        work(row);
    }
}

void Building::work(const Row& row) {
    if (row.makes == "point") {
        add_point(row);
    } else if (row.makes == "chain") {
        add_chain(row);
    } else if (row.makes == "edges" || row.makes == "arc" || row.makes == "curve") {
        add_edges(row);
    } else if (row.makes == "flat_faces") {
        add_flat_faces(row);
    } else if (row.makes == "free_face") {
        add_free_face(row);
    } else if (row.makes == "shell") {
        add_shell(row);
    } else {
        add_solid(row);
    }
}

// What the row names, of one sort; a finding for what is not there or is of another sort.
std::vector<size_t> Building::named(const Row& row, Is wanted) {
    static const std::map<Is, std::string> words{
        {Is::points, "points"}, {Is::edges, "edges"}, {Is::faces, "faces"}, {Is::shells, "a shell"}};
    std::vector<size_t> all;
    for (const std::string& name : row.of) {
        const auto known = known_.find(name);
        if (known == known_.end() || known->second.is != wanted) {
            tell(
                error_finding("build.no_such",
                              "No row before it makes " + words.at(wanted) + " under the name " + in_quotes(name) + ".",
                              "Name one that does, or move that row up."),
                row);
            return {};
        }
        all.insert(all.end(), known->second.which.begin(), known->second.which.end());
    }
    return all;
}

void Building::add_point(const Row& row) {
    const auto find = [&](const std::string& name) {
        const auto known = known_.find(name);
        return known == known_.end() || known->second.is != Is::points
                   ? std::nullopt
                   : std::optional(net_.place(known->second.which.front()));
    };
    const auto at = place_of_row(row, find, answers_);
    if (!at) {
        return;
    }
    const auto point = net_.point(*at);
    if (!point.fresh) {
        Finding finding =
            warning_finding("build.same_point", "It stands where " + in_quotes(point_names_[point.index]) + " stands.",
                            "They are one point now; take one of them out, or move it.");
        geom::add_place(finding, net_.place(point.index));
        tell(std::move(finding), row);
    } else {
        point_names_.push_back(row.name);
    }
    mark(row.name, net_.place(point.index), true);
    know(row, Is::points, {point.index});
}

void Building::add_edge(const Row& row, const Result<geom::EdgeNet::Added>& added, const std::string& label,
                        std::vector<size_t>& made) {
    if (!added) {
        tell(added.finding(), row);
        return;
    }
    for (size_t point = point_names_.size(); point < net_.points(); ++point) { // an end of an edge of a body
        point_names_.push_back(label);
    }
    made.push_back(added->index);
    if (added->fresh) {
        edge_names_.push_back(label);
        names_.Bind(net_.edge(added->index), border_towards(prefix_ + label));
        return;
    }
    Finding finding =
        warning_finding("build.same_edge", "It runs where " + in_quotes(edge_names_[added->index]) + " runs.",
                        "They are one edge now; take one of them out.");
    geom::add_place(finding, geom::center_of(net_.edge(added->index)));
    tell(std::move(finding), row);
}

// Edges that hang together, under one name.
void Building::add_chain(const Row& row) {
    auto made = named(row, Is::edges);
    if (!answers_.ok()) {
        return;
    }
    if (made.empty()) {
        return lacks(row, "edges");
    }
    std::sort(made.begin(), made.end());
    made.erase(std::unique(made.begin(), made.end()), made.end());
    std::map<size_t, int> times;
    std::vector<TopoDS_Shape> edges;
    for (const size_t edge : made) {
        ++times[net_.ends(edge)[0]];
        ++times[net_.ends(edge)[1]];
        edges.push_back(net_.edge(edge));
    }
    const bool branches = std::any_of(times.begin(), times.end(), [](const auto& each) { return each.second > 2; });
    if (branches || geom::hanging_together(edges, TopAbs_VERTEX).size() > 1) {
        Finding finding =
            error_finding("build.no_chain",
                          branches ? "More than two of its edges meet in a point." : "Its edges do not hang together.",
                          "Name edges that follow each other from point to point.");
        for (const auto& [point, count] : times) {
            if (branches ? count > 2 : count == 1) {
                geom::add_place(finding, net_.place(point));
            }
        }
        return tell(std::move(finding), row);
    }
    know(row, Is::edges, std::move(made));
}

void Building::add_edges(const Row& row) {
    std::vector<size_t> made;
    const auto points = named(row, Is::points);
    const size_t least = row.makes == "edges" ? 2 : 3;
    if (!answers_.ok()) {
        return;
    }
    if (points.size() < least || (row.makes == "arc" && points.size() > least)) {
        return lacks(row, row.makes == "edges" ? "two points, or more in their order"
                          : row.makes == "arc" ? "three points: where it begins, one on its way, and where it ends"
                                               : "three points or more in their order");
    }
    if (row.makes == "arc") {
        add_edge(row, net_.arc(points[0], points[1], points[2]), row.name, made);
    } else if (row.makes == "curve") {
        add_edge(row, net_.curve(points), row.name, made);
    } else {
        for (size_t i = 1; i < points.size() && answers_.ok(); ++i) {
            add_edge(row, net_.line(points[i - 1], points[i]),
                     point_names_[points[i - 1]] + "-" + point_names_[points[i]], made);
        }
    }
    if (answers_.ok()) {
        for (const size_t edge : made) {
            mark(row.name, geom::center_of(net_.edge(edge)));
        }
        know(row, Is::edges, made);
    }
}

} // namespace kervo::model
