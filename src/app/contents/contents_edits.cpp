// What the rows of Contents do to the document: names, looks, groups and layers.
#include "app/contents/contents_tree.h"

#include "model/document/groups_and_layers.h"

#include <QColorDialog>
#include <QDropEvent>
#include <QMenu>

#include <algorithm>

namespace kervo::app {

const model::Appearance& ContentsTree::look_of(const model::BodyId& id) const {
    return model::look_of(session_.document(), id);
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
    const auto selected = bodies();
    const auto chosen = selected.empty() ? all_bodies() : selected;
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
    if (const auto drawn = selected_numbers(Row::sketch); !drawn.empty()) {
        session_.edit([&](model::Document document) {
            const auto shown = model::sketches_shown(document);
            const bool show = std::none_of(drawn.begin(), drawn.end(), [&](int each) { return shown.contains(each); });
            for (const int sketch : drawn) {
                document = model::change_step(std::move(document), sketch, [&](model::Step& s) { s.shown = show; });
            }
            return document;
        });
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
    viewport_.hand().select({model::whole(model::reference_to_group(made))});
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
    } else if (row == Row::sketch) {
        menu.addAction(tr("Hide or show"), this, &ContentsTree::toggle_hidden);
        menu.addAction(tr("Open"), this, [this, item = itemAt(at)] { emit itemDoubleClicked(item, 0); });
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
