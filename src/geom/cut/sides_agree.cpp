#include "geom/cut/sides_agree.h"

#include "geom/kernel/by_shape.h"
#include "geom/measure/measure.h"

#include <BOPTools_AlgoTools3D.hxx>
#include <BRepAdaptor_Curve.hxx>
#include <BRepClass3d_SolidClassifier.hxx>
#include <BRep_Tool.hxx>
#include <IntTools_Context.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>

#include <algorithm>
#include <memory>
#include <optional>

namespace kervo::geom {

namespace {

// Whether places are inside of solids; each is asked only where its box is.
class Insides {
public:
    explicit Insides(const std::vector<TopoDS_Shape>& solids) : solids_(solids), asked_(solids.size()) {
        for (const TopoDS_Shape& solid : solids) {
            boxes_.push_back(bounds_of(solid));
        }
    }
    /// Nothing on the skin, within `tolerance`.
    std::optional<bool> holds(size_t solid, const gp_Pnt& place, double tolerance) {
        if (boxes_[solid].IsOut(place)) {
            return false;
        }
        if (!asked_[solid]) {
            asked_[solid] = std::make_unique<BRepClass3d_SolidClassifier>(solids_[solid]);
        }
        asked_[solid]->Perform(place, tolerance);
        const TopAbs_State state = asked_[solid]->State();
        return state == TopAbs_IN ? std::optional(true) : state == TopAbs_OUT ? std::optional(false) : std::nullopt;
    }

private:
    const std::vector<TopoDS_Shape>& solids_;
    std::vector<Bnd_Box> boxes_;
    std::vector<std::unique_ptr<BRepClass3d_SolidClassifier>> asked_;
};

struct Sample {
    gp_Pnt place;
    double tolerance; ///< how near to a skin it may be by the looseness of the edges
};

// One place in a face and, where it was not divided, three on each of its edges. (Borders of parts run along what cuts,
// where nobody can tell.)
std::vector<Sample> samples_of(const TopoDS_Face& face, bool divided, const Handle(IntTools_Context) & context) {
    constexpr double least = 1e-5;
    std::vector<Sample> samples;
    gp_Pnt place;
    gp_Pnt2d in_face;
    if (BOPTools_AlgoTools3D::PointInFace(face, place, in_face, context) == 0) {
        samples.push_back({place, least});
    }
    for (TopExp_Explorer it(face, TopAbs_EDGE); !divided && it.More(); it.Next()) {
        const TopoDS_Edge& edge = TopoDS::Edge(it.Current());
        if (BRep_Tool::Degenerated(edge)) {
            continue;
        }
        const BRepAdaptor_Curve curve(edge);
        for (const double share : {0.25, 0.5, 0.75}) {
            const double at = curve.FirstParameter() + share * (curve.LastParameter() - curve.FirstParameter());
            samples.push_back({curve.Value(at), std::max(least, 10 * BRep_Tool::Tolerance(edge))});
        }
    }
    return samples;
}

} // namespace

bool sides_agree(const Fuse& fuse, const std::vector<TopoDS_Shape>& of, const std::vector<TopoDS_Shape>& solids,
                 const Division& division) {
    constexpr size_t small = 40; // faces
    // On borders one place alone is not enough: there the kernel may be wrong itself.
    const auto enough = [](const auto& images) { return images.size() > 1 ? 1 : 2; };
    ByShape<std::vector<size_t>> pieces_at;
    for (size_t i = 0; i < division.pieces.size(); ++i) {
        for (const TopoDS_Shape& face : faces_of(division.pieces[i].shape)) {
            entry(pieces_at, face).push_back(i);
        }
    }
    Handle(IntTools_Context) context = new IntTools_Context;
    Insides insides(solids);
    for (const TopoDS_Shape& body : of) {
        const auto faces = faces_of(body);
        for (const TopoDS_Shape& face : faces) {
            const auto images = fuse.images_of(face);
            if (images.size() < 2 && faces.size() > small) {
                continue;
            }
            for (const TopoDS_Shape& image : images) {
                const auto* here = pieces_at.Seek(image);
                if (here == nullptr) {
                    return false; // the face was divided, and the solid kept the whole
                }
                const auto samples = samples_of(TopoDS::Face(image), images.size() > 1, context);
                for (size_t k = 0; k < solids.size(); ++k) {
                    if (solids[k].IsSame(body) || solids_of(solids[k]).empty()) {
                        continue;
                    }
                    int wrong = 0;
                    for (const Sample& sample : samples) {
                        const auto holds = insides.holds(k, sample.place, sample.tolerance);
                        wrong += holds && std::any_of(here->begin(), here->end(), [&](size_t piece) {
                                     const auto& inside = division.pieces[piece].inside;
                                     return (std::find(inside.begin(), inside.end(), static_cast<int>(k)) !=
                                             inside.end()) != *holds;
                                 });
                    }
                    if (wrong >= enough(images)) {
                        return false;
                    }
                }
            }
        }
    }
    for (const TopoDS_Shape& body : of) {
        if (faces_of(body).size() > small) {
            continue;
        }
        const std::vector<TopoDS_Shape> alone{body};
        Insides own(alone);
        for (const TopoDS_Shape& solid : solids) {
            for (const TopoDS_Shape& face : solid.IsSame(body) ? std::vector<TopoDS_Shape>{} : faces_of(solid)) {
                const auto images = fuse.images_of(face);
                for (const TopoDS_Shape& image : images) {
                    int wrong = 0;
                    const bool has_a_piece = pieces_at.IsBound(image);
                    for (const Sample& sample : has_a_piece
                                                    ? std::vector<Sample>{}
                                                    : samples_of(TopoDS::Face(image), images.size() > 1, context)) {
                        wrong += own.holds(0, sample.place, sample.tolerance) == true;
                    }
                    if (wrong >= enough(images)) {
                        return false;
                    }
                }
            }
        }
    }
    return true;
}

} // namespace kervo::geom
