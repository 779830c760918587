#include "app/view/tools/select_tool.h"

#include "app/view/ink.h"
#include "app/view/tools/tools.h"
#include "model/document/groups_and_layers.h"

#include <algorithm>

namespace kervo::app {

namespace {

using Kind = model::ElementKind;

std::set<Kind> kinds_of(PickLevel level) {
    switch (level) {
    case PickLevel::any:
        return {Kind::face, Kind::edge, Kind::vertex, Kind::body}; // a body is where a cutaway cuts it
    case PickLevel::edge:
        return {Kind::edge};
    case PickLevel::vertex:
        return {Kind::vertex};
    case PickLevel::body:
    case PickLevel::group:
        return {Kind::face, Kind::body};
    default:
        return {Kind::face};
    }
}

std::vector<model::Reference> references_to(const model::BodyId& id, const model::Elements& elements,
                                            const std::vector<int>& faces) {
    std::vector<model::Reference> references;
    for (const int face : faces) {
        references.push_back(elements.reference(id, {Kind::face, face}));
    }
    return references;
}

bool contains(const std::vector<model::Reference>& all, const model::Reference& one) {
    return std::find(all.begin(), all.end(), one) != all.end();
}

} // namespace

SelectTool::SelectTool(Viewport& view) : FramingTool(view) {
    connect(&hand(), &InHand::selection_changed, this, [this] { last_clicked_.reset(); });
}

QString SelectTool::hint() const {
    const auto what = [this] {
        switch (hand().level()) {
        case PickLevel::any:
            return tr("a face, an edge or a vertex, again for its body and groups");
        case PickLevel::group:
            return tr("a group; bodies in none stand for themselves");
        case PickLevel::body:
            return tr("a body");
        case PickLevel::lump:
            return tr("a lump, with all its faces");
        case PickLevel::face:
            return tr("a face");
        case PickLevel::edge:
            return tr("an edge");
        case PickLevel::vertex:
            return tr("a vertex");
        }
        return QString();
    };
    return tr("Next pick: %1; with Ctrl one more, or a frame").arg(what());
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
    auto taken = taken_at_level(*hovered);
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

std::vector<model::Reference> SelectTool::taken_at_level(const scene::Picked& picked) const {
    if (hand().level() == PickLevel::body || hand().level() == PickLevel::group) {
        return {model::whole(shown().clicked_id(picked.body))};
    }
    const model::Elements& elements = *shown().body(picked.body)->elements;
    if (hand().level() == PickLevel::lump) {
        for (const std::vector<int>& lump : elements.lumps) {
            if (std::find(lump.begin(), lump.end(), picked.element.index) != lump.end()) {
                return references_to(picked.body, elements, lump);
            }
        }
    }
    return {elements.reference(picked.body, picked.element)};
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
std::vector<QPolygonF> SelectTool::seen(const scene::ShownBody& body, const model::Element& element) const {
    const scene::Mesh& mesh = *body.mesh;
    const auto index = static_cast<size_t>(element.index);
    std::vector<QPolygonF> chains;
    if (element.kind == Kind::vertex) {
        chains.push_back({place_of(mesh.vertices[index])});
    } else if (element.kind == Kind::edge) {
        QPolygonF chain;
        for (const Point3& p : mesh.edges[index]) {
            chain << place_of(p);
        }
        chains.push_back(chain);
    } else {
        const scene::Mesh::Range all{0, static_cast<uint32_t>(mesh.triangles.size())};
        const scene::Mesh::Range range = element.kind == Kind::face ? mesh.faces[index] : all;
        for (uint32_t i = range.first; i < range.last; ++i) {
            QPolygonF outline;
            for (const uint32_t node : mesh.triangles[i]) {
                outline << place_of(mesh.nodes[node]);
            }
            outline << outline.front();
            chains.push_back(outline);
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
    for (const auto& [id, body] : shown().bodies()) {
        if (!can_be_chosen(id) || body->blade) {
            continue;
        }
        const model::Elements& elements = *body->elements;
        if (level == PickLevel::any || level == PickLevel::body || level == PickLevel::group) {
            if (frame.takes(seen(*body, {}))) {
                take(model::whole(shown().clicked_id(id)));
            }
        } else if (level == PickLevel::lump) {
            for (const std::vector<int>& lump : elements.lumps) {
                std::vector<QPolygonF> chains;
                for (const int face : lump) {
                    const auto own = seen(*body, {Kind::face, face});
                    chains.insert(chains.end(), own.begin(), own.end());
                }
                if (frame.takes(chains)) {
                    const auto faces = references_to(id, elements, lump);
                    std::for_each(faces.begin(), faces.end(), take);
                }
            }
        } else {
            const Kind kind = *kinds_of(level).begin();
            for (int i = 0; i < static_cast<int>(elements.count(kind)); ++i) {
                const bool is_seen = kind != Kind::edge || elements.edges[static_cast<size_t>(i)].seen;
                if (is_seen && frame.takes(seen(*body, {kind, i}))) {
                    take(elements.reference(id, {kind, i}));
                }
            }
        }
    }
    hand().select(std::move(chosen));
}

// --- What is like it ------------------------------------------------------------------------------------------------

bool SelectTool::can_be_chosen(const model::BodyId& id) const {
    return shown().is_shown(id) && shown().is_pickable(id);
}

QString SelectTool::face_color(const model::BodyId& id, const model::Elements::Face& face) const {
    const auto* traits = shown().traits_of(face.name.owner.empty() ? id : face.name.owner);
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

void SelectTool::select_alike(model::Likeness how) {
    std::vector<model::Reference> found;
    const bool anywhere = how == model::Likeness::kind || how == model::Likeness::radius;
    const auto same_kind = [](const scene::ShownBody& one, const scene::ShownBody& other) {
        return one.blade.has_value() == other.blade.has_value() && (one.blade || one.substance == other.substance);
    };
    for (const model::Reference& chosen : hand().selection()) {
        const auto owner = shown().body(chosen.body);
        const auto element = shown().find(chosen);
        if (!owner || !element) {
            continue;
        }
        for (const auto& [id, body] : shown().bodies()) {
            if (!can_be_chosen(id) || !(anywhere || id == chosen.body)) {
                continue;
            }
            if (chosen.kind == Kind::body) {
                if (how == model::Likeness::kind && same_kind(*body, *owner)) {
                    found.push_back(model::whole(id));
                }
                continue;
            }
            const auto alike = id == chosen.body
                                   ? body->elements->alike(*element, how)
                                   : body->elements->like(owner->elements->look(*element), chosen.kind, how);
            for (const model::Element& each : alike) {
                found.push_back(body->elements->reference(id, each));
            }
        }
    }
    if (found.empty()) {
        const auto& selection = hand().selection();
        emit view().hinted(selection.empty()                      ? tr("Select a face, an edge or a body first.")
                           : how == model::Likeness::radius       ? tr("What is selected has no radius.")
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
        } else if (const auto face = chosen.kind == Kind::face ? shown().find(chosen) : std::nullopt) {
            const auto& known = shown().body(chosen.body)->elements->faces;
            faces.insert(face_color(chosen.body, known[static_cast<size_t>(face->index)]));
        }
    }
    std::vector<model::Reference> found;
    for (const auto& [id, body] : shown().bodies()) {
        const auto* traits = shown().traits_of(id);
        if (!can_be_chosen(id) || traits == nullptr) {
            continue;
        }
        if (bodies.contains(QString::fromStdString(traits->color))) {
            found.push_back(model::whole(id));
        }
        const auto& known = body->elements->faces;
        for (int i = 0; !faces.empty() && i < static_cast<int>(known.size()); ++i) {
            if (faces.contains(face_color(id, known[static_cast<size_t>(i)]))) {
                found.push_back(body->elements->reference(id, {Kind::face, i}));
            }
        }
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
    const auto alike = [this](model::Likeness how) { return [this, how] { select_alike(how); }; };
    using model::Likeness;
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
