#include "geom/make/loft.h"

#include "geom/alter/alteration.h"
#include "geom/make/loft_ring.h"
#include "geom/measure/folded_face.h"
#include "geom/measure/pick.h"
#include "geom/outline/walls.h"

#include <BRepBuilderAPI_MakeEdge.hxx>
#include <BRepBuilderAPI_MakeFace.hxx>
#include <BRepBuilderAPI_MakeSolid.hxx>
#include <BRepBuilderAPI_MakeWire.hxx>
#include <BRepBuilderAPI_Sewing.hxx>
#include <GCPnts_AbscissaPoint.hxx>
#include <GeomAPI_Interpolate.hxx>
#include <GeomAdaptor_Curve.hxx>
#include <GeomConvert.hxx>
#include <GeomConvert_ApproxCurve.hxx>
#include <GeomFill_Profiler.hxx>
#include <GeomLib_IsPlanarSurface.hxx>
#include <Geom_BSplineCurve.hxx>
#include <Geom_BSplineSurface.hxx>
#include <Geom_TrimmedCurve.hxx>
#include <Standard_Failure.hxx>
#include <TColStd_HArray1OfBoolean.hxx>
#include <TColStd_HArray1OfReal.hxx>
#include <TColgp_Array1OfVec.hxx>
#include <TColgp_HArray1OfPnt.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Shell.hxx>
#include <TopoDS_Solid.hxx>

#include <algorithm>
#include <cmath>

namespace kervo::geom {

namespace {

constexpr double seam_tolerance = 1e-6; // mm
// How the skin stands on a section: by place, mm for all of its way. Empty: as it likes.
using Heading = std::function<gp_Vec(const gp_Pnt&)>;

// The skin over one part of all sections.
Handle(Geom_BSplineSurface) skin(const std::vector<Handle(Geom_BSplineCurve)>& curves,
                                 const std::vector<double>& places, const Heading& leaves, const Heading& arrives) {
    GeomFill_Profiler profiler;
    for (const auto& curve : curves) {
        profiler.AddCurve(curve);
    }
    profiler.Perform(coincidence);
    const int across = profiler.NbPoles();
    const int count = static_cast<int>(curves.size());
    std::vector<Handle(TColgp_HArray1OfPnt)> rows;
    for (int k = 1; k <= count; ++k) {
        rows.emplace_back(new TColgp_HArray1OfPnt(1, across));
        profiler.Poles(k, rows.back()->ChangeArray1());
    }
    Handle(TColStd_HArray1OfReal) at = new TColStd_HArray1OfReal(1, count);
    for (int k = 1; k <= count; ++k) {
        at->SetValue(k, places[static_cast<size_t>(k) - 1]);
    }
    std::vector<Handle(Geom_BSplineCurve)> columns;
    for (int i = 1; i <= across; ++i) {
        Handle(TColgp_HArray1OfPnt) column = new TColgp_HArray1OfPnt(1, count);
        for (int k = 1; k <= count; ++k) {
            column->SetValue(k, rows[static_cast<size_t>(k) - 1]->Value(i));
        }
        if (count == 2 && !leaves && !arrives) {
            TColStd_Array1OfInteger counts(1, count);
            counts.Init(1);
            counts.SetValue(1, 2);
            counts.SetValue(count, 2);
            columns.emplace_back(new Geom_BSplineCurve(column->Array1(), at->Array1(), counts, 1));
            continue;
        }
        GeomAPI_Interpolate through(column, at, Standard_False, coincidence);
        TColgp_Array1OfVec ways(1, count);
        Handle(TColStd_HArray1OfBoolean) given = new TColStd_HArray1OfBoolean(1, count);
        given->Init(Standard_False);
        ways.Init(gp_Vec(0, 0, 0));
        if (leaves) {
            ways.SetValue(1, leaves(column->Value(1)));
            given->SetValue(1, Standard_True);
        }
        if (arrives) {
            ways.SetValue(count, arrives(column->Value(count)));
            given->SetValue(count, Standard_True);
        }
        if (leaves || arrives) {
            through.Load(ways, given, Standard_False);
        }
        through.Perform();
        columns.push_back(through.Curve());
    }
    const auto& first = columns.front();
    TColgp_Array2OfPnt poles(1, across, 1, first->NbPoles());
    for (int i = 1; i <= across; ++i) {
        for (int j = 1; j <= first->NbPoles(); ++j) {
            poles.SetValue(i, j, columns[static_cast<size_t>(i) - 1]->Pole(j));
        }
    }
    TColStd_Array1OfReal knots(1, profiler.NbKnots());
    TColStd_Array1OfInteger counts(1, profiler.NbKnots());
    profiler.KnotsAndMults(knots, counts);
    return new Geom_BSplineSurface(poles, knots, first->Knots(), counts, first->Multiplicities(), profiler.Degree(),
                                   first->Degree());
}

// Flat skins lie on planes, as a flat face should.
TopoDS_Face face_on(const Handle(Geom_BSplineSurface) & surface) {
    const GeomLib_IsPlanarSurface flat(surface, coincidence);
    if (!flat.IsPlanar()) {
        return BRepBuilderAPI_MakeFace(surface, coincidence).Face();
    }
    double u0 = 0;
    double u1 = 0;
    double v0 = 0;
    double v1 = 0;
    surface->Bounds(u0, u1, v0, v1);
    BRepBuilderAPI_MakeWire wire;
    for (const Handle(Geom_Curve) & side :
         {surface->VIso(v0), surface->UIso(u1), surface->VIso(v1), surface->UIso(u0)}) {
        wire.Add(BRepBuilderAPI_MakeEdge(side).Edge());
    }
    return BRepBuilderAPI_MakeFace(flat.Plan(), wire.Wire()).Face();
}

// The flat face over one section's parts.
TopoDS_Face cap(const std::vector<Handle(Geom_BSplineCurve)>& curves, const gp_Ax3& frame) {
    BRepBuilderAPI_MakeWire wire;
    for (const auto& curve : curves) {
        wire.Add(BRepBuilderAPI_MakeEdge(curve).Edge());
    }
    return BRepBuilderAPI_MakeFace(gp_Pln(frame), wire.Wire()).Face();
}

Finding no_skin() {
    return error_finding("loft.failed", "No clean skin runs through these outlines.",
                         "Look whether they cross each other, or add outlines between.");
}

class Loft {
public:
    Loft(const std::vector<LoftSection>& sections, const Lofting& lofting) : sections_(sections), lofting_(lofting) {
        std::vector<gp_Pnt> centers;
        for (const LoftSection& section : sections) {
            centers.push_back(Ring(section, false).center());
        }
        places_.push_back(0);
        for (size_t k = 0; k < sections.size(); ++k) {
            const bool last = k + 1 == sections.size();
            const gp_Vec ahead(centers[last ? k - 1 : k], centers[last ? k : k + 1]);
            const bool backward = !lofting.one_outline && ahead.Dot(gp_Vec(sections[k].frame.Direction())) < 0;
            rings_.emplace_back(sections[k], backward);
            gp_Vec normal(sections[k].frame.Direction());
            normals_.push_back(backward ? normal.Reversed() : normal);
            if (!last) {
                places_.push_back(places_.back() + ahead.Magnitude());
            }
        }
        length_ = places_.back();
    }

    [[nodiscard]] bool apart() const {
        for (size_t k = 1; k < places_.size(); ++k) {
            if (places_[k] - places_[k - 1] < 1e-6) {
                return false;
            }
        }
        return true;
    }

    Result<ShapeWithRoles> make() {
        for (double& place : places_) {
            place /= length_;
        }
        Heading leaves;
        Heading arrives;
        if (lofting_.one_outline) {
            places_ = lofting_.one_outline->places;
            leaves = lofting_.one_outline->leaves;
            arrives = lofting_.one_outline->arrives;
        } else {
            align_all();
            if (lofting_.leaves > 0) {
                leaves = [way = normals_.front() * (lofting_.leaves * length_)](const gp_Pnt&) { return way; };
            }
            if (lofting_.arrives > 0) {
                arrives = [way = normals_.back() * (lofting_.arrives * length_)](const gp_Pnt&) { return way; };
            }
        }
        const auto divisions = divisions_of(rings_);

        BRepBuilderAPI_Sewing sewing(seam_tolerance);
        std::vector<FaceRole> made;
        std::vector<Handle(Geom_BSplineCurve)> first;
        std::vector<Handle(Geom_BSplineCurve)> last;
        const auto add = [&](const TopoDS_Face& face, const std::string& role) {
            sewing.Add(face);
            made.push_back({face, role});
        };
        for (size_t j = 0; j < divisions.front().size(); ++j) {
            std::vector<Handle(Geom_BSplineCurve)> curves;
            std::vector<std::string> labels;
            for (size_t k = 0; k < rings_.size(); ++k) {
                const auto& shares = divisions[k];
                const auto [curve, label] =
                    rings_[k].part(shares[j], j + 1 < shares.size() ? shares[j + 1] : shares.front() + 1);
                curves.push_back(curve);
                labels.push_back(label);
            }
            first.push_back(curves.front());
            last.push_back(curves.back());
            if (!lofting_.straight) {
                add(face_on(skin(curves, places_, leaves, arrives)), "side/c" + labels.front() + "~" + labels.back());
                continue;
            }
            for (size_t k = 1; k < curves.size(); ++k) {
                add(face_on(skin({curves[k - 1], curves[k]}, {0, 1}, {}, {})),
                    "side/c" + labels[k - 1] + "~" + labels[k]);
            }
        }
        add(cap(first, sections_.front().frame), "start");
        add(cap(last, sections_.back().frame), "end");
        sewing.Perform();
        auto result = solid_of(sewing, made);
        if (result && !lofting_.one_outline &&
            (!holds_its_outlines(result->shape) || self_crossing(result->shape) || folded_at(result->shape))) {
            return no_skin();
        }
        return result;
    }

private:
    // The skin runs through every outline that it was given.
    [[nodiscard]] bool holds_its_outlines(const TopoDS_Shape& made) const {
        return std::all_of(sections_.begin(), sections_.end(), [&](const LoftSection& section) {
            return std::all_of(section.loop.begin(), section.loop.end(), [&](const OutlinePiece& piece) {
                const auto at = place_on(piece, 0.37); // anywhere
                const gp_Pnt place = section.frame.Location().Translated(gp_Vec(section.frame.XDirection()) * at[0] +
                                                                         gp_Vec(section.frame.YDirection()) * at[1]);
                return distance_to(made, place) < 10 * seam_tolerance;
            });
        });
    }

    void align_all() {
        const size_t most = static_cast<size_t>(
            std::max_element(rings_.begin(), rings_.end(),
                             [](const Ring& one, const Ring& other) { return one.size() < other.size(); }) -
            rings_.begin());
        for (size_t k = most; k > 0; --k) {
            align(rings_[k - 1], rings_[k]);
        }
        for (size_t k = most + 1; k < rings_.size(); ++k) {
            align(rings_[k], rings_[k - 1]);
        }
    }

    static Result<ShapeWithRoles> solid_of(BRepBuilderAPI_Sewing& sewing, const std::vector<FaceRole>& made) {
        TopoDS_Shape shell = sewing.SewedShape();
        if (shell.IsNull() || shell.ShapeType() != TopAbs_SHELL) {
            return no_skin();
        }
        ShapeWithRoles result;
        result.shape = BRepBuilderAPI_MakeSolid(TopoDS::Shell(shell)).Solid();
        if (volume_of(result.shape) < 0) {
            result.shape.Reverse();
        }
        if (!is_sound(result.shape)) {
            return no_skin();
        }
        for (const FaceRole& role : made) {
            const TopoDS_Shape now = sewing.IsModified(role.face) ? sewing.Modified(role.face) : role.face;
            for (const TopoDS_Shape& face : faces_of(now)) { // straight skins have one for each stage
                result.roles.push_back({face, role.role});
            }
        }
        return result;
    }

    const std::vector<LoftSection>& sections_;
    const Lofting& lofting_;
    std::vector<Ring> rings_;
    std::vector<gp_Vec> normals_;
    std::vector<double> places_; ///< of the sections, along their centres; 0 to 1 in the end
    double length_ = 0;
};

} // namespace

Result<ShapeWithRoles> loft_through(const std::vector<LoftSection>& sections, const Lofting& lofting) {
    if (sections.size() < 2) {
        return error_finding("loft.sections", "A loft needs two outlines or more.",
                             "Choose one region in each of several sketches.");
    }
    try {
        Loft loft(sections, lofting);
        return loft.apart() ? loft.make() : Result<ShapeWithRoles>(no_skin());
    } catch (const Standard_Failure&) {
        return no_skin();
    }
}

} // namespace kervo::geom
