#include "geom/view/bordered_faces.h"

#include "geom/measure/measure.h"
#include "geom/view/section_area.h"

#include <BRepBuilderAPI_MakeEdge.hxx>
#include <BRepBuilderAPI_MakeFace.hxx>
#include <BRepBuilderAPI_MakeVertex.hxx>
#include <BRep_Builder.hxx>
#include <ElCLib.hxx>
#include <Geom_Circle.hxx>
#include <Geom_Conic.hxx>
#include <Geom_Ellipse.hxx>
#include <Geom_Plane.hxx>
#include <TopoDS_Edge.hxx>
#include <TopoDS_Vertex.hxx>
#include <TopoDS_Wire.hxx>
#include <gp_Pln.hxx>

#include <algorithm>
#include <cmath>
#include <map>

namespace kervo::geom {

namespace {

struct Loop {
    std::vector<const BorderPiece*> pieces;
    double area = 0; ///< below 0: a hole
    std::vector<std::array<double, 2>> polygon;
};

std::array<double, 2> seen(const gp_Ax3& plane, const gp_Pnt& p) {
    const gp_Vec r(plane.Location(), p);
    return {r.Dot(gp_Vec(plane.XDirection())), r.Dot(gp_Vec(plane.YDirection()))};
}

bool encloses(const Loop& loop, const std::array<double, 2>& p) { // even-odd
    bool inside = false;
    const size_t count = loop.polygon.size();
    for (size_t i = 0; i < count; ++i) {
        const auto& [x0, y0] = loop.polygon[i];
        const auto& [x1, y1] = loop.polygon[(i + 1) % count];
        if ((y0 > p[1]) != (y1 > p[1]) && p[0] < x0 + (x1 - x0) * (p[1] - y0) / (y1 - y0)) {
            inside = !inside;
        }
    }
    return inside;
}

std::optional<std::vector<Loop>> loops_of(const std::vector<BorderPiece>& border, const gp_Ax3& plane) {
    std::map<int, const BorderPiece*> starting;
    std::vector<Loop> loops;
    for (const BorderPiece& piece : border) {
        if (piece.start < 0) {
            loops.push_back({{&piece}, 0, {}});
        } else {
            starting[piece.start] = &piece;
        }
    }
    while (!starting.empty()) {
        Loop loop;
        const int first = starting.begin()->first;
        int at = first;
        do {
            const auto next = starting.find(at);
            if (next == starting.end()) {
                return std::nullopt;
            }
            loop.pieces.push_back(next->second);
            at = next->second->end;
            starting.erase(next);
        } while (at != first);
        loops.push_back(std::move(loop));
    }
    for (Loop& loop : loops) {
        std::vector<BorderPiece> own;
        for (const BorderPiece* piece : loop.pieces) {
            own.push_back(*piece);
            constexpr double step = M_PI / 48;
            const int parts = piece->conic ? static_cast<int>(std::ceil(std::fabs(piece->sweep) / step)) : 1;
            for (int i = 0; i < parts; ++i) {
                loop.polygon.push_back(seen(
                    plane, piece->conic ? piece->conic->at(piece->angle + piece->sweep * i / parts) : piece->from));
            }
        }
        loop.area = area_within(own, plane);
    }
    return loops;
}

class Faces {
public:
    explicit Faces(const gp_Ax3& plane) : plane_(plane) {}

    // The edge runs as the piece does.
    std::optional<TopoDS_Edge> edge_of(const BorderPiece& piece) {
        const TopoDS_Vertex from = vertex(piece.start, piece.from);
        const TopoDS_Vertex to = piece.start < 0 ? from : vertex(piece.end, piece.to);
        if (!piece.conic) {
            BRepBuilderAPI_MakeEdge line(from, to);
            return line.IsDone() ? std::optional(line.Edge()) : std::nullopt;
        }
        if (piece.conic->curve.IsNull()) {
            return std::nullopt;
        }
        const Handle(Geom_Conic) curve = Handle(Geom_Conic)::DownCast(piece.conic->curve->Copy());
        gp_Pnt begin;
        gp_Vec along;
        curve->D1(parameter(curve, piece.from), begin, along);
        if (along.Dot(piece.conic->way(piece.angle)) * piece.sweep < 0) {
            curve->Reverse();
        }
        const double start = parameter(curve, piece.from);
        double end = piece.start < 0 ? start + 2 * M_PI : parameter(curve, piece.to);
        end += end <= start ? 2 * M_PI : 0;
        const gp_Pnt half = piece.conic->at(piece.angle + piece.sweep / 2);
        double middle = parameter(curve, half);
        middle += middle < start ? 2 * M_PI : 0;
        constexpr double same = 1e-6; // mm
        if (curve->Value(start).Distance(piece.from) > same || curve->Value(end).Distance(piece.to) > same ||
            curve->Value(middle).Distance(half) > same || middle > end) {
            return std::nullopt;
        }
        BRepBuilderAPI_MakeEdge arc(curve, from, to, start, end);
        return arc.IsDone() ? std::optional(arc.Edge()) : std::nullopt;
    }

    std::optional<TopoDS_Wire> wire_of(const Loop& loop, std::vector<std::pair<TopoDS_Shape, int>>& cut) {
        const BRep_Builder builder;
        TopoDS_Wire wire;
        builder.MakeWire(wire);
        for (const BorderPiece* piece : loop.pieces) {
            const auto edge = edge_of(*piece);
            if (!edge) {
                return std::nullopt;
            }
            builder.Add(wire, *edge);
            cut.emplace_back(*edge, piece->face);
        }
        wire.Closed(Standard_True);
        return wire;
    }

    std::optional<SectionFace> face_of(const Loop& outer, const std::vector<const Loop*>& holes) {
        SectionFace made;
        const auto rim = wire_of(outer, made.cut);
        if (!rim) {
            return std::nullopt;
        }
        BRepBuilderAPI_MakeFace face(gp_Pln(plane_), *rim, Standard_False);
        for (const Loop* hole : holes) {
            const auto wire = wire_of(*hole, made.cut);
            if (!wire || !face.IsDone()) {
                return std::nullopt;
            }
            face.Add(*wire);
        }
        if (!face.IsDone()) {
            return std::nullopt;
        }
        made.face = face.Face();
        return made;
    }

private:
    static double parameter(const Handle(Geom_Conic) & curve, const gp_Pnt& p) {
        const Handle(Geom_Circle) circle = Handle(Geom_Circle)::DownCast(curve);
        return circle.IsNull() ? ElCLib::Parameter(Handle(Geom_Ellipse)::DownCast(curve)->Elips(), p)
                               : ElCLib::Parameter(circle->Circ(), p);
    }

    TopoDS_Vertex vertex(int crossing, const gp_Pnt& place) {
        if (crossing < 0) {
            return BRepBuilderAPI_MakeVertex(place).Vertex();
        }
        auto& known = vertices_[crossing];
        if (known.IsNull()) {
            known = BRepBuilderAPI_MakeVertex(place).Vertex();
        }
        return known;
    }

    gp_Ax3 plane_;
    std::map<int, TopoDS_Vertex> vertices_;
};

} // namespace

std::optional<std::vector<SectionFace>> faces_within(const std::vector<BorderPiece>& border, const gp_Ax3& plane) {
    const auto loops = loops_of(border, plane);
    if (!loops) {
        return std::nullopt;
    }
    std::map<const Loop*, std::vector<const Loop*>> holes;
    for (const Loop& loop : *loops) {
        if (loop.area > 0) {
            holes[&loop];
            continue;
        }
        const Loop* around = nullptr; // the smallest
        for (const Loop& other : *loops) {
            if (other.area > 0 && (around == nullptr || other.area < around->area) &&
                encloses(other, loop.polygon.front())) {
                around = &other;
            }
        }
        if (around == nullptr) {
            return std::nullopt;
        }
        holes[around].push_back(&loop);
    }
    Faces make(plane);
    std::vector<SectionFace> faces;
    double area = 0;
    for (const Loop& loop : *loops) { // in their order
        if (loop.area <= 0) {
            continue;
        }
        auto face = make.face_of(loop, holes.at(&loop));
        if (!face) {
            return std::nullopt;
        }
        area += area_of(face->face);
        faces.push_back(std::move(*face));
    }
    const double enclosed = area_within(border, plane);
    return std::fabs(area - enclosed) <= 1e-9 * (enclosed + 1) ? std::optional(std::move(faces)) : std::nullopt;
}

} // namespace kervo::geom
