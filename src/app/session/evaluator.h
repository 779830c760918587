// Evaluates documents on a thread of its own; the newest request wins, older ones are cancelled.
#pragma once

#include "scene/preview.h"

#include <Bnd_Box.hxx>
#include <QObject>

#include <condition_variable>
#include <mutex>
#include <thread>

namespace kervo::app {

/// Everything the window shows of a document, ready to be put on the screen.
struct Picture {
    model::EvaluationPtr evaluation;
    int as_of = 0; ///< step whose result is shown; 0: the end of the route
    std::vector<std::pair<model::BodyId, model::BodyPtr>> before; ///< bodies before that step
    std::vector<std::pair<model::BodyId, model::BodyPtr>> after;  ///< bodies after it
    std::vector<scene::PieceLines> pieces;                        ///< lines of its pieces, in their order
    std::vector<model::BodyId> met;                               ///< bodies its profile meets, ticked or not
    std::vector<scene::Cap> caps;
    std::map<int, model::BodyPtr> sketches;  ///< curves of those that are seen, by step: also those that the card uses
    scene::DrawnBodies drawn;                ///< of the bodies before and after
    std::map<model::BodyId, double> volumes; ///< mm^3, of the bodies after the step
    Bnd_Box bounds;                          ///< of the bodies after the step
    double milliseconds = 0;
};
using PicturePtr = std::shared_ptr<const Picture>;

struct PictureRequest {
    model::Document document;
    int as_of = 0;
    bool card = false; ///< a card is open on `as_of`: pieces and met bodies are wanted too
    std::optional<model::Cutaway> cutaway;
};

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

signals:
    /// What was asked for is worked out.
    void ready(kervo::app::PicturePtr picture);
    /// Then the steps below it, too, with all their findings.
    void completed(kervo::model::EvaluationPtr whole);
    void progressed(double fraction);
    void cancelled();

private:
    void work();
    [[nodiscard]] PicturePtr make_picture(const PictureRequest& request, Progress& progress);

    model::Services services_;
    model::EvaluationCache cache_;
    scene::DrawnBodies drawn_;                                ///< of the picture before
    std::map<model::SketchResultPtr, model::BodyPtr> curves_; ///< the same: of the sketches that were seen
    void add_sketches(Picture& picture, const PictureRequest& request);
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
