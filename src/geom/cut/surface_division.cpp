#include "geom/cut/surface_division.h"

#include "geom/cut/continuing.h"
#include "geom/cut/lines_within.h"
#include "geom/kernel/by_shape.h"
#include "geom/kernel/fuse.h"
#include "geom/kernel/hanging_together.h"
#include "geom/kernel/is_curves.h"
#include "geom/measure/measure.h"

#include <BOPTools_AlgoTools3D.hxx>
#include <BRepClass3d_SolidClassifier.hxx>
#include <BRep_Builder.hxx>
#include <BRep_Tool.hxx>
#include <Bnd_Box.hxx>
#include <GeomAPI_ProjectPointOnSurf.hxx>
#include <Geom_Curve.hxx>
#include <IntTools_Context.hxx>
#include <TopExp_Explorer.hxx>
#include <TopTools_MapOfShape.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Iterator.hxx>
#include <TopoDS_Shell.hxx>
#include <TopoDS_Wire.hxx>

#include <algorithm>
#include <cmath>

namespace kervo::geom {

namespace {

// Which cutters' faces end or pass at which edges.
struct CutEdges {
    struct At {
        int cutter;
        TopoDS_Face face; // of the cutter, as it lies there; null where it is curves
        TopoDS_Edge edge; // of the cutter, then
    };
    ByShape<std::vector<At>> at;

    CutEdges(const Fuse& fuse, const std::vector<TopoDS_Shape>& cutters) {
        for (size_t k = 0; k < cutters.size(); ++k) {
            for (const TopoDS_Shape& face : faces_of(cutters[k])) {
                for (const TopoDS_Shape& image : fuse.images_of(face)) {
                    for (const TopoDS_Shape& edge : edges_of(image)) {
                        entry(at, edge).push_back({static_cast<int>(k), TopoDS::Face(face), {}});
                    }
                }
            }
            if (is_curves(cutters[k])) {
                for (const TopoDS_Shape& edge : edges_of(cutters[k])) {
                    for (const TopoDS_Shape& image : fuse.images_of(edge)) {
                        entry(at, image).push_back({static_cast<int>(k), {}, TopoDS::Edge(edge)});
                    }
                }
            }
        }
    }
};

// Looks from an edge into the part: whether that is in front of the cutter's face.
bool looks_in_front(const TopoDS_Face& part, const TopoDS_Edge& edge, const TopoDS_Face& cutter,
                    const Handle(IntTools_Context) & context) {
    double first = 0;
    double last = 0;
    const Handle(Geom_Curve) curve = BRep_Tool::Curve(edge, first, last);
    const double middle = (first + last) / 2;
    gp_Pnt2d in_part;
    gp_Pnt near;
    BOPTools_AlgoTools3D::PointNearEdge(edge, part, middle, in_part, near, context);
    gp_Dir normal;
    const gp_Pnt on = curve->Value(middle);
    GeomAPI_ProjectPointOnSurf& foot = context->ProjPS(cutter);
    foot.Perform(on);
    if (!foot.IsDone() || foot.NbPoints() == 0) {
        return false;
    }
    double u = 0;
    double v = 0;
    foot.LowerDistanceParameters(u, v);
    BOPTools_AlgoTools3D::GetNormalToSurface(BRep_Tool::Surface(cutter), u, v, normal);
    return (gp_Vec(on, near).Dot(gp_Vec(normal)) > 0) == (cutter.Orientation() != TopAbs_REVERSED);
}

TopoDS_Shape joined(const std::vector<TopoDS_Shape>& faces) {
    if (faces.size() == 1) {
        return faces.front();
    }
    TopoDS_Shell shell;
    const BRep_Builder builder;
    builder.MakeShell(shell);
    for (const TopoDS_Shape& face : faces) {
        builder.Add(shell, face);
    }
    return shell;
}

// Which faces the cutters may reach, by their boxes.
std::vector<bool> reached_by(const std::vector<TopoDS_Shape>& cutters, const std::vector<TopoDS_Shape>& faces,
                             double fuzziness) {
    std::vector<Bnd_Box> boxes;
    Bnd_Box all;
    for (const TopoDS_Shape& cutter : cutters) {
        for (const TopoDS_Shape& part : is_curves(cutter) ? edges_of(cutter) : faces_of(cutter)) {
            boxes.push_back(bounds_of(part));
            boxes.back().Enlarge(fuzziness + coincidence);
            all.Add(boxes.back());
        }
    }
    std::vector<bool> reached;
    for (const TopoDS_Shape& face : faces) {
        const Bnd_Box box = bounds_of(face);
        reached.push_back(!box.IsOut(all) && std::any_of(boxes.begin(), boxes.end(),
                                                         [&](const Bnd_Box& each) { return !each.IsOut(box); }));
    }
    return reached;
}

// Every edge between a face that was left out and one that was not is still there.
bool is_joined(const std::vector<TopoDS_Shape>& faces, const std::vector<bool>& reached,
               const std::vector<TopoDS_Shape>& parts) {
    TopTools_MapOfShape beyond;
    TopTools_MapOfShape now;
    for (size_t i = 0; i < faces.size(); ++i) {
        for (TopExp_Explorer it(faces[i], TopAbs_EDGE); !reached[i] && it.More(); it.Next()) {
            beyond.Add(it.Current());
        }
    }
    for (const TopoDS_Shape& part : parts) {
        for (TopExp_Explorer it(part, TopAbs_EDGE); it.More(); it.Next()) {
            now.Add(it.Current());
        }
    }
    for (size_t i = 0; i < faces.size(); ++i) {
        for (TopExp_Explorer it(faces[i], TopAbs_EDGE); reached[i] && it.More(); it.Next()) {
            if (beyond.Contains(it.Current()) && !now.Contains(it.Current())) {
                return false;
            }
        }
    }
    return true;
}

// A cutter whose line ends within a part is told once.
void note_hanging(const TopoDS_Face& part, const CutEdges& cut_edges, std::vector<Hanging>& hanging) {
    for (const TopoDS_Shape& line : lines_within(part)) {
        const auto* at = cut_edges.at.Seek(line);
        for (size_t i = 0; at != nullptr && i < at->size(); ++i) {
            const int cutter = (*at)[i].cutter;
            if (std::none_of(hanging.begin(), hanging.end(), [&](const auto& each) { return each.cutter == cutter; })) {
                hanging.push_back({cutter, loose_end(line, part)});
            }
        }
    }
}

// Whether a piece lies inside a solid, or in front of a surface that borders it.
bool lies_in(const std::vector<TopoDS_Shape>& faces, const TopoDS_Shape& cutter, int number, const gp_Pnt& inner,
             const CutEdges& cut_edges, const Handle(IntTools_Context) & context) {
    const auto solids = solids_of(cutter);
    if (!solids.empty()) {
        return std::any_of(solids.begin(), solids.end(), [&](const TopoDS_Shape& solid) {
            return BRepClass3d_SolidClassifier(solid, inner, coincidence).State() == TopAbs_IN;
        });
    }
    for (const TopoDS_Shape& face : faces) {
        for (TopExp_Explorer it(face, TopAbs_EDGE); it.More(); it.Next()) { // as they lie there
            const auto* at = cut_edges.at.Seek(it.Current());
            for (size_t n = 0; at != nullptr && n < at->size(); ++n) {
                const auto& [cutting, cutters_face, curve] = (*at)[n];
                const TopoDS_Edge& edge = TopoDS::Edge(it.Current());
                if (cutting == number &&
                    (cutters_face.IsNull() ? runs_along(edge, curve)
                                           : looks_in_front(TopoDS::Face(face), edge, cutters_face, context))) {
                    return true;
                }
            }
        }
    }
    return false;
}

// Only of the faces that are reached; the others stay as they are.
std::optional<Division> divide(const TopoDS_Shape& workpiece, const std::vector<bool>& reached,
                               const std::vector<TopoDS_Shape>& cutters, double fuzziness, Progress& progress) {
    const auto faces = faces_of(workpiece);
    std::vector<TopoDS_Shape> excerpt;
    for (size_t i = 0; i < faces.size(); ++i) {
        if (reached[i]) {
            excerpt.push_back(faces[i]);
        }
    }
    std::vector<TopoDS_Shape> arguments{gather(excerpt)};
    arguments.insert(arguments.end(), cutters.begin(), cutters.end());
    const Fuse fuse(arguments, fuzziness, progress);
    if (!fuse.done()) {
        return std::nullopt;
    }
    Handle(IntTools_Context) context = new IntTools_Context;
    const CutEdges cut_edges(fuse, cutters);
    Division division;
    std::vector<TopoDS_Shape> parts;
    TopTools_MapOfShape seen;
    for (const TopoDS_Shape& face : excerpt) {
        for (const TopoDS_Face& part : fuse.parts_like(TopoDS::Face(face))) {
            if (seen.Add(part)) {
                note_hanging(part, cut_edges, division.hanging);
                parts.push_back(without_lines_within(part));
                division.origins.push_back({parts.back(), face});
            }
        }
    }
    if (!is_joined(faces, reached, parts)) {
        return std::nullopt;
    }
    for (size_t i = 0; i < faces.size(); ++i) {
        if (!reached[i]) {
            parts.push_back(faces[i]);
            division.origins.push_back({faces[i], faces[i]});
        }
    }
    double total = 0;
    const auto uncut = [&](const TopoDS_Shape& edge) { return !cut_edges.at.IsBound(edge); };
    for (const auto& group : hanging_together(parts, TopAbs_EDGE, uncut)) {
        DividedPiece piece{joined(group), {}, 0, {}};
        piece.volume = area_of(piece.shape);
        piece.center = centroid_of(piece.shape);
        total += piece.volume;
        gp_Pnt inner;
        gp_Pnt2d inner_in_face;
        BOPTools_AlgoTools3D::PointInFace(TopoDS::Face(group.front()), inner, inner_in_face, context);
        for (size_t k = 0; k < cutters.size(); ++k) {
            if (lies_in(group, cutters[k], static_cast<int>(k), inner, cut_edges, context)) {
                piece.inside.push_back(static_cast<int>(k));
            }
        }
        division.pieces.push_back(std::move(piece));
    }
    division.workpiece_volume = area_of(workpiece);
    division.imbalance = std::fabs(total - division.workpiece_volume) / division.workpiece_volume;
    return division.imbalance <= balance_tolerance ? std::optional(std::move(division)) : std::nullopt;
}

} // namespace

std::optional<Division> divide_surface(const TopoDS_Shape& workpiece, const std::vector<TopoDS_Shape>& cutters,
                                       double fuzziness, Progress& progress) {
    const auto faces = faces_of(workpiece);
    const auto reached = reached_by(cutters, faces, fuzziness);
    const auto count = std::count(reached.begin(), reached.end(), true);
    if (count > 0 && count < std::ssize(reached)) {
        if (auto division = divide(workpiece, reached, cutters, fuzziness, progress)) {
            return division;
        }
    }
    return divide(workpiece, std::vector<bool>(faces.size(), true), cutters, fuzziness, progress);
}

} // namespace kervo::geom
