// Names of faces: from what made them, told apart by what they border on.
#include "geom/measure/measure.h"
#include "geom/measure/pick.h"
#include "model/names/border_names.h"

#include <algorithm>
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
    of_edges_ = of_edges_ || face.ShapeType() == TopAbs_EDGE;
    own_.Bind(face, name);
}

void FaceNames::add(const FaceNames& more) {
    doubtful_ = doubtful_ || more.doubtful_;
    of_edges_ = of_edges_ || more.of_edges_;
    more.for_each([&](const TopoDS_Shape& shape, const FaceName& name) { own_.Bind(shape, name); });
}

void FaceNames::for_each(const std::function<void(const TopoDS_Shape&, const FaceName&)>& visit) const {
    if (settled_) {
        for (Map::Iterator it(*settled_); it.More(); it.Next()) {
            if (!own_.IsBound(it.Key())) {
                visit(it.Key(), it.Value());
            }
        }
    }
    for (Map::Iterator it(own_); it.More(); it.Next()) {
        visit(it.Key(), it.Value());
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

std::set<std::string> FaceNames::origins_of(const std::vector<TopoDS_Shape>& faces) const {
    std::set<std::string> origins;
    for (const TopoDS_Shape& face : faces) {
        origins.insert(Find(face).origin);
    }
    return origins;
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
            around.push_back(body.names.origins_of(beside[at++]));
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

// From here on nothing may be built onto the shape: the kernel would say so on the shape when it gathers bodies, which
// others may be reading.
std::shared_ptr<Body> body_of(const TopoDS_Shape& shape) {
    auto body = std::make_shared<Body>();
    body->shape = shape;
    if (!shape.IsNull() && shape.Free()) {
        body->shape.Free(Standard_False);
    }
    return body;
}

BodyPtr finished(const std::shared_ptr<Body>& body, const FaceNames& inputs) {
    if (geom::solids_of(body->shape).empty()) {
        name_borders(*body, inputs);
    }
    body->names.settle();
    return body;
}

} // namespace

BodyPtr name_fresh(int step, const geom::ShapeWithRoles& made) {
    auto body = body_of(made.shape);
    body->index = std::make_shared<geom::LazyIndex>(made.shape);
    const auto faces = geom::faces_of(made.shape);
    for (const geom::FaceRole& role : made.roles) {
        const std::string origin = std::to_string(step) + ":" + role.role;
        const bool border = role.face.ShapeType() == TopAbs_EDGE && !faces.empty();
        body->names.Bind(role.face, border ? border_towards(origin) : FaceName{origin, {}, false});
    }
    int unnamed = 0;
    for (const TopoDS_Shape& face : faces) {
        if (!body->names.IsBound(face)) {
            body->names.Bind(face, FaceName{std::to_string(step) + ":face" + std::to_string(++unnamed), {}, false});
        }
    }
    separate_equal_names(*body, faces);
    return finished(body, body->names);
}

BodyPtr name_result(const TopoDS_Shape& shape, const std::vector<geom::FaceOrigin>& origins, const FaceNames& inputs,
                    const geom::IndexChange* change, bool more_changed) {
    auto body = body_of(shape);
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
        return finished(body, inputs);
    }
    const auto faces = geom::faces_of(shape);
    for (const TopoDS_Shape& face : faces) {
        if (!body->names.IsBound(face)) {
            const FaceName* own = inputs.Seek(face);
            body->names.Bind(face, own != nullptr ? *own : FaceName{"unknown", {}, false});
        }
    }
    separate_equal_names(*body, faces);
    return finished(body, inputs);
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

} // namespace kervo::model
