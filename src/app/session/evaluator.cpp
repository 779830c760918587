#include "app/session/evaluator.h"

#include "geom/measure/measure.h"
#include "model/document/groups_and_layers.h"
#include "model/sketching/drawn_curves.h"

#include <Standard_Failure.hxx>
#include <spdlog/spdlog.h>

#include <chrono>
#include <cmath>
#include <sys/resource.h>
#include <unistd.h>

namespace kervo::app {

Evaluator::Evaluator(model::Services services) : services_(std::move(services)) {
    qRegisterMetaType<kervo::app::PicturePtr>();
    qRegisterMetaType<kervo::model::EvaluationPtr>();
    thread_ = std::thread([this] { work(); });
}

Evaluator::~Evaluator() {
    {
        const std::lock_guard lock(guard_);
        stop_ = true;
        if (running_) {
            running_->cancel();
        }
    }
    wake_.notify_all();
    thread_.join();
}

void Evaluator::request(PictureRequest request) {
    {
        const std::lock_guard lock(guard_);
        next_ = std::move(request);
        if (running_) {
            running_->cancel();
        }
    }
    wake_.notify_all();
}

void Evaluator::cancel() {
    const std::lock_guard lock(guard_);
    next_.reset();
    if (running_) {
        running_->cancel();
    }
}

bool Evaluator::busy() const {
    const std::lock_guard lock(guard_);
    return next_.has_value() || running_ != nullptr;
}

void Evaluator::work() {
    // The window goes first: this thread, and the helpers that the kernel starts from it, stand back.
    ::setpriority(PRIO_PROCESS, static_cast<id_t>(::gettid()), 15);
    std::unique_lock lock(guard_);
    while (true) {
        wake_.wait(lock, [this] { return stop_ || next_.has_value(); });
        if (stop_) {
            return;
        }
        const PictureRequest request = std::move(*next_);
        next_.reset();
        auto progress = std::make_shared<Progress>([this](double fraction, const std::string& what) {
            if (what == "evaluate") {
                emit progressed(fraction);
            }
        });
        running_ = progress;
        lock.unlock();
        const PicturePtr picture = make_picture(request, *progress);
        model::EvaluationPtr whole = picture->evaluation;
        if (!progress->cancelled()) {
            emit ready(picture);
            if (request.as_of != 0) {
                whole = std::make_shared<model::Evaluation>(
                    model::evaluate(request.document, cache_, services_, *progress));
            }
        }
        lock.lock();
        running_.reset();
        const bool superseded = next_.has_value() || stop_;
        lock.unlock();
        if (!progress->cancelled()) {
            emit completed(whole);
        } else if (!superseded) {
            emit cancelled();
        }
        lock.lock();
    }
}

namespace {

void add_card_lines(Picture& picture, const PictureRequest& request, const model::Services& services,
                    Progress& progress) {
    const model::StepReport* report = picture.evaluation->report(request.as_of);
    const model::StepPtr step = request.document.step(request.as_of);
    if (report == nullptr || !step) {
        return;
    }
    double size = 1;
    for (const auto& [id, body] : picture.before) {
        size = std::max(size, scene::size_of(*body));
    }
    if (report->output) {
        for (const model::Piece& piece : report->output->pieces) {
            picture.pieces.push_back(scene::lines_of_piece(piece.shape, size / 60));
        }
    }
    if (model::sets_verdicts(step->definition)) {
        const auto inputs =
            model::inputs_before(request.document, *picture.evaluation, request.as_of, services, progress);
        const auto members = [&](int group) {
            return model::members_of(group, picture.before, request.document, *picture.evaluation);
        };
        picture.met = model::bodies_met(model::without_groups(step->definition, members), inputs);
    }
}

} // namespace

void Evaluator::add_sketches(Picture& picture, const PictureRequest& request) {
    auto shown = model::sketches_shown(request.document);
    if (const auto step = request.document.step(request.as_of); request.card && step) {
        shown.merge(model::dependencies_of(step->definition).sketches);
    }
    std::map<model::SketchResultPtr, model::BodyPtr> fresh;
    for (const int step : shown) {
        const auto found = picture.evaluation->sketches.find(step);
        if (found == picture.evaluation->sketches.end()) {
            continue;
        }
        const auto known = curves_.find(found->second);
        try {
            const auto curves =
                known != curves_.end() ? known->second : model::body_of_curves(step, *found->second, "outlines");
            fresh[found->second] = curves;
            if (curves) {
                picture.sketches[step] = curves;
            }
        } catch (const Standard_Failure& failure) { // a curve that the kernel cannot make is not seen
            spdlog::warn("sketch {} is not drawn: {}", step, failure.GetMessageString());
        }
    }
    curves_ = std::move(fresh);
}

PicturePtr Evaluator::make_picture(const PictureRequest& request, Progress& progress) {
    const auto start = std::chrono::steady_clock::now();
    auto picture = std::make_shared<Picture>();
    picture->as_of = request.as_of;
    picture->evaluation = std::make_shared<model::Evaluation>(
        model::evaluate(request.document, cache_, services_, progress, request.as_of));
    if (progress.cancelled()) {
        return picture;
    }
    picture->after = picture->evaluation->bodies_as_of(request.as_of);
    const int index = request.document.index_of(request.as_of);
    if (index > 0) {
        picture->before = picture->evaluation->bodies_as_of(request.document.steps[static_cast<size_t>(index) - 1]->id);
    }
    auto bodies = picture->before;
    bodies.insert(bodies.end(), picture->after.begin(), picture->after.end());
    add_sketches(*picture, request);
    for (const auto& [step, curves] : picture->sketches) {
        bodies.emplace_back(std::to_string(step), curves);
        picture->bounds.Add(geom::bounds_of(curves->shape));
    }
    drawn_ = scene::prepare_bodies(bodies, drawn_);
    picture->drawn = drawn_;
    for (const auto& [id, body] : picture->after) {
        picture->volumes[id] = model::volume_of(*body);
        if (!body->blade) {
            picture->bounds.Add(geom::bounds_of(body->shape));
        }
    }
    picture->milliseconds = std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - start).count();
    if (request.card) {
        add_card_lines(*picture, request, services_, progress);
    }
    if (request.cutaway && request.cutaway->on) {
        picture->caps = scene::caps_of(*request.cutaway, picture->after);
    }
    return picture;
}

} // namespace kervo::app
