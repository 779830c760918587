#include "app/viewport.h"

#include "app/ink.h"
#include "geom/measure.h"
#include "geom/profile.h"
#include "model/arrangement.h"
#include "model/sketch_plane.h"

#include <QPainter>

#include <cmath>

namespace kervo::app {

namespace {

// A clear sheet over the picture; the mouse goes through it.
class Ink : public QWidget {
public:
    explicit Ink(Viewport* below) : QWidget(below), below_(below) {
        setAttribute(Qt::WA_TransparentForMouseEvents);
        setAttribute(Qt::WA_NoSystemBackground);
    }

protected:
    void paintEvent(QPaintEvent* /*event*/) override {
        QPainter painter(this);
        painter.setRenderHint(QPainter::Antialiasing);
        below_->paint_ink(painter);
    }

private:
    Viewport* below_;
};

// Made with the picture; null where it is not there.
scene::DrawnPtr drawn_of(const Picture& picture, const model::BodyPtr& body) {
    const auto drawn = picture.drawn.find(body);
    return drawn == picture.drawn.end() ? nullptr : drawn->second;
}

} // namespace

Viewport::Viewport(Session& session, const Theme& theme, QWidget* parent)
    : QOpenGLWidget(parent), session_(session), theme_(theme) {
    setMouseTracking(true);
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Model"));
    setMinimumSize(320, 240);
    ink_ = new Ink(this);
    connect(&session_, &Session::pictured, this, &Viewport::take_picture);
    connect(&session_, &Session::changed, this, &Viewport::take_changes);
    connect(&session_, &Session::completed, this, [this] { update(); }); // smooth again
}

Viewport::~Viewport() {
    makeCurrent();
}

void Viewport::set_theme(const Theme& theme) {
    theme_ = theme;
    if (attached_) {
        makeCurrent();
        viewer_.set_paper({theme.paper.name().toStdString(), theme.ink.name().toStdString(),
                           theme.cap.name().toStdString(), theme.dark});
        show_bodies();
        doneCurrent();
    }
    show_pointer();
    repaint_all();
}

void Viewport::initializeGL() {
    attached_ = viewer_.attach(window()->winId(), width(), height());
    set_theme(theme_);
}

void Viewport::paintGL() {
    if (attached_) {
        viewer_.paint(static_cast<int>(width() * devicePixelRatioF()), static_cast<int>(height() * devicePixelRatioF()),
                      pressed_ != Qt::NoButton || session_.busy());
    }
}

void Viewport::resizeEvent(QResizeEvent* event) {
    QOpenGLWidget::resizeEvent(event);
    ink_->setGeometry(rect());
}

void Viewport::repaint_all() {
    update();
    ink_->update();
}

// --- What is shown --------------------------------------------------------------------------------------------------

std::optional<PickTarget> PickTarget::next_open(const model::StepDefinition& step, const std::string& after) {
    bool asked = after.empty();
    for (const model::Field& field : model::fields_of(step, true)) {
        const auto* references = std::get_if<model::References>(&field.value);
        if (asked && references != nullptr && references->empty() && !field.info.many) {
            return of(field.info);
        }
        asked = asked || field.info.key == after;
    }
    return std::nullopt;
}

const std::vector<std::pair<model::BodyId, model::BodyPtr>>& Viewport::shown() const {
    static const std::vector<std::pair<model::BodyId, model::BodyPtr>> nothing;
    const PicturePtr picture = session_.picture();
    if (!picture) {
        return nothing;
    }
    // While an answer of a card is being picked, the bodies are shown as the step finds them.
    return target_ && session_.card() != 0 ? picture->before : picture->after;
}

model::BodyPtr Viewport::body(const model::BodyId& id) const {
    for (const auto& [known, candidate] : is_ghost(id) ? session_.picture()->before : shown()) {
        if (known == id) {
            return candidate;
        }
    }
    return nullptr;
}

TopoDS_Shape Viewport::shape_of(const model::Reference& reference) const {
    const auto owner = body(reference.body);
    if (!owner) {
        return {};
    }
    return reference.kind == model::ElementKind::body ? owner->shape : model::resolve(reference, owner.get()).element;
}

bool Viewport::is_ghost(const model::BodyId& id) const {
    const PicturePtr picture = session_.picture();
    if (!picture || session_.card() == 0 || target_ || draws_) {
        return false;
    }
    const auto holds = [&](const auto& bodies) {
        return std::any_of(bodies.begin(), bodies.end(), [&](const auto& each) { return each.first == id; });
    };
    return holds(picture->before) && !holds(picture->after);
}

std::string Viewport::role_color(const model::BodyId& id) const {
    const auto step = session_.document().step(session_.card());
    if (step) {
        for (const auto& field : model::fields_of(step->definition, true)) {
            const auto* references = std::get_if<model::References>(&field.value);
            const bool cuts = field.info.question == model::Question::what_cuts_it &&
                              field.info.accepts.contains(model::ElementKind::body);
            if (references != nullptr && (field.info.writes || cuts) &&
                std::any_of(references->begin(), references->end(),
                            [&](const model::Reference& r) { return refers_to(r, id); })) {
                return (cuts ? theme_.cutter : theme_.workpiece).name().toStdString();
            }
        }
    }
    const bool chosen = std::any_of(selection_.begin(), selection_.end(), [&](const model::Reference& r) {
        return r.kind == model::ElementKind::body && refers_to(r, id);
    });
    return chosen ? theme_.workpiece.name().toStdString() : std::string();
}

void Viewport::show_bodies() {
    const PicturePtr picture = session_.picture();
    if (!attached_ || !picture) {
        return;
    }
    const auto cutaway = session_.cutaway();
    const bool cut = cutaway && cutaway->on;
    std::vector<scene::BodyLook> looks;
    auto wanted = shown();
    for (const auto& each : picture->before) {
        if (is_ghost(each.first)) {
            wanted.push_back(each);
        }
    }
    for (const auto& [id, shape] : wanted) {
        const bool endless = shape->blade && shape->blade->endless(); // written on the drawing, as a line
        if (endless || !is_shown(id)) {
            continue;
        }
        looks.push_back(look_of(id, shape));
        const bool whole =
            cut && std::find(cutaway->left_whole.begin(), cutaway->left_whole.end(), id) != cutaway->left_whole.end();
        looks.back().clipped = cut && !whole;
    }
    for (const auto& [step, curves] : picture->sketches) {
        if (!draws_ || step != drawing_step_) { // that one is ink
            scene::BodyLook look;
            look.id = "sketch " + std::to_string(step);
            look.body = curves;
            look.edge = theme_.quiet.name().toStdString();
            look.pickable = false;
            look.clipped = cut;
            look.drawn = drawn_of(*picture, curves);
            looks.push_back(std::move(look));
        }
    }
    viewer_.set_cutaway(cut ? cutaway : std::nullopt, {});
    viewer_.set_bodies(looks);
    std::vector<scene::Cap> caps;
    for (const scene::Cap& cap : picture->caps) {
        if (std::any_of(looks.begin(), looks.end(), [&](const scene::BodyLook& look) { return look.id == cap.body; })) {
            caps.push_back(cap);
        }
    }
    viewer_.set_cutaway(cut ? cutaway : std::nullopt, caps);
    show_highlights();
}

scene::BodyLook Viewport::look_of(const model::BodyId& id, const model::BodyPtr& shape) const {
    const PicturePtr picture = session_.picture();
    const auto color_of = [&](const model::BodyId& body) {
        const auto traits = picture->evaluation->traits.find(body);
        const QString color =
            traits == picture->evaluation->traits.end() ? QString() : QString::fromStdString(traits->second.color);
        return body_color(theme_, color).name().toStdString();
    };
    scene::BodyLook look;
    look.id = id;
    look.body = shape;
    look.color = shape->blade ? theme_.cutter.name().toStdString() : color_of(id);
    const std::string role = role_color(id);
    look.edge = role.empty() ? theme_.edge.name().toStdString() : role;
    look.thick = !role.empty();
    const model::Showing showing = model::look_of(session_.document(), id).showing;
    look.see_through = shape->blade || showing == model::Showing::aside ? 0.85
                       : is_ghost(id)                                   ? 0.8
                       : showing == model::Showing::see_through         ? 0.6
                                                                        : 0;
    look.edges_only = showing == model::Showing::edges && !is_ghost(id);
    look.pickable = is_pickable(id);
    if (showing == model::Showing::aside) {
        look.edge = theme_.rule.name().toStdString();
        look.thick = false;
    }
    look.drawn = drawn_of(*picture, shape);
    if (look.drawn) {
        for (const auto& [owner, triangles] : look.drawn->foreign) {
            look.foreign[owner] = color_of(owner);
        }
    }
    return look;
}

// Finding names again takes time in a large body, and the pointer moves often.
const std::vector<scene::Highlight>& Viewport::chosen_highlights() {
    const auto step = session_.document().step(session_.card());
    const auto picture = session_.picture();
    auto& known = chosen_highlights_;
    if (known.picture.lock() == picture && known.step.lock() == step && known.selection == selection_ &&
        known.picking == target_.has_value() && known.drawing == draws_ && known.color == theme_.workpiece) {
        return known.highlights;
    }
    known = {picture, step, selection_, target_.has_value(), draws_, theme_.workpiece, {}};
    auto& highlights = known.highlights;
    for (const model::Reference& reference : selection_) {
        if (reference.kind != model::ElementKind::body) {
            if (const auto found = model::resolve(reference, body(reference.body).get()); !found.element.IsNull()) {
                highlights.push_back({found.element, theme_.workpiece.name().toStdString(), false});
            }
        }
    }
    // What the open card refers to is drawn in the cutter's colour: the faces it goes from and to.
    if (step) {
        for (const auto& field : model::fields_of(step->definition, true)) {
            const auto* references = std::get_if<model::References>(&field.value);
            if (references == nullptr || field.info.accepts.contains(model::ElementKind::body)) {
                continue;
            }
            const QColor& color = field.info.writes ? theme_.workpiece : theme_.cutter;
            for (const model::Reference& reference : *references) {
                if (const auto found = model::resolve(reference, body(reference.body).get());
                    !found.element.IsNull() && !draws_) {
                    highlights.push_back({found.element, color.name().toStdString(), true});
                }
            }
        }
    }
    return highlights;
}

void Viewport::show_highlights() {
    if (!attached_) {
        return;
    }
    auto highlights = chosen_highlights();
    if (hovered_ && !(target_ && target_->sees_bodies())) {
        highlights.push_back(
            {hovered_->element, target_ ? theme_.cutter.name().toStdString() : theme_.ink.name().toStdString(), true});
    }
    viewer_.set_highlights(highlights);
}

void Viewport::take_picture() {
    hovered_.reset();
    hovered_region_ = -1;
    const auto sketch = card_sketch();
    if (draws_ && sketch) {
        drawing_.refresh(sketch->solution.sketch);
    }
    beside_sketches_ = draws_ ? other_sketches() : std::vector<Beside>{};
    take_changes();
    makeCurrent();
    show_bodies();
    if (attached_ && session_.picture() && !session_.picture()->bounds.IsVoid()) {
        // The first picture is fitted; later ones are where they have grown out of sight and nobody chose the view, but
        // not with every number that is being typed on a card.
        const bool typing = session_.card() != 0 && session_.card() == fitted_card_;
        if (!fitted_ || (!view_chosen_ && !typing && !in_sight(session_.picture()->bounds))) {
            viewer_.fit();
        }
        fitted_ = true;
        fitted_card_ = session_.card();
    }
    doneCurrent();
    repaint_all();
}

void Viewport::take_changes() {
    const auto step = session_.document().step(session_.card());
    const bool draws = step && model::draws(step->definition);
    if (draws && (!draws_ || drawing_step_ != step->id)) {
        drawing_step_ = step->id;
        const int id = step->id;
        drawing_.begin(*model::drawing_of(step->definition),
                       [this, id](const sketch::Sketch& drawn) { session_.set_field(id, "drawing", drawn); });
        selection_.clear();
    } else if (draws) {
        // Undo and edits on the card change the drawing too; the solved one follows with the picture.
        const auto& defined = *model::drawing_of(step->definition);
        if (defined.last_id != drawing_.drawn().last_id || defined.curves.size() != drawing_.drawn().curves.size() ||
            !(defined.figures == drawing_.drawn().figures)) {
            drawing_.refresh(defined);
        }
    }
    const bool drew = draws_;
    if (draws != draws_) {
        draws_ = draws;
        show_pointer();
        marked_.clear();
        close_input();
        emit drawing_changed();
    }
    if (session_.card() == 0 && target_) {
        set_pick_target(std::nullopt);
    }
    if (session_.document().steps.empty()) {
        fitted_ = false;
        view_chosen_ = false;
    }
    tell_hint();
    if (draws || draws != drew) {
        repaint_all(); // the drawing is shown at once; bodies wait for their picture
    }
}

model::SketchResultPtr Viewport::card_sketch() const {
    const PicturePtr picture = session_.picture();
    const auto step = session_.document().step(session_.card());
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

int Viewport::card_sketch_step() const {
    const auto step = session_.document().step(session_.card());
    if (!step) {
        return 0;
    }
    if (taken_sketch_.first == step->id) {
        return taken_sketch_.second;
    }
    return model::draws(step->definition) ? step->id : model::sketch_of(step->definition);
}

void Viewport::take_card_sketch(int step) {
    const auto card = session_.document().step(session_.card());
    taken_sketch_ = card && step != model::sketch_of(card->definition) ? std::pair(card->id, step) : std::pair(0, 0);
    card_sketch_ = {};
    repaint_all();
}

} // namespace kervo::app
