// A step of any kind as a value, and what the house knows of its kind. Nobody who holds one needs to know which kind it
// is: the questions are walked over as a list, and the work is asked of the step itself.
//
// A kind is a plain struct in a folder of its own with `kind`, `title`, `summary`, its answers, their list (`fields`),
// `evaluate` and `==`; perhaps `verbs` by which the window begins it, `cut_title`, and `cutters` where it sweeps
// something. Its source ends with
//
//     template struct StepOf<Groove>; // model/step_of.h
//
// and its name stands in the list of `steps/registry.cpp`.
#pragma once

#include "model/document/fields.h"

#include <functional>
#include <memory>
#include <typeinfo>

namespace kervo::model {

class Answers;
struct Purpose;
struct StepInputs;
struct StepOutput;
class StepDefinition;
class SweptRegion;
struct Body;

/// A way to begin a step of a kind, as the window offers it.
struct StepVerb {
    enum class Group { bring_in, draw, cut, join, shape, check };
    std::string id; ///< never changes: "extrude_cut"
    Group group;    ///< where it stands in the bar
    std::string title;
    std::string help;     ///< one line that says what it does
    std::string shortcut; ///< "Shift+H"; empty: none
    std::string name;     ///< of the step that it begins
    std::function<StepDefinition()> made;
    bool wants_steps = true; ///< makes no sense in an empty document
    std::string behind = {}; ///< the verb of its group behind which it stands; "first"; empty: the last one
};

/// What is known of a kind without having a step of it.
struct StepKind {
    std::string kind;                     ///< in files: "revolve"
    std::string title;                    ///< for people: "Extrude"
    std::string summary;                  ///< one line
    bool sweeps = false;                  ///< another step may repeat what it sweeps
    bool draws = false;                   ///< one of its answers is a drawing
    std::function<StepDefinition()> made; ///< with default answers
    std::vector<StepVerb> verbs;
};

template <class Values> struct PointersTo;
template <class... Types> struct PointersTo<std::variant<Types...>> {
    using Writing = std::variant<Types*...>;
    using Reading = std::variant<const Types*...>;
};
/// Called for every answer of a step, in the order of the card.
using ReadField = std::function<void(const FieldInfo&, const PointersTo<FieldValue>::Reading&)>;
using WriteField = std::function<void(const FieldInfo&, const PointersTo<FieldValue>::Writing&)>;

/// What a step can be asked, whatever its kind; `StepOf` answers for each.
class StepBase {
public:
    StepBase() = default;
    StepBase(const StepBase&) = default;
    StepBase& operator=(const StepBase&) = delete;
    virtual ~StepBase() = default;

    [[nodiscard]] virtual const StepKind& kind() const = 0;
    [[nodiscard]] virtual const std::type_info& type() const = 0; ///< of the kind's struct
    [[nodiscard]] virtual void* answers() = 0;                    ///< the kind's struct
    [[nodiscard]] virtual std::unique_ptr<StepBase> copy() const = 0;
    [[nodiscard]] virtual bool equals(const StepBase& other) const = 0; ///< one of the same kind
    virtual void read(const ReadField& each) const = 0;
    virtual void write(const WriteField& each) = 0;
    [[nodiscard]] virtual std::string title() const = 0;
    [[nodiscard]] virtual StepOutput evaluate(const StepInputs& inputs) const = 0;
    /// Where it sweeps: what it cuts with, given the bodies that it may pass through.
    [[nodiscard]] virtual std::vector<SweptRegion> cutters(const std::vector<std::shared_ptr<const Body>>& bodies,
                                                           Answers& answers, StepOutput& output) const = 0;
    /// Where it makes, unites or cuts, as one answers: those answers. Null for others.
    [[nodiscard]] virtual const Purpose* purpose() const = 0;
};

template <class Kind> struct StepOf {
    static std::unique_ptr<StepBase> made(Kind answers);
    static const StepKind& kind();
};

class StepDefinition {
public:
    /// Of the first kind there is.
    StepDefinition();
    template <class Kind>
    requires requires { Kind::summary; }
    StepDefinition(Kind answers) : step_(StepOf<Kind>::made(std::move(answers))) {}
    StepDefinition(const StepDefinition& other) : step_(other.step_->copy()) {}
    StepDefinition& operator=(const StepDefinition& other) { return *this = StepDefinition(other); }
    StepDefinition(StepDefinition&&) = default;
    StepDefinition& operator=(StepDefinition&&) = default;
    ~StepDefinition() = default;

    [[nodiscard]] const StepBase& step() const { return *step_; }
    [[nodiscard]] StepBase& step() { return *step_; }
    /// Its answers, if it is of that kind; else null.
    template <class Kind> [[nodiscard]] Kind* as() {
        return step_->type() == typeid(Kind) ? static_cast<Kind*>(step_->answers()) : nullptr;
    }
    template <class Kind> [[nodiscard]] const Kind* as() const {
        return step_->type() == typeid(Kind) ? static_cast<const Kind*>(step_->answers()) : nullptr;
    }
    template <class Kind> [[nodiscard]] bool is() const { return step_->type() == typeid(Kind); }
    friend bool operator==(const StepDefinition& a, const StepDefinition& b) {
        return a.step_->type() == b.step_->type() && a.step_->equals(*b.step_);
    }

private:
    std::unique_ptr<StepBase> step_; ///< null only where it was moved away
};

/// Calls `visit(const FieldInfo&, value)` for every field, in the order of the card.
template <class Visit> void for_each_field(const StepDefinition& definition, Visit&& visit) {
    definition.step().read([&](const FieldInfo& info, const PointersTo<FieldValue>::Reading& pointer) {
        std::visit([&](const auto* value) { visit(info, *value); }, pointer);
    });
}
template <class Visit> void for_each_field(StepDefinition& definition, Visit&& visit) {
    definition.step().write([&](const FieldInfo& info, const PointersTo<FieldValue>::Writing& pointer) {
        std::visit([&](auto* value) { visit(info, *value); }, pointer);
    });
}

} // namespace kervo::model
