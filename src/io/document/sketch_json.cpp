#include "io/document/sketch_json.h"

#include <algorithm>
#include <stdexcept>

namespace kervo::io {

using Json = nlohmann::json;
using sketch::Stretch;
using sketch::StretchKind;

namespace {

template <class Kind> std::string name_of(const std::vector<std::pair<Kind, std::string>>& names, Kind kind) {
    return names[static_cast<size_t>(kind)].second;
}
template <class Kind> Kind named(const std::vector<std::pair<Kind, std::string>>& names, const std::string& text) {
    for (const auto& [kind, name] : names) {
        if (name == text) {
            return kind;
        }
    }
    throw std::invalid_argument("\u201c" + text + "\u201d is unknown in a sketch");
}

Json stretch_to_json(const Stretch& s) {
    switch (s.kind) {
    case StretchKind::line:
        return {{"line", {s.start[0], s.start[1], s.end[0], s.end[1]}}};
    case StretchKind::arc:
        return {{"arc", {s.center[0], s.center[1], s.radius, s.from, s.sweep}}};
    case StretchKind::ellipse:
        return {{"ellipse", {s.center[0], s.center[1], s.axis[0], s.axis[1], s.radius, s.from, s.sweep}}};
    case StretchKind::spline:
        break;
    }
    Json item{{"poles", s.spline->poles}, {"degree", s.spline->degree}};
    const bool bezier = s.spline->poles.size() == static_cast<size_t>(s.spline->degree) + 1 && s.spline->first() == 0 &&
                        s.spline->last() == 1;
    if (!bezier) {
        item["knots"] = s.spline->knots;
    }
    return item;
}

Stretch stretch_from_json(const Json& json) {
    const auto numbers = [&](const char* key, size_t count) {
        auto list = json.at(key).get<std::vector<double>>();
        if (list.size() != count) {
            throw std::invalid_argument("an outline has too few or too many numbers");
        }
        return list;
    };
    if (json.contains("line")) {
        const auto n = numbers("line", 4);
        return sketch::line_between({n[0], n[1]}, {n[2], n[3]});
    }
    if (json.contains("arc")) {
        const auto n = numbers("arc", 5);
        if (!(n[2] > 0)) {
            throw std::invalid_argument("an arc of an outline has no radius");
        }
        return sketch::arc_about({n[0], n[1]}, n[2], n[3], n[4]);
    }
    if (json.contains("ellipse")) {
        const auto n = numbers("ellipse", 7);
        if (!(n[4] > 0) || (n[2] == 0 && n[3] == 0)) {
            throw std::invalid_argument("an ellipse of an outline has no size");
        }
        return sketch::ellipse_about({n[0], n[1]}, {n[2], n[3]}, n[4], n[5], n[6]);
    }
    const auto poles = json.at("poles").get<std::vector<sketch::Point2>>();
    const int degree = json.at("degree").get<int>();
    auto knots = json.value("knots", std::vector<double>{});
    if (degree < 1 || degree > sketch::max_spline_degree || poles.size() < static_cast<size_t>(degree) + 1 ||
        (knots.empty() && poles.size() != static_cast<size_t>(degree) + 1) ||
        (!knots.empty() && !sketch::are_knots(knots, poles.size(), degree))) {
        throw std::invalid_argument("a spline of an outline does not hold together");
    }
    return sketch::stretch_over(std::make_shared<const sketch::Spline>(
        knots.empty() ? sketch::spline_by_poles(poles, degree, false) : sketch::spline_over(poles, degree, knots)));
}

Json figure_to_json(const sketch::Figure& figure) {
    Json item{{"id", figure.id},
              {"kind", name_of(sketch::figure_names(), figure.kind)},
              {"points", figure.points},
              {"size", figure.size.formula.text}};
    if (!figure.of.empty()) {
        item["of"] = figure.of;
    }
    if (!figure.spacing.formula.text.empty()) {
        item["spacing"] = figure.spacing.formula.text;
    }
    if (figure.kind == sketch::FigureKind::text) {
        item["text"] = figure.text;
        item["font"] = figure.font;
        item["align"] = name_of(sketch::align_names(), figure.align);
    }
    if (figure.along != 0) {
        item["along"] = figure.along;
    }
    if (figure.reversed) {
        item["reversed"] = true;
    }
    if (figure.kind == sketch::FigureKind::artwork) {
        item["fill"] = name_of(sketch::fill_names(), figure.fill);
        item["artwork"] = artwork_to_json(figure.artwork ? *figure.artwork : sketch::Artwork{});
    }
    return item;
}

// A formula, or just a number.
std::string formula_from_json(const Json& json) {
    return json.is_number() ? json.dump() : json.get<std::string>();
}

sketch::Figure figure_from_json(const Json& item) {
    sketch::Figure figure;
    figure.id = item.at("id").get<int>();
    figure.kind = named(sketch::figure_names(), item.at("kind").get<std::string>());
    figure.points = item.at("points").get<std::vector<int>>();
    figure.of = item.value("of", std::vector<int>{});
    figure.size.formula.text = formula_from_json(item.at("size"));
    figure.spacing.formula.text = item.contains("spacing") ? formula_from_json(item.at("spacing")) : "";
    figure.text = item.value("text", std::string{});
    figure.font = item.value("font", std::string{});
    figure.align = named(sketch::align_names(), item.value("align", "start"));
    figure.along = item.value("along", 0);
    figure.reversed = item.value("reversed", false);
    figure.fill = named(sketch::fill_names(), item.value("fill", "own"));
    if (item.contains("artwork")) {
        figure.artwork = std::make_shared<const sketch::Artwork>(artwork_from_json(item.at("artwork")));
    }
    return figure;
}

Json source_to_json(const sketch::Source& source) {
    Json item{{"kind", source.kind}, {"body", source.body}, {"faces", source.faces}};
    if (!source.ends.empty()) {
        item["ends"] = source.ends;
    }
    if (source.number != 0) {
        item["number"] = source.number;
    }
    if (source.frozen) {
        item["frozen"] = true;
    }
    return item;
}

sketch::Source source_from_json(const Json& curve) {
    if (!curve.contains("source")) {
        return {};
    }
    const Json& item = curve.at("source");
    return {item.at("kind").get<std::string>(),
            item.at("body").get<std::string>(),
            item.value("faces", std::vector<std::string>{}),
            item.value("ends", std::vector<std::string>{}),
            item.value("number", 0),
            item.value("frozen", false)};
}

} // namespace

Json artwork_to_json(const sketch::Artwork& artwork) {
    Json shapes = Json::array();
    for (const sketch::ArtShape& shape : artwork.shapes) {
        Json chains = Json::array();
        for (const auto& chain : shape.chains) {
            Json stretches = Json::array();
            for (const Stretch& stretch : chain) {
                stretches.push_back(stretch_to_json(stretch));
            }
            chains.push_back(std::move(stretches));
        }
        Json item{{"fill", name_of(sketch::fill_names(), shape.fill)}, {"chains", std::move(chains)}};
        if (!shape.layer.empty()) {
            item["layer"] = shape.layer;
        }
        shapes.push_back(std::move(item));
    }
    Json json{{"name", artwork.name}, {"shapes", std::move(shapes)}};
    if (!artwork.skipped.empty()) {
        json["skipped"] = artwork.skipped;
    }
    return json;
}

sketch::Artwork artwork_from_json(const Json& json) {
    sketch::Artwork artwork;
    artwork.name = json.value("name", std::string{});
    artwork.skipped = json.value("skipped", std::vector<std::string>{});
    for (const Json& item : json.at("shapes")) {
        sketch::ArtShape shape;
        shape.layer = item.value("layer", std::string{});
        shape.fill = named(sketch::fill_names(), item.value("fill", "none"));
        for (const Json& chain : item.at("chains")) {
            auto& stretches = shape.chains.emplace_back();
            for (const Json& stretch : chain) {
                stretches.push_back(stretch_from_json(stretch));
            }
        }
        artwork.shapes.push_back(std::move(shape));
    }
    return artwork;
}

Json sketch_to_json(const sketch::Sketch& drawing) {
    Json points = Json::array();
    for (const auto& point : drawing.points) {
        points.push_back({{"id", point.id}, {"x", point.x}, {"y", point.y}});
    }
    Json curves = Json::array();
    for (const auto& curve : drawing.curves) {
        Json item{{"id", curve.id}, {"kind", name_of(sketch::curve_names(), curve.kind)}, {"points", curve.points}};
        if (curve.kind == sketch::CurveKind::circle || curve.kind == sketch::CurveKind::ellipse) {
            item["radius"] = curve.radius;
        }
        if (curve.kind == sketch::CurveKind::spline) {
            item["degree"] = curve.degree;
            item["closed"] = curve.closed;
            item["through"] = curve.through;
            if (!curve.knots.empty()) {
                item["knots"] = curve.knots;
            }
        }
        if (curve.construction) {
            item["construction"] = true;
        }
        if (!curve.source.kind.empty()) {
            item["source"] = source_to_json(curve.source);
        }
        curves.push_back(std::move(item));
    }
    Json constraints = Json::array();
    for (const auto& constraint : drawing.constraints) {
        Json item{{"id", constraint.id},
                  {"kind", name_of(sketch::constraint_names(), constraint.kind)},
                  {"on", constraint.on}};
        if (sketch::is_dimension(constraint.kind)) {
            item["value"] = constraint.value.text;
        }
        if (constraint.measured) {
            item["measured"] = true;
        }
        constraints.push_back(std::move(item));
    }
    Json json{{"points", points}, {"curves", curves}, {"constraints", constraints}};
    if (!drawing.figures.empty()) {
        json["figures"] = Json::array();
        for (const auto& figure : drawing.figures) {
            json["figures"].push_back(figure_to_json(figure));
        }
    }
    return json;
}

sketch::Sketch sketch_from_json(const Json& json) {
    sketch::Sketch drawing;
    for (const Json& item : json.value("points", Json::array())) {
        drawing.points.push_back({item.at("id").get<int>(), item.at("x").get<double>(), item.at("y").get<double>()});
        drawing.last_id = std::max(drawing.last_id, drawing.points.back().id);
    }
    for (const Json& item : json.value("curves", Json::array())) {
        drawing.curves.push_back(
            {item.at("id").get<int>(), named(sketch::curve_names(), item.at("kind").get<std::string>()),
             item.at("points").get<std::vector<int>>(), item.value("radius", 0.0), item.value("construction", false),
             item.value("degree", 3), item.value("closed", false), item.value("through", false),
             item.value("knots", std::vector<double>{}), source_from_json(item)});
        drawing.last_id = std::max(drawing.last_id, drawing.curves.back().id);
    }
    for (const Json& item : json.value("constraints", Json::array())) {
        Expression value;
        if (item.contains("value")) {
            value.text = formula_from_json(item.at("value"));
        }
        drawing.constraints.push_back({item.at("id").get<int>(),
                                       named(sketch::constraint_names(), item.at("kind").get<std::string>()),
                                       item.at("on").get<std::vector<int>>(), value, item.value("measured", false)});
        drawing.last_id = std::max(drawing.last_id, drawing.constraints.back().id);
    }
    for (const Json& item : json.value("figures", Json::array())) {
        drawing.figures.push_back(figure_from_json(item));
        drawing.last_id = std::max(drawing.last_id, drawing.figures.back().id);
    }
    return drawing;
}

} // namespace kervo::io
