// What is selected in the model: levels, repeated clicks, frames, and what is like what is selected.
#include "app/viewport.h"
#include "geom/measure.h"
#include "geom/tessellate.h"
#include "model/arrangement.h"

#include <algorithm>

namespace kervo::app {

namespace {

using Kind = model::ElementKind;

} // namespace

const model::BodyTraits* Viewport::traits_of(const model::BodyId& id) const {
    const PicturePtr picture = session_.picture();
    if (!picture) {
        return nullptr;
    }
    const auto at = picture->evaluation->traits.find(id);
    return at == picture->evaluation->traits.end() ? nullptr : &at->second;
}

bool Viewport::is_shown(const model::BodyId& id) const {
    const auto* traits = traits_of(id);
    return !model::is_hidden(session_.document(), id, traits == nullptr ? std::string() : traits->layer);
}

bool Viewport::is_pickable(const model::BodyId& id) const {
    const auto* traits = traits_of(id);
    return model::can_be_picked(session_.document(), id, traits == nullptr ? std::string() : traits->layer);
}

bool Viewport::refers_to(const model::Reference& reference, const model::BodyId& id) const {
    const auto* traits = traits_of(id);
    return model::refers_to(session_.document(), reference, id, traits == nullptr ? 0 : traits->group);
}

std::vector<model::BodyId> Viewport::selected_bodies() const {
    std::vector<model::BodyId> bodies;
    for (const auto& [id, shape] : shown()) {
        if (std::any_of(selection_.begin(), selection_.end(), [&, body = id](const model::Reference& reference) {
                return reference.kind == Kind::body && refers_to(reference, body);
            })) {
            bodies.push_back(id);
        }
    }
    return bodies;
}

// --- Levels ---------------------------------------------------------------------------------------------------------

void Viewport::set_level(PickLevel level) {
    level_ = level;
    emit level_changed();
    tell_hint();
}

void Viewport::step_level(int by) {
    constexpr int count = static_cast<int>(PickLevel::vertex) + 1;
    set_level(static_cast<PickLevel>((static_cast<int>(level_) + by + count) % count));
}

std::set<Kind> Viewport::kinds_of_level() const {
    switch (level_) {
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

model::BodyId Viewport::clicked_id(const model::BodyId& id) const {
    const auto* traits = traits_of(id);
    const int group =
        level_ == PickLevel::group && traits != nullptr ? model::seen_from(session_.document(), traits->group, 0) : 0;
    return group == 0 ? id : model::reference_to_group(group);
}

std::vector<model::Reference> Viewport::taken_at_level(const model::BodyId& id, const TopoDS_Shape& element) const {
    const model::BodyPtr owner = body(id);
    if (level_ == PickLevel::body || level_ == PickLevel::group) {
        return {model::whole(clicked_id(id))};
    }
    if (level_ == PickLevel::lump) {
        for (const TopoDS_Shape& lump : geom::solids_of(owner->shape)) {
            const auto faces = geom::faces_of(lump);
            if (std::any_of(faces.begin(), faces.end(), [&](const auto& face) { return face.IsSame(element); })) {
                return model::refer_to_all(id, *owner, faces);
            }
        }
    }
    return {model::refer_to(id, *owner, element)};
}

std::vector<model::Reference> Viewport::widened(const model::Reference& now, const model::Reference& first) const {
    if (now.kind != Kind::body) {
        return {model::whole(now.body)};
    }
    const auto* traits = traits_of(first.body);
    const int meant = model::group_meant(now.body);
    const auto* group = model::find_group(session_.document(), meant);
    const int next = meant == 0 ? (traits == nullptr ? 0 : traits->group) : group == nullptr ? 0 : group->within;
    return {next == 0 ? first : model::whole(model::reference_to_group(next))};
}

// Alone, or, with Ctrl, besides what is chosen, or no longer.
void Viewport::choose_all(const std::vector<model::Reference>& references, Qt::KeyboardModifiers modifiers) {
    if ((modifiers & Qt::ControlModifier) == 0) {
        select(references);
        return;
    }
    auto next = selection_;
    const auto is_chosen = [&](const model::Reference& each) {
        return std::find(next.begin(), next.end(), each) != next.end();
    };
    if (std::all_of(references.begin(), references.end(), is_chosen)) {
        std::erase_if(next, [&](const model::Reference& each) {
            return std::find(references.begin(), references.end(), each) != references.end();
        });
    } else {
        std::copy_if(references.begin(), references.end(), std::back_inserter(next),
                     [&](const model::Reference& each) { return !is_chosen(each); });
    }
    select(std::move(next));
}

// --- Frames ---------------------------------------------------------------------------------------------------------

bool Viewport::frames_model() const {
    const auto step = session_.document().step(session_.card());
    return !draws_ && attached_ && !(step && model::sets_verdicts(step->definition));
}

// Whole elements as they are seen, also those that others hide. Bodies and faces by their triangles, so that round ones
// are not taken for their seams.
void Viewport::frame_model() {
    const auto seen = [&](const TopoDS_Shape& element) {
        std::vector<QPolygonF> chains;
        if (element.ShapeType() == TopAbs_VERTEX) {
            chains.push_back({place_of(geom::center_of(element))});
        } else if (element.ShapeType() == TopAbs_EDGE) {
            QPolygonF chain;
            for (const gp_Pnt& p : geom::polyline_of(element, 1 / viewer_.pixels_per_mm())) {
                chain << place_of(p);
            }
            chains.push_back(chain);
        } else {
            for (const auto& [a, b, c] : geom::triangles_of(element)) {
                chains.push_back({place_of(a), place_of(b), place_of(c), place_of(a)});
            }
        }
        return chains;
    };
    std::vector<model::Reference> found;
    const auto take = [&](const model::Reference& each) {
        if (std::find(found.begin(), found.end(), each) == found.end() &&
            std::find(selection_.begin(), selection_.end(), each) == selection_.end()) {
            found.push_back(each);
        }
    };
    for (const auto& [id, shape] : shown()) {
        if (!is_shown(id) || !is_pickable(id) || shape->blade) {
            continue;
        }
        if (level_ == PickLevel::any || level_ == PickLevel::body || level_ == PickLevel::group) {
            if (frame_takes(seen(shape->shape))) {
                take(model::whole(clicked_id(id)));
            }
            continue;
        }
        const auto elements = level_ == PickLevel::edge     ? geom::visible_edges_of(shape->shape)
                              : level_ == PickLevel::vertex ? geom::vertices_of(shape->shape)
                              : level_ == PickLevel::lump   ? geom::solids_of(shape->shape)
                                                            : geom::faces_of(shape->shape);
        for (const TopoDS_Shape& element : elements) {
            if (!frame_takes(seen(element))) {
                continue;
            }
            if (level_ != PickLevel::lump) {
                take(model::refer_to(id, *shape, element));
                continue;
            }
            const auto faces = model::refer_to_all(id, *shape, geom::faces_of(element));
            std::for_each(faces.begin(), faces.end(), take);
        }
    }
    found.insert(found.begin(), selection_.begin(), selection_.end());
    select(std::move(found));
}

// --- What is like it ------------------------------------------------------------------------------------------------

QString Viewport::face_color(const model::BodyId& id, const TopoDS_Shape& face) const {
    const auto owner = body(id);
    const auto* name = owner ? owner->names.Seek(face) : nullptr;
    const auto* traits = traits_of(name == nullptr || name->owner.empty() ? id : name->owner);
    return traits == nullptr ? QString() : QString::fromStdString(traits->color);
}

void Viewport::select_alike(geom::Likeness how) {
    std::vector<model::Reference> found;
    const bool anywhere = how == geom::Likeness::kind || how == geom::Likeness::radius;
    const auto kind_of = [](const model::Body& each) {
        return each.blade ? 3 : !geom::solids_of(each.shape).empty() ? 2 : geom::faces_of(each.shape).empty() ? 0 : 1;
    };
    for (const model::Reference& chosen : selection_) {
        const auto owner = body(chosen.body);
        const TopoDS_Shape element = owner ? shape_of(chosen) : TopoDS_Shape();
        if (element.IsNull()) {
            continue;
        }
        for (const auto& [id, shape] : shown()) {
            if (!is_shown(id) || !is_pickable(id) || !(anywhere || id == chosen.body)) {
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
        emit hinted(selection_.empty()                      ? tr("Select a face, an edge or a body first.")
                    : how == geom::Likeness::radius         ? tr("What is selected has no radius.")
                    : selection_.front().kind == Kind::body ? tr("Select a face or an edge of it.")
                                                            : tr("Nothing is like that."));
        return;
    }
    std::vector<model::Reference> once;
    std::copy_if(found.begin(), found.end(), std::back_inserter(once), [&once](const model::Reference& each) {
        return std::find(once.begin(), once.end(), each) == once.end();
    });
    select(std::move(once));
}

void Viewport::select_same_color() {
    std::set<QString> bodies, faces;
    for (const model::Reference& chosen : selection_) {
        const auto* traits = traits_of(chosen.body);
        if (chosen.kind == Kind::body && traits != nullptr) {
            bodies.insert(QString::fromStdString(traits->color));
        } else if (chosen.kind == Kind::face) {
            faces.insert(face_color(chosen.body, shape_of(chosen)));
        }
    }
    std::vector<model::Reference> found;
    for (const auto& [id, shape] : shown()) {
        const auto* traits = traits_of(id);
        if (!is_shown(id) || !is_pickable(id) || traits == nullptr) {
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
        emit hinted(tr("Select a body or a face first."));
        return;
    }
    select(std::move(found));
}

} // namespace kervo::app
