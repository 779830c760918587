#include "geom/alter/blend.h"

#include "geom/alter/alteration.h"
#include "geom/alter/largest_fit.h"
#include "geom/kernel/tolerances.h"
#include "geom/measure/measure.h"
#include "geom/measure/pick.h"

#include <BRepAdaptor_Curve.hxx>
#include <BRepFilletAPI_MakeChamfer.hxx>
#include <BRepFilletAPI_MakeFillet.hxx>
#include <BRep_Tool.hxx>
#include <GeomAPI_ProjectPointOnSurf.hxx>
#include <GeomLProp_SLProps.hxx>
#include <Standard_Failure.hxx>
#include <TColgp_Array1OfPnt2d.hxx>
#include <TopExp.hxx>
#include <TopTools_IndexedDataMapOfShapeListOfShape.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Vertex.hxx>

#include <algorithm>
#include <cmath>

namespace kervo::geom {

namespace {

using EdgeFaces = TopTools_IndexedDataMapOfShapeListOfShape;
constexpr int samples = 17;         // along an edge whose radius changes
constexpr double flat_angle = 1e-4; // rad; the kernel takes less for a smooth border

std::vector<TopoDS_Face> faces_at(const EdgeFaces& map, const TopoDS_Edge& edge) {
    std::vector<TopoDS_Face> beside;
    if (const auto* found = map.Seek(edge)) {
        for (const TopoDS_Shape& face : *found) {
            beside.push_back(TopoDS::Face(face));
        }
    }
    return beside;
}

std::optional<gp_Vec> normal_along(const TopoDS_Edge& edge, const TopoDS_Face& face, double parameter) {
    double first = 0;
    double last = 0;
    const Handle(Geom2d_Curve) flat = BRep_Tool::CurveOnSurface(edge, face, first, last);
    if (flat.IsNull()) {
        return std::nullopt;
    }
    const gp_Pnt2d at = flat->Value(parameter);
    GeomLProp_SLProps local(BRep_Tool::Surface(face), at.X(), at.Y(), 1, 1e-9);
    if (!local.IsNormalDefined()) {
        return std::nullopt;
    }
    const gp_Vec normal(local.Normal());
    return face.Orientation() == TopAbs_REVERSED ? -normal : normal;
}

std::optional<gp_Vec> normal_at(const TopoDS_Face& face, const gp_Pnt& place) {
    const GeomAPI_ProjectPointOnSurf foot(place, BRep_Tool::Surface(face));
    if (foot.NbPoints() == 0) {
        return std::nullopt;
    }
    double u = 0;
    double v = 0;
    foot.LowerDistanceParameters(u, v);
    GeomLProp_SLProps local(BRep_Tool::Surface(face), u, v, 1, 1e-9);
    return local.IsNormalDefined() ? std::optional(gp_Vec(local.Normal())) : std::nullopt;
}

// By how much the outside turns from one face to the other, rad: 0 where they are smooth, a right angle at a box.
double turn_at(const TopoDS_Edge& edge, const std::vector<TopoDS_Face>& beside, double fraction) {
    const BRepAdaptor_Curve curve(edge);
    const double at = curve.FirstParameter() + fraction * (curve.LastParameter() - curve.FirstParameter());
    const auto one = normal_along(edge, beside.front(), at);
    const auto other = normal_along(edge, beside.back(), at);
    return one && other ? one->Angle(*other) : 0;
}

gp_Pnt middle_of(const TopoDS_Edge& edge) {
    const BRepAdaptor_Curve curve(edge);
    return curve.Value((curve.FirstParameter() + curve.LastParameter()) / 2);
}

Finding failed(const std::string& what) {
    return error_finding("blend.failed", "These edges cannot be " + what + " by this size.",
                         "Choose another size, or fewer edges.");
}

// What became of the solid's faces, edges and vertices.
template <class Maker> void take_over(Maker& maker, const TopoDS_Shape& solid, Altered& altered) {
    TopTools_IndexedMapOfShape present;
    TopExp::MapShapes(maker.Shape(), TopAbs_FACE, present);
    for (const TopoDS_Shape& face : faces_of(solid)) {
        const TopTools_ListOfShape& modified = maker.Modified(face);
        for (const TopoDS_Shape& now : modified) {
            if (present.Contains(now)) {
                altered.origins.push_back({now, face});
            }
        }
        if (modified.IsEmpty() && present.Contains(face)) {
            altered.origins.push_back({face, face});
        }
    }
    auto sources = edges_of(solid);
    const auto vertices = vertices_of(solid);
    sources.insert(sources.end(), vertices.begin(), vertices.end());
    for (const TopoDS_Shape& source : sources) {
        for (const TopoDS_Shape& face : maker.Generated(source)) {
            if (face.ShapeType() == TopAbs_FACE && present.Contains(face)) {
                altered.made.push_back({face, source});
            }
        }
    }
}

// New faces that reach beyond the body are nonsense.
bool are_within(const std::vector<Altered::Made>& made, const TopoDS_Shape& solid) {
    constexpr double slack = 1e-3; // mm; boxes of curved faces are as loose as that
    const auto outer = rough_box_of(solid);
    for (const auto& each : made) {
        const auto inner = box_of(each.face);
        for (size_t i = 0; i < 3; ++i) {
            if (inner[i] < outer[i] - slack || inner[i + 3] > outer[i + 3] + slack) {
                return false;
            }
        }
    }
    return true;
}

// A ball of this radius rolls along the round of an edge: at a few of its places, the middle of the ball is as far from
// both faces beside the edge.
bool is_rolled(const Altered::Made& made, double radius, const EdgeFaces& map) {
    const TopoDS_Face& round = TopoDS::Face(made.face);
    const double slack = 1e-3 * (1 + radius);
    auto places = places_on(round);
    places.resize(std::min<size_t>(places.size(), 3));
    const auto away = [](const TopoDS_Face& face, const gp_Pnt& place) {
        const GeomAPI_ProjectPointOnSurf foot(place, BRep_Tool::Surface(face));
        return foot.NbPoints() > 0 ? foot.LowerDistance() : -1;
    };
    const auto beside = faces_at(map, TopoDS::Edge(made.source));
    return std::all_of(places.begin(), places.end(), [&](const gp_Pnt& place) {
        const auto normal = normal_at(round, place);
        const auto fits = [&](double way) {
            const gp_Pnt middle = place.Translated(*normal * way);
            return std::all_of(beside.begin(), beside.end(),
                               [&](const TopoDS_Face& face) { return std::fabs(away(face, middle) - radius) < slack; });
        };
        return normal && (fits(radius) || fits(-radius));
    });
}

// What the maker made of one solid of the body; false where that is nothing, or nonsense: where `proven`, a function of
// each new face, says so.
template <class Maker, class Proven>
bool apply(Maker& maker, const TopoDS_Shape& solid, Altered& blended, std::vector<TopoDS_Shape>& solids,
           Proven&& proven) {
    maker.Build();
    if (!maker.IsDone()) {
        return false;
    }
    tighten_tolerances(maker.Shape());
    if (!is_sound_after(solid, maker.Shape())) {
        return false;
    }
    Altered here;
    take_over(maker, solid, here);
    if (!are_within(here.made, solid) || !std::all_of(here.made.begin(), here.made.end(), proven)) {
        return false;
    }
    blended.origins.insert(blended.origins.end(), here.origins.begin(), here.origins.end());
    blended.made.insert(blended.made.end(), here.made.begin(), here.made.end());
    const auto made = solids_of(maker.Shape());
    solids.insert(solids.end(), made.begin(), made.end());
    return true;
}

// Radii straight along a chain, from the size at one end to that at the other.
bool set_growing(BRepFilletAPI_MakeFillet& maker, int contour, const RoundedEdge& wanted, double scale) {
    double from = wanted.size * scale;
    double to = *wanted.end_size * scale;
    if (maker.Closed(contour)) {
        return false;
    }
    if (!wanted.from.IsNull()) {
        if (wanted.from.IsSame(maker.LastVertex(contour))) {
            std::swap(from, to);
        } else if (!wanted.from.IsSame(maker.FirstVertex(contour))) {
            return false;
        }
    }
    const double length = maker.Length(contour);
    double before = 0;
    for (int i = 1; i <= maker.NbEdges(contour); ++i) {
        const double after = before + length_of(maker.Edge(contour, i));
        // By two values the kernel lets it grow slowly at first and at last; by many it follows.
        TColgp_Array1OfPnt2d radii(1, samples);
        for (int k = 0; k < samples; ++k) {
            const double along = static_cast<double>(k) / (samples - 1);
            radii.SetValue(k + 1, {along, from + (to - from) * (before + along * (after - before)) / length});
        }
        maker.SetRadius(radii, contour, i);
        before = after;
    }
    return true;
}

// The radius that makes the round so wide, which follows the angle of the edge: chord = 2 r sin(turn / 2).
void set_width(BRepFilletAPI_MakeFillet& maker, int contour, const EdgeFaces& map, double width) {
    for (int i = 1; i <= maker.NbEdges(contour); ++i) {
        const TopoDS_Edge& edge = maker.Edge(contour, i);
        const auto beside = faces_at(map, edge);
        TColgp_Array1OfPnt2d radii(1, samples);
        double least = 1e100;
        double most = 0;
        for (int k = 0; k < samples; ++k) {
            const double along = static_cast<double>(k) / (samples - 1);
            const bool turned = edge.Orientation() == TopAbs_REVERSED;
            const double turn = std::max(turn_at(edge, beside, turned ? 1 - along : along), flat_angle);
            const double radius = width / 2 / std::sin(turn / 2);
            radii.SetValue(k + 1, gp_Pnt2d(along, radius));
            least = std::min(least, radius);
            most = std::max(most, radius);
        }
        if (most - least < 1e-9 * most) {
            maker.SetRadius(most, contour, i);
        } else {
            maker.SetRadius(radii, contour, i);
        }
    }
}

enum class Outcome { done, open_end, failed };

Outcome round_solid(const TopoDS_Shape& solid, const std::vector<RoundedEdge>& edges, double scale, Altered& blended,
                    std::vector<TopoDS_Shape>& solids, Finding* finding) {
    EdgeFaces map;
    TopExp::MapShapesAndAncestors(solid, TopAbs_EDGE, TopAbs_FACE, map);
    try {
        BRepFilletAPI_MakeFillet maker(solid);
        std::map<int, double> radii; ///< of contours whose radius is the same all along
        for (const RoundedEdge& wanted : edges) {
            if (maker.Contour(wanted.edge) != 0) {
                continue; // came along with another
            }
            maker.Add(wanted.edge);
            const int contour = maker.Contour(wanted.edge);
            if (contour == 0) {
                return Outcome::failed;
            }
            if (wanted.end_size) {
                if (!set_growing(maker, contour, wanted, scale)) {
                    if (finding != nullptr) {
                        add_place(*finding, middle_of(wanted.edge));
                    }
                    return Outcome::open_end;
                }
            } else if (wanted.by_width) {
                set_width(maker, contour, map, wanted.size * scale);
            } else {
                maker.SetRadius(wanted.size * scale, contour, 1);
                radii[contour] = wanted.size * scale;
            }
        }
        const bool done = apply(maker, solid, blended, solids, [&](const Altered::Made& made) {
            const int contour = made.source.ShapeType() == TopAbs_EDGE ? maker.Contour(TopoDS::Edge(made.source)) : 0;
            const auto radius = contour > 0 ? radii.find(contour) : radii.end();
            return radius == radii.end() || is_rolled(made, radius->second, map);
        });
        for (int i = 1; !done && finding != nullptr && i <= maker.NbFaultyContours(); ++i) {
            add_place(*finding, middle_of(maker.Edge(maker.FaultyContour(i), 1)));
        }
        return done ? Outcome::done : Outcome::failed;
    } catch (const Standard_Failure&) {
        return Outcome::failed;
    }
}

Outcome bevel_solid(const TopoDS_Shape& solid, const std::vector<BevelledEdge>& edges, double scale, Altered& blended,
                    std::vector<TopoDS_Shape>& solids, Finding* finding) {
    try {
        BRepFilletAPI_MakeChamfer maker(solid);
        for (const BevelledEdge& wanted : edges) {
            if (maker.Contour(wanted.edge) != 0) {
                continue;
            }
            if (wanted.angle) {
                maker.AddDA(wanted.distance * scale, *wanted.angle, wanted.edge, wanted.on);
            } else {
                maker.Add(wanted.distance * scale, wanted.other.value_or(wanted.distance) * scale, wanted.edge,
                          wanted.on);
            }
            if (maker.Contour(wanted.edge) == 0) {
                return Outcome::failed;
            }
        }
        if (apply(maker, solid, blended, solids, [](const Altered::Made&) { return true; })) {
            return Outcome::done;
        }
    } catch (const Standard_Failure&) {
        // told below
    }
    if (finding != nullptr && edges.size() == 1) {
        add_place(*finding, middle_of(edges.front().edge));
    }
    return Outcome::failed;
}

RoundedEdge in_the_copy(RoundedEdge wanted, const CopyNearOrigin& own) {
    wanted.edge = TopoDS::Edge(own.of(wanted.edge));
    wanted.from = own.of(wanted.from);
    return wanted;
}
BevelledEdge in_the_copy(BevelledEdge wanted, const CopyNearOrigin& own) {
    wanted.edge = TopoDS::Edge(own.of(wanted.edge));
    wanted.on = TopoDS::Face(own.of(wanted.on));
    return wanted;
}

// Solid by solid; where one fails, by smaller sizes, to tell what would fit, and where it is the only one to offer it.
template <class Wanted, class OneSolid>
Result<Altered> blend(const TopoDS_Shape& body, const std::vector<Wanted>& edges, const std::string& what, double size,
                      bool only_size, OneSolid&& one_solid) {
    EdgeFaces map;
    TopExp::MapShapesAndAncestors(body, TopAbs_EDGE, TopAbs_FACE, map);
    for (const Wanted& wanted : edges) {
        if (!is_sharp(wanted.edge, faces_at(map, wanted.edge))) {
            Finding finding = error_finding("blend.smooth", "The faces beside this edge do not meet at an angle.",
                                            "Take it off the list.");
            add_place(finding, middle_of(wanted.edge));
            return finding;
        }
    }
    const auto attempt = [&](double scale, Altered& blended, Finding* finding) {
        std::vector<TopoDS_Shape> solids;
        for (const TopoDS_Shape& solid : solids_of(body)) {
            auto here = those_on(solid, edges, [](const Wanted& wanted) { return wanted.edge; });
            if (here.empty()) {
                keep(solid, blended, solids);
                continue;
            }
            const CopyNearOrigin own(solid);
            Altered in_copy;
            std::vector<TopoDS_Shape> made;
            Finding told;
            for (Wanted& wanted : here) {
                wanted = in_the_copy(wanted, own);
            }
            const Outcome outcome =
                one_solid(own.shape(), here, scale, in_copy, made, finding != nullptr ? &told : nullptr);
            for (const auto& [x, y, z] : told.places) {
                add_place(*finding, gp_Pnt(x, y, z).Transformed(own.way_there().Inverted()));
            }
            if (outcome != Outcome::done) {
                return outcome;
            }
            add_from_copy(in_copy, own, blended);
            std::transform(made.begin(), made.end(), std::back_inserter(solids),
                           [&](const TopoDS_Shape& each) { return own.back(each); });
        }
        blended.shape = gather(solids);
        return Outcome::done;
    };
    Altered blended;
    Finding finding = failed(what);
    const Outcome outcome = attempt(1, blended, &finding);
    if (outcome == Outcome::done) {
        return blended;
    }
    if (outcome == Outcome::open_end) {
        Finding open = error_finding("blend.open_end", "The size cannot change along this chain from there.",
                                     "Take an open chain, and let it begin at one of its ends.");
        open.places = finding.places;
        return open;
    }
    const double fits = largest_share(12, [&](double share) {
        Altered trial;
        return attempt(share, trial, nullptr) == Outcome::done;
    });
    if (fits > 0) {
        finding.cause += " The largest that fits is about " + fitting(fits * size) + ".";
        if (only_size) {
            finding.offers.push_back(offer_of_size(fits * size));
        }
    }
    return finding;
}

} // namespace

bool is_sharp(const TopoDS_Edge& edge, const std::vector<TopoDS_Face>& beside) {
    if (beside.size() != 2 || beside[0].IsSame(beside[1]) || BRep_Tool::Degenerated(edge)) {
        return false;
    }
    return turn_at(edge, beside, 0.5) > flat_angle || turn_at(edge, beside, 0.25) > flat_angle;
}

Result<Altered> round_edges(const TopoDS_Shape& body, const std::vector<RoundedEdge>& edges) {
    const bool grows = !edges.empty() && edges.front().end_size;
    return blend(body, edges, "rounded", edges.empty() ? 0 : edges.front().size, !grows, round_solid);
}

Result<Altered> bevel_edges(const TopoDS_Shape& body, const std::vector<BevelledEdge>& edges) {
    const bool two = !edges.empty() && edges.front().other;
    return blend(body, edges, "bevelled", edges.empty() ? 0 : edges.front().distance, !two, bevel_solid);
}

} // namespace kervo::geom
