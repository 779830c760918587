// The marker in hand, what the next pick is for, the tools of a sketch; and the line that says so.
#include "app/ink.h"
#include "app/viewport.h"
#include "model/steps/extrude/extrude.h"

namespace kervo::app {

void Viewport::show_pointer() {
    setCursor(!draws_                               ? marker_cursor(theme_, marker_)
              : drawing_.tool() == DrawTool::select ? QCursor(Qt::ArrowCursor)
                                                    : QCursor(Qt::CrossCursor));
}

void Viewport::set_marker(Marker marker) {
    marker_ = marker;
    show_pointer();
    emit marker_changed();
    tell_hint();
    repaint_all();
}

void Viewport::set_pick_target(const std::optional<PickTarget>& target) {
    target_ = target;
    hovered_.reset();
    if (attached_) {
        makeCurrent();
        show_bodies();
        doneCurrent();
    }
    emit marker_changed();
    tell_hint();
    repaint_all();
}

void Viewport::set_draw_tool(DrawTool tool) {
    drawing_.set_tool(tool);
    show_pointer();
    close_input();
    emit drawing_changed();
    tell_hint();
    repaint_all();
}

void Viewport::point_out_piece(int piece) {
    if (pointed_piece_ != piece) {
        pointed_piece_ = piece;
        ink_->update();
    }
}

void Viewport::point_out_places(const std::vector<std::array<double, 3>>& places) {
    places_ = places;
    ink_->update();
}

void Viewport::mark_places(const std::vector<std::array<double, 3>>& places) {
    marked_ = places;
    ink_->update();
}

void Viewport::select(std::vector<model::Reference> selection) {
    selection_ = std::move(selection);
    last_clicked_.reset();
    if (attached_) {
        makeCurrent();
        show_bodies();
        doneCurrent();
    }
    emit selection_changed();
    repaint_all();
}

bool Viewport::escape() {
    if (input_ != nullptr) {
        close_input();
        return true;
    }
    if (target_) {
        set_pick_target(std::nullopt);
        return true;
    }
    if (draws_ && drawing_.escape()) {
        emit drawing_changed();
        tell_hint();
        repaint_all();
        return true;
    }
    if (!selection_.empty()) {
        select({});
        return true;
    }
    return false;
}

bool Viewport::remove_selected() {
    return draws_ && drawing_.remove_selected();
}

void Viewport::toggle_guides() {
    if (!draws_ || !drawing_.toggle_guides()) {
        emit hinted(tr("Select curves of the sketch first."));
    }
    repaint_all();
}

void Viewport::freeze() {
    if (!draws_ || !drawing_.freeze()) {
        emit hinted(tr("Select curves that were taken from the model first."));
    }
    repaint_all();
}

void Viewport::tell_hint() {
    if (target_) {
        const std::pair<model::ElementKind, QString> names[] = {{model::ElementKind::body, tr("a body")},
                                                                {model::ElementKind::face, tr("a face")},
                                                                {model::ElementKind::edge, tr("an edge")},
                                                                {model::ElementKind::vertex, tr("a vertex")}};
        QStringList wanted;
        for (const auto& [kind, name] : names) {
            if (target_->accepts.contains(kind)) {
                wanted.append(name);
            }
        }
        const QString what = wanted.join(tr(" or "));
        emit hinted(target_->label.empty()
                        ? tr("Next pick: %1").arg(what)
                        : tr("Next pick: %1, for \u201c%2\u201d").arg(what, QString::fromStdString(target_->label)));
    } else if (draws_) {
        emit hinted(drawing_.hint());
    } else if (const auto step = session_.document().step(session_.card());
               step && model::sets_verdicts(step->definition)) {
        const bool profile = model::sketch_of(step->definition) != 0;
        emit hinted(marker_ == Marker::work ? tr("Next pick: a body to cut or to spare, or a piece to keep or to drop")
                    : profile               ? tr("Next pick: a region to cut with, or to leave")
                                            : tr("Next pick: a body or a blade to cut with, or to leave"));
    } else if (step && step->definition.is<model::Extrude>()) {
        emit hinted(tr("Next pick: a region to extrude, or to leave"));
    } else {
        const QString level[] = {tr("Next pick: a face, an edge or a vertex; again for its body and groups"),
                                 tr("Next pick: a group; bodies in none stand for themselves"),
                                 tr("Next pick: a body"),
                                 tr("Next pick: a lump, with all its faces"),
                                 tr("Next pick: a face"),
                                 tr("Next pick: an edge"),
                                 tr("Next pick: a vertex")};
        emit hinted(level[static_cast<size_t>(level_)]);
    }
}

} // namespace kervo::app
