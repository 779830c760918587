#include "app/view/tools/select_tool.h"

#include "app/view/ink.h"
#include "app/view/tools/tools.h"
#include "geom/measure/measure.h"
#include "geom/view/tessellate.h"
#include "model/document/groups_and_layers.h"

#include <algorithm>

namespace kervo::app {

namespace {

using Kind = model::ElementKind;

std::set<Kind> kinds_of(PickLevel level) {
    switch (level) {
    case PickLevel::any:
        return {Kind::face, Kind::edge, Kind::vertex};
    case PickLevel::edge:
        return {Kind::edge};
    case PickLevel::vertex:
        return {Kind::vertex};
    default:
        return {Kind::face};
    }
}

bool contains(const std::vector<model::Reference>& all, const model::Reference& one) {
    return std::find(all.begin(), all.end(), one) != all.end();
}

} // namespace

SelectTool::SelectTool(Viewport& view) : FramingTool(view) {
    connect(&hand(), &InHand::selection_changed, this, [this] { last_clicked_.reset(); });
}

QString SelectTool::hint() const {
    switch (hand().level()) {
    case PickLevel::any:
        return tr("Next pick: a face, an edge or a vertex; again for its body and groups");
    case PickLevel::group:
        return tr("Next pick: a group; bodies in none stand for themselves");
    case PickLevel::body:
        return tr("Next pick: a body");
    case PickLevel::lump:
        return tr("Next pick: a lump, with all its faces");
    case PickLevel::face:
        return tr("Next pick: a face");
    case PickLevel::edge:
        return tr("Next pick: an edge");
    case PickLevel::vertex:
        return tr("Next pick: a vertex");
    }
    return {};
}

std::optional<QCursor> SelectTool::cursor() const {
    return marker_cursor(theme(), hand().marker());
}

std::optional<LooksFor> SelectTool::looks_for() const {
    return LooksFor{kinds_of(hand().level()), theme().ink};
}

// --- Clicks ---------------------------------------------------------------------------------------------------------

bool SelectTool::click(const Pointer& pointer) {
    const auto& hovered = view().under_pointer();
    const bool besides = pointer.holds(Qt::ControlModifier);
    if (!hovered) {
        if (!besides) {
            hand().select({});
        }
        return true;
    }
    auto taken = taken_at_level(hovered->body, hovered->element);
    // The same click again widens the choice.
    const auto& selection = hand().selection();
    const bool again =
        hand().level() == PickLevel::any && !besides && selection.size() == 1 && last_clicked_ == taken.front();
    if (again) {
        taken = widened(selection.front(), taken.front());
    }
    const model::Reference clicked = again ? *last_clicked_ : taken.front();
    choose_all(taken, besides);
    last_clicked_ = clicked;
    return true;
}

bool SelectTool::click_body(const model::BodyId& body, const Pointer& pointer) {
    choose_all({model::whole(body)}, pointer.holds(Qt::ControlModifier));
    return true;
}

std::vector<model::Reference> SelectTool::taken_at_level(const model::BodyId& id, const TopoDS_Shape& element) const {
    const model::BodyPtr owner = shown().body(id);
    if (hand().level() == PickLevel::body || hand().level() == PickLevel::group) {
        return {model::whole(shown().clicked_id(id))};
    }
    if (hand().level() == PickLevel::lump) {
        for (const TopoDS_Shape& lump : geom::solids_of(owner->shape)) {
            const auto faces = geom::faces_of(lump);
            if (std::any_of(faces.begin(), faces.end(), [&](const auto& face) { return face.IsSame(element); })) {
                return model::refer_to_all(id, *owner, faces);
            }
        }
    }
    return {model::refer_to(id, *owner, element)};
}

std::vector<model::Reference> SelectTool::widened(const model::Reference& now, const model::Reference& first) const {
    if (now.kind != Kind::body) {
        return {model::whole(now.body)};
    }
    const auto* traits = shown().traits_of(first.body);
    const int meant = model::group_meant(now.body);
    const auto* group = model::find_group(session().document(), meant);
    const int next = meant == 0 ? (traits == nullptr ? 0 : traits->group) : group == nullptr ? 0 : group->within;
    return {next == 0 ? first : model::whole(model::reference_to_group(next))};
}

// Alone, or besides what is chosen, or no longer.
void SelectTool::choose_all(const std::vector<model::Reference>& references, bool besides) {
    if (!besides) {
        hand().select(references);
        return;
    }
    auto next = hand().selection();
    const auto is_chosen = [&](const model::Reference& each) { return contains(next, each); };
    if (std::all_of(references.begin(), references.end(), is_chosen)) {
        std::erase_if(next, [&](const model::Reference& each) { return contains(references, each); });
    } else {
        std::copy_if(references.begin(), references.end(), std::back_inserter(next),
                     [&](const model::Reference& each) { return !is_chosen(each); });
    }
    hand().select(std::move(next));
}

bool SelectTool::escape() {
    if (hand().selection().empty()) {
        return false;
    }
    hand().select({});
    return true;
}

// --- Frames ---------------------------------------------------------------------------------------------------------

void SelectTool::paint(QPainter& painter) {
    paint_frame(painter);
}

// Bodies and faces by their triangles, so that round ones are not taken for their seams.
std::vector<QPolygonF> SelectTool::seen(const TopoDS_Shape& element) const {
    std::vector<QPolygonF> chains;
    if (element.ShapeType() == TopAbs_VERTEX) {
        chains.push_back({place_of(geom::center_of(element))});
    } else if (element.ShapeType() == TopAbs_EDGE) {
        QPolygonF chain;
        for (const gp_Pnt& p : geom::polyline_of(element, 1 / view().pixels_per_mm())) {
            chain << place_of(p);
        }
        chains.push_back(chain);
    } else {
        for (const auto& [a, b, c] : geom::triangles_of(element)) {
            chains.push_back({place_of(a), place_of(b), place_of(c), place_of(a)});
        }
    }
    return chains;
}

// Whole elements as they are seen, also those that others hide.
void SelectTool::take_framed(const Frame& frame) {
    auto chosen = hand().selection();
    const auto take = [&](const model::Reference& each) {
        if (!contains(chosen, each)) {
            chosen.push_back(each);
        }
    };
    const PickLevel level = hand().level();
    for (const auto& [id, shape] : shown().bodies()) {
        if (!can_be_chosen(id) || shape->blade) {
            continue;
        }
        if (level == PickLevel::any || level == PickLevel::body || level == PickLevel::group) {
            if (frame.takes(seen(shape->shape))) {
                take(model::whole(shown().clicked_id(id)));
            }
            continue;
        }
        const auto elements = level == PickLevel::edge     ? geom::visible_edges_of(shape->shape)
                              : level == PickLevel::vertex ? geom::vertices_of(shape->shape)
                              : level == PickLevel::lump   ? geom::solids_of(shape->shape)
                                                           : geom::faces_of(shape->shape);
        for (const TopoDS_Shape& element : elements) {
            if (!frame.takes(seen(element))) {
                continue;
            }
            const auto found = level == PickLevel::lump ? model::refer_to_all(id, *shape, geom::faces_of(element))
                                                        : std::vector{model::refer_to(id, *shape, element)};
            std::for_each(found.begin(), found.end(), take);
        }
    }
    hand().select(std::move(chosen));
}

// --- What is like it ------------------------------------------------------------------------------------------------

bool SelectTool::can_be_chosen(const model::BodyId& id) const {
    return shown().is_shown(id) && shown().is_pickable(id);
}

QString SelectTool::face_color(const model::BodyId& id, const TopoDS_Shape& face) const {
    const auto owner = shown().body(id);
    const auto* name = owner ? owner->names.Seek(face) : nullptr;
    const auto* traits = shown().traits_of(name == nullptr || name->owner.empty() ? id : name->owner);
    return traits == nullptr ? QString() : QString::fromStdString(traits->color);
}

void SelectTool::select_once(const std::vector<model::Reference>& found) {
    std::vector<model::Reference> once;
    for (const model::Reference& each : found) {
        if (!contains(once, each)) {
            once.push_back(each);
        }
    }
    hand().select(std::move(once));
}

void SelectTool::select_alike(geom::Likeness how) {
    std::vector<model::Reference> found;
    const bool anywhere = how == geom::Likeness::kind || how == geom::Likeness::radius;
    const auto kind_of = [](const model::Body& each) {
        return each.blade ? 3 : !geom::solids_of(each.shape).empty() ? 2 : geom::faces_of(each.shape).empty() ? 0 : 1;
    };
    for (const model::Reference& chosen : hand().selection()) {
        const auto owner = shown().body(chosen.body);
        const TopoDS_Shape element = owner ? shown().shape_of(chosen) : TopoDS_Shape();
        if (element.IsNull()) {
            continue;
        }
        for (const auto& [id, shape] : shown().bodies()) {
            if (!can_be_chosen(id) || !(anywhere || id == chosen.body)) {
                continue;
            }
            if (chosen.kind != Kind::body) {
                const auto alike = model::refer_to_all(id, *shape, geom::alike(shape->shape, element, how));
                found.insert(found.end(), alike.begin(), alike.end());
            } else if (how == geom::Likeness::kind && kind_of(*shape) == kind_of(*owner)) {
                found.push_back(model::whole(id));
            }
        }
    }
    if (found.empty()) {
        const auto& selection = hand().selection();
        emit view().hinted(selection.empty()                      ? tr("Select a face, an edge or a body first.")
                           : how == geom::Likeness::radius        ? tr("What is selected has no radius.")
                           : selection.front().kind == Kind::body ? tr("Select a face or an edge of it.")
                                                                  : tr("Nothing is like that."));
        return;
    }
    select_once(found);
}

void SelectTool::select_same_color() {
    std::set<QString> bodies, faces;
    for (const model::Reference& chosen : hand().selection()) {
        const auto* traits = shown().traits_of(chosen.body);
        if (chosen.kind == Kind::body && traits != nullptr) {
            bodies.insert(QString::fromStdString(traits->color));
        } else if (chosen.kind == Kind::face) {
            faces.insert(face_color(chosen.body, shown().shape_of(chosen)));
        }
    }
    std::vector<model::Reference> found;
    for (const auto& [id, shape] : shown().bodies()) {
        const auto* traits = shown().traits_of(id);
        if (!can_be_chosen(id) || traits == nullptr) {
            continue;
        }
        if (bodies.contains(QString::fromStdString(traits->color))) {
            found.push_back(model::whole(id));
        }
        std::vector<TopoDS_Shape> alike;
        for (const TopoDS_Shape& face : faces.empty() ? std::vector<TopoDS_Shape>{} : geom::faces_of(shape->shape)) {
            if (faces.contains(face_color(id, face))) {
                alike.push_back(face);
            }
        }
        const auto references = model::refer_to_all(id, *shape, alike);
        found.insert(found.end(), references.begin(), references.end());
    }
    if (found.empty()) {
        emit view().hinted(tr("Select a body or a face first."));
        return;
    }
    hand().select(std::move(found));
}

std::vector<Verb> SelectTool::verbs() {
    const auto has_document = [this] { return !session().document().steps.empty(); };
    const auto draws_not = [this] { return hand().drawn_step() == 0; };
    const auto alike = [this](geom::Likeness how) { return [this, how] { select_alike(how); }; };
    using geom::Likeness;
    const BarGroup inside = BarGroup::inside;
    return {
        {"wider", inside, tr("Next pick level"),
         tr("What a click takes: anything, a group, body, lump, face, edge or vertex."), "U",
         [this] { hand().step_level(1); }, draws_not},
        {"narrower", inside, tr("Pick level before"), tr("The same, backwards."), "Shift+U",
         [this] { hand().step_level(-1); }, draws_not},
        {"same_kind", inside, tr("Select the same kind"),
         tr("All surfaces, curves or bodies of the kind that is selected."), "", alike(Likeness::kind), has_document},
        {"same_radius", inside, tr("Select the same radius"), tr("All round faces or edges of that radius."), "",
         alike(Likeness::radius), has_document},
        {"smooth_chain", inside, tr("Select the smooth chain"),
         tr("The faces or edges that continue what is selected smoothly."), "", alike(Likeness::chain), has_document},
        {"connected", inside, tr("Select what is connected"),
         tr("The faces or edges that hang together with what is selected."), "", alike(Likeness::connected),
         has_document},
        {"same_color", inside, tr("Select the same colour"), tr("All bodies or faces of that colour."), "",
         [this] { select_same_color(); }, has_document},
    };
}

std::unique_ptr<ViewTool> make_select_tool(Viewport& view) {
    return std::make_unique<SelectTool>(view);
}

} // namespace kervo::app
