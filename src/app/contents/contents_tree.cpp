#include "app/contents/contents_tree.h"

#include "app/contents/swatches.h"
#include "app/look/counted.h"
#include "model/document/cutaways.h"
#include "model/document/groups_and_layers.h"

#include <QHeaderView>
#include <QTimer>

#include <algorithm>

namespace kervo::app {

namespace {

constexpr int id_role = Qt::UserRole;
constexpr int row_role = Qt::UserRole + 1;

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
    : QTreeWidget(parent), session_(session), viewport_(viewport), views_(new Views(session, viewport, this)),
      theme_(theme) {
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
        } else if (row_of(item) == Row::sketch) {
            QTimer::singleShot(0, this, [this, step = std::stoi(id_of(item))] { session_.open_card(step); });
        } else if (row_of(item) == Row::view) {
            QTimer::singleShot(0, this, [this, view = id_of(item)] { views_->go_to(view); });
        } else if (row_of(item) == Row::material) {
            QTimer::singleShot(0, this, [this, material = id_of(item)] { edit_material(material); });
        }
    });
    closed_.insert(key_of(Row::sketches, {}));
    const auto fold = [this](const QTreeWidgetItem* item, bool closed) {
        const std::string key = key_of(row_of(item), id_of(item));
        closed ? void(closed_.insert(key)) : void(closed_.erase(key));
    };
    connect(this, &QTreeWidget::itemCollapsed, this, [fold](const QTreeWidgetItem* item) { fold(item, true); });
    connect(this, &QTreeWidget::itemExpanded, this, [this, fold](const QTreeWidgetItem* item) {
        if (!filling_) {
            fold(item, false);
        }
    });
    connect(&session_, &Session::pictured, this, &ContentsTree::refresh);
    connect(&viewport_.hand(), &InHand::selection_changed, this, &ContentsTree::take_selection);
    // Its rows are being clicked: they are made anew when that is over.
    connect(views_, &Views::current_changed, this, &ContentsTree::refresh, Qt::QueuedConnection);
    connect(&viewport_.hand(), &InHand::cutaway_changed, this, &ContentsTree::refresh, Qt::QueuedConnection);
}

void ContentsTree::set_theme(const Theme& theme) {
    theme_ = theme;
    refresh();
}

// --- Rows -----------------------------------------------------------------------------------------------------------

ContentsTree::Row ContentsTree::row_of(const QTreeWidgetItem* item) {
    return item == nullptr ? Row::other : static_cast<Row>(item->data(0, row_role).toInt());
}

std::string ContentsTree::key_of(Row row, const std::string& id) {
    return id + "/" + std::to_string(static_cast<int>(row));
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
    if (session_.picture()) {
        add_bodies();
        add_layers();
        const bool draws = add_sketches();
        const bool opens = add_cutaways();
        const bool kept = add_views();
        const bool of = add_materials();
        setRootIsDecorated(draws || opens || kept || of || !session_.document().groups.empty() ||
                           !session_.document().layers.empty());
        for (QTreeWidgetItemIterator it(this); *it != nullptr; ++it) {
            (*it)->setExpanded(!closed_.contains(key_of(row_of(*it), id_of(*it))));
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
            totals[around].second += body->volume;
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

namespace {

QString open_or_closed(int borders) {
    return borders == 0   ? ContentsTree::tr("closed surface")
           : borders == 1 ? ContentsTree::tr("open, 1 border")
                          : ContentsTree::tr("open, %1 borders").arg(borders);
}

} // namespace

void ContentsTree::add_body(QTreeWidgetItem* under, const model::BodyId& id, const scene::ShownBodyPtr& body) {
    const PicturePtr picture = session_.picture();
    const std::string& unit = session_.document().unit;
    const auto cutaway = viewport_.shown().cutaway_in_hand();
    const auto& traits = picture->evaluation->traits.at(id);
    const bool hidden = !viewport_.shown().is_shown(id);
    const double volume = body->volume;
    using scene::Substance;
    const QString no_solid = body->blade                             ? tr("blade")
                             : volume != 0                           ? QString()
                             : body->substance == Substance::curves  ? tr("curves")
                             : body->substance == Substance::surface ? open_or_closed(body->borders)
                                                                     : QString();
    const QString name = QString::fromStdString(traits.name);
    auto* item = add_row(under, Row::body, QString::fromStdString(id), name,
                         no_solid.isEmpty() ? volume_number(volume, unit) : no_solid);
    const QColor color = body->blade ? theme_.cutter : viewport_.shown().color_of(theme_, id);
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
    if (const model::Material* material = model::material_of(session_.document(), id)) {
        tip += tr("; %1, %2").arg(QString::fromStdString(material->name), mass_text(volume, material->density));
    }
    if (!traits.layer.empty()) {
        tip += tr("; on layer %1").arg(QString::fromStdString(traits.layer));
    }
    if (traits.stale && !session_.waits_for_answers()) {
        item->setForeground(0, theme_.finding);
        item->setText(1, tr("stale"));
        tip += tr("; stale, because a step before it failed");
    }
    if (cutaway && cutaway->on && !body->blade) {
        const bool opened = model::concerns(*cutaway, session_.document(), id, traits.group, traits.layer);
        item->setCheckState(0, opened ? Qt::Checked : Qt::Unchecked);
        tip += tr("; the tick says whether cutaway %1 opens it").arg(QString::fromStdString(cutaway->letter));
    }
    item->setToolTip(0, tip);
}

// --- Selection ------------------------------------------------------------------------------------------------------

std::vector<std::string> ContentsTree::selected(Row row) const {
    std::vector<std::string> ids;
    for (const QTreeWidgetItem* item : selectedItems()) {
        if (row_of(item) == row) {
            ids.push_back(id_of(item));
        }
    }
    return ids;
}

std::vector<int> ContentsTree::selected_numbers(Row row) const {
    std::vector<int> numbers;
    for (const std::string& id : selected(row)) {
        numbers.push_back(std::stoi(id));
    }
    return numbers;
}

std::vector<model::BodyId> ContentsTree::lone_bodies() const {
    return selected(Row::body);
}

std::vector<int> ContentsTree::groups() const {
    return selected_numbers(Row::group);
}

std::string ContentsTree::layer() const {
    const auto layers = selected(Row::layer);
    return layers.empty() ? std::string() : layers.front();
}

std::vector<model::BodyId> ContentsTree::bodies() const {
    auto bodies = lone_bodies();
    const PicturePtr picture = session_.picture();
    for (const int group : groups()) {
        for (const auto& id :
             model::members_of(group, scene::ids_of(picture->after), session_.document(), *picture->evaluation)) {
            if (std::find(bodies.begin(), bodies.end(), id) == bodies.end()) {
                bodies.push_back(id);
            }
        }
    }
    // An element that is selected in the model means its body.
    for (const auto& each : selectedItems().isEmpty() ? viewport_.hand().selection() : model::References()) {
        if (each.kind != model::ElementKind::body &&
            std::find(bodies.begin(), bodies.end(), each.body) == bodies.end()) {
            bodies.push_back(each.body);
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

std::vector<std::string> ContentsTree::scope_members() const {
    std::vector<std::string> members;
    for (const model::Reference& each : viewport_.hand().selection()) {
        if (std::find(members.begin(), members.end(), each.body) == members.end()) {
            members.push_back(each.body);
        }
    }
    for (const std::string& layer : selected(Row::layer)) {
        members.push_back(model::reference_to_layer(layer));
    }
    return members;
}

void ContentsTree::tell_selection() {
    if (filling_) {
        return;
    }
    if (const auto cutaways = selected(Row::cutaway); !cutaways.empty()) {
        viewport_.hand().take_cutaway(cutaways.back());
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
    viewport_.hand().select(chosen);
    filling_ = false;
}

void ContentsTree::take_selection() {
    if (filling_) {
        return;
    }
    filling_ = true;
    const auto& chosen = viewport_.hand().selection();
    for (QTreeWidgetItemIterator it(this); *it != nullptr; ++it) {
        const Row row = row_of(*it);
        const std::string id = row == Row::group ? model::reference_to_group(std::stoi(id_of(*it))) : id_of(*it);
        if (row == Row::group || row == Row::body) {
            (*it)->setSelected(model::names_body(chosen, id));
        }
    }
    filling_ = false;
}

} // namespace kervo::app
