// How a document is looked into: cutaways, which change nothing but the view; materials, which say how cut faces are
// filled and what things weigh; and views that are kept.
#pragma once

#include "base/space.h"
#include "model/document/references.h"

#include <map>
#include <optional>
#include <set>
#include <string>
#include <vector>

namespace kervo::model {

/// View-only clipping: bodies are shown without what lies in a part of space, or with that alone.
struct Cutaway {
    enum class Form {
        plane,    ///< all that lies in front of it
        slab,     ///< between two planes
        box,      //
        cylinder, //
        body      ///< inside of a solid, which is not shown itself
    };
    enum class Scope { all, all_but, only };

    std::string letter = "A"; ///< by which it is known
    std::string name;
    bool on = true;
    Form form = Form::plane;
    bool keeps = false;        ///< only what lies there is shown, instead of all else
    Place origin{};            ///< of a plane a place on it, of others their middle
    Place normal{0, -1, 0};    ///< of a plane to its front; of a cylinder its axis; of a box its z
    Place across{1, 0, 0};     ///< x of a box; what is not square to the normal of it is left out
    Place size{100, 100, 100}; ///< of a box; of a slab its thickness is the third; of a cylinder: diameter, -, length
    BodyId body;               ///< of `Form::body`
    Scope scope = Scope::all;  ///< whom it concerns
    std::vector<std::string> members; ///< all but these, or only these: bodies, groups ("#3"), layers ("layer:Walls")
    std::string fill;                 ///< "#rrggbb", of what it cuts; empty: as the bodies' materials say

    friend bool operator==(const Cutaway&, const Cutaway&) = default;
};

/// How faces that are cut are filled, after ISO 128-50.
enum class Hatch { lines, pairs, crossed, dashes, filled, none };

struct Material {
    std::string name;
    std::string color = "#b8b8b8"; ///< "#rrggbb"
    double density = 1;            ///< g/cm^3
    Hatch hatch = Hatch::lines;
    bool glass = false; ///< seen through
    friend bool operator==(const Material&, const Material&) = default;
};

/// Where from, and what is seen then. What it does not say of a body is as it stands by default.
struct View {
    std::string name;
    std::string note;
    Place middle{};                        ///< of the picture
    Place along{0, 1, 0};                  ///< to look along
    Place up{0, 0, 1};                     //
    double height = 100;                   ///< mm from the lower to the upper border of the picture
    std::set<BodyId> hidden;               //
    std::map<BodyId, std::string> showing; ///< of those that are not shown fully: a `Showing`
    std::set<std::string> hidden_layers;
    std::vector<Cutaway> cutaways;
    friend bool operator==(const View&, const View&) = default;
};

std::string to_string(Cutaway::Form form);
std::optional<Cutaway::Form> cutaway_form_from(const std::string& text);
std::string to_string(Cutaway::Scope scope);
std::optional<Cutaway::Scope> cutaway_scope_from(const std::string& text);
std::string to_string(Hatch hatch);
std::optional<Hatch> hatch_from(const std::string& text);

/// Where it is: z along the normal, x along what of `across` is square to it (else along any way that is).
Frame3 frame_of(const Cutaway& cutaway);
/// Turned about an axis (of length 1) through a place, by an angle (rad), the right-hand way.
Cutaway turned(Cutaway cutaway, const Point3& about, const Vector3& axis, double angle);
Cutaway moved(Cutaway cutaway, const Vector3& by);
/// The other side, or the other part of space, is taken away.
Cutaway flipped(Cutaway cutaway);

} // namespace kervo::model
