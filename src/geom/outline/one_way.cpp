#include "geom/outline/one_way.h"

#include "geom/kernel/by_shape.h"

#include <BRepAdaptor_Curve.hxx>
#include <TopExp.hxx>
#include <TopoDS_Vertex.hxx>
#include <gp_Vec.hxx>

#include <algorithm>

namespace kervo::geom {

namespace {

// Twice the area that lines to the origin sweep along the edge.
double swept_area(const TopoDS_Edge& edge, const gp_Dir& up) {
    constexpr int shares = 64;
    const BRepAdaptor_Curve curve(edge);
    const double width = (curve.LastParameter() - curve.FirstParameter()) / shares;
    gp_Vec before(gp_Pnt(), curve.Value(curve.FirstParameter()));
    double sum = 0;
    for (int i = 1; i <= shares; ++i) {
        const gp_Vec here(gp_Pnt(), curve.Value(curve.FirstParameter() + i * width));
        sum += before.Crossed(here).Dot(gp_Vec(up));
        before = here;
    }
    return edge.Orientation() == TopAbs_REVERSED ? -sum : sum;
}

class Chains {
public:
    explicit Chains(std::vector<TopoDS_Edge> edges) : edges_(std::move(edges)), known_(edges_.size()) {
        for (size_t i = 0; i < edges_.size(); ++i) {
            for (const TopoDS_Vertex& end : {TopExp::FirstVertex(edges_[i]), TopExp::LastVertex(edges_[i])}) {
                entry(at_, end).push_back(i);
            }
        }
    }

    std::vector<TopoDS_Edge> turned(const gp_Dir& up) {
        for (size_t i = 0; i < edges_.size(); ++i) {
            if (!known_[i]) {
                turn_chain(i, up);
            }
        }
        return edges_;
    }

private:
    void turn_chain(size_t first, const gp_Dir& up) {
        const std::vector<TopoDS_Edge> as_they_were = edges_;
        std::vector<size_t> chain{first};
        known_[first] = true;
        bool simple = true;
        bool closed = true;
        for (size_t k = 0; k < chain.size(); ++k) {
            for (const bool end : {false, true}) {
                const TopoDS_Vertex here = end_of(chain[k], end);
                const auto& around = at_.Find(here);
                simple = simple && around.size() <= 2;
                closed = closed && around.size() == 2;
                for (const size_t next : around) {
                    if (!known_[next]) {
                        known_[next] = true;
                        if (!end_of(next, !end).IsSame(here)) {
                            edges_[next].Reverse();
                        }
                        chain.push_back(next);
                    }
                }
            }
        }
        double area = 0;
        for (const size_t i : chain) {
            area += swept_area(edges_[i], up);
        }
        for (const size_t i : chain) {
            if (!simple) {
                edges_[i] = as_they_were[i];
            } else if (closed && area < 0) {
                edges_[i].Reverse();
            }
        }
    }

    [[nodiscard]] TopoDS_Vertex end_of(size_t i, bool last) const {
        return last ? TopExp::LastVertex(edges_[i], Standard_True) : TopExp::FirstVertex(edges_[i], Standard_True);
    }

    std::vector<TopoDS_Edge> edges_;
    std::vector<bool> known_;
    ByShape<std::vector<size_t>> at_;
};

} // namespace

std::vector<TopoDS_Edge> one_way(const std::vector<TopoDS_Edge>& edges, const gp_Dir& up) {
    return Chains(edges).turned(up);
}

} // namespace kervo::geom
