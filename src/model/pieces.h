// Pieces of a cut and what becomes of them.
#pragma once

#include "geom/divide.h"
#include "model/names.h"

namespace kervo::model {

struct Piece {
    PieceIdentity identity;
    TopoDS_Shape solid;
    double volume = 0; ///< mm^3
    Verdict verdict = Verdict::stays;
    bool decided = false; ///< by a rule of the user's, not by default
    Place center{};
};

/// Identities for all pieces of one workpiece: its side of each cutter, and for equals the faces that only one has.
/// `cutter_keys` names the cutters by index; `names` knows the input faces.
std::vector<Piece> identify_pieces(const BodyId& workpiece, const geom::Division& division,
                                   const std::vector<std::string>& cutter_keys, const FaceNames& names);

/// What stays by default: what lies outside of all cutters, or what lies inside of one.
enum class Keeps { outside, inside };

/// Sets every piece's verdict: the default, then the rules. A rule that finds no piece, or
/// two, decides nothing and is an error (piece.lost, piece.several).
Findings apply_verdicts(std::vector<Piece>& pieces, const std::vector<VerdictRule>& rules,
                        Keeps keeps = Keeps::outside);

/// "Top plate", "plug of region 5" ... for lists.
std::string describe_piece(const Piece& piece, const std::string& workpiece_name);

} // namespace kervo::model
