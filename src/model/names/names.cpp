#include "model/names/names.h"

#include "geom/measure/measure.h"
#include "geom/measure/pick.h"
#include "model/names/elements.h"

#include <algorithm>
#include <limits>
#include <map>

namespace kervo::model {

std::string FaceName::text() const {
    std::string out = origin;
    for (const std::string& part : parts) {
        out += "[+" + part + "]";
    }
    return ambiguous ? out + "[?]" : out;
}

FaceName FaceName::parse(const std::string& text) {
    FaceName name;
    size_t at = text.find('[');
    name.origin = text.substr(0, at);
    while (at != std::string::npos) {
        const size_t end = text.find(']', at);
        const std::string inner = text.substr(at + 1, end - at - 1);
        if (inner == "?") {
            name.ambiguous = true;
        } else if (!inner.empty() && inner[0] == '+') {
            name.parts.push_back(inner.substr(1));
        }
        at = end == std::string::npos ? end : text.find('[', end);
    }
    return name;
}

const FaceName& FaceNames::Find(const TopoDS_Shape& face) const {
    const FaceName* name = Seek(face);
    return name != nullptr ? *name : own_.Find(face); // which says that there is none
}

void FaceNames::Bind(const TopoDS_Shape& face, const FaceName& name) {
    doubtful_ = doubtful_ || name.ambiguous;
    own_.Bind(face, name);
}

void FaceNames::add(const FaceNames& more) {
    doubtful_ = doubtful_ || more.doubtful_;
    if (more.settled_) {
        for (Map::Iterator it(*more.settled_); it.More(); it.Next()) {
            own_.Bind(it.Key(), it.Value());
        }
    }
    for (Map::Iterator it(more.own_); it.More(); it.Next()) {
        own_.Bind(it.Key(), it.Value());
    }
}

FaceNames FaceNames::owned_by(const BodyId& body) const {
    FaceNames all;
    all.add(*this);
    for (Map::Iterator it(all.own_); it.More(); it.Next()) {
        if (it.Value().owner.empty()) {
            it.ChangeValue().owner = body;
        }
    }
    return all;
}

void FaceNames::settle() {
    constexpr int few = 4; // times more are settled than not
    if (settled_ && own_.Extent() * few < settled_->Extent()) {
        return;
    }
    auto all = std::make_shared<Map>(settled_ ? *settled_ : Map());
    for (Map::Iterator it(own_); it.More(); it.Next()) {
        all->Bind(it.Key(), it.Value());
    }
    own_.Clear();
    settled_ = std::move(all);
}

std::array<double, 6> box_of(const Body& body) {
    const geom::BodyIndexPtr index = body.index->get();
    return index ? index->box.corners() : geom::rough_box_of(body.shape);
}
double volume_of(const Body& body) {
    return body.index->get() ? body.index->cone().volume : geom::volume_of(body.shape);
}

namespace {
// Marks the member that has nothing but what all share; without it, its name would be that of the undivided whole.
const std::string nothing_of_its_own = "~";
} // namespace

std::vector<Distinction> tell_apart(const std::vector<std::set<std::string>>& members) {
    std::set<std::string> shared = members.empty() ? std::set<std::string>{} : members.front();
    for (const auto& member : members) {
        std::set<std::string> still;
        std::set_intersection(shared.begin(), shared.end(), member.begin(), member.end(),
                              std::inserter(still, still.begin()));
        shared = std::move(still);
    }
    std::vector<Distinction> result;
    std::map<std::vector<std::string>, int> times;
    for (const auto& member : members) {
        Distinction distinction;
        std::set_difference(member.begin(), member.end(), shared.begin(), shared.end(),
                            std::back_inserter(distinction.own));
        if (distinction.own.empty() && members.size() > 1) {
            distinction.own = {nothing_of_its_own};
        }
        ++times[distinction.own];
        result.push_back(std::move(distinction));
    }
    for (Distinction& distinction : result) {
        distinction.ambiguous = times[distinction.own] > 1;
    }
    return result;
}

namespace {

std::set<std::string> origins_of(const std::vector<TopoDS_Shape>& faces, const FaceNames& names) {
    std::set<std::string> origins;
    for (const TopoDS_Shape& face : faces) {
        origins.insert(names.Find(face).origin);
    }
    return origins;
}

// Gives those of the faces that have equal names the parts that tell them apart.
void separate_equal_names(Body& body, const std::vector<TopoDS_Shape>& faces) {
    std::map<std::string, std::vector<TopoDS_Shape>> groups;
    for (const TopoDS_Shape& face : faces) {
        groups[body.names.Find(face).text()].push_back(face);
    }
    std::vector<TopoDS_Shape> alike;
    for (const auto& [text, members] : groups) {
        if (members.size() > 1) {
            alike.insert(alike.end(), members.begin(), members.end());
        }
    }
    if (alike.empty()) {
        return;
    }
    const auto beside = geom::faces_beside(body.shape, alike);
    size_t at = 0;
    for (const auto& [text, members] : groups) {
        if (members.size() < 2) {
            continue;
        }
        std::vector<std::set<std::string>> around;
        for (size_t i = 0; i < members.size(); ++i) {
            around.push_back(origins_of(beside[at++], body.names));
        }
        const auto distinctions = tell_apart(around);
        for (size_t i = 0; i < members.size(); ++i) {
            const TopoDS_Shape& face = members[i];
            FaceName name = body.names.Find(face);
            std::set<std::string> parts(name.parts.begin(), name.parts.end());
            parts.insert(distinctions[i].own.begin(), distinctions[i].own.end());
            name.parts = {parts.begin(), parts.end()};
            name.ambiguous = name.ambiguous || distinctions[i].ambiguous;
            body.names.Bind(face, name);
        }
    }
}

} // namespace

BodyPtr name_fresh(int step, const geom::ShapeWithRoles& made) {
    auto body = std::make_shared<Body>();
    body->shape = made.shape;
    body->index = std::make_shared<geom::LazyIndex>(made.shape);
    for (const geom::FaceRole& role : made.roles) {
        body->names.Bind(role.face, FaceName{std::to_string(step) + ":" + role.role, {}, false});
    }
    int unnamed = 0;
    for (const TopoDS_Shape& face : geom::faces_of(made.shape)) {
        if (!body->names.IsBound(face)) {
            body->names.Bind(face, FaceName{std::to_string(step) + ":face" + std::to_string(++unnamed), {}, false});
        }
    }
    separate_equal_names(*body, geom::faces_of(made.shape));
    body->names.settle();
    return body;
}

BodyPtr name_result(const TopoDS_Shape& shape, const std::vector<geom::FaceOrigin>& origins, const FaceNames& inputs,
                    const geom::IndexChange* change, bool more_changed) {
    auto body = std::make_shared<Body>();
    body->shape = shape;
    body->index =
        change != nullptr ? std::make_shared<geom::LazyIndex>(*change) : std::make_shared<geom::LazyIndex>(shape);
    if (change != nullptr) {
        body->names = inputs;
    }
    for (const geom::FaceOrigin& origin : origins) {
        if (const FaceName* name = inputs.Seek(origin.source); name != nullptr && !body->names.IsBound(origin.result)) {
            body->names.Bind(origin.result, *name);
        }
    }
    if (change != nullptr && !more_changed && !inputs.doubtful()) { // all other names are what they were, told apart
        std::vector<TopoDS_Shape> touched(change->made.begin(), change->made.end());
        for (const auto& divided : change->divided) {
            for (const auto& part : divided.parts) {
                touched.push_back(part.face);
            }
        }
        separate_equal_names(*body, touched);
        body->names.settle();
        return body;
    }
    const auto faces = geom::faces_of(shape);
    for (const TopoDS_Shape& face : faces) {
        if (!body->names.IsBound(face)) {
            const FaceName* own = inputs.Seek(face);
            body->names.Bind(face, own != nullptr ? *own : FaceName{"unknown", {}, false});
        }
    }
    separate_equal_names(*body, faces);
    body->names.settle();
    return body;
}

BodyPtr name_united(const TopoDS_Shape& shape, std::vector<geom::FaceOrigin> origins, const FaceNames& inputs) {
    const auto age = [&](const geom::FaceOrigin& origin) {
        const FaceName* name = inputs.Seek(origin.source);
        return name == nullptr ? std::tuple(2, 0, std::string())
                               : std::tuple(name->owner.empty() ? 0 : 1, std::atoi(name->origin.c_str()), name->text());
    };
    std::stable_sort(origins.begin(), origins.end(), [&](const auto& a, const auto& b) { return age(a) < age(b); });
    return name_result(shape, origins, inputs);
}

namespace {

struct ElementName {
    std::vector<std::string> faces;
    std::vector<std::string> ends;
};

std::vector<std::string> texts_at(const Body& body, const geom::Neighbours& neighbours, const TopoDS_Shape& element) {
    std::vector<std::string> texts;
    for (const int face : neighbours.faces_at(element)) {
        texts.push_back(body.names.Find(neighbours.faces()[static_cast<size_t>(face)]).text());
    }
    std::sort(texts.begin(), texts.end());
    return texts;
}

ElementName name_of(const Body& body, const geom::Neighbours& neighbours, const TopoDS_Shape& element) {
    ElementName name;
    if (const FaceName* own = body.names.Seek(element)) { // a curve that bounds no face
        name.faces = {own->text()};
        return name;
    }
    name.faces = texts_at(body, neighbours, element);
    if (element.ShapeType() == TopAbs_EDGE) {
        std::set<std::string> beside;
        for (const TopoDS_Shape& vertex : geom::vertices_of(element)) {
            for (const std::string& face : texts_at(body, neighbours, vertex)) {
                if (std::find(name.faces.begin(), name.faces.end(), face) == name.faces.end()) {
                    beside.insert(face);
                }
            }
        }
        name.ends = {beside.begin(), beside.end()};
    }
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
        auto marks = origins_of(beside[i], body.names);
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
    const geom::Neighbours neighbours(body.shape);
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
        const ElementName name = name_of(body, neighbours, element);
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
bool is_twin(const Body& body, const geom::Neighbours& neighbours, const TopoDS_Shape& element,
             const ElementName& name) {
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
        const ElementName its = name_of(body, neighbours, other);
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
    const geom::Neighbours neighbours(body.shape);
    ElementName name = name_of(body, neighbours, element);
    const bool twin = is_twin(body, neighbours, element, name);
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
    } else if (role.rfind("face", 0) == 0) {
        text = "face " + role.substr(4);
    }
    return name.parts.empty() ? text : text + ", a part";
}

} // namespace kervo::model
