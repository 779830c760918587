// Colours by curvature: what is worked out of triangles and normals, against radii.
#include "scene/curvature.h"

#include "bare_body.h"
#include "geom/make/form_face.h"
#include "geom/make/stock.h"
#include "scene/drawn.h"
#include "scene/shown_body.h"

#include <BRepAlgoAPI_Cut.hxx>

#include <gtest/gtest.h>

#include <functional>

using namespace kervo;
using namespace kervo::scene;

namespace {

constexpr double about = 0.015; // relative: chords are seen a little from the side
const gp_Ax3 origin(gp_Pnt(0, 0, 0), gp_Dir(0, 0, 1), gp_Dir(1, 0, 0));

ShownBodyPtr shown(const TopoDS_Shape& shape) {
    const model::BodyPtr body = kervo::test::bare_body(shape);
    BodyShower shower;
    shower.show({body});
    return shower(body);
}

using There = std::function<bool(const gp_Pnt& place, const gp_Dir& normal)>;
// The least and the greatest at the nodes that are meant.
std::array<double, 2> range(const ShownBody& body, const There& meant) {
    std::array<double, 2> found{1e9, -1e9};
    const auto& values = body.curvature->values().front();
    const auto& triangles = body.drawn->triangles;
    for (int i = 1; i <= triangles->VertexNumber(); ++i) {
        if (meant(triangles->Vertice(i), triangles->VertexNormal(i))) {
            const double value = values[static_cast<size_t>(i - 1)];
            found = {std::min(found[0], value), std::max(found[1], value)};
        }
    }
    return found;
}
bool everywhere(const gp_Pnt& /*place*/, const gp_Dir& /*normal*/) {
    return true;
}
bool on_wall(const gp_Pnt& /*place*/, const gp_Dir& normal) {
    return std::fabs(normal.Z()) < 0.5;
}
bool on_end(const gp_Pnt& place, const gp_Dir& normal) {
    return !on_wall(place, normal);
}
void expect_range(const std::array<double, 2>& found, double least, double most, double within) {
    EXPECT_NEAR(found[0], least, within);
    EXPECT_NEAR(found[1], most, within);
}

} // namespace

TEST(Curvature, OfABallIsOneOverItsRadius) {
    for (const double radius : {0.5, 20.0, 3000.0}) {
        const auto ball = shown(geom::make_sphere(2 * radius, origin).shape);
        expect_range(range(*ball, everywhere), 1 / radius, 1 / radius, about / radius);
        EXPECT_NEAR(ball->curvature->usual(), 1 / radius, about / radius);
    }
}

TEST(Curvature, WallsBulgeHolesAreHollowAndEndsAreFlat) {
    const auto rod = geom::make_cylinder(30, 60, origin).shape;
    expect_range(range(*shown(rod), on_wall), 1.0 / 30, 1.0 / 30, about / 30); // straight the other way
    expect_range(range(*shown(rod), on_end), 0, 0, 1e-9);
    const auto block =
        BRepAlgoAPI_Cut(geom::make_box(80, 80, 40, origin).shape, geom::make_cylinder(8, 40, origin).shape).Shape();
    const auto pierced = shown(block);
    const auto in_hole = [](const gp_Pnt& place, const gp_Dir& normal) {
        return on_wall(place, normal) && std::hypot(place.X(), place.Y()) < 5;
    };
    expect_range(range(*pierced, in_hole), -0.125, -0.125, about * 0.125);
    EXPECT_EQ(pierced->curvature->usual(), 0); // the hole is less than one part in twenty
}

TEST(Curvature, OfARingIsMostOutsideAndLeastInside) {
    const auto ring = shown(geom::make_ring(100, 30, origin).shape);
    expect_range(range(*ring, everywhere), (1.0 / 15 - 1.0 / 35) / 2, (1.0 / 15 + 1.0 / 65) / 2, about / 20);
}

TEST(Curvature, OfASaddleIsNothing) {
    geom::FreeForm form = geom::flat_form(origin, 40, 40, {geom::FormWay{1, 1}, geom::FormWay{1, 1}});
    form.move({{0, 0}, {1, 1}}, gp_Vec(0, 0, 8)); // z = 4 + 4 (x / 20) (y / 20): bends by 0.01 one way, -0.01 the other
    const auto made = geom::whole_face(form);
    ASSERT_TRUE(made);
    const There in_the_middle = [](const gp_Pnt& place, const gp_Dir& /*normal*/) {
        return std::hypot(place.X(), place.Y()) < 2;
    };
    expect_range(range(*shown(made->face), in_the_middle), 0, 0, 1e-4);
}

TEST(Curvature, TheScaleRunsFromBlueOverPaleToAmber) {
    const auto hollow = scale_color(-1);
    const auto flat = scale_color(0);
    const auto bulging = scale_color(1);
    EXPECT_GT(hollow[2], hollow[0]);
    EXPECT_GT(bulging[0], bulging[2]);
    EXPECT_GT(flat[0] + flat[1] + flat[2], hollow[0] + hollow[1] + hollow[2]);
    EXPECT_EQ(scale_color(7), bulging); // beyond its ends it stays
    EXPECT_EQ(scale_color(-7), hollow);
}
