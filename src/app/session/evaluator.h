// Evaluates documents on a thread of its own; the newest request wins, older ones are cancelled.
#pragma once

#include "io/formats/hand_over.h"
#include "scene/picture.h"

#include <QObject>

#include <condition_variable>
#include <deque>
#include <mutex>
#include <thread>

namespace kervo::app {

using scene::FreezeAnswer;
using scene::FreezeQuestion;
using scene::Picture;
using scene::PicturePtr;
using scene::PictureRequest;
using scene::TakeAnswer;
using scene::TakeQuestion;

/// The thread on which pictures are made: the window is never told anything but what comes out of there. Its functions
/// may be called from the window's thread alone.
class Evaluator : public QObject {
    Q_OBJECT
public:
    explicit Evaluator(model::Services services);
    ~Evaluator() override;
    Evaluator(const Evaluator&) = delete;
    Evaluator& operator=(const Evaluator&) = delete;

    void request(PictureRequest request);
    void cancel();
    [[nodiscard]] bool busy() const;
    /// Asks beside the work on pictures, of the newest picture; `then` is called on the window's thread.
    void ask(const TakeQuestion& question, std::function<void(const TakeAnswer&)> then);
    void ask(const FreezeQuestion& question, std::function<void(const FreezeAnswer&)> then);
    /// The bodies of an evaluation as they may be written on another thread.
    void ask_for_bodies(const model::Document& document, model::EvaluationPtr evaluation,
                        const io::ExportOptions& options, std::function<void(const Result<io::ModelToWrite>&)> then);

signals:
    /// What was asked for is worked out.
    void ready(kervo::app::PicturePtr picture);
    /// Then the steps below it, too, with all their findings.
    void completed(kervo::model::EvaluationPtr whole);
    void progressed(double fraction);
    void cancelled();

private:
    void work();
    scene::PictureMaker maker_;
    template <class Answer, class Then> void put(Answer answer, Then then);
    std::deque<std::function<void()>> asked_; ///< what the thread has to do for each question
    mutable std::mutex guard_;
    std::condition_variable wake_;
    std::optional<PictureRequest> next_;
    std::shared_ptr<Progress> running_;
    bool stop_ = false;
    std::thread thread_;
};

} // namespace kervo::app

Q_DECLARE_METATYPE(kervo::app::PicturePtr)
Q_DECLARE_METATYPE(kervo::model::EvaluationPtr)
