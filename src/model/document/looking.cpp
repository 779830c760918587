#include "model/document/looking.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace kervo::model {

namespace {

template <class Value, size_t count>
std::string word_of(const std::array<std::pair<Value, const char*>, count>& words, Value value) {
    return std::find_if(words.begin(), words.end(), [&](const auto& each) { return each.first == value; })->second;
}

template <class Value, size_t count>
std::optional<Value> value_of(const std::array<std::pair<Value, const char*>, count>& words, const std::string& text) {
    const auto at = std::find_if(words.begin(), words.end(), [&](const auto& each) { return each.second == text; });
    return at == words.end() ? std::nullopt : std::optional(at->first);
}

using Form = Cutaway::Form;
using Scope = Cutaway::Scope;

constexpr std::array<std::pair<Form, const char*>, 5> forms{{{Form::plane, "plane"},
                                                             {Form::slab, "slab"},
                                                             {Form::box, "box"},
                                                             {Form::cylinder, "cylinder"},
                                                             {Form::body, "body"}}};
constexpr std::array<std::pair<Scope, const char*>, 3> scopes{
    {{Scope::all, "all"}, {Scope::all_but, "all_but"}, {Scope::only, "only"}}};
constexpr std::array<std::pair<Hatch, const char*>, 6> hatches{{{Hatch::lines, "lines"},
                                                                {Hatch::pairs, "pairs"},
                                                                {Hatch::crossed, "crossed"},
                                                                {Hatch::dashes, "dashes"},
                                                                {Hatch::filled, "filled"},
                                                                {Hatch::none, "none"}}};

} // namespace

std::string to_string(Cutaway::Form form) {
    return word_of(forms, form);
}
std::optional<Cutaway::Form> cutaway_form_from(const std::string& text) {
    return value_of(forms, text);
}
std::string to_string(Cutaway::Scope scope) {
    return word_of(scopes, scope);
}
std::optional<Cutaway::Scope> cutaway_scope_from(const std::string& text) {
    return value_of(scopes, text);
}
std::string to_string(Hatch hatch) {
    return word_of(hatches, hatch);
}
std::optional<Hatch> hatch_from(const std::string& text) {
    return value_of(hatches, text);
}

Frame3 frame_of(const Cutaway& cutaway) {
    constexpr double hardly_any = 1e-9;
    Frame3 frame;
    frame.origin = cutaway.origin;
    const Vector3 z = Vector3(cutaway.normal).unit();
    frame.z = z.length() > 0 ? z : Vector3(0, 0, 1);
    const auto square = [&](const Vector3& way) { return way - frame.z * way.dot(frame.z); };
    Vector3 x = square(Vector3(cutaway.across));
    if (x.length() < hardly_any) {
        x = square(std::abs(frame.z.x) < 0.7 ? Vector3(1, 0, 0) : Vector3(0, 1, 0));
    }
    frame.x = x.unit();
    frame.y = frame.z.cross(frame.x);
    return frame;
}

Cutaway turned(Cutaway cutaway, const Point3& about, const Vector3& axis, double angle) {
    const auto turn = [&](const Vector3& v) { // Rodrigues
        const Vector3 way =
            v * std::cos(angle) + axis.cross(v) * std::sin(angle) + axis * (axis.dot(v) * (1 - std::cos(angle)));
        const auto clean = [](double c) { return std::abs(c) < 1e-12 ? 0.0 : c; };
        return Vector3(clean(way.x), clean(way.y), clean(way.z));
    };
    const Frame3 frame = frame_of(cutaway);
    cutaway.origin = (about + turn(frame.origin - about)).array();
    const Vector3 z = turn(frame.z);
    const Vector3 x = turn(frame.x);
    cutaway.normal = {z.x, z.y, z.z};
    cutaway.across = {x.x, x.y, x.z};
    return cutaway;
}

Cutaway moved(Cutaway cutaway, const Vector3& by) {
    cutaway.origin = (Point3(cutaway.origin) + by).array();
    return cutaway;
}

Cutaway flipped(Cutaway cutaway) {
    if (cutaway.form != Cutaway::Form::plane) {
        cutaway.keeps = !cutaway.keeps;
        return cutaway;
    }
    for (double& c : cutaway.normal) {
        c = c == 0 ? 0 : -c;
    }
    return cutaway;
}

} // namespace kervo::model
