// Names of free borders: after changes each is found again, or told to be lost, never another one taken.
#include "geom/surface/borders.h"
#include "model/names/border_names.h"
#include "proof.h"

#include <set>

using namespace kervo;
using namespace kervo::test;

namespace {

std::vector<std::string> names_of_borders(const model::Body& body) {
    std::vector<std::string> names;
    for (const auto& border : geom::free_borders(body.shape)) {
        for (const TopoDS_Edge& edge : border.edges) {
            const model::FaceName* name = body.names.Seek(edge);
            names.push_back(name != nullptr ? name->text() : "");
        }
    }
    std::sort(names.begin(), names.end());
    return names;
}

std::vector<std::string> names_of_borders(const Outcome& outcome, int id) {
    return names_of_borders(*outcome.body(std::to_string(id)));
}

// Extends one border of a surface by a size, picked where it is at first, and hands back what is added then, as an
// area.
double added_by(const Route& before, const std::string& field, int body, std::array<double, 3> near,
                const std::map<std::string, std::string>& values) {
    Route route = before;
    const auto without = route.run(values);
    route.add("extend", {{"borders", Json::array({pick("edge", body, near)})}, {"amount", field}});
    const auto with = route.run(values);
    EXPECT_FALSE(with.told()) << with.codes();
    return geom::area_of(with.body(std::to_string(body))->shape) -
           geom::area_of(without.body(std::to_string(body))->shape);
}

} // namespace

TEST(BorderNames, OfSweptCurves) {
    Route route;
    Drawing d;
    d.line(d.point(0, 0), d.point(30, 0));
    const int wall = route.add("extrude", {{"result", "surface"},
                                           {"filled", "curves"},
                                           {"sketch", route.sketch(d)},
                                           {"to", "distance"},
                                           {"distance", "10 mm"}});
    EXPECT_EQ(names_of_borders(route.run(), wall),
              (std::vector<std::string>{"|20:end", "|20:side/c3/first", "|20:side/c3/last", "|20:start"}));
}

TEST(BorderNames, OfWhatHasNoEnds) {
    Route route;
    Drawing d;
    d.rectangle(0, 0, 30, 20);
    const int tube = route.extrude(route.sketch(d), region(5, 5), "10 mm", {{"result", "surface"}});
    const auto names = names_of_borders(route.run(), tube);
    EXPECT_EQ(std::count(names.begin(), names.end(), "|20:end"), 4);
    EXPECT_EQ(std::count(names.begin(), names.end(), "|20:start"), 4);
}

TEST(BorderNames, OfCopiedFacesAreTheirNeighbours) {
    Route route;
    const int box = route.box(30, 20, 10);
    const int sheet = route.add("copied_faces", {{"faces", Json::array({pick("face", box, {0, 0, 10})})}});
    EXPECT_EQ(names_of_borders(route.run(), sheet),
              (std::vector<std::string>{"|10:back", "|10:front", "|10:left", "|10:right"}));
    Route apart;
    const int other = apart.box(30, 20, 10);
    apart.add("separate", {{"workpieces", {std::to_string(other)}}, {"into", "faces"}});
    for (const auto& [id, body] : apart.run().evaluation.bodies_as_of()) {
        const auto names = names_of_borders(*body);
        EXPECT_EQ(std::set<std::string>(names.begin(), names.end()).size(), 4U) << id;
        EXPECT_FALSE(std::count(names.begin(), names.end(), "")) << id;
    }
}

TEST(BorderNames, OfRegionsAreTheirCurves) {
    Route route;
    Drawing d;
    const auto lines = d.rectangle(0, 0, 30, 20);
    const int sheet = route.add("flat_surface", {{"sketch", route.sketch(d)}, {"regions", region(5, 5)}});
    std::vector<std::string> wanted;
    for (const int line : lines) {
        wanted.push_back("|20:" + std::to_string(line));
    }
    EXPECT_EQ(names_of_borders(route.run(), sheet), wanted);
}

TEST(BorderNames, StayWhenCutMovedAndGrown) {
    Route route;
    const int box = route.box(30, 20, 10);
    const int sheet = route.add("copied_faces", {{"faces", Json::array({pick("face", box, {0, 0, 10})})}});
    const int blade =
        route.add("blade", {{"result", "blade"}, {"plane", "principal"}, {"principal", "yz"}, {"offset", "5 mm"}});
    route.add("trim",
              {{"workpieces", {std::to_string(sheet)}}, {"cutters", {std::to_string(blade)}}, {"stays", "back"}});
    const auto cut = route.run();
    auto names = names_of_borders(cut, sheet);
    EXPECT_EQ(names.size(), 4U) << cut.codes();
    EXPECT_EQ(std::count(names.begin(), names.end(), "|10:back"), 1);
    EXPECT_EQ(std::count(names.begin(), names.end(), "|10:front"), 1);
    EXPECT_EQ(std::count(names.begin(), names.end(), ""), 0) << "the new one is called after the blade";
    EXPECT_EQ(std::set<std::string>(names.begin(), names.end()).size(), 4U);
    route.add("place", {{"bodies", {std::to_string(sheet)}}, {"x", "100 mm"}, {"angle", "30 deg"}});
    EXPECT_EQ(names_of_borders(route.run(), sheet), names);
    route.add("resize", {{"bodies", {std::to_string(sheet)}}, {"factor", "2"}});
    EXPECT_EQ(names_of_borders(route.run(), sheet), names);
    route.add("extend", {{"borders", Json::array({pick("edge", sheet, {100, 0, 10})})}, {"chain", "whole"}});
    const auto grown = route.run();
    EXPECT_FALSE(grown.told()) << grown.codes();
    EXPECT_EQ(names_of_borders(grown, sheet), names);
}

TEST(BorderNames, OneOfAlikeIsFoundAfterSizesChange) {
    Route route; // a face with four straight borders, told by nothing but these
    route.parameter("w", "30 mm");
    route.parameter("d", "20 mm");
    route.add("stock", {{"shape", "box"}, {"width", "w"}, {"depth", "d"}, {"height", "10 mm"}});
    const int sheet = route.add("copied_faces", {{"faces", Json::array({pick("face", 10, {0, 0, 10})})}});
    for (const auto& [w, d] :
         {std::pair(30.0, 20.0), std::pair(20.0, 30.0), std::pair(300.0, 2.0), std::pair(1.0, 1.0)}) {
        const std::map<std::string, std::string> values{{"w", mm(w)}, {"d", mm(d)}};
        EXPECT_NEAR(added_by(route, "7 mm", sheet, {15, 0, 10}, values), 7 * d, 1e-9);  // right
        EXPECT_NEAR(added_by(route, "7 mm", sheet, {0, -10, 10}, values), 7 * w, 1e-9); // front
    }
}

TEST(BorderNames, OfHolesAreToldApart) {
    Route route;
    route.box(100, 40, 10);
    Drawing d;
    d.circle(10, 0, 5);
    Drawing e;
    e.circle(-30, 0, 5);
    route.cut(10, route.sketch(d), region(10, 0));
    route.cut(10, route.sketch(e), region(-30, 0));
    const int sheet = route.add("copied_faces", {{"faces", Json::array({pick("face", 10, {40, 10, 10})})}});
    const auto names = names_of_borders(route.run(), sheet);
    EXPECT_EQ(std::set<std::string>(names.begin(), names.end()).size(), 6U);
}
