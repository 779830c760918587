// What the rows of Contents do to the document: names, looks, groups and layers.
#include "app/contents/contents_tree.h"

#include "app/contents/material_dialog.h"

#include "model/document/cutaways.h"
#include "model/document/groups_and_layers.h"

#include <QColorDialog>
#include <QDropEvent>
#include <QInputDialog>
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
    if (!selected(Row::cutaway).empty()) {
        change_cutaways([](model::Cutaway& each) { each.on = !each.on; });
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
    } else if (row == Row::view) {
        open_view_menu(menu, id_of(itemAt(at)));
    } else if (row == Row::material) {
        open_material_menu(menu, id_of(itemAt(at)));
    } else if (row == Row::cutaway) {
        open_cutaway_menu(menu);
    } else if (row == Row::sketch) {
        menu.addAction(tr("Hide or show"), this, &ContentsTree::toggle_hidden);
        menu.addAction(tr("Open"), this, [this, item = itemAt(at)] { emit itemDoubleClicked(item, 0); });
    } else if (row == Row::body || row == Row::group) {
        menu.addAction(tr("Rename"), this, &ContentsTree::rename_selected);
        menu.addAction(tr("Colour\u2026"), this, &ContentsTree::color_selected);
        open_material_menu(menu, {});
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
    const Row row = row_of(item);
    if (row == Row::body) {
        take_tick(item, id);
    } else if (row == Row::cutaway) {
        session_.edit([&](model::Document document) {
            model::Cutaway changed = *model::find_cutaway(document.cutaways, id);
            changed.on = item->checkState(0) == Qt::Checked;
            return model::put_cutaway(std::move(document), changed);
        });
    }
    take_name(row, id, name);
}

void ContentsTree::take_name(Row row, const std::string& id, const std::string& name) {
    if (row == Row::group) {
        session_.edit(
            [&](model::Document document) { return model::rename_group(std::move(document), std::stoi(id), name); });
    } else if (row == Row::layer) {
        session_.edit([&](model::Document document) { return model::rename_layer(std::move(document), id, name); });
        refresh(); // where the name was taken
    } else if (row == Row::view) {
        views_->rename(id, name);
        refresh();
    } else if (row == Row::material) {
        model::Material renamed = *model::find_material(session_.document(), id);
        renamed.name = name;
        session_.edit([&](model::Document document) { return model::put_material(std::move(document), id, renamed); });
        refresh();
    } else if (row == Row::cutaway) {
        session_.edit([&](model::Document document) {
            model::Cutaway changed = *model::find_cutaway(document.cutaways, id);
            changed.name = name == id ? std::string() : name;
            return model::put_cutaway(std::move(document), changed);
        });
    } else if (row == Row::body && !name.empty()) {
        change_looks({id}, [&](const auto&, model::Appearance& look) {
            look.name = name == session_.picture()->evaluation->traits.at(id).name ? look.name : name;
        });
    }
}

// Whether the cutaway in hand opens it.
void ContentsTree::take_tick(QTreeWidgetItem* item, const model::BodyId& id) {
    const auto cutaway = viewport_.shown().cutaway_in_hand();
    if (!cutaway || !cutaway->on) {
        return;
    }
    const auto& traits = session_.picture()->evaluation->traits.at(id);
    const bool was = model::concerns(*cutaway, session_.document(), id, traits.group, traits.layer);
    const bool opened = item->checkState(0) == Qt::Checked;
    if (opened != was) {
        session_.set_cutaway(model::with_body(*cutaway, id, opened));
    }
}

// --- Cutaways -------------------------------------------------------------------------------------------------------

void ContentsTree::change_cutaways(const std::function<void(model::Cutaway&)>& change) {
    session_.edit([&](model::Document document) {
        for (const std::string& letter : selected(Row::cutaway)) {
            if (const auto* known = model::find_cutaway(document.cutaways, letter)) {
                model::Cutaway changed = *known;
                change(changed);
                document = model::put_cutaway(std::move(document), changed);
            }
        }
        return document;
    });
}

void ContentsTree::open_cutaway_menu(QMenu& menu) {
    menu.addAction(tr("Rename"), this, &ContentsTree::rename_selected);
    menu.addAction(tr("Off or on"), this, [this] { change_cutaways([](auto& each) { each.on = !each.on; }); });
    menu.addAction(tr("Flip"), this, [this] { change_cutaways([](auto& each) { each = model::flipped(each); }); });
    menu.addAction(tr("Remove"), this, [this] {
        session_.edit([&](model::Document document) {
            for (const std::string& letter : selected(Row::cutaway)) {
                document = model::remove_cutaway(std::move(document), letter);
            }
            return document;
        });
    });
}

// --- Views and materials --------------------------------------------------------------------------------------------

void ContentsTree::open_view_menu(QMenu& menu, const std::string& name) {
    menu.addAction(tr("Go there"), this, [this, name] { views_->go_to(name); });
    menu.addAction(tr("Update"), this, [this, name] { views_->update(name); });
    menu.addAction(tr("Rename"), this, &ContentsTree::rename_selected);
    menu.addAction(tr("Note\u2026"), this, [this, name] {
        const model::View* view = model::find_view(session_.document(), name);
        bool accepted = false;
        const QString note = QInputDialog::getText(this, tr("Note"), tr("What the view is for"), QLineEdit::Normal,
                                                   QString::fromStdString(view->note), &accepted);
        if (accepted) {
            views_->annotate(name, note.trimmed().toStdString());
        }
    });
    menu.addAction(tr("Up"), this, [this, name] { views_->move(name, -1); });
    menu.addAction(tr("Down"), this, [this, name] { views_->move(name, 1); });
    menu.addAction(tr("Remove"), this, [this, name] { views_->remove(name); });
}

void ContentsTree::make_of(const std::string& material) {
    change_looks(bodies(), [&](const auto&, model::Appearance& look) { look.material = material; });
}

void ContentsTree::add_material() {
    const auto made = ask_for_material(session_.document(), {}, this);
    const auto chosen = bodies();
    if (made) {
        session_.edit([&](model::Document document) {
            for (const model::BodyId& body : chosen) {
                document.appearance[body].material = made->name;
            }
            return model::put_material(std::move(document), {}, *made);
        });
    }
}

void ContentsTree::edit_material(const std::string& name) {
    const model::Material* now = model::find_material(session_.document(), name);
    const auto made = now == nullptr ? std::nullopt : ask_for_material(session_.document(), *now, this);
    if (made) {
        session_.edit([&](model::Document document) { return model::put_material(std::move(document), name, *made); });
    }
}

// For a material, or, where the name is empty, for what the selected bodies are of.
void ContentsTree::open_material_menu(QMenu& menu, const std::string& name) {
    if (!name.empty()) {
        menu.addAction(tr("Change\u2026"), this, [this, name] { edit_material(name); });
        menu.addAction(tr("Rename"), this, &ContentsTree::rename_selected);
        menu.addAction(tr("Remove"), this, [this, name] {
            session_.edit([&](model::Document document) { return model::remove_material(std::move(document), name); });
        });
        return;
    }
    QMenu* of = menu.addMenu(tr("Material"));
    for (const model::Material& material : session_.document().materials) {
        of->addAction(QString::fromStdString(material.name), this, [this, chosen = material.name] { make_of(chosen); });
    }
    of->addAction(tr("None"), this, [this] { make_of({}); });
    of->addAction(tr("New material\u2026"), this, &ContentsTree::add_material);
}

} // namespace kervo::app
