#include "model/route/evaluate.h"

#include "base/parallel.h"
#include "model/document/groups_and_layers.h"
#include "model/route/born.h"
#include "model/route/dependency_graph.h"
#include "model/route/writers.h"

#include <Standard_Failure.hxx>

#include <algorithm>
#include <atomic>
#include <chrono>
#include <deque>
#include <iterator>

namespace kervo::model {

namespace {

// One step on its way through an evaluation.
struct Task {
    StepPtr step;
    std::shared_ptr<const Dependencies> reads;
    std::set<int> after;                     ///< steps whose output it reads
    std::map<BodyId, int> source_of;         ///< of the bodies that it reads, the step whose output they come from
    std::vector<Task*> next;                 ///< those that wait for it
    std::atomic<int> waits_for = 0;          ///< so many that are not done
    std::set<std::string> needs;             ///< measured parameters that its formulas hang on
    std::optional<Finding> problem;          ///< why it cannot even be tried
    std::unique_ptr<ParameterValues> values; ///< with what is measured; null where the document's own are enough
    bool stale = false;                      ///< something it reads comes from a failed or stale step
    std::atomic<bool> done = false;
    StepReport report;
};

class Run {
public:
    Run(const Document& document, EvaluationCache& cache, const Services& services, Progress& progress)
        : document_(document), cache_(cache), services_(services), progress_(progress) {}

    Evaluation evaluate(int as_of) {
        gather_tasks(as_of);
        for (Task& task : tasks_) {
            if (means_groups(task.step->definition)) {
                run_planned(); // what is in a group may come from any step before
                replace_groups(task);
            }
            plan(task);
            planned_.push_back(&task);
        }
        run_planned();
        return collect();
    }

private:
    // Runs what is planned: each step as soon as what it reads is there.
    void run_planned() {
        for (Task* task : planned_) {
            for (const int id : task->after) {
                Task& before = *by_id_.at(id);
                if (!before.done) {
                    before.next.push_back(task);
                    ++task->waits_for;
                }
            }
        }
        std::vector<Task*> ready;
        std::copy_if(planned_.begin(), planned_.end(), std::back_inserter(ready),
                     [](const Task* task) { return task->waits_for == 0; });
        TaskGroup group;
        for (Task* task : ready) {
            start(group, *task);
        }
        group.wait();
        planned_.clear();
    }

    void start(TaskGroup& group, Task& task) {
        group.run([this, &group, &task] {
            if (progress_.cancelled()) {
                return;
            }
            run(task);
            task.done = true;
            report_progress();
            for (Task* next : task.next) {
                if (--next->waits_for == 0) {
                    start(group, *next);
                }
            }
        });
    }

    // In hundredths of the whole; who listens is told by one thread at a time.
    void report_progress() {
        const std::lock_guard lock(reporting_);
        ++done_;
        const size_t hundredth = done_ * 100 / tasks_.size();
        if (hundredth != reported_) {
            reported_ = hundredth;
            progress_.report(static_cast<double>(done_) / static_cast<double>(tasks_.size()), "evaluate");
        }
    }

    // The step as if the user had picked what is in the groups that it means.
    void replace_groups(Task& task) {
        std::map<BodyId, BodyPtr> bodies;
        std::map<BodyId, int> group_of;
        for (const Task& before : tasks_) {
            if (&before == &task) {
                break;
            }
            if (!before.report.output) {
                continue;
            }
            for (const Birth& birth : before.report.output->births) {
                const auto like = group_of.find(birth.like);
                group_of[birth.id] = group_of_born(document_, birth, like == group_of.end() ? 0 : like->second);
            }
            for (const auto& [id, body] : before.report.output->bodies) {
                bodies[id] = body;
            }
        }
        auto plain = std::make_shared<Step>(*task.step);
        plain->definition = without_groups(std::move(plain->definition), [&](int group) {
            std::vector<BodyId> members;
            for (const auto& [id, in] : group_of) {
                if (in != 0 && bodies[id] && lies_in(document_, in, group)) {
                    members.push_back(id);
                }
            }
            return members;
        });
        task.reads = std::make_shared<const Dependencies>(dependencies_of(plain->definition));
        task.step = std::move(plain);
    }

    void gather_tasks(int as_of) {
        for (const StepPtr& step : document_.steps) {
            Task& task = tasks_.emplace_back();
            task.step = step;
            task.reads = cache_.dependencies(step);
            if (step->id == as_of) {
                break;
            }
        }
        plan_parameters();
    }

    // What it waits for, among the steps that are planned already.
    void plan(Task& task) {
        const auto is_earlier = [this](int step) { return by_id_.contains(step); };
        if (!task.step->suspended) {
            if (task.reads->as_after != 0 && !is_earlier(task.reads->as_after)) {
                task.problem = no_such_state(task.reads->as_after);
            }
            for (const BodyId& body : task.reads->reads) {
                const int source = writers_.last(body, task.reads->sees_after(body));
                if (is_earlier(source)) {
                    task.after.insert(source);
                    task.source_of[body] = source;
                }
            }
            for (const auto* steps : {&task.reads->sketches, &task.reads->sweeps}) {
                std::copy_if(steps->begin(), steps->end(), std::inserter(task.after, task.after.end()), is_earlier);
            }
            writers_.add(task.step->id, task.reads->writes);
            for (const std::string& read : task.reads->parameters) {
                task.needs.merge(measured_behind(read));
            }
            for (const std::string& name : task.needs) {
                const int source = measurer_.at(name);
                if (is_earlier(source)) {
                    task.after.insert(source);
                } else {
                    task.problem = too_early(task, name);
                }
            }
        }
        writers_.pass(task.step->id);
        by_id_[task.step->id] = &task;
    }

    Finding no_such_state(int step) const {
        const auto known = document_.step(step);
        return error_finding("step.no_state",
                             known ? "It looks back to step " + std::to_string(known->number) + " " + known->name +
                                         ", which comes after it."
                                   : "The step that it looks back to is gone.",
                             "Choose a step before this one.");
    }

    // Who measures what; the document's own parameters that hang on nothing measured have their values at once.
    void plan_parameters() {
        for (size_t i = 0; i < document_.steps.size(); ++i) {
            const Step& step = *document_.steps[i];
            if (step.suspended) {
                continue;
            }
            // Steps behind the last one that is evaluated count too: what reads them comes too early.
            const bool planned = i < tasks_.size();
            for (const std::string& name :
                 planned ? tasks_[i].reads->measures : dependencies_of(step.definition).measures) {
                const bool taken = std::any_of(document_.parameters.begin(), document_.parameters.end(),
                                               [&](const Parameter& p) { return p.name == name; });
                if ((taken || !measurer_.emplace(name, step.id).second) && planned) {
                    tasks_[i].problem = error_finding("parameter.double_name",
                                                      "There is another parameter called \u201c" + name + "\u201d.",
                                                      "Give this one another name.");
                    tasks_[i].problem->field = "parameter";
                }
            }
        }
        if (!measurer_.empty()) {
            for (const Parameter& parameter : document_.parameters) {
                reads_of_[parameter.name] = names_read(parameter.formula);
            }
        }
        std::vector<Parameter> own;
        std::copy_if(document_.parameters.begin(), document_.parameters.end(), std::back_inserter(own),
                     [this](const Parameter& p) { return measured_behind(p.name).empty(); });
        parameters_ = evaluate_parameters(own);
    }

    // The measured parameters that a name hangs on, itself or through formulas.
    std::set<std::string> measured_behind(const std::string& name) const {
        std::set<std::string> found;
        if (measurer_.empty()) {
            return found;
        }
        std::set<std::string> seen;
        std::vector<std::string> open{name};
        while (!open.empty()) {
            const std::string next = open.back();
            open.pop_back();
            if (!seen.insert(next).second) {
                continue;
            }
            if (measurer_.contains(next)) {
                found.insert(next);
                continue;
            }
            if (const auto reads = reads_of_.find(next); reads != reads_of_.end()) {
                open.insert(open.end(), reads->second.begin(), reads->second.end());
            }
        }
        return found;
    }

    // A step that reads what is measured only after it. Where the measuring step hangs on this one, that is a loop.
    Finding too_early(const Task& task, const std::string& name) const {
        const auto called = [this](int id) {
            const auto step = document_.step(id);
            return std::to_string(step->number) + " " + step->name;
        };
        const int measurer = measurer_.at(name);
        std::string chain = called(task.step->id) + " \u2192 " + name;
        if (measurer != task.step->id) {
            chain += " \u2192 " + called(measurer) +
                     (dependency_graph(document_).hangs_on(measurer, task.step->id) ? " \u2192 " + called(task.step->id)
                                                                                    : "");
        }
        return error_finding("parameter.loop",
                             "\u201c" + name + "\u201d is measured after this step, which reads it: " + chain + ".",
                             "Measure it on an earlier step, or give this step a value of its own.");
    }

    // What the finished measuring steps say.
    ParameterValues measured_so_far(const std::set<std::string>* wanted) const {
        ParameterValues values;
        for (const auto& [name, id] : measurer_) {
            const auto task = by_id_.find(id);
            if ((wanted != nullptr && !wanted->contains(name)) || task == by_id_.end() ||
                !task->second->report.output) {
                continue;
            }
            const auto& measured = task->second->report.output->measured;
            if (const auto value = measured.find(name); value != measured.end()) {
                values[name] = value->second;
            }
        }
        return values;
    }

    // The body as the last step that wrote it left it. A failed or suspended writer hands on what it got.
    BodyPtr body_from(int source, const BodyId& body) const {
        while (source != 0) {
            const Task& task = *by_id_.at(source);
            if (task.report.output) {
                if (const auto at = task.report.output->bodies.find(body); at != task.report.output->bodies.end()) {
                    return at->second;
                }
            }
            const auto before = task.source_of.find(body);
            source = before == task.source_of.end() ? 0 : before->second;
        }
        return nullptr;
    }

    StepInputs inputs_of(const Task& task, EvaluationCache::Key& key) {
        StepInputs inputs;
        inputs.step = task.step->id;
        inputs.parameters = task.values ? task.values.get() : &parameters_.values;
        inputs.services = &services_;
        inputs.progress = &progress_;
        const auto note = [&](std::shared_ptr<const void> thing) {
            key.inputs.push_back(thing.get());
            key.keep_alive.push_back(std::move(thing));
        };
        for (const BodyId& body : task.reads->reads) {
            const auto source = task.source_of.find(body);
            const BodyPtr found = source == task.source_of.end() ? nullptr : body_from(source->second, body);
            if (found) {
                inputs.bodies[body] = found;
            }
            note(found);
        }
        const auto output_of = [&](int step) { // null where it has none that is sound
            const auto at = by_id_.find(step);
            const bool sound = task.after.contains(step) && at->second->report.state != StepState::failed;
            return sound ? at->second->report.output : nullptr;
        };
        for (const int sketch : task.reads->sketches) {
            const auto output = output_of(sketch);
            if (output && output->sketch) {
                inputs.sketches[sketch] = output->sketch;
            }
            note(output ? output->sketch : nullptr);
        }
        for (const int sweep : task.reads->sweeps) {
            const auto output = output_of(sweep);
            if (output && output->swept) {
                inputs.sweeps[sweep] = output->swept;
            }
            note(output ? output->swept : nullptr);
        }
        for (const std::string& name : task.reads->assets) {
            const auto at = document_.assets.find(name);
            const AssetPtr found = at == document_.assets.end() ? nullptr : at->second;
            inputs.assets[name] = found;
            note(found);
        }
        for (const std::string& name : task.reads->parameters) {
            if (const auto at = inputs.parameters->find(name); at != inputs.parameters->end()) {
                key.parameters[name] = at->second;
            }
        }
        return inputs;
    }

    void run(Task& task) {
        task.report.id = task.step->id;
        task.report.step = task.step;
        if (task.step->suspended) {
            task.report.state = StepState::suspended;
            return;
        }
        if (!task.needs.empty() && !task.problem) {
            const ParameterValues given = measured_so_far(&task.needs);
            for (const std::string& name : task.needs) {
                if (!given.contains(name)) {
                    const auto measurer = document_.step(measurer_.at(name));
                    task.problem = error_finding("parameter.not_measured",
                                                 "\u201c" + name + "\u201d has no value, because step " +
                                                     std::to_string(measurer->number) + " that measures it has none.",
                                                 "Mend that step first.");
                }
            }
            task.values = std::make_unique<ParameterValues>(evaluate_parameters(document_.parameters, given).values);
        }
        if (task.problem) {
            auto output = std::make_shared<StepOutput>();
            output->findings.push_back(*task.problem);
            task.report.output = std::move(output);
            finish(task);
            return;
        }
        EvaluationCache::Key key;
        key.step = task.step;
        const StepInputs inputs = inputs_of(task, key);
        const auto start = std::chrono::steady_clock::now();
        task.report.output = cache_.find(key);
        task.report.from_cache = task.report.output != nullptr;
        if (!task.report.output) {
            auto output = std::make_shared<StepOutput>(guarded(task, inputs));
            if (progress_.cancelled()) {
                return;
            }
            task.report.output = output;
            cache_.store(std::move(key), std::move(output));
        }
        task.report.seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
        finish(task);
    }

    void finish(Task& task) {
        task.report.findings = task.report.output->findings;
        for (Finding& finding : task.report.findings) {
            finding.step = task.step->id;
        }
        task.stale = std::any_of(task.after.begin(), task.after.end(), [&](int id) {
            const StepState state = by_id_.at(id)->report.state;
            return state == StepState::failed || state == StepState::stale;
        });
        task.report.state = has_error(task.report.findings)     ? StepState::failed
                            : task.stale                        ? StepState::stale
                            : has_warning(task.report.findings) ? StepState::warning
                                                                : StepState::ok;
    }

    // The kernel may throw on input that no check foresaw; that is a failure of this step, not of the program.
    static StepOutput guarded(const Task& task, const StepInputs& inputs) {
        StepOutput output;
        try {
            return evaluate_step(task.step->definition, inputs);
        } catch (const Standard_Failure& failure) {
            output.findings.push_back(error_finding("step.kernel", "This step could not be computed.",
                                                    "Change one of its answers a little."));
            output.findings.back().trace = {std::string(failure.DynamicType()->Name()) + " " +
                                            failure.GetMessageString()};
        } catch (const std::exception& failure) {
            output.findings.push_back(error_finding("step.internal", "This step could not be computed.",
                                                    "Change one of its answers a little."));
            output.findings.back().trace = {failure.what()};
        }
        return output;
    }

    Evaluation collect() {
        Evaluation evaluation;
        evaluation.measured = measured_so_far(nullptr);
        std::vector<Parameter> known; // others wait for steps that are not evaluated, or have no value
        std::copy_if(document_.parameters.begin(), document_.parameters.end(), std::back_inserter(known),
                     [&](const Parameter& p) {
                         const auto behind = measured_behind(p.name);
                         return std::all_of(behind.begin(), behind.end(), [&](const std::string& name) {
                             return evaluation.measured.contains(name);
                         });
                     });
        evaluation.parameters = evaluate_parameters(known, evaluation.measured);
        evaluation.cancelled = progress_.cancelled();
        std::set<BodyId> stale;
        for (Task& task : tasks_) {
            if (evaluation.cancelled) {
                break;
            }
            if (task.report.output) {
                evaluation.steps_run += task.report.from_cache ? 0 : 1;
                for (const Birth& birth : task.report.output->births) {
                    name_born(evaluation, birth, *task.step, document_);
                }
                if (task.report.output->sketch) {
                    evaluation.sketches[task.step->id] = task.report.output->sketch;
                }
                if (task.report.state == StepState::failed || task.report.state == StepState::stale) {
                    stale.insert(task.reads->writes.begin(), task.reads->writes.end());
                    for (const Birth& birth : task.report.output->births) {
                        stale.insert(birth.id);
                    }
                }
            }
            evaluation.steps.push_back(std::move(task.report));
        }
        for (const BodyId& body : stale) {
            if (const auto at = evaluation.traits.find(body); at != evaluation.traits.end()) {
                at->second.stale = true;
            }
        }
        return evaluation;
    }

    const Document& document_;
    EvaluationCache& cache_;
    const Services& services_;
    Progress& progress_;
    EvaluatedParameters parameters_;                        ///< those that hang on nothing measured
    std::map<std::string, std::set<std::string>> reads_of_; ///< of parameters by formula, where some are measured
    std::map<std::string, int> measurer_;                   ///< measured parameters, by the step that measures them
    std::deque<Task> tasks_;
    std::unordered_map<int, Task*> by_id_; ///< those that are planned
    std::vector<Task*> planned_;           ///< of these, those that have not been started
    std::mutex reporting_;
    size_t done_ = 0, reported_ = 0; ///< steps; hundredths of all
    Writers writers_;
};

} // namespace

Evaluation evaluate(const Document& document, EvaluationCache& cache, const Services& services, Progress& progress,
                    int as_of) {
    return Run(document, cache, services, progress).evaluate(as_of);
}

} // namespace kervo::model
