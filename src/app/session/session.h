// The document being worked on: its history, its file, its journal, the open card, and its newest picture. The window
// sends edits here and listens to `changed` and `pictured`; nothing else flows back.
#pragma once

#include "app/session/evaluator.h"
#include "io/document/keeper.h"
#include "io/formats/hand_over.h"

#include <QDateTime>
#include <QString>
#include <QThreadPool>
#include <QTimer>

#include <functional>

namespace kervo::app {

/// Work that was not saved when Kervo ended, brought back and not yet taken.
struct RecoveredWork {
    int changes = 0;
    QDateTime until;              ///< of the last change; invalid where that is not known
    bool damaged = false;         ///< some of it could not be read, and is left out
    bool changed_outside = false; ///< the file is not the one that it was made upon
    bool shown = true;            ///< else the document is shown as it is saved
};

class Session : public QObject {
    Q_OBJECT
public:
    Session();
    ~Session() override;
    Session(const Session&) = delete;
    Session& operator=(const Session&) = delete;

    /// The document as it stands, with what the open card has changed so far.
    [[nodiscard]] const model::Document& document() const { return *current_; }
    [[nodiscard]] PicturePtr picture() const { return picture_; }
    /// What is known of the step: as of the picture, else from the newest evaluation of the whole route, which may be
    /// older than the document while `busy`. Null where nothing is known.
    [[nodiscard]] const model::StepReport* report(int step) const;
    /// What the picture shows of the step; null unless it is a picture as of that very step.
    [[nodiscard]] const model::StepReport* pictured_report(int step) const;
    /// The parameters as they stand in the document, those that are measured as last known.
    [[nodiscard]] EvaluatedParameters parameters() const;
    /// All findings known now, of parameters and steps; notes are none.
    [[nodiscard]] Findings findings() const;
    [[nodiscard]] bool edited() const { return saved_ != history_[at_]; }
    [[nodiscard]] const QString& path() const { return path_; }
    [[nodiscard]] bool busy() const { return evaluator_.busy() || reading_ != nullptr; }
    /// Picture and findings are those of the document as it stands.
    [[nodiscard]] bool settled() const { return picture_ != nullptr && whole_is_new_ && open_questions_ == 0; }

    /// Asks for exact geometry; `then` is called when the answer is there, unless `asker` is gone.
    void ask(const TakeQuestion& question, QObject* asker, const std::function<void(const TakeAnswer&)>& then);

    using Edit = std::function<model::Document(model::Document)>;
    /// Changes the document: as one entry of the history, or, while a card is open, as part of that card.
    void edit(const Edit& change);
    /// Numbers that are typed or pulled in one go are one change: undo takes them back together.
    void set_field(int step, const std::string& key, const model::FieldValue& value);
    void undo();
    void redo();
    [[nodiscard]] bool can_undo() const { return card_ != 0 ? !card_history_.empty() : at_ > 0; }
    [[nodiscard]] bool can_redo() const { return card_ == 0 && at_ + 1 < history_.size(); }
    /// What `undo` would take back and `redo` make again, in words; empty: nothing.
    [[nodiscard]] QString undoes() const;
    [[nodiscard]] QString redoes() const;
    /// The history: how many changes there are, how many of them are made, and what each was, in words.
    [[nodiscard]] size_t changes() const { return history_.size() - 1; }
    [[nodiscard]] size_t changes_made() const { return at_; }
    [[nodiscard]] QString change_in_words(size_t change) const;
    /// As it was when so many changes were made. No card may be open.
    void go_to(size_t changes_made);

    /// The step whose card is open; 0: none.
    [[nodiscard]] int card() const { return card_; }
    void open_card(int step);
    /// Adds a step after the one that is shown and opens its card; cancelling takes it away again.
    void add_step(model::StepDefinition definition, const std::string& name);
    /// The open card is of a step that is being made: cancelling takes it away again.
    [[nodiscard]] bool is_making() const;
    /// That step only waits for its first answers; nothing is wrong with it.
    [[nodiscard]] bool waits_for_answers() const;
    void accept_card();
    void cancel_card();

    /// "Show as of here"; 0: the whole route.
    [[nodiscard]] int as_of() const { return as_of_; }
    void show_as_of(int step);

    /// Those of the document; one that is dragged as it is at the moment.
    [[nodiscard]] std::vector<model::Cutaway> cutaways() const;
    /// A cutaway while it is dragged, before it becomes an edit. What triangles show of it is not worked out until it
    /// rests.
    void preview_cutaway(const model::Cutaway& cutaway);
    void rest_cutaway() { request(); }
    /// The letter of the one that is dragged; empty: none is.
    [[nodiscard]] std::string dragged_cutaway() const { return dragged_ ? dragged_->letter : std::string(); }
    /// In place of the one of its letter, or a new one.
    void set_cutaway(const model::Cutaway& cutaway);
    void remove_cutaway(const std::string& letter);

    void start_new();
    /// Begins with a document that has no file: a demonstration. Findings: those of the document's text.
    std::optional<Finding> start_with(const QByteArray& text);
    /// An untitled document that a crash left behind is brought back; false when there is none.
    bool bring_back_untitled();
    /// The user leaves: what is not saved is meant to be gone, but for recovered work that is neither taken nor given
    /// up.
    void leave();
    /// Opens a document; a journal with unsaved changes is brought back. The finding says why it did not work.
    std::optional<Finding> open(const QString& path);
    using Others = io::Keeper::Others;
    /// Findings: those of `io::Keeper::save`; document.recovered while recovered work is put aside.
    std::optional<Finding> save(const QString& path, const std::string& preview = {}, Others others = Others::stay);

    /// Null when there is none, or it was taken or given up. Any edit takes it.
    [[nodiscard]] const RecoveredWork* recovered() const { return recovered_ ? &*recovered_ : nullptr; }
    /// Shows the document with that work, or as it is saved; the work stays safe on the disk in either case.
    void show_recovered(bool with);
    void take_recovered();
    void give_up_recovered();
    /// Why changes are not being kept safe, until they are again.
    [[nodiscard]] const std::optional<Finding>& trouble() const { return keeper_.trouble(); }
    /// Looks whether another program has changed the file.
    void look_outside();
    [[nodiscard]] bool changed_outside() const { return changed_outside_; }
    /// What the other program changed, in words; the finding says why its file cannot be read.
    [[nodiscard]] Result<std::vector<std::string>> differences_outside() const;
    /// What the other program has written may be replaced.
    void keep_ours();
    std::optional<Finding> import_file(const QString& path);
    /// Copies of the bodies as they are shown, each as a file that the document keeps and an import step. Blades are
    /// left out.
    void add_frozen_copies(const std::vector<model::BodyId>& bodies);
    /// Reads an SVG or DXF file beside the window's work and puts what it draws into the sketch of that step; `said`,
    /// `failed` or `work_cancelled` tells what came of it.
    void outlines_in(int step, const QString& path);
    /// Draws another sketch into that of the open card, where it lies in space. Findings: sketch.not_parallel,
    /// sketch.not_open.
    std::optional<Finding> merge_sketch(int from);
    /// Writes the sketch of a step, as it is solved, to SVG or DXF. Finding: file.write, export.busy.
    std::optional<Finding> outlines_out(int step, const QString& path) const;
    /// Parameters as a table (CSV), out and in.
    std::optional<Finding> parameters_out(const QString& path) const;
    std::optional<Finding> parameters_in(const QString& path);
    /// Writes the bodies that are shown (or, while a card is open, all of the route's) beside the window's work;
    /// `handed_over` tells how it went. Finding: export.busy.
    /// `options`: of which step they are is the session's to say.
    std::optional<Finding> hand_over(const QString& path, io::ExportOptions options = {});
    /// Whether a body of the whole route is hidden, by itself or with its layer.
    [[nodiscard]] bool any_hidden() const;
    void cancel_work();

signals:
    void changed();
    /// Reading a file has begun, which may take long.
    void reading();
    /// `recovered`, `trouble` or `changed_outside` are others.
    void keeping_changed();
    void pictured();
    void progressed(double fraction);
    void completed();
    void work_cancelled();
    /// With what is to be known of the file, or why there is none.
    void handed_over(const QString& path, const kervo::Findings& told);
    void said(const QString& line);
    void failed(const kervo::Finding& problem);

private:
    void apply(const Edit& change, bool goes_on);
    void record();
    void become(model::DocumentPtr document);
    void commit(const model::DocumentPtr& document);
    void adopt_document(model::Document document, const std::optional<io::Recovered>& unsaved = {});
    /// Recovered work is put aside; edits would be made upon something else.
    bool refuses_edits();
    static Finding put_aside();
    void request();
    [[nodiscard]] model::Document with_frozen_copy(model::Document next, const model::BodyTraits& traits,
                                                   const std::string& text) const;
    void take(const PicturePtr& picture);
    void take_outlines(int step, const Result<sketch::Artwork>& read);

    model::DocumentPtr current_;
    std::vector<model::DocumentPtr> history_; ///< committed states, oldest first
    size_t at_ = 0;
    model::DocumentPtr saved_;
    int card_ = 0;
    model::DocumentPtr before_card_;
    std::vector<model::DocumentPtr> card_history_;
    std::pair<int, std::string> typed_last_; ///< step and field of the last change, if it was a number
    int as_of_ = 0;
    std::optional<model::Cutaway> dragged_;
    QString path_;
    io::Keeper keeper_;
    std::optional<RecoveredWork> recovered_;
    bool changed_outside_ = false;
    QTimer heal_;
    std::shared_ptr<Progress> reading_; ///< of outlines
    QThreadPool writing_;               ///< one file at a time
    PicturePtr picture_;
    model::EvaluationPtr whole_;
    bool whole_is_new_ = false;
    int open_questions_ = 0;
    Evaluator evaluator_;
};

} // namespace kervo::app
