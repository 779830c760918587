#include "geom/kernel/box_pairs.h"

#include "geom/surface/sew.h"

#include "geom/kernel/by_shape.h"
#include "geom/kernel/finding_place.h"
#include "geom/kernel/private_copy.h"
#include "geom/kernel/tolerances.h"
#include "geom/measure/measure.h"
#include "geom/measure/pick.h"
#include "geom/surface/assemble.h"
#include "geom/surface/match_borders.h"

#include <BOPTools_AlgoTools3D.hxx>
#include <BRepAdaptor_Curve.hxx>
#include <BRepBuilderAPI_MakeSolid.hxx>
#include <BRepBuilderAPI_Sewing.hxx>
#include <BRepClass3d_SolidClassifier.hxx>
#include <BRep_Builder.hxx>
#include <BRep_Tool.hxx>
#include <Bnd_Box.hxx>
#include <IntTools_Context.hxx>
#include <Standard_Failure.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Solid.hxx>

#include <algorithm>
#include <cmath>

namespace kervo::geom {

namespace {

constexpr double no_gap = 1e-6; // mm

Finding failed() {
    return error_finding("sew.failed", "These surfaces could not be sewn.",
                         "Choose another tolerance, or sew fewer at once.");
}

// A border that was left loose though it lies along another edge, and its face.
struct Loose {
    TopoDS_Edge edge;
    TopoDS_Shape face;
    bool branches = false; // the other edge has two faces already
};

bool lies_along(const TopoDS_Edge& one, const TopoDS_Edge& other, double tolerance) {
    const BRepAdaptor_Curve curve(one);
    for (const double share : {0.0, 0.25, 0.5, 0.75, 1.0}) {
        const double t = curve.FirstParameter() + share * (curve.LastParameter() - curve.FirstParameter());
        if (distance_to(other, curve.Value(t)) > tolerance) {
            return false;
        }
    }
    return true;
}

std::vector<Loose> loose_borders(const std::vector<TopoDS_Shape>& faces, const std::vector<Border>& open,
                                 double tolerance) {
    ByShape<std::vector<TopoDS_Shape>> faces_at;
    std::vector<TopoDS_Edge> edges;
    std::vector<Box> boxes;
    for (const TopoDS_Shape& face : faces) {
        for (const TopoDS_Shape& edge : edges_of(face)) {
            auto& here = entry(faces_at, edge);
            if (here.empty()) {
                edges.push_back(TopoDS::Edge(edge));
                boxes.push_back(box_within(bounds_of(edge)));
            }
            here.push_back(face);
        }
    }
    std::vector<TopoDS_Edge> free;
    std::vector<Box> around;
    for (const Border& border : open) {
        for (const TopoDS_Edge& edge : border.edges) {
            Bnd_Box box = bounds_of(edge);
            box.Enlarge(tolerance);
            free.push_back(edge);
            around.push_back(box_within(box));
        }
    }
    std::vector<Loose> all;
    each_meeting_pair(around, boxes, [&](size_t one, size_t other) {
        if (!edges[other].IsSame(free[one]) && lies_along(free[one], edges[other], tolerance)) {
            all.push_back({free[one], faces_at.Find(free[one]).front(), faces_at.Find(edges[other]).size() > 1});
        }
    });
    return all;
}

// Whether some border comes as near to another as that, beside the vertices that they share.
bool nearly_match(const std::vector<Border>& open, double tolerance) {
    std::vector<std::pair<TopoDS_Edge, Bnd_Box>> edges;
    for (const Border& border : open) {
        for (const TopoDS_Edge& edge : border.edges) {
            edges.emplace_back(edge, bounds_of(edge));
            edges.back().second.Enlarge(tolerance);
        }
    }
    std::vector<Box> boxes;
    std::transform(edges.begin(), edges.end(), std::back_inserter(boxes),
                   [](const auto& each) { return box_within(each.second); });
    bool near = false;
    each_meeting_pair(boxes, [&](size_t one, size_t other) {
        for (const auto& [i, k] : {std::pair(one, other), std::pair(other, one)}) {
            const BRepAdaptor_Curve curve(edges[i].first);
            for (const double share : {0.2, 0.5, 0.8}) {
                const double t = curve.FirstParameter() + share * (curve.LastParameter() - curve.FirstParameter());
                near = near || distance_to(edges[k].first, curve.Value(t)) < tolerance;
            }
        }
    });
    return near;
}

// What is wrong with it as a surface.
std::optional<Finding> flaw_of(const std::vector<TopoDS_Shape>& faces, const Assembled& made, double tolerance) {
    Finding doubled = error_finding("sew.doubled", "A face lies on another one here, with the same borders.",
                                    "Take one of the two off.");
    Finding branches = error_finding("sew.branches", "More than two faces meet in an edge here.",
                                     "Take off what is too much; a surface has two sides everywhere.");
    for (const TopoDS_Edge& edge : branching_edges(made.shape)) {
        add_place(branches, center_of(edge));
    }
    for (const Loose& loose : loose_borders(faces, free_borders(made.shape), tolerance)) {
        const gp_Pnt inside = places_on(TopoDS::Face(loose.face)).front();
        const bool on_another = std::any_of(faces.begin(), faces.end(), [&](const TopoDS_Shape& face) {
            return !face.IsSame(loose.face) && distance_to(face, inside) < tolerance;
        });
        if (on_another) {
            add_place(doubled, inside);
        } else if (loose.branches) {
            add_place(branches, center_of(loose.edge));
        }
    }
    if (!doubled.places.empty()) {
        return doubled;
    }
    if (!branches.places.empty()) {
        return branches;
    }
    if (made.one_sided) {
        return error_finding("sew.one_sided", "This surface comes back to itself turned over: it has no two sides.",
                             "Leave one of its faces out.");
    }
    return std::nullopt;
}

gp_Pnt place_in(const TopoDS_Shape& shape) {
    const Handle(IntTools_Context) context = new IntTools_Context;
    gp_Pnt inner;
    gp_Pnt2d in_face;
    BOPTools_AlgoTools3D::PointInFace(TopoDS::Face(faces_of(shape).front()), inner, in_face, context);
    return inner;
}

// The solid that a closed shell encloses.
TopoDS_Solid solid_in(const TopoDS_Shell& shell) {
    TopoDS_Solid solid = BRepBuilderAPI_MakeSolid(shell).Solid();
    return volume_of(solid) < 0 ? BRepBuilderAPI_MakeSolid(TopoDS::Shell(shell.Reversed())).Solid() : solid;
}

} // namespace

Result<Sewn> sew(const std::vector<TopoDS_Shape>& surfaces, double tolerance, Progress& progress) try {
    const PrivateCopy own(gather(surfaces));
    const Matched matched = match_borders(own.shape(), std::min(tolerance, no_gap));
    Sewn sewn;
    std::vector<TopoDS_Shape> faces;
    const auto add = [&](const TopoDS_Shape& now, const TopoDS_Shape& source) {
        for (const TopoDS_Shape& face : faces_of(now)) {
            faces.push_back(face);
            sewn.origins.push_back({face, own.original(source)});
        }
    };
    if (nearly_match(free_borders(matched.shape), tolerance)) {
        BRepBuilderAPI_Sewing sewing(tolerance);
        for (const FaceOrigin& origin : matched.origins) {
            sewing.Add(origin.result);
        }
        sewing.Perform();
        for (const auto& [face, source] : matched.origins) {
            add(sewing.IsModified(face) ? sewing.Modified(face) : face, source);
        }
    } else {
        for (const auto& [face, source] : matched.origins) {
            add(face, source);
        }
    }
    if (progress.cancelled()) {
        return error_finding("divide.cancelled", "Stopped.", "");
    }
    const Assembled made = assembled(faces);
    if (auto flaw = flaw_of(faces, made, tolerance)) {
        return std::move(*flaw);
    }
    sewn.shape = made.shape;
    tighten_tolerances(sewn.shape);
    const double before = area_of(gather(surfaces));
    if (std::fabs(area_of(sewn.shape) - before) > before * 1e-7 + tolerance * length_of(gather(surfaces))) {
        return failed();
    }
    ByShape<int> uses;
    for (const TopoDS_Shape& face : faces) {
        for (const TopoDS_Shape& edge : edges_of(face)) {
            ++entry(uses, edge);
        }
    }
    for (ByShape<int>::Iterator it(uses); it.More(); it.Next()) {
        const double width = BRep_Tool::Tolerance(TopoDS::Edge(it.Key()));
        if (it.Value() == 2 && width > no_gap) {
            sewn.gaps.push_back({width, center_of(it.Key())});
        }
    }
    std::sort(sewn.gaps.begin(), sewn.gaps.end(), [](const auto& a, const auto& b) { return a.width > b.width; });
    sewn.open = free_borders(sewn.shape);
    return sewn;
} catch (const Standard_Failure&) {
    return failed();
}

std::vector<Sewn::Gap> gaps_between(const std::vector<Border>& open, double reach) {
    std::vector<TopoDS_Shape> edges;
    for (const Border& border : open) {
        edges.insert(edges.end(), border.edges.begin(), border.edges.end());
    }
    std::vector<Sewn::Gap> gaps;
    for (size_t i = 0; i < edges.size(); ++i) {
        const gp_Pnt middle = center_of(edges[i]);
        for (size_t k = 0; k < edges.size(); ++k) {
            const double width = i == k ? reach : distance_to(edges[k], middle);
            if (width < reach) {
                gaps.push_back({width, middle});
                break;
            }
        }
    }
    std::sort(gaps.begin(), gaps.end(), [](const auto& a, const auto& b) { return a.width > b.width; });
    return gaps;
}

Merged side_by_side(const std::vector<TopoDS_Shape>& parts) {
    const PrivateCopy own(assembled(parts).shape);
    Merged merged = merge_faces(own.shape());
    for (FaceOrigin& origin : merged.origins) {
        origin.source = own.original(origin.source);
    }
    return merged;
}

Result<TopoDS_Shape> solids_within(const TopoDS_Shape& closed) {
    if (const auto open = free_borders(closed); !open.empty()) {
        Finding finding = error_finding("sew.no_solid",
                                        open.size() == 1 ? "It is open here, so it encloses nothing and is no solid."
                                                         : "It is open in " + std::to_string(open.size()) +
                                                               " places, so it encloses nothing and "
                                                               "is no solid.",
                                        "Close its borders, or leave it a surface.");
        for (const Border& border : open) {
            add_place(finding, center_of(border.edges.front()));
        }
        return finding;
    }
    std::vector<TopoDS_Shape> parts =
        closed.ShapeType() == TopAbs_COMPOUND ? std::vector<TopoDS_Shape>{} : std::vector<TopoDS_Shape>{closed};
    if (parts.empty()) {
        for (TopoDS_Iterator it(closed); it.More(); it.Next()) {
            parts.push_back(it.Value());
        }
    }
    std::vector<TopoDS_Solid> solids;
    for (const TopoDS_Shape& part : parts) {
        solids.push_back(solid_in(closed_shell(part)));
    }
    std::vector<std::vector<size_t>> around(solids.size()); // which others each lies in
    for (size_t i = 0; i < solids.size(); ++i) {
        const gp_Pnt place = place_in(solids[i]);
        for (size_t k = 0; k < solids.size(); ++k) {
            if (i != k && BRepClass3d_SolidClassifier(solids[k], place, coincidence).State() == TopAbs_IN) {
                around[i].push_back(k);
            }
        }
    }
    const BRep_Builder builder;
    std::vector<TopoDS_Shape> lumps;
    for (size_t i = 0; i < solids.size(); ++i) {
        if (around[i].size() % 2 != 0) {
            continue; // a void
        }
        TopoDS_Solid lump = solids[i];
        for (size_t k = 0; k < solids.size(); ++k) {
            const bool within = std::find(around[k].begin(), around[k].end(), i) != around[k].end();
            if (within && around[k].size() == around[i].size() + 1) {
                for (TopoDS_Iterator shell(solids[k]); shell.More(); shell.Next()) {
                    builder.Add(lump, shell.Value().Reversed());
                }
            }
        }
        lumps.push_back(lump);
    }
    return gather(lumps);
}

} // namespace kervo::geom
