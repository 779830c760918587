// Pins, plates and blades that the tests of cuts by bodies share.
#pragma once

#include "model/steps/blade/blade.h"
#include "model/steps/body_cut/body_cut.h"
#include "model/steps/join/join.h"
#include "model/steps/stock/stock.h"
#include "model_fixture.h"

namespace kervo::model::test {

inline References wholes(const std::vector<BodyId>& ids) {
    References all;
    for (const BodyId& id : ids) {
        all.push_back(whole(id));
    }
    return all;
}
/// A reference by hand: what is nearest to the place.
inline Reference at(const BodyId& body, ElementKind kind, double x, double y, double z) {
    return {kind, body, {}, {}, Place{x, y, z}};
}
inline Reference face_at(const BodyId& body, double x, double y, double z) {
    return at(body, ElementKind::face, x, y, z);
}
inline Reference edge_at(const BodyId& body, double x, double y, double z) {
    return at(body, ElementKind::edge, x, y, z);
}
inline Reference vertex_at(const BodyId& body, double x, double y, double z) {
    return at(body, ElementKind::vertex, x, y, z);
}

struct CutterBuilder : Builder {
    int round(const std::string& shape, const std::string& diameter, const std::string& height,
              const std::array<std::string, 3>& place, const std::string& top = "0") {
        Stock stock;
        stock.shape.value = shape;
        stock.diameter.text = diameter;
        stock.top_diameter.text = top;
        stock.height.text = height;
        stock.x.text = place[0];
        stock.y.text = place[1];
        stock.z.text = place[2];
        return step(stock);
    }
    int pin(const std::string& diameter, const std::string& height, const std::array<std::string, 3>& place) {
        return round("cylinder", diameter, height, place);
    }
    int body_cut(const std::vector<BodyId>& workpieces, const std::vector<BodyId>& cutters,
                 const std::function<void(BodyCut&)>& edit = {}) {
        BodyCut cut;
        cut.workpieces = wholes(workpieces);
        cut.cutter_bodies = wholes(cutters);
        if (edit) {
            edit(cut);
        }
        return step(cut);
    }
    int blade(const std::vector<BodyId>& workpieces, const std::function<void(BladeStep&)>& edit = {}) {
        BladeStep cut;
        cut.result.value = workpieces.empty() ? "blade" : "cut";
        cut.workpieces = wholes(workpieces);
        if (edit) {
            edit(cut);
        }
        return step(cut);
    }
    int join(const std::vector<BodyId>& bodies, const std::string& operation) {
        Join definition;
        definition.bodies = wholes(bodies);
        definition.operation.value = operation;
        return step(definition);
    }
};

inline std::string said(const Evaluation& evaluation, int step) {
    std::string all;
    for (const Finding& finding : evaluation.report(step)->findings) {
        all += finding.code + ": " + finding.cause + " " + finding.mend + "\n";
    }
    return all;
}
inline double removed_by(const Evaluation& evaluation, int step) {
    return evaluation.report(step)->output->removed;
}
inline size_t pieces_of(const Evaluation& evaluation, int step) {
    return evaluation.report(step)->output->pieces.size();
}
/// Closed and valid, and its volume.
inline double sound_volume(const Evaluation& evaluation, const BodyId& id) {
    const BodyPtr body = body_of(evaluation, id);
    EXPECT_TRUE(body) << id;
    if (!body) {
        return 0;
    }
    EXPECT_TRUE(geom::is_closed(body->shape)) << id;
    EXPECT_TRUE(geom::is_valid(body->shape)) << id;
    return geom::volume_of(body->shape);
}

} // namespace kervo::model::test
