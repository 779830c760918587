// What the card of a cutaway does to the document, and its verbs.
#include "app/contents/cutaway_card.h"

#include "model/document/cutaways.h"

#include <QColorDialog>
#include <QStyle>

#include <cmath>
#include <numbers>

namespace kervo::app {

using model::Cutaway;
using Form = Cutaway::Form;
using Scope = Cutaway::Scope;

int axis_of(const Cutaway& cutaway) {
    const Vector3 z = model::frame_of(cutaway).z;
    const std::array<double, 3> along{z.x, z.y, z.z};
    for (size_t i = 0; i < 3; ++i) {
        if (std::fabs(along[i]) > 1 - 1e-12) {
            return static_cast<int>(i);
        }
    }
    return oblique_axis;
}

bool is_flat(const Cutaway& cutaway) {
    return cutaway.form == Form::plane || cutaway.form == Form::slab;
}

void CutawayCard::change(const Change& how) {
    if (auto cutaway = in_hand()) {
        how(*cutaway);
        session_.set_cutaway(*cutaway);
        refresh();
    }
}

std::optional<double> CutawayCard::read(QLineEdit* field, const Dimension& dimension) const {
    const auto value = evaluate_as(field->text().toStdString(), session_.parameters().values, dimension);
    field->setProperty("wrong", !value.ok());
    field->style()->polish(field);
    return value.ok() ? std::optional(*value) : std::nullopt;
}

void CutawayCard::take_place() {
    const auto place = read(offset_, length_dimension);
    if (place && offset_->isModified()) {
        offset_->setModified(false);
        change([&](Cutaway& cutaway) {
            const Vector3 z = model::frame_of(cutaway).z;
            const double sign = z.x + z.y + z.z < 0 ? -1 : 1;
            cutaway.origin = (Point3() + z * (sign * *place)).array();
        });
    }
}

void CutawayCard::take_numbers(const std::array<QLineEdit*, 3>& fields, std::array<double, 3> Cutaway::*into,
                               const Dimension& dimension) {
    const auto cutaway = in_hand();
    if (!cutaway || std::none_of(fields.begin(), fields.end(), [](QLineEdit* f) { return f->isModified(); })) {
        return;
    }
    std::array<double, 3> numbers = (*cutaway).*into;
    for (size_t i = 0; i < 3; ++i) {
        const auto value = fields[i]->isModified() ? read(fields[i], dimension) : std::optional(numbers[i]);
        if (!value) {
            return;
        }
        numbers[i] = *value;
    }
    const bool is_size = into == &Cutaway::size;
    const bool is_way = into == &Cutaway::normal;
    const bool none = Vector3(numbers).length() < 1e-9;
    if ((is_size && *std::min_element(numbers.begin(), numbers.end()) <= 0) || (is_way && none)) {
        for (QLineEdit* field : fields) {
            field->setProperty("wrong", field->isModified());
            field->style()->polish(field);
        }
        return;
    }
    for (QLineEdit* field : fields) {
        field->setModified(false);
    }
    change([&](Cutaway& changed) { changed.*into = numbers; });
}

void CutawayCard::take_axis(int axis) {
    if (axis != oblique_axis) {
        change([&](Cutaway& cutaway) {
            cutaway.normal = {0, 0, 0};
            cutaway.normal[static_cast<size_t>(axis)] = axis == 1 && is_flat(cutaway) ? -1 : 1;
            cutaway.across = axis == 0 ? model::Place{0, 1, 0} : model::Place{1, 0, 0};
        });
    } else if (const auto cutaway = in_hand(); cutaway && axis_of(*cutaway) != oblique_axis) {
        change([](Cutaway& leaning) { // by a little, so that there is something to go on from
            const Frame3 frame = model::frame_of(leaning);
            constexpr double lean = 15 * std::numbers::pi / 180;
            leaning = model::turned(leaning, frame.origin, frame.x, lean);
        });
    }
}

void CutawayCard::take_form(int index) {
    const auto form = static_cast<Form>(index);
    const PicturePtr picture = session_.picture();
    change([&](Cutaway& cutaway) {
        const bool was_flat = is_flat(cutaway);
        cutaway.form = form;
        if (form == Form::plane) {
            cutaway.keeps = false;
        }
        if (was_flat && !is_flat(cutaway) && picture) { // about the middle of what there is to see
            const Frame3 frame = model::frame_of(cutaway);
            const Point3 middle = viewport_.shown().bounds_seen().middle();
            cutaway.origin = (middle - frame.z * (middle - frame.origin).dot(frame.z)).array();
            const double size = std::round(viewport_.shown().bounds_seen().diagonal() / 3);
            cutaway.size = {size, size, size};
        } else if (form == Form::slab && picture) {
            cutaway.size[2] = std::max(std::round(viewport_.shown().bounds_seen().diagonal() / 10), 1.0);
        }
        const auto solids = viewport_.shown().selected_bodies();
        if (form == Form::body && cutaway.body.empty() && !solids.empty()) {
            cutaway.body = solids.front();
        }
    });
}

void CutawayCard::take_side(int side) {
    change([&](Cutaway& cutaway) { cutaway.keeps = side == 1; });
}

void CutawayCard::take_scope(int scope) {
    change([&](Cutaway& cutaway) {
        cutaway.scope = static_cast<Scope>(scope);
        if (cutaway.scope == Scope::all) {
            cutaway.members.clear();
        } else if (cutaway.members.empty()) {
            cutaway.members = tree_.scope_members();
        }
    });
}

void CutawayCard::take_members() {
    change([&](Cutaway& cutaway) { cutaway.members = tree_.scope_members(); });
}

void CutawayCard::take_body() {
    const auto chosen = viewport_.shown().selected_bodies();
    if (!chosen.empty()) {
        change([&](Cutaway& cutaway) { cutaway.body = chosen.front(); });
    }
}

void CutawayCard::take_fill(int fill) {
    QColor color;
    if (fill == 1) {
        color = QColorDialog::getColor(Qt::white, this, tr("Fill of cut faces"));
    }
    change([&](Cutaway& cutaway) { cutaway.fill = color.isValid() ? color.name().toStdString() : std::string(); });
    refresh();
}

// --- Verbs ----------------------------------------------------------------------------------------------------------

void CutawayCard::place(Form form) {
    const PicturePtr picture = session_.picture();
    if (!picture || picture->after.empty()) {
        return;
    }
    Cutaway cutaway;
    cutaway.letter = model::free_letter(session_.document().cutaways);
    cutaway.form = form;
    const Box3 all = viewport_.shown().bounds_seen();
    const Point3 middle = all.middle();
    cutaway.origin = {0, middle.y, 0};
    for (const model::Reference& reference : viewport_.hand().selection()) {
        if (const auto plane = viewport_.shown().plane_of(reference); plane && is_flat(cutaway)) {
            cutaway.origin = (plane->origin - plane->z).array(); // a millimetre inside, where there is something to see
            cutaway.normal = {plane->z.x, plane->z.y, plane->z.z};
            break;
        }
    }
    const auto chosen = viewport_.shown().selected_bodies();
    if (form == Form::slab) {
        cutaway.size[2] = std::max(std::round(all.diagonal() / 10), 1.0);
    } else if (form == Form::box || form == Form::cylinder) {
        // The corner that is in front as one looks at first: what lies inside is seen at once.
        Box3 box = all;
        if (!chosen.empty()) {
            box = viewport_.shown().body(chosen.front())->box;
        }
        const Point3 corner(box.high.x, box.low.y, box.high.z);
        const Vector3 half = (corner - box.middle()) * 1.02;
        const auto round_up = [](double v) { return std::max(std::ceil(std::fabs(v)), 1.0); };
        cutaway.normal = {0, 0, 1};
        cutaway.size = {round_up(half.x), round_up(half.y), round_up(half.z)};
        cutaway.origin = {box.middle().x + cutaway.size[0] / 2, box.middle().y - cutaway.size[1] / 2,
                          box.middle().z + cutaway.size[2] / 2};
        if (form == Form::cylinder) {
            // Across the front, in the middle.
            cutaway.size = {round_up(std::min(std::fabs(half.x), std::fabs(half.y))), 1, round_up(2.2 * half.z)};
            cutaway.origin = {box.middle().x, box.low.y, box.middle().z};
        }
    } else if (form == Form::body && !chosen.empty()) {
        cutaway.body = chosen.front();
    }
    session_.set_cutaway(cutaway);
    viewport_.hand().take_cutaway(cutaway.letter);
}

void CutawayCard::flip() {
    change([](Cutaway& cutaway) { cutaway = model::flipped(cutaway); });
}

void CutawayCard::copy() {
    if (auto cutaway = in_hand()) {
        cutaway->letter = model::free_letter(session_.document().cutaways);
        session_.set_cutaway(*cutaway);
        viewport_.hand().take_cutaway(cutaway->letter);
    }
}

void CutawayCard::suspend() {
    change([](Cutaway& cutaway) { cutaway.on = !cutaway.on; });
}

void CutawayCard::remove() {
    if (const auto cutaway = in_hand()) {
        session_.remove_cutaway(cutaway->letter);
    }
}

std::vector<Verb> CutawayCard::verbs() {
    const auto has_document = [this] { return !session_.document().steps.empty(); };
    const auto cutting = [this] { return in_hand().has_value(); };
    const auto places = [this](Form form) { return [this, form] { place(form); }; };
    const BarGroup inside = BarGroup::inside;
    return {
        {"cutaway", inside, tr("Cutaway"), tr("Opens the picture at the selected flat face, or through the middle."),
         "K", places(Form::plane), has_document},
        {"cutaway_slab", inside, tr("Cutaway by a slab"), tr("Takes away what lies between two planes."), "",
         places(Form::slab), has_document},
        {"cutaway_box", inside, tr("Cutaway by a box"), tr("Takes away a corner, or all but what lies in a box."), "",
         places(Form::box), has_document},
        {"cutaway_cylinder", inside, tr("Cutaway by a cylinder"), tr("Takes away what lies in a cylinder."), "",
         places(Form::cylinder), has_document},
        {"cutaway_body", inside, tr("Cutaway by a body"),
         tr("Takes away what lies in the selected solid, which is not shown itself."), "", places(Form::body),
         has_document},
        {"flip_cutaway", inside, tr("Flip the cutaway"), tr("Takes away the other side."), "Shift+K",
         [this] { flip(); }, cutting},
        {"copy_cutaway", inside, tr("Copy the cutaway"), tr("Another one like it, with the next letter."), "",
         [this] { copy(); }, cutting},
        {"suspend_cutaway", inside, tr("Cutaway off or on"), tr("Shows what it takes away, until it is on again."), "",
         [this] { suspend(); }, cutting},
        {"remove_cutaway", inside, tr("Remove the cutaway"), tr("Shows what it took away again."), "",
         [this] { remove(); }, cutting},
    };
}

} // namespace kervo::app
