#include "model/cutting/cutting.h"

#include "geom/cut/local_cut.h"
#include "geom/cut/short_end.h"
#include "geom/cut/unite.h"
#include "geom/kernel/by_shape.h"
#include "geom/kernel/finding_place.h"
#include "geom/kernel/hanging_together.h"
#include "geom/measure/measure.h"
#include "geom/measure/pick.h"

#include <spdlog/spdlog.h>

#include <algorithm>
#include <numeric>
#include <optional>
#include <set>

namespace kervo::model {

namespace {

// What cuts, with names for its faces. Solids are built only where the general way is gone.
class Cutters {
public:
    Cutters(int step, const std::vector<SweptRegion>& swept) : step_(step), swept_(swept) {
        for (const SweptRegion& region : swept) {
            keys.push_back(region.key);
        }
        for (const SweptRegion& region : swept) {
            if (!region.front_key.empty()) {
                keys.push_back(region.front_key);
            }
        }
    }

    std::vector<std::string> keys; ///< of the cutters, then of their fronts

    [[nodiscard]] int index_of(const std::string& key) const {
        return static_cast<int>(std::find(keys.begin(), keys.end(), key) - keys.begin());
    }
    [[nodiscard]] const std::vector<SweptRegion>& swept() const { return swept_; }
    [[nodiscard]] std::vector<int> all() const {
        std::vector<int> indices(swept_.size());
        std::iota(indices.begin(), indices.end(), 0);
        return indices;
    }
    /// Null where one of them is no prism.
    [[nodiscard]] std::vector<const geom::StraightCutter*> straight() const {
        std::vector<const geom::StraightCutter*> all;
        for (const SweptRegion& region : swept_) {
            if (!region.straight) {
                return {};
            }
            all.push_back(&*region.straight);
        }
        return all;
    }
    [[nodiscard]] std::vector<TopoDS_Shape> solids(const std::vector<int>& which) const {
        std::vector<TopoDS_Shape> shapes;
        for (const int i : which) {
            shapes.push_back(swept_[static_cast<size_t>(i)].solid().shape);
        }
        return shapes;
    }
    /// Of the faces of these solids.
    [[nodiscard]] FaceNames names(const std::vector<int>& which) const {
        FaceNames all;
        for (const int i : which) {
            all.add(name_fresh(step_, swept_[static_cast<size_t>(i)].solid())->names);
        }
        return all;
    }
    /// Of a face that a straight cut made: the same as the solid's face has.
    [[nodiscard]] FaceName name_of(const geom::StraightDivision::Made& made) {
        const SweptRegion& region = swept_[static_cast<size_t>(made.cutter)];
        const auto& loop = region.straight->loops.front();
        if (made.piece >= 0 && !sides_are_alike(made.cutter)) {
            return {std::to_string(step_) + ":side/c" + loop[static_cast<size_t>(made.piece)].curve, {}, false};
        }
        if (made.piece < 0) {
            const bool start = (made.piece == geom::StraightDivision::high_end) == region.down;
            return {std::to_string(step_) + (start ? ":start" : ":end"), {}, false};
        }
        const auto& solid = region.solid();
        return name_fresh(step_, solid)->names.Find(solid.roles[static_cast<size_t>(made.piece)].face);
    }

private:
    // Whether a curve of the sketch makes several sides, which their neighbours tell apart.
    bool sides_are_alike(int cutter) {
        if (alike_.empty()) {
            for (const SweptRegion& region : swept_) {
                std::set<std::string> curves;
                const auto& loop = region.straight->loops.front();
                alike_.push_back(std::any_of(loop.begin(), loop.end(),
                                             [&](const auto& piece) { return !curves.insert(piece.curve).second; }));
            }
        }
        return alike_[static_cast<size_t>(cutter)];
    }

    int step_;
    const std::vector<SweptRegion>& swept_;
    std::vector<bool> alike_;
};

// What of a cutter must come near a body to divide it: of a blade's front side, the blade.
TopoDS_Shape edge_of(const SweptRegion& cutter) {
    for (const geom::FaceRole& role : cutter.solid().roles) {
        if (role.role.starts_with("blade")) {
            return role.face;
        }
    }
    return cutter.solid().shape;
}

// Cutters that miss a ticked body: says by how much, since a cutter that does not reach is the usual cause.
Finding missed(const TopoDS_Shape& workpiece, const Cutters& cutters) {
    double gap = -1;
    Place place{};
    for (const SweptRegion& cutter : cutters.swept()) {
        const auto [width, on_cutter, on_workpiece] = geom::gap_between(edge_of(cutter), workpiece);
        if (gap < 0 || width < gap) {
            gap = width;
            place = {on_workpiece.X(), on_workpiece.Y(), on_workpiece.Z()};
        }
    }
    Finding finding = warning_finding(
        "cut.misses", "What cuts does not meet this workpiece; " + format_fixed(gap, "mm") + " mm are missing.",
        "Let the cut reach farther, or take the body off the list.");
    finding.field = "workpieces";
    finding.places.push_back(place);
    return finding;
}

class Cut {
public:
    Cut(const StepInputs& inputs, Cutters cutters, const CutRules& rules, StepOutput& output, Answers& answers)
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
            piece.by_sides = !rules_.sides.empty() || rules_.all_become;
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
        std::optional<geom::IndexChange> change; ///< of what is left, where that is one piece
        bool cut_twice = false;                  ///< the change is from what the first cut left
    };

    [[nodiscard]] bool spares() const {
        return std::any_of(rules_.sides.begin(), rules_.sides.end(),
                           [](const auto& side) { return side.second.spared; });
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
        if (body->blade || geom::faces_of(body->shape).empty()) {
            answers_.report("workpieces", error_finding("cut.no_solid", "This workpiece is no solid and no surface.",
                                                        "Take it off the list, or cut it in a sketch."));
            return std::nullopt;
        }
        Workpiece workpiece{id, body, {}, {}, body->names, {}, false};
        auto rest = cutters_.all();
        // Plugs that are cut straight are not divided further: not by what is spared either.
        auto division = rest.empty() ? lumps_of(workpiece)
                        : spares()   ? std::optional<geom::Division>()
                                     : divide_straight(workpiece, rest);
        if (!rest.empty()) {
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
        if (!tell_hanging(*division) || !tell_fronts(*division)) {
            return std::nullopt;
        }
        tell_short_ends(workpiece, *division);
        if (division->free_form) {
            answers_.report("workpieces", now_free_form());
        }
        workpiece.pieces = identify_pieces(id, *division, cutters_.keys, workpiece.names);
        output_.imbalance = std::max(output_.imbalance, division->imbalance);
        if (!is_cut(workpiece.pieces)) {
            answers_.report("workpieces", missed(body->shape, cutters_));
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

    bool tell_hanging(const geom::Division& division) {
        for (const geom::Hanging& each : division.hanging) {
            Finding finding =
                error_finding("cut.hangs", "A surface ends inside the material here, and divides nothing.",
                              "Let it reach farther, or leave it out.");
            geom::add_place(finding, each.place);
            answers_.report(rules_.cutters_field, std::move(finding));
        }
        return division.hanging.empty();
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
            geom::ByShape<std::string> role_at; // of the faces of pieces
            for (const geom::FaceOrigin& origin : division.origins) {
                for (const geom::FaceRole& role : swept[k].solid().roles) {
                    if (role.face.IsSame(origin.source)) {
                        role_at.Bind(origin.result, role.role);
                    }
                }
            }
            for (geom::DividedPiece& piece : division.pieces) {
                const bool lost =
                    std::find(piece.inside.begin(), piece.inside.end(), static_cast<int>(k)) != piece.inside.end();
                std::set<std::string> touched;
                for (const TopoDS_Shape& face : geom::faces_of(piece.shape)) {
                    if (const std::string* role = lost ? nullptr : role_at.Seek(face)) {
                        touched.insert(role->substr(0, role->find('/')));
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

    // Only of the faces that the cutters may reach, or else of the whole body.
    Result<geom::Division> divide_generally(const TopoDS_Shape& shape, const geom::LazyIndex& index,
                                            const std::vector<int>& by, Workpiece& workpiece) {
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
            for (geom::DividedPiece& piece : division->pieces) {
                for (int& cutter : piece.inside) {
                    cutter = by[static_cast<size_t>(cutter)];
                }
            }
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
        output_.bodies[id] = name_result(piece.shape, workpiece.origins, workpiece.names);
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

    const StepInputs& inputs_;
    Cutters cutters_;
    const CutRules& rules_;
    StepOutput& output_;
    Answers& answers_;
};

} // namespace

void cut_bodies(const std::vector<BodyPtr>& bodies, const std::vector<SweptRegion>& cutters,
                const VerdictRules& verdicts, const CutRules& rules, const StepInputs& inputs, StepOutput& output,
                Answers& answers) {
    if (answers.ok()) {
        SweptRegions swept;
        std::copy_if(cutters.begin(), cutters.end(), std::back_inserter(swept), [&](const SweptRegion& cutter) {
            const auto side = rules.sides.find(cutter.key);
            return side == rules.sides.end() || !side->second.spared;
        });
        output.swept = std::make_shared<SweptRegions>(std::move(swept));
        Cut(inputs, Cutters(inputs.step, cutters), rules, output, answers).cut(bodies, verdicts);
    }
    if (!answers.ok()) {
        output.bodies.clear();
        output.births.clear();
        output.removed = 0;
    }
}

BodyId free_id(const BodyId& wanted, const StepOutput& output) {
    BodyId id = wanted;
    for (int twin = 2; output.bodies.contains(id); ++twin) {
        id = wanted + "#" + std::to_string(twin);
    }
    return id;
}

std::optional<Finding> lies_apart(const TopoDS_Shape& united, size_t wanted_lumps, Severity severity) {
    const auto lumps = geom::solids_of(united);
    if (lumps.size() <= wanted_lumps) {
        return std::nullopt;
    }
    Finding finding;
    finding.severity = severity;
    finding.code = "unite.apart";
    finding.mend = "Let them overlap, or keep them as bodies of their own.";
    std::string missing;
    if (lumps.size() == 2) { // of more, nobody knows which should meet
        const auto gap = geom::gap_between(lumps[0], lumps[1]);
        missing = "; " + format_fixed(gap.width, "mm") + " mm are missing";
        geom::add_place(finding, gap.on_second);
    }
    finding.cause = "What is united here does not hang together: it is " + std::to_string(lumps.size()) +
                    " lumps of one body" + missing + ".";
    return finding;
}

void add_bodies(const std::vector<SweptRegion>& made, const References* unite_with, const StepInputs& inputs,
                StepOutput& output, Answers& answers) {
    BodyPtr target;
    if (unite_with != nullptr && unite_with->empty()) {
        answers.report("unite_with",
                       error_finding("extrude.no_body", "There is no body to unite it with.", "Pick a body."));
    } else if (unite_with != nullptr) {
        target = answers.picked_body("unite_with", *unite_with);
        if (!target) {
            return;
        }
        if (geom::solids_of(target->shape).empty()) {
            answers.report("unite_with", error_finding("extrude.no_body", "There is no solid to unite it with.",
                                                       "Pick a solid body."));
        }
    }
    if (!answers.ok() || made.empty()) {
        return;
    }
    output.swept = std::make_shared<SweptRegions>(made);
    std::vector<BodyPtr> parts;
    if (target) {
        parts.push_back(target);
    }
    for (const SweptRegion& region : made) {
        parts.push_back(name_fresh(inputs.step, region.solid()));
    }
    std::vector<TopoDS_Shape> shapes;
    FaceNames names;
    for (const BodyPtr& part : parts) {
        shapes.push_back(part->shape);
        names.add(part->names);
    }
    const auto united = geom::unite(shapes, {}, *inputs.progress);
    if (!united) {
        answers.report("unite_with", united.finding());
        return;
    }
    const BodyId id = target ? unite_with->front().body : std::to_string(inputs.step);
    if (target) {
        if (auto apart = lies_apart(united->shape, geom::solids_of(target->shape).size(), Severity::warning)) {
            answers.report("unite_with", std::move(*apart));
        }
    }
    output.bodies[id] = name_united(united->shape, united->origins, names);
    output.added = geom::volume_of(united->shape) - (target ? geom::volume_of(target->shape) : 0);
    if (!target) {
        output.births.push_back({id, {}, {}});
    }
}

namespace {

// The ways of a cut, from the cheapest on, until one of them knows.
bool meet(const std::vector<SweptRegion>& swept, const Body& body) {
    std::string why_not;
    const Cutters cutters(0, swept);
    if (const auto straight = cutters.straight(); !straight.empty()) {
        const auto division = geom::divide_straight(*body.index, straight, why_not);
        if (division && (!division->made.empty() || division->unproven.empty())) {
            return !division->made.empty();
        }
    }
    Progress progress;
    const auto solids = cutters.solids(cutters.all());
    const bool plain = std::none_of(swept.begin(), swept.end(), [](const auto& each) { return each.is_blade(); });
    if (!plain || geom::solids_of(body.shape).empty()) { // a blade's front is no place to lie in
        const auto division = geom::divide(body.shape, solids, progress);
        return division && (division->pieces.size() > 1 || !division->hanging.empty() ||
                            (plain && !division->pieces.front().inside.empty()));
    }
    if (const auto reached = geom::divide_reached(*body.index, solids, progress, why_not)) {
        const auto& pieces = reached->division.pieces;
        return std::any_of(pieces.begin(), pieces.end(), [](const auto& piece) { return !piece.inside.empty(); });
    }
    return std::any_of(solids.begin(), solids.end(),
                       // Where nobody can tell, the body is offered all the same.
                       [&](const TopoDS_Shape& solid) { return geom::overlap(solid, body.shape).value_or(true); });
}

} // namespace

std::vector<BodyId> bodies_met(const std::vector<SweptRegion>& cutters, const std::map<BodyId, BodyPtr>& bodies) {
    std::vector<BodyId> met;
    for (const auto& [id, body] : bodies) {
        if (!body->blade && !geom::faces_of(body->shape).empty() && meet(cutters, *body)) {
            met.push_back(id);
        }
    }
    return met;
}

} // namespace kervo::model
