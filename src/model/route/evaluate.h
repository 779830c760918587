// Evaluation: the bodies after each step, as a pure function of the document.
//
// What a step reads is known from its field list, so a step runs as soon as what it reads is there, beside others, and
// a step whose definition and inputs have not changed is not run again: its output is taken from the cache. A step that
// fails hands its inputs on unchanged; what reads what it should have made is stale.
#pragma once

#include "model/document/document.h"

#include <mutex>
#include <unordered_map>

namespace kervo::model {

enum class StepState { ok, warning, failed, stale, suspended };
std::string to_string(StepState state);

using StepOutputPtr = std::shared_ptr<const StepOutput>;

struct StepReport {
    int id = 0;
    StepPtr step; ///< as it was evaluated
    StepState state = StepState::ok;
    bool from_cache = false;
    double seconds = 0;
    StepOutputPtr output; ///< null for suspended steps
    Findings findings;
};

/// What is known of a body at the end of the route, beside its shape.
struct BodyTraits {
    std::string name;
    std::string color;
    std::string layer;
    int group = 0; ///< 0: none
    bool stale = false;
};

struct Evaluation {
    EvaluatedParameters parameters; ///< measured ones too
    ParameterValues measured;       ///< of those alone
    std::vector<StepReport> steps;  ///< in the order of the route
    std::map<int, SketchResultPtr> sketches;
    std::map<BodyId, BodyTraits> traits; ///< of all bodies that exist anywhere on the route
    bool cancelled = false;
    int steps_run = 0; ///< those not taken from the cache

    [[nodiscard]] const StepReport* report(int step) const;
    /// Bodies after the step, in the order of their makers; of the whole route for 0. Takes time with the route's
    /// length.
    [[nodiscard]] std::vector<std::pair<BodyId, BodyPtr>> bodies_as_of(int step = 0) const;
    [[nodiscard]] bool failed() const;
};
using EvaluationPtr = std::shared_ptr<const Evaluation>;

/// Keeps outputs of steps across evaluations. Safe to share between threads.
class EvaluationCache {
public:
    struct Key {
        StepPtr step;
        std::map<std::string, Quantity> parameters;
        std::vector<const void*> inputs;                     ///< identities of the bodies, sketches and files it reads
        std::vector<std::shared_ptr<const void>> keep_alive; ///< so that an identity is never given twice
    };
    StepOutputPtr find(const Key& key);
    void store(Key key, StepOutputPtr output);
    /// What the step reads and writes, as its fields say.
    std::shared_ptr<const Dependencies> dependencies(const StepPtr& step);

private:
    static constexpr size_t entries_per_step = 12;
    struct Entry {
        Key key;
        StepOutputPtr output;
    };
    std::mutex guard_;
    std::unordered_map<int, std::vector<Entry>> entries_;
    struct Known {
        StepPtr step;
        std::shared_ptr<const Dependencies> reads;
    };
    std::unordered_map<int, Known> dependencies_; ///< by id, of the step as it was last
};

/// Evaluates the document. `as_of`: the id of the last step to evaluate (0: all). A cancelled evaluation says so and
/// keeps nothing half done.
Evaluation evaluate(const Document& document, EvaluationCache& cache, const Services& services, Progress& progress,
                    int as_of = 0);

/// Which of these bodies are in the group, or in one that it holds.
std::vector<BodyId> members_of(int group, const std::vector<BodyId>& bodies, const Document& document,
                               const Evaluation& evaluation);

/// The document with all picks made by hand replaced by the names that the evaluation found for them, on the steps that
/// are still as they were evaluated.
Document adopt_names(Document document, const Evaluation& evaluation);

/// Inputs as the step would see them, plus all bodies before it: for previews and the list of bodies met.
StepInputs inputs_before(const Document& document, const Evaluation& evaluation, int step, const Services& services,
                         Progress& progress);

} // namespace kervo::model
