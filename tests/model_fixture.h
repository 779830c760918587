// Small documents and oracles that the model's tests share.
#pragma once

#include "geom/measure/measure.h"
#include "geom/measure/pick.h"
#include "model/route/evaluate.h"
#include "model/steps/extrude/extrude.h"
#include "model/steps/sketch/sketch_step.h"
#include "model/steps/stock/stock.h"

#include <gtest/gtest.h>

#include <cmath>
#include <numbers>

namespace kervo::model::test {

inline const double pi = std::numbers::pi;

/// Builds a document step by step; ids are 10, 20, 30 ...
struct Builder {
    Document document;
    std::unique_ptr<EvaluationCache> cache = std::make_unique<EvaluationCache>();
    Services services;

    int step(StepDefinition definition, const std::string& name = {}) {
        int id = 0;
        document = add_step(document, std::move(definition), name, -1, &id);
        return id;
    }
    int box(const std::string& w, const std::string& d, const std::string& h, const std::string& z = "0",
            const std::string& x = "0") {
        Stock stock;
        stock.width.text = w;
        stock.depth.text = d;
        stock.height.text = h;
        stock.z.text = z;
        stock.x.text = x;
        return step(stock);
    }
    int sketch(const sketch::Sketch& drawing, const std::string& offset = "0") {
        SketchStep definition;
        definition.drawing = drawing;
        definition.offset.text = offset;
        return step(definition);
    }
    int cut(int sketch, const std::vector<sketch::Point2>& regions, const std::vector<BodyId>& bodies,
            const std::string& to = "everything_both") {
        Extrude definition = Extrude::cut();
        definition.sketch.step = sketch;
        definition.extent.to.value = to;
        for (const auto& near : regions) {
            definition.regions.push_back({{}, near});
        }
        for (const BodyId& body : bodies) {
            definition.workpieces.push_back({ElementKind::body, body, {}, {}, {}});
        }
        return step(definition);
    }
    void set(const std::string& name, const std::string& formula) {
        for (Parameter& parameter : document.parameters) {
            if (parameter.name == name) {
                parameter.formula = formula;
                return;
            }
        }
        document.parameters.push_back({name, formula, "mm", ""});
    }
    template <class Definition> void change(int id, const std::function<void(Definition&)>& edit) {
        document = change_step(document, id, [&](Step& s) { edit(*s.definition.as<Definition>()); });
    }
    Evaluation evaluate() {
        Progress progress;
        Evaluation evaluation = model::evaluate(document, *cache, services, progress);
        document = adopt_names(document, evaluation);
        return evaluation;
    }
};

inline BodyPtr body_of(const Evaluation& evaluation, const BodyId& id) {
    for (const auto& [known, body] : evaluation.bodies_as_of()) {
        if (known == id) {
            return body;
        }
    }
    return nullptr;
}
inline double volume_of(const Evaluation& evaluation, const BodyId& id) {
    const BodyPtr body = body_of(evaluation, id);
    return body ? geom::volume_of(body->shape) : 0;
}
inline TopoDS_Shape face_near(const BodyPtr& body, double x, double y, double z) {
    return geom::nearest_element(body->shape, TopAbs_FACE, gp_Pnt(x, y, z)).element;
}
inline int circle(sketch::Sketch& s, double x, double y, double r, const std::string& diameter = {}) {
    const int center = s.add_point(x, y);
    s.add_constraint(sketch::ConstraintKind::fixed, {center});
    const int id = s.add_circle(center, r);
    if (!diameter.empty()) {
        s.add_constraint(sketch::ConstraintKind::diameter, {id}, diameter);
    }
    return id;
}
inline bool has_code(const Evaluation& evaluation, int step, const std::string& code) {
    const auto* report = evaluation.report(step);
    return report != nullptr && std::any_of(report->findings.begin(), report->findings.end(),
                                            [&](const Finding& f) { return f.code == code; });
}

} // namespace kervo::model::test
