// Steps that run beside each other read the same bodies: whatever a step does, the bodies that it read are afterwards
// what they were, down to what the kernel keeps with each vertex and edge. KERVO_SHARED: how many random routes.
#include "geom/measure/measure.h"
#include "io/document/document_file.h"
#include "io/reader/import_child.h"
#include "random_route.h"

#include <BRep_CurveOnSurface.hxx>
#include <BRep_GCurve.hxx>
#include <BRep_ListIteratorOfListOfCurveRepresentation.hxx>
#include <BRep_TEdge.hxx>
#include <BRep_TFace.hxx>
#include <BRep_TVertex.hxx>
#include <Geom2d_Curve.hxx>
#include <Geom_Curve.hxx>
#include <Geom_Surface.hxx>
#include <TopExp.hxx>
#include <TopTools_IndexedMapOfShape.hxx>
#include <gtest/gtest.h>

#include <cstdlib>
#include <sstream>

using namespace kervo;
using namespace kervo::test;

namespace {

void tell(std::ostream& out, const TopoDS_Shape& shape) {
    const auto& any = shape.TShape();
    out << any.get() << any->Free() << any->Modified() << any->Checked() << any->Orientable() << any->Closed()
        << any->Infinite() << any->Convex() << any->Locked() << ':' << any->NbChildren() << ' ';
    if (const auto vertex = Handle(BRep_TVertex)::DownCast(any); !vertex.IsNull()) {
        out << vertex->Tolerance() << ' ' << vertex->Pnt().X() << ' ' << vertex->Pnt().Y() << ' ' << vertex->Pnt().Z()
            << ' ' << vertex->Points().Extent();
    } else if (const auto edge = Handle(BRep_TEdge)::DownCast(any); !edge.IsNull()) {
        out << edge->Tolerance() << edge->SameParameter() << edge->SameRange() << edge->Degenerated();
        for (BRep_ListIteratorOfListOfCurveRepresentation it(edge->Curves()); it.More(); it.Next()) {
            const auto& curve = it.Value();
            if (const auto ranged = Handle(BRep_GCurve)::DownCast(curve); !ranged.IsNull()) {
                double first = 0;
                double last = 0;
                ranged->Range(first, last);
                out << ' ' << curve.get() << ' ' << first << ' ' << last << ' '
                    << (curve->IsCurve3D() ? static_cast<const void*>(curve->Curve3D().get()) : nullptr) << ' '
                    << (curve->IsCurveOnSurface() ? static_cast<const void*>(curve->PCurve().get()) : nullptr);
            } else if (curve->IsRegularity()) {
                out << ' ' << curve.get() << ' ' << static_cast<int>(curve->Continuity());
            }
        }
    } else if (const auto face = Handle(BRep_TFace)::DownCast(any); !face.IsNull()) {
        out << face->Tolerance() << face->NaturalRestriction() << ' ' << face->Surface().get();
    }
    out << '\n';
}

// All that is kept with the shape and its parts, but for triangles: those are the picture's, which is made alone.
std::string kept_with(const TopoDS_Shape& shape) {
    std::ostringstream out;
    out.precision(17);
    TopTools_IndexedMapOfShape parts;
    TopExp::MapShapes(shape, parts);
    for (int i = 1; i <= parts.Extent(); ++i) {
        tell(out, parts(i));
    }
    return out.str();
}

// Evaluates one step after the other, and looks after each whether all that was there before is as it was. The names of
// the kinds that changed something.
std::set<std::string> kinds_that_write(const model::Document& document) {
    std::set<std::string> kinds;
    model::EvaluationCache cache;
    const model::Services services = io::standard_services();
    Progress progress;
    std::map<model::BodyPtr, std::string> known;
    for (const model::StepPtr& step : document.steps) {
        const auto evaluation = model::evaluate(document, cache, services, progress, step->id);
        for (auto& [body, before] : known) {
            if (const std::string now = kept_with(body->shape); now != before) {
                kinds.insert(model::kind_of(step->definition).kind);
                before = now;
            }
        }
        for (const auto& [id, body] : evaluation.bodies_as_of(step->id)) {
            known.emplace(body, kept_with(body->shape));
        }
    }
    return kinds;
}

} // namespace

TEST(SharedShapes, NoStepOfADemonstrationWritesToWhatItReads) {
    for (const std::string name :
         {"azimuth-table", "counterweight", "finder-clamp", "dome", "observing-deck", "spectrograph-housing"}) {
        const auto document = io::open_document(std::string(KERVO_SOURCE) + "/demo/" + name + "/document.json");
        ASSERT_TRUE(document) << name;
        EXPECT_EQ(kinds_that_write(*document), std::set<std::string>{}) << name;
    }
}

TEST(SharedShapes, NoStepOfARandomRouteWritesToWhatItReads) {
    const char* wanted = std::getenv("KERVO_SHARED");
    const unsigned routes = wanted == nullptr ? 25 : static_cast<unsigned>(std::atoi(wanted));
    for (unsigned seed = 1; seed <= routes; ++seed) {
        const auto document = io::document_from_json(RandomRoute(seed, {}).route().json());
        ASSERT_TRUE(document) << seed;
        EXPECT_EQ(kinds_that_write(*document), std::set<std::string>{}) << "seed " << seed;
    }
}
