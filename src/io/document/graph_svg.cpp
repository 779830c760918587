#include "io/document/graph_svg.h"

#include <pugixml.hpp>

#include <sstream>

namespace kervo::io {

namespace {

std::string text_of(double value) {
    std::ostringstream text;
    text << value;
    return text.str();
}

// A soft line through the points of a route: level where it starts and ends.
std::string path_of(const std::vector<std::array<double, 2>>& route) {
    std::ostringstream path;
    path << "M" << route[0][0] << "," << route[0][1];
    for (size_t i = 1; i < route.size(); ++i) {
        const auto& a = route[i - 1];
        const auto& b = route[i];
        const double middle = (a[0] + b[0]) / 2;
        path << "C" << middle << "," << a[1] << " " << middle << "," << b[1] << " " << b[0] << "," << b[1];
    }
    return path.str();
}

} // namespace

std::string graph_to_svg(const model::DependencyGraph& graph, const model::GraphLayout& layout) {
    pugi::xml_document document;
    auto svg = document.append_child("svg");
    svg.append_attribute("xmlns") = "http://www.w3.org/2000/svg";
    svg.append_attribute("width") = text_of(layout.width).c_str();
    svg.append_attribute("height") = text_of(layout.height).c_str();
    auto lines = svg.append_child("g");
    lines.append_attribute("fill") = "none";
    lines.append_attribute("stroke") = "#8a8578";
    for (const auto& route : layout.routes) {
        lines.append_child("path").append_attribute("d") = path_of(route).c_str();
    }
    auto boxes = svg.append_child("g");
    boxes.append_attribute("font-family") = "sans-serif";
    boxes.append_attribute("font-size") = "12";
    for (size_t i = 0; i < graph.nodes.size(); ++i) {
        const auto& node = graph.nodes[i];
        const auto& [x, y, width, height] = layout.boxes[i];
        auto box = boxes.append_child("rect");
        box.append_attribute("x") = text_of(x).c_str();
        box.append_attribute("y") = text_of(y).c_str();
        box.append_attribute("width") = text_of(width).c_str();
        box.append_attribute("height") = text_of(height).c_str();
        box.append_attribute("rx") = text_of(node.step == 0 ? height / 2 : 3).c_str();
        box.append_attribute("fill") = node.frozen ? "#e4e0d6" : "#fbfaf6";
        box.append_attribute("stroke") = node.step == 0 ? "#b4690e" : "#1f2a33";
        if (node.suspended) {
            box.append_attribute("stroke-dasharray") = "4 3";
        }
        auto text = boxes.append_child("text");
        text.append_attribute("x") = text_of(x + 10).c_str();
        text.append_attribute("y") = text_of(y + height / 2 + 4).c_str();
        text.append_child(pugi::node_pcdata).set_value(node.text.c_str());
    }
    std::ostringstream out;
    document.save(out, " ");
    return out.str();
}

} // namespace kervo::io
