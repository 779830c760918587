#include "geom/alter/step_faces.h"

#include "geom/alter/alteration.h"
#include "geom/alter/shifted_surfaces.h"
#include "geom/cut/divide.h"
#include "geom/cut/merge_faces.h"
#include "geom/cut/unite.h"
#include "geom/kernel/by_shape.h"
#include "geom/outline/profile.h"

#include <BRepAdaptor_Surface.hxx>
#include <Standard_Failure.hxx>
#include <TopTools_IndexedDataMapOfShapeListOfShape.hxx>
#include <TopoDS.hxx>

#include <algorithm>
#include <cmath>
#include <utility>

namespace kervo::geom {

namespace {

constexpr double square = 1e-7; // sine

gp_Dir out_of(const TopoDS_Shape& face) {
    return plane_of(face)->Axis().Direction();
}

bool stands_along(const TopoDS_Face& face, const gp_Dir& way) {
    const BRepAdaptor_Surface surface(face);
    switch (surface.GetType()) {
    case GeomAbs_Plane:
        return std::fabs(surface.Plane().Axis().Direction().Dot(way)) < square;
    case GeomAbs_Cylinder:
        return surface.Cylinder().Axis().Direction().IsParallel(way, square);
    case GeomAbs_SurfaceOfExtrusion:
        return surface.Direction().IsParallel(way, square);
    default:
        return false;
    }
}

// What the faces sweep, and what its sides were made from.
class Steps {
public:
    Steps(const TopoDS_Shape& body, const std::vector<TopoDS_Face>& faces, const Shift& shift)
        : body_(body), faces_(faces), shift_(shift) {
        TopExp::MapShapesAndUniqueAncestors(body, TopAbs_EDGE, TopAbs_FACE, at_edge_);
        for (const TopoDS_Face& face : faces) {
            chosen_.Bind(face, true);
        }
    }

    /// Whether this is the way to shift them.
    bool plan() {
        const bool rigid = shift_.motion && shift_.motion->Form() != gp_Translation;
        bool any = false;
        for (const TopoDS_Face& face : faces_) {
            if (rigid || !plane_of(face)) {
                return false;
            }
            ways_.push_back(shift_.motion ? gp_Vec(shift_.motion->TranslationPart())
                                          : gp_Vec(out_of(face)) * shift_.outwards);
            rises_.push_back(ways_.back().Dot(gp_Vec(out_of(face))));
            if (std::fabs(rises_.back()) < coincidence || rises_.back() * rises_.front() < 0) {
                return false;
            }
            for (const TopoDS_Shape& edge : edges_of(face)) {
                for (const TopoDS_Shape& other : at_edge_.FindFromKey(edge)) {
                    if (other.IsSame(face)) {
                        continue;
                    }
                    const bool level = plane_of(other) && out_of(other).IsParallel(out_of(face), square);
                    if (level && !chosen_.IsBound(other)) {
                        ++levels_;
                        any = true;
                    } else if (!level &&
                               (chosen_.IsBound(other) || !stands_along(TopoDS::Face(other), gp_Dir(ways_.back())))) {
                        return false;
                    }
                }
            }
        }
        return any;
    }

    Result<Altered> make(Progress& progress) {
        std::vector<TopoDS_Shape> prisms;
        double change = 0;
        for (size_t i = 0; i < faces_.size(); ++i) {
            ProfileFace profile{TopoDS::Face(faces_[i]), {}, gp_Ax3()};
            for (const TopoDS_Shape& edge : edges_of(faces_[i])) {
                profile.curve_of_edge.emplace_back(edge, std::to_string(sources_.size()));
                sources_.push_back(edge);
            }
            const ShapeWithRoles swept = prism_over(profile, ways_[i]);
            for (const FaceRole& role : swept.roles) {
                made_from_.Bind(role.face, role.role == "end"     ? TopoDS_Shape(faces_[i])
                                           : role.role == "start" ? TopoDS_Shape()
                                                                  : sources_[std::stoul(role.role.substr(6))]);
            }
            prisms.push_back(swept.shape);
            change += area_of(faces_[i]) * rises_[i];
        }
        Altered altered;
        const double wanted = volume_of(body_) + change;
        const bool made = rises_.front() > 0 ? add(prisms, altered, progress) : take(prisms, altered, progress);
        if (!made || !is_sound(altered.shape) || std::fabs(volume_of(altered.shape) - wanted) > 1e-7 * wanted) {
            Finding finding = shifting::runs_past();
            add_place(finding, center_of(faces_.front()));
            return finding;
        }
        return altered;
    }

private:
    // Faces that continue each other are cleaned away where these are only what rises beside the walls.
    bool add(const std::vector<TopoDS_Shape>& prisms, Altered& altered, Progress& progress) {
        const PrivateCopy own(body_);
        const size_t cleaned = faces_of(merge_faces(own.shape()).shape).size();
        const bool clean = cleaned + levels_ >= faces_of(body_).size();
        std::vector<TopoDS_Shape> all{body_};
        all.insert(all.end(), prisms.begin(), prisms.end());
        const auto united = unite(all, {clean, false}, progress);
        if (!united) {
            return false;
        }
        altered.shape = united->shape;
        trace(united->origins, altered);
        return true;
    }

    bool take(const std::vector<TopoDS_Shape>& prisms, Altered& altered, Progress& progress) {
        const auto division = divide(body_, prisms, progress);
        if (!division) {
            return false;
        }
        std::vector<TopoDS_Shape> left;
        for (const DividedPiece& piece : division->pieces) {
            if (piece.inside.empty()) {
                left.push_back(piece.shape);
            }
        }
        altered.shape = gather(left);
        trace(division->origins, altered);
        return !left.empty();
    }

    // A face of the body's own, or the one that shifted, else what the wall was made from.
    void trace(std::vector<FaceOrigin> origins, Altered& altered) const {
        const auto source_of = [&](const FaceOrigin& origin) {
            const TopoDS_Shape* from = made_from_.Seek(origin.source);
            return from != nullptr ? *from : origin.source;
        };
        std::erase_if(origins, [&](const FaceOrigin& origin) { return source_of(origin).IsNull(); });
        const auto rank = [&](const FaceOrigin& origin) {
            return !made_from_.IsBound(origin.source) ? 0 : source_of(origin).ShapeType() == TopAbs_FACE ? 1 : 2;
        };
        std::stable_sort(origins.begin(), origins.end(),
                         [&](const FaceOrigin& a, const FaceOrigin& b) { return rank(a) < rank(b); });
        ByShape<bool> known;
        for (const FaceOrigin& origin : origins) {
            if (std::exchange(entry(known, origin.result), true)) {
                continue;
            }
            if (rank(origin) < 2) {
                altered.origins.push_back({origin.result, source_of(origin)});
            } else {
                altered.made.push_back({origin.result, source_of(origin)});
            }
        }
    }

    const TopoDS_Shape& body_;
    const std::vector<TopoDS_Face>& faces_;
    const Shift& shift_;
    TopTools_IndexedDataMapOfShapeListOfShape at_edge_;
    ByShape<bool> chosen_;
    std::vector<gp_Vec> ways_;
    std::vector<double> rises_; // out of the material
    size_t levels_ = 0;         // edges over which a face beside is level and stays
    std::vector<TopoDS_Shape> sources_;
    ByShape<TopoDS_Shape> made_from_; // faces of the prisms: an edge, or the face that shifts
};

} // namespace

std::optional<Result<Altered>> step_faces(const TopoDS_Shape& body, const std::vector<TopoDS_Face>& faces,
                                          const Shift& shift, Progress& progress) try {
    Steps steps(body, faces, shift);
    return steps.plan() ? std::optional(steps.make(progress)) : std::nullopt;
} catch (const Standard_Failure&) {
    return std::nullopt;
}

} // namespace kervo::geom
