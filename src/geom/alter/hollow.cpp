#include "geom/alter/hollow.h"

#include "geom/alter/alteration.h"
#include "geom/alter/largest_fit.h"
#include "geom/cut/unite.h"
#include "geom/kernel/by_shape.h"
#include "geom/kernel/face_foot.h"
#include "geom/kernel/inset.h"
#include "geom/kernel/tolerances.h"
#include "geom/measure/pick.h"
#include "geom/outline/profile.h"

#include <BRepBuilderAPI_MakeSolid.hxx>
#include <BRepClass3d_SolidClassifier.hxx>
#include <BRepPrimAPI_MakePrism.hxx>
#include <BRep_Tool.hxx>
#include <Bnd_Box.hxx>
#include <Standard_Failure.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Shell.hxx>

#include <algorithm>
#include <cmath>

namespace kervo::geom {

namespace {

constexpr double offset_tolerance = 1e-5; // mm

// Makes insets of one solid, and knows why there was none.
class Insets {
public:
    Insets(const TopoDS_Shape& solid, double thickness, const std::vector<WallThickness>& own, Progress& progress)
        : solid_(solid), thickness_(thickness), progress_(progress) {
        const auto faces = faces_of(solid);
        for (const WallThickness& wall : own) {
            const auto at = std::find_if(faces.begin(), faces.end(),
                                         [&](const TopoDS_Shape& face) { return face.IsSame(wall.face); });
            if (at != faces.end()) {
                own_[static_cast<size_t>(at - faces.begin())] = wall.thickness;
            }
        }
    }

    /// The offset of all faces inwards, as a solid; nothing where the kernel makes none, or nonsense.
    std::optional<Core> make(double scale, double seconds, int order = 0) {
        auto sharp = make(scale, seconds, Corners::sharp, order);
        return sharp ? sharp : make(scale, seconds, Corners::round, order);
    }
    [[nodiscard]] bool without_helper() const { return without_helper_; }
    [[nodiscard]] bool never_ended() const { return never_ended_; }

private:
    std::optional<Core> make(double scale, double seconds, Corners corners, int order) {
        InsetTask task{solid_, thickness_ * scale, own_, corners, order};
        for (auto& [face, thickness] : task.own) {
            thickness *= scale;
        }
        const auto [end, inset] = make_inset(task, seconds, progress_);
        without_helper_ = without_helper_ || end == InsetEnd::no_helper;
        never_ended_ = never_ended_ || end == InsetEnd::never_ends;
        try {
            return end == InsetEnd::done ? sound_core(inset) : std::nullopt;
        } catch (const Standard_Failure&) {
            return std::nullopt;
        }
    }

    [[nodiscard]] std::optional<Core> sound_core(const Inset& inset) const {
        Core core;
        core.shape = inset.shape;
        if (core.shape.ShapeType() == TopAbs_SHELL) {
            core.shape = BRepBuilderAPI_MakeSolid(TopoDS::Shell(core.shape)).Solid();
        }
        tighten_tolerances(core.shape);
        if (!is_sound(core.shape) || volume_of(core.shape) >= volume_of(solid_)) {
            return std::nullopt;
        }
        // Walls that are thicker than the body turn inside out and lie anywhere.
        BRepClass3d_SolidClassifier within(solid_);
        for (const TopoDS_Shape& vertex : vertices_of(core.shape)) {
            within.Perform(BRep_Tool::Pnt(TopoDS::Vertex(vertex)), offset_tolerance);
            if (within.State() != TopAbs_IN) {
                return std::nullopt;
            }
        }
        auto sources = faces_of(solid_);
        const auto edges = edges_of(solid_);
        sources.insert(sources.end(), edges.begin(), edges.end());
        for (const Inset::Made& made : inset.made) {
            core.made.push_back({made.face, sources.at(made.source)});
        }
        return core;
    }

    TopoDS_Shape solid_;
    double thickness_;
    std::map<size_t, double> own_;
    Progress& progress_;
    bool without_helper_ = false;
    bool never_ended_ = false;
};

} // namespace

namespace {

// Measures the walls from inside, at places spread over every face of the core: no place is nearer to a wall's outside
// than that wall is thick, and each is as far from the face along which it runs. Where it is not so, that place.
std::optional<gp_Pnt> thin_place(const TopoDS_Shape& solid, const Core& core, double thickness,
                                 const std::vector<WallThickness>& own, const std::vector<TopoDS_Face>& open) {
    const auto among = [](const auto& all, const TopoDS_Shape& face) {
        return std::any_of(all.begin(), all.end(), [&](const TopoDS_Shape& each) { return each.IsSame(face); });
    };
    const auto wall_of = [&](const TopoDS_Shape& face) {
        for (const WallThickness& wall : own) {
            if (wall.face.IsSame(face)) {
                return wall.thickness;
            }
        }
        return thickness;
    };
    std::vector<std::pair<TopoDS_Shape, Bnd_Box>> outside;
    for (const TopoDS_Shape& face : faces_of(solid)) {
        if (!among(open, face)) {
            outside.emplace_back(face, bounds_of(face));
        }
    }
    for (const Core::Made& made : core.made) {
        if (made.source.IsNull()) {
            continue;
        }
        for (const gp_Pnt& place : places_on(TopoDS::Face(made.face))) {
            for (const auto& [face, box] : outside) {
                const double wall = wall_of(face);
                const double slack = 1e-4 + 1e-6 * wall;
                Bnd_Box reach;
                reach.Add(place);
                reach.Enlarge(wall - slack);
                if (!reach.IsOut(box) && distance_to(face, place) < wall - slack) {
                    return place;
                }
                if (made.source.IsSame(face)) {
                    const auto foot = foot_on(TopoDS::Face(face), place);
                    if (!foot || std::fabs(foot->distance - wall) > slack) {
                        return place;
                    }
                }
            }
        }
    }
    return std::nullopt;
}

// The core, on up to the faces that are left open.
Result<Core> opened(Core core, const std::vector<TopoDS_Face>& open, Progress& progress) {
    std::vector<TopoDS_Shape> parts{core.shape};
    std::vector<Core::Made> known = core.made;
    for (const TopoDS_Face& face : open) {
        const gp_Pln plane = *plane_of(face);
        const gp_Vec out(plane.Axis().Direction());
        for (const Core::Made& made : core.made) {
            if (!made.source.IsSame(face)) {
                continue;
            }
            // No farther than the open face: what lies beyond it is no wall of this opening.
            BRepPrimAPI_MakePrism prism(made.face, out * plane.Distance(center_of(made.face)));
            parts.push_back(prism.Shape());
            for (const TopoDS_Shape& side : faces_of(prism.Shape())) {
                if (!side.IsSame(made.face)) {
                    known.push_back({side, {}});
                }
            }
        }
    }
    const auto united = unite(parts, {}, progress);
    if (!united) {
        return united.finding();
    }
    ByShape<TopoDS_Shape> source_of;
    for (const Core::Made& made : known) {
        source_of.Bind(made.face, made.source);
    }
    core.shape = united->shape;
    core.made.clear();
    ByShape<TopoDS_Shape> told;
    for (const FaceOrigin& origin : united->origins) { // of several, what runs along the body says more
        if (const auto* source = source_of.Seek(origin.source);
            source != nullptr && (!told.IsBound(origin.result) || told.Find(origin.result).IsNull())) {
            told.Bind(origin.result, *source);
        }
    }
    for (const TopoDS_Shape& face : faces_of(core.shape)) {
        if (const auto* source = told.Seek(face)) {
            core.made.push_back({face, *source});
        }
    }
    return core;
}

} // namespace

Result<Core> core_of(const TopoDS_Shape& solid, double thickness, const std::vector<WallThickness>& own,
                     const std::vector<TopoDS_Face>& open, Progress& progress) {
    for (const TopoDS_Face& face : open) {
        if (!plane_of(face)) {
            Finding finding =
                error_finding("hollow.curved_opening", "This face is curved; only flat faces can be left open.",
                              "Take it off the list, and cut the opening by a step of its own.");
            add_place(finding, center_of(face));
            return finding;
        }
    }
    constexpr double patience = 10; // seconds of processor time
    constexpr double patience_for_hints = 5;
    Insets insets(solid, thickness, own, progress);
    std::optional<Core> core;
    std::optional<gp_Pnt> thin;
    constexpr int orders = 3;
    for (int order = 0; order < orders && (!core || thin) && !insets.never_ended() && !progress.cancelled(); ++order) {
        if (auto made = insets.make(1, patience, order)) {
            thin = thin_place(solid, *made, thickness, own, open);
            core = std::move(made);
        }
    }
    if (insets.without_helper()) {
        return error_finding("hollow.no_helper", "kervo-reader is missing beside Kervo, which makes walls by it.",
                             "Install Kervo anew.");
    }
    if (!core) {
        const auto works = [&](double share) {
            return !progress.cancelled() && !insets.never_ended() && insets.make(share, patience_for_hints).has_value();
        };
        constexpr double hardly_any = 1.0 / 64; // where that fails, no size helps
        const double fits = works(hardly_any) ? largest_share(6, works) : 0;
        if (fits <= 0) {
            return error_finding("hollow.failed", "No walls of this thickness can be made along these faces.",
                                 "Choose another thickness, or round and bevel the edges after it is hollow.");
        }
        Finding finding =
            error_finding("hollow.too_thick", "Walls so thick do not fit; about " + fitting(fits * thickness) + " do.",
                          "Choose thinner walls.");
        if (own.empty()) {
            finding.offers.push_back(offer_of_size(fits * thickness));
        }
        return finding;
    }
    if (thin) {
        Finding finding = error_finding("hollow.failed", "A wall would be thinner or thicker here than it should be.",
                                        "Choose another thickness, or hollow the body before it is cut here.");
        add_place(finding, *thin);
        return finding;
    }
    return opened(std::move(*core), open, progress);
}

} // namespace kervo::geom
