#include "app/shell/file_dialogs.h"

#include "base/formula.h"

#include <QCheckBox>
#include <QDialog>
#include <QDialogButtonBox>
#include <QFormLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>

namespace kervo::app {

namespace {

QString patterns(const io::Format& format) {
    QString text;
    for (const std::string& extension : format.extensions) {
        text += (text.isEmpty() ? "*" : " *") + QString::fromStdString(extension);
    }
    return text;
}

// One line for each question, with its unit behind it.
class AnswersDialog : public QDialog {
public:
    AnswersDialog(QWidget* over, const io::Format& format) : QDialog(over) {
        setWindowTitle(tr("Hand over as %1").arg(QString::fromStdString(format.title)));
        auto* form = new QFormLayout(this);
        for (const io::FormatQuestion& question : format.questions) {
            if (question.flag) {
                auto* tick = new QCheckBox(QString::fromStdString(question.text), this);
                tick->setObjectName("answer_" + QString::fromStdString(question.key));
                tick->setToolTip(QString::fromStdString(question.help));
                tick->setChecked(question.standard != 0);
                form->addRow(QString(), tick);
                connect(tick, &QCheckBox::toggled, this,
                        [this, key = question.key](bool on) { answers_[key] = on ? 1 : 0; });
                continue;
            }
            auto* field = new QLineEdit(
                QString::fromStdString(format_quantity(question.standard, "", 6) + " " + question.unit), this);
            field->setObjectName("answer_" + QString::fromStdString(question.key));
            field->setAccessibleName(QString::fromStdString(question.text));
            field->setToolTip(QString::fromStdString(question.help));
            form->addRow(QString::fromStdString(question.text), field);
            fields_.emplace_back(question, field);
        }
        problem_ = new QLabel(this);
        problem_->setObjectName("finding");
        problem_->setWordWrap(true);
        problem_->hide();
        form->addRow(problem_);
        auto* buttons = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel, this);
        buttons->button(QDialogButtonBox::Ok)->setText(tr("Hand over"));
        form->addRow(buttons);
        connect(buttons, &QDialogButtonBox::accepted, this, &AnswersDialog::take);
        connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    }
    [[nodiscard]] const io::FormatAnswers& answers() const { return answers_; }

private:
    void take() {
        for (const auto& [question, field] : fields_) {
            const auto value =
                evaluate_as(field->text().toStdString(), {}, question.unit == "mm" ? length_dimension : Dimension{});
            if (!value || *value < question.least) {
                problem_->setText(value ? tr("%1: at least %2 %3.")
                                              .arg(QString::fromStdString(question.text))
                                              .arg(question.least)
                                              .arg(QString::fromStdString(question.unit))
                                        : QString::fromStdString(value.finding().cause));
                problem_->show();
                field->setFocus();
                return;
            }
            answers_[question.key] = *value;
        }
        accept();
    }

    std::vector<std::pair<io::FormatQuestion, QLineEdit*>> fields_;
    QLabel* problem_;
    io::FormatAnswers answers_;
};

} // namespace

QString files_read(io::Content content, const QString& title) {
    QStringList all;
    for (const io::Format* format : io::readers_of(content)) {
        all << patterns(*format);
    }
    return title + " (" + all.join(' ') + ")";
}

QString files_written(io::Content content) {
    QStringList all;
    for (const io::Format* format : io::writers_of(content)) {
        all << QString::fromStdString(format->title + " (*" + format->extensions.front() + ")");
    }
    return all.join(";;");
}

QString extensions_read(io::Content content) {
    return QString::fromStdString(io::extensions_of(io::readers_of(content)));
}

QString extensions_written(io::Content content) {
    return QString::fromStdString(io::extensions_of(io::writers_of(content)));
}

std::optional<io::FormatAnswers> ask_for_answers(QWidget* over, const io::Format* format) {
    if (format == nullptr || format->questions.empty()) {
        return io::FormatAnswers();
    }
    AnswersDialog dialog(over, *format);
    return dialog.exec() == QDialog::Accepted ? std::optional(dialog.answers()) : std::nullopt;
}

} // namespace kervo::app
