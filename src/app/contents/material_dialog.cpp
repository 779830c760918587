#include "app/contents/material_dialog.h"

#include "base/parameters.h"
#include "model/document/cutaways.h"

#include <QCheckBox>
#include <QColorDialog>
#include <QComboBox>
#include <QCoreApplication>
#include <QDialog>
#include <QDialogButtonBox>
#include <QFormLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>

namespace kervo::app {

namespace {

class MaterialDialog : public QDialog {
    Q_DECLARE_TR_FUNCTIONS(MaterialDialog)
public:
    MaterialDialog(const model::Document& document, const model::Material& now, QWidget* parent)
        : QDialog(parent), document_(document), before_(now.name), color_(QString::fromStdString(now.color)) {
        setWindowTitle(before_.empty() ? tr("New material") : tr("Material"));
        auto* form = new QFormLayout(this);
        name_ = new QLineEdit(QString::fromStdString(now.name), this);
        say(name_, tr("Name of the material"), tr("As bodies and lists call it."));
        form->addRow(tr("Name"), name_);
        tint_ = new QPushButton(this);
        tint_->setObjectName("plain");
        say(tint_, tr("Colour of the material"), tr("Of bodies without a colour of their own, and of cut faces."));
        connect(tint_, &QPushButton::clicked, this, [this] {
            const QColor chosen = QColorDialog::getColor(color_, this, tr("Colour of the material"));
            color_ = chosen.isValid() ? chosen : color_;
            show_color();
        });
        show_color();
        form->addRow(tr("Colour"), tint_);
        density_ = new QLineEdit(QString::fromStdString(format_quantity(now.density, "", 6)), this);
        say(density_, tr("Density"), tr("In g/cm\u00b3: steel has 7.85, oak 0.72, glass 2.5."));
        form->addRow(tr("Density, g/cm\u00b3"), density_);
        hatch_ = new QComboBox(this);
        hatch_->addItems(
            {tr("lines"), tr("lines in pairs"), tr("crossed lines"), tr("dashes"), tr("filled"), tr("none")});
        hatch_->setCurrentIndex(static_cast<int>(now.hatch));
        say(hatch_, tr("Hatch"), tr("How faces are filled where it is cut."));
        form->addRow(tr("Hatch"), hatch_);
        glass_ = new QCheckBox(tr("seen through"), this);
        glass_->setChecked(now.glass);
        say(glass_, tr("Glass"), tr("Bodies of it are shown see-through."));
        form->addRow(QString(), glass_);
        problem_ = new QLabel(this);
        problem_->setObjectName("problem");
        form->addRow(problem_);
        auto* buttons = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel, this);
        connect(buttons, &QDialogButtonBox::accepted, this, &MaterialDialog::accept);
        connect(buttons, &QDialogButtonBox::rejected, this, &MaterialDialog::reject);
        form->addRow(buttons);
    }

    void accept() override {
        const std::string name = name_->text().trimmed().toStdString();
        const auto density = evaluate_as(density_->text().toStdString(), {}, {});
        const QString wrong = name.empty() ? tr("It needs a name.")
                              : name != before_ && model::find_material(document_, name) != nullptr
                                  ? tr("There is a material of that name already.")
                              : !density.ok() || *density <= 0 ? tr("The density is a number above zero.")
                                                               : QString();
        problem_->setText(wrong);
        if (wrong.isEmpty()) {
            made_ = {name, color_.name().toStdString(), *density, static_cast<model::Hatch>(hatch_->currentIndex()),
                     glass_->isChecked()};
            QDialog::accept();
        }
    }

    [[nodiscard]] const model::Material& made() const { return made_; }

private:
    static void say(QWidget* widget, const QString& name, const QString& tip) {
        widget->setAccessibleName(name);
        widget->setToolTip(tip);
    }

    void show_color() {
        QPixmap swatch(14, 14);
        swatch.fill(color_);
        tint_->setIcon(swatch);
        tint_->setText(color_.name());
    }

    const model::Document& document_;
    std::string before_;
    QColor color_;
    QLineEdit* name_;
    QPushButton* tint_;
    QLineEdit* density_;
    QComboBox* hatch_;
    QCheckBox* glass_;
    QLabel* problem_;
    model::Material made_;
};

} // namespace

std::optional<model::Material> ask_for_material(const model::Document& document, const model::Material& now,
                                                QWidget* parent) {
    MaterialDialog dialog(document, now, parent);
    return dialog.exec() == QDialog::Accepted ? std::optional(dialog.made()) : std::nullopt;
}

} // namespace kervo::app
