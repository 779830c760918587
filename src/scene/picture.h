// All that a window shows of a document, worked out from it: what goes in is a document, what comes out are plain
// values and names. The way from one to the other is narrow, so that the two may live on two threads, and once in two
// processes: a request and its picture, a question and its answer, and nothing else.
//
//   PictureMaker maker(services, writer);
//   const PicturePtr picture = maker.make({document}, progress);    // bodies, names, what is under the pointer
//   const TakeAnswer taken = maker.answer(TakeQuestion{...});       // exact geometry of the newest picture
#pragma once

#include "model/route/evaluate.h"
#include "model/sketching/taken.h"
#include "scene/preview.h"
#include "scene/viewer.h"

#include <chrono>
#include <functional>

namespace kervo::scene {

/// Everything the window shows of a document, ready to be put on the screen.
struct Picture {
    model::EvaluationPtr evaluation;
    int as_of = 0;      ///< step whose result is shown; 0: the end of the route
    ShownBodies before; ///< bodies before that step
    ShownBodies after;  ///< bodies after it
    /// References of the open card that are not simply called as they were, and what they mean before its step; nothing
    /// where they are lost.
    std::vector<std::pair<model::Reference, std::optional<model::Element>>> found;
    std::vector<PieceLines> pieces;       ///< lines of its pieces, in their order
    std::vector<ShownBlade> blades;       ///< that the open card's step has made
    std::vector<model::BodyId> met;       ///< bodies its profile meets, ticked or not
    std::vector<model::Cutaway> cutaways; ///< of which what follows is made
    std::vector<Cap> caps;
    std::map<ShownBodyPtr, OpenedBody> opened; ///< bodies after the step that a cutaway opens in other ways than planes
    std::vector<model::CutArea> cut_areas;
    std::map<int, ShownBodyPtr> sketches; ///< curves of those that are seen, by step: also those that the card uses
    Box3 bounds;                          ///< of the bodies after the step, without blades
    /// What a reference of the open card means before its step; nothing where it is lost.
    [[nodiscard]] std::optional<model::Element> meant(const model::Reference& reference) const;
    Findings findings; ///< of the picture alone: what could not be drawn
    double milliseconds = 0;
};
using PicturePtr = std::shared_ptr<const Picture>;

struct PictureRequest {
    model::Document document;
    int as_of = 0;
    bool card = false; ///< a card is open on `as_of`: pieces and met bodies are wanted too
    std::vector<model::Cutaway> cutaways;
};

/// What a sketch would take of a body, as it is before the step of the sketch.
struct TakeQuestion {
    enum class What { edges, section, silhouette };
    int sketch = 0;
    model::BodyId body;
    model::Element element; ///< of `edges`: one, or those of a face
    What what = What::edges;
    friend bool operator==(const TakeQuestion&, const TakeQuestion&) = default;
};
using TakeAnswer = Result<std::vector<model::Taken>>;

/// Bodies as they are after the step that is shown, each as the text of a file.
struct FreezeQuestion {
    std::vector<model::BodyId> bodies;
};
using FreezeAnswer = std::vector<std::pair<model::BodyId, std::string>>; ///< those that are there

/// Evaluates documents, and keeps from one picture to the next what has not changed. All of it is used on one thread at
/// a time; nothing of it throws: where the kernel fails there is a finding.
class PictureMaker {
public:
    /// Writes a body for `FreezeQuestion`, with its name and its colour.
    using Writer = std::function<std::string(const std::string& name, const std::string& color, const model::Body&)>;
    PictureMaker(model::Services services, Writer writer)
        : services_(std::move(services)), writer_(std::move(writer)) {}

    /// A cancelled evaluation says so; the rest of the picture is empty then.
    PicturePtr make(const PictureRequest& request, Progress& progress);
    /// The whole route, whatever step is shown.
    model::EvaluationPtr evaluate(const model::Document& document, Progress& progress, int as_of = 0);
    /// Of the newest picture. Findings: those of taking; taken.nothing.
    [[nodiscard]] TakeAnswer answer(const TakeQuestion& question) const;
    [[nodiscard]] FreezeAnswer answer(const FreezeQuestion& question) const;

private:
    using Bodies = BodyShower::Bodies;
    using Clock = std::chrono::steady_clock;
    /// `start`: of the work on it; what the card adds is not counted.
    void draw(Picture& picture, const PictureRequest& request, Progress& progress, Clock::time_point start);
    [[nodiscard]] std::map<int, model::BodyPtr> curves_of_sketches(const model::Evaluation& evaluation,
                                                                   const PictureRequest& request);
    [[nodiscard]] std::map<model::BodyId, model::Opened> open(Picture& picture, const PictureRequest& request,
                                                              const Bodies& after, Progress& progress);
    void add_caps(Picture& picture, const PictureRequest& request,
                  const std::map<model::BodyId, model::Opened>& opened);
    void add_card_lines(Picture& picture, const PictureRequest& request, const Bodies& before, Progress& progress);

    model::Services services_;
    Writer writer_;
    model::EvaluationCache cache_;
    PicturePtr newest_; ///< that was handed out
    BodyShower shower_;
    struct KnownOpened {
        std::vector<model::Cutaway> by;
        std::vector<model::BodyPtr> cutting;
        model::Opened opened;
    };
    std::map<model::BodyPtr, KnownOpened> opened_;            ///< of the picture before
    std::map<model::SketchResultPtr, model::BodyPtr> curves_; ///< of the sketches that were seen in the picture before
};

} // namespace kervo::scene
