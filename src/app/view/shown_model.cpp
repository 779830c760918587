#include "app/view/shown_model.h"

#include "model/document/cutaways.h"
#include "model/document/groups_and_layers.h"
#include "model/names/words.h"

#include <algorithm>
#include <cmath>

namespace kervo::app {

namespace {

bool holds(const scene::ShownBodies& bodies, const model::BodyId& id) {
    return scene::find_body(bodies, id) != nullptr;
}

} // namespace

const scene::ShownBodies& ShownModel::bodies() const {
    static const scene::ShownBodies nothing;
    const PicturePtr picture = session_.picture();
    if (!picture) {
        return nothing;
    }
    return hand_.target() && session_.card() != 0 ? picture->before : picture->after;
}

scene::ShownBodyPtr ShownModel::body(const model::BodyId& id) const {
    return scene::find_body(is_ghost(id) ? session_.picture()->before : bodies(), id);
}

std::optional<model::Element> ShownModel::find(const model::Reference& reference) const {
    const auto owner = body(reference.body);
    // As the evaluation found it, before the step of the card; the body may be another one since.
    return !owner ? std::nullopt
           : owner == scene::find_body(session_.picture()->before, reference.body)
               ? session_.picture()->meant(reference)
               : owner->elements->find(reference);
}

std::optional<Frame3> ShownModel::plane_of(const model::Reference& reference) const {
    const auto face = reference.kind == model::ElementKind::face ? find(reference) : std::nullopt;
    return face ? body(reference.body)->elements->faces[static_cast<size_t>(face->index)].plane : std::nullopt;
}

const model::BodyTraits* ShownModel::traits_of(const model::BodyId& id) const {
    const PicturePtr picture = session_.picture();
    if (!picture) {
        return nullptr;
    }
    const auto at = picture->evaluation->traits.find(id);
    return at == picture->evaluation->traits.end() ? nullptr : &at->second;
}

QColor ShownModel::color_of(const Theme& theme, const model::BodyId& id) const {
    const auto* traits = traits_of(id);
    if (traits != nullptr && !traits->color.empty()) {
        return body_color(theme, QString::fromStdString(traits->color));
    }
    if (const model::Material* material = model::material_of(session_.document(), id)) {
        return body_color(theme, QString::fromStdString(material->color));
    }
    // By the step that made it, so that it stays what it is whatever else is done.
    const int maker = model::maker_of(id);
    const auto& steps = session_.document().steps;
    const auto before =
        std::count_if(steps.begin(), steps.end(), [&](const model::StepPtr& step) { return step->id < maker; });
    return body_tint(theme, static_cast<int>(before));
}

bool ShownModel::is_shown(const model::BodyId& id) const {
    const auto* traits = traits_of(id);
    return !model::is_hidden(session_.document(), id, traits == nullptr ? std::string() : traits->layer);
}

bool ShownModel::is_pickable(const model::BodyId& id) const {
    const auto* traits = traits_of(id);
    return model::can_be_picked(session_.document(), id, traits == nullptr ? std::string() : traits->layer);
}

bool ShownModel::is_ghost(const model::BodyId& id) const {
    const PicturePtr picture = session_.picture();
    if (!picture || session_.card() == 0 || hand_.target() || hand_.drawn_step() != 0) {
        return false;
    }
    return holds(picture->before, id) && !holds(picture->after, id);
}

bool ShownModel::refers_to(const model::Reference& reference, const model::BodyId& id) const {
    const auto* traits = traits_of(id);
    return model::refers_to(session_.document(), reference, id, traits == nullptr ? 0 : traits->group);
}

model::BodyId ShownModel::clicked_id(const model::BodyId& id) const {
    const auto* traits = traits_of(id);
    const int group = hand_.level() == PickLevel::group && traits != nullptr
                          ? model::seen_from(session_.document(), traits->group, 0)
                          : 0;
    return group == 0 ? id : model::reference_to_group(group);
}

std::vector<model::BodyId> ShownModel::selected_bodies() const {
    std::vector<model::BodyId> chosen;
    for (const auto& [id, shape] : bodies()) {
        const auto& selection = hand_.selection();
        if (std::any_of(selection.begin(), selection.end(), [&, body = id](const model::Reference& reference) {
                return reference.kind == model::ElementKind::body && refers_to(reference, body);
            })) {
            chosen.push_back(id);
        }
    }
    return chosen;
}

Box3 ShownModel::bounds() const {
    return session_.picture() ? session_.picture()->bounds : Box3();
}

Box3 ShownModel::bounds_seen() const {
    Box3 box;
    for (const auto& [id, body] : bodies()) {
        if (!body->blade && is_shown(id)) {
            box.add(body->box);
        }
    }
    return box.empty() ? bounds() : box;
}

// --- The open card --------------------------------------------------------------------------------------------------

bool ShownModel::card_cuts() const {
    const auto step = card_step();
    return step && model::sets_verdicts(step->definition);
}

model::StepOutputPtr ShownModel::card_output() const {
    const model::StepReport* report = session_.pictured_report(session_.card());
    return report == nullptr ? nullptr : report->output;
}

model::SketchResultPtr ShownModel::card_sketch() const {
    const PicturePtr picture = session_.picture();
    const auto step = card_step();
    if (!picture || !step) {
        return nullptr;
    }
    if (picture == card_sketch_.picture.lock() &&
        step == card_sketch_.step.lock()) { // asked for each point that is drawn
        return card_sketch_.sketch;
    }
    const auto found = picture->evaluation->sketches.find(card_sketch_step());
    card_sketch_ = {picture, step, found == picture->evaluation->sketches.end() ? nullptr : found->second};
    return card_sketch_.sketch;
}

int ShownModel::card_sketch_step() const {
    const auto step = card_step();
    if (!step) {
        return 0;
    }
    if (taken_sketch_.first == step->id) {
        return taken_sketch_.second;
    }
    return model::draws(step->definition) ? step->id : model::sketch_of(step->definition);
}

void ShownModel::take_card_sketch(int step) {
    const auto card = card_step();
    taken_sketch_ = card && step != model::sketch_of(card->definition) ? std::pair(card->id, step) : std::pair(0, 0);
    card_sketch_ = {};
}

std::optional<Expression> ShownModel::answer(const std::string& field) const {
    const auto step = card_step();
    for (const auto& each : step ? model::fields_of(step->definition) : std::vector<model::Field>{}) {
        if (const auto* expression = std::get_if<Expression>(&each.value);
            expression != nullptr && each.info.key == field) {
            return *expression;
        }
    }
    return std::nullopt;
}

ParameterValues ShownModel::parameters() const {
    return session_.picture() ? session_.picture()->evaluation->parameters.values : ParameterValues{};
}

// --- Looks ----------------------------------------------------------------------------------------------------------

std::string ShownModel::role_color(const Theme& theme, const model::BodyId& id) const {
    if (const auto step = card_step()) {
        for (const auto& field : model::fields_of(step->definition, true)) {
            const auto* references = std::get_if<model::References>(&field.value);
            const bool cuts = field.info.question == model::Question::what_cuts_it &&
                              field.info.accepts.contains(model::ElementKind::body);
            if (references != nullptr && (field.info.writes || cuts) &&
                std::any_of(references->begin(), references->end(),
                            [&](const model::Reference& r) { return refers_to(r, id); })) {
                return (cuts ? theme.cutter : theme.workpiece).name().toStdString();
            }
        }
    }
    const bool chosen = std::any_of(hand_.selection().begin(), hand_.selection().end(), [&](const model::Reference& r) {
        return r.kind == model::ElementKind::body && refers_to(r, id);
    });
    return chosen ? theme.workpiece.name().toStdString() : std::string();
}

bool ShownModel::is_glass(const model::BodyId& id) const {
    const model::Material* material = model::material_of(session_.document(), id);
    return material != nullptr && material->glass;
}

scene::BodyLook ShownModel::look_of(const Theme& theme, const model::BodyId& id,
                                    const scene::ShownBodyPtr& body) const {
    scene::BodyLook look;
    look.id = id;
    look.body = body;
    look.color = (body->blade ? theme.cutter : color_of(theme, id)).name().toStdString();
    const std::string role = role_color(theme, id);
    look.edge = role.empty() ? theme.edge.name().toStdString() : role;
    look.thick = !role.empty();
    const model::Showing showing = model::look_of(session_.document(), id).showing;
    look.see_through = body->blade || showing == model::Showing::aside ? 0.85
                       : is_ghost(id)                                  ? 0.8
                       : showing == model::Showing::see_through        ? 0.6
                       : is_glass(id)                                  ? 0.6
                                                                       : 0;
    look.edges_only = showing == model::Showing::edges && !is_ghost(id);
    look.pickable = is_pickable(id);
    if (showing == model::Showing::aside) {
        look.edge = theme.rule.name().toStdString();
        look.thick = false;
    }
    for (const model::Elements::Face& face : body->elements->faces) {
        if (!face.name.owner.empty() && !look.foreign.contains(face.name.owner)) {
            look.foreign[face.name.owner] = color_of(theme, face.name.owner).name().toStdString();
        }
    }
    return look;
}

double ShownModel::curvature_scale() const {
    double usual = 0;
    for (const auto& [id, body] : bodies()) {
        if (body->curvature && !body->blade && is_shown(id)) {
            usual = std::max(usual, body->curvature->usual());
        }
    }
    constexpr double flat = 1e-9; // 1/mm
    if (usual < flat) {
        return 0;
    }
    // Of 1, 2 and 5 times a power of ten, as a radius: the next one below.
    const double radius = 1 / usual;
    const double power = std::pow(10, std::floor(std::log10(radius)));
    return 1 / (power * (radius / power < 2 ? 1 : radius / power < 5 ? 2 : 5));
}

std::vector<scene::BodyLook> ShownModel::looks(const Theme& theme) const {
    const double scale = hand_.shading() == scene::Shading::curvature ? curvature_scale() : 0;
    std::vector<scene::BodyLook> looks;
    const PicturePtr picture = session_.picture();
    if (!picture) {
        return looks;
    }
    const auto cutaways = session_.cutaways();
    auto wanted = bodies();
    for (const auto& each : picture->before) {
        if (is_ghost(each.first)) {
            wanted.push_back(each);
        }
    }
    for (const auto& [id, shape] : wanted) {
        const bool endless = shape->blade && shape->blade->endless(); // written on the drawing, as a line
        if (endless || !is_shown(id) || model::cuts_with(cutaways, id)) {
            continue;
        }
        looks.push_back(look_of(theme, id, shape));
        if (!shape->blade && shape->curvature) {
            looks.back().shading = hand_.shading();
            looks.back().scale = scale;
        }
        looks.back().cutaways = opening(id);
        if (const auto opened = picture->opened.find(shape); opened != picture->opened.end()) {
            looks.back().opened = opened->second;
            looks.back().opened = looks.back().drawn_opened() ? looks.back().opened : std::nullopt;
        }
    }
    for (const auto& [step, curves] : picture->sketches) {
        if (step != hand_.drawn_step()) { // that one is ink
            scene::BodyLook look;
            look.id = "sketch " + std::to_string(step);
            look.body = curves;
            look.edge = theme.quiet.name().toStdString();
            look.pickable = false;
            std::copy_if(
                cutaways.begin(), cutaways.end(), std::back_inserter(look.cutaways),
                [](const model::Cutaway& each) { return each.on && each.scope != model::Cutaway::Scope::only; });
            looks.push_back(std::move(look));
        }
    }
    return looks;
}

std::vector<model::Cutaway> ShownModel::opening(const model::BodyId& id) const {
    const auto picture = session_.picture();
    return picture ? model::opening(session_.cutaways(), session_.document(), *picture->evaluation, id)
                   : std::vector<model::Cutaway>();
}

std::optional<model::Cutaway> ShownModel::cutaway_in_hand() const {
    const auto all = session_.cutaways();
    const auto* known = model::find_cutaway(all, hand_.cutaway());
    return known != nullptr ? std::optional(*known) : std::nullopt;
}

std::vector<scene::Cap> ShownModel::caps(const std::vector<scene::BodyLook>& looks, double fineness) const {
    const auto picture = session_.picture();
    const std::string dragged = picture->cutaways == session_.cutaways() ? "" : session_.dragged_cutaway();
    const auto within = [&](const model::BodyId& id, const Line3& line) {
        const auto cutting = scene::find_body(picture->after, id);
        return cutting ? scene::inside_of(*cutting, line) : model::Stretches();
    };
    std::vector<scene::Cap> caps;
    size_t place = 0;
    for (const auto& [id, body] : picture->after) {
        const auto look = std::find_if(looks.begin(), looks.end(),
                                       [&, &wanted = id](const scene::BodyLook& each) { return each.id == wanted; });
        if (look == looks.end()) {
            continue;
        }
        const size_t own_place = look->cutaways.empty() || body->substance != scene::Substance::solid ? place : place++;
        if (look->edges_only) {
            continue;
        }
        if (scene::are_live(look->cutaways, dragged)) {
            const double size = picture->bounds.diagonal();
            const auto style = [&, &own = id](const model::Cutaway& cutaway) {
                return scene::cap_style(session_.document(), cutaway, own, own_place, size);
            };
            auto live = scene::live_caps(id, *body, look->cutaways, style, std::max(fineness, size / 1500), within);
            std::move(live.begin(), live.end(), std::back_inserter(caps));
            continue;
        }
        std::copy_if(picture->caps.begin(), picture->caps.end(), std::back_inserter(caps),
                     [&, &wanted = id](const scene::Cap& cap) { return cap.body == wanted; });
    }
    return caps;
}

// Finding names again takes time in a large body, and the pointer moves often.
const std::vector<scene::Highlight>& ShownModel::highlights(const Theme& theme) const {
    const auto step = card_step();
    const auto picture = session_.picture();
    const bool drawing = hand_.drawn_step() != 0;
    Highlights& known = highlights_;
    if (known.picture.lock() == picture && known.step.lock() == step && known.selection == hand_.selection() &&
        known.picking == hand_.target().has_value() && known.drawing == drawing && known.color == theme.workpiece) {
        return known.all;
    }
    known = {picture, step, hand_.selection(), hand_.target().has_value(), drawing, theme.workpiece, {}};
    const auto add = [&](const model::Reference& reference, const QColor& color, bool faint) {
        if (const auto found = find(reference)) {
            known.all.push_back({body(reference.body), *found, color.name().toStdString(), faint});
        }
    };
    for (const model::Reference& reference : hand_.selection()) {
        if (reference.kind != model::ElementKind::body) {
            add(reference, theme.workpiece, false);
        }
    }
    // What the open card refers to is drawn in the cutter's colour: the faces it goes from and to.
    for (const auto& field :
         step && !drawing ? model::fields_of(step->definition, true) : std::vector<model::Field>{}) {
        const auto* references = std::get_if<model::References>(&field.value);
        if (references == nullptr || field.info.accepts.contains(model::ElementKind::body)) {
            continue;
        }
        for (const model::Reference& reference : *references) {
            add(reference, field.info.writes ? theme.workpiece : theme.cutter, true);
        }
    }
    return known.all;
}

QString ShownModel::words_for(const scene::Picked& found) const {
    const auto* traits = traits_of(found.body);
    const QString text = traits == nullptr ? QString() : QString::fromStdString(traits->name);
    if (found.cut) {
        return text + QString::fromUtf8(" \u00b7 ") + QObject::tr("cut open");
    }
    const auto owner = body(found.body);
    return owner ? text + QString::fromUtf8(" \u00b7 ") +
                       QString::fromStdString(owner->elements->words(found.element, session_.document().unit))
                 : text;
}

} // namespace kervo::app
