#include "app/contents/contents_panel.h"

#include "app/look/counted.h"

#include <QHBoxLayout>
#include <QPushButton>
#include <QStyle>
#include <QVBoxLayout>

#include <cmath>

namespace kervo::app {

ContentsPanel::ContentsPanel(Session& session, Viewport& viewport, const Theme& theme, QWidget* parent)
    : QWidget(parent), session_(session), viewport_(viewport) {
    setObjectName("side");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(14, 10, 6, 8);
    column->setSpacing(4);
    auto* head = new QHBoxLayout;
    auto* title = new QLabel(tr("Contents"), this);
    title->setObjectName("heading");
    unit_ = new QLabel(this);
    unit_->setObjectName("quiet");
    head->addWidget(title, 1);
    head->addWidget(unit_);
    head->addSpacing(8);
    column->addLayout(head);
    tree_ = new ContentsTree(session_, viewport_, theme, this);
    column->addWidget(tree_, 1);

    cutaway_ = new QWidget(this);
    auto* cut_row = new QHBoxLayout(cutaway_);
    cut_row->setContentsMargins(0, 0, 8, 0);
    cut_row->setSpacing(4);
    axis_ = new QComboBox(cutaway_);
    axis_->addItems({tr("across x"), tr("across y"), tr("across z"), tr("oblique")});
    axis_->setAccessibleName(tr("Direction of the cutaway"));
    axis_->setToolTip(tr("Which axis the cutaway lies across."));
    offset_ = new QLineEdit(cutaway_);
    offset_->setAccessibleName(tr("Place of the cutaway"));
    offset_->setToolTip(tr("How far along that axis, in mm; a formula is fine. Or pull the handle in the model."));
    auto* flip = new QPushButton(tr("Flip"), cutaway_);
    flip->setObjectName("plain");
    flip->setToolTip(tr("Takes away the other side."));
    auto* away = new QPushButton(QString::fromUtf8("\u00d7"), cutaway_);
    away->setObjectName("plain");
    away->setToolTip(tr("Removes the cutaway and shows everything whole."));
    away->setAccessibleName(tr("Remove the cutaway"));
    cut_row->addWidget(axis_);
    cut_row->addWidget(offset_, 1);
    cut_row->addWidget(flip);
    cut_row->addWidget(away);
    column->addWidget(cutaway_);

    connect(flip, &QPushButton::clicked, this, &ContentsPanel::flip_cutaway);
    connect(away, &QPushButton::clicked, this, &ContentsPanel::remove_cutaway);
    connect(axis_, &QComboBox::activated, this, &ContentsPanel::set_axis);
    connect(offset_, &QLineEdit::editingFinished, this, [this] {
        auto cutaway = session_.cutaway();
        const auto place = evaluate_as(offset_->text().toStdString(), session_.parameters().values, length_dimension);
        offset_->setProperty("wrong", !place.ok());
        offset_->style()->polish(offset_);
        if (cutaway && place) {
            const auto& n = cutaway->normal;
            const double sign = n[0] + n[1] + n[2] < 0 ? -1 : 1;
            for (size_t i = 0; i < 3; ++i) {
                cutaway->origin[i] = n[i] * sign * *place;
            }
            session_.set_cutaway(cutaway);
        }
    });
    connect(&session_, &Session::pictured, this, &ContentsPanel::refresh);
    connect(&session_, &Session::changed, this, &ContentsPanel::refresh_cutaway);
    refresh();
}

void ContentsPanel::refresh() {
    refresh_cutaway();
    unit_->setText(volume_unit(session_.document().unit));
}

void ContentsPanel::refresh_cutaway() {
    const auto cutaway = session_.cutaway();
    cutaway_->setVisible(cutaway.has_value());
    if (!cutaway) {
        return;
    }
    int axis = 3;
    for (int i = 0; i < 3; ++i) {
        axis = std::fabs(cutaway->normal[static_cast<size_t>(i)]) > 1 - 1e-9 ? i : axis;
    }
    axis_->setCurrentIndex(axis);
    const auto& n = cutaway->normal;
    const double sign = n[0] + n[1] + n[2] < 0 ? -1 : 1;
    const double place = (cutaway->origin[0] * n[0] + cutaway->origin[1] * n[1] + cutaway->origin[2] * n[2]) * sign;
    if (!offset_->hasFocus()) {
        offset_->setText(QString::fromStdString(format_quantity(place, "mm", 3)));
    }
}

void ContentsPanel::set_axis(int axis) {
    auto cutaway = session_.cutaway();
    if (!cutaway || axis > 2) {
        return;
    }
    cutaway->normal = {0, 0, 0};
    cutaway->normal[static_cast<size_t>(axis)] = axis == 1 ? -1 : 1;
    session_.set_cutaway(cutaway);
}

void ContentsPanel::place_cutaway() {
    const PicturePtr picture = session_.picture();
    if (!picture || picture->after.empty()) {
        return;
    }
    model::Cutaway cutaway;
    for (const model::Reference& reference : viewport_.hand().selection()) {
        if (const auto plane = viewport_.shown().plane_of(reference)) {
            cutaway.origin = (plane->origin - plane->z).array(); // a millimetre inside, where there is something to see
            cutaway.normal = {plane->z.x, plane->z.y, plane->z.z};
            session_.set_cutaway(cutaway);
            return;
        }
    }
    cutaway.origin = {0, picture->bounds.middle().y, 0};
    session_.set_cutaway(cutaway);
}

void ContentsPanel::flip_cutaway() {
    if (auto cutaway = session_.cutaway()) {
        for (double& c : cutaway->normal) {
            c = c == 0 ? 0 : -c;
        }
        session_.set_cutaway(cutaway);
    }
}

void ContentsPanel::remove_cutaway() {
    session_.set_cutaway(std::nullopt);
}

} // namespace kervo::app
