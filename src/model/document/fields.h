// The field list: what a step kind asks, said once. The file format, the step card, the command line, the dependency
// analysis and the reference page all walk over the same list.
//
//   struct Groove {
//       Expression depth{"5 mm"};
//       template <class Self, class Visit> static void fields(Self& self, Visit&& visit) {
//           visit(FieldInfo("depth", "Depth", Question::how_far, "How deep it goes.").length(), self.depth);
//       }
//   };
#pragma once

#include "base/formula.h"
#include "model/document/references.h"
#include "sketch/arrangement.h"

#include <algorithm>
#include <array>
#include <map>
#include <set>
#include <string>
#include <utility>
#include <variant>
#include <vector>

namespace kervo::model {

struct StepVerb; // model/step_definition.h

/// The questions of a step card, in the order in which they stand on it.
enum class Question { what_is_cut, what_cuts_it, how_far, what_stays, size, drawing, rows, place, source, measured };
std::string title_of(Question question);

/// One of a few named answers.
struct Choice {
    std::string value;
    friend bool operator==(const Choice&, const Choice&) = default;
};
/// A sketch step, by id; 0: none chosen yet.
struct SketchLink {
    int step = 0;
    friend bool operator==(const SketchLink&, const SketchLink&) = default;
};
/// A step that sweeps something, by id; 0: none chosen yet.
struct SweepLink {
    int step = 0;
    friend bool operator==(const SweepLink&, const SweepLink&) = default;
};
/// Bodies that the step does not change are as they were after that step, by id; 0: as they are where the step stands.
struct StateLink {
    int step = 0;
    friend bool operator==(const StateLink&, const StateLink&) = default;
};
/// A file kept in the document, by name.
struct AssetLink {
    std::string name;
    friend bool operator==(const AssetLink&, const AssetLink&) = default;
};

/// The name of a parameter that the step gives a value.
struct ParameterName {
    std::string text;
    friend bool operator==(const ParameterName&, const ParameterName&) = default;
};

/// Copies of a pattern, by name.
struct CopyNames {
    std::vector<std::string> all;
    friend bool operator==(const CopyNames&, const CopyNames&) = default;
};

/// A line of a list that is worked through from top to bottom: what it makes, and of what.
struct Row {
    std::string name;                 ///< by which the lines after it use it
    std::string makes;                ///< one of the options of the field
    std::vector<std::string> of = {}; ///< names of what it is made of, in order; empty: all that fits
    std::array<Expression, 3> at = {{{"0"}, {"0"}, {"0"}}}; ///< of what has a place or goes a way: x, y, z
    friend bool operator==(const Row&, const Row&) = default;
};
using Rows = std::vector<Row>;

/// A region that a step takes.
struct ChosenRegion : sketch::RegionReference {
    ChosenRegion() = default;
    ChosenRegion(std::vector<std::string> sides, const sketch::Point2& place, int of_figure = 0, int of_sketch = 0,
                 Expression own_answer = {})
        : RegionReference{std::move(sides), place, of_figure}, sketch(of_sketch), own(std::move(own_answer)) {}
    int sketch = 0;      ///< the sketch step that it is of; 0: the one that the step names
    Expression own = {}; ///< where the field has an answer for each region: this one's; empty: as all
    friend bool operator==(const ChosenRegion&, const ChosenRegion&) = default;
};

using References = std::vector<Reference>;
using RegionReferences = std::vector<ChosenRegion>;
using VerdictRules = std::vector<VerdictRule>;

using FieldValue = std::variant<Expression, Choice, SketchLink, AssetLink, References, RegionReferences, VerdictRules,
                                sketch::Sketch, ParameterName, SweepLink, CopyNames, StateLink, Rows>;

struct FieldOption {
    std::string value;
    std::string label;
    bool has_place = false; ///< of rows: it stands at x, y, z
    bool has_way = false;   ///< of rows: it goes that far along x, y, z

    [[nodiscard]] bool has_numbers() const { return has_place || has_way; }
};

struct FieldInfo {
    std::string key;
    std::string label;
    Question question;
    std::string help;
    Dimension dimension;              ///< of expressions
    std::vector<FieldOption> options; ///< of choices and of rows
    std::set<ElementKind> accepts;    ///< of references
    bool many = false;                ///< references: more than one
    bool writes = false;              ///< references: the step changes these bodies
    bool listed = false;              ///< bodies: chosen one by one, in an order, instead of ticked among all
    bool clicked = false;             ///< bodies: a click with the marker of its question chooses them
    bool goes_beside = false;         ///< stands on one line with the answer before it
    bool folded = false;              ///< folded away on the card while it is as the step began
    /// A choice, by its key, and its values for which the field is asked.
    struct Condition {
        std::string choice;
        std::vector<std::string> values;
    };
    std::vector<Condition> asked_when;          ///< all must hold
    bool moot = false;                          ///< not asked, since nothing hangs on it yet
    std::map<std::string, Dimension> own_names; ///< of expressions: what they may read besides parameters
    std::string each_label;                     ///< of elements and regions: what each may have of its own
    bool names_each = false;                    ///< of elements: rows call each by a name

    FieldInfo(std::string field_key, std::string field_label, Question asked, std::string field_help)
        : key(std::move(field_key)), label(std::move(field_label)), question(asked), help(std::move(field_help)) {}

    /// The option that stands for this answer; null where there is none.
    [[nodiscard]] const FieldOption* option(const std::string& value) const {
        const auto found =
            std::find_if(options.begin(), options.end(), [&](const FieldOption& each) { return each.value == value; });
        return found == options.end() ? nullptr : &*found;
    }

    // Each of these says one thing more about the field, and hands it on.

    /// A formula that comes to mm, to a plain number, to rad.
    FieldInfo&& length() && { return dimension = length_dimension, std::move(*this); }
    FieldInfo&& number() && { return dimension = plain_number, std::move(*this); }
    FieldInfo&& angle() && { return dimension = angle_dimension, std::move(*this); }
    /// A choice among these, in the order of the list on the card.
    FieldInfo&& one_of(std::vector<FieldOption> list) && { return options = std::move(list), std::move(*this); }
    /// References to elements of these kinds, picked in the model; to one unless it is `several`.
    FieldInfo&& picks(std::set<ElementKind> kinds) && { return accepts = std::move(kinds), std::move(*this); }
    FieldInfo&& several() && { return many = true, std::move(*this); }
    /// Several, chosen one by one in an order; else bodies are ticked among all that there are.
    FieldInfo&& one_by_one() && { return many = listed = true, std::move(*this); }
    /// The formula may read these names besides parameters.
    FieldInfo&& reads(std::map<std::string, Dimension> names) && {
        return own_names = std::move(names), std::move(*this);
    }
    /// Each chosen one may have an answer of its own, a formula of the field's dimension, which is called so.
    FieldInfo&& each(std::string words) && { return each_label = std::move(words), std::move(*this); }
    /// Rows of another field call each of them by a name.
    FieldInfo&& named() && { return names_each = true, std::move(*this); }
    /// The step makes new bodies of these, under their old names; a click with the marker of the question chooses them.
    FieldInfo&& changes_them(bool it_does = true) && {
        writes = it_does;
        clicked = clicked || it_does;
        return std::move(*this);
    }
    /// They are gone after the step.
    FieldInfo&& uses_them_up(bool it_does) && { return writes = it_does, std::move(*this); }
    /// A click with the marker of the question chooses them, although they stay as they are.
    FieldInfo&& by_marker() && { return clicked = true, std::move(*this); }
    /// Stands on one line of the card with the answer before it.
    FieldInfo&& beside() && { return goes_beside = true, std::move(*this); }
    /// Is folded away on the card as long as the answer is the one that the step began with.
    FieldInfo&& folds() && { return folded = true, std::move(*this); }
    /// Asked only while all these choices have one of these values.
    FieldInfo&& when(std::vector<Condition> all) && {
        asked_when.insert(asked_when.end(), all.begin(), all.end());
        return std::move(*this);
    }
    FieldInfo&& when(std::string choice, std::vector<std::string> values) && {
        asked_when.push_back({std::move(choice), std::move(values)});
        return std::move(*this);
    }
    /// Not asked while nothing hangs on it.
    FieldInfo&& unless(bool it_is_moot) && { return moot = it_is_moot, std::move(*this); }
};

/// Calls `visit(Expression&, const Dimension&)` for every formula of an answer.
template <class Value, class Visit> void for_each_formula(const FieldInfo& info, Value& value, Visit&& visit) {
    using Plain = std::remove_const_t<Value>;
    if constexpr (std::is_same_v<Plain, FieldValue>) {
        std::visit([&](auto& typed) { for_each_formula(info, typed, visit); }, value);
    } else if constexpr (std::is_same_v<Plain, Expression>) {
        visit(value, info.dimension);
    } else if constexpr (std::is_same_v<Plain, sketch::Sketch>) {
        sketch::for_each_formula(value, visit);
    } else if constexpr (std::is_same_v<Plain, Rows>) {
        for (auto& row : value) {
            const FieldOption* option = info.option(row.makes);
            if (option != nullptr && option->has_numbers()) {
                for (auto& each : row.at) {
                    visit(each, info.dimension);
                }
            }
        }
    } else if constexpr (std::is_same_v<Plain, References> || std::is_same_v<Plain, RegionReferences>) {
        for (auto& one : value) {
            if (!one.own.text.empty()) {
                visit(one.own, info.dimension);
            }
        }
    }
}

} // namespace kervo::model
