#include "model/names/edge_choice.h"

#include "geom/measure/measure.h"
#include "geom/measure/pick.h"

#include <TopTools_MapOfShape.hxx>
#include <TopoDS.hxx>

#include <algorithm>

namespace kervo::model {

namespace {

// The edges of one body, and those that are taken.
class Taking {
public:
    Taking(BodyId id, BodyPtr body) : neighbours_(body->shape) {
        taken_.id = std::move(id);
        taken_.body = std::move(body);
    }

    [[nodiscard]] const BodyId& id() const { return taken_.id; }
    [[nodiscard]] EdgeChoice::OnBody taken() && { return std::move(taken_); }

    /// An edge by itself: also one that is smooth, which is then refused by name.
    void take(const TopoDS_Edge& edge) { add(edge, {}); }

    void take_around(const TopoDS_Face& face) {
        for (const TopoDS_Shape& edge : geom::edges_of(face)) {
            if (sharp(edge)) {
                add(TopoDS::Edge(edge), face);
            }
        }
    }

    /// All between faces of these origins; of the second kind any, where there is none.
    void take_between(const std::set<std::string>& first, const std::set<std::string>& second) {
        for (const TopoDS_Shape& edge : geom::edges_of(taken_.body->shape)) {
            const auto faces = beside(edge);
            if (faces.size() != 2 || !sharp(edge)) {
                continue;
            }
            const auto fits = [&](const TopoDS_Face& one, const TopoDS_Face& other) {
                return first.contains(origin_of(one)) && (second.empty() || second.contains(origin_of(other)));
            };
            if (fits(faces[0], faces[1])) {
                add(TopoDS::Edge(edge), faces[0]);
            } else if (fits(faces[1], faces[0])) {
                add(TopoDS::Edge(edge), faces[1]);
            }
        }
    }

private:
    [[nodiscard]] std::vector<TopoDS_Face> beside(const TopoDS_Shape& edge) const {
        std::vector<TopoDS_Face> faces;
        for (const int face : neighbours_.faces_at(edge)) {
            faces.push_back(TopoDS::Face(neighbours_.faces()[static_cast<size_t>(face)]));
        }
        return faces;
    }
    [[nodiscard]] bool sharp(const TopoDS_Shape& edge) const {
        return geom::is_sharp(TopoDS::Edge(edge), beside(edge));
    }
    [[nodiscard]] std::string origin_of(const TopoDS_Shape& face) const { return taken_.body->names.Find(face).origin; }

    void add(const TopoDS_Edge& edge, const TopoDS_Face& on) {
        if (!known_.Add(edge)) {
            return;
        }
        EdgeChoice::OnBody::Edge item{edge, on, {}};
        auto faces = beside(edge);
        std::sort(faces.begin(), faces.end(), [&](const TopoDS_Face& a, const TopoDS_Face& b) {
            return taken_.body->names.Find(a).text() < taken_.body->names.Find(b).text();
        });
        for (const TopoDS_Face& face : faces) {
            if (item.face.IsNull()) {
                item.face = face;
            } else if (!item.face.IsSame(face)) {
                item.other = face;
            }
        }
        taken_.edges.push_back(std::move(item));
    }

    EdgeChoice::OnBody taken_;
    geom::Neighbours neighbours_;
    TopTools_MapOfShape known_;
};

} // namespace

std::vector<EdgeChoice::OnBody> EdgeChoice::resolve(Answers& answers) const {
    std::vector<Taking> taking;
    const auto on = [&](const BodyId& id) -> Taking& {
        const auto known = std::find_if(taking.begin(), taking.end(), [&](const Taking& t) { return t.id() == id; });
        return known != taking.end() ? *known : taking.emplace_back(id, answers.body(id));
    };
    if (by.value == "picked") {
        for (const auto& [body, element, own] : answers.elements("edges", edges)) {
            if (element.ShapeType() == TopAbs_EDGE) {
                on(body).take(TopoDS::Edge(element));
            } else {
                on(body).take_around(TopoDS::Face(element));
            }
        }
    } else {
        std::map<BodyId, std::set<std::string>> origins;
        std::map<BodyId, std::set<std::string>> others;
        for (const auto& [body, face, own] : answers.elements("first", first)) {
            origins[body].insert(answers.body(body)->names.Find(face).origin);
        }
        for (const auto& [body, face, own] :
             second.empty() ? Answers::Elements{} : answers.elements("second", second)) {
            others[body].insert(answers.body(body)->names.Find(face).origin);
        }
        for (const auto& [body, wanted] : origins) {
            if (second.empty() || others.contains(body)) {
                on(body).take_between(wanted, others[body]);
            }
        }
    }
    std::vector<OnBody> chosen;
    for (Taking& each : taking) {
        chosen.push_back(std::move(each).taken());
        if (geom::solids_of(chosen.back().body->shape).empty()) {
            answers.report(by.value == "picked" ? "edges" : "first",
                           error_finding("cut.no_solid", "This body is no solid.", "Pick edges of a solid."));
        }
    }
    const bool none = std::all_of(chosen.begin(), chosen.end(), [](const OnBody& body) { return body.edges.empty(); });
    if (answers.ok() && none) {
        answers.report(by.value == "picked" ? "edges" : "first",
                       error_finding("edges.none", "There is no edge between these faces where they meet at an angle.",
                                     "Pick others."));
    }
    return chosen;
}

void blend_bodies(const std::vector<EdgeChoice::OnBody>& chosen, const std::string& role, const char* size,
                  const std::function<Result<geom::Altered>(const EdgeChoice::OnBody&)>& blend,
                  const StepInputs& inputs, StepOutput& output, Answers& answers) {
    if (!answers.ok()) {
        return;
    }
    for (const EdgeChoice::OnBody& on : chosen) {
        const auto blended = blend(on);
        if (!blended) {
            answers.report(size, blended.finding());
            continue;
        }
        if (blended->off > 0) {
            answers.report(size,
                           warning_finding("blend.loose",
                                           "The new faces lie up to " + format_quantity(blended->off, "mm", 6) +
                                               " mm beside where they should.",
                                           "Look whether that is close enough; fewer edges at once may be closer."));
        }
        output.bodies[on.id] = name_altered(inputs.step, role, *on.body, *blended);
        output.count_change(*on.body, *output.bodies[on.id]);
    }
    if (!answers.ok()) {
        output.bodies.clear();
        output.removed = output.added = 0;
    }
}

} // namespace kervo::model
