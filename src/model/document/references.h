// How definitions refer to things that only evaluation makes: bodies, faces, edges, vertices, pieces.
#pragma once

#include "base/formula.h"

#include <array>
#include <optional>
#include <string>
#include <vector>

namespace kervo::model {

/// Bodies are named by the step that makes them: "10", "20.2" (second of an import), "50:..." (a piece set apart).
using BodyId = std::string;
using Place = std::array<double, 3>; // mm

/// Id of the step that makes the body; 0 for a text that is no body id.
int maker_of(const BodyId& body);

/// Whether the body's id tells it from others that look alike by a number alone: a reference to it counts by place.
bool has_twins(const BodyId& body);

/// A group of bodies is referred to as "#3": whatever is in it.
BodyId reference_to_group(int group);
/// The group that is meant; 0 for a body.
int group_meant(const BodyId& body);

enum class ElementKind { body, face, edge, vertex };
std::string to_string(ElementKind kind);

/// A reference to a body or to an element of one.
///
/// `faces` holds the names of the faces that tell it: a face itself, the two faces of an edge, all faces of a vertex.
/// `ends` holds, for an edge, the faces beside its ends, and "?" where another edge or vertex has the same name: such a
/// one is found again by its place alone. `near` is where it was when it was picked; of a body, only where it has
/// twins. By hand, body, kind and near are enough; the name is filled in when it is first resolved.
struct Reference {
    ElementKind kind = ElementKind::body;
    BodyId body;
    std::vector<std::string> faces;
    std::vector<std::string> ends;
    std::optional<Place> near;
    Expression own = {};   ///< where the field has an answer for each element: this one's; empty: as all
    std::string name = {}; ///< where rows call each element by a name: this one's
    friend bool operator==(const Reference&, const Reference&) = default;

    [[nodiscard]] bool by_hand() const { return kind == ElementKind::body ? has_twins(body) && !near : faces.empty(); }
};

/// Among the `ends` of an edge or vertex that has the same name as another one.
inline const std::string has_a_twin = "?";
/// What lies nearer than this to where an element was picked has not moved (mm).
inline constexpr double same_place = 1e-6;

/// Whether one of them is to the body or to an element of it, by name.
bool names_body(const std::vector<Reference>& references, const BodyId& body);

/// Those without a name get the next free one: "t1", "t2" ...
void name_each(std::vector<Reference>& references);

/// A reference to a body (or group) as a whole.
Reference whole(const BodyId& body);

enum class Verdict { stays, goes, apart };
std::string to_string(Verdict verdict);
std::optional<Verdict> verdict_from(const std::string& text);

/// What tells a piece from all others of a cut, independent of counts and order.
struct PieceIdentity {
    BodyId workpiece;
    std::vector<std::string> inside; ///< keys of the regions whose cutters contain it, sorted; none: outside of all
    std::vector<std::string> beside; ///< names of the faces that only it has, among the pieces on the same sides
    bool ambiguous = false;          ///< another piece has the same description
    friend auto operator<=>(const PieceIdentity&, const PieceIdentity&) = default;

    [[nodiscard]] std::string text() const;
};

/// A verdict that the user set, as opposed to the default (outside stays, inside goes).
struct VerdictRule {
    PieceIdentity piece;
    Verdict verdict = Verdict::stays;
    std::optional<Place> near; ///< centre of the piece when the verdict was set
    friend bool operator==(const VerdictRule&, const VerdictRule&) = default;
};

} // namespace kervo::model
