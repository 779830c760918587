// Verbs of Contents: groups, layers, how bodies are shown, views, materials.
#include "app/contents/contents_panel.h"

namespace kervo::app {

std::vector<Verb> ContentsTree::verbs() {
    const auto has_document = [this] { return !session_.document().steps.empty(); };
    const auto as = [this](model::Showing showing) { return [this, showing] { show_selected_as(showing); }; };
    const BarGroup join = BarGroup::join;
    const BarGroup inside = BarGroup::inside;
    std::vector<Verb> verbs{
        {"group", join, tr("Group"), tr("Holds the selected bodies and groups together, without uniting them."),
         "Ctrl+G", [this] { group_selected(); }, has_document},
        {"dissolve_group", join, tr("Dissolve the group"), tr("Takes the selected groups apart again."), "Ctrl+Shift+G",
         [this] { dissolve_selected(); }, has_document},
        {"out_of_groups", join, tr("Out of its groups"), tr("Takes the selected bodies out of their groups."), "",
         [this] { take_out_of_groups(); }, has_document},
        {"hide", inside, tr("Hide or show"), tr("Hides or shows the selected bodies, sketches or layer."), "H",
         [this] { toggle_hidden(); }, has_document},
        {"isolate", inside, tr("Isolate"), tr("Hides all but the selected bodies."), "Shift+I", [this] { isolate(); },
         has_document},
        {"show_all", inside, tr("Show all"), tr("Shows all bodies, and fully."), "Shift+A", [this] { show_all(); },
         has_document},
        {"see_through", inside, tr("See-through"), tr("Of the selected bodies, else of all; again: as before."), "",
         as(model::Showing::see_through), has_document},
        {"edges_only", inside, tr("Edges only"), tr("Of the selected bodies, else of all; again: as before."), "",
         as(model::Showing::edges), has_document},
        {"set_aside", inside, tr("Set aside"),
         tr("Shows the selected bodies pale, and out of the way of picks; again: as before."), "",
         as(model::Showing::aside), has_document},
        {"new_layer", inside, tr("New layer"), tr("Adds a layer and makes it current: new bodies lie on it."), "",
         [this] { add_layer(); }},
        {"onto_layer", inside, tr("Onto the current layer"), tr("Moves the selected bodies onto the current layer."),
         "", [this] { move_to_current_layer(); }, has_document},
        {"rename", {}, tr("Rename"), tr("Renames what is selected in Contents."), "", [this] { rename_selected(); }},
        {"color", {}, tr("Colour body"), tr("Colours the selected bodies."), "", [this] { color_selected(); }},
        {"new_material", inside, tr("New material"),
         tr("Name, colour, density and hatch; the selected bodies are of it then."), "", [this] { add_material(); },
         has_document},
    };
    add_verbs(verbs, views_->verbs());
    return verbs;
}

std::vector<Verb> ContentsPanel::verbs() {
    return tree_->verbs();
}

} // namespace kervo::app
