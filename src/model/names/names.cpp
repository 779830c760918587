#include "model/names/names.h"

#include "geom/kernel/by_shape.h"
#include "geom/measure/looks.h"
#include "geom/measure/measure.h"
#include "geom/measure/pick.h"
#include "model/names/border_names.h"
#include "model/names/elements.h"

#include <algorithm>
#include <limits>
#include <map>

namespace kervo::model {

namespace {

struct ElementName {
    std::vector<std::string> faces;
    std::vector<std::string> ends;
};

// What is beside the elements of a body, as far as it has a name: faces, and what was beyond free borders.
class Surroundings {
public:
    explicit Surroundings(const Body& body) : body_(body), neighbours_(body.shape) {
        if (!body.names.of_edges()) {
            return;
        }
        for (const TopoDS_Shape& edge : geom::edges_of(body.shape)) {
            const FaceName* name = body.names.Seek(edge);
            if (name == nullptr) {
                continue;
            }
            if (neighbours_.faces().empty()) {
                const auto [start, end] = geom::ends_of(edge);
                geom::entry(borders_, start).insert(name_at_start(name->text()));
                geom::entry(borders_, end).insert(name_at_end(name->text()));
                continue;
            }
            for (const TopoDS_Shape& vertex : geom::vertices_of(edge)) {
                geom::entry(borders_, vertex).insert(name->text());
            }
        }
    }

    [[nodiscard]] ElementName name_of(const TopoDS_Shape& element) const {
        ElementName name{texts_at(element), {}};
        if (element.ShapeType() == TopAbs_EDGE && !neighbours_.faces().empty()) {
            std::set<std::string> beside;
            for (const TopoDS_Shape& vertex : geom::vertices_of(element)) {
                for (const std::string& text : texts_at(vertex)) {
                    if (std::find(name.faces.begin(), name.faces.end(), text) == name.faces.end()) {
                        beside.insert(text);
                    }
                }
            }
            name.ends = {beside.begin(), beside.end()};
        }
        return name;
    }

    [[nodiscard]] const geom::Neighbours& neighbours() const { return neighbours_; }

private:
    // A curve that bounds no face has its own name and no others; what meets at its ends, whether it comes or goes.
    [[nodiscard]] std::vector<std::string> texts_at(const TopoDS_Shape& element) const {
        std::vector<std::string> texts;
        for (const int face : neighbours_.faces_at(element)) {
            texts.push_back(body_.names.Find(neighbours_.faces()[static_cast<size_t>(face)]).text());
        }
        const FaceName* own = element.ShapeType() == TopAbs_EDGE ? body_.names.Seek(element) : nullptr;
        if (own != nullptr && texts.size() < 2) { // another face may be beside it again
            texts.push_back(own->text());
        }
        if (const auto* around = borders_.Seek(element)) {
            texts.insert(texts.end(), around->begin(), around->end());
        }
        std::sort(texts.begin(), texts.end());
        return texts;
    }

    const Body& body_;
    geom::Neighbours neighbours_;
    geom::ByShape<std::set<std::string>> borders_; // at vertices
};

// As it would be called if borders had no names: as it was called before they had.
ElementName without_borders(ElementName name) {
    std::erase_if(name.faces, is_border_name);
    std::erase_if(name.ends, is_border_name);
    return name;
}

TopAbs_ShapeEnum kernel_kind(ElementKind kind) {
    return kind == ElementKind::face ? TopAbs_FACE : kind == ElementKind::edge ? TopAbs_EDGE : TopAbs_VERTEX;
}

} // namespace

size_t count_of(const Body& body, ElementKind kind) {
    return shapes_of(body, kind).size();
}

namespace {

Finding lost(const Reference& reference, const std::string& cause) {
    Finding finding = error_finding("names.lost", cause, "Pick it again.");
    if (reference.near) {
        finding.places.push_back(*reference.near);
    }
    return finding;
}

// The only one that lies where the element lay when it was picked; null where there is none, or several.
TopoDS_Shape at_the_very_place(const gp_Pnt& near, const std::vector<TopoDS_Shape>& candidates) {
    TopoDS_Shape found;
    for (const TopoDS_Shape& candidate : candidates) {
        if (geom::center_of(candidate).Distance(near) < same_place) {
            if (!found.IsNull()) {
                return {};
            }
            found = candidate;
        }
    }
    return found;
}

Resolved by_nearness(const Reference& reference, const std::vector<TopoDS_Shape>& candidates) {
    if (!reference.near) {
        return {{}, lost(reference, "The " + to_string(reference.kind) + " it refers to now has several parts."), {}};
    }
    const gp_Pnt near((*reference.near)[0], (*reference.near)[1], (*reference.near)[2]);
    if (const TopoDS_Shape unmoved = at_the_very_place(near, candidates); !unmoved.IsNull()) {
        return {unmoved, {}, {}};
    }
    double best = std::numeric_limits<double>::infinity();
    double second = best;
    TopoDS_Shape nearest;
    for (const TopoDS_Shape& candidate : candidates) {
        const double distance = geom::distance_to(candidate, near);
        if (distance < best) {
            second = best;
            best = distance;
            nearest = candidate;
        } else {
            second = std::min(second, distance);
        }
    }
    if (!(best < second / 2)) {
        Finding finding =
            lost(reference,
                 "Several " +
                     std::string(reference.kind == ElementKind::vertex ? "vertices" : to_string(reference.kind) + "s") +
                     " could be the one that was picked.");
        finding.code = "names.ambiguous";
        return {{}, finding, {}};
    }
    Finding finding =
        warning_finding("names.by_place",
                        "The " + to_string(reference.kind) +
                            " that was picked was divided or changed; the one nearest to the old place is used.",
                        "Look whether it is the right one, and pick it again.");
    finding.places.push_back(*reference.near);
    return {nearest, finding, {}};
}

// The last resort: what has the same source counts only where it still lies at the very place that was picked.
Resolved at_the_same_place(const Reference& reference, const std::vector<TopoDS_Shape>& same_source) {
    if (!same_source.empty() && reference.near) {
        const Resolved guess = by_nearness(reference, same_source);
        const gp_Pnt near((*reference.near)[0], (*reference.near)[1], (*reference.near)[2]);
        if (!guess.element.IsNull() && geom::distance_to(guess.element, near) < same_place) {
            return guess;
        }
    }
    return {{}, lost(reference, "The " + to_string(reference.kind) + " it refers to is gone."), {}};
}

Resolved resolve_by_hand(const Reference& reference, const Body& body) {
    if (!reference.near) {
        return {{}, lost(reference, "A pick without a name needs a point near it."), {}};
    }
    const gp_Pnt near((*reference.near)[0], (*reference.near)[1], (*reference.near)[2]);
    const auto found = geom::nearest_element(body.shape, kernel_kind(reference.kind), near);
    if (found.element.IsNull()) {
        return {{}, lost(reference, "The body has no " + to_string(reference.kind) + "."), {}};
    }
    if (found.ambiguous) {
        Finding finding = lost(reference, "The point lies between several elements.");
        finding.code = "names.ambiguous";
        finding.mend = "Move the point to where only one " + to_string(reference.kind) + " is near.";
        return {{}, finding, {}};
    }
    return {found.element, {}, refer_to(reference.body, body, found.element)};
}

bool includes_all(const std::set<std::string>& have, const std::vector<std::string>& wanted) {
    return std::all_of(wanted.begin(), wanted.end(), [&](const std::string& w) { return have.contains(w); });
}

Resolved resolve_face(const Reference& reference, const Body& body) {
    const FaceName wanted = FaceName::parse(reference.faces.front());
    std::vector<TopoDS_Shape> exact;
    std::vector<TopoDS_Shape> same_source;
    for (const TopoDS_Shape& face : geom::faces_of(body.shape)) {
        const FaceName& name = body.names.Find(face);
        if (name == wanted) {
            exact.push_back(face);
        }
        if (name.origin == wanted.origin) {
            same_source.push_back(face);
        }
    }
    if (exact.size() == 1 && !wanted.ambiguous) {
        return {exact.front(), {}, {}};
    }
    if (!exact.empty()) {
        return by_nearness(reference, exact);
    }
    const auto beside = geom::faces_beside(body.shape, same_source);
    std::vector<TopoDS_Shape> beside_all; // touch all neighbours that told the face when it was picked
    std::vector<TopoDS_Shape> fitting;    // do so now, or descend from one that did
    for (size_t i = 0; i < same_source.size(); ++i) {
        const TopoDS_Shape& face = same_source[i];
        auto marks = body.names.origins_of(beside[i]);
        if (includes_all(marks, wanted.parts)) {
            beside_all.push_back(face);
        }
        const FaceName& name = body.names.Find(face);
        marks.insert(name.parts.begin(), name.parts.end());
        if (includes_all(marks, wanted.parts)) {
            fitting.push_back(face);
        }
    }
    if (beside_all.size() == 1 && !wanted.ambiguous && !wanted.parts.empty()) {
        return {beside_all.front(), {}, {}};
    }
    if (!fitting.empty()) {
        return by_nearness(reference, fitting);
    }
    return at_the_same_place(reference, same_source);
}

std::vector<std::string> sources_of(const std::vector<std::string>& faces) {
    std::vector<std::string> sources;
    for (const std::string& face : faces) {
        sources.push_back(FaceName::parse(face).origin);
    }
    std::sort(sources.begin(), sources.end());
    return sources;
}

Resolved resolve_edge_or_vertex(const Reference& reference, const Body& body) {
    const Surroundings surroundings(body);
    const bool knows_borders = std::any_of(reference.faces.begin(), reference.faces.end(), is_border_name) ||
                               std::any_of(reference.ends.begin(), reference.ends.end(), is_border_name);
    std::vector<TopoDS_Shape> exact;
    std::vector<TopoDS_Shape> exact_ends;
    std::vector<TopoDS_Shape> grown; // nothing is at their ends that was not, or all that was still is
    std::vector<TopoDS_Shape> same_source;
    const auto wanted_sources = sources_of(reference.faces);
    auto wanted_ends = reference.ends;
    bool doubtful = std::erase(wanted_ends, has_a_twin) > 0;
    for (const std::string& face : reference.faces) {
        doubtful = doubtful || FaceName::parse(face).ambiguous;
    }
    for (const TopoDS_Shape& element : shapes_of(body, reference.kind)) {
        ElementName name = surroundings.name_of(element);
        if (!knows_borders) {
            name = without_borders(std::move(name));
        }
        if (name.faces == reference.faces) {
            exact.push_back(element);
            if (name.ends == wanted_ends) {
                exact_ends.push_back(element);
            } else if (includes_all({name.ends.begin(), name.ends.end()}, wanted_ends) ||
                       includes_all({wanted_ends.begin(), wanted_ends.end()}, name.ends)) {
                grown.push_back(element);
            }
        }
        if (sources_of(name.faces) == wanted_sources) {
            same_source.push_back(element);
        }
    }
    if (exact_ends.size() == 1 && !doubtful) {
        return {exact_ends.front(), {}, {}};
    }
    if (exact.size() == 1 && grown.size() == 1 && !doubtful) {
        return {exact.front(), {}, {}};
    }
    if (exact_ends.size() > 1 && !doubtful) {
        return by_nearness(reference, exact_ends);
    }
    if (exact.size() > 1) {
        return by_nearness(reference, exact_ends.empty() ? exact : exact_ends);
    }
    // The only one of this name now was not the only one when it was picked, or ends elsewhere.
    if (exact.size() == 1) {
        return at_the_same_place(reference, exact);
    }
    return at_the_same_place(reference, same_source);
}

// Whether another element has the same name. All that could have it lie on each of its faces: the smallest is asked.
bool is_twin(const Surroundings& surroundings, const TopoDS_Shape& element, const ElementName& name) {
    const geom::Neighbours& neighbours = surroundings.neighbours();
    const auto on = [&](const TopoDS_Shape& face) {
        return element.ShapeType() == TopAbs_EDGE ? geom::edges_of(face) : geom::vertices_of(face);
    };
    std::vector<TopoDS_Shape> others;
    bool first = true;
    for (const int face : neighbours.faces_at(element)) {
        auto here = on(neighbours.faces()[static_cast<size_t>(face)]);
        if (first || here.size() < others.size()) {
            others = std::move(here);
            first = false;
        }
    }
    return std::any_of(others.begin(), others.end(), [&](const TopoDS_Shape& other) {
        if (other.IsSame(element)) {
            return false;
        }
        const ElementName its = surroundings.name_of(other);
        return its.faces == name.faces && its.ends == name.ends;
    });
}

} // namespace

Reference refer_to(const BodyId& id, const Body& body, const TopoDS_Shape& element) {
    Reference reference = whole(id);
    if (element.ShapeType() < TopAbs_FACE) {
        return reference;
    }
    const gp_Pnt center = geom::center_of(element);
    reference.near = Place{center.X(), center.Y(), center.Z()};
    if (element.ShapeType() == TopAbs_FACE) {
        reference.kind = ElementKind::face;
        reference.faces = {body.names.Find(element).text()};
        return reference;
    }
    reference.kind = element.ShapeType() == TopAbs_EDGE ? ElementKind::edge : ElementKind::vertex;
    const Surroundings surroundings(body);
    ElementName name = surroundings.name_of(element);
    const bool twin = is_twin(surroundings, element, name);
    reference.faces = std::move(name.faces);
    reference.ends = std::move(name.ends);
    if (twin) {
        reference.ends.push_back(has_a_twin);
    }
    return reference;
}

Resolved resolve(const Reference& reference, const Body* body) {
    if (body == nullptr) {
        Finding finding = lost(reference, "The body \u201c" + reference.body + "\u201d is not there at this step.");
        finding.code = "names.no_body";
        return {{}, finding, {}};
    }
    if (reference.kind == ElementKind::body) {
        return {body->shape, {}, {}};
    }
    if (reference.by_hand()) {
        return resolve_by_hand(reference, *body);
    }
    Resolved found =
        reference.kind == ElementKind::face ? resolve_face(reference, *body) : resolve_edge_or_vertex(reference, *body);
    const auto& near = reference.near;
    if (has_twins(reference.body) && !found.element.IsNull() && !found.finding &&
        !(near && geom::center_of(found.element).Distance({(*near)[0], (*near)[1], (*near)[2]}) < same_place)) {
        found.finding = warning_finding("names.by_place",
                                        "Several bodies look alike to this step; the " + to_string(reference.kind) +
                                            " of one of them is taken, but does not lie where it was picked.",
                                        "Look whether it is the right one, and pick it again.");
        if (near) {
            found.finding->places.push_back(*near);
        }
    }
    return found;
}

std::string describe_face(const FaceName& name) {
    const size_t colon = name.origin.find(':');
    const std::string role = colon == std::string::npos ? name.origin : name.origin.substr(colon + 1);
    static const std::map<std::string, std::string> words{
        {"top", "upper face"},   {"bottom", "under face"}, {"left", "left face"},
        {"right", "right face"}, {"front", "front face"},  {"back", "back face"},
        {"side", "side"},        {"start", "start face"},  {"end", "end face"}};
    const auto known = words.find(role);
    std::string text = known != words.end() ? known->second : role;
    if (role.rfind("side/cp", 0) == 0) {
        const size_t dot = role.find('.');
        text = "hole " + role.substr(7, dot - 7) + (dot == std::string::npos ? "" : ", " + role.substr(dot + 1));
    } else if (role.rfind("side/co", 0) == 0) {
        const size_t dot = role.find('.');
        text = "opening " + role.substr(7, dot - 7) + (dot == std::string::npos ? "" : ", " + role.substr(dot + 1));
    } else if (role.rfind("side/c", 0) == 0) {
        text = "side from curve " + role.substr(6);
        if (const size_t to = text.find('~'); to != std::string::npos) { // between outlines
            text.replace(to, 1, " to ");
        }
    } else if (role.rfind("curve/c", 0) == 0) {
        text = "curve " + role.substr(7);
    } else if (role.rfind("round-corner", 0) == 0 || role.rfind("bevel-corner", 0) == 0) {
        text = role.substr(0, 5) + " at a corner";
    } else if (role.rfind("round", 0) == 0 || role.rfind("bevel", 0) == 0) {
        text = role.substr(0, 5);
    } else if (role.rfind("inner", 0) == 0) {
        text = "inner face";
    } else if (role.rfind("front/", 0) == 0 || role.rfind("back/", 0) == 0) { // of what became thick
        text = role.substr(0, role.find('/')) + " face";
    } else if (role.rfind("region/", 0) == 0) {
        text = "flat face";
    } else if (role.rfind("rim", 0) == 0) {
        text = "rim";
    } else if (role.rfind("face", 0) == 0) {
        text = "face " + role.substr(4);
    }
    return name.parts.empty() ? text : text + ", a part";
}

} // namespace kervo::model
