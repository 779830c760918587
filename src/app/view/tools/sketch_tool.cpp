#include "app/view/tools/sketch_tool.h"

#include "app/look/counted.h"
#include "app/view/ink.h"
#include "app/view/tools/mark_tool.h"
#include "app/view/tools/tools.h"
#include "model/sketching/sketch_plane.h"

#include <QGuiApplication>
#include <QKeyEvent>

#include <algorithm>

namespace kervo::app {

namespace {

constexpr double snap_pixels = 10;

bool is_enter(const QKeyEvent& key) {
    return key.key() == Qt::Key_Return || key.key() == Qt::Key_Enter;
}

} // namespace

std::optional<QCursor> SketchTool::cursor() const {
    return QCursor(drawing_.tool() == DrawTool::select ? Qt::ArrowCursor : Qt::CrossCursor);
}

std::optional<LooksFor> SketchTool::looks_for() const {
    using Kind = model::ElementKind;
    if (is_blank()) {
        return LooksFor{{Kind::face}, theme().ink};
    }
    if (!takes()) {
        return LooksFor{};
    }
    return LooksFor{drawing_.tool() == DrawTool::take_edges ? std::set{Kind::face, Kind::edge} : std::set{Kind::face},
                    theme().ink};
}

QString SketchTool::hint() const {
    return is_blank() && !shown().bodies().empty()
               ? tr("Next pick: a flat face to draw on; or take a tool and draw where the sketch lies")
               : drawing_.hint();
}

bool SketchTool::is_blank() const {
    return drawing_.tool() == DrawTool::select && drawing_.drawn().points.empty() && drawing_.drawn().figures.empty();
}

void SketchTool::lie_down() {
    const auto& hovered = view().under_pointer();
    const auto body = hovered ? shown().body(hovered->body) : nullptr;
    if (!body || hovered->element.kind != model::ElementKind::face) {
        return;
    }
    const model::Reference face = body->elements->reference(hovered->body, hovered->element);
    if (!shown().plane_of(face)) {
        emit view().hinted(tr("This face is not flat; pick one that is."));
        return;
    }
    session().set_field(session().card(), "plane", model::Choice{"face"});
    session().set_field(session().card(), "face", model::References{face});
}

double SketchTool::reach() const {
    return snap_pixels / view().pixels_per_mm();
}

void SketchTool::changed() {
    emit drawing_changed();
    view().tell_hint();
    view().repaint_all();
}

// --- Mouse ----------------------------------------------------------------------------------------------------------

bool SketchTool::hover(const Pointer& pointer) {
    pointer_ = pointer;
    if (takes() || click_) {
        return true;
    }
    drawing_.set_beside(beside_at(pointer.at));
    drawing_.keep_straight(QGuiApplication::keyboardModifiers().testFlag(Qt::ShiftModifier));
    if (const auto on_plane = view().on_sketch(pointer.at)) {
        drawing_.set_grid(grid_step());
        drawing_.hover(*on_plane, reach());
        tell_pointer();
    }
    view().repaint_ink();
    return true;
}

void SketchTool::tell_pointer() {
    const auto& pointer = drawing_.pointer();
    emit view().hovered(drawing_.tool() == DrawTool::select ? QString() : pointer.what,
                        place_text({pointer.at[0], pointer.at[1]}, session().document().unit));
}

bool SketchTool::press(const Pointer& pointer) {
    if (pointer.button != Qt::LeftButton) {
        return false;
    }
    if (const auto on_plane = view().on_sketch(pointer.at)) {
        drawing_.take_point(*on_plane, reach());
    }
    const bool shift = pointer.holds(Qt::ShiftModifier);
    frame_.begin(pointer.at);
    frames_ = drawing_.tool() == DrawTool::select && !drawing_.pulls() && !shift;
    return drawing_.pulls() || !shift; // with Shift the view is moved
}

void SketchTool::drag(const Pointer& pointer) {
    if (drawing_.pulls()) {
        if (const auto on_plane = view().on_sketch(pointer.at)) {
            drawing_.pull_point(*on_plane, shown().parameters());
            emit view().hinted(place_text({(*on_plane)[0], (*on_plane)[1]}, session().document().unit));
        }
    } else if (frames_) {
        frame_.draw_to(pointer.at);
        emit view().hinted(frame_.hint());
    }
}

void SketchTool::release(const Pointer& pointer, bool dragged) {
    frame_.end();
    if (!dragged) {
        drawing_.drop_point();
    } else if (drawing_.pulls()) {
        drawing_.let_go();
        view().tell_hint();
    } else if (frames_) {
        select_framed(pointer.holds(Qt::ControlModifier));
    }
}

bool SketchTool::click(const Pointer& pointer) {
    if (takes()) {
        take_hovered();
    } else if (is_blank()) {
        lie_down();
    } else if (seen_edge_.question && !seen_edge_.answered) {
        click_ = pointer; // it may snap to that edge
    } else if (const auto on_plane = view().on_sketch(pointer.at)) {
        drawing_.click(*on_plane, reach());
        changed();
        if (drawing_.waits_for_numbers()) {
            ask_for_numbers({});
        }
    }
    return true;
}

bool SketchTool::double_click(const Pointer& pointer) {
    if (drawing_.finish()) { // the first of the two clicks has placed the last point
        view().tell_hint();
        view().repaint_all();
        return true;
    }
    for (const auto& [box, constraint] : dimension_texts_) {
        if (box.contains(pointer.at)) {
            type_dimension(constraint);
            return true;
        }
    }
    return false;
}

void SketchTool::take_hovered() {
    const auto& hovered = view().under_pointer();
    if (!shown().card_sketch() || !hovered) {
        return;
    }
    using What = TakeQuestion::What;
    const What what = drawing_.tool() == DrawTool::take_edges     ? What::edges
                      : drawing_.tool() == DrawTool::take_section ? What::section
                                                                  : What::silhouette;
    const int sketch = hand().drawn_step();
    session().ask({sketch, hovered->body, hovered->element, what}, this, [this, sketch](const TakeAnswer& taken) {
        if (hand().drawn_step() != sketch) {
            return;
        }
        if (!taken) {
            emit view().hinted(QString::fromStdString(taken.finding().cause + " " + taken.finding().mend));
            return;
        }
        drawing_.take_over(*taken);
        changed();
    });
}

void SketchTool::select_framed(bool more) {
    std::set<int> found;
    std::set<int> outside;
    const auto look_at = [&](const sketch::Stretch& stretch) {
        const bool taken = frame_.takes(path_of(view(), {stretch}), false);
        (taken ? found : outside).insert(stretch.curve);
    };
    for (const auto& stretch : sketch::stretches_of(drawing_.drawn(), true)) {
        look_at(stretch);
    }
    for (const auto& outline : drawing_.figures()) {
        std::for_each(outline.stretches.begin(), outline.stretches.end(), look_at);
    }
    if (!frame_.touches()) { // a figure is inside when all of it is
        std::erase_if(found, [&](int id) { return outside.contains(id); });
    }
    for (const auto& point : drawing_.drawn().points) { // points that belong to nothing
        const auto& curves = drawing_.drawn().curves;
        if (frame_.box().contains(view().place_on_sketch({point.x, point.y})) &&
            std::none_of(curves.begin(), curves.end(), [&](const auto& curve) {
                return std::find(curve.points.begin(), curve.points.end(), point.id) != curve.points.end();
            })) {
            found.insert(point.id);
        }
    }
    drawing_.select(found, more);
    changed();
}

// --- Keyboard -------------------------------------------------------------------------------------------------------

// Letters that are typed into a drawing are values, not shortcuts.
bool SketchTool::wants_key(const QKeyEvent& key) const {
    if (key.key() == Qt::Key_Delete) { // of what is drawn
        return true;
    }
    const bool plain = (key.modifiers() & ~(Qt::ShiftModifier | Qt::KeypadModifier)) == 0 && !key.text().isEmpty() &&
                       key.text()[0].isPrint() && key.key() != Qt::Key_Space;
    return plain && (!drawing_.asks_for().empty() ||
                     (drawing_.tool() == DrawTool::dimension && drawing_.dimension_of_selection()));
}

bool SketchTool::press_key(const QKeyEvent& key) {
    const QString text = key.text();
    const bool typed = !text.isEmpty() && (text[0].isLetterOrNumber() || QString(".(-+").contains(text[0]));
    if (typed && (!drawing_.asks_for().empty() || (!text[0].isLetter() && !drawing_.asks_for_place().empty()))) {
        ask_for_numbers(text);
        return true;
    }
    if (typed && drawing_.tool() == DrawTool::dimension && drawing_.dimension_of_selection()) {
        const auto kind = drawing_.dimension_of_selection()->first;
        view().input().open({tr("dimension")}, text, false, [this, kind](const std::vector<std::string>& formulas) {
            drawing_.constrain(kind, formulas.front());
            view().tell_hint();
            view().repaint_all();
        });
        return true;
    }
    const bool removes = key.key() == Qt::Key_Delete || key.key() == Qt::Key_Backspace;
    const bool tab = key.key() == Qt::Key_Tab; // goes on among places that crowd
    if ((is_enter(key) && drawing_.finish()) || (removes && drawing_.remove_selected())) {
        view().tell_hint();
    } else if ((key.key() == Qt::Key_Backspace && drawing_.refuse_tie()) || (tab && drawing_.next_of_crowd())) {
        tell_pointer();
    } else {
        return false;
    }
    view().repaint_all();
    return true;
}

void SketchTool::ask_for_numbers(const QString& first) {
    view().input().open(
        drawing_.asks_for(), first, false,
        [this](const std::vector<std::string>& formulas) {
            drawing_.finish_typed(formulas, shown().parameters());
            changed();
        },
        drawing_.asks_for_place());
}

void SketchTool::type_dimension(int constraint) {
    const auto step = shown().card_step();
    auto drawing = *model::drawing_of(step->definition);
    for (auto& item : drawing.constraints) {
        if (item.id == constraint) {
            view().input().open(
                {tr("dimension")}, QString::fromStdString(item.value.text), true,
                [this, id = step->id, constraint, drawing](const std::vector<std::string>& formulas) mutable {
                    for (auto& each : drawing.constraints) {
                        if (each.id == constraint) {
                            each.value.text = formulas.front();
                        }
                    }
                    session().set_field(id, "drawing", drawing);
                });
            return;
        }
    }
}

bool SketchTool::escape() {
    if (!drawing_.escape()) {
        return false;
    }
    changed();
    return true;
}

// --- What is drawn --------------------------------------------------------------------------------------------------

void SketchTool::take_picture() {
    const auto sketch = draws() ? shown().card_sketch() : nullptr;
    if (sketch) {
        drawing_.refresh(sketch->solution.sketch);
    }
    beside_sketches_ = draws() ? other_sketches() : std::vector<Beside>{};
}

void SketchTool::take_changes() {
    const auto step = shown().card_step();
    const int drawn = step && model::draws(step->definition) ? step->id : 0;
    const int before = hand().drawn_step();
    hand().set_drawn_step(drawn);
    if (drawn != 0 && drawn != before) {
        drawing_.begin(*model::drawing_of(step->definition),
                       [this, drawn](const sketch::Sketch& sketch) { session().set_field(drawn, "drawing", sketch); });
        hand().select({});
    } else if (drawn != 0) {
        // Undo and edits on the card change the drawing too; the solved one follows with the picture.
        const auto& defined = *model::drawing_of(step->definition);
        if (defined.last_id != drawing_.drawn().last_id || defined.curves.size() != drawing_.drawn().curves.size() ||
            !(defined.figures == drawing_.drawn().figures)) {
            drawing_.refresh(defined);
        }
    }
    if ((drawn != 0) != (before != 0)) {
        view().tool<MarkTool>().mark({});
        view().input().close();
        emit drawing_changed();
    }
    if (drawn != 0 || before != 0) {
        view().repaint_all(); // the drawing is shown at once; bodies wait for their picture
    }
}

void SketchTool::set_draw_tool(DrawTool tool) {
    drawing_.set_tool(tool);
    view().show_cursor();
    view().input().close();
    changed();
}

void SketchTool::toggle_guides() {
    if (!draws() || !drawing_.toggle_guides()) {
        emit view().hinted(tr("Select curves of the sketch first."));
    }
    view().repaint_all();
}

void SketchTool::freeze() {
    if (!draws() || !drawing_.freeze()) {
        emit view().hinted(tr("Select curves that were taken from the model first."));
    }
    view().repaint_all();
}

void SketchTool::toggle_grid() {
    grid_ = !grid_;
    drawing_.set_grid(grid_step());
    emit drawing_changed();
    view().repaint_all();
}

// The tools of a sketch stand behind the sketch itself, as their table lists them.
std::vector<Verb> SketchTool::verbs() {
    const auto drawing = [this] { return draws(); };
    const BarGroup draw = BarGroup::draw;
    std::vector<Verb> verbs;
    for (const DrawToolInfo& info : draw_tools()) {
        verbs.push_back({info.id, draw, info.verb, info.help, info.shortcut,
                         [this, tool = info.tool] {
                             set_draw_tool(tool);
                             view().setFocus();
                         },
                         drawing});
    }
    verbs.push_back({"guides", draw, tr("Guide or outline"),
                     tr("Makes guides of the selected curves, which bound no region, or outlines again."), "G",
                     [this] { toggle_guides(); }, drawing});
    verbs.push_back({"grid", draw, tr("Grid"), tr("Shows a grid, and lets the pointer snap to it."), "",
                     [this] { toggle_grid(); }, drawing});
    verbs.push_back({"freeze", draw, tr("Freeze what was taken"),
                     tr("Selected curves of the model stay where they are, or follow it again."), "",
                     [this] { freeze(); }, drawing});
    for (size_t i = 0; i < verbs.size(); ++i) {
        verbs[i].behind = i == 0 ? "sketch" : verbs[i - 1].id;
    }
    verbs.push_back({"check_sketch", BarGroup::check, tr("Check the sketch"),
                     tr("Lists gaps, doubles, tiny curves and crossings of the open sketch, and mends them."), "",
                     [this] { emit check_asked(); }, drawing, "first"});
    return verbs;
}

std::unique_ptr<ViewTool> make_sketch_tool(Viewport& view) {
    return std::make_unique<SketchTool>(view);
}

} // namespace kervo::app
