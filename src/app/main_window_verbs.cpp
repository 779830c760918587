// All verbs of the window, in the order of the bar: what each does, when it is possible, its shortcut.
#include "app/main_window.h"

#include "model/steps/blade/blade.h"
#include "model/steps/planned/planned.h"

#include <QFileDialog>

#include <algorithm>
#include <array>

namespace kervo::app {

void MainWindow::build_verbs() {
    const auto has_document = [this] { return !session_.document().steps.empty(); };
    const auto card_open = [this] { return session_.card() != 0; };
    const auto cutting = [this] { return session_.cutaway().has_value(); };
    const auto draws = [this] { return viewport_->draws(); };
    const auto look = [this](scene::LookFrom from) { return [this, from] { viewport_->look_from(from); }; };
    const auto tool = [this](DrawTool which) {
        return [this, which] {
            viewport_->set_draw_tool(which);
            viewport_->setFocus();
        };
    };
    const QString bring = tr("Bring in"), draw = tr("Draw"), cut = tr("Cut"), join = tr("Join"), shape = tr("Shape"),
                  inside = tr("Look inside"), check = tr("Check"), hand = tr("Hand over");
    verbs_ = {
        {"new", bring, tr("New document"), tr("Starts an empty document."), "Ctrl+N",
         [this] {
             if (keep_changes()) {
                 session_.start_new();
             }
         }},
        {"open", bring, tr("Open\u2026"), tr("Opens a Kervo document."), "Ctrl+O",
         [this] {
             if (!keep_changes()) {
                 return;
             }
             const QString path =
                 QFileDialog::getOpenFileName(this, tr("Open"), {}, tr("Kervo documents (*.kervo *.json)"));
             if (!path.isEmpty()) {
                 open_file(path);
             }
         }},
        {"import", bring, tr("Import\u2026"), tr("Brings in bodies from a STEP or BREP file."), "I",
         [this] {
             const QString path =
                 QFileDialog::getOpenFileName(this, tr("Import"), {}, tr("Exact bodies (*.step *.stp *.brep *.brp)"));
             if (!path.isEmpty()) {
                 import_file(path);
             }
         }},
        {"outlines_in", bring, tr("Bring in outlines\u2026"),
         tr("Draws what an SVG or DXF file draws into the open sketch."), "",
         [this] {
             const QString path = QFileDialog::getOpenFileName(this, tr("Outlines"), {}, tr("Outlines (*.svg *.dxf)"));
             if (!path.isEmpty()) {
                 session_.outlines_in(session_.card(), path);
             }
         },
         draws},
        {"parameters_in", bring, tr("Parameters from a table\u2026"),
         tr("Takes names, formulas and units from a CSV file."), "",
         [this] {
             const QString path =
                 QFileDialog::getOpenFileName(this, tr("Parameters from a table"), {}, tr("Tables (*.csv)"));
             if (!path.isEmpty()) {
                 if (const auto problem = session_.parameters_in(path)) {
                     tell_problem(*problem);
                 }
             }
         }},
        {"planned", draw, tr("Planned step"), tr("Puts a step that is still to come on the route, with a note."), "",
         [this] { session_.add_step(model::Planned(), {}); }},
        {"sketch", draw, tr("Sketch"), tr("Draws on the selected flat face, or on the level plane."), "D",
         [this] { start_sketch(); }},
        {"blade_cut", cut, tr("Blade cut"),
         tr("Cuts bodies with a plane, made from the selected faces, edges or vertices."), "B",
         [this] { start_blade(model::BladeStep()); }, has_document},
        {"blade", cut, tr("Blade"), tr("Makes a plane that later steps cut with."), "Shift+V",
         [this] {
             model::BladeStep blade;
             blade.result.value = "blade";
             start_blade(std::move(blade));
         },
         has_document},
        {"blade_from_view", cut, tr("Blade from the view"), tr("Cuts upright through the middle of what is seen."), "",
         [this] { start_blade(blade_from_view()); }, has_document},
        {"repeat", cut, tr("Repeat"), tr("Repeats the last cut or sweep in a line, grid or ring, or mirrored."),
         "Shift+D", [this] { start_repeat(); }, has_document},
        {"work_marker", cut, tr("Work marker"), tr("Clicks in the model choose what is cut."), "W",
         [this] { viewport_->set_marker(Marker::work); }},
        {"cutter_marker", cut, tr("Cutter marker"), tr("Clicks in the model choose what cuts."), "C",
         [this] { viewport_->set_marker(Marker::cutter); }},
        {"unite", join, tr("Unite"), tr("Makes one body of the selected ones, or of those clicked next."), "J",
         [this] { start_join("unite", tr("United")); }, has_document},
        {"common", join, tr("Common part"), tr("Keeps what is common to bodies."), "",
         [this] { start_join("common", tr("Common part")); }, has_document},
        {"all_but_common", join, tr("All but the common part"), tr("Keeps what is not common to bodies."), "",
         [this] { start_join("all_but_common", tr("All but the common part")); }, has_document},
        {"move", join, tr("Move and turn"), tr("Moves and turns the selected bodies, by handles or numbers."),
         "Shift+M", [this] { start_place("amounts", tr("Moved")); }, has_document},
        {"to_point", join, tr("Carry to a point"), tr("Carries a point of a body to another point."), "",
         [this] { start_place("to_point", tr("Carried to a point")); }, has_document},
        {"parallel", join, tr("Turn parallel"), tr("Turns a face or edge of a body parallel to another."), "",
         [this] { start_place("parallel", tr("Turned parallel")); }, has_document},
        {"flush", join, tr("Bring flush"), tr("Brings a flat face of a body flush with another face."), "Shift+L",
         [this] { start_place("flush", tr("Brought flush")); }, has_document},
        {"concentric", join, tr("Make concentric"), tr("Brings an axis of a body into another axis."), "",
         [this] { start_place("concentric", tr("Concentric")); }, has_document},
        {"between", join, tr("Bring between"), tr("Brings a body midway between two faces, edges or points."), "",
         [this] { start_place("between", tr("Brought between")); }, has_document},
        {"align", join, tr("Align"), tr("Brings low, middle or high sides of bodies in line with the first."), "",
         [this] { start_place("align", tr("Aligned")); }, has_document},
        {"origin", join, tr("Set the origin"),
         tr("Carries bodies so that a point of theirs is the origin; up and front too."), "",
         [this] { start_place("to_origin", tr("Origin")); }, has_document},
        {"frozen_copy", join, tr("Frozen copy"),
         tr("Copies the selected bodies as they are now; the copies follow nothing."), "",
         [this] { start_frozen_copy(); }, has_document},
        {"group", join, tr("Group"), tr("Holds the selected bodies and groups together, without uniting them."),
         "Ctrl+G", [this] { contents_->tree()->group_selected(); }, has_document},
        {"dissolve_group", join, tr("Dissolve the group"), tr("Takes the selected groups apart again."), "Ctrl+Shift+G",
         [this] { contents_->tree()->dissolve_selected(); }, has_document},
        {"out_of_groups", join, tr("Out of its groups"), tr("Takes the selected bodies out of their groups."), "",
         [this] { contents_->tree()->take_out_of_groups(); }, has_document},
        {"delete", shape, tr("Delete"), tr("Deletes the selected bodies or faces, as a step that can be undone later."),
         "Delete", [this] { start_delete(); }, [=] { return has_document() && !draws(); }},
        {"cutaway", inside, tr("Cutaway"), tr("Opens the picture at the selected flat face, or through the middle."),
         "K", [this] { contents_->place_cutaway(); }, has_document},
        {"flip_cutaway", inside, tr("Flip the cutaway"), tr("Takes away the other side."), "Shift+K",
         [this] { contents_->flip_cutaway(); }, cutting},
        {"remove_cutaway", inside, tr("Remove the cutaway"), tr("Shows everything whole again."), "",
         [this] { contents_->remove_cutaway(); }, cutting},
        {"hide", inside, tr("Hide or show"), tr("Hides or shows the selected bodies, sketches or layer."), "H",
         [this] { contents_->tree()->toggle_hidden(); }, has_document},
        {"isolate", inside, tr("Isolate"), tr("Hides all but the selected bodies."), "Shift+I",
         [this] { contents_->tree()->isolate(); }, has_document},
        {"show_all", inside, tr("Show all"), tr("Shows all bodies, and fully."), "Shift+A",
         [this] { contents_->tree()->show_all(); }, has_document},
        {"see_through", inside, tr("See-through"), tr("Of the selected bodies, else of all; again: as before."), "",
         [this] { contents_->tree()->show_selected_as(model::Showing::see_through); }, has_document},
        {"edges_only", inside, tr("Edges only"), tr("Of the selected bodies, else of all; again: as before."), "",
         [this] { contents_->tree()->show_selected_as(model::Showing::edges); }, has_document},
        {"set_aside", inside, tr("Set aside"),
         tr("Shows the selected bodies pale, and out of the way of picks; again: as before."), "",
         [this] { contents_->tree()->show_selected_as(model::Showing::aside); }, has_document},
        {"new_layer", inside, tr("New layer"), tr("Adds a layer and makes it current: new bodies lie on it."), "",
         [this] { contents_->tree()->add_layer(); }},
        {"onto_layer", inside, tr("Onto the current layer"), tr("Moves the selected bodies onto the current layer."),
         "", [this] { contents_->tree()->move_to_current_layer(); }, has_document},
        {"wider", inside, tr("Next pick level"),
         tr("What a click takes: anything, a group, body, lump, face, edge or vertex."), "U",
         [this] { viewport_->step_level(1); }, [=] { return !draws(); }},
        {"narrower", inside, tr("Pick level before"), tr("The same, backwards."), "Shift+U",
         [this] { viewport_->step_level(-1); }, [=] { return !draws(); }},
        {"same_kind", inside, tr("Select the same kind"),
         tr("All surfaces, curves or bodies of the kind that is selected."), "",
         [this] { viewport_->select_alike(geom::Likeness::kind); }, has_document},
        {"same_radius", inside, tr("Select the same radius"), tr("All round faces or edges of that radius."), "",
         [this] { viewport_->select_alike(geom::Likeness::radius); }, has_document},
        {"smooth_chain", inside, tr("Select the smooth chain"),
         tr("The faces or edges that continue what is selected smoothly."), "",
         [this] { viewport_->select_alike(geom::Likeness::chain); }, has_document},
        {"connected", inside, tr("Select what is connected"),
         tr("The faces or edges that hang together with what is selected."), "",
         [this] { viewport_->select_alike(geom::Likeness::connected); }, has_document},
        {"same_color", inside, tr("Select the same colour"), tr("All bodies or faces of that colour."), "",
         [this] { viewport_->select_same_color(); }, has_document},
        {"fit", inside, tr("Fit"), tr("Shows everything as large as it goes."), "F", [this] { viewport_->fit(); }},
        {"square", inside, tr("Look square"), tr("Looks straight at the selected face or the open sketch."), "Q",
         [this] { viewport_->look_square(); }},
        {"top", "", tr("Look from the top"), tr("The view from above."), "", look(scene::LookFrom::top)},
        {"front", "", tr("Look from the front"), tr("The view from the front."), "", look(scene::LookFrom::front)},
        {"right", "", tr("Look from the right"), tr("The view from the right."), "", look(scene::LookFrom::right)},
        {"left", "", tr("Look from the left"), tr("The view from the left."), "", look(scene::LookFrom::left)},
        {"back", "", tr("Look from the back"), tr("The view from the back."), "", look(scene::LookFrom::back)},
        {"under", "", tr("Look from under"), tr("The view from below."), "", look(scene::LookFrom::under)},
        {"corner", "", tr("Look from a corner"), tr("The pictorial view from above."), "",
         look(scene::LookFrom::corner)},
        {"corner_below", "", tr("Look from a corner below"), tr("The pictorial view from below."), "",
         look(scene::LookFrom::corner_below)},
        {"check_sketch", check, tr("Check the sketch"),
         tr("Lists gaps, doubles, tiny curves and crossings of the open sketch, and mends them."), "",
         [this] { emit viewport_->check_asked(); }, draws},
        {"dependencies", check, tr("What hangs on what"),
         tr("Shows parameters and steps as a picture, and what hangs on what."), "", [this] { show_dependencies(); },
         has_document},
        {"findings", check, tr("Next finding"), tr("Opens the next step that has a finding."), "",
         [this] { findings_->click(); }},
        {"theme", check, tr("Paper or slate"), tr("Changes between the light and the dark theme."), "",
         [this] { set_dark(!theme_.dark); }},
        {"save", hand, tr("Save"), tr("Saves the document."), "Ctrl+S", [this] { save_file(session_.path()); }},
        {"save_as", hand, tr("Save as\u2026"), tr("Saves the document under another name."), "Ctrl+Shift+S",
         [this] { save_file({}); }},
        {"hand_over", hand, tr("Hand over bodies\u2026"), tr("Writes the bodies to STEP, BREP or STL."), "Ctrl+E",
         [this] {
             const QString path = QFileDialog::getSaveFileName(
                 this, tr("Hand over"), QString::fromStdString(session_.document().title) + ".step",
                 tr("STEP AP242 (*.step);;BREP (*.brep);;STL (*.stl)"));
             if (!path.isEmpty()) {
                 hand_over_file(path);
             }
         },
         has_document},
        {"outlines_out", hand, tr("Outlines of a sketch\u2026"), tr("Writes the open sketch to SVG or DXF, at scale."),
         "",
         [this] {
             const QString path = QFileDialog::getSaveFileName(this, tr("Outlines of a sketch"), "sketch.svg",
                                                               tr("SVG (*.svg);;DXF (*.dxf)"));
             if (!path.isEmpty()) {
                 const auto problem = session_.outlines_out(session_.card(), path);
                 problem ? tell_problem(*problem) : tell(tr("Written: %1").arg(path));
             }
         },
         draws},
        {"parameters_out", hand, tr("Parameters to a table\u2026"),
         tr("Writes names, formulas, values and units to a CSV file."), "",
         [this] {
             const QString path = QFileDialog::getSaveFileName(
                 this, tr("Parameters to a table"), QString::fromStdString(session_.document().title) + ".csv",
                 tr("Tables (*.csv)"));
             if (!path.isEmpty()) {
                 const auto problem = session_.parameters_out(path);
                 problem ? tell_problem(*problem) : tell(tr("Written: %1").arg(path));
             }
         },
         [this] { return !session_.document().parameters.empty(); }},
        {"undo", "", tr("Undo"), tr("Takes back the last change, without limit."), "Ctrl+Z",
         [this] { session_.undo(); }, [this] { return session_.can_undo(); }},
        {"redo", "", tr("Redo"), tr("Makes the change again that was taken back."), "Ctrl+Shift+Z",
         [this] { session_.redo(); }, [this] { return session_.can_redo(); }},
        {"accept", "", tr("Accept"), tr("Keeps the open step."), "Ctrl+Return", [this] { session_.accept_card(); },
         card_open},
        {"add_parameter", "", tr("Add a parameter"), tr("Adds a named value that formulas can read."), "P",
         [this] { parameters_->add_parameter(); }},
        {"rename", "", tr("Rename"), tr("Renames what is selected in Contents."), "",
         [this] { contents_->tree()->rename_selected(); }},
        {"color", "", tr("Colour body"), tr("Colours the selected bodies."), "",
         [this] { contents_->tree()->color_selected(); }},
        {"whole_route", "", tr("Show the whole route"), tr("Shows the model after its last step."), "",
         [this] { session_.show_as_of(0); }},
        {"find", "", tr("Find a verb"), tr("Finds anything Kervo can do, by name."), "Space",
         [this] { find_->open(); }},
    };
    // The tools of a sketch stand behind the sketch itself, as their table lists them.
    auto at = std::find_if(verbs_.begin(), verbs_.end(), [](const Verb& verb) { return verb.id == "sketch"; }) + 1;
    for (const DrawToolInfo& info : draw_tools()) {
        at = verbs_.insert(at, Verb{info.id, draw, info.verb, info.help, info.shortcut, tool(info.tool), draws}) + 1;
    }
    at = verbs_.insert(at, Verb{"guides", draw, tr("Guide or outline"),
                                tr("Makes guides of the selected curves, which bound no region, or outlines again."),
                                "G", [this] { viewport_->toggle_guides(); }, draws}) +
         1;
    at = verbs_.insert(at, Verb{"grid", draw, tr("Grid"), tr("Shows a grid, and lets the pointer snap to it."), "",
                                [this] { viewport_->toggle_grid(); }, draws}) +
         1;
    verbs_.insert(at, Verb{"freeze", draw, tr("Freeze what was taken"),
                           tr("Selected curves of the model stay where they are, or follow it again."), "",
                           [this] { viewport_->freeze(); }, draws});
    add_step_verbs();
}

// Those that kinds of steps tell of, each behind the one that it names.
void MainWindow::add_step_verbs() {
    const std::array groups{tr("Bring in"), tr("Draw"), tr("Cut"), tr("Join"), tr("Shape"), tr("Check")};
    std::vector<model::StepVerb> waiting;
    for (const model::StepKind& kind : model::step_kinds()) {
        waiting.insert(waiting.end(), kind.verbs.begin(), kind.verbs.end());
    }
    const auto place = [&](const model::StepVerb& verb, bool at_the_end) {
        const QString& group = groups.at(static_cast<size_t>(verb.group));
        const auto in_group = [&](const Verb& each) { return each.group == group; };
        auto at = verbs_.end();
        if (at_the_end) {
            at = std::find_if(verbs_.rbegin(), verbs_.rend(), in_group).base();
        } else if (verb.behind == "first") {
            at = std::find_if(verbs_.begin(), verbs_.end(), in_group);
        } else {
            at = std::find_if(verbs_.begin(), verbs_.end(),
                              [&](const Verb& each) { return each.id == verb.behind.c_str(); });
            if (at == verbs_.end()) {
                return false;
            }
            ++at;
        }
        const QString name = QString::fromStdString(verb.name);
        verbs_.insert(at, {QString::fromStdString(verb.id), group, QString::fromStdString(verb.title),
                           QString::fromStdString(verb.help), QString::fromStdString(verb.shortcut),
                           [this, made = verb.made, name] { start_step(made(), name); },
                           [this, wants_steps = verb.wants_steps] {
                               return !wants_steps || !session_.document().steps.empty();
                           }});
        return true;
    };
    for (size_t before = 0; before != waiting.size();) {
        before = waiting.size();
        std::erase_if(waiting, [&](const model::StepVerb& verb) { return !verb.behind.empty() && place(verb, false); });
    }
    for (const model::StepVerb& verb : waiting) {
        place(verb, true);
    }
}

} // namespace kervo::app
