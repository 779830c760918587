#include "app/parameters_panel.h"

#include "app/counted.h"

#include <QApplication>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QPushButton>
#include <QVBoxLayout>

#include <algorithm>

namespace kervo::app {

namespace {
enum Column { name_column, formula_column, value_column };
}

ParametersPanel::ParametersPanel(Session& session, const Theme& theme, QWidget* parent)
    : QWidget(parent), session_(session), theme_(theme) {
    setObjectName("side");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(14, 8, 6, 8);
    column->setSpacing(4);
    auto* head = new QHBoxLayout;
    auto* title = new QLabel(tr("Parameters"), this);
    title->setObjectName("heading");
    head->addWidget(title, 1);
    auto* add = new QPushButton(tr("Add"), this);
    add->setToolTip(tr("Adds a parameter; type its name and formula in place."));
    add->setAccessibleName(tr("Add a parameter"));
    connect(add, &QPushButton::clicked, this, &ParametersPanel::add_parameter);
    auto* remove = new QPushButton(tr("Delete"), this);
    remove->setToolTip(tr("Deletes the chosen parameter, unless something reads it."));
    remove->setAccessibleName(tr("Delete the parameter"));
    connect(remove, &QPushButton::clicked, this, &ParametersPanel::remove_parameter);
    head->addWidget(add);
    head->addWidget(remove);
    column->addLayout(head);

    table_ = new QTableWidget(0, 3, this);
    table_->setHorizontalHeaderLabels({tr("name"), tr("formula"), tr("value")});
    table_->horizontalHeaderItem(value_column)->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
    table_->horizontalHeaderItem(name_column)->setTextAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    table_->horizontalHeaderItem(formula_column)->setTextAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    table_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    table_->horizontalHeader()->setSectionResizeMode(name_column, QHeaderView::ResizeToContents);
    table_->horizontalHeader()->setSectionResizeMode(value_column, QHeaderView::ResizeToContents);
    table_->verticalHeader()->hide();
    table_->verticalHeader()->setDefaultSectionSize(25);
    table_->setShowGrid(false);
    table_->setSelectionMode(QAbstractItemView::SingleSelection);
    table_->setEditTriggers(QAbstractItemView::DoubleClicked | QAbstractItemView::EditKeyPressed |
                            QAbstractItemView::AnyKeyPressed | QAbstractItemView::SelectedClicked);
    table_->setTabKeyNavigation(false);
    table_->setAccessibleName(tr("Parameters"));
    table_->setToolTip(
        tr("Type into a name or a formula to change it: numbers, units, functions and other parameters."));
    column->addWidget(table_, 1);
    problem_ = new QLabel(this);
    problem_->setObjectName("problem");
    problem_->setWordWrap(true);
    problem_->hide();
    column->addWidget(problem_);
    connect(table_, &QTableWidget::cellChanged, this, &ParametersPanel::take_cell);
    connect(&session_, &Session::changed, this, &ParametersPanel::refresh);
    connect(&session_, &Session::pictured, this, &ParametersPanel::refresh_measured);
    connect(&session_, &Session::completed, this, &ParametersPanel::refresh_measured);
    refresh();
}

void ParametersPanel::set_theme(const Theme& theme) {
    theme_ = theme;
    refresh();
}

// Values that hang on what is measured follow the model, not the document; a cell that is being typed into stays.
void ParametersPanel::refresh_measured() {
    const bool measures = table_->rowCount() > static_cast<int>(session_.document().parameters.size());
    const QWidget* focus = QApplication::focusWidget();
    const bool types = focus != nullptr && focus != table_ && table_->isAncestorOf(focus);
    if (measures && !types) {
        refresh();
    }
}

void ParametersPanel::refresh() {
    filling_ = true;
    // Small enough to be evaluated here at every change, so that an error stands in its row at once.
    const auto& parameters = session_.document().parameters;
    const EvaluatedParameters evaluated = session_.parameters();
    table_->setRowCount(static_cast<int>(parameters.size()));
    QString problems;
    for (int row = 0; row < table_->rowCount(); ++row) {
        const Parameter& parameter = parameters[static_cast<size_t>(row)];
        const auto finding = evaluated.findings.find(parameter.name);
        const auto value = evaluated.values.find(parameter.name);
        const bool bad = finding != evaluated.findings.end();
        QString shown = bad ? tr("error") : QString();
        if (value != evaluated.values.end() && !bad) {
            const auto unit = find_unit(parameter.unit);
            shown = QString::number(unit ? value->second.value / unit->factor : value->second.value, 'f', 3) +
                    (parameter.unit == "deg" ? QString::fromUtf8("\u00b0") : QString());
        }
        const QString texts[] = {QString::fromStdString(parameter.name), QString::fromStdString(parameter.formula),
                                 shown};
        for (int column = 0; column < 3; ++column) {
            QTableWidgetItem* item = table_->item(row, column);
            if (item == nullptr) {
                item = new QTableWidgetItem;
                table_->setItem(row, column, item);
            }
            item->setText(texts[column]);
            item->setToolTip(
                bad ? QString::fromStdString(finding->second.cause + " " + finding->second.mend)
                    : QString::fromStdString(parameter.comment.empty() ? parameter.name : parameter.comment));
            item->setForeground(bad && column != name_column ? theme_.finding
                                : column == formula_column   ? theme_.quiet
                                                             : theme_.ink);
            const auto readable = Qt::ItemIsEnabled | Qt::ItemIsSelectable;
            item->setFlags(column == value_column ? readable : readable | Qt::ItemIsEditable);
            if (column == value_column) {
                item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
            }
        }
        if (bad && problems.isEmpty()) {
            problems =
                QString::fromStdString(parameter.name + ": " + finding->second.cause + " " + finding->second.mend);
        }
    }
    add_measured();
    problem_->setText(problems);
    problem_->setVisible(!problems.isEmpty());
    filling_ = false;
}

// What steps measure stands below, to be read only.
void ParametersPanel::add_measured() {
    for (const auto& step : session_.document().steps) {
        for (const std::string& name : model::dependencies_of(step->definition).measures) {
            const model::StepReport* report = session_.report(step->id);
            QString shown;
            if (report != nullptr && report->output && report->output->measured.contains(name)) {
                shown = quantity_text(report->output->measured.at(name));
            }
            const int row = table_->rowCount();
            table_->setRowCount(row + 1);
            const QString texts[] = {QString::fromStdString(name), tr("by step %1").arg(step->number), shown};
            for (int column = 0; column < 3; ++column) {
                auto* item = new QTableWidgetItem(texts[column]);
                item->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable);
                item->setToolTip(tr("Measured by step %1, %2; later steps may read it.")
                                     .arg(step->number)
                                     .arg(QString::fromStdString(step->name)));
                item->setForeground(column == formula_column ? theme_.quiet : theme_.ink);
                if (column == value_column) {
                    item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
                }
                table_->setItem(row, column, item);
            }
        }
    }
}

void ParametersPanel::take_cell(int row, int column) {
    if (filling_ || row >= static_cast<int>(session_.document().parameters.size())) {
        return;
    }
    const std::string text = table_->item(row, column)->text().trimmed().toStdString();
    const std::string name = session_.document().parameters[static_cast<size_t>(row)].name;
    if (column == formula_column) {
        session_.edit([&](model::Document document) {
            document.parameters[static_cast<size_t>(row)].formula = text;
            return document;
        });
    } else if (column == name_column && text != name) {
        const auto& all = session_.document().parameters;
        const bool taken = std::any_of(all.begin(), all.end(), [&](const Parameter& p) { return p.name == text; });
        if (taken || !is_parameter_name(text)) {
            refresh();
            problem_->setText(taken ? tr("There is a parameter of that name already.")
                                    : tr("A name has letters, digits and underscores, and is no unit or function."));
            problem_->show();
            return;
        }
        session_.edit([&](const model::Document& document) { return model::rename_parameter(document, name, text); });
    }
}

void ParametersPanel::add_parameter() {
    std::string name = "length";
    const auto taken = [&] {
        const auto& all = session_.document().parameters;
        return std::any_of(all.begin(), all.end(), [&](const Parameter& p) { return p.name == name; }) ||
               session_.parameters().values.contains(name);
    };
    for (int number = 2; taken(); ++number) {
        name = "length_" + std::to_string(number);
    }
    session_.edit([&](model::Document document) {
        document.parameters.push_back({name, "10 mm", "mm", ""});
        return document;
    });
    table_->setFocus();
    const int row = static_cast<int>(session_.document().parameters.size()) - 1; // measured ones stand below
    table_->setCurrentCell(row, name_column);
    table_->editItem(table_->item(row, name_column));
}

void ParametersPanel::select(const QString& name) {
    for (int row = 0; row < table_->rowCount(); ++row) {
        if (table_->item(row, name_column)->text() == name) {
            table_->setCurrentCell(row, name_column);
            table_->scrollToItem(table_->item(row, name_column));
            table_->setFocus();
        }
    }
}

void ParametersPanel::remove_parameter() {
    const int row = table_->currentRow();
    if (row < 0 || row >= static_cast<int>(session_.document().parameters.size())) {
        return;
    }
    const std::string name = session_.document().parameters[static_cast<size_t>(row)].name;
    const auto uses = model::uses_of_parameter(session_.document(), name);
    if (!uses.empty()) {
        problem_->setText(tr("\u201c%1\u201d is read by %2.")
                              .arg(QString::fromStdString(name), QString::fromStdString(uses.front())) +
                          (uses.size() > 1 ? tr(" And %1 more.").arg(uses.size() - 1) : QString()));
        problem_->show();
        return;
    }
    session_.edit([&](model::Document document) {
        document.parameters.erase(document.parameters.begin() + row);
        return document;
    });
}

} // namespace kervo::app
