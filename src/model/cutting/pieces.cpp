#include "model/cutting/pieces.h"

#include "geom/kernel/by_shape.h"
#include "geom/kernel/is_curves.h"
#include "geom/measure/measure.h"
#include "geom/measure/pick.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace kervo::model {

namespace {

// The input faces on which the faces of pieces lie.
class Sources {
public:
    Sources(const std::vector<geom::FaceOrigin>& origins, const FaceNames& names) {
        for (const geom::FaceOrigin& origin : origins) {
            if (const FaceName* name = names.Seek(origin.source)) {
                geom::entry(names_, origin.result).push_back(name);
            }
        }
    }
    /// `told`: what is told of a name.
    template <class Told>
    [[nodiscard]] std::set<std::string> around(const TopoDS_Shape& solid, const Told& told) const {
        std::set<std::string> sources;
        for (const TopoDS_Shape& part : geom::is_curves(solid) ? geom::edges_of(solid) : geom::faces_of(solid)) {
            if (const auto* names = names_.Seek(part)) {
                std::transform(names->begin(), names->end(), std::inserter(sources, sources.end()),
                               [&](const FaceName* name) { return told(*name); });
            }
        }
        return sources;
    }

private:
    geom::ByShape<std::vector<const FaceName*>> names_;
};

// By the faces that made them; only where that does not do, by their parts: how a round wall is parted depends on where
// it is closed, which is nobody's business.
void tell_pieces_apart(std::vector<Piece>& pieces, const std::vector<size_t>& alike, const Sources& sources) {
    const auto origin = [](const FaceName& name) { return name.origin; };
    std::vector<std::set<std::string>> around;
    for (const size_t piece : alike) {
        around.push_back(sources.around(pieces[piece].shape, origin));
    }
    const auto distinctions = tell_apart(around);
    std::map<std::vector<std::string>, std::vector<size_t>> still_alike;
    for (size_t i = 0; i < alike.size(); ++i) {
        pieces[alike[i]].identity.beside = distinctions[i].own;
        if (distinctions[i].ambiguous) {
            still_alike[distinctions[i].own].push_back(alike[i]);
        }
    }
    for (const auto& [own, members] : still_alike) {
        around.clear();
        for (const size_t piece : members) {
            around.push_back(sources.around(pieces[piece].shape, [](const FaceName& name) { return name.text(); }));
        }
        const auto by_parts = tell_apart(around);
        for (size_t i = 0; i < members.size(); ++i) {
            PieceIdentity& identity = pieces[members[i]].identity;
            std::set<std::string> all(own.begin(), own.end());
            all.insert(by_parts[i].own.begin(), by_parts[i].own.end());
            identity.beside = {all.begin(), all.end()};
            identity.ambiguous = by_parts[i].ambiguous;
        }
    }
}

} // namespace

Finding now_free_form() {
    return note_finding(
        "divide.free_form",
        "The pieces are sound, but their round faces are free-form now: only so could this be computed.",
        "Move what cuts a little, so that it does not nearly touch along a line, to keep them round.");
}

std::vector<Piece> identify_pieces(const BodyId& workpiece, const geom::Division& division,
                                   const std::vector<std::string>& cutter_keys, const FaceNames& names) {
    std::vector<Piece> pieces;
    std::map<std::vector<std::string>, std::vector<size_t>> on_same_sides;
    for (const geom::DividedPiece& divided : division.pieces) {
        Piece piece;
        piece.shape = divided.shape;
        piece.volume = divided.volume;
        piece.surface = geom::solids_of(divided.shape).empty();
        piece.identity.workpiece = workpiece;
        std::set<std::string> inside;
        for (const int cutter : divided.inside) {
            inside.insert(cutter_keys[static_cast<size_t>(cutter)]);
        }
        piece.identity.inside = {inside.begin(), inside.end()};
        piece.center = {divided.center.X(), divided.center.Y(), divided.center.Z()};
        on_same_sides[piece.identity.inside].push_back(pieces.size());
        pieces.push_back(std::move(piece));
    }
    std::optional<Sources> sources;
    for (const auto& [sides, members] : on_same_sides) {
        if (members.size() < 2) {
            continue;
        }
        if (!sources) {
            sources.emplace(division.origins, names);
        }
        tell_pieces_apart(pieces, members, *sources);
    }
    return pieces;
}

namespace {

Finding rule_problem(const VerdictRule& rule, const char* code, const std::string& cause) {
    Finding finding = error_finding(code, cause, "Look at the pieces and set the verdict again.");
    finding.field = "verdicts";
    if (rule.near) {
        finding.places.push_back(*rule.near);
    }
    return finding;
}

// The only one of which it holds; null where there is none, or several.
template <class Holds> Piece* only_one(const std::vector<Piece*>& candidates, const Holds& holds) {
    Piece* found = nullptr;
    for (Piece* piece : candidates) {
        if (holds(*piece)) {
            if (found != nullptr) {
                return nullptr;
            }
            found = piece;
        }
    }
    return found;
}

Piece* only(const std::vector<Piece*>& candidates, const PieceIdentity& identity) {
    return only_one(candidates, [&](const Piece& piece) { return piece.identity == identity; });
}

Piece* at_place(const std::vector<Piece*>& candidates, const Place& near) {
    return only_one(candidates, [&](const Piece& piece) {
        return std::hypot(piece.center[0] - near[0], piece.center[1] - near[1], piece.center[2] - near[2]) < 1e-5;
    });
}

Piece* around_place(const std::vector<Piece*>& candidates, const Place& near) {
    return only_one(candidates, [&](const Piece& piece) {
        return geom::distance_to(piece.shape, {near[0], near[1], near[2]}) < geom::coincidence;
    });
}

} // namespace

Standard standard_of(Keeps keeps, SidesOfCutters sides) {
    return [keeps, sides = std::move(sides)](const PieceIdentity& piece) {
        const auto& inside = piece.inside;
        const bool outside =
            std::none_of(inside.begin(), inside.end(), [&](const auto& key) { return !sides.contains(key); });
        Verdict verdict = outside == (keeps == Keeps::outside) ? Verdict::stays : Verdict::goes;
        for (const auto& [key, cutter] : sides) {
            const bool within = std::find(inside.begin(), inside.end(), key) != inside.end();
            if (within && cutter.spared) {
                return Verdict::stays;
            }
            const Verdict here = within ? cutter.inside : cutter.outside;
            if (here == Verdict::goes || (here == Verdict::apart && verdict == Verdict::stays)) {
                verdict = here;
            }
        }
        return verdict;
    };
}

namespace {

// Whether there are as many rules like this one, all with its verdict, as pieces that look alike to them.
bool means_all_of_them(const VerdictRule& rule, const std::vector<VerdictRule>& rules, size_t pieces) {
    size_t like_this = 0;
    for (const VerdictRule& other : rules) {
        if (other.piece == rule.piece) {
            if (other.verdict != rule.verdict) {
                return false;
            }
            ++like_this;
        }
    }
    return like_this == pieces;
}

} // namespace

Findings apply_verdicts(std::vector<Piece>& pieces, const std::vector<VerdictRule>& rules, const Standard& standard) {
    Findings findings;
    for (Piece& piece : pieces) {
        piece.standard = standard(piece.identity);
        piece.verdict = piece.standard;
        piece.decided = false;
    }
    for (const VerdictRule& rule : rules) {
        std::vector<Piece*> exact;
        std::vector<Piece*> alike;
        for (Piece& piece : pieces) {
            const bool same_sides =
                piece.identity.workpiece == rule.piece.workpiece && piece.identity.inside == rule.piece.inside;
            const auto& has = piece.identity.beside;
            const bool beside_same =
                std::all_of(rule.piece.beside.begin(), rule.piece.beside.end(),
                            [&](const auto& face) { return std::find(has.begin(), has.end(), face) != has.end(); });
            if (piece.identity == rule.piece) {
                exact.push_back(&piece);
            } else if (same_sides && beside_same) {
                alike.push_back(&piece);
            }
        }
        exact.insert(exact.end(), alike.begin(), alike.end());
        Piece* found = rule.piece.ambiguous ? nullptr : exact.size() == 1 ? exact.front() : only(exact, rule.piece);
        if (rule.piece.ambiguous && rule.near) { // the very piece, or the only one around the place where it was
            found = at_place(exact, *rule.near);
            if (found == nullptr && (found = around_place(exact, *rule.near)) != nullptr) {
                Finding doubt = rule_problem(rule, "piece.by_place",
                                             "Pieces look alike to this verdict; the one that holds the place where it "
                                             "was set is meant.");
                doubt.severity = Severity::warning;
                findings.push_back(std::move(doubt));
            }
        }
        const std::string verdict = "\u201c" + to_string(rule.verdict) + "\u201d";
        if (found == nullptr && rule.piece.ambiguous && exact.size() > 1 &&
            means_all_of_them(rule, rules, exact.size())) {
            Finding doubt = rule_problem(rule, "piece.by_count",
                                         "Pieces look alike to this verdict; all of them are meant, since there are as "
                                         "many as verdicts.");
            doubt.severity = Severity::warning;
            findings.push_back(std::move(doubt));
            for (Piece* piece : exact) {
                piece->verdict = rule.verdict;
                piece->decided = true;
            }
            continue;
        }
        if (found == nullptr) {
            findings.push_back(
                exact.empty()
                    ? rule_problem(rule, "piece.lost", "A piece with the verdict " + verdict + " is no longer there.")
                : rule.piece.ambiguous ? rule_problem(rule, "piece.several",
                                                      "Pieces look alike to the verdict " + verdict +
                                                          ", and none is known to be the one that it was set on.")
                                       : rule_problem(rule, "piece.several",
                                                      "A piece with the verdict " + verdict + " has become several."));
            continue;
        }
        if (found->decided && found->verdict != rule.verdict) {
            findings.push_back(rule_problem(rule, "piece.contrary",
                                            "One piece has two verdicts, \u201c" + to_string(found->verdict) +
                                                "\u201d and " + verdict + "."));
            continue;
        }
        found->verdict = rule.verdict;
        found->decided = true;
    }
    return findings;
}

std::string describe_piece(const Piece& piece, const std::string& workpiece_name) {
    return piece.identity.inside.empty() ? workpiece_name : "plug of " + workpiece_name;
}

} // namespace kervo::model
