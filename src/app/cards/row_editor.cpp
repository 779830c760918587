#include "app/cards/row_editor.h"

#include "app/view/tools/net_tool.h"
#include "app/view/tools/row_tool.h"
#include "base/assignment.h"

#include <QClipboard>
#include <QGridLayout>
#include <QGuiApplication>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QRegularExpression>
#include <QStyle>
#include <QVBoxLayout>

#include <algorithm>

namespace kervo::app {

namespace {

const char* const axes[] = {"x", "y", "z"};

QString in_one_line(const std::vector<std::string>& names) {
    QStringList all;
    for (const std::string& name : names) {
        all << QString::fromStdString(name);
    }
    return all.join(' ');
}

std::vector<std::string> names_in(const QString& text) {
    std::vector<std::string> names;
    for (const QString& name : text.split(QRegularExpression("[\\s,;]+"), Qt::SkipEmptyParts)) {
        names.push_back(name.toStdString());
    }
    return names;
}

class RowEditor : public FieldEditor {
public:
    RowEditor(const model::FieldInfo& info, const CardContext& context, QWidget* parent)
        : FieldEditor(info, context, parent) {
        auto* column = new QVBoxLayout(this);
        column->setContentsMargins(0, 0, 0, 0);
        column->setSpacing(6);
        list_ = new QWidget(this);
        column->addWidget(list_);
        counts_ = new QLabel(this);
        counts_->setObjectName("quiet");
        counts_->setWordWrap(true);
        column->addWidget(counts_);
        auto* buttons = new QGridLayout;
        buttons->setSpacing(4);
        column->addLayout(buttons);
        constexpr int in_a_line = 3;
        for (size_t i = 0; i < info_.options.size(); ++i) {
            const model::FieldOption& option = info_.options[i];
            const QString label = QString::fromStdString(option.label);
            auto* button = new QPushButton(QString("+ ") + label, this);
            button->setObjectName("tool");
            button->setProperty("makes", QString::fromStdString(option.value));
            button->setAccessibleName(tr("Add: %1").arg(label));
            button->setToolTip(option.has_place ? tr("Adds a row; click where it stands, or type it.")
                                                : tr("Adds a row; click what it is made of, or type its names."));
            connect(button, &QPushButton::clicked, this, [this, option] { add(option); });
            buttons->addWidget(button, static_cast<int>(i) / in_a_line, static_cast<int>(i) % in_a_line);
        }
        connect(&tool(), &RowTool::changed, this, [this] { mark_answered(); });
    }

    void refresh(const model::FieldValue& value) override {
        rows_ = std::get<model::Rows>(value);
        std::vector<std::string> structure;
        for (const model::Row& row : rows_) {
            structure.push_back(row.name + " " + row.makes);
        }
        if (structure != structure_) {
            structure_ = std::move(structure);
            rebuild();
        }
        for (size_t i = 0; i < lines_.size(); ++i) {
            const Line& line = lines_[i];
            show(line.name, QString::fromStdString(rows_[i].name));
            show(line.of, in_one_line(rows_[i].of));
            for (size_t axis = 0; axis < line.at.size(); ++axis) {
                show(line.at[axis], QString::fromStdString(rows_[i].at[axis].text));
            }
        }
        mark_answered();
        const auto* report = context_.report();
        const auto* output = report == nullptr ? nullptr : report->output.get();
        const auto counts =
            output == nullptr ? std::map<std::string, std::string>::const_iterator() : output->facts.find("counts");
        counts_->setText(output == nullptr || counts == output->facts.end() ? QString()
                                                                            : QString::fromStdString(counts->second));
        counts_->setVisible(!counts_->text().isEmpty() && !rows_.empty());
    }

protected:
    // A row is answered by clicks while one of its fields has the focus; Ctrl with an arrow moves it.
    bool eventFilter(QObject* watched, QEvent* event) override {
        const auto index = watched->property("row").toULongLong();
        if (index >= rows_.size()) {
            return FieldEditor::eventFilter(watched, event);
        }
        if (event->type() == QEvent::FocusIn && !has_place(rows_[index])) {
            tool().answer(rows_[index].name);
        } else if (event->type() == QEvent::KeyPress || event->type() == QEvent::ShortcutOverride) {
            auto* key = static_cast<QKeyEvent*>(event);
            const bool moves = key->modifiers().testFlag(Qt::ControlModifier) &&
                               (key->key() == Qt::Key_Up || key->key() == Qt::Key_Down);
            const bool pastes = key->matches(QKeySequence::Paste) && has_place(rows_[index]) &&
                                QGuiApplication::clipboard()->text().trimmed().contains('\n');
            if (event->type() == QEvent::ShortcutOverride && (moves || pastes)) {
                event->accept();
                return true;
            }
            if (event->type() == QEvent::KeyPress && moves) {
                move(index, key->key() == Qt::Key_Up ? -1 : 1);
                return true;
            }
            if (event->type() == QEvent::KeyPress && pastes) {
                paste(index, QGuiApplication::clipboard()->text());
                return true;
            }
        }
        return FieldEditor::eventFilter(watched, event);
    }

private:
    struct Line {
        QLineEdit* name;
        QLineEdit* of;
        std::vector<QLineEdit*> at;
    };

    [[nodiscard]] RowTool& tool() const { return context_.viewport.tool<RowTool>(); }

    [[nodiscard]] const model::FieldOption& option_of(const model::Row& row) const {
        return *info_.option(row.makes); // the document has no others
    }
    [[nodiscard]] bool has_place(const model::Row& row) const { return option_of(row).has_place; }
    [[nodiscard]] bool has_way(const model::Row& row) const { return option_of(row).has_way; }

    static void show(QLineEdit* field, const QString& text) {
        if (!field->hasFocus() || !field->isModified()) {
            if (field->text() != text) {
                field->setText(text);
                field->setCursorPosition(0);
            }
        }
    }

    void mark_answered() {
        for (size_t i = 0; i < lines_.size(); ++i) {
            QLineEdit* field = lines_[i].of;
            const bool now = rows_[i].name == tool().answered();
            field->setPlaceholderText(has_place(rows_[i]) ? tr("0")
                                      : has_way(rows_[i]) ? tr("click them")
                                      : now               ? tr("click, or all")
                                                          : tr("all"));
        }
    }

    void add(const model::FieldOption& option) {
        auto next = rows_;
        next.push_back({free_row_name(next, option), option.value});
        if (!option.has_place) { // what is chosen in the model already
            const auto chosen = context_.viewport.tool<NetTool>().chosen();
            next.back().of.assign(chosen.begin(), chosen.end());
        }
        set(next);
        tool().answer(next.back().name);
        if (!lines_.empty()) {
            const bool by_number = option.has_place || (option.has_way && !next.back().of.empty());
            QLineEdit* first = by_number ? lines_.back().at.front() : lines_.back().of;
            first->setFocus(Qt::OtherFocusReason);
            first->selectAll();
        }
    }

    void move(size_t index, int by) {
        const size_t to = index + static_cast<size_t>(by);
        if (to < rows_.size()) {
            auto next = rows_;
            std::swap(next[index], next[to]);
            const QString focused = focusWidget() != nullptr ? focusWidget()->objectName() : QString();
            set(next);
            const QString part = focused.section('_', 2);
            if (auto* field = list_->findChild<QLineEdit*>(QString("row_%1_%2").arg(to).arg(part))) {
                field->setFocus(Qt::OtherFocusReason);
            }
        }
    }

    // Lines of three numbers each, from a table: the row itself, and new ones behind it.
    void paste(size_t index, const QString& text) {
        auto next = rows_;
        size_t at = index;
        for (const QString& line : text.split('\n', Qt::SkipEmptyParts)) {
            const QRegularExpression between(line.contains(';') ? ";" : line.trimmed().contains('\t') ? "\t" : "\\s+");
            const auto numbers = line.trimmed().split(between);
            if (numbers.size() != 3) {
                emit context_.viewport.hinted(
                    tr("\u201c%1\u201d is no place: x, y and z are wanted in each line.").arg(line.trimmed()));
                return;
            }
            if (at > index) {
                next.insert(next.begin() + static_cast<long>(at),
                            {free_row_name(next, option_of(next[index])), next[index].makes});
            }
            for (size_t axis = 0; axis < 3; ++axis) {
                next[at].at[axis].text = numbers[static_cast<int>(axis)].trimmed().toStdString();
            }
            ++at;
        }
        set(next);
    }

    // Rows that use it use it under its new name.
    void rename(size_t index, const std::string& name) {
        auto next = rows_;
        const std::string old = next[index].name;
        next[index].name = name;
        for (model::Row& row : next) {
            std::replace(row.of.begin(), row.of.end(), old, name);
        }
        set(next);
    }

    QLineEdit* add_field(size_t index, const QString& part, const QString& words, const QString& help) {
        auto* field = new QLineEdit(list_);
        field->setObjectName(QString("row_%1_%2").arg(index).arg(part));
        field->setProperty("tight", true);
        field->setProperty("row", static_cast<qulonglong>(index));
        field->setAccessibleName(tr("%1 of %2").arg(words, QString::fromStdString(rows_[index].name)));
        field->setToolTip(help);
        field->installEventFilter(this);
        return field;
    }

    // Takes what was typed once it is complete; of numbers every keystroke that makes sense.
    void take(QLineEdit* field, size_t index, const std::function<void(model::Row&, const QString&)>& change) {
        connect(field, &QLineEdit::editingFinished, this, [this, field, index, change] {
            if (field->isModified()) {
                field->setModified(false);
                auto next = rows_;
                change(next[index], field->text().trimmed());
                set(next);
            }
        });
    }

    void add_numbers(size_t index, QGridLayout* grid, int at) {
        Line& line = lines_[index];
        for (size_t axis = 0; axis < 3; ++axis) {
            QLineEdit* field = add_field(index, axes[axis], axes[axis],
                                         tr("A number, a unit or a formula; lines of three numbers can be pasted."));
            field->setAlignment(Qt::AlignRight);
            const auto change = [axis](model::Row& row, const QString& text) {
                row.at[axis].text = text.isEmpty() ? "0" : text.toStdString();
            };
            take(field, index, change);
            connect(field, &QLineEdit::textEdited, this, [this, index, change, field](const QString& text) {
                const auto values = context_.session.parameters().values;
                const bool good = evaluate_as(formula_in(text.toStdString()), values, info_.dimension).ok();
                field->setProperty("wrong", !good);
                field->style()->polish(field);
                if (good && !split_assignment(text.toStdString())) {
                    auto next = rows_;
                    change(next[index], text.trimmed());
                    set(next);
                }
            });
            line.at.push_back(field);
            grid->addWidget(field, at, 1 + static_cast<int>(axis));
        }
    }

    void add_line(size_t index, QGridLayout* grid, int at) {
        const model::Row& row = rows_[index];
        const QString words = QString::fromStdString(option_of(row).label);
        Line line{add_field(index, "name", tr("Name"), tr("%1; other rows use it by this name.").arg(words)),
                  add_field(index, "of", tr("Parts"),
                            tr("%1 of these, in their order; empty: of all that there is.").arg(words)),
                  {}};
        line.name->setFixedWidth(38);
        take(line.of, index, [](model::Row& changed, const QString& text) { changed.of = names_in(text); });
        connect(line.name, &QLineEdit::editingFinished, this, [this, field = line.name, index] {
            if (field->isModified()) {
                field->setModified(false);
                rename(index, field->text().trimmed().toStdString());
            }
        });
        grid->addWidget(line.name, at, 0);
        lines_.push_back(line);
        if (has_place(row)) {
            add_numbers(index, grid, at);
            lines_.back().of->setFixedWidth(34);
            lines_.back().of->setToolTip(tr("The point from which x, y and z are measured; empty: from the origin."));
            grid->addWidget(lines_.back().of, at, 4);
        } else {
            auto* label = new QLabel(words, list_);
            label->setObjectName("quiet");
            const int wide = has_way(row) ? 1 : 2; // columns; what moves may be many
            grid->addWidget(label, at, 1, 1, wide);
            grid->addWidget(line.of, at, 1 + wide, 1, 4 - wide);
        }
        if (has_way(row)) {
            add_numbers(index, grid, at + 1);
        }
        auto* off = new QPushButton(QChar(0x00D7), list_);
        off->setObjectName("plain");
        off->setFixedWidth(26);
        off->setAccessibleName(tr("Take off %1").arg(QString::fromStdString(row.name)));
        off->setToolTip(tr("Takes the row out."));
        connect(off, &QPushButton::clicked, this, [this, index] {
            auto next = rows_;
            next.erase(next.begin() + static_cast<long>(index));
            set(next);
        });
        grid->addWidget(off, at, 5);
    }

    void rebuild() {
        const QWidget* focus = window()->focusWidget();
        const QString focused = focus != nullptr && list_->isAncestorOf(focus) ? focus->objectName() : QString();
        auto* fresh = new QWidget(this);
        layout()->replaceWidget(list_, fresh);
        list_->hide();
        list_->deleteLater();
        list_ = fresh;
        lines_.clear();
        auto* grid = new QGridLayout(list_);
        grid->setContentsMargins(0, 0, 0, 0);
        grid->setSpacing(4);
        const bool places = std::any_of(rows_.begin(), rows_.end(), [&](const auto& row) { return has_place(row); });
        if (std::any_of(rows_.begin(), rows_.end(), [&](const auto& row) { return option_of(row).has_numbers(); })) {
            int column = 1;
            for (const QString& words : {tr("x"), tr("y"), tr("z"), places ? tr("from") : QString()}) {
                auto* label = new QLabel(words, list_);
                label->setObjectName("quiet");
                grid->addWidget(label, 0, column++, Qt::AlignHCenter);
            }
        }
        int at = 1; // below the heads
        for (size_t i = 0; i < rows_.size(); ++i) {
            add_line(i, grid, at);
            at += has_way(rows_[i]) ? 2 : 1;
        }
        list_->setVisible(!rows_.empty());
        // From left to right, row by row.
        QWidget* before = nullptr;
        for (size_t i = 0; i < lines_.size(); ++i) {
            const Line& line = lines_[i];
            const bool parts_first = has_way(rows_[i]);
            std::vector<QLineEdit*> fields{line.name};
            fields.insert(fields.end(), line.at.begin(), line.at.end());
            fields.insert(parts_first ? fields.begin() + 1 : fields.end(), line.of);
            for (QLineEdit* field : fields) {
                if (before != nullptr) {
                    setTabOrder(before, field);
                }
                before = field;
            }
        }
        if (auto* again = focused.isEmpty() ? nullptr : list_->findChild<QWidget*>(focused)) {
            again->setFocus(Qt::OtherFocusReason);
        }
    }

    QWidget* list_;
    QLabel* counts_; ///< what there is of each
    model::Rows rows_;
    std::vector<std::string> structure_;
    std::vector<Line> lines_;
};

} // namespace

FieldEditor* make_row_editor(const model::FieldInfo& info, const CardContext& context, QWidget* parent) {
    return new RowEditor(info, context, parent);
}

} // namespace kervo::app
