// Pieces of a cut and what becomes of them.
#pragma once

#include "geom/cut/divide.h"
#include "model/names/names.h"

#include <functional>
#include <map>

namespace kervo::model {

struct Piece {
    PieceIdentity identity;
    TopoDS_Shape shape;
    double volume = 0;    ///< mm^3; of a surface its area, mm^2
    bool surface = false; ///< a part of a surface
    Verdict verdict = Verdict::stays;
    Verdict standard = Verdict::stays; ///< what it would be by default
    bool decided = false;              ///< by a rule of the user's, not by default
    bool by_sides = false; ///< what is outside of all is a piece like the others, not the body less its plugs
    Place center{};
};

/// Identities for all pieces of one workpiece: its side of each cutter, and for equals the faces that only one has,
/// told by what made them if that does, else by their names. `cutter_keys` names the cutters by index; `names` knows
/// the input faces.
std::vector<Piece> identify_pieces(const BodyId& workpiece, const geom::Division& division,
                                   const std::vector<std::string>& cutter_keys, const FaceNames& names);

/// The note that a division could only be made with its round faces as B-splines.
Finding now_free_form();

/// What stays by default of what plain cutters divide: what lies outside of all of them, or what lies inside of one.
enum class Keeps { outside, inside };

/// What a piece becomes by default because of a cutter that is no plain one. What one of them drops goes; what one sets
/// apart is set apart if none drops it; what is spared stays, whatever else cuts.
struct Sides {
    Verdict inside = Verdict::goes;   ///< of a blade: in front
    Verdict outside = Verdict::stays; ///< of a blade: behind
    bool spared = false;              ///< what is inside stays
};
/// By cutter key; others are plain.
using SidesOfCutters = std::map<std::string, Sides>;

/// What a piece becomes until the user says otherwise.
using Standard = std::function<Verdict(const PieceIdentity&)>;
Standard standard_of(Keeps keeps, SidesOfCutters sides = {});

/// Sets every piece's verdict: the standard, then the rules. A rule that finds no piece, or
/// two, decides nothing and is an error (piece.lost, piece.several); so are two contrary ones on a piece
/// (piece.contrary). A rule on one of several pieces that look alike holds for the very piece at its place, or with a
/// warning for the one that holds that place (piece.by_place), or for all where there are as many rules alike as pieces
/// (piece.by_count); it never goes over to another.
Findings apply_verdicts(std::vector<Piece>& pieces, const std::vector<VerdictRule>& rules, const Standard& standard);

/// "Top plate", "plug of region 5" ... for lists.
std::string describe_piece(const Piece& piece, const std::string& workpiece_name);

} // namespace kervo::model
