#include "app/session.h"

#include "app/counted.h"
#include "io/document_file.h"
#include "io/import_child.h"
#include "io/safe_file.h"
#include "model/new_names.h"

#include <QCoreApplication>
#include <QDir>
#include <QFileInfo>
#include <QStandardPaths>
#include <QThreadPool>

namespace kervo::app {

Session::Session() : evaluator_(io::standard_services()) {
    connect(&evaluator_, &Evaluator::ready, this, &Session::take, Qt::QueuedConnection);
    connect(
        &evaluator_, &Evaluator::completed, this,
        [this](const model::EvaluationPtr& whole) {
            whole_ = whole;
            whole_is_new_ = !evaluator_.busy();
            emit completed();
        },
        Qt::QueuedConnection);
    connect(&evaluator_, &Evaluator::progressed, this, &Session::progressed, Qt::QueuedConnection);
    connect(&evaluator_, &Evaluator::cancelled, this, &Session::work_cancelled, Qt::QueuedConnection);
    adopt_document({});
}

Session::~Session() {
    QThreadPool::globalInstance()->waitForDone(); // a hand-over in the making refers to this
    if (!edited() && card_ == 0) {
        drop_journal();
    }
}

void Session::record() {
    if (journal_) {
        if (const auto problem = journal_->append(*current_)) {
            emit said(QString::fromStdString(problem->cause + " " + problem->mend));
        }
    }
}

void Session::become(model::DocumentPtr document) {
    current_ = std::move(document);
    record();
    emit changed();
    request();
}

void Session::commit(const model::DocumentPtr& document) {
    history_.resize(at_ + 1);
    history_.push_back(document);
    ++at_;
}

void Session::apply(const Edit& change, bool goes_on) {
    auto next = std::make_shared<const model::Document>(model::take_new_names(change(*current_), current_.get()));
    if (model::same_content(*next, *current_)) {
        return;
    }
    if (card_ == 0) {
        commit(next);
    } else if (!goes_on || card_history_.empty()) {
        card_history_.push_back(current_);
    }
    become(std::move(next));
}

void Session::edit(const Edit& change) {
    typed_last_ = {};
    apply(change, false);
}

void Session::set_field(int step, const std::string& key, const model::FieldValue& value) {
    const std::pair typed{std::holds_alternative<Expression>(value) ? step : 0, key};
    const bool goes_on = typed.first != 0 && typed == typed_last_;
    apply([&](model::Document document) { return model::change_field(std::move(document), step, key, value); },
          goes_on);
    typed_last_ = typed;
}

void Session::undo() {
    typed_last_ = {};
    if (card_ != 0) {
        if (card_history_.empty()) {
            cancel_card();
            return;
        }
        auto previous = card_history_.back();
        card_history_.pop_back();
        become(std::move(previous));
    } else if (at_ > 0) {
        --at_;
        become(history_[at_]);
    }
}

void Session::redo() {
    if (can_redo()) {
        ++at_;
        become(history_[at_]);
    }
}

void Session::open_card(int step) {
    if (card_ == step) {
        return;
    }
    accept_card();
    if (document().step(step)) {
        before_card_ = current_;
        card_history_.clear();
        card_ = step;
        become(current_);
    }
}

void Session::add_step(model::StepDefinition definition, const std::string& name) {
    const auto planned = document().step(card_);
    if (planned && std::holds_alternative<model::Planned>(planned->definition) &&
        !std::holds_alternative<model::Planned>(definition)) {
        edit([&](model::Document next) {
            return model::change_step(std::move(next), card_, [&](model::Step& step) {
                step.definition = std::move(definition);
                step.name = step.name.empty() ? name : step.name;
            });
        });
        return;
    }
    accept_card();
    const int shown = as_of_ == 0 ? -1 : document().index_of(as_of_) + 1;
    int id = 0;
    auto next =
        std::make_shared<const model::Document>(model::add_step(*current_, std::move(definition), name, shown, &id));
    before_card_ = current_;
    card_history_.clear();
    card_ = id;
    if (as_of_ != 0) {
        as_of_ = id;
    }
    become(std::move(next));
}

void Session::accept_card() {
    if (card_ == 0) {
        return;
    }
    card_ = 0;
    card_history_.clear();
    if (!model::same_content(*current_, *before_card_)) {
        commit(current_);
    }
    become(current_);
}

void Session::cancel_card() {
    if (card_ == 0) {
        return;
    }
    card_ = 0;
    card_history_.clear();
    if (as_of_ != 0 && !before_card_->step(as_of_)) {
        as_of_ = 0;
    }
    become(before_card_);
}

void Session::show_as_of(int step) {
    accept_card();
    as_of_ = !document().steps.empty() && document().steps.back()->id == step ? 0 : step;
    become(current_);
}

std::optional<model::Cutaway> Session::cutaway() const {
    if (dragged_) {
        return dragged_;
    }
    return document().cutaways.empty() ? std::nullopt : std::optional(document().cutaways.front());
}

void Session::preview_cutaway(const model::Cutaway& cutaway) {
    dragged_ = cutaway;
    request();
}

void Session::set_cutaway(const std::optional<model::Cutaway>& cutaway) {
    dragged_.reset();
    edit([&](model::Document document) {
        auto& all = document.cutaways; // the first is the one that is shown; a file may hold more
        if (cutaway && all.empty()) {
            all.push_back(*cutaway);
        } else if (cutaway) {
            all.front() = *cutaway;
        } else if (!all.empty()) {
            all.erase(all.begin());
        }
        return document;
    });
}

void Session::adopt_document(model::Document document) {
    card_ = 0;
    as_of_ = 0;
    dragged_.reset();
    card_history_.clear();
    history_ = {std::make_shared<const model::Document>(std::move(document))};
    at_ = 0;
    saved_ = history_.front();
    picture_.reset();
    whole_.reset();
    become(history_.front());
}

namespace {

QString untitled_folder() {
    return QStandardPaths::writableLocation(QStandardPaths::AppDataLocation);
}

// A name that nobody uses: process numbers come again, and what a crash left under one must not be overwritten.
QString free_untitled_place() {
    QDir().mkpath(untitled_folder());
    const auto process = QCoreApplication::applicationPid();
    QString place;
    int count = 0;
    do {
        place = untitled_folder() + QString("/untitled-%1-%2.journal").arg(process).arg(++count);
    } while (QFile::exists(place));
    return place;
}

} // namespace

void Session::start_journal() {
    const QString place =
        path_.isEmpty() ? free_untitled_place() : QString::fromStdString(io::journal_path_for(path_.toStdString()));
    // It starts from what is saved, so that what is not counts as changes when it is read again.
    auto journal = io::Journal::start(place.toStdString(), *saved_);
    if (journal) {
        journal_ = std::move(*journal);
        record();
    } else {
        emit said(QString::fromStdString(journal.finding().cause));
    }
}

void Session::drop_journal() {
    if (journal_) {
        journal_->discard();
        journal_.reset();
    }
}

void Session::start_new() {
    drop_journal();
    path_.clear();
    adopt_document({});
    start_journal();
}

bool Session::bring_back_untitled() {
    const QDir folder(untitled_folder());
    for (const QFileInfo& left : folder.entryInfoList({"untitled-*.journal"}, QDir::Files, QDir::Time)) {
        const std::string path = left.absoluteFilePath().toStdString();
        if (io::journal_in_use(path)) {
            continue;
        }
        const auto unsaved = io::recover(path);
        const bool worth_it = unsaved && unsaved->changes > 0;
        if (worth_it) {
            commit(std::make_shared<const model::Document>(unsaved->document));
            become(history_[at_]); // our own journal holds it from here on
            tell_brought_back(unsaved->changes);
        }
        QFile::remove(left.absoluteFilePath());
        if (worth_it) {
            return true;
        }
    }
    return false;
}

void Session::tell_brought_back(int changes) {
    emit said(tr("Brought back %1 that were not saved.").arg(counted(changes, tr("change"), tr("changes"))));
}

std::optional<Finding> Session::open(const QString& path) {
    const std::string journal_path = io::journal_path_for(path.toStdString());
    if (!path_.isEmpty() && QFileInfo(path) == QFileInfo(path_)) {
        drop_journal(); // opened anew: its changes are saved or were given up
    } else if (io::journal_in_use(journal_path)) {
        return error_finding("file.in_use", "\u201c" + path.toStdString() + "\u201d is open in another window.",
                             "Close it there first.");
    }
    auto document = io::open_document(path.toStdString());
    const auto unsaved = io::recover(journal_path);
    const bool unreadable = !document && document.finding().code != "file.newer";
    if (!document && !(unreadable && unsaved && unsaved->changes > 0)) {
        return document.finding();
    }
    drop_journal();
    path_ = path;
    adopt_document(document ? *document : model::Document{});
    if (unsaved && unsaved->changes > 0 && !model::same_content(unsaved->document, *current_)) {
        commit(std::make_shared<const model::Document>(unsaved->document));
        become(history_[at_]);
        tell_brought_back(unsaved->changes);
    }
    start_journal();
    return std::nullopt;
}

std::optional<Finding> Session::save(const QString& path, const std::string& preview) {
    accept_card();
    const QString title = QFileInfo(path).fileName() == "document.json" ? QFileInfo(path).dir().dirName()
                                                                        : QFileInfo(path).completeBaseName();
    edit([&](model::Document document) {
        document.title = title.toStdString();
        return document;
    });
    if (auto problem = io::save_document(document(), path.toStdString(), preview)) {
        return problem;
    }
    drop_journal();
    path_ = path;
    saved_ = history_[at_];
    start_journal();
    emit changed();
    return std::nullopt;
}

void Session::request() {
    whole_is_new_ = false;
    PictureRequest next{document(), card_ != 0 ? card_ : as_of_, card_ != 0, cutaway()};
    evaluator_.request(std::move(next));
}

const model::StepReport* Session::report(int step) const {
    const model::StepReport* report = picture_ && !whole_is_new_ ? picture_->evaluation->report(step) : nullptr;
    return report == nullptr && whole_ ? whole_->report(step) : report;
}

const model::StepReport* Session::pictured_report(int step) const {
    return picture_ && picture_->as_of == step ? picture_->evaluation->report(step) : nullptr;
}

EvaluatedParameters Session::parameters() const {
    const model::Evaluation* known = whole_ ? whole_.get() : picture_ ? picture_->evaluation.get() : nullptr;
    return evaluate_parameters(document().parameters, known != nullptr ? known->measured : ParameterValues{});
}

Findings Session::findings() const {
    Findings all;
    if (const auto evaluation = whole_is_new_ || !picture_ ? whole_ : picture_->evaluation) {
        for (const auto& [name, finding] : evaluation->parameters.findings) {
            all.push_back(finding);
        }
        for (const auto& report : evaluation->steps) {
            std::copy_if(report.findings.begin(), report.findings.end(), std::back_inserter(all),
                         [](const Finding& finding) { return finding.severity != Severity::note; });
        }
    }
    return all;
}

void Session::take(const PicturePtr& picture) {
    picture_ = picture;
    // Picks made by hand have names now; the document keeps them, without an entry in the history.
    const model::Document named = model::adopt_names(document(), *picture->evaluation);
    if (!model::same_content(named, document())) {
        current_ = std::make_shared<const model::Document>(named);
        if (card_ == 0) {
            const bool was_saved = saved_ == history_[at_];
            history_[at_] = current_;
            saved_ = was_saved ? current_ : saved_;
        }
    }
    emit pictured();
}

} // namespace kervo::app
