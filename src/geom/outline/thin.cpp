#include "geom/outline/thin.h"

#include "geom/outline/walls.h"
#include "geom/view/project.h"

#include <BRepOffsetAPI_MakeOffset.hxx>
#include <BRepTools_WireExplorer.hxx>
#include <Standard_Failure.hxx>
#include <TopExp.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>

#include <algorithm>
#include <cmath>

namespace kervo::geom {

namespace {

OutlinePiece reversed(OutlinePiece piece) {
    std::swap(piece.start, piece.end);
    std::swap(piece.start_vertex, piece.end_vertex);
    if (piece.poles.empty()) {
        piece.from += piece.sweep;
    }
    piece.sweep = -piece.sweep;
    return piece;
}

OutlineLoop reversed(const OutlineLoop& loop) {
    OutlineLoop turned;
    for (auto piece = loop.rbegin(); piece != loop.rend(); ++piece) {
        turned.push_back(reversed(*piece));
    }
    return turned;
}

// Above zero where it runs counterclockwise; nearly the area.
double turning_area(const OutlineLoop& loop) {
    constexpr int steps = 16;
    double twice = 0;
    auto before = loop.front().start;
    for (const OutlinePiece& piece : loop) {
        for (int i = 1; i <= steps; ++i) {
            const auto next = place_on(piece, static_cast<double>(i) / steps);
            twice += before[0] * next[1] - before[1] * next[0];
            before = next;
        }
    }
    return twice / 2;
}

// A loop with a label for each of its edges and corners.
class Offsetting {
public:
    explicit Offsetting(const OutlineLoop& loop) : face_(make_profile_face(gp_Ax3(), {loop})) {}

    /// Counterclockwise, the largest first; none where nothing is left.
    std::optional<std::vector<OutlineLoop>> at(double distance, const std::string& mark) {
        try {
            for (const GeomAbs_JoinType corners : {GeomAbs_Intersection, GeomAbs_Arc}) {
                BRepOffsetAPI_MakeOffset maker(face_.face, corners);
                maker.Perform(distance);
                if (!maker.IsDone() || maker.Shape().IsNull()) {
                    continue;
                }
                if (auto loops = loops_of(maker, mark)) {
                    std::sort(loops->begin(), loops->end(), [](const OutlineLoop& a, const OutlineLoop& b) {
                        return turning_area(a) > turning_area(b);
                    });
                    return loops;
                }
            }
        } catch (const Standard_Failure&) {
            return std::nullopt;
        }
        return std::nullopt;
    }

private:
    std::optional<std::vector<OutlineLoop>> loops_of(BRepOffsetAPI_MakeOffset& maker, const std::string& mark) {
        std::vector<std::pair<TopoDS_Shape, std::string>> labels;
        for (const auto& [edge, curve] : face_.curve_of_edge) {
            for (const TopoDS_Shape& made : maker.Generated(edge)) {
                labels.emplace_back(made, curve + mark);
            }
            const TopoDS_Vertex corner = TopExp::FirstVertex(TopoDS::Edge(edge));
            for (const TopoDS_Shape& made : maker.Generated(corner)) {
                labels.emplace_back(made, curve);
                labels.back().second += "-corner";
                labels.back().second += mark;
            }
        }
        std::vector<OutlineLoop> loops;
        for (TopExp_Explorer wire(maker.Shape(), TopAbs_WIRE); wire.More(); wire.Next()) {
            OutlineLoop loop;
            for (BRepTools_WireExplorer it(TopoDS::Wire(wire.Current())); it.More(); it.Next()) {
                auto piece = project_edge(it.Current(), gp_Ax3());
                if (!piece) {
                    return std::nullopt;
                }
                if (it.Current().Orientation() == TopAbs_REVERSED) {
                    piece = reversed(*piece);
                }
                const auto label = std::find_if(labels.begin(), labels.end(),
                                                [&](const auto& l) { return l.first.IsSame(it.Current()); });
                piece->curve = label == labels.end() ? "corner" + mark : label->second;
                loop.push_back(std::move(*piece));
            }
            if (!closes(loop)) {
                return std::nullopt;
            }
            loops.push_back(turning_area(loop) < 0 ? reversed(loop) : loop);
        }
        return loops;
    }

    // Whether each piece begins where the one before ends.
    static bool closes(const OutlineLoop& loop) {
        for (size_t i = 0; i < loop.size(); ++i) {
            const auto& from = loop[i].end;
            const auto& to = loop[(i + 1) % loop.size()].start;
            if (std::hypot(to[0] - from[0], to[1] - from[1]) > 1e-5) {
                return false;
            }
        }
        return !loop.empty();
    }

    ProfileFace face_;
};

// The corners of each loop get numbers of their own.
void number_corners(std::vector<OutlineLoop>& loops) {
    int next = 0;
    for (OutlineLoop& loop : loops) {
        const int first = next;
        for (OutlinePiece& piece : loop) {
            piece.start_vertex = next++;
            piece.end_vertex = next;
        }
        loop.back().end_vertex = first;
    }
}

} // namespace

Result<std::vector<std::vector<OutlineLoop>>> rings_along(const std::vector<OutlineLoop>& loops, double outside,
                                                          double inside) {
    const Finding impossible =
        error_finding("profile.thin", "No outline so wide can be made here.", "Choose smaller widths.");
    std::vector<std::vector<OutlineLoop>> rings;
    for (size_t i = 0; i < loops.size(); ++i) {
        const bool outer = i == 0;
        const OutlineLoop loop = turning_area(loops[i]) < 0 ? reversed(loops[i]) : loops[i];
        const double own = turning_area(loop);
        const double bigger = outer ? outside : inside;
        const double smaller = outer ? inside : outside;
        const std::string far = outer ? ".out" : ".in";
        const std::string near = outer ? ".in" : ".out";
        Offsetting offsetting(loop);
        const auto grown = bigger > 0 ? offsetting.at(bigger, far) : std::vector<OutlineLoop>{loop};
        if (!grown || grown->empty() || (bigger > 0 && turning_area(grown->front()) <= own)) {
            return impossible;
        }
        // Where the ring is wider than half of what it runs around, nothing is left of that.
        auto shrunk = smaller > 0 ? offsetting.at(-smaller, near) : std::vector<OutlineLoop>{loop};
        if (!shrunk) {
            shrunk.emplace();
        }
        std::vector<OutlineLoop> ring;
        ring.push_back(grown->front());
        for (size_t k = 1; k < grown->size(); ++k) {
            ring.push_back(reversed((*grown)[k]));
        }
        for (const OutlineLoop& hole : *shrunk) {
            if (smaller > 0 && turning_area(hole) >= own) {
                return impossible;
            }
            ring.push_back(reversed(hole));
        }
        number_corners(ring);
        rings.push_back(std::move(ring));
    }
    return rings;
}

std::array<double, 2> middle_of_ring(const std::vector<OutlineLoop>& ring) {
    const OutlinePiece& piece = ring.front().front();
    const auto place = place_on(piece, 0.5);
    const auto before = place_on(piece, 0.499);
    const auto behind = place_on(piece, 0.501);
    const double x = behind[0] - before[0];
    const double y = behind[1] - before[1];
    const double inwards = 1e-3 / std::hypot(x, y); // the loop runs counterclockwise
    return {place[0] - y * inwards, place[1] + x * inwards};
}

} // namespace kervo::geom
