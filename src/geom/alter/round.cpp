#include "geom/alter/alteration.h"
#include "geom/alter/blended.h"
#include "geom/kernel/face_foot.h"
#include "geom/measure/pick.h"

#include <BRepFilletAPI_MakeFillet.hxx>
#include <TColgp_Array1OfPnt2d.hxx>
#include <TopExp.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Vertex.hxx>

#include <cmath>
#include <functional>
#include <map>

namespace kervo::geom {

namespace {

constexpr int samples = 17; // along an edge whose radius changes

// By how much the middle of a ball of this radius that touches the round at a place is nearer to one of the faces
// beside, or farther from it, mm: of the two sides of the round where it may lie, the better one.
double off_at(const gp_Pnt& place, const gp_Vec& normal, double radius, const std::vector<TopoDS_Face>& beside) {
    const auto off = [&](double way) {
        const gp_Pnt middle = place.Translated(normal * way);
        double worst = 0;
        for (const TopoDS_Face& face : beside) {
            const auto foot = foot_on(face, middle);
            worst = std::max(worst, foot ? std::fabs(foot->distance - radius) : radius);
        }
        return worst;
    };
    return std::min(off(radius), off(-radius));
}

// How far a place is from a face in a plane through it, mm: by steps along the face's tangents, back to the face.
std::optional<double> distance_in_plane(const gp_Pnt& place, const gp_Vec& square, const TopoDS_Face& face) {
    constexpr int steps = 6;
    gp_Pnt from = place;
    double distance = 0;
    for (int i = 0; i < steps; ++i) {
        const auto foot = foot_on(face, from);
        if (!foot || !foot->normal) {
            return std::nullopt;
        }
        gp_Vec up(*foot->normal);
        const double height = gp_Vec(foot->place, place).Dot(up); // over the tangent plane
        up -= up.Dot(square) * square;
        if (up.Magnitude() < 1e-6) {
            return std::nullopt; // the face lies along the plane
        }
        const gp_Pnt now = place.Translated(up * (-height / up.SquareMagnitude()));
        distance = now.Distance(place);
        if (now.Distance(from) < 1e-10) {
            break;
        }
        from = now;
    }
    return distance;
}

// In the plane square to the chain at its nearest place: by how much a circle of this radius that touches the round at
// `place` is off touching the faces beside it as well, mm. None where that cannot be told.
std::optional<double> circle_off(const BorderPlace& at, const Chain::Foot& foot, double radius,
                                 const std::vector<TopoDS_Face>& beside) {
    gp_Vec out = at.normal - at.normal.Dot(foot.along) * foot.along;
    if (out.Magnitude() < 1e-6) {
        return std::nullopt;
    }
    out.Normalize();
    std::optional<double> best;
    for (const double way : {radius, -radius}) {
        double worst = 0;
        bool told = true;
        for (const TopoDS_Face& face : beside) {
            const auto distance = distance_in_plane(at.place.Translated(out * way), foot.along, face);
            told = told && distance;
            worst = std::max(worst, distance ? std::fabs(*distance - radius) : 0);
        }
        if (told && (!best || worst < *best)) {
            best = worst;
        }
    }
    return best;
}

// The radius of a round where its edge has a foot, mm.
using RadiusAt = std::function<double(const Chain::Foot&)>;

// Circles square to the edge make up its round: by how much the round is off that, mm. None where nothing of it is near
// that. Where it leaves a face beside the edge, for the next, nothing is measured.
std::optional<double> rolled_off(const Altered::Made& made, const RadiusAt& radius_at, const EdgeFaces& map,
                                 const Chain& chain) {
    const TopoDS_Face& round = TopoDS::Face(made.face);
    const auto beside = faces_at(map, TopoDS::Edge(made.source));
    double worst = 0;
    bool measured = false;
    bool any = false;
    for (const TopoDS_Shape& edge : edges_of(round)) {
        for (const BorderPlace& at : places_along(TopoDS::Edge(edge), round)) {
            const auto foot = chain.foot_of(at.place);
            const double radius = foot ? radius_at(*foot) : 0;
            const auto off = foot ? circle_off(at, *foot, radius, beside) : std::nullopt;
            any = any || off;
            if (off && *off <= 1e-3 * (1 + radius)) {
                measured = true;
                worst = std::max(worst, *off);
            }
        }
    }
    return any && !measured ? std::nullopt : std::optional(worst);
}

// A ball of the radius that rolls along is as far from both faces, but for what the edge bends: whether the round is
// near that at all.
bool is_rolled(const Altered::Made& made, double radius, const EdgeFaces& map) {
    const TopoDS_Face& round = TopoDS::Face(made.face);
    const auto beside = faces_at(map, TopoDS::Edge(made.source));
    auto places = places_on(round);
    places.resize(std::min<size_t>(places.size(), 3));
    return std::all_of(places.begin(), places.end(), [&](const gp_Pnt& place) {
        const auto foot = foot_on(round, place);
        return foot && foot->normal && off_at(place, gp_Vec(*foot->normal), radius, beside) <= 1e-3 * (1 + radius);
    });
}

// Radii straight along a chain, from the size at one end to that at the other; nothing where it has no such ends.
RadiusAt set_growing(BRepFilletAPI_MakeFillet& maker, int contour, const Chain& chain, const RoundedEdge& wanted) {
    double from = wanted.size;
    double to = *wanted.end_size;
    if (maker.Closed(contour)) {
        return {};
    }
    if (!wanted.from.IsNull()) {
        if (wanted.from.IsSame(maker.LastVertex(contour))) {
            std::swap(from, to);
        } else if (!wanted.from.IsSame(maker.FirstVertex(contour))) {
            return {};
        }
    }
    const double length = maker.Length(contour);
    std::vector<double> ways{0}; // to the beginning of each edge
    for (int i = 1; i <= maker.NbEdges(contour); ++i) {
        const double before = ways.back();
        const double after = before + length_of(maker.Edge(contour, i));
        // By two values the kernel lets it grow slowly at first and at last; by many it follows.
        TColgp_Array1OfPnt2d radii(1, samples);
        for (int k = 0; k < samples; ++k) {
            const double along = static_cast<double>(k) / (samples - 1);
            radii.SetValue(k + 1, {along, from + (to - from) * (before + along * (after - before)) / length});
        }
        maker.SetRadius(radii, contour, i);
        ways.push_back(after);
    }
    return [chain, ways, from, to, length](const Chain::Foot& foot) {
        return from + (to - from) * (ways[foot.edge] + chain.way_on_edge(foot)) / length;
    };
}

// The radius that makes the round so wide, which follows the angle of the edge: chord = 2 r sin(turn / 2).
RadiusAt set_width(BRepFilletAPI_MakeFillet& maker, int contour, const Chain& chain, const EdgeFaces& map,
                   double width) {
    const auto radius_at = [chain, &map, width](size_t edge, double share) {
        const TopoDS_Edge& at = chain.edges()[edge];
        return width / 2 / std::sin(std::max(turn_at(at, faces_at(map, at), share), flat_angle) / 2);
    };
    for (int i = 1; i <= maker.NbEdges(contour); ++i) {
        const bool turned = maker.Edge(contour, i).Orientation() == TopAbs_REVERSED;
        TColgp_Array1OfPnt2d radii(1, samples);
        double least = 1e100;
        double most = 0;
        for (int k = 0; k < samples; ++k) {
            const double along = static_cast<double>(k) / (samples - 1);
            const double radius = radius_at(static_cast<size_t>(i - 1), turned ? 1 - along : along);
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
    return [radius_at](const Chain::Foot& foot) { return radius_at(foot.edge, foot.share); };
}

Chain chain_of(const BRepFilletAPI_MakeFillet& maker, int contour) {
    std::vector<TopoDS_Edge> edges;
    for (int i = 1; i <= maker.NbEdges(contour); ++i) {
        edges.push_back(maker.Edge(contour, i));
    }
    return Chain(edges);
}

Blended round_once(const TopoDS_Shape& solid, const std::vector<RoundedEdge>& edges, Working working) {
    Blended blended;
    const EdgeFaces map = faces_by_edge(solid);
    try {
        BRepFilletAPI_MakeFillet maker(solid);
        set_working(maker, working);
        std::map<int, RadiusAt> radii; // of contours
        std::map<int, double> same;    // of those whose radius is the same all along
        for (const RoundedEdge& wanted : edges) {
            if (maker.Contour(wanted.edge) != 0) {
                continue; // came along with another
            }
            maker.Add(wanted.edge);
            const int contour = maker.Contour(wanted.edge);
            if (contour == 0) {
                return blended;
            }
            const Chain& chain = blended.chains.emplace_back(chain_of(maker, contour));
            if (wanted.end_size) {
                radii[contour] = set_growing(maker, contour, chain, wanted);
                if (!radii[contour]) {
                    blended.faulty.push_back(middle_of(wanted.edge));
                    blended.outcome = Outcome::open_end;
                    return blended;
                }
            } else if (wanted.by_width) {
                radii[contour] = set_width(maker, contour, chain, map, wanted.size);
            } else {
                maker.SetRadius(wanted.size, contour, 1);
                same[contour] = wanted.size;
                radii[contour] = [radius = wanted.size](const Chain::Foot&) { return radius; };
            }
        }
        build(maker, solid, blended, [&](const Altered& altered, const TopoDS_Shape&) {
            std::optional<double> worst = 0;
            for (const Altered::Made& made : altered.made) {
                const int contour =
                    made.source.ShapeType() == TopAbs_EDGE ? maker.Contour(TopoDS::Edge(made.source)) : 0;
                if (contour == 0 || !worst) {
                    continue;
                }
                const auto off =
                    rolled_off(made, radii.at(contour), map, blended.chains.at(static_cast<size_t>(contour - 1)));
                const auto radius = same.find(contour);
                const bool near = off && (radius == same.end() || is_rolled(made, radius->second, map));
                worst = near ? std::optional(std::max(*worst, *off)) : std::nullopt;
            }
            return worst;
        });
        for (int i = 1; blended.outcome != Outcome::done && i <= maker.NbFaultyContours(); ++i) {
            blended.faulty.push_back(middle_of(maker.Edge(maker.FaultyContour(i), 1)));
        }
    } catch (const Standard_Failure&) {
        blended.outcome = Outcome::failed;
    }
    return blended;
}

} // namespace

Result<Altered> round_edges(const TopoDS_Shape& body, const std::vector<RoundedEdge>& edges) {
    const bool grows = !edges.empty() && edges.front().end_size;
    const double size = edges.empty() ? 0 : edges.front().size;
    return blend(body, edges, "rounded", size, !grows, round_once);
}

} // namespace kervo::geom
