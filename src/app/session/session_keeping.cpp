// How a session's document is opened, saved, recovered and kept beside what other programs do to its file.
#include "app/session/session.h"
#include "io/document/document_file.h"
#include "io/document/document_json.h"
#include "model/document/differences.h"

#include <QDir>
#include <QFileInfo>
#include <QStandardPaths>

namespace kervo::app {

Finding Session::put_aside() {
    return error_finding("document.recovered", "Changes that were not saved are put aside.",
                         "Say first, above the model, whether they are kept or given up.");
}

namespace {

std::string untitled_folder() {
    return QStandardPaths::writableLocation(QStandardPaths::AppDataLocation).toStdString();
}

} // namespace

void Session::leave() {
    heal_.stop();
    keeper_.let_journal_stay(recovered_.has_value());
    keeper_.leave();
}

void Session::start_new() {
    keeper_.let_journal_stay(recovered_.has_value());
    keeper_.start_untitled(untitled_folder());
    path_.clear();
    adopt_document({});
}

std::optional<Finding> Session::start_with(const QByteArray& text) {
    auto document = io::document_from_text(text.toStdString());
    if (!document) {
        return document.finding();
    }
    start_new();
    adopt_document(std::move(*document));
    return std::nullopt;
}

bool Session::bring_back_untitled() {
    keeper_.let_journal_stay(recovered_.has_value());
    const auto unsaved = keeper_.bring_back(untitled_folder());
    keeper_.let_journal_stay(false);
    if (unsaved) {
        path_.clear();
        adopt_document({}, unsaved);
    }
    return unsaved.has_value();
}

std::optional<Finding> Session::open(const QString& path) {
    keeper_.let_journal_stay(recovered_.has_value());
    const auto opened = keeper_.open(path.toStdString());
    if (!opened) {
        keeper_.let_journal_stay(false);
        return opened.finding();
    }
    path_ = path;
    adopt_document(opened->saved, opened->unsaved);
    if (recovered_ && opened->changed_outside) {
        recovered_->changed_outside = true;
        emit keeping_changed();
    }
    return std::nullopt;
}

std::optional<Finding> Session::save(const QString& path, const std::string& preview, Others others) {
    if (recovered_ && !recovered_->shown) {
        return put_aside();
    }
    accept_card();
    const QString title = QFileInfo(path).fileName() == "document.json" ? QFileInfo(path).dir().dirName()
                                                                        : QFileInfo(path).completeBaseName();
    edit([&](model::Document document) {
        document.title = title.toStdString();
        return document;
    });
    if (auto problem = keeper_.save(document(), path.toStdString(), preview, others)) {
        return problem;
    }
    path_ = path;
    saved_ = history_[at_];
    recovered_.reset();
    changed_outside_ = false;
    keeper_.trouble() ? heal_.start() : heal_.stop();
    emit changed();
    emit keeping_changed();
    return std::nullopt;
}

void Session::show_recovered(bool with) {
    if (!recovered_ || recovered_->shown == with) {
        return;
    }
    card_ = 0;
    as_of_ = 0;
    recovered_->shown = with;
    at_ = with ? 1 : 0;
    become(history_[at_]);
    emit keeping_changed();
}

void Session::take_recovered() {
    if (recovered_) {
        show_recovered(true);
        recovered_.reset();
        emit keeping_changed();
    }
}

void Session::give_up_recovered() {
    if (!recovered_) {
        return;
    }
    recovered_.reset();
    card_ = 0;
    as_of_ = 0;
    at_ = 0;
    history_.resize(1);
    become(history_.front());
    emit keeping_changed();
}

void Session::look_outside() {
    if (const bool now = keeper_.changed_outside(); now != changed_outside_) {
        changed_outside_ = now;
        emit keeping_changed();
    }
}

Result<std::vector<std::string>> Session::differences_outside() const {
    const auto theirs = io::open_document(path_.toStdString());
    return theirs ? Result<std::vector<std::string>>(model::differences(*saved_, *theirs)) : theirs.finding();
}

void Session::keep_ours() {
    keeper_.accept_outside();
    changed_outside_ = false;
    emit keeping_changed();
}

} // namespace kervo::app
