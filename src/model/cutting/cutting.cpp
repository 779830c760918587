#include "model/cutting/cutting.h"

#include "geom/cut/local_cut.h"
#include "geom/cut/short_end.h"
#include "geom/cut/unite.h"
#include "geom/kernel/by_shape.h"
#include "geom/kernel/finding_place.h"
#include "geom/kernel/hanging_together.h"
#include "geom/kernel/is_curves.h"
#include "geom/measure/measure.h"
#include "geom/measure/pick.h"
#include "geom/surface/sew.h"
#include "model/cutting/cut_curves.h"
#include "model/cutting/named_cutters.h"
#include "model/cutting/reaching.h"

#include <spdlog/spdlog.h>

#include <algorithm>
#include <numeric>
#include <optional>
#include <set>

namespace kervo::model {

namespace {

// Whether it cuts on behalf of this body: itself, or one of its chains of curves.
bool is_of(const std::string& key, const BodyId& body) {
    return key == body || (key.starts_with(body) && key[body.size()] == '/');
}

class Cut {
public:
    Cut(const StepInputs& inputs, NamedCutters cutters, const CutRules& rules, StepOutput& output, Answers& answers)
        : inputs_(inputs), cutters_(std::move(cutters)), rules_(rules), output_(output), answers_(answers) {}

    void cut(const std::vector<BodyPtr>& bodies, const VerdictRules& verdicts) {
        std::vector<Piece> pieces;
        std::vector<Workpiece> workpieces;
        for (size_t i = 0; i < bodies.size(); ++i) {
            if (auto workpiece = divide(id_of(bodies[i]), bodies[i])) {
                pieces.insert(pieces.end(), workpiece->pieces.begin(), workpiece->pieces.end());
                workpieces.push_back(std::move(*workpiece));
            }
            inputs_.progress->report(static_cast<double>(i + 1) / static_cast<double>(bodies.size()), "cut");
        }
        if (!within_.places.empty()) {
            answers_.report(rules_.cutters_field, within_);
        }
        if (!answers_.ok()) {
            return;
        }
        if (std::none_of(workpieces.begin(), workpieces.end(), [&](const auto& w) { return is_cut(w.pieces); })) {
            answers_.report(rules_.cutters_field,
                            error_finding("cut.nothing_met", "What cuts meets none of the ticked bodies.",
                                          "Turn the way round, let it reach farther, or tick other bodies."));
            return;
        }
        const Standard standard = rules_.all_become ? [this](const PieceIdentity&) { return *rules_.all_become; }
                                                    : standard_of(rules_.keeps, rules_.sides);
        for (const Finding& finding : apply_verdicts(pieces, verdicts, standard)) {
            answers_.report("verdicts", finding);
        }
        for (Piece& piece : pieces) {
            piece.by_sides = !rules_.sides.empty() || rules_.all_become || geom::is_curves(piece.shape);
        }
        output_.pieces = pieces;
        if (!answers_.ok()) {
            return;
        }
        for (Workpiece& workpiece : workpieces) {
            commit(workpiece, pieces, &workpiece == &workpieces.front() ? rules_.united : References{});
        }
    }

private:
    struct Workpiece {
        BodyId id;
        BodyPtr body;
        std::vector<Piece> pieces;
        std::vector<geom::FaceOrigin> origins;
        FaceNames names;
        std::optional<geom::IndexChange> change;  ///< of what is left, where that is one piece
        bool cut_twice = false;                   ///< the change is from what the first cut left
        std::vector<geom::FaceOrigin> parts = {}; ///< of edges, where it is curves alone
    };

    [[nodiscard]] bool spares() const {
        return std::any_of(rules_.sides.begin(), rules_.sides.end(),
                           [](const auto& each) { return each.second.spared; });
    }

    [[nodiscard]] BodyId id_of(const BodyPtr& body) const {
        for (const auto& [id, known] : inputs_.bodies) {
            if (known == body) {
                return id;
            }
        }
        return {};
    }

    std::optional<Workpiece> divide(const BodyId& id, const BodyPtr& body) {
        const bool curves = rules_.trims && geom::is_curves(body->shape);
        if (body->blade || (!curves && geom::faces_of(body->shape).empty())) {
            answers_.report("workpieces", error_finding("cut.no_solid", "This workpiece is no solid and no surface.",
                                                        "Take it off the list, or cut it in a sketch."));
            return std::nullopt;
        }
        Workpiece workpiece{id, body, {}, {}, body->names, {}, false};
        auto rest = cutters_.all();
        if (rules_.by_each_other) {
            std::erase_if(rest, [&](int k) { return is_of(cutters_.swept()[static_cast<size_t>(k)].key, id); });
        }
        // Plugs that are cut straight are not divided further: not by what is spared either.
        auto division = rest.empty() && !curves ? lumps_of(workpiece)
                        : spares() || curves    ? std::optional<geom::Division>()
                                                : divide_straight(workpiece, rest);
        if (!rest.empty() || curves) {
            workpiece.cut_twice = division.has_value();
            auto others = division ? divide_generally(division->pieces.front().shape,
                                                      geom::LazyIndex(*workpiece.change), rest, workpiece)
                                   : divide_generally(body->shape, *body->index, rest, workpiece);
            if (!others) {
                answers_.report("workpieces", others.finding());
                return std::nullopt;
            }
            if (division) { // the others divided what the straight cuts left
                others->pieces.insert(others->pieces.end(), division->pieces.begin() + 1, division->pieces.end());
                others->workpiece_volume = division->workpiece_volume;
                others->imbalance = std::max(others->imbalance, division->imbalance);
                others->free_form = others->free_form || division->free_form;
            }
            division = std::move(*others);
        }
        division->origins = workpiece.origins;
        if (!tell_hanging(*division, *body) || !tell_fronts(*division)) {
            return std::nullopt;
        }
        tell_short_ends(workpiece, *division);
        if (division->free_form) {
            answers_.report("workpieces", now_free_form());
        }
        workpiece.pieces = identify_pieces(id, *division, cutters_.keys, workpiece.names);
        output_.imbalance = std::max(output_.imbalance, division->imbalance);
        if (!is_cut(workpiece.pieces)) {
            answers_.report("workpieces", cutters_.missed(body->shape));
        } else if (!rules_.trims && geom::solids_of(body->shape).empty() && geom::is_closed(body->shape)) {
            answers_.report("workpieces",
                            note_finding("cut.opened", "This surface was closed; now that it is cut, it is open.",
                                         "Make it a solid first where it is to be closed again."));
        }
        return workpiece;
    }

    // Whether lying inside of it means to be met: a blade's front side is no such place, its kerf is.
    [[nodiscard]] bool eats(const std::string& key) const {
        const auto sides = rules_.sides.find(key);
        if (sides == rules_.sides.end()) {
            return true;
        }
        const auto cutter = static_cast<size_t>(cutters_.index_of(key));
        return !sides->second.spared && cutter < cutters_.swept().size() && !cutters_.swept()[cutter].is_blade();
    }

    // Whether what cuts has met the body: a blade divides it, or something lies inside of another cutter.
    [[nodiscard]] bool is_cut(const std::vector<Piece>& pieces) const {
        return pieces.size() > 1 || std::any_of(pieces.begin(), pieces.end(), [&](const Piece& piece) {
                   const auto& inside = piece.identity.inside;
                   return std::any_of(inside.begin(), inside.end(), [&](const std::string& key) { return eats(key); });
               });
    }

    bool tell_hanging(const geom::Division& division, const Body& body) {
        if (rules_.by_each_other && geom::solids_of(body.shape).empty()) {
            tell_lines_within(division);
            return true;
        }
        for (const geom::Hanging& each : division.hanging) {
            const SweptRegion& cutter = cutters_.swept()[static_cast<size_t>(each.cutter)];
            if (!cutter.is_blade() && !geom::solids_of(body.shape).empty() &&
                tell_short_borders(cutter, body.shape, rules_.cutters_field, answers_)) {
                continue;
            }
            const bool curve = cutter.is_curves();
            Finding finding = error_finding("cut.hangs",
                                            curve ? "A curve ends within the surface here, and divides nothing."
                                                  : "A surface ends inside the material here, and divides nothing.",
                                            curve ? "Let it go on to the border, or leave it out."
                                                  : "Let it reach farther, or leave it out.");
            geom::add_place(finding, each.place);
            if (curve && rules_.can_go_on) {
                finding.offers = {{"Go on to the border", {{"surfaces_reach", "extended"}}}};
            }
            answers_.report(rules_.cutters_field, std::move(finding));
        }
        return division.hanging.empty();
    }

    // Where all divide each other, some end within others, and other lines may go on to the border from there.
    void tell_lines_within(const geom::Division& division) {
        for (const geom::Hanging& each : division.hanging) {
            geom::add_place(within_, each.place);
        }
    }

    // Pieces beside a bounded kerf: what lies at its front and not at its back is in front of it. Nothing may lie at
    // its rim.
    bool tell_fronts(geom::Division& division) {
        const auto& swept = cutters_.swept();
        for (size_t k = 0; k < swept.size(); ++k) {
            if (swept[k].front_key.empty()) {
                continue;
            }
            const int front_index = cutters_.index_of(swept[k].front_key);
            geom::ByShape<std::set<std::string>> roles_at; // of the faces (or curves) of pieces
            for (const geom::FaceOrigin& origin : division.origins) {
                for (const geom::FaceRole& role : swept[k].solid().roles) {
                    if (role.face.IsSame(origin.source)) {
                        geom::entry(roles_at, origin.result).insert(role.role.substr(0, role.role.find('/')));
                    }
                }
            }
            for (geom::DividedPiece& piece : division.pieces) {
                const bool lost =
                    std::find(piece.inside.begin(), piece.inside.end(), static_cast<int>(k)) != piece.inside.end();
                std::set<std::string> touched;
                for (const TopoDS_Shape& part :
                     geom::is_curves(piece.shape) ? geom::edges_of(piece.shape) : geom::faces_of(piece.shape)) {
                    if (const auto* roles = lost ? nullptr : roles_at.Seek(part)) {
                        touched.insert(roles->begin(), roles->end());
                    }
                }
                if (touched.contains("rim")) {
                    Finding finding = error_finding("blade.ends_inside", "The blade ends inside the material.",
                                                    "Make it larger, or endless.");
                    geom::add_place(finding, piece.center);
                    answers_.report(rules_.cutters_field, std::move(finding));
                    return false;
                }
                if (touched.contains("front") && !touched.contains("back")) {
                    piece.inside.push_back(front_index);
                }
            }
        }
        return true;
    }

    void tell_short_ends(const Workpiece& workpiece, const geom::Division& division) {
        if (!rules_.short_is_meant) {
            return;
        }
        for (const int k : cutters_.all()) {
            const SweptRegion& cutter = cutters_.swept()[static_cast<size_t>(k)];
            std::vector<TopoDS_Shape> inside;
            for (const geom::DividedPiece& piece : division.pieces) {
                if (!rules_.sides.contains(cutter.key) &&
                    std::find(piece.inside.begin(), piece.inside.end(), k) != piece.inside.end()) {
                    inside.push_back(piece.shape);
                }
            }
            for (const auto& plug : geom::hanging_together(inside)) {
                if (const auto end =
                        geom::short_end(workpiece.body->shape, cutter.solid().shape, plug, division.origins)) {
                    Finding finding =
                        warning_finding("cut.short",
                                        "A cutter ends inside the material, " + format_fixed(end->missing, "mm") +
                                            " mm short of passing through.",
                                        "Make it longer by that, or say that it is meant to end there.");
                    geom::add_place(finding, end->place);
                    finding.offers = {*rules_.short_is_meant, {"Open what is short", {}, maker_of(cutter.key)}};
                    answers_.report(rules_.cutters_field, std::move(finding));
                }
            }
        }
    }

    static std::optional<geom::Division> lumps_of(Workpiece& workpiece) {
        geom::Division division = geom::lumps_of(workpiece.body->shape);
        workpiece.origins = division.origins;
        return division;
    }

    // Without any general algorithm, by the cutters of which it is proven that this can be done; the others are handed
    // back in `rest`.
    std::optional<geom::Division> divide_straight(Workpiece& workpiece, std::vector<int>& rest) {
        const auto straight = cutters_.straight();
        if (straight.empty()) {
            return std::nullopt;
        }
        std::string why_not;
        auto result = geom::divide_straight(*workpiece.body->index, straight, why_not);
        if (!why_not.empty()) {
            spdlog::debug("step {}: {} of {} cutters do not cut body {} straight; the first: {}", inputs_.step,
                          result ? result->unproven.size() : straight.size(), straight.size(), workpiece.id, why_not);
        }
        if (!result) {
            return std::nullopt;
        }
        workpiece.origins = result->division.origins;
        for (const auto& made : result->made) {
            workpiece.names.Bind(made.face, cutters_.name_of(made));
            workpiece.origins.push_back({made.face, made.face});
        }
        for (const auto& pierced : result->left.pierced) {
            const auto& before = result->left.before->faces[static_cast<size_t>(pierced.face)].face;
            workpiece.names.Bind(pierced.now, FaceName(workpiece.names.Find(before)));
        }
        rest = std::move(result->unproven);
        workpiece.change = std::move(result->left);
        return std::move(result->division);
    }

    // The indices of some of the cutters are now those among all.
    static void by_all_cutters(geom::Division& division, const std::vector<int>& by) {
        for (geom::Hanging& each : division.hanging) {
            each.cutter = by[static_cast<size_t>(each.cutter)];
        }
        for (geom::DividedPiece& piece : division.pieces) {
            for (int& cutter : piece.inside) {
                cutter = by[static_cast<size_t>(cutter)];
            }
        }
    }

    // Only of the faces that the cutters may reach, or else of the whole body.
    Result<geom::Division> divide_generally(const TopoDS_Shape& shape, const geom::LazyIndex& index,
                                            const std::vector<int>& by, Workpiece& workpiece) {
        if (geom::is_curves(shape)) {
            auto divided = model::divide_curves(*workpiece.body, cutters_, by, *inputs_.progress);
            if (!divided) {
                return divided.finding();
            }
            workpiece.parts = std::move(divided->parts);
            workpiece.names = std::move(divided->names);
            workpiece.origins = divided->division.origins;
            by_all_cutters(divided->division, by);
            return std::move(divided->division);
        }
        const auto solids = cutters_.solids(by);
        workpiece.names.add(cutters_.names(by));
        std::string why_not;
        Result<geom::Division> division = geom::Division();
        if (auto reached = geom::divide_reached(index, solids, *inputs_.progress, why_not)) {
            workpiece.change = std::move(reached->left);
            division = std::move(reached->division);
        } else {
            spdlog::debug("step {}: body {} is cut as a whole: {}", inputs_.step, workpiece.id, why_not);
            workpiece.change.reset();
            division = geom::divide(shape, solids, *inputs_.progress);
            if (!division && !inputs_.progress->cancelled()) { // what only touches may be what it cannot cope with
                if (auto past = geom::divide_past_touching(index, solids, *inputs_.progress, why_not)) {
                    workpiece.change = std::move(past->left);
                    division = std::move(past->division);
                }
            }
        }
        if (division) {
            by_all_cutters(*division, by);
            workpiece.origins.insert(workpiece.origins.end(), division->origins.begin(), division->origins.end());
        }
        return division;
    }

    void commit(Workpiece& workpiece, const std::vector<Piece>& decided, const References& with) {
        std::vector<TopoDS_Shape> staying;
        std::set<std::vector<std::string>> sides;
        bool surface = false;
        for (const Piece& piece : decided) {
            if (piece.identity.workpiece != workpiece.id) {
                continue;
            }
            surface = piece.surface;
            if (piece.verdict == Verdict::stays) {
                staying.push_back(piece.shape);
                sides.insert(piece.identity.inside);
            } else if (piece.verdict == Verdict::goes) {
                output_.removed += piece.surface ? 0 : piece.volume;
            } else {
                set_apart(workpiece, piece);
            }
        }
        for (const Reference& reference : with) {
            if (const BodyPtr body = answers_.body(reference.body)) {
                staying.push_back(body->shape);
                workpiece.names.add(body->names.owned_by(reference.body));
                output_.bodies[reference.body] = nullptr;
            }
        }
        if (staying.empty()) {
            output_.bodies[workpiece.id] = nullptr;
            tell_all_gone(workpiece, decided);
            return;
        }
        if (!workpiece.parts.empty()) {
            output_.bodies[workpiece.id] =
                curves_of_parts(staying, workpiece.parts, workpiece.names, rules_.grow_together);
            return;
        }
        if (surface && rules_.grow_together && sides.size() > 1) {
            const geom::Merged whole = geom::side_by_side(staying);
            output_.bodies[workpiece.id] =
                name_united(whole.shape, geom::traced_back(whole.origins, workpiece.origins), workpiece.names);
            return;
        }
        if (surface || (with.empty() && (sides.size() < 2 || !rules_.grow_together))) {
            const bool rest_alone = workpiece.change && staying.size() == 1 && sides.begin()->empty();
            output_.bodies[workpiece.id] = name_result(geom::gather(staying), workpiece.origins, workpiece.names,
                                                       rest_alone ? &*workpiece.change : nullptr, workpiece.cut_twice);
            return;
        }
        // Pieces that stay on both sides of a cutter grow together again.
        const auto united = geom::unite(staying, {true, with.empty()}, *inputs_.progress);
        if (!united) {
            answers_.report("verdicts", united.finding());
            return;
        }
        output_.bodies[workpiece.id] =
            name_united(united->shape, geom::traced_back(united->origins, workpiece.origins), workpiece.names);
    }

    // Nobody wants a body to vanish without a word, unless by a verdict.
    void tell_all_gone(const Workpiece& workpiece, const std::vector<Piece>& decided) {
        for (const Piece& piece : decided) {
            if (piece.identity.workpiece == workpiece.id && (piece.decided || piece.verdict != Verdict::goes)) {
                return;
            }
        }
        Finding finding = warning_finding("cut.all_gone",
                                          rules_.sides.empty()
                                              ? "What cuts takes all of this workpiece; nothing of it is left."
                                              : "Nothing of this workpiece is left: what cuts, its kerf included, is "
                                                "wider than the body, or all of it lies on the side that goes.",
                                          "Cut less, keep a piece by a verdict, or delete the body instead.");
        geom::add_place(finding, geom::centroid_of(workpiece.body->shape));
        answers_.report("workpieces", std::move(finding));
    }

    void set_apart(const Workpiece& workpiece, const Piece& piece) {
        const BodyId id = free_id(std::to_string(inputs_.step) + ":" + piece.identity.text(), output_);
        output_.bodies[id] = workpiece.parts.empty() ? name_result(piece.shape, workpiece.origins, workpiece.names)
                                                     : curves_of_parts({piece.shape}, workpiece.parts, workpiece.names,
                                                                       rules_.grow_together);
        // The half in front of a blade is called after the body; another piece after the step.
        const auto& inside = piece.identity.inside;
        const bool half = std::any_of(inside.begin(), inside.end(), [&](const std::string& key) {
            const auto sides = rules_.sides.find(key);
            return sides != rules_.sides.end() && !sides->second.spared;
        });
        if (half) {
            output_.births.push_back({id, "front", {}, workpiece.id});
        } else {
            output_.births.push_back({id, {}, {}});
        }
    }

    Finding within_ =
        note_finding("cut.ends_within", "Lines that end within a face divide nothing there, and are left out.", "");
    const StepInputs& inputs_;
    NamedCutters cutters_;
    const CutRules& rules_;
    StepOutput& output_;
    Answers& answers_;
};

void check_curves(const std::vector<BodyPtr>& bodies, const std::vector<SweptRegion>& cutters, const CutRules& rules,
                  Answers& answers) {
    const bool curves = std::any_of(cutters.begin(), cutters.end(), [](const auto& each) { return each.is_curves(); });
    const bool solids = std::any_of(bodies.begin(), bodies.end(),
                                    [](const BodyPtr& body) { return !geom::solids_of(body->shape).empty(); });
    if (curves && solids) {
        answers.report(rules.cutters_field,
                       error_finding("cut.no_cutter", "Curves cannot cut solids, only surfaces that they lie on.",
                                     "Pick a solid, a surface or a blade; or extrude the curves."));
    }
}

} // namespace

void cut_bodies(const std::vector<BodyPtr>& bodies, const std::vector<SweptRegion>& cutters,
                const VerdictRules& verdicts, const CutRules& rules, const StepInputs& inputs, StepOutput& output,
                Answers& answers) {
    check_curves(bodies, cutters, rules, answers);
    if (answers.ok()) {
        SweptRegions swept;
        std::copy_if(cutters.begin(), cutters.end(), std::back_inserter(swept), [&](const SweptRegion& cutter) {
            const auto side = rules.sides.find(cutter.key);
            return side == rules.sides.end() || !side->second.spared;
        });
        output.swept = std::make_shared<SweptRegions>(std::move(swept));
        Cut(inputs, NamedCutters(inputs.step, cutters), rules, output, answers).cut(bodies, verdicts);
    }
    if (!answers.ok()) {
        output.bodies.clear();
        output.births.clear();
        output.removed = 0;
    }
}

} // namespace kervo::model
