// How a kind's plain struct answers for a step. For the sources of kinds alone.
#pragma once

#include "model/cutting/purpose.h"
#include "model/document/step_definition.h"

namespace kervo::model {

template <class Kind>
concept Sweeping = requires(const Kind& step, const std::vector<BodyPtr>& bodies, Answers& answers,
                            StepOutput& output) {
    step.cutters(bodies, answers, output);
};

template <class Kind> class Holding final : public StepBase {
public:
    explicit Holding(Kind answers) : answers_(std::move(answers)) {}

    [[nodiscard]] const StepKind& kind() const override { return StepOf<Kind>::kind(); }
    [[nodiscard]] const std::type_info& type() const override { return typeid(Kind); }
    [[nodiscard]] void* answers() override { return &answers_; }
    [[nodiscard]] std::unique_ptr<StepBase> copy() const override { return std::make_unique<Holding>(*this); }
    [[nodiscard]] bool equals(const StepBase& other) const override {
        return answers_ == static_cast<const Holding&>(other).answers_;
    }
    void read(const ReadField& each) const override {
        Kind::fields(answers_, [&](const FieldInfo& info, const auto& value) { each(info, &value); });
    }
    void write(const WriteField& each) override {
        Kind::fields(answers_, [&](const FieldInfo& info, auto& value) { each(info, &value); });
    }
    [[nodiscard]] std::string title() const override {
        if constexpr (requires { Kind::cut_title; }) {
            return answers_.result.value == "cut" ? Kind::cut_title : Kind::title;
        } else {
            return Kind::title;
        }
    }
    [[nodiscard]] StepOutput evaluate(const StepInputs& inputs) const override { return answers_.evaluate(inputs); }
    [[nodiscard]] std::vector<SweptRegion> cutters(const std::vector<BodyPtr>& bodies, Answers& answers,
                                                   StepOutput& output) const override {
        if constexpr (Sweeping<Kind>) {
            return answers_.cutters(bodies, answers, output);
        } else {
            return {};
        }
    }
    [[nodiscard]] const Purpose* purpose() const override {
        if constexpr (std::is_base_of_v<Purpose, Kind>) {
            return &answers_;
        } else {
            return nullptr;
        }
    }

private:
    Kind answers_;
};

template <class Kind> std::unique_ptr<StepBase> StepOf<Kind>::made(Kind answers) {
    return std::make_unique<Holding<Kind>>(std::move(answers));
}

template <class Kind> const StepKind& StepOf<Kind>::kind() {
    static const StepKind known = [] {
        StepKind kind{
            Kind::kind, Kind::title, Kind::summary, Sweeping<Kind>, false, [] { return StepDefinition(Kind()); }, {}};
        if constexpr (requires { Kind::verbs(); }) {
            kind.verbs = Kind::verbs();
        }
        const Kind answers;
        Kind::fields(answers, [&](const FieldInfo&, const auto& value) {
            kind.draws = kind.draws || std::is_same_v<std::decay_t<decltype(value)>, sketch::Sketch>;
        });
        return kind;
    }();
    return known;
}

} // namespace kervo::model
