#include "app/session/session.h"

#include "io/document/document_file.h"
#include "io/document/document_json.h"
#include "io/reader/import_child.h"
#include "model/document/cutaways.h"
#include "model/document/differences.h"
#include "model/document/new_names.h"
#include "model/looking/taken_away.h"
#include "model/route/unanswered.h"
#include "model/steps/planned/planned.h"

#include <QDir>
#include <QFileInfo>
#include <QPointer>
#include <QStandardPaths>
#include <QThreadPool>

#include <algorithm>

namespace kervo::app {

Session::Session() : evaluator_(io::standard_services()) {
    writing_.setMaxThreadCount(1);
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
    constexpr int try_again = 3000; // ms
    heal_.setInterval(try_again);
    connect(&heal_, &QTimer::timeout, this, &Session::record);
    adopt_document({});
}

void Session::cancel_work() {
    evaluator_.cancel();
    if (reading_) {
        reading_->cancel();
    }
}

Session::~Session() {
    cancel_work();
    writing_.waitForDone(); // what is being written or read refers to this
    QThreadPool::globalInstance()->waitForDone();
    if (!edited() && card_ == 0) {
        leave();
    }
}

void Session::record() {
    if (recovered_ && !recovered_->shown) {
        return; // what is on the disk is more than what is shown
    }
    const auto before = keeper_.trouble();
    keeper_.record(*current_);
    if (keeper_.trouble() != before) {
        keeper_.trouble() ? heal_.start() : heal_.stop();
        emit keeping_changed();
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

bool Session::refuses_edits() {
    if (!recovered_ || recovered_->shown) {
        return false;
    }
    emit failed(put_aside());
    return true;
}

void Session::apply(const Edit& change, bool goes_on) {
    if (refuses_edits()) {
        return;
    }
    auto next = std::make_shared<const model::Document>(model::take_new_names(change(*current_), current_.get()));
    if (model::same_content(*next, *current_)) {
        return;
    }
    take_recovered();
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
    if (refuses_edits()) {
        return;
    }
    take_recovered();
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
    if (can_redo() && !refuses_edits()) {
        ++at_;
        become(history_[at_]);
    }
}

namespace {

QString in_words(const model::Document& before, const model::Document& after) {
    const auto lines = model::differences(before, after);
    const QString first = lines.empty() ? QString() : QString::fromStdString(lines.front());
    return lines.size() < 2 ? first : QObject::tr("%1; and %2 more").arg(first).arg(lines.size() - 1);
}

} // namespace

QString Session::undoes() const {
    if (card_ != 0) {
        return card_history_.empty() ? QString() : in_words(*card_history_.back(), *current_);
    }
    return at_ == 0 ? QString() : change_in_words(at_ - 1);
}

QString Session::redoes() const {
    return can_redo() ? change_in_words(at_) : QString();
}

QString Session::change_in_words(size_t change) const {
    return in_words(*history_[change], *history_[change + 1]);
}

void Session::go_to(size_t changes_made) {
    if (card_ == 0 && changes_made < history_.size() && changes_made != at_ && !refuses_edits()) {
        take_recovered();
        typed_last_ = {};
        at_ = changes_made;
        become(history_[at_]);
    }
}

bool Session::is_making() const {
    return card_ != 0 && !before_card_->step(card_);
}

bool Session::waits_for_answers() const {
    const model::StepReport* known = is_making() ? report(card_) : nullptr;
    if (known == nullptr || known->state != model::StepState::failed) {
        return false;
    }
    return std::all_of(known->findings.begin(), known->findings.end(), [](const Finding& finding) {
        return finding.severity != Severity::error || model::is_unanswered(finding);
    });
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

namespace {

// "Stock", "Stock 2": no two steps that are begun are called alike.
std::string free_name(const model::Document& document, const std::string& name) {
    const auto taken = [&](const std::string& wanted) {
        return std::any_of(document.steps.begin(), document.steps.end(),
                           [&](const model::StepPtr& step) { return step->name == wanted; });
    };
    std::string free = name;
    for (int number = 2; !name.empty() && taken(free); ++number) {
        free = name + " " + std::to_string(number);
    }
    return free;
}

} // namespace

void Session::add_step(model::StepDefinition definition, const std::string& wanted_name) {
    const std::string name = free_name(document(), wanted_name);
    if (refuses_edits()) {
        return;
    }
    take_recovered();
    const auto planned = document().step(card_);
    if (planned && planned->definition.is<model::Planned>() && !definition.is<model::Planned>()) {
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

std::vector<model::Cutaway> Session::cutaways() const {
    auto all = document().cutaways;
    for (model::Cutaway& each : all) {
        each = dragged_ && dragged_->letter == each.letter ? *dragged_ : each;
    }
    return all;
}

void Session::preview_cutaway(const model::Cutaway& cutaway) {
    dragged_ = cutaway;
    const auto all = cutaways();
    if (std::any_of(all.begin(), all.end(),
                    [](const model::Cutaway& each) { return each.on && model::planes_of(each).empty(); })) {
        request();
    }
}

void Session::set_cutaway(const model::Cutaway& cutaway) {
    const bool moved = dragged_.has_value();
    dragged_.reset();
    const model::DocumentPtr before = current_;
    edit([&](const model::Document& document) { return model::put_cutaway(document, cutaway); });
    if (moved && before == current_) { // it was brought back to where it stood
        request();
    }
}

void Session::remove_cutaway(const std::string& letter) {
    dragged_.reset();
    edit([&](const model::Document& document) { return model::remove_cutaway(document, letter); });
}

void Session::adopt_document(model::Document document, const std::optional<io::Recovered>& unsaved) {
    card_ = 0;
    as_of_ = 0;
    dragged_.reset();
    card_history_.clear();
    history_ = {std::make_shared<const model::Document>(std::move(document))};
    at_ = 0;
    saved_ = history_.front();
    recovered_.reset();
    changed_outside_ = false;
    if (unsaved) {
        commit(std::make_shared<const model::Document>(unsaved->document));
        recovered_ =
            RecoveredWork{unsaved->changes, QDateTime::fromString(QString::fromStdString(unsaved->until), Qt::ISODate),
                          unsaved->skipped > 0};
    }
    picture_.reset();
    whole_.reset();
    become(history_[at_]);
    emit keeping_changed();
}

void Session::request() {
    whole_is_new_ = false;
    PictureRequest next{document(), card_ != 0 ? card_ : as_of_, card_ != 0, cutaways()};
    evaluator_.request(std::move(next));
}

void Session::ask(const TakeQuestion& question, QObject* asker, const std::function<void(const TakeAnswer&)>& then) {
    ++open_questions_;
    evaluator_.ask(question, [this, asker = QPointer<QObject>(asker), then](const TakeAnswer& answer) {
        --open_questions_;
        if (asker) {
            then(answer);
        }
    });
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
            const bool being_made = report.id == card_ && is_making();
            std::copy_if(
                report.findings.begin(), report.findings.end(), std::back_inserter(all), [&](const Finding& finding) {
                    return finding.severity != Severity::note && !(being_made && model::is_unanswered(finding));
                });
        }
    }
    if (picture_) {
        all.insert(all.end(), picture_->findings.begin(), picture_->findings.end());
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
