#include "model/looking/taken_away.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace kervo::model {

namespace {

constexpr double endless = std::numeric_limits<double>::infinity();
using Form = Cutaway::Form;

// Half the way from the middle to both sides, along the frame's directions.
std::vector<Frame3> sides_of(const Frame3& frame, const Vector3& half) {
    std::vector<Frame3> sides;
    for (const double way : {1.0, -1.0}) {
        const auto add = [&](const Vector3& out, const Vector3& x, double by) {
            const Vector3 z = out * way;
            sides.push_back({frame.origin + z * by, x, z.cross(x), z});
        };
        if (half.x > 0) {
            add(frame.x, frame.y, half.x);
        }
        if (half.y > 0) {
            add(frame.y, frame.z, half.y);
        }
        add(frame.z, frame.x, half.z);
    }
    return sides;
}

Stretches common_of(const Stretches& a, const Stretches& b) {
    Stretches common;
    for (const auto& [a0, a1] : a) {
        for (const auto& [b0, b1] : b) {
            if (std::max(a0, b0) < std::min(a1, b1)) {
                common.push_back({std::max(a0, b0), std::min(a1, b1)});
            }
        }
    }
    return common;
}

// All that is not in them.
Stretches others_than(const Stretches& stretches) {
    Stretches others;
    double from = -endless;
    for (const auto& [begin, end] : stretches) {
        if (from < begin) {
            others.push_back({from, begin});
        }
        from = end;
    }
    if (from < endless) {
        others.push_back({from, endless});
    }
    return others;
}

Stretches in_front_of(const HalfSpace& half, const Line3& line) {
    const double slope = half.normal.dot(line.along);
    const double height = half.normal.dot(line.from - half.origin);
    if (slope == 0) {
        return height > 0 ? Stretches{{-endless, endless}} : Stretches{};
    }
    return slope > 0 ? Stretches{{-height / slope, endless}} : Stretches{{-endless, -height / slope}};
}

Stretches within_cylinder(const Cutaway& cutaway, const Line3& line) {
    const Frame3 frame = frame_of(cutaway);
    const double radius = cutaway.size[0] / 2;
    const Vector3 from = line.from - frame.origin;
    const Vector3 along = line.along - frame.z * line.along.dot(frame.z); // seen along the axis
    const Vector3 off = from - frame.z * from.dot(frame.z);
    const double a = along.dot(along);
    const double b = off.dot(along);
    const double c = off.dot(off) - radius * radius;
    Stretches round;
    if (a == 0) {
        round = c < 0 ? Stretches{{-endless, endless}} : Stretches{};
    } else if (b * b > a * c) {
        const double root = std::sqrt(b * b - a * c);
        round = {{(-b - root) / a, (-b + root) / a}};
    }
    for (const double way : {1.0, -1.0}) {
        const Vector3 z = frame.z * way;
        round = common_of(round, in_front_of({frame.origin - z * (cutaway.size[2] / 2), z}, line));
    }
    return round;
}

} // namespace

std::vector<Frame3> planes_of(const Cutaway& cutaway) {
    const Frame3 frame = frame_of(cutaway);
    const Vector3 half = Vector3(cutaway.size) * 0.5;
    switch (cutaway.form) {
    case Form::plane: // what it spans lies in front of it
        return {{frame.origin, frame.x, -frame.y, -frame.z}};
    case Form::slab:
        return sides_of(frame, {0, 0, half.z});
    case Form::box:
        return sides_of(frame, half);
    case Form::cylinder:
    case Form::body:
        break;
    }
    return {};
}

bool by_planes_alone(const std::vector<Cutaway>& cutaways) {
    return std::all_of(cutaways.begin(), cutaways.end(), [](const Cutaway& each) { return !planes_of(each).empty(); });
}

std::vector<Wedge> wedges_of(const Cutaway& cutaway) {
    const auto planes = planes_of(cutaway);
    std::vector<Wedge> wedges;
    for (const Frame3& out : planes) {
        if (cutaway.keeps) {
            wedges.push_back({{out.origin, out.z}});
        } else {
            wedges.resize(1);
            wedges[0].push_back({out.origin, -out.z});
        }
    }
    return wedges;
}

Stretches left_of(const std::vector<Cutaway>& cutaways, const Line3& line,
                  const std::function<Stretches(const BodyId&, const Line3&)>& within) {
    Stretches left{{-endless, endless}};
    for (const Cutaway& cutaway : cutaways) {
        if (cutaway.form == Form::cylinder || cutaway.form == Form::body) {
            const auto inside =
                cutaway.form == Form::body ? within(cutaway.body, line) : within_cylinder(cutaway, line);
            left = common_of(left, cutaway.keeps ? inside : others_than(inside));
            continue;
        }
        for (const Wedge& wedge : wedges_of(cutaway)) {
            Stretches taken{{-endless, endless}};
            for (const HalfSpace& half : wedge) {
                taken = common_of(taken, in_front_of(half, line));
            }
            left = common_of(left, others_than(taken));
        }
    }
    return left;
}

} // namespace kervo::model
