#include "app/cards/finding_list.h"
#include "app/view/tools/mark_tool.h"
#include "model/document/groups_and_layers.h"
#include "model/route/unanswered.h"

#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

#include <algorithm>

namespace kervo::app {

namespace {

const std::map<model::BodyId, model::Sorting>& sorting_of(const model::StepReport* report) {
    static const std::map<model::BodyId, model::Sorting> none;
    return report != nullptr && report->output ? report->output->sorting : none;
}

constexpr int tallest = 150; // px; what is more is scrolled to
constexpr int border = 2;

// A formula as it is, a choice as it stands on the card.
std::string in_words(const model::FieldInfo& info, const std::string& answer) {
    const model::FieldOption* option = info.option(answer);
    return option == nullptr ? answer : option->label;
}

} // namespace

FindingList::FindingList(QWidget* parent) : QScrollArea(parent), content_(new QWidget(this)) {
    setObjectName("findings");
    setWidgetResizable(true);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setFocusPolicy(Qt::NoFocus);
    auto* column = new QVBoxLayout(content_);
    column->setContentsMargins(14, 8, 14, 0);
    column->setSpacing(6);
    setWidget(content_);
    hide();
}

void FindingList::refresh(const CardContext& context) {
    const model::StepReport* report = context.report();
    const Findings findings = report != nullptr ? report->findings : Findings{};
    std::vector<std::array<double, 3>> places;
    const bool making = context.session.is_making();
    for (const Finding& finding : findings) {
        const bool waits = making && model::is_unanswered(finding);
        if (finding.severity != Severity::note && !waits) { // those are read, not pointed out in the model
            places.insert(places.end(), finding.places.begin(), finding.places.end());
        }
    }
    context.viewport.tool<MarkTool>().point_out(places);
    const bool sortable = model::can_be_sorted(context.session.document(), sorting_of(report));
    if (findings != told_ || context.step != step_ || making != making_ || sortable != sortable_) {
        sortable_ = sortable;
        told_ = findings;
        step_ = context.step;
        making_ = making;
        tell(context, findings);
    }
}

void FindingList::tell(const CardContext& context, const Findings& findings) {
    for (QWidget* line : lines_) {
        line->hide();
        line->deleteLater();
    }
    lines_.clear();
    std::vector<Offer> offers;
    for (const Finding& finding : findings) {
        // What is not answered yet in a step that is being made is what comes next, not what is wrong.
        const bool waits = making_ && model::is_unanswered(finding);
        auto* line = new QLabel(
            waits ? tr("Next: %1").arg(QString::fromStdString(finding.mend.empty() ? finding.cause : finding.mend))
                  : QString::fromStdString(finding.cause + (finding.mend.empty() ? "" : " " + finding.mend)),
            content_);
        line->setObjectName(waits                                   ? "quiet"
                            : finding.severity == Severity::error   ? "problem"
                            : finding.severity == Severity::warning ? "caution"
                                                                    : "quiet");
        line->setWordWrap(true);
        lines_.push_back(line);
        content_->layout()->addWidget(line);
        std::copy_if(finding.offers.begin(), finding.offers.end(), std::back_inserter(offers), [&](const Offer& offer) {
            const bool twice = std::find(offers.begin(), offers.end(), offer) != offers.end();
            return !twice && model::can_take(context.session.document(), offer) && (!offer.sorts || sortable_);
        });
    }
    show_offers(context, offers);
    setVisible(!lines_.empty());
    fit();
}

void FindingList::show_offers(const CardContext& context, const std::vector<Offer>& offers) {
    Session& session = context.session;
    for (const Offer& offer : offers) {
        const auto step = session.document().step(offer.step);
        QString says = QString::fromStdString(offer.says);
        if (offer.answers.empty() && !offer.sorts) {
            const std::string name = step->name.empty() ? model::title_of(step->definition) : step->name;
            says = tr("Open %1, step %2").arg(QString::fromStdString(name)).arg(step->number);
        } else if (offer.step != context.step) {
            says = tr("%1, in step %2").arg(says).arg(step->number);
        }
        QStringList answers;
        for (const model::Field& field : model::fields_of(step->definition)) {
            if (const auto answer = offer.answers.find(field.info.key); answer != offer.answers.end()) {
                answers += QString::fromStdString(field.info.label + ": " + in_words(field.info, answer->second));
            }
        }
        auto* button = new QPushButton(says, content_);
        button->setObjectName("offer");
        button->setToolTip(offer.sorts ? tr("Puts the bodies into groups and on layers, and hides them, as there.")
                           : answers.isEmpty() ? tr("Opens the card of that step.")
                                               : tr("Changes the answers: %1.").arg(answers.join(tr(", "))));
        button->setAccessibleName(says);
        connect(button, &QPushButton::clicked, this, [&session, offer, sorting = sorting_of(context.report())] {
            if (offer.sorts) {
                session.edit(
                    [&](model::Document document) { return model::sort_as_in_file(std::move(document), sorting); });
            } else if (offer.answers.empty()) {
                session.open_card(offer.step);
            } else {
                session.edit([&](model::Document document) { return model::take_offer(std::move(document), offer); });
            }
        });
        lines_.push_back(button);
        content_->layout()->addWidget(button);
    }
}

void FindingList::resizeEvent(QResizeEvent* event) {
    QScrollArea::resizeEvent(event);
    fit();
}

void FindingList::fit() {
    const QLayout* lines = content_->layout();
    const int wanted =
        lines->hasHeightForWidth() ? lines->heightForWidth(viewport()->width()) : lines->sizeHint().height();
    setFixedHeight(std::min(tallest, wanted + border));
}

} // namespace kervo::app
