#include "model/cutting/passed_walls.h"

#include "geom/cut/local_cut.h"
#include "geom/kernel/by_shape.h"
#include "geom/measure/measure.h"
#include "geom/measure/pick.h"
#include "geom/outline/profile.h"

#include <TopLoc_Location.hxx>

#include <algorithm>
#include <cmath>

namespace kervo::model {

namespace {

constexpr double touching = 1e-6; // mm

// The cheapest way that knows.
Result<geom::Division> divided(const Body& body, const SweptRegion& sweep) {
    std::string why_not;
    if (sweep.straight) {
        if (auto straight = geom::divide_straight(*body.index, {&*sweep.straight}, why_not);
            straight && straight->unproven.empty()) {
            return std::move(straight->division);
        }
    }
    Progress progress;
    const std::vector<TopoDS_Shape> solid{sweep.solid().shape};
    if (!geom::solids_of(body.shape).empty()) {
        if (auto reached = geom::divide_reached(*body.index, solid, progress, why_not)) {
            return std::move(reached->division);
        }
    }
    return geom::divide(body.shape, solid, progress);
}

// What the sweep holds of one body in one piece, seen from its frame: z is the way.
struct Plug {
    std::array<double, 6> box{};
    TopoDS_Shape shape;
    std::vector<TopoDS_Shape> exits; ///< faces of the body through which the sweep may leave it

    [[nodiscard]] double from() const { return box[2]; }
    [[nodiscard]] double to() const { return box[5]; }
    [[nodiscard]] bool beside(const Plug& other) const {
        return box[0] > other.box[3] || other.box[0] > box[3] || box[1] > other.box[4] || other.box[1] > box[4];
    }
};

class Survey {
public:
    Survey(const gp_Ax3& frame, double sign, bool single)
        : way_(gp_Vec(frame.Direction()) * sign), touch_(single ? -touching : touching) {
        const gp_Ax3 seen(frame.Location(), gp_Dir(way_), frame.XDirection());
        level_.SetTransformation(seen);
    }

    void add(const Body& body, const geom::Division& division) {
        geom::ByShape<bool> own;
        for (const TopoDS_Shape& face : geom::faces_of(body.shape)) {
            own.Bind(face, true);
        }
        geom::ByShape<TopoDS_Shape> source;
        for (const geom::FaceOrigin& origin : division.origins) {
            if (own.IsBound(origin.source)) {
                source.Bind(origin.result, origin.source);
            }
        }
        for (const geom::DividedPiece& piece : division.pieces) {
            if (piece.inside.empty()) {
                continue;
            }
            Plug plug{seen_box(piece.shape), piece.shape, {}};
            for (const TopoDS_Shape& face : geom::faces_of(piece.shape)) {
                const TopoDS_Shape* on = source.Seek(face);
                if (on == nullptr && own.IsBound(face)) {
                    on = &face;
                }
                const auto plane = geom::plane_of(face);
                const bool passes = !plane || gp_Vec(plane->Axis().Direction()).Dot(way_) > 1e-9;
                if (on != nullptr && passes) {
                    plug.exits.push_back(*on);
                }
            }
            plugs_.push_back(std::move(plug));
        }
    }

    // Plugs whose heights overlap are one wall.
    WallsPassed finish() {
        std::sort(plugs_.begin(), plugs_.end(), [](const Plug& a, const Plug& b) { return a.from() < b.from(); });
        WallsPassed passed;
        std::vector<const Plug*> together;
        const auto close = [&] {
            if (!together.empty()) {
                passed.walls.push_back(wall_of(together, passed.interlocked));
                together.clear();
            }
        };
        for (const Plug& plug : plugs_) {
            const bool goes_on = !together.empty() && plug.from() <= end_of(together) + touch_;
            if (!goes_on) {
                close();
            }
            together.push_back(&plug);
        }
        close();
        return passed;
    }

private:
    [[nodiscard]] std::array<double, 6> seen_box(const TopoDS_Shape& shape) const {
        return geom::box_of(shape.Moved(TopLoc_Location(level_)));
    }

    static double end_of(const std::vector<const Plug*>& plugs) {
        double end = plugs.front()->to();
        for (const Plug* plug : plugs) {
            end = std::max(end, plug->to());
        }
        return end;
    }

    PassedWall wall_of(const std::vector<const Plug*>& plugs, bool& interlocked) const {
        PassedWall wall{plugs.front()->from(), end_of(plugs), {}};
        std::vector<TopoDS_Shape> exits;
        for (size_t i = 0; i < plugs.size(); ++i) {
            exits.insert(exits.end(), plugs[i]->exits.begin(), plugs[i]->exits.end());
            for (size_t k = 0; k < i; ++k) {
                interlocked = interlocked || (!plugs[i]->beside(*plugs[k]) &&
                                              geom::gap_between(plugs[i]->shape, plugs[k]->shape).width > touching);
            }
        }
        const bool one = !exits.empty() && std::all_of(exits.begin(), exits.end(), [&](const TopoDS_Shape& face) {
            return face.IsSame(exits.front());
        });
        if (one && geom::plane_of(exits.front())) {
            wall.flat_exit = exits.front();
        }
        return wall;
    }

    gp_Vec way_;
    gp_Trsf level_;
    double touch_;
    std::vector<Plug> plugs_;
};

} // namespace

Result<WallsPassed> walls_passed(const SweptRegion& sweep, const gp_Ax3& frame, double sign,
                                 const std::vector<BodyPtr>& bodies, bool single) {
    Survey survey(frame, sign, single);
    for (const BodyPtr& body : bodies) {
        if (body->blade || geom::faces_of(body->shape).empty()) {
            continue;
        }
        const auto division = divided(*body, sweep);
        if (!division) {
            return division.finding();
        }
        survey.add(*body, *division);
    }
    return survey.finish();
}

} // namespace kervo::model
