// Documents written as files are, step by step, and what becomes of them: evaluated at their own values, their
// hand-made picks turned to names, then with other values of parameters.
#pragma once

#include "geom/measure/measure.h"
#include "io/document/document_json.h"
#include "io/document/json_text.h"
#include "model/route/evaluate.h"

#include <gtest/gtest.h>

#include <cmath>
#include <numbers>

namespace kervo::test {

using io::Json;
inline const double pi = std::numbers::pi;

inline std::string mm(double value) {
    return format_quantity(value, "", 12) + " mm";
}
inline std::string deg(double value) {
    return format_quantity(value, "", 12) + " deg";
}

/// A sketch as a file holds it; ids are given as things are added.
class Drawing {
public:
    int point(double x, double y) {
        json_["points"].push_back({{"id", ++last_}, {"x", x}, {"y", y}});
        return last_;
    }
    int line(int from, int to, bool guide = false) { return curve("line", {from, to}, 0, guide); }
    int circle(double x, double y, double radius) { return curve("circle", {point(x, y)}, radius); }
    int circle_about(int center, double radius) { return curve("circle", {center}, radius); }
    int arc(int center, int from, int to) { return curve("arc", {center, from, to}); }
    /// Through the points, closed; ids of the lines.
    std::vector<int> polygon(const std::vector<std::array<double, 2>>& corners) {
        std::vector<int> points;
        for (const auto& [x, y] : corners) {
            points.push_back(point(x, y));
        }
        std::vector<int> lines;
        for (size_t i = 0; i < points.size(); ++i) {
            lines.push_back(line(points[i], points[(i + 1) % points.size()]));
        }
        return lines;
    }
    std::vector<int> rectangle(double x0, double y0, double x1, double y1) {
        return polygon({{x0, y0}, {x1, y0}, {x1, y1}, {x0, y1}});
    }
    int spline(const std::vector<std::array<double, 2>>& through) {
        std::vector<int> points;
        for (const auto& [x, y] : through) {
            points.push_back(point(x, y));
        }
        const int id = curve("spline", points);
        json_["curves"].back()["through"] = true;
        json_["curves"].back()["degree"] = 3;
        return id;
    }
    void hold(const std::string& kind, const std::vector<int>& on, const std::string& value = {}) {
        json_["constraints"].push_back({{"id", ++last_}, {"kind", kind}, {"on", on}});
        if (!value.empty()) {
            json_["constraints"].back()["value"] = value;
        }
    }
    [[nodiscard]] const Json& json() const { return json_; }

private:
    int curve(const std::string& kind, std::vector<int> points, double radius = 0, bool guide = false) {
        json_["curves"].push_back({{"id", ++last_}, {"kind", kind}, {"points", std::move(points)}});
        if (radius > 0) {
            json_["curves"].back()["radius"] = radius;
        }
        if (guide) {
            json_["curves"].back()["construction"] = true;
        }
        return last_;
    }
    Json json_{{"points", Json::array()}, {"curves", Json::array()}, {"constraints", Json::array()}};
    int last_ = 0;
};

inline Json pick(const std::string& kind, int body, std::array<double, 3> near) {
    return {{"kind", kind}, {"body", std::to_string(body)}, {"near", near}};
}
inline Json region(double x, double y) {
    return Json{{{"near", {x, y}}}};
}

/// What a document became.
struct Outcome {
    model::Document document;
    model::Evaluation evaluation;

    [[nodiscard]] bool told() const {
        return !evaluation.parameters.findings.empty() ||
               std::any_of(evaluation.steps.begin(), evaluation.steps.end(),
                           [](const auto& report) { return !report.findings.empty(); });
    }
    [[nodiscard]] bool told(const std::string& code) const {
        return std::any_of(evaluation.steps.begin(), evaluation.steps.end(), [&](const auto& report) {
            return std::any_of(report.findings.begin(), report.findings.end(),
                               [&](const Finding& finding) { return finding.code == code; });
        });
    }
    [[nodiscard]] model::BodyPtr body(const model::BodyId& id) const {
        for (const auto& [known, found] : evaluation.bodies_as_of()) {
            if (known == id) {
                return found;
            }
        }
        return nullptr;
    }
    [[nodiscard]] double volume(int id) const {
        const auto found = body(std::to_string(id));
        return found ? geom::volume_of(found->shape) : 0;
    }
    /// Of all bodies.
    [[nodiscard]] double volume() const {
        double sum = 0;
        for (const auto& [id, found] : evaluation.bodies_as_of()) {
            sum += geom::volume_of(found->shape);
        }
        return sum;
    }
    [[nodiscard]] std::string codes() const {
        std::string all;
        for (const auto& [name, finding] : evaluation.parameters.findings) {
            all += name + ": " + finding.code + " ";
        }
        for (const auto& report : evaluation.steps) {
            for (const Finding& finding : report.findings) {
                all += std::to_string(report.id) + ": " + finding.code + " (" + finding.cause + ") ";
            }
        }
        return all;
    }
};

class Route {
public:
    /// The id of the step: 10, 20 ...
    int add(const std::string& kind, Json answers) {
        last_ += 10;
        json_["steps"].push_back(
            {{"id", last_}, {"number", last_}, {"kind", kind}, {"name", kind}, {"answers", std::move(answers)}});
        json_["last_id"] = last_;
        return last_;
    }
    void parameter(const std::string& name, const std::string& formula, const std::string& unit = "mm") {
        json_["parameters"].push_back({{"name", name}, {"formula", formula}, {"unit", unit}});
    }
    int box(double w, double d, double h, double x = 0, double y = 0, double z = 0) {
        return add("stock", {{"shape", "box"},
                             {"width", mm(w)},
                             {"depth", mm(d)},
                             {"height", mm(h)},
                             {"x", mm(x)},
                             {"y", mm(y)},
                             {"z", mm(z)}});
    }
    int cylinder(double diameter, double height, double x = 0, double y = 0, double z = 0) {
        return add("stock", {{"shape", "cylinder"},
                             {"diameter", mm(diameter)},
                             {"height", mm(height)},
                             {"x", mm(x)},
                             {"y", mm(y)},
                             {"z", mm(z)}});
    }
    int sketch(const Drawing& drawing, const std::string& plane = "xy", double offset = 0) {
        return add("sketch", {{"plane", plane}, {"offset", mm(offset)}, {"drawing", drawing.json()}});
    }
    /// A new body of the regions; `more` adds or replaces answers.
    int extrude(int sketch, Json regions, const std::string& distance, Json more = Json::object()) {
        return add("extrude", with({{"result", "new_body"},
                                    {"sketch", sketch},
                                    {"regions", std::move(regions)},
                                    {"to", "distance"},
                                    {"distance", distance}},
                                   std::move(more)));
    }
    int cut(int body, int sketch, Json regions, Json more = Json::object()) {
        return add("extrude", with({{"result", "cut"},
                                    {"workpieces", {std::to_string(body)}},
                                    {"sketch", sketch},
                                    {"regions", std::move(regions)},
                                    {"to", "everything_both"}},
                                   std::move(more)));
    }
    static Json with(Json answers, Json more) {
        for (auto& [key, value] : more.items()) {
            answers[key] = value;
        }
        return answers;
    }
    [[nodiscard]] const Json& json() const { return json_; }
    Json& json() { return json_; }

    [[nodiscard]] Outcome run(const std::map<std::string, std::string>& values = {}) const {
        Outcome outcome;
        auto read = io::document_from_text(json_.dump());
        EXPECT_TRUE(read.ok()) << (read.ok() ? "" : read.finding().cause);
        if (!read) {
            return outcome;
        }
        outcome.document = std::move(*read);
        model::EvaluationCache cache;
        const model::Services services;
        Progress progress;
        outcome.evaluation = model::evaluate(outcome.document, cache, services, progress);
        outcome.document = model::adopt_names(outcome.document, outcome.evaluation);
        for (auto& parameter : outcome.document.parameters) {
            if (const auto value = values.find(parameter.name); value != values.end()) {
                parameter.formula = value->second;
            }
        }
        outcome.evaluation = model::evaluate(outcome.document, cache, services, progress);
        return outcome;
    }

private:
    Json json_{{"format", "kervo"},           {"version", io::format_version}, {"title", "t"}, {"unit", "mm"},
               {"parameters", Json::array()}, {"steps", Json::array()},        {"last_id", 0}};
    int last_ = 0;
};

} // namespace kervo::test
