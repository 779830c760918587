#include "app/contents/parameters_panel.h"

#include "app/look/counted.h"

#include <QApplication>
#include <QGridLayout>
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
    build_details(column);
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
    const bool measures = !rows_.empty() && rows_.back() < 0; // they stand last
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
    const int kept = chosen();
    rows_.clear();
    table_->clearSpans(); // the cells stay: one of them may be the one that is being typed into
    for (const std::string& group : groups()) {
        if (!group.empty()) {
            add_heading(QString::fromStdString(group));
        }
        for (size_t i = 0; i < parameters.size(); ++i) {
            if (parameters[i].group == group) {
                add_row(static_cast<int>(i), evaluated);
            }
        }
    }
    add_measured();
    table_->setRowCount(static_cast<int>(rows_.size()));
    QString problems;
    for (const Parameter& parameter : parameters) {
        if (const auto bad = evaluated.findings.find(parameter.name); bad != evaluated.findings.end()) {
            problems = QString::fromStdString(parameter.name + ": " + bad->second.cause + " " + bad->second.mend);
            break;
        }
    }
    problem_->setText(problems);
    problem_->setVisible(!problems.isEmpty());
    if (kept >= 0) {
        choose(kept);
    }
    filling_ = false;
    show_details();
}

// As they come first in the document; what has none stands before all.
std::vector<std::string> ParametersPanel::groups() const {
    std::vector<std::string> found{std::string()};
    for (const Parameter& parameter : session_.document().parameters) {
        if (std::find(found.begin(), found.end(), parameter.group) == found.end()) {
            found.push_back(parameter.group);
        }
    }
    return found;
}

void ParametersPanel::add_heading(const QString& name) {
    const int row = append({name, {}, {}}, name, Qt::ItemIsEnabled);
    rows_.push_back(-1);
    QFont font = table_->font();
    font.setWeight(QFont::DemiBold);
    table_->item(row, name_column)->setFont(font);
    table_->item(row, name_column)->setForeground(theme_.quiet);
    table_->setSpan(row, name_column, 1, 3);
}

void ParametersPanel::add_row(int parameter, const EvaluatedParameters& evaluated) {
    const Parameter& shown = session_.document().parameters[static_cast<size_t>(parameter)];
    const auto finding = evaluated.findings.find(shown.name);
    const auto value = evaluated.values.find(shown.name);
    const bool bad = finding != evaluated.findings.end();
    QString number = bad ? tr("error") : QString();
    if (value != evaluated.values.end() && !bad) {
        number = QString::fromStdString(format_quantity(value->second.value, shown.unit, 3));
        number += shown.unit == "deg" ? QString::fromUtf8("\u00b0") : " " + QString::fromStdString(shown.unit);
    }
    const auto readable = Qt::ItemIsEnabled | Qt::ItemIsSelectable;
    const QString tip = QString::fromStdString(bad ? finding->second.cause + " " + finding->second.mend
                                               : shown.comment.empty() ? shown.name
                                                                       : shown.comment);
    const int row =
        append({QString::fromStdString(shown.name), QString::fromStdString(shown.formula), number.trimmed()}, tip,
               readable | Qt::ItemIsEditable);
    table_->item(row, value_column)->setFlags(readable);
    for (const int column : {formula_column, value_column}) {
        if (bad) {
            table_->item(row, column)->setForeground(theme_.finding);
        }
    }
    rows_.push_back(parameter);
}

int ParametersPanel::append(const std::array<QString, 3>& texts, const QString& tip, Qt::ItemFlags flags) {
    const int row = static_cast<int>(rows_.size());
    table_->setRowCount(std::max(table_->rowCount(), row + 1));
    for (int column = 0; column < 3; ++column) {
        QTableWidgetItem* item = table_->item(row, column);
        if (item == nullptr) {
            item = new QTableWidgetItem;
            table_->setItem(row, column, item);
        }
        item->setText(texts[static_cast<size_t>(column)]);
        item->setFont(table_->font());
        item->setFlags(flags);
        item->setToolTip(tip);
        item->setForeground(column == formula_column ? theme_.quiet : theme_.ink);
        if (column == value_column) {
            item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
        }
    }
    return row;
}

// What steps measure stands below, to be read only.
void ParametersPanel::add_measured() {
    for (const auto& step : session_.document().steps) {
        for (const std::string& name : model::dependencies_of(step->definition).measures) {
            const model::StepReport* report = session_.report(step->id);
            QString shown;
            if (report != nullptr && report->output && report->output->measured.contains(name)) {
                shown = quantity_text(report->output->measured.at(name), session_.document().unit);
            }
            append({QString::fromStdString(name), tr("by step %1").arg(step->number), shown},
                   tr("Measured by step %1, %2; later steps may read it.")
                       .arg(step->number)
                       .arg(QString::fromStdString(step->name)),
                   Qt::ItemIsEnabled | Qt::ItemIsSelectable);
            rows_.push_back(-1);
        }
    }
}

int ParametersPanel::parameter_at(int row) const {
    return row >= 0 && row < static_cast<int>(rows_.size()) ? rows_[static_cast<size_t>(row)] : -1;
}

int ParametersPanel::chosen() const {
    return parameter_at(table_->currentRow());
}

void ParametersPanel::choose(int parameter) {
    const auto at = std::find(rows_.begin(), rows_.end(), parameter);
    if (at != rows_.end()) {
        table_->setCurrentCell(static_cast<int>(at - rows_.begin()), std::max(table_->currentColumn(), 0));
    }
}

// --- What is chosen, in full ----------------------------------------------------------------------------------------

void ParametersPanel::build_details(QVBoxLayout* column) {
    details_ = new QWidget(this);
    auto* grid = new QGridLayout(details_);
    grid->setContentsMargins(0, 2, 6, 0);
    grid->setSpacing(4);
    unit_ = new QComboBox(details_);
    unit_->setObjectName("parameter_unit");
    unit_->setToolTip(tr("It is shown in this unit, and a plain number in its formula is taken in it."));
    unit_->addItem(tr("none"), QString());
    for (const Unit& unit : all_units()) {
        const QString name = QString::fromUtf8(unit.name.data(), static_cast<qsizetype>(unit.name.size()));
        unit_->addItem(name, name);
    }
    group_ = new QComboBox(details_);
    group_->setObjectName("parameter_group");
    group_->setEditable(true);
    group_->setInsertPolicy(QComboBox::NoInsert);
    group_->setMinimumContentsLength(6);
    group_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    group_->setToolTip(tr("The heading under which it is listed; type a new one, or none."));
    comment_ = new QLineEdit(details_);
    comment_->setObjectName("parameter_comment");
    comment_->setToolTip(tr("What it is for."));
    const auto label = [this](const QString& name, QWidget* of) {
        of->setAccessibleName(name);
        auto* shown = new QLabel(name, details_);
        shown->setObjectName("quiet");
        return shown;
    };
    grid->addWidget(label(tr("unit"), unit_), 0, 0);
    grid->addWidget(unit_, 0, 1);
    grid->addWidget(label(tr("group"), group_), 0, 2);
    grid->addWidget(group_, 0, 3);
    grid->addWidget(label(tr("note"), comment_), 1, 0);
    grid->addWidget(comment_, 1, 1, 1, 3);
    grid->setColumnStretch(3, 1);
    column->addWidget(details_);
    connect(unit_, &QComboBox::activated, this,
            [this] { change([this](Parameter& p) { p.unit = unit_->currentData().toString().toStdString(); }); });
    const auto regroup = [this] {
        change([this](Parameter& p) { p.group = group_->currentText().trimmed().toStdString(); });
    };
    connect(group_, &QComboBox::activated, this, regroup);
    connect(group_->lineEdit(), &QLineEdit::editingFinished, this, regroup);
    connect(comment_, &QLineEdit::editingFinished, this,
            [this] { change([this](Parameter& p) { p.comment = comment_->text().trimmed().toStdString(); }); });
    connect(table_, &QTableWidget::currentCellChanged, this, &ParametersPanel::show_details);
    details_->hide();
}

void ParametersPanel::show_details() {
    if (filling_) {
        return;
    }
    const int at = chosen();
    const auto& all = session_.document().parameters;
    details_->setVisible(at >= 0 && at < static_cast<int>(all.size()));
    if (details_->isHidden()) {
        return;
    }
    const Parameter& shown = all[static_cast<size_t>(at)];
    detailed_ = shown.name;
    unit_->setCurrentIndex(unit_->findData(QString::fromStdString(shown.unit)));
    if (!group_->lineEdit()->hasFocus()) {
        group_->clear();
        for (const std::string& group : groups()) {
            group_->addItem(QString::fromStdString(group));
        }
        group_->setCurrentText(QString::fromStdString(shown.group));
    }
    if (!comment_->hasFocus()) {
        comment_->setText(QString::fromStdString(shown.comment));
    }
}

// Of the one that the details were shown for, also when another row has been clicked meanwhile.
void ParametersPanel::change(const std::function<void(Parameter&)>& how) {
    const auto& all = session_.document().parameters;
    const auto at = std::find_if(all.begin(), all.end(), [this](const Parameter& p) { return p.name == detailed_; });
    if (at == all.end()) {
        return;
    }
    Parameter changed = *at;
    how(changed);
    if (!(changed == *at)) {
        session_.edit([&, index = at - all.begin()](model::Document document) {
            document.parameters[static_cast<size_t>(index)] = changed;
            return document;
        });
    }
}

void ParametersPanel::take_cell(int row, int column) {
    const int at = filling_ ? -1 : parameter_at(row);
    if (at < 0) {
        return;
    }
    const std::string text = table_->item(row, column)->text().trimmed().toStdString();
    const std::string name = session_.document().parameters[static_cast<size_t>(at)].name;
    if (column == formula_column) {
        session_.edit([&](model::Document document) {
            document.parameters[static_cast<size_t>(at)].formula = text;
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
    // Beside the one that is chosen, under its heading.
    const auto& all = session_.document().parameters;
    const std::string group = chosen() < 0 ? std::string() : all[static_cast<size_t>(chosen())].group;
    session_.edit([&](model::Document document) {
        document.parameters.push_back({name, "10 mm", "mm", "", group});
        return document;
    });
    table_->setFocus();
    choose(static_cast<int>(session_.document().parameters.size()) - 1);
    table_->setCurrentCell(table_->currentRow(), name_column);
    table_->editItem(table_->item(table_->currentRow(), name_column));
}

void ParametersPanel::select(const QString& name) {
    for (int row = 0; row < table_->rowCount(); ++row) {
        const bool heading = table_->columnSpan(row, name_column) > 1;
        if (!heading && table_->item(row, name_column)->text() == name) {
            table_->setCurrentCell(row, name_column);
            table_->scrollToItem(table_->item(row, name_column));
            table_->setFocus();
        }
    }
}

void ParametersPanel::remove_parameter() {
    const int at = chosen();
    if (at < 0) {
        return;
    }
    const std::string name = session_.document().parameters[static_cast<size_t>(at)].name;
    const auto uses = model::uses_of_parameter(session_.document(), name);
    if (!uses.empty()) {
        problem_->setText(tr("\u201c%1\u201d is read by %2.")
                              .arg(QString::fromStdString(name), QString::fromStdString(uses.front())) +
                          (uses.size() > 1 ? tr(" And %1 more.").arg(uses.size() - 1) : QString()));
        problem_->show();
        return;
    }
    session_.edit([&](model::Document document) {
        document.parameters.erase(document.parameters.begin() + at);
        return document;
    });
}

} // namespace kervo::app
