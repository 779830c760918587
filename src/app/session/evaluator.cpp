#include "app/session/evaluator.h"

#include "io/formats/brep/brep.h"

#include <sys/resource.h>
#include <unistd.h>

namespace kervo::app {

Evaluator::Evaluator(model::Services services) : maker_(std::move(services), io::brep_of) {
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

template <class Answer, class Then> void Evaluator::put(Answer answer, Then then) {
    {
        const std::lock_guard lock(guard_);
        asked_.push_back([this, answer = std::move(answer), then = std::move(then)] {
            QMetaObject::invokeMethod(this, [then, answered = answer()] { then(answered); });
        });
    }
    wake_.notify_all();
}

void Evaluator::ask(const TakeQuestion& question, std::function<void(const TakeAnswer&)> then) {
    put([this, question] { return maker_.answer(question); }, std::move(then));
}

void Evaluator::ask(const FreezeQuestion& question, std::function<void(const FreezeAnswer&)> then) {
    put([this, question] { return maker_.answer(question); }, std::move(then));
}

void Evaluator::ask_for_bodies(const model::Document& document, model::EvaluationPtr evaluation,
                               const io::ExportOptions& options,
                               std::function<void(const Result<io::ModelToWrite>&)> then) {
    put([document, evaluation = std::move(evaluation),
         options] { return io::model_to_write(document, *evaluation, options); },
        std::move(then));
}

namespace {

// Else the first move of the pointer would have to; whoever asks in the meantime waits for the rest of one body.
void prepare_picks(const Picture& picture, const Progress& progress) {
    for (const auto* bodies : {&picture.before, &picture.after}) {
        for (const auto& [id, body] : *bodies) {
            if (!progress.cancelled()) {
                body->tree->prepare();
            }
        }
    }
    for (const scene::PieceLines& piece : picture.pieces) {
        if (!progress.cancelled()) {
            piece.tree->prepare();
        }
    }
}

} // namespace

void Evaluator::work() {
    // The window goes first: this thread, and the helpers that the kernel starts from it, stand back.
    ::setpriority(PRIO_PROCESS, static_cast<id_t>(::gettid()), 15);
    std::unique_lock lock(guard_);
    while (true) {
        wake_.wait(lock, [this] { return stop_ || next_.has_value() || !asked_.empty(); });
        if (stop_) {
            return;
        }
        if (!asked_.empty()) {
            const auto work = std::move(asked_.front());
            asked_.pop_front();
            lock.unlock();
            work();
            lock.lock();
            continue;
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
        const PicturePtr picture = maker_.make(request, *progress);
        model::EvaluationPtr whole = picture->evaluation;
        if (!progress->cancelled()) {
            emit ready(picture);
            prepare_picks(*picture, *progress);
            if (request.as_of != 0) {
                whole = maker_.evaluate(request.document, *progress);
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

} // namespace kervo::app
