#include "geom/make/twisted_sweep.h"

#include "geom/cut/divide.h"
#include "geom/kernel/by_shape.h"
#include "geom/make/loft.h"
#include "geom/measure/measure.h"
#include "geom/outline/path.h"
#include "geom/outline/walls.h"

#include <BRepAdaptor_CompCurve.hxx>
#include <BRepBuilderAPI_MakeWire.hxx>
#include <GeomAPI_Interpolate.hxx>
#include <Geom_BSplineCurve.hxx>
#include <Standard_Failure.hxx>
#include <TColStd_HArray1OfBoolean.hxx>
#include <TColStd_HArray1OfReal.hxx>
#include <TColgp_Array1OfVec.hxx>
#include <TColgp_HArray1OfPnt.hxx>

#include <cmath>

namespace kervo::geom {

namespace {

Finding failed() {
    return error_finding("path.failed", "The profile cannot be carried along this path.",
                         "Choose a smaller profile, less twist, or a path that bends less.");
}

// How the profile moves: a turn and a shift for each of some places, evenly along the path.
class TwistedWay {
public:
    TwistedWay(const TopoDS_Wire& path, double twist) : path_(path), twist_(twist), curve_(path, Standard_True) {
        length_ = curve_.LastParameter() - curve_.FirstParameter();
    }

    [[nodiscard]] std::vector<gp_Trsf> moves(int number) const {
        const auto places = places_along(path_, number + 1);
        std::vector<gp_Trsf> all;
        for (int k = 0; k <= number; ++k) {
            const PlaceOnPath& here = places[static_cast<size_t>(k)];
            gp_Trsf about_start;
            about_start.SetRotation(here.turn);
            gp_Trsf to_origin;
            to_origin.SetTranslation(gp_Vec(places.front().point, gp_Pnt()));
            gp_Trsf there;
            there.SetTranslation(gp_Vec(gp_Pnt(), here.point));
            gp_Trsf turned;
            turned.SetRotation(gp_Ax1(here.point, gp_Dir(here.along)), twist_ * k / number);
            all.push_back(turned * there * about_start * to_origin);
        }
        return all;
    }

    /// How a place that goes along moves at one end, for all of the way.
    [[nodiscard]] gp_Vec velocity(const gp_Pnt& place, bool at_end) const {
        gp_Pnt here;
        gp_Vec along;
        gp_Vec bend;
        curve_.D2(at_end ? curve_.LastParameter() : curve_.FirstParameter(), here, along, bend);
        const gp_Vec turn = along.Crossed(bend) * length_ + along.Normalized() * twist_;
        return along * length_ + turn.Crossed(gp_Vec(here, place));
    }

private:
    TopoDS_Wire path_;
    double twist_;
    BRepAdaptor_CompCurve curve_;
    double length_ = 0;
};

// How far the spline through a place's ways misses the true way, half-way between.
double misses(const gp_Pnt& place, const std::vector<gp_Trsf>& fine, const TwistedWay& way) {
    const int count = static_cast<int>(fine.size() / 2) + 1; // every other one is passed
    Handle(TColgp_HArray1OfPnt) through = new TColgp_HArray1OfPnt(1, count);
    Handle(TColStd_HArray1OfReal) at = new TColStd_HArray1OfReal(1, count);
    for (int k = 0; k < count; ++k) {
        through->SetValue(k + 1, place.Transformed(fine[static_cast<size_t>(2 * k)]));
        at->SetValue(k + 1, k / static_cast<double>(count - 1));
    }
    GeomAPI_Interpolate spline(through, at, Standard_False, coincidence);
    spline.Load(way.velocity(through->First(), false), way.velocity(through->Last(), true), Standard_False);
    spline.Perform();
    double most = 0;
    for (int k = 0; k + 1 < count; ++k) {
        const gp_Pnt there = spline.Curve()->Value((k + 0.5) / (count - 1));
        most = std::max(most, there.Distance(place.Transformed(fine[static_cast<size_t>(2 * k + 1)])));
    }
    return most;
}

// One loop as a solid.
Result<ShapeWithRoles> loop_carried(const gp_Ax3& frame, const OutlineLoop& loop, const TwistedWay& way) {
    std::vector<gp_Pnt> places;
    for (const OutlinePiece& piece : loop) {
        for (const double t : {0.0, 0.5}) {
            const auto p = place_on(piece, t);
            places.push_back(frame.Location().XYZ() + frame.XDirection().XYZ() * p[0] +
                             frame.YDirection().XYZ() * p[1]);
        }
    }
    constexpr int most = 512;
    constexpr double wanted = 1e-6; // mm
    for (int number = 8; number <= most; number *= 2) {
        const auto fine = way.moves(2 * number);
        double off = 0;
        for (const gp_Pnt& place : places) {
            off = std::max(off, misses(place, fine, way));
        }
        if (off > wanted) {
            continue;
        }
        std::vector<LoftSection> sections;
        Lofting lofting;
        lofting.one_outline.emplace();
        for (int k = 0; k <= number; ++k) {
            sections.push_back({frame.Transformed(fine[static_cast<size_t>(2 * k)]), loop});
            lofting.one_outline->places.push_back(k / static_cast<double>(number));
        }
        lofting.one_outline->leaves = [&way](const gp_Pnt& p) { return way.velocity(p, false); };
        lofting.one_outline->arrives = [&way](const gp_Pnt& p) { return way.velocity(p, true); };
        auto made = loft_through(sections, lofting);
        return made ? made : failed();
    }
    return failed();
}

} // namespace

Result<ShapeWithRoles> sweep_twisted(const gp_Ax3& frame, const std::vector<OutlineLoop>& loops, const Path& path,
                                     double twist, Progress& progress) {
    for (size_t i = 0; i + 1 < path.parts.size(); ++i) {
        if (path.parts[i].heading(false).Angle(path.parts[i + 1].heading(true)) > 1e-6) {
            return error_finding("path.corner", "A profile that twists cannot pass corners.",
                                 "Round the corners of the path, or let it not twist.");
        }
    }
    if (gp_Pln(frame).Distance(path.parts.front().start()) > 1e-4) {
        return error_finding("path.apart", "The profile does not lie at the start of the path.",
                             "Draw it on a plane through the start, or let it be laid square to the path there.");
    }
    try {
        BRepBuilderAPI_MakeWire maker;
        for (const auto& part : path.parts) {
            maker.Add(part.edge);
        }
        if (!maker.IsDone()) {
            return failed();
        }
        const TwistedWay way(maker.Wire(), twist);
        std::vector<ShapeWithRoles> made;
        for (const OutlineLoop& loop : loops) {
            if (progress.cancelled()) {
                return error_finding("path.cancelled", "Stopped.", "");
            }
            auto solid = loop_carried(frame, loop, way);
            if (!solid) {
                return solid;
            }
            for (FaceRole& role : solid->roles) { // "side/c5~5" -> "side/c5/1"
                if (const size_t tilde = role.role.find('~'); tilde != std::string::npos) {
                    role.role = role.role.substr(0, tilde) + "/" + path.parts.front().name;
                }
            }
            made.push_back(std::move(*solid));
        }
        return made.size() == 1 ? Result<ShapeWithRoles>(made.front()) : less_holes(made, progress);
    } catch (const Standard_Failure&) {
        return failed();
    }
}

} // namespace kervo::geom
