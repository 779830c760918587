#include "app/shell/notice_bar.h"

#include "app/look/counted.h"

#include <QFileInfo>
#include <QHBoxLayout>
#include <QLocale>
#include <QMessageBox>
#include <QStyle>

namespace kervo::app {

QString told_differences(const Result<std::vector<std::string>>& lines, size_t most) {
    if (!lines) {
        return QString::fromStdString(lines.finding().cause);
    }
    QStringList told;
    for (size_t i = 0; i < std::min(lines->size(), most); ++i) {
        told << QString::fromStdString((*lines)[i]);
    }
    if (lines->size() > most) {
        told << QObject::tr("and %1 more").arg(lines->size() - most);
    }
    return told.join('\n');
}

NoticeBar::NoticeBar(Session& session, QWidget* parent) : QWidget(parent), session_(session) {
    setObjectName("notice");
    setAttribute(Qt::WA_StyledBackground);
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(14, 6, 14, 6);
    row->setSpacing(8);
    text_ = new QLabel(this);
    text_->setObjectName("notice_text");
    text_->setWordWrap(true);
    text_->setTextFormat(Qt::PlainText);
    row->addWidget(text_, 1);
    constexpr int most_ways = 3;
    for (int i = 0; i < most_ways; ++i) {
        auto* button = new QPushButton(this);
        button->setObjectName("plain");
        connect(button, &QPushButton::clicked, this, [this, i] {
            const auto take = ways_[static_cast<size_t>(i)].take; // it may show another notice
            take();
        });
        row->addWidget(button);
        buttons_.push_back(button);
    }
    connect(&session_, &Session::keeping_changed, this, &NoticeBar::refresh);
    refresh();
}

void NoticeBar::show_notice(const char* kind, const QString& text, const std::vector<Way>& ways) {
    ways_ = ways;
    text_->setText(text);
    setAccessibleName(text);
    setProperty("kind", kind);
    style()->unpolish(this);
    style()->polish(this);
    for (size_t i = 0; i < buttons_.size(); ++i) {
        buttons_[i]->setVisible(i < ways.size());
        buttons_[i]->setText(i < ways.size() ? ways[i].title : QString());
        buttons_[i]->setToolTip(i < ways.size() ? ways[i].help : QString());
    }
    show();
}

void NoticeBar::refresh() {
    if (session_.trouble()) {
        show_trouble(*session_.trouble());
    } else if (session_.changed_outside()) {
        show_changed_outside();
    } else if (session_.recovered() != nullptr) {
        show_recovered(*session_.recovered());
    } else {
        hide();
    }
}

void NoticeBar::show_trouble(const Finding& trouble) {
    show_notice(
        "trouble", QString::fromStdString(trouble.cause + " " + trouble.mend),
        {{tr("Save elsewhere \u2026"), tr("Saves the document in another place; it is kept there from then on."),
          [this] { emit save_elsewhere_wanted(); }}});
}

void NoticeBar::show_changed_outside() {
    show_notice("caution",
                tr("Another program has changed \u201c%1\u201d since it was opened or saved here.")
                    .arg(QFileInfo(session_.path()).fileName()),
                {{tr("What changed"), tr("Lists what is other in the file."), [this] { tell_differences(); }},
                 {tr("Open theirs"), tr("Opens the file as it is now."), [this] { emit theirs_wanted(); }},
                 {tr("Keep this one"), tr("Saving will replace what the other program has written."),
                  [this] { session_.keep_ours(); }}});
}

void NoticeBar::tell_differences() {
    constexpr size_t most_lines = 20;
    const QString list = told_differences(session_.differences_outside(), most_lines);
    auto* box = new QMessageBox(QMessageBox::NoIcon, tr("Kervo"),
                                tr("In the file, other than as opened or saved here:"), QMessageBox::Close, this);
    box->setInformativeText(list.isEmpty() ? tr("Only the way it is written.") : list);
    box->setAttribute(Qt::WA_DeleteOnClose);
    box->open();
}

void NoticeBar::show_recovered(const RecoveredWork& work) {
    const QString changes = counted(work.changes, tr("change"), tr("changes"));
    QString text = changes;
    text += work.until.isValid()
                ? tr(", the last on %1,").arg(QLocale().toString(work.until.toLocalTime(), "d MMM yyyy, HH:mm"))
                : QString();
    text += work.changes == 1 ? tr(" was not saved when Kervo ended.") : tr(" were not saved when Kervo ended.");
    text += work.shown ? tr(" You see the document with them.") : tr(" You see the document without them.");
    text += work.damaged ? tr(" Some records were damaged and are left out.") : QString();
    text += work.changed_outside ? tr(" Another program has changed the file since then.") : QString();
    show_notice("caution", text,
                {{work.shown ? tr("Show without") : tr("Show with them"),
                  tr("Looks at the document with or without them; nothing is decided by that."),
                  [this, shown = work.shown] { session_.show_recovered(!shown); }},
                 {tr("Keep them"), tr("Goes on with them; they are saved when you save."),
                  [this] { session_.take_recovered(); }},
                 {tr("Give them up"), tr("Goes on from the document as it is saved."),
                  [this] { session_.give_up_recovered(); }}});
}

} // namespace kervo::app
