#include "app/shell/file_dialogs.h"

#include "base/formula.h"

#include <QCheckBox>
#include <QDialog>
#include <QDialogButtonBox>
#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QFormLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QSaveFile>
#include <QStandardPaths>

#include <functional>

namespace kervo::app {

namespace {

QString patterns(const io::Format& format) {
    QString text;
    for (const std::string& extension : format.extensions) {
        text += (text.isEmpty() ? "*" : " *") + QString::fromStdString(extension);
    }
    return text;
}

// The name that the user handed over by last, kept in a file of the user's own folder.
QString own_name_file() {
    return QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + "/name";
}
QString own_name() {
    QFile file(own_name_file());
    return file.open(QFile::ReadOnly) ? QString::fromUtf8(file.readLine(200)).trimmed() : QString();
}
void remember_own_name(const QString& name) {
    QSaveFile file(own_name_file());
    if (QDir().mkpath(QFileInfo(own_name_file()).path()) && file.open(QFile::WriteOnly)) {
        file.write(name.toUtf8());
        file.commit();
    }
}

// One line for each question, with its unit behind it.
class HandOverDialog : public QDialog {
public:
    HandOverDialog(QWidget* over, const io::Format& format, bool any_hidden) : QDialog(over) {
        setWindowTitle(tr("Hand over as %1").arg(QString::fromStdString(format.title)));
        setMinimumWidth(340);
        auto* form = new QFormLayout(this);
        form->setContentsMargins(18, 16, 18, 14);
        form->setSpacing(10);
        for (const io::FormatQuestion& question : format.questions) {
            if (question.flag) {
                double& answer = options_.answers[question.key] = question.standard;
                add_tick(form, "answer_" + QString::fromStdString(question.key), QString::fromStdString(question.text),
                         QString::fromStdString(question.help), question.standard != 0,
                         [&answer](bool on) { answer = on ? 1 : 0; });
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
        if (format.says_author) {
            name_ = new QLineEdit(own_name(), this);
            name_->setObjectName("hand_over_by");
            name_->setAccessibleName(tr("By"));
            name_->setToolTip(tr("Your name, as the file tells it; it may stay empty."));
            form->addRow(tr("By"), name_);
        }
        add_tick(form, "hand_over_apart", tr("Each body in a file of its own"),
                 tr("The files are called after the one that you named and the body in them."), false,
                 [this](bool on) { options_.apart = on; });
        if (any_hidden) {
            add_tick(form, "hand_over_hidden", tr("Hidden bodies too"),
                     tr("Else those that are hidden here are left out."), false,
                     [this](bool on) { options_.hidden_too = on; });
        }
        problem_ = new QLabel(this);
        problem_->setObjectName("finding");
        problem_->setWordWrap(true);
        problem_->hide();
        form->addRow(problem_);
        auto* buttons = new QDialogButtonBox(this);
        auto* accept = new QPushButton(tr("Hand over"), this);
        accept->setObjectName("main");
        accept->setDefault(true);
        auto* cancel = new QPushButton(tr("Cancel"), this);
        cancel->setObjectName("plain");
        buttons->addButton(accept, QDialogButtonBox::AcceptRole);
        buttons->addButton(cancel, QDialogButtonBox::RejectRole);
        form->addRow(buttons);
        connect(buttons, &QDialogButtonBox::accepted, this, &HandOverDialog::take);
        connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    }
    [[nodiscard]] const io::ExportOptions& options() const { return options_; }

private:
    void add_tick(QFormLayout* form, const QString& name, const QString& text, const QString& help, bool ticked,
                  const std::function<void(bool)>& take) {
        auto* tick = new QCheckBox(text, this);
        tick->setObjectName(name);
        tick->setToolTip(help);
        tick->setChecked(ticked);
        form->addRow(QString(), tick);
        connect(tick, &QCheckBox::toggled, this, take);
    }

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
            options_.answers[question.key] = *value;
        }
        if (name_ != nullptr) {
            options_.author = name_->text().trimmed().toStdString();
            remember_own_name(name_->text().trimmed());
        }
        accept();
    }

    std::vector<std::pair<io::FormatQuestion, QLineEdit*>> fields_;
    QLineEdit* name_ = nullptr;
    QLabel* problem_;
    io::ExportOptions options_;
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

std::optional<io::ExportOptions> ask_how_to_hand_over(QWidget* over, const io::Format* format, bool any_hidden) {
    if (format == nullptr) {
        return io::ExportOptions();
    }
    HandOverDialog dialog(over, *format, any_hidden);
    return dialog.exec() == QDialog::Accepted ? std::optional(dialog.options()) : std::nullopt;
}

} // namespace kervo::app
