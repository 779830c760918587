// What hangs on what, as a graph and as a drawing.
#include "io_fixture.h"

#include "io/document/graph_svg.h"
#include "model/route/dependency_graph.h"
#include "model/steps/measure/measure.h"

using namespace kervo;
using namespace kervo::io;
using namespace kervo::io::test;

namespace {

int node_called(const DependencyGraph& graph, const std::string& text) {
    for (size_t i = 0; i < graph.nodes.size(); ++i) {
        if (graph.nodes[i].text == text) {
            return static_cast<int>(i);
        }
    }
    ADD_FAILURE() << "there is no " << text;
    return -1;
}
bool hangs(const DependencyGraph& graph, const std::string& first, const std::string& second) {
    const std::pair edge{node_called(graph, first), node_called(graph, second)};
    return std::count(graph.edges.begin(), graph.edges.end(), edge) == 1;
}

void expect_sound(const DependencyGraph& graph, const GraphLayout& layout, size_t loops = 0) {
    ASSERT_EQ(layout.boxes.size(), graph.nodes.size());
    ASSERT_EQ(layout.routes.size(), graph.edges.size());
    size_t backwards = 0;
    for (size_t i = 0; i < layout.boxes.size(); ++i) {
        const auto& a = layout.boxes[i];
        EXPECT_TRUE(a[0] >= 0 && a[1] >= 0 && a[0] + a[2] <= layout.width && a[1] + a[3] <= layout.height);
        for (size_t j = i + 1; j < layout.boxes.size(); ++j) {
            const auto& b = layout.boxes[j];
            EXPECT_FALSE(a[0] < b[0] + b[2] && b[0] < a[0] + a[2] && a[1] < b[1] + b[3] && b[1] < a[1] + a[3]);
        }
    }
    for (size_t i = 0; i < graph.edges.size(); ++i) {
        const auto& from = layout.boxes[static_cast<size_t>(graph.edges[i].first)];
        const auto& to = layout.boxes[static_cast<size_t>(graph.edges[i].second)];
        backwards += from[0] + from[2] <= to[0] ? 0 : 1;
        EXPECT_EQ(layout.routes[i].front()[0], from[0] + from[2]);
        EXPECT_EQ(layout.routes[i].back()[0], to[0]);
    }
    EXPECT_EQ(backwards, loops);
}

} // namespace

TEST(DependencyGraph, OfTheDemoSaysWhatTheDocumentSays) {
    const auto document = open_document(demo_path());
    const auto graph = dependency_graph(*document);
    EXPECT_EQ(graph.nodes.size(), document->parameters.size() + document->steps.size());
    EXPECT_TRUE(hangs(graph, "plate", "10  Bottom plate"));
    EXPECT_TRUE(hangs(graph, "slot_in", "slot_out"));
    EXPECT_TRUE(hangs(graph, "20  Ring outline", "30  Roller ring"));
    EXPECT_TRUE(hangs(graph, "60  Ports and slot", "70  Cable ports and slot"));
    EXPECT_TRUE(hangs(graph, "70  Cable ports and slot", "90  Spindle clearance")); // who changed the plate last
    EXPECT_FALSE(hangs(graph, "40  Top plate", "90  Spindle clearance"));
    const auto ahead = graph.ahead(node_called(graph, "mark_step"));
    EXPECT_EQ(ahead, (std::vector{node_called(graph, "100  Degree scale"), node_called(graph, "110  Engraved scale")}));
    const auto behind = graph.behind(node_called(graph, "30  Roller ring"));
    EXPECT_TRUE(std::find(behind.begin(), behind.end(), node_called(graph, "plate_w")) != behind.end());
    expect_sound(graph, lay_out(graph));
}

TEST(DependencyGraph, ShowsWhatIsMeasuredFrozenSuspendedAndRound) {
    Builder b;
    b.set("w", "60 mm");
    b.set("a", "b + 1 mm"); // round in a circle
    b.set("b", "a + 1 mm");
    const int plate = b.box("w", "40", "10");
    Measure measure;
    measure.what.value = "volume";
    measure.body = {{ElementKind::body, std::to_string(plate), {}, {}, {}}};
    measure.parameter.text = "content";
    const int step = b.step(measure, "Content");
    b.box("20", "20", "20");
    b.document = change_step(b.document, step, [](Step& s) { s.suspended = true; });
    const auto graph = dependency_graph(b.document);
    const auto& content = graph.nodes[static_cast<size_t>(node_called(graph, "content"))];
    EXPECT_TRUE(content.measured);
    EXPECT_TRUE(hangs(graph, "20  Content", "content"));
    EXPECT_TRUE(graph.nodes[static_cast<size_t>(node_called(graph, "20  Content"))].suspended);
    EXPECT_FALSE(graph.nodes[static_cast<size_t>(node_called(graph, "10  Stock"))].frozen);
    EXPECT_TRUE(graph.nodes[static_cast<size_t>(node_called(graph, "30  Stock"))].frozen);
    expect_sound(graph, lay_out(graph), 1);
    EXPECT_TRUE(lay_out({}).boxes.empty());
}

TEST(DependencyGraph, LargeOnesStayApart) {
    Builder b;
    for (int i = 0; i < 40; ++i) {
        b.set("p" + std::to_string(i), i < 3 ? "10 mm" : "p" + std::to_string(i / 2) + " + p" + std::to_string(i / 3));
        b.box("p" + std::to_string(i), "p" + std::to_string(i / 4), "5");
    }
    const auto graph = dependency_graph(b.document);
    const auto layout = lay_out(graph);
    expect_sound(graph, layout);
    const std::string svg = graph_to_svg(graph, layout);
    const auto count = [&](const std::string& tag) {
        size_t found = 0;
        for (size_t at = svg.find(tag); at != std::string::npos; at = svg.find(tag, at + 1)) {
            ++found;
        }
        return found;
    };
    EXPECT_EQ(count("<rect"), graph.nodes.size());
    EXPECT_EQ(count("<path"), graph.edges.size());
}
