#include "model/names/altering.h"

#include "geom/kernel/by_shape.h"
#include "geom/kernel/copy.h"
#include "geom/kernel/is_curves.h"
#include "geom/measure/measure.h"
#include "geom/surface/assemble.h"

#include <TopoDS.hxx>

#include <functional>

namespace kervo::model {

std::string name_after(int step, const std::string& role, const Body& body, const geom::Neighbours& neighbours,
                       const TopoDS_Shape& source) {
    std::set<std::string> around;
    if (source.ShapeType() == TopAbs_FACE) {
        around.insert(body.names.Find(source).origin);
    } else {
        for (const int face : neighbours.faces_at(source)) {
            around.insert(body.names.Find(neighbours.faces()[static_cast<size_t>(face)]).origin);
        }
    }
    std::string text = std::to_string(step) + ":" + role;
    for (const std::string& origin : around) {
        // What was itself made of several is put in brackets.
        const bool several = origin.find('&') != std::string::npos;
        text += (&origin == &*around.begin() ? "/" : "&") + (several ? "(" + origin + ")" : origin);
    }
    return text;
}

BodyPtr name_altered(int step, const std::string& role, const Body& before, const geom::Altered& altered) {
    const geom::Neighbours neighbours(before.shape);
    FaceNames names = before.names;
    auto origins = altered.origins;
    geom::ByShape<bool> known;
    for (const geom::FaceOrigin& origin : origins) {
        const FaceName* name = origin.result.ShapeType() == TopAbs_EDGE ? before.names.Seek(origin.source) : nullptr;
        if (name != nullptr) { // a border that has moved
            names.Bind(origin.result, *name);
        }
        known.Bind(origin.result, true);
    }
    const auto add = [&](const TopoDS_Shape& face, const std::string& name) {
        if (!known.IsBound(face)) {
            known.Bind(face, true);
            names.Bind(face, {name, {}, false});
            origins.push_back({face, face});
        }
    };
    for (const auto& made : altered.made) {
        const bool corner = made.source.ShapeType() == TopAbs_VERTEX;
        add(made.face, name_after(step, corner ? role + "-corner" : role, before, neighbours, made.source));
    }
    for (const TopoDS_Shape& face : geom::faces_of(altered.shape)) {
        add(face, std::to_string(step) + ":" + role); // the kernel did not say from what; its neighbours tell it
    }
    return name_result(altered.shape, origins, names);
}

void alter_faces(int step, const std::string& role, const char* field, const References& faces, const AlterFaces& alter,
                 Answers& answers, StepOutput& output) {
    std::map<BodyId, std::vector<TopoDS_Face>> by_body;
    for (const auto& [body, face, own] : answers.elements(field, faces)) {
        by_body[body].push_back(TopoDS::Face(face));
    }
    if (!answers.ok()) {
        return;
    }
    for (const auto& [id, chosen] : by_body) {
        const BodyPtr before = answers.body(id);
        const auto altered = alter(before->shape, chosen);
        if (!altered) {
            answers.report(field, altered.finding());
            continue;
        }
        output.bodies[id] = name_altered(step, role, *before, *altered);
        output.count_change(*before, *output.bodies[id]);
    }
    if (!answers.ok()) {
        output.bodies.clear();
        output.removed = output.added = 0;
    }
}

BodyPtr body_of_edges(const std::vector<TopoDS_Shape>& edges, const FaceNames& names) {
    auto body = std::make_shared<Body>(*name_fresh(0, {geom::gather(edges), {}}));
    body->names = names;
    body->names.settle();
    return body;
}

bool is_surface(const Body& body) {
    return !body.blade && geom::solids_of(body.shape).empty() && !geom::faces_of(body.shape).empty();
}

bool is_curves(const Body& body) {
    return geom::is_curves(body.shape);
}

BodyPtr body_of_faces(const std::vector<TopoDS_Shape>& faces, const FaceNames& names) {
    std::vector<geom::FaceOrigin> origins;
    for (const TopoDS_Shape& face : faces) {
        origins.push_back({face, face});
    }
    return name_result(geom::assembled(faces).shape, origins, names);
}

namespace {

// The body as `change` leaves its shape; names follow.
BodyPtr renamed(const Body& body, const std::function<geom::ShapeWithRoles(const geom::ShapeWithRoles&)>& change) {
    geom::ShapeWithRoles made{body.shape, {}};
    std::vector<FaceName> names;
    std::vector<TopoDS_Shape> elements = geom::faces_of(body.shape);
    if (body.names.of_edges()) {
        const auto edges = geom::edges_of(body.shape);
        elements.insert(elements.end(), edges.begin(), edges.end());
    }
    for (const TopoDS_Shape& element : elements) {
        if (const FaceName* name = body.names.Seek(element)) {
            made.roles.push_back({element, {}});
            names.push_back(*name);
        }
    }
    made = change(made);
    if (made.shape.IsNull()) {
        return nullptr;
    }
    FaceNames named;
    std::vector<geom::FaceOrigin> origins;
    for (size_t i = 0; i < names.size(); ++i) {
        named.Bind(made.roles[i].face, names[i]);
        origins.push_back({made.roles[i].face, made.roles[i].face});
    }
    return name_result(made.shape, origins, named);
}

} // namespace

gp_Pnt middle_of(const Body& body) {
    const auto box = geom::box_of(body.shape);
    return {(box[0] + box[3]) / 2, (box[1] + box[4]) / 2, (box[2] + box[5]) / 2};
}

BodyPtr copied(const Body& body, const gp_Trsf& move, double scale) {
    const BodyPtr there = renamed(body, [&](geom::ShapeWithRoles made) {
        if (scale != 1) {
            gp_Trsf grow;
            grow.SetScale(geom::centroid_of(body.shape), scale);
            made = geom::transformed(made, grow);
        }
        return geom::transformed(made, move);
    });
    if (!body.blade) {
        return there;
    }
    auto moved = std::make_shared<Body>(*there);
    geom::Blade blade = *body.blade;
    blade.frame.Transform(move);
    for (TopoDS_Shape& face : blade.window) {
        face = geom::transformed({face, {}}, move).shape;
    }
    moved->blade = std::make_shared<geom::Blade>(std::move(blade));
    return moved;
}

BodyPtr resized(const Body& body, const gp_Pnt& about, const std::array<double, 3>& factors) {
    return renamed(body, [&](const geom::ShapeWithRoles& made) { return geom::stretched(made, about, factors); });
}

} // namespace kervo::model
