#include "app/session.h"

#include "app/counted.h"

#include "io/document_file.h"
#include "io/export.h"
#include "io/import_child.h"

#include <QDir>
#include <QFileInfo>
#include <QStandardPaths>

namespace kervo::app {

Session::Session() : evaluator_(io::standard_services()) {
    connect(&evaluator_, &Evaluator::ready, this, &Session::take, Qt::QueuedConnection);
    connect(&evaluator_, &Evaluator::progressed, this, &Session::progressed, Qt::QueuedConnection);
    connect(&evaluator_, &Evaluator::cancelled, this, &Session::work_cancelled, Qt::QueuedConnection);
    adopt_document({});
}

void Session::become(model::DocumentPtr document) {
    current_ = std::move(document);
    emit changed();
    request();
}

void Session::commit(model::DocumentPtr document) {
    history_.resize(at_ + 1);
    history_.push_back(document);
    ++at_;
    if (journal_) {
        if (const auto problem = journal_->append(*document)) {
            emit said(QString::fromStdString(problem->cause + " " + problem->mend));
        }
    }
}

void Session::edit(const Edit& change) {
    auto next = std::make_shared<const model::Document>(change(*current_));
    if (model::same_content(*next, *current_)) {
        return;
    }
    if (card_ != 0) {
        card_history_.push_back(current_);
    } else {
        commit(next);
    }
    become(std::move(next));
}

void Session::set_field(int step, const std::string& key, const model::FieldValue& value) {
    edit([&](model::Document document) { return model::change_field(std::move(document), step, key, value); });
}

void Session::undo() {
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
        if (journal_) {
            journal_->append(*history_[at_]);
        }
        become(history_[at_]);
    }
}

void Session::redo() {
    if (can_redo()) {
        ++at_;
        if (journal_) {
            journal_->append(*history_[at_]);
        }
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
    accept_card();
    const int shown = as_of_ == 0 ? -1 : document().index_of(as_of_) + 1;
    int id = 0;
    auto next = std::make_shared<const model::Document>(model::add_step(*current_, std::move(definition), name, shown, &id));
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
        document.cutaways.clear();
        if (cutaway) {
            document.cutaways.push_back(*cutaway);
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
    become(history_.front());
}

void Session::start_journal() {
    QString place = path_.isEmpty() ? QString() : QString::fromStdString(io::journal_path_for(path_.toStdString()));
    if (place.isEmpty()) {
        const QString folder = QStandardPaths::writableLocation(QStandardPaths::AppDataLocation);
        QDir().mkpath(folder);
        place = folder + "/untitled.journal";
    }
    auto journal = io::Journal::start(place.toStdString(), document());
    if (journal) {
        journal_ = std::move(*journal);
    } else {
        journal_.reset();
        emit said(QString::fromStdString(journal.finding().cause));
    }
}

void Session::start_new() {
    if (journal_) {
        journal_->discard();
    }
    path_.clear();
    adopt_document({});
    start_journal();
}

std::optional<Finding> Session::open(const QString& path) {
    auto document = io::open_document(path.toStdString());
    if (!document) {
        return document.finding();
    }
    const auto unsaved = io::recover(io::journal_path_for(path.toStdString()));
    if (journal_) {
        journal_->discard();
    }
    path_ = path;
    adopt_document(*document);
    if (unsaved && unsaved->changes > 0 && !model::same_content(unsaved->document, *document)) {
        commit(std::make_shared<const model::Document>(unsaved->document));
        become(history_[at_]);
        emit said(tr("Brought back %1.").arg(counted(unsaved->changes, tr("unsaved change"), tr("unsaved changes"))));
    }
    start_journal();
    return std::nullopt;
}

std::optional<Finding> Session::save(const QString& path, const std::string& preview) {
    accept_card();
    auto titled = *current_;
    const QString base = QFileInfo(path).fileName() == "document.json" ? QFileInfo(path).dir().dirName() : QFileInfo(path).completeBaseName();
    titled.title = base.toStdString();
    if (auto problem = io::save_document(titled, path.toStdString(), preview)) {
        return problem;
    }
    if (titled.title != current_->title) {
        commit(std::make_shared<const model::Document>(std::move(titled)));
        current_ = history_[at_];
    }
    if (journal_) {
        journal_->discard();
    }
    path_ = path;
    saved_ = history_[at_];
    start_journal();
    emit changed();
    return std::nullopt;
}

std::optional<Finding> Session::import_file(const QString& path) {
    auto asset = io::load_asset(document(), path.toStdString());
    if (!asset) {
        return asset.finding();
    }
    model::Import definition;
    definition.file.name = (*asset)->name;
    accept_card();
    edit([&](model::Document next) {
        next.assets[(*asset)->name] = *asset;
        return model::add_step(std::move(next), definition, QFileInfo(path).completeBaseName().toStdString(), -1, nullptr);
    });
    return std::nullopt;
}

std::optional<Finding> Session::hand_over(const QString& path) {
    if (!picture_ || busy()) {
        return error_finding("export.busy", "The model is still being worked out.", "Wait a moment and try again.");
    }
    io::ExportOptions options;
    options.as_of = picture_->as_of;
    return io::export_bodies(*picture_->evaluation, path.toStdString(), options);
}

void Session::request() {
    PictureRequest next{document(), card_ != 0 ? card_ : as_of_, card_ != 0, cutaway()};
    evaluator_.request(std::move(next));
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
