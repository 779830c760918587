#include "app/contents_panel.h"

#include "app/counted.h"
#include "geom/profile.h"

#include <QCheckBox>
#include <QColorDialog>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QMenu>
#include <QPainter>
#include <QPushButton>
#include <QStyle>
#include <QVBoxLayout>

#include <cmath>

namespace kervo::app {

namespace {

constexpr int id_role = Qt::UserRole;

QIcon swatch(const QColor& fill, const QColor& rim) {
    QPixmap picture(14, 14);
    picture.fill(Qt::transparent);
    QPainter painter(&picture);
    painter.setPen(rim);
    painter.setBrush(fill);
    painter.drawRoundedRect(1, 1, 11, 11, 2, 2);
    return picture;
}

} // namespace

ContentsPanel::ContentsPanel(Session& session, Viewport& viewport, const Theme& theme, QWidget* parent)
    : QWidget(parent), session_(session), viewport_(viewport), theme_(theme) {
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
    tree_ = new QTreeWidget(this);
    tree_->setColumnCount(2);
    tree_->setHeaderHidden(true);
    tree_->setRootIsDecorated(false);
    tree_->setIndentation(12);
    tree_->header()->setStretchLastSection(false);
    tree_->header()->setSectionResizeMode(0, QHeaderView::Stretch);
    tree_->header()->setSectionResizeMode(1, QHeaderView::ResizeToContents);
    tree_->setSelectionMode(QAbstractItemView::ExtendedSelection);
    tree_->setEditTriggers(QAbstractItemView::EditKeyPressed);
    tree_->setAccessibleName(tr("Contents"));
    tree_->setToolTip(tr("Bodies and sketches of the document. F2 renames a body; the menu hides and colours it."));
    tree_->setContextMenuPolicy(Qt::CustomContextMenu);
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
    connect(tree_, &QTreeWidget::itemChanged, this, &ContentsPanel::take_item);
    connect(tree_, &QTreeWidget::itemSelectionChanged, this, [this] {
        if (!filling_) {
            std::vector<model::Reference> chosen;
            for (const model::BodyId& id : selected_bodies()) {
                model::Reference reference;
                reference.body = id;
                chosen.push_back(reference);
            }
            viewport_.select(chosen);
        }
    });
    connect(tree_, &QTreeWidget::customContextMenuRequested, this, [this](const QPoint& at) {
        QMenu menu(this);
        menu.addAction(tr("Rename"), this, &ContentsPanel::rename_selected);
        menu.addAction(tr("Colour\u2026"), this, &ContentsPanel::color_selected);
        menu.addAction(tr("Hide or show"), this, &ContentsPanel::toggle_hidden);
        menu.exec(tree_->viewport()->mapToGlobal(at));
    });
    connect(&session_, &Session::pictured, this, &ContentsPanel::refresh);
    connect(&session_, &Session::changed, this, &ContentsPanel::refresh_cutaway);
    connect(&viewport_, &Viewport::selection_changed, this, [this] {
        filling_ = true;
        for (QTreeWidgetItemIterator it(tree_); *it != nullptr; ++it) {
            const model::BodyId id = (*it)->data(0, id_role).toString().toStdString();
            const auto& chosen = viewport_.selection();
            (*it)->setSelected(!id.empty() && std::any_of(chosen.begin(), chosen.end(),
                                                          [&](const model::Reference& r) { return r.body == id; }));
        }
        filling_ = false;
    });
    refresh();
}

void ContentsPanel::set_theme(const Theme& theme) {
    theme_ = theme;
    refresh();
}

void ContentsPanel::refresh() {
    refresh_cutaway();
    unit_->setText(volume_unit(session_.document().unit));
    const PicturePtr picture = session_.picture();
    filling_ = true;
    const auto chosen = viewport_.selection();
    tree_->clear();
    if (picture) {
        const auto cutaway = session_.cutaway();
        for (const auto& [id, body] : picture->after) {
            const auto& traits = picture->evaluation->traits.at(id);
            const auto look = session_.document().appearance.find(id);
            const bool hidden = look != session_.document().appearance.end() && look->second.hidden;
            const double volume = picture->volumes.at(id);
            const QString no_solid = body->blade                            ? tr("blade")
                                     : volume != 0                          ? QString()
                                     : geom::faces_of(body->shape).empty()  ? tr("curves")
                                     : geom::solids_of(body->shape).empty() ? tr("surface")
                                                                            : QString();
            auto* item = new QTreeWidgetItem(
                tree_, {QString::fromStdString(traits.name),
                        no_solid.isEmpty() ? volume_number(volume, session_.document().unit) : no_solid});
            item->setData(0, id_role, QString::fromStdString(id));
            const QColor color = body->blade ? theme_.cutter : body_color(theme_, QString::fromStdString(traits.color));
            item->setIcon(0, swatch(hidden ? theme_.panel : color, theme_.edge));
            item->setTextAlignment(1, Qt::AlignRight | Qt::AlignVCenter);
            item->setForeground(1, theme_.quiet);
            item->setFlags(item->flags() | Qt::ItemIsEditable);
            QString tip = tr("%1, %2").arg(QString::fromStdString(traits.name), item->text(1));
            tip += !no_solid.isEmpty() ? QString() : " " + volume_unit(session_.document().unit);
            if (hidden) {
                item->setForeground(0, theme_.quiet);
                tip += tr("; hidden");
            }
            if (traits.stale) {
                item->setForeground(0, theme_.finding);
                item->setText(1, tr("stale"));
                tip += tr("; stale, because a step before it failed");
            }
            if (cutaway && cutaway->on) {
                const auto& whole = cutaway->left_whole;
                item->setCheckState(0, std::find(whole.begin(), whole.end(), id) == whole.end() ? Qt::Checked
                                                                                                : Qt::Unchecked);
                tip += tr("; the tick says whether the cutaway cuts it");
            }
            item->setToolTip(0, tip);
            item->setSelected(std::any_of(chosen.begin(), chosen.end(),
                                          [&, body_id = id](const model::Reference& r) { return r.body == body_id; }));
        }
        int sketches = 0;
        for (const auto& step : session_.document().steps) {
            sketches += std::holds_alternative<model::SketchStep>(step->definition) ? 1 : 0;
        }
        for (const auto& [word, count] :
             {std::pair(tr("Sketches"), QString::number(sketches)),
              std::pair(tr("Cutaways"),
                        cutaway ? QString::fromUtf8("%1\u2013%1").arg(QString::fromStdString(cutaway->letter))
                                : QString("0"))}) {
            auto* item = new QTreeWidgetItem(tree_, {word, count});
            item->setFlags(Qt::ItemIsEnabled);
            item->setForeground(0, theme_.quiet);
            item->setForeground(1, theme_.quiet);
            item->setTextAlignment(1, Qt::AlignRight | Qt::AlignVCenter);
        }
    }
    filling_ = false;
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
    for (const model::Reference& reference : viewport_.selection()) {
        for (const auto& [id, body] : picture->after) {
            const auto found = id == reference.body && reference.kind == model::ElementKind::face
                                   ? model::resolve(reference, body.get())
                                   : model::Resolved{};
            if (const auto plane = found.element.IsNull() ? std::nullopt : geom::plane_of(found.element)) {
                const gp_Dir& n = plane->Axis().Direction();
                const gp_Pnt& p = plane->Location();
                cutaway.origin = {p.X() - n.X(), p.Y() - n.Y(),
                                  p.Z() - n.Z()}; // a millimetre inside, where there is something to see
                cutaway.normal = {n.X(), n.Y(), n.Z()};
                session_.set_cutaway(cutaway);
                return;
            }
        }
    }
    cutaway.origin = {0, (picture->bounds.CornerMin().Y() + picture->bounds.CornerMax().Y()) / 2, 0};
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

std::vector<model::BodyId> ContentsPanel::selected_bodies() const {
    std::vector<model::BodyId> bodies;
    for (const QTreeWidgetItem* item : tree_->selectedItems()) {
        const QString id = item->data(0, id_role).toString();
        if (!id.isEmpty()) {
            bodies.push_back(id.toStdString());
        }
    }
    return bodies;
}

void ContentsPanel::change_look(const std::function<void(model::Appearance&)>& change) {
    const auto bodies = selected_bodies();
    session_.edit([&](model::Document document) {
        for (const model::BodyId& id : bodies) {
            change(document.appearance[id]);
        }
        return document;
    });
}

void ContentsPanel::rename_selected() {
    if (QTreeWidgetItem* item = tree_->currentItem()) {
        tree_->setFocus();
        tree_->editItem(item, 0);
    }
}

void ContentsPanel::color_selected() {
    if (selected_bodies().empty()) {
        return;
    }
    const QColor color = QColorDialog::getColor(Qt::white, this, tr("Colour of the body"));
    if (color.isValid()) {
        change_look([&](model::Appearance& look) { look.color = color.name().toStdString(); });
    }
}

void ContentsPanel::toggle_hidden() {
    change_look([](model::Appearance& look) { look.hidden = !look.hidden; });
}

void ContentsPanel::take_item(QTreeWidgetItem* item, int column) {
    const model::BodyId id = item->data(0, id_role).toString().toStdString();
    if (filling_ || id.empty() || column != 0) {
        return;
    }
    if (auto cutaway = session_.cutaway(); cutaway && cutaway->on) {
        const bool was_cut =
            std::find(cutaway->left_whole.begin(), cutaway->left_whole.end(), id) == cutaway->left_whole.end();
        const bool cut = item->checkState(0) == Qt::Checked;
        if (cut != was_cut) {
            if (cut) {
                std::erase(cutaway->left_whole, id);
            } else {
                cutaway->left_whole.push_back(id);
            }
            session_.set_cutaway(cutaway);
            return;
        }
    }
    const std::string name = item->text(0).trimmed().toStdString();
    if (!name.empty()) {
        session_.edit([&](model::Document document) {
            document.appearance[id].name = name;
            return document;
        });
    }
}

} // namespace kervo::app
