#include "app/contents_tree.h"

#include "app/counted.h"
#include "geom/measure.h"
#include "geom/profile.h"
#include "model/arrangement.h"

#include <QColorDialog>
#include <QDropEvent>
#include <QHeaderView>
#include <QMenu>
#include <QPainter>

#include <algorithm>

namespace kervo::app {

namespace {

constexpr int id_role = Qt::UserRole;
constexpr int row_role = Qt::UserRole + 1;

QIcon swatch(const QColor& fill, const QColor& rim) {
    QPixmap picture(14, 14);
    picture.fill(Qt::transparent);
    QPainter painter(&picture);
    painter.setPen(rim);
    painter.setBrush(fill);
    painter.drawRoundedRect(1, 1, 11, 11, 2, 2);
    return picture;
}

// A group: two sheets, one behind the other. A layer: a sheet seen aslant.
QIcon sheets(const QColor& ink, bool aslant) {
    QPixmap picture(14, 14);
    picture.fill(Qt::transparent);
    QPainter painter(&picture);
    painter.setRenderHint(QPainter::Antialiasing, aslant);
    painter.setPen(ink);
    if (aslant) {
        painter.drawPolygon(QPolygonF({{1, 9}, {5, 4}, {13, 4}, {9, 9}}));
    } else {
        painter.drawRect(1, 4, 8, 8);
        painter.drawPolyline(QPolygonF({{4, 1}, {12, 1}, {12, 9}}));
    }
    return picture;
}

QString words_for(model::Showing showing) {
    switch (showing) {
    case model::Showing::see_through:
        return QObject::tr("see-through");
    case model::Showing::edges:
        return QObject::tr("edges only");
    case model::Showing::aside:
        return QObject::tr("set aside");
    case model::Showing::full:
        break;
    }
    return {};
}

} // namespace

ContentsTree::ContentsTree(Session& session, Viewport& viewport, const Theme& theme, QWidget* parent)
    : QTreeWidget(parent), session_(session), viewport_(viewport), theme_(theme) {
    setColumnCount(2);
    setHeaderHidden(true);
    setRootIsDecorated(false);
    setIndentation(14);
    header()->setStretchLastSection(false);
    header()->setSectionResizeMode(0, QHeaderView::Stretch);
    header()->setSectionResizeMode(1, QHeaderView::ResizeToContents);
    setSelectionMode(QAbstractItemView::ExtendedSelection);
    setEditTriggers(QAbstractItemView::EditKeyPressed);
    setDragDropMode(QAbstractItemView::InternalMove);
    setAccessibleName(tr("Contents"));
    setToolTip(
        tr("Bodies, groups and layers. F2 renames, the menu does the rest; rows can be dragged onto a group or a "
           "layer."));
    setContextMenuPolicy(Qt::CustomContextMenu);
    connect(this, &QTreeWidget::itemChanged, this, &ContentsTree::take_item);
    connect(this, &QTreeWidget::itemSelectionChanged, this, &ContentsTree::tell_selection);
    connect(this, &QTreeWidget::customContextMenuRequested, this, &ContentsTree::open_menu);
    connect(this, &QTreeWidget::itemDoubleClicked, this, [this](QTreeWidgetItem* item) {
        if (row_of(item) == Row::layer) {
            session_.edit([name = id_of(item)](model::Document document) {
                document.current_layer = document.current_layer == name ? std::string() : name;
                return document;
            });
        }
    });
    const auto fold = [this](const QTreeWidgetItem* item, bool closed) {
        const std::string key = id_of(item) + "/" + std::to_string(static_cast<int>(row_of(item)));
        closed ? void(closed_.insert(key)) : void(closed_.erase(key));
    };
    connect(this, &QTreeWidget::itemCollapsed, this, [fold](const QTreeWidgetItem* item) { fold(item, true); });
    connect(this, &QTreeWidget::itemExpanded, this, [this, fold](const QTreeWidgetItem* item) {
        if (!filling_) {
            fold(item, false);
        }
    });
    connect(&session_, &Session::pictured, this, &ContentsTree::refresh);
    connect(&viewport_, &Viewport::selection_changed, this, &ContentsTree::take_selection);
}

void ContentsTree::set_theme(const Theme& theme) {
    theme_ = theme;
    refresh();
}

// --- Rows -----------------------------------------------------------------------------------------------------------

ContentsTree::Row ContentsTree::row_of(const QTreeWidgetItem* item) {
    return item == nullptr ? Row::other : static_cast<Row>(item->data(0, row_role).toInt());
}

std::string ContentsTree::id_of(const QTreeWidgetItem* item) {
    return item->data(0, id_role).toString().toStdString();
}

QTreeWidgetItem* ContentsTree::add_row(QTreeWidgetItem* under, Row row, const QString& id, const QString& name,
                                       const QString& text) {
    auto* item = under == nullptr ? new QTreeWidgetItem(this) : new QTreeWidgetItem(under);
    item->setText(0, name);
    item->setText(1, text);
    item->setData(0, id_role, id);
    item->setData(0, row_role, static_cast<int>(row));
    item->setTextAlignment(1, Qt::AlignRight | Qt::AlignVCenter);
    item->setForeground(1, theme_.quiet);
    return item;
}

void ContentsTree::refresh() {
    filling_ = true;
    clear();
    setRootIsDecorated(!session_.document().groups.empty() || !session_.document().layers.empty());
    if (session_.picture()) {
        add_bodies();
        add_layers();
        add_counts();
        for (QTreeWidgetItemIterator it(this); *it != nullptr; ++it) {
            (*it)->setExpanded(!closed_.contains(id_of(*it) + "/" + std::to_string(static_cast<int>(row_of(*it)))));
        }
    }
    filling_ = false;
    take_selection();
}

// Groups stand where the first of what is in them stands.
void ContentsTree::add_bodies() {
    const model::Document& document = session_.document();
    const PicturePtr picture = session_.picture();
    std::map<int, QTreeWidgetItem*> rows;
    std::map<int, std::pair<int, double>> totals;
    std::function<QTreeWidgetItem*(int)> row_for = [&](int group) -> QTreeWidgetItem* {
        const model::Group* known = model::find_group(document, group);
        if (known == nullptr) {
            return nullptr;
        }
        if (const auto at = rows.find(group); at != rows.end()) {
            return at->second;
        }
        auto* row = add_row(row_for(known->within), Row::group, QString::number(group),
                            QString::fromStdString(known->name), {});
        row->setFlags((row->flags() | Qt::ItemIsEditable));
        row->setIcon(0, sheets(theme_.ink, false));
        return rows[group] = row;
    };
    for (const auto& [id, body] : picture->after) {
        const int group = picture->evaluation->traits.at(id).group;
        add_body(row_for(group), id, body);
        for (int around = group; around != 0;) {
            ++totals[around].first;
            totals[around].second += picture->volumes.at(id);
            const auto* known = model::find_group(document, around);
            around = known == nullptr ? 0 : known->within;
        }
    }
    for (const model::Group& group : document.groups) { // empty ones, so that something can be put in
        auto* row = row_for(group.id);
        const auto [count, volume] = totals[group.id];
        row->setText(1, count == 0 ? tr("empty") : volume_number(volume, document.unit));
        row->setToolTip(
            0,
            tr("%1, a group of %2").arg(QString::fromStdString(group.name), counted(count, tr("body"), tr("bodies"))));
    }
}

void ContentsTree::add_body(QTreeWidgetItem* under, const model::BodyId& id, const model::BodyPtr& body) {
    const PicturePtr picture = session_.picture();
    const std::string& unit = session_.document().unit;
    const auto cutaway = session_.cutaway();
    const auto& traits = picture->evaluation->traits.at(id);
    const bool hidden = !viewport_.is_shown(id);
    const double volume = picture->volumes.at(id);
    const QString no_solid = body->blade                            ? tr("blade")
                             : volume != 0                          ? QString()
                             : geom::faces_of(body->shape).empty()  ? tr("curves")
                             : geom::solids_of(body->shape).empty() ? tr("surface")
                                                                    : QString();
    const QString name = QString::fromStdString(traits.name);
    auto* item = add_row(under, Row::body, QString::fromStdString(id), name,
                         no_solid.isEmpty() ? volume_number(volume, unit) : no_solid);
    const QColor color = body->blade ? theme_.cutter : body_color(theme_, QString::fromStdString(traits.color));
    item->setIcon(0, swatch(hidden ? theme_.panel : color, theme_.edge));
    item->setFlags(item->flags() | Qt::ItemIsEditable);
    QString tip = tr("%1, %2").arg(name, item->text(1));
    tip += !no_solid.isEmpty() ? QString() : " " + volume_unit(unit);
    const auto showing = look_of(id).showing;
    if (hidden || showing != model::Showing::full) {
        item->setForeground(0, theme_.quiet);
        QFont slanted = font();
        slanted.setItalic(true);
        item->setFont(0, slanted);
        tip += "; " + (hidden ? tr("hidden") : words_for(showing));
    }
    if (!traits.layer.empty()) {
        tip += tr("; on layer %1").arg(QString::fromStdString(traits.layer));
    }
    if (traits.stale) {
        item->setForeground(0, theme_.finding);
        item->setText(1, tr("stale"));
        tip += tr("; stale, because a step before it failed");
    }
    if (cutaway && cutaway->on) {
        const auto& whole = cutaway->left_whole;
        item->setCheckState(0, std::find(whole.begin(), whole.end(), id) == whole.end() ? Qt::Checked : Qt::Unchecked);
        tip += tr("; the tick says whether the cutaway cuts it");
    }
    item->setToolTip(0, tip);
}

void ContentsTree::add_layers() {
    const model::Document& document = session_.document();
    if (document.layers.empty()) {
        return;
    }
    const PicturePtr picture = session_.picture();
    auto* head = add_row(nullptr, Row::layers, {}, tr("Layers"), QString::number(document.layers.size()));
    head->setForeground(0, theme_.quiet);
    head->setFlags(Qt::ItemIsEnabled);
    for (const model::Layer& layer : document.layers) {
        const auto count = std::count_if(picture->after.begin(), picture->after.end(), [&](const auto& body) {
            return picture->evaluation->traits.at(body.first).layer == layer.name;
        });
        const bool current = document.current_layer == layer.name;
        QStringList words;
        words << (layer.hidden ? tr("hidden") : QString()) << (layer.locked ? tr("locked") : QString())
              << (current ? tr("current") : QString());
        words.removeAll(QString());
        const QString name = QString::fromStdString(layer.name);
        // One word, so that the names keep their room; the tip has all of them.
        auto* row = add_row(head, Row::layer, name, name, words.isEmpty() ? QString::number(count) : words.first());
        row->setFlags(row->flags() | Qt::ItemIsEditable);
        row->setIcon(0, sheets(layer.hidden ? theme_.quiet : theme_.ink, true));
        QFont weighty = font();
        weighty.setBold(current);
        row->setFont(0, weighty);
        row->setForeground(0, layer.hidden ? theme_.quiet : theme_.ink);
        row->setToolTip(0, tr("%1, a layer with %2%3. A double click makes it current: new bodies lie on it.")
                               .arg(name, counted(count, tr("body"), tr("bodies")),
                                    words.isEmpty() ? QString() : "; " + words.join(", ")));
    }
}

void ContentsTree::add_counts() {
    int sketches = 0;
    for (const auto& step : session_.document().steps) {
        sketches += std::holds_alternative<model::SketchStep>(step->definition) ? 1 : 0;
    }
    const auto cutaway = session_.cutaway();
    const QString letters =
        cutaway ? QString::fromUtf8("%1\u2013%1").arg(QString::fromStdString(cutaway->letter)) : QString("0");
    for (const auto& [word, count] :
         {std::pair(tr("Sketches"), QString::number(sketches)), std::pair(tr("Cutaways"), letters)}) {
        auto* item = add_row(nullptr, Row::other, {}, word, count);
        item->setFlags(Qt::ItemIsEnabled);
        item->setForeground(0, theme_.quiet);
    }
}

// --- Selection ------------------------------------------------------------------------------------------------------

std::vector<model::BodyId> ContentsTree::lone_bodies() const {
    std::vector<model::BodyId> bodies;
    for (const QTreeWidgetItem* item : selectedItems()) {
        if (row_of(item) == Row::body) {
            bodies.push_back(id_of(item));
        }
    }
    return bodies;
}

std::vector<int> ContentsTree::groups() const {
    std::vector<int> groups;
    for (const QTreeWidgetItem* item : selectedItems()) {
        if (row_of(item) == Row::group) {
            groups.push_back(std::stoi(id_of(item)));
        }
    }
    return groups;
}

std::string ContentsTree::layer() const {
    for (const QTreeWidgetItem* item : selectedItems()) {
        if (row_of(item) == Row::layer) {
            return id_of(item);
        }
    }
    return {};
}

std::vector<model::BodyId> ContentsTree::bodies() const {
    auto bodies = lone_bodies();
    const PicturePtr picture = session_.picture();
    for (const int group : groups()) {
        for (const auto& id : model::members_of(group, picture->after, session_.document(), *picture->evaluation)) {
            if (std::find(bodies.begin(), bodies.end(), id) == bodies.end()) {
                bodies.push_back(id);
            }
        }
    }
    return bodies;
}

std::vector<model::BodyId> ContentsTree::all_bodies() const {
    std::vector<model::BodyId> bodies;
    if (const PicturePtr picture = session_.picture()) {
        for (const auto& [id, body] : picture->after) {
            bodies.push_back(id);
        }
    }
    return bodies;
}

std::map<model::BodyId, int> ContentsTree::groups_now() const {
    std::map<model::BodyId, int> now;
    for (const model::BodyId& id : all_bodies()) {
        now[id] = session_.picture()->evaluation->traits.at(id).group;
    }
    return now;
}

void ContentsTree::tell_selection() {
    if (filling_) {
        return;
    }
    std::vector<model::Reference> chosen;
    const auto add = [&](const model::BodyId& id) { chosen.push_back(model::whole(id)); };
    for (const int group : groups()) {
        add(model::reference_to_group(group));
    }
    for (const model::BodyId& id : lone_bodies()) {
        add(id);
    }
    filling_ = true; // the rows are chosen already
    viewport_.select(chosen);
    filling_ = false;
}

void ContentsTree::take_selection() {
    if (filling_) {
        return;
    }
    filling_ = true;
    const auto& chosen = viewport_.selection();
    for (QTreeWidgetItemIterator it(this); *it != nullptr; ++it) {
        const Row row = row_of(*it);
        const std::string id = row == Row::group ? model::reference_to_group(std::stoi(id_of(*it))) : id_of(*it);
        if (row == Row::group || row == Row::body) {
            (*it)->setSelected(std::any_of(chosen.begin(), chosen.end(),
                                           [&](const model::Reference& reference) { return reference.body == id; }));
        }
    }
    filling_ = false;
}

// --- Edits ----------------------------------------------------------------------------------------------------------

model::Appearance ContentsTree::look_of(const model::BodyId& id) const {
    const auto look = session_.document().appearance.find(id);
    return look == session_.document().appearance.end() ? model::Appearance() : look->second;
}

void ContentsTree::change_looks(const std::vector<model::BodyId>& bodies,
                                const std::function<void(const model::BodyId&, model::Appearance&)>& change) {
    session_.edit([&](model::Document document) {
        for (const model::BodyId& id : bodies) {
            model::Appearance look = look_of(id);
            change(id, look);
            if (!(look == look_of(id))) {
                document.appearance[id] = look;
            }
        }
        return document;
    });
}

void ContentsTree::change_layer(const std::function<void(model::Layer&)>& change) {
    session_.edit([&](model::Document document) { return model::change_layer(std::move(document), layer(), change); });
}

void ContentsTree::rename_selected() {
    if (QTreeWidgetItem* item = currentItem()) {
        setFocus();
        editItem(item, 0);
    }
}

void ContentsTree::color_selected() {
    const auto chosen = bodies();
    const QColor color = chosen.empty() ? QColor() : QColorDialog::getColor(Qt::white, this, tr("Colour of the body"));
    if (color.isValid()) {
        change_looks(chosen, [&](const auto&, model::Appearance& look) { look.color = color.name().toStdString(); });
    }
}

void ContentsTree::show_selected_as(model::Showing showing) {
    const auto chosen = bodies().empty() ? all_bodies() : bodies();
    const bool all = std::all_of(chosen.begin(), chosen.end(),
                                 [&](const model::BodyId& id) { return look_of(id).showing == showing; });
    change_looks(chosen,
                 [&](const auto&, model::Appearance& look) { look.showing = all ? model::Showing::full : showing; });
}

void ContentsTree::toggle_hidden() {
    if (!layer().empty()) {
        change_layer([](model::Layer& each) { each.hidden = !each.hidden; });
        return;
    }
    const auto chosen = bodies();
    const bool all =
        std::all_of(chosen.begin(), chosen.end(), [&](const model::BodyId& id) { return look_of(id).hidden; });
    change_looks(chosen, [&](const auto&, model::Appearance& look) { look.hidden = !all; });
}

void ContentsTree::isolate() {
    const auto chosen = bodies();
    if (!chosen.empty()) {
        change_looks(all_bodies(), [&](const model::BodyId& id, model::Appearance& look) {
            look.hidden = std::find(chosen.begin(), chosen.end(), id) == chosen.end();
        });
    }
}

void ContentsTree::show_all() {
    change_looks(all_bodies(), [](const auto&, model::Appearance& look) {
        look.hidden = false;
        look.showing = model::Showing::full;
    });
}

void ContentsTree::group_selected() {
    if (bodies().empty()) {
        return;
    }
    int made = 0;
    session_.edit([&](model::Document document) {
        return model::make_group(std::move(document), lone_bodies(), groups(), groups_now(), {}, &made);
    });
    viewport_.select({model::whole(model::reference_to_group(made))});
}

void ContentsTree::dissolve_selected() {
    const auto chosen = groups();
    session_.edit([&](model::Document document) {
        for (const int group : chosen) {
            document = model::dissolve_group(std::move(document), group, groups_now());
        }
        return document;
    });
}

void ContentsTree::take_out_of_groups() {
    session_.edit([&](model::Document document) {
        return model::put_into_group(std::move(document), lone_bodies(), groups(), 0);
    });
}

void ContentsTree::add_layer() {
    session_.edit([&](model::Document document) {
        std::string added;
        document = model::add_layer(std::move(document), tr("Layer").toStdString(), &added);
        document.current_layer = added;
        return document;
    });
}

void ContentsTree::move_to_current_layer() {
    const std::string target = session_.document().current_layer;
    change_looks(bodies(), [&](const auto&, model::Appearance& look) { look.layer = target; });
}

void ContentsTree::open_menu(const QPoint& at) {
    using model::Showing;
    QMenu menu(this);
    const Row row = row_of(itemAt(at));
    if (row == Row::layers || row == Row::layer) {
        menu.addAction(tr("New layer"), this, &ContentsTree::add_layer);
    }
    if (row == Row::layer) {
        menu.addAction(tr("Rename"), this, &ContentsTree::rename_selected);
        menu.addAction(tr("Current or not"), this, [this, item = itemAt(at)] { emit itemDoubleClicked(item, 0); });
        menu.addAction(tr("Hide or show"), this, &ContentsTree::toggle_hidden);
        menu.addAction(tr("Lock or unlock"), this,
                       [this] { change_layer([](model::Layer& each) { each.locked = !each.locked; }); });
        menu.addAction(tr("Remove the layer"), this, [this] {
            session_.edit([&](model::Document document) { return model::remove_layer(std::move(document), layer()); });
        });
    } else if (row == Row::body || row == Row::group) {
        menu.addAction(tr("Rename"), this, &ContentsTree::rename_selected);
        menu.addAction(tr("Colour\u2026"), this, &ContentsTree::color_selected);
        menu.addAction(tr("Hide or show"), this, &ContentsTree::toggle_hidden);
        menu.addAction(tr("Isolate"), this, &ContentsTree::isolate);
        menu.addAction(tr("See-through"), this, [this] { show_selected_as(Showing::see_through); });
        menu.addAction(tr("Edges only"), this, [this] { show_selected_as(Showing::edges); });
        menu.addAction(tr("Set aside"), this, [this] { show_selected_as(Showing::aside); });
        menu.addSeparator();
        menu.addAction(tr("Group"), this, &ContentsTree::group_selected);
        if (row == Row::group) {
            menu.addAction(tr("Dissolve the group"), this, &ContentsTree::dissolve_selected);
        }
        menu.addAction(tr("Out of its groups"), this, &ContentsTree::take_out_of_groups);
        menu.addAction(session_.document().current_layer.empty() ? tr("Off all layers") : tr("Onto the current layer"),
                       this, &ContentsTree::move_to_current_layer);
    } else {
        menu.addAction(tr("New layer"), this, &ContentsTree::add_layer);
        menu.addAction(tr("Show all"), this, &ContentsTree::show_all);
    }
    menu.exec(viewport()->mapToGlobal(at));
}

// Rows are dragged onto a group, a layer, or beside a body into its group; onto anything else they leave their groups.
void ContentsTree::dropEvent(QDropEvent* event) {
    QTreeWidgetItem* target = itemAt(event->position().toPoint());
    const Row row = row_of(target);
    event->setDropAction(Qt::IgnoreAction); // the rows follow the document
    event->accept();
    if (row == Row::layer) {
        const std::string onto = id_of(target);
        change_looks(bodies(), [&](const auto&, model::Appearance& look) { look.layer = onto; });
        return;
    }
    QTreeWidgetItem* holder = row == Row::body ? target->parent() : target;
    const int group = row_of(holder) == Row::group ? std::stoi(id_of(holder)) : 0;
    session_.edit([&](model::Document document) {
        return model::put_into_group(std::move(document), lone_bodies(), groups(), group);
    });
}

void ContentsTree::take_item(QTreeWidgetItem* item, int column) {
    if (filling_ || column != 0) {
        return;
    }
    const std::string id = id_of(item);
    const std::string name = item->text(0).trimmed().toStdString();
    if (row_of(item) == Row::group) {
        session_.edit(
            [&](model::Document document) { return model::rename_group(std::move(document), std::stoi(id), name); });
    } else if (row_of(item) == Row::layer) {
        session_.edit([&](model::Document document) { return model::rename_layer(std::move(document), id, name); });
        refresh(); // where the name was taken
    } else if (row_of(item) == Row::body) {
        take_tick(item, id);
        if (!name.empty()) {
            change_looks({id}, [&](const auto&, model::Appearance& look) {
                look.name = name == session_.picture()->evaluation->traits.at(id).name ? look.name : name;
            });
        }
    }
}

// Whether the cutaway cuts it.
void ContentsTree::take_tick(QTreeWidgetItem* item, const model::BodyId& id) {
    auto cutaway = session_.cutaway();
    if (!cutaway || !cutaway->on) {
        return;
    }
    auto& whole = cutaway->left_whole;
    const bool was_cut = std::find(whole.begin(), whole.end(), id) == whole.end();
    const bool cut = item->checkState(0) == Qt::Checked;
    if (cut != was_cut) {
        cut ? void(std::erase(whole, id)) : whole.push_back(id);
        session_.set_cutaway(cutaway);
    }
}

} // namespace kervo::app
