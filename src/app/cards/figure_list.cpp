#include "app/cards/figure_list.h"
#include "app/view/tools/sketch_tool.h"

#include "app/view/viewport.h"
#include "sketch/lettering.h"

#include <QCheckBox>
#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>

#include <algorithm>

namespace kervo::app {

using sketch::Figure;
using sketch::FigureKind;

namespace {

constexpr QChar line_end(0x00B6); // in a field of one line

QString shown(const std::string& text) {
    return QString::fromStdString(text).replace('\n', line_end);
}

QHBoxLayout* line_in(QVBoxLayout* column, const QString& name, QWidget* owner) {
    auto* line = new QHBoxLayout;
    line->setSpacing(6);
    auto* label = new QLabel(name, owner);
    label->setFixedWidth(76);
    line->addWidget(label);
    column->addLayout(line);
    return line;
}

} // namespace

FigureList::FigureList(Viewport& viewport, QWidget* parent) : QWidget(parent), viewport_(viewport) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    hide();
}

void FigureList::refresh(const sketch::Sketch& drawing) {
    drawing_ = drawing;
    std::vector<std::array<int, 3>> wanted;
    for (const Figure& figure : drawing.figures) {
        wanted.push_back({figure.id, static_cast<int>(figure.kind), figure.along != 0 ? 1 : 0});
    }
    if (wanted != listed_) {
        listed_ = wanted;
        refresh_fields_.clear();
        if (rows_ != nullptr) {
            rows_->hide();
            rows_->deleteLater();
        }
        rows_ = new QWidget(this);
        auto* column = new QVBoxLayout(rows_);
        column->setContentsMargins(0, 0, 0, 0);
        column->setSpacing(4);
        for (const Figure& figure : drawing.figures) {
            add(figure);
        }
        layout()->addWidget(rows_);
        setVisible(!drawing.figures.empty());
    }
    for (const auto& show : refresh_fields_) {
        show();
    }
}

void FigureList::change(int figure, const Change& how) {
    sketch::Sketch next = drawing_;
    if (Figure* found = next.figure(figure)) {
        how(*found);
        if (!(next == drawing_)) {
            emit changed(next);
        }
    }
}

void FigureList::add(const Figure& figure) {
    auto* column = static_cast<QVBoxLayout*>(rows_->layout());
    const QString names[] = {tr("Text"), tr("Artwork"), tr("Ring"), tr("Row")};
    auto* head = new QHBoxLayout;
    auto* title = new QLabel(names[static_cast<size_t>(figure.kind)], rows_);
    title->setObjectName("question");
    head->addWidget(title, 1);
    auto* parts = new QPushButton(tr("Break up"), rows_);
    parts->setObjectName("tool");
    parts->setAccessibleName(tr("Break up the %1").arg(title->text().toLower()));
    parts->setToolTip(
        tr("Makes curves of it that can be trimmed and constrained; it can no longer be changed as one."));
    connect(parts, &QPushButton::clicked, this, [this, id = figure.id] {
        sketch::Sketch next = drawing_;
        if (const auto solved = viewport_.shown().card_sketch()) { // by the numbers as last solved
            next = solved->solution.sketch;
        }
        sketch::break_up(next, id);
        emit changed(next);
    });
    head->addWidget(parts);
    column->addLayout(head);
    switch (figure.kind) {
    case FigureKind::text:
        add_lettering(column, figure);
        break;
    case FigureKind::artwork:
        add_artwork(column, figure);
        break;
    case FigureKind::ring:
        add_text(column, figure, tr("how many"), tr("In all, with what is repeated."),
                 [](Figure& f) -> std::string& { return f.size.formula.text; });
        add_text(column, figure, tr("angle"), tr("From one to the next; empty: evenly all around."),
                 [](Figure& f) -> std::string& { return f.spacing.formula.text; });
        break;
    case FigureKind::row:
        add_text(column, figure, tr("how many"), tr("In all, with what is repeated."),
                 [](Figure& f) -> std::string& { return f.size.formula.text; });
        break;
    }
}

void FigureList::add_lettering(QVBoxLayout* column, const Figure& figure) {
    add_text(column, figure, tr("words"), tr("What is written; \u00b6 begins a new line."),
             [](Figure& f) -> std::string& { return f.text; });
    add_text(column, figure, tr("height"), tr("Of the capitals."),
             [](Figure& f) -> std::string& { return f.size.formula.text; });
    add_text(column, figure, tr("spacing"), tr("Added between the letters."),
             [](Figure& f) -> std::string& { return f.spacing.formula.text; });
    const auto families = sketch::font_families();
    QStringList fonts;
    for (const std::string& family : families) {
        fonts.append(family == families.front() ? tr("Technical lettering") : QString::fromStdString(family));
    }
    add_choice(
        column, tr("font"), fonts, figure,
        [families](const Figure& f) {
            const auto at = std::find(families.begin(), families.end(), f.font);
            return f.font.empty() ? 0 : at == families.end() ? -1 : static_cast<int>(at - families.begin());
        },
        [families](Figure& f, int at) { f.font = at == 0 ? "" : families[static_cast<size_t>(at)]; });
    add_choice(
        column, tr("stands"), {tr("from its start on"), tr("around its start"), tr("up to its start")}, figure,
        [](const Figure& f) { return static_cast<int>(f.align); },
        [](Figure& f, int at) { f.align = static_cast<sketch::TextAlign>(at); });
    auto* line = line_in(column, tr("runs"), rows_);
    auto* follow = new QPushButton(figure.along != 0 ? tr("Straight") : tr("Along the selected curve"), rows_);
    follow->setObjectName("tool");
    follow->setToolTip(figure.along != 0 ? tr("Lets the words leave their curve.")
                                         : tr("Select a curve first; the words will follow it."));
    connect(follow, &QPushButton::clicked, this, [this, id = figure.id] { follow_selected(id); });
    line->addWidget(follow, 1);
    if (figure.along != 0) {
        add_switch(column, tr("the other way round"), tr("Against the curve's direction, on its other side."), figure);
    }
}

void FigureList::add_artwork(QVBoxLayout* column, const Figure& figure) {
    auto* name = new QLabel(figure.artwork ? QString::fromStdString(figure.artwork->name) : QString(), rows_);
    line_in(column, tr("file"), rows_)->addWidget(name, 1);
    add_text(column, figure, tr("width"), tr("Of all of it; it keeps its shape."),
             [](Figure& f) -> std::string& { return f.size.formula.text; });
    add_choice(
        column, tr("filled"), {tr("as in its file"), tr("by winding"), tr("every other"), tr("not at all")}, figure,
        [](const Figure& f) { return static_cast<int>(f.fill); },
        [](Figure& f, int at) { f.fill = static_cast<sketch::FillRule>(at); });
    add_switch(column, tr("mirrored"), tr("Turned over about its base line."), figure);
    if (figure.artwork && !figure.artwork->skipped.empty()) {
        QStringList lines;
        for (const std::string& one : figure.artwork->skipped) {
            lines.append(QString::fromStdString(one));
        }
        auto* missing = new QLabel(tr("Not read: %1.").arg(lines.join("; ")), rows_);
        missing->setObjectName("quiet");
        missing->setWordWrap(true);
        column->addWidget(missing);
    }
}

void FigureList::add_text(QVBoxLayout* column, const Figure& figure, const QString& name, const QString& help,
                          const std::function<std::string&(Figure&)>& of) {
    auto* field = new QLineEdit(rows_);
    field->setObjectName("figure_" + name);
    field->setAccessibleName(name);
    field->setToolTip(help);
    line_in(column, name, rows_)->addWidget(field, 1);
    connect(field, &QLineEdit::editingFinished, this, [this, field, id = figure.id, of] {
        const std::string typed = field->text().trimmed().replace(line_end, '\n').toStdString();
        change(id, [&](Figure& f) { of(f) = typed; });
    });
    refresh_fields_.emplace_back([this, field, id = figure.id, of] {
        Figure* now = drawing_.figure(id);
        if (now != nullptr && !field->hasFocus()) {
            field->setText(shown(of(*now)));
            field->setCursorPosition(0);
        }
    });
}

void FigureList::add_choice(QVBoxLayout* column, const QString& name, const QStringList& choices, const Figure& figure,
                            const std::function<int(const Figure&)>& read,
                            const std::function<void(Figure&, int)>& write) {
    auto* box = new QComboBox(rows_);
    box->addItems(choices);
    box->setObjectName("figure_" + name);
    box->setAccessibleName(name);
    box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    line_in(column, name, rows_)->addWidget(box, 1);
    connect(box, &QComboBox::activated, this,
            [this, id = figure.id, write](int at) { change(id, [&](Figure& f) { write(f, at); }); });
    refresh_fields_.emplace_back([this, box, id = figure.id, read] {
        if (const Figure* now = drawing_.figure(id)) {
            box->setCurrentIndex(read(*now));
        }
    });
}

void FigureList::add_switch(QVBoxLayout* column, const QString& name, const QString& help, const Figure& figure) {
    auto* box = new QCheckBox(name, rows_);
    box->setToolTip(help);
    line_in(column, {}, rows_)->addWidget(box, 1);
    connect(box, &QCheckBox::clicked, this,
            [this, id = figure.id](bool on) { change(id, [&](Figure& f) { f.reversed = on; }); });
    refresh_fields_.emplace_back([this, box, id = figure.id] {
        if (const Figure* now = drawing_.figure(id)) {
            box->setChecked(now->reversed);
        }
    });
}

void FigureList::follow_selected(int figure) {
    int curve = 0;
    for (const int id : viewport_.tool<SketchTool>().drawing().selected()) {
        curve = drawing_.curve(id) != nullptr ? id : curve;
    }
    const Figure* text = drawing_.figure(figure);
    if (curve == 0 && text != nullptr && text->along == 0) {
        emit viewport_.hinted(tr("Select a curve first; the words will follow it"));
        return;
    }
    change(figure, [&](Figure& f) { f.along = f.along != 0 ? 0 : curve; });
}

} // namespace kervo::app
