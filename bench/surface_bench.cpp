// Surfaces beside the bare kernel: sewing faces whose borders match, and others; a blend of two loops; trimming one
// face of a large skin; faces in a net of edges; circles projected onto a sphere, about its axis and beside it.
#include "geom/cut/divide.h"
#include "geom/make/flat_loops.h"
#include "geom/make/form_face.h"
#include "geom/make/stock.h"
#include "geom/outline/profile.h"
#include "geom/surface/assemble.h"
#include "geom/surface/blend_borders.h"
#include "geom/surface/projected_curves.h"
#include "geom/surface/sew.h"
#include "scene/shown_body.h"

#include <BOPAlgo_Builder.hxx>
#include <BOPAlgo_Tools.hxx>
#include <BRepBuilderAPI_MakeEdge.hxx>
#include <BRepBuilderAPI_MakeFace.hxx>
#include <BRepBuilderAPI_Sewing.hxx>
#include <BRepMesh_IncrementalMesh.hxx>
#include <BRepPrimAPI_MakeCylinder.hxx>
#include <BRepPrimAPI_MakeSphere.hxx>
#include <BRepProj_Projection.hxx>
#include <BRep_Builder.hxx>
#include <Precision.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Compound.hxx>
#include <benchmark/benchmark.h>

#include <cmath>
#include <numeric>

using namespace kervo;
using namespace kervo::geom;

namespace {

// Square faces side by side, each by itself; `apart` mm between their borders.
std::vector<TopoDS_Shape> tiles(int rows, double apart) {
    std::vector<TopoDS_Shape> faces;
    for (int i = 0; i < rows; ++i) {
        for (int k = 0; k < rows; ++k) {
            faces.push_back(
                BRepBuilderAPI_MakeFace(gp_Pln(), i * 10, i * 10 + 10 - apart, k * 10, k * 10 + 10 - apart).Face());
        }
    }
    return faces;
}

void sewing(benchmark::State& state, double apart) {
    const auto faces = tiles(static_cast<int>(state.range(0)), apart);
    for (auto _ : state) {
        Progress progress;
        benchmark::DoNotOptimize(sew(faces, 0.01, progress));
    }
    state.SetComplexityN(state.range(0) * state.range(0));
}
void sewing_bare(benchmark::State& state, double apart) {
    const auto faces = tiles(static_cast<int>(state.range(0)), apart);
    for (auto _ : state) {
        BRepBuilderAPI_Sewing sewing(0.01);
        for (const TopoDS_Shape& face : faces) {
            sewing.Add(face);
        }
        sewing.Perform();
        benchmark::DoNotOptimize(sewing.SewedShape());
    }
    state.SetComplexityN(state.range(0) * state.range(0));
}
BENCHMARK_CAPTURE(sewing, matching, 0.0)->Arg(10)->Arg(32)->Arg(100)->Unit(benchmark::kMillisecond)->Complexity();
BENCHMARK_CAPTURE(sewing_bare, matching, 0.0)->Arg(10)->Arg(32)->Arg(100)->Unit(benchmark::kMillisecond)->Complexity();
BENCHMARK_CAPTURE(sewing, nearly, 0.002)->Arg(10)->Arg(32)->Unit(benchmark::kMillisecond);
BENCHMARK_CAPTURE(sewing_bare, nearly, 0.002)->Arg(10)->Arg(32)->Unit(benchmark::kMillisecond);

TopoDS_Face tube(double radius, double z) {
    const gp_Ax2 axis(gp_Pnt(0, 0, z), gp_Dir(0, 0, 1));
    return TopoDS::Face(faces_of(BRepPrimAPI_MakeCylinder(axis, radius, 40).Shape()).front());
}

void blending(benchmark::State& state) {
    const TopoDS_Face below = tube(20, 0);
    const TopoDS_Face above = tube(30, 70);
    const auto rim = [](const TopoDS_Face& face, bool high) {
        const auto borders = free_borders(face);
        return borders[high ? 1 : 0].edges;
    };
    for (auto _ : state) {
        const auto one = BorderWay::through(below, rim(below, true), true);
        const auto other = BorderWay::through(above, rim(above, false), true);
        benchmark::DoNotOptimize(blend_borders(*one, *other, {}));
    }
}
BENCHMARK(blending)->Unit(benchmark::kMillisecond);

// One face of many, cut by a small solid: by our division of the skin, and by the kernel of all of it.
TopoDS_Shape skin(int rows) {
    Progress progress;
    return sew(tiles(rows, 0), 0.01, progress)->shape;
}
TopoDS_Shape pin() {
    return BRepPrimAPI_MakeCylinder(gp_Ax2(gp_Pnt(15, 15, -5), gp_Dir(0, 0, 1)), 2, 10).Shape();
}
void trimming(benchmark::State& state) {
    const TopoDS_Shape all = skin(static_cast<int>(state.range(0)));
    for (auto _ : state) {
        Progress progress;
        benchmark::DoNotOptimize(divide(all, {pin()}, progress));
    }
}
void trimming_bare(benchmark::State& state) {
    const TopoDS_Shape all = skin(static_cast<int>(state.range(0)));
    for (auto _ : state) {
        BOPAlgo_Builder builder;
        builder.AddArgument(all);
        builder.AddArgument(pin());
        builder.Perform();
        benchmark::DoNotOptimize(builder.Shape());
    }
}
BENCHMARK(trimming)->Arg(63)->Unit(benchmark::kMillisecond);
BENCHMARK(trimming_bare)->Arg(63)->Unit(benchmark::kMillisecond);

} // namespace

// --- Flat faces in a net of edges ------------------------------------------------------------------------------------

// A square grid of straight edges between shared points.
EdgeNet grid(int cells) {
    EdgeNet net;
    const auto point = [&](int i, int k) { return net.point(gp_Pnt(10 * i, 10 * k, 0)).index; };
    for (int i = 0; i <= cells; ++i) {
        for (int k = 0; k < cells; ++k) {
            (void)net.line(point(i, k), point(i, k + 1));
            (void)net.line(point(k, i), point(k + 1, i));
        }
    }
    return net;
}
void enclosing(benchmark::State& state) {
    const EdgeNet net = grid(static_cast<int>(state.range(0)));
    std::vector<size_t> edges(net.edges());
    std::iota(edges.begin(), edges.end(), size_t{0});
    for (auto _ : state) {
        const auto faces = flat_faces(net, edges);
        if (!faces || faces->size() != static_cast<size_t>(state.range(0) * state.range(0))) {
            state.SkipWithError("faces are missing");
        }
    }
}
void enclosing_bare(benchmark::State& state) {
    const EdgeNet net = grid(static_cast<int>(state.range(0)));
    BRep_Builder builder;
    TopoDS_Compound edges;
    builder.MakeCompound(edges);
    for (size_t i = 0; i < net.edges(); ++i) {
        builder.Add(edges, net.edge(i));
    }
    for (auto _ : state) {
        TopoDS_Shape wires;
        TopoDS_Shape faces;
        BOPAlgo_Tools::EdgesToWires(edges, wires, Standard_True);
        BOPAlgo_Tools::WiresToFaces(wires, faces);
        benchmark::DoNotOptimize(faces);
    }
}
BENCHMARK(enclosing)->Arg(5)->Arg(20)->Unit(benchmark::kMillisecond);
BENCHMARK(enclosing_bare)->Arg(5)->Arg(20)->Unit(benchmark::kMillisecond);

// --- Projecting ------------------------------------------------------------------------------------------------------

namespace {

TopoDS_Edge circle_beside(double x) {
    return BRepBuilderAPI_MakeEdge(gp_Circ(gp_Ax2(gp_Pnt(x, 0, 200), gp_Dir(0, 0, 1)), 30)).Edge();
}

void projecting(benchmark::State& state) {
    const TopoDS_Shape ball = BRepPrimAPI_MakeSphere(109).Shape();
    const TopoDS_Edge circle = circle_beside(static_cast<double>(state.range(0)));
    for (auto _ : state) {
        Progress progress;
        benchmark::DoNotOptimize(
            projected_curves({circle}, gp_Dir(0, 0, 1), {ball}, gp_Dir(0, 0, -1), HitOrder::near_to_far, progress));
    }
}
void projecting_bare(benchmark::State& state) {
    const TopoDS_Shape ball = BRepPrimAPI_MakeSphere(109).Shape();
    const TopoDS_Edge circle = circle_beside(static_cast<double>(state.range(0)));
    for (auto _ : state) {
        BRepProj_Projection projection(circle, ball, gp_Dir(0, 0, -1));
        benchmark::DoNotOptimize(projection.IsDone());
    }
}
BENCHMARK(projecting)->Arg(0)->Arg(40)->Arg(100)->Unit(benchmark::kMillisecond);
BENCHMARK(projecting_bare)->Arg(0)->Arg(40)->Arg(100)->Unit(benchmark::kMillisecond);

// --- A surface shaped by hand ----------------------------------------------------------------------------------------

// One control point of so many by so many has moved: to what is drawn.
FreeForm moved_form(int points) {
    FreeForm form = flat_form(gp_Ax3(), 600, 600, {FormWay{3, points - 3}, FormWay{3, points - 3}});
    form.move({{points / 2, points / 2}}, gp_Vec(0, 0, 20));
    return form;
}
void shaping(benchmark::State& state) {
    for (auto _ : state) {
        const auto made = whole_face(moved_form(static_cast<int>(state.range(0))));
        auto body = std::make_shared<model::Body>();
        body->shape = made->face;
        body->names.Bind(made->face, {"10:form", {}, false});
        body->index = std::make_shared<LazyIndex>(made->face);
        scene::BodyShower shower;
        shower.show({body});
        benchmark::DoNotOptimize(shower(body));
    }
}
void shaping_bare(benchmark::State& state) { // the face and its triangles alone
    for (auto _ : state) {
        const auto form = moved_form(static_cast<int>(state.range(0)));
        const TopoDS_Face face = BRepBuilderAPI_MakeFace(form.surface(), Precision::Confusion()).Face();
        const BRepMesh_IncrementalMesh mesher(face, 0.42, Standard_False, 0.2, Standard_True);
        benchmark::DoNotOptimize(mesher.IsDone());
    }
}
BENCHMARK(shaping)->Arg(12)->Arg(60)->Unit(benchmark::kMillisecond);
BENCHMARK(shaping_bare)->Arg(12)->Arg(60)->Unit(benchmark::kMillisecond);

} // namespace
