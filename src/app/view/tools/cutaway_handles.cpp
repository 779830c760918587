#include "app/view/tools/cutaway_handles.h"

#include "model/looking/taken_away.h"

#include <cmath>
#include <numbers>

namespace kervo::app {

namespace {

using model::Cutaway;
using Kind = CutawayHandle::Kind;
using Form = Cutaway::Form;

double rounded(double value, double step) {
    return std::round(value / step) * step + 0.0; // no -0
}

class Handles {
public:
    Handles(const Cutaway& cutaway, const Box3& box, double arm, double step)
        : cutaway_(cutaway), frame_(model::frame_of(cutaway)), arm_(arm), step_(step) {
        const Point3 top(box.middle().x, box.middle().y, box.high.z);
        const bool flat = cutaway.form == Form::plane || cutaway.form == Form::slab;
        anchor_ = flat ? top - frame_.z * (top - frame_.origin).dot(frame_.z) : frame_.origin;
    }

    std::vector<CutawayHandle> all() {
        switch (cutaway_.form) {
        case Form::plane:
            move_along();
            break;
        case Form::slab:
            move_along();
            for (const double side : {1.0, -1.0}) {
                size(2, frame_.z * side, false);
            }
            break;
        case Form::box:
            move_freely();
            for (const double side : {1.0, -1.0}) {
                size(0, frame_.x * side, true);
                size(1, frame_.y * side, true);
                size(2, frame_.z * side, true);
            }
            break;
        case Form::cylinder:
            move_freely();
            size(0, frame_.x, false);
            size(2, frame_.z, true);
            size(2, -frame_.z, true);
            break;
        case Form::body:
            return {};
        }
        rotate(frame_.x, frame_.z);
        rotate(frame_.y, frame_.z);
        if (cutaway_.form == Form::box) {
            rotate(frame_.x, frame_.y);
        }
        return std::move(made_);
    }

private:
    // The number that says where a plane stands, along its normal, is a round one.
    void move_along() {
        const double out = cutaway_.form == Form::slab ? cutaway_.size[2] / 2 : 0;
        made_.push_back({Kind::move, anchor_, anchor_ + frame_.z * (out + arm_), frame_.z,
                         [cutaway = cutaway_, z = frame_.z, step = step_](double mm, const Vector3&) {
                             const double at = (Point3(cutaway.origin) - Point3()).dot(z);
                             return model::moved(cutaway, z * (rounded(at + mm, step) - at));
                         }});
    }

    void move_freely() {
        made_.push_back(
            {Kind::move, anchor_, anchor_, {}, [cutaway = cutaway_, step = step_](double, const Vector3& way) {
                 Cutaway moved = model::moved(cutaway, way);
                 for (double& c : moved.origin) {
                     c = rounded(c, step);
                 }
                 return moved;
             }});
    }

    // One side alone, or both alike.
    void size(size_t which, const Vector3& out, bool one_side) {
        const Point3 side = anchor_ + out * (cutaway_.size[which] / 2);
        made_.push_back({Kind::size, side, side, out,
                         [cutaway = cutaway_, which, out, one_side, step = step_](double mm, const Vector3&) {
                             Cutaway sized = cutaway;
                             double& size = sized.size[which];
                             size = std::max(rounded(size + (one_side ? mm : 2 * mm), step), step);
                             return one_side ? model::moved(sized, out * ((size - cutaway.size[which]) / 2)) : sized;
                         }});
    }

    // A knob out along `to` is pulled along `way`: about the axis that is square to both, by whole degrees.
    void rotate(const Vector3& to, const Vector3& way) {
        const double size = cutaway_.form == Form::box        ? cutaway_.size[to == frame_.x ? 0 : 1] / 2
                            : cutaway_.form == Form::cylinder ? cutaway_.size[0] / 2
                                                              : 0;
        const double away = size + 1.6 * arm_;
        made_.push_back({Kind::rotate, anchor_ + to * size, anchor_ + to * away, way,
                         [cutaway = cutaway_, about = anchor_, axis = to.cross(way), away](double mm, const Vector3&) {
                             constexpr double degree = std::numbers::pi / 180;
                             return model::turned(cutaway, about, axis, rounded(std::atan2(mm, away), degree));
                         }});
    }

    const Cutaway& cutaway_;
    Frame3 frame_;
    Point3 anchor_;
    double arm_, step_;
    std::vector<CutawayHandle> made_;
};

} // namespace

std::vector<CutawayHandle> handles_of(const Cutaway& cutaway, const Box3& box, double arm, double step) {
    return Handles(cutaway, box, arm, step).all();
}

} // namespace kervo::app
