#include "app/contents/cutaway_card.h"

#include "app/look/counted.h"
#include "model/document/cutaways.h"
#include "model/document/groups_and_layers.h"
#include "model/looking/taken_away.h"

#include <QGridLayout>
#include <QStyle>

#include <cmath>

namespace kervo::app {

using model::Cutaway;
using Form = Cutaway::Form;
using Scope = Cutaway::Scope;

// How far along its axis, counted the way in which the axis runs.
static double place_along(const Cutaway& cutaway) {
    const Vector3 z = model::frame_of(cutaway).z;
    const double sign = z.x + z.y + z.z < 0 ? -1 : 1;
    return (Point3(cutaway.origin) - Point3()).dot(z) * sign + 0.0;
}

static void show_number(QLineEdit* field, double value) {
    if (!field->hasFocus()) {
        field->setText(QString::fromStdString(format_quantity(value, "mm", 3)));
        field->setProperty("wrong", false);
        field->style()->polish(field);
    }
}

// --- Building -------------------------------------------------------------------------------------------------------

CutawayCard::CutawayCard(Session& session, Viewport& viewport, ContentsTree& tree, QWidget* parent)
    : QWidget(parent), session_(session), viewport_(viewport), tree_(tree) {
    setObjectName("side");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(14, 8, 14, 8);
    column->setSpacing(4);
    build_head(*column);
    grid_ = new QGridLayout;
    grid_->setHorizontalSpacing(8);
    grid_->setVerticalSpacing(4);
    grid_->setColumnStretch(1, 1);
    column->addLayout(grid_);
    build_where();
    build_whom();
    areas_ = new QLabel(this);
    areas_->setObjectName("quiet");
    areas_->setWordWrap(true);
    areas_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    areas_->setAccessibleName(tr("Areas that it cuts"));
    areas_->setToolTip(tr("How large the faces are that it cuts, body by body."));
    areas_->setFocusPolicy(Qt::TabFocus);
    column->addWidget(areas_);
    connect(&session_, &Session::pictured, this, &CutawayCard::refresh);
    connect(&session_, &Session::changed, this, &CutawayCard::refresh);
    connect(&viewport_.hand(), &InHand::cutaway_changed, this, &CutawayCard::refresh);
    refresh();
}

void CutawayCard::build_head(QVBoxLayout& column) {
    auto* head = new QHBoxLayout;
    head->setSpacing(4);
    title_ = new QLabel(this);
    title_->setObjectName("heading");
    head->addWidget(title_, 1);
    suspend_ = button(tr("Off"), tr("Cutaway off or on"), tr("Shows what it takes away, until it is on again."),
                      &CutawayCard::suspend);
    head->addWidget(suspend_);
    head->addWidget(
        button(tr("Flip"), {}, tr("Takes away the other side, or all but what it takes now."), &CutawayCard::flip));
    head->addWidget(button(tr("Copy"), tr("Copy the cutaway"), tr("Another one like it, with the next letter."),
                           &CutawayCard::copy));
    head->addWidget(button(QString::fromUtf8("\u00d7"), tr("Remove the cutaway"),
                           tr("Removes it; what it took away is shown again."), &CutawayCard::remove));
    column.addLayout(head);
}

void CutawayCard::build_where() {
    side_ = choice({tr("takes away"), tr("leaves only")}, tr("What the cutaway does"),
                   tr("Whether what lies there is not shown, or nothing else is."), &CutawayCard::take_side);
    form_ =
        choice({tr("one side"), tr("a slab"), tr("a box"), tr("a cylinder"), tr("a body")}, tr("Shape of the cutaway"),
               tr("What lies on one side of a plane, between two, in a box, ..."), &CutawayCard::take_form);
    auto* what = new QHBoxLayout;
    what->setSpacing(4);
    what->addWidget(side_, 1);
    what->addWidget(form_, 1);
    grid_->addLayout(what, 0, 0, 1, 2);
    axis_ = choice({tr("across x"), tr("across y"), tr("across z"), tr("oblique")}, tr("Direction of the cutaway"),
                   tr("Which axis the cutaway lies across; of a cylinder or a box the one that it stands along."),
                   &CutawayCard::take_axis);
    offset_ = number(tr("Place of the cutaway"),
                     tr("How far along that axis, in mm; a formula is fine. Or pull the knob in the model."));
    connect(offset_, &QLineEdit::editingFinished, this, &CutawayCard::take_place);
    grid_->addWidget(axis_, 1, 0);
    grid_->addWidget(offset_, 1, 1);
    way_row_ = add_row(tr("Looks"), three_numbers(way_, {tr("Direction, x"), tr("Direction, y"), tr("Direction, z")},
                                                  tr("The way that the plane looks, or the axis lies; any length.")));
    middle_row_ = add_row(tr("Middle"), three_numbers(middle_, {tr("Middle, x"), tr("Middle, y"), tr("Middle, z")},
                                                      tr("Where its middle lies, in mm; formulas are fine.")));
    size_row_ = add_row(tr("Size"), three_numbers(size_, {tr("Size, x"), tr("Size, y"), tr("Size, z")},
                                                  tr("How large it is, in mm; formulas are fine.")));
    const std::array<std::array<double, 3> Cutaway::*, 3> into{&Cutaway::normal, &Cutaway::origin, &Cutaway::size};
    const std::array<std::array<QLineEdit*, 3>*, 3> triples{&way_, &middle_, &size_};
    for (size_t i = 0; i < triples.size(); ++i) {
        for (QLineEdit* field : *triples[i]) {
            connect(field, &QLineEdit::editingFinished, this, [this, fields = triples[i], place = into[i], i] {
                take_numbers(*fields, place, i == 0 ? Dimension{} : length_dimension);
            });
        }
    }
    auto* body = new QWidget(this);
    auto* bodies = new QHBoxLayout(body);
    bodies->setContentsMargins(0, 0, 0, 0);
    body_ = new QLabel(body);
    bodies->addWidget(body_, 1);
    bodies->addWidget(button(tr("Take selected"), tr("Take the selected body"),
                             tr("The selected solid is what the cutaway cuts with."), &CutawayCard::take_body));
    body_row_ = add_row(tr("Body"), body);
}

void CutawayCard::build_whom() {
    scope_ =
        choice({tr("all bodies"), tr("all but"), tr("only")}, tr("Whom the cutaway concerns"),
               tr("Which bodies it opens. Ticks in Contents say the same, body by body."), &CutawayCard::take_scope);
    add_row(tr("Opens"), scope_);
    members_ = new QLabel(this);
    members_->setObjectName("quiet");
    members_->setWordWrap(true);
    take_ = button(tr("Take selected"), tr("Take what is selected"),
                   tr("Bodies, groups and layers that are selected now."), &CutawayCard::take_members);
    auto* listed = new QHBoxLayout;
    listed->addWidget(members_, 1);
    listed->addWidget(take_, 0, Qt::AlignTop);
    grid_->addLayout(listed, grid_->rowCount(), 0, 1, 2);
    fill_ = choice({tr("by material"), tr("one colour\u2026")}, tr("Fill of cut faces"),
                   tr("How faces that it cuts are filled."), &CutawayCard::take_fill);
    add_row(tr("Fill"), fill_);
}

CutawayCard::Row CutawayCard::add_row(const QString& text, QWidget* field) {
    auto* label = new QLabel(text, this);
    label->setObjectName("quiet");
    const int row = grid_->rowCount();
    grid_->addWidget(label, row, 0);
    grid_->addWidget(field, row, 1);
    return {label, field};
}

QComboBox* CutawayCard::choice(const QStringList& words, const QString& name, const QString& tip,
                               void (CutawayCard::*take)(int)) {
    auto* box = new QComboBox(this);
    box->addItems(words);
    box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon); // the column keeps its width
    box->setMinimumContentsLength(4);
    box->setObjectName(name);
    box->setAccessibleName(name);
    box->setToolTip(tip);
    connect(box, &QComboBox::activated, this, take);
    return box;
}

QLineEdit* CutawayCard::number(const QString& name, const QString& tip) {
    auto* field = new QLineEdit(this);
    field->setObjectName(name);
    field->setAccessibleName(name);
    field->setToolTip(tip);
    return field;
}

QWidget* CutawayCard::three_numbers(std::array<QLineEdit*, 3>& fields, const std::array<QString, 3>& names,
                                    const QString& tip) {
    auto* row = new QWidget(this);
    auto* side_by_side = new QHBoxLayout(row);
    side_by_side->setContentsMargins(0, 0, 0, 0);
    side_by_side->setSpacing(4);
    for (size_t i = 0; i < fields.size(); ++i) {
        fields[i] = number(names[i], tip);
        fields[i]->setMinimumWidth(36);
        side_by_side->addWidget(fields[i], 1);
    }
    return row;
}

QPushButton* CutawayCard::button(const QString& text, const QString& name, const QString& tip,
                                 void (CutawayCard::*press)()) {
    auto* made = new QPushButton(text, this);
    made->setObjectName("plain");
    made->setToolTip(tip);
    made->setAccessibleName(name);
    connect(made, &QPushButton::clicked, this, press);
    return made;
}

// --- What is shown --------------------------------------------------------------------------------------------------

std::optional<Cutaway> CutawayCard::in_hand() const {
    return viewport_.shown().cutaway_in_hand();
}

QString CutawayCard::name_of(const model::BodyId& body) const {
    const auto* traits = viewport_.shown().traits_of(body);
    return QString::fromStdString(traits == nullptr ? body : traits->name);
}

QString CutawayCard::members_in_words(const Cutaway& cutaway) const {
    QStringList words;
    for (const std::string& member : cutaway.members) {
        const auto layer = model::layer_of(member);
        const auto* group = model::find_group(session_.document(), model::group_meant(member));
        words << (layer              ? tr("layer %1").arg(QString::fromStdString(*layer))
                  : group != nullptr ? QString::fromStdString(group->name)
                                     : name_of(member));
    }
    return words.isEmpty() ? tr("nothing yet") : words.join(", ");
}

// The largest first; the rest as one sum.
QString CutawayCard::areas_in_words(const Cutaway& cutaway) const {
    const PicturePtr picture = session_.picture();
    std::vector<std::pair<double, QString>> areas;
    double sum = 0;
    for (const model::CutArea& each : picture ? picture->cut_areas : std::vector<model::CutArea>()) {
        if (each.letter == cutaway.letter) {
            areas.emplace_back(each.area, name_of(each.body));
            sum += each.area;
        }
    }
    if (!cutaway.on) {
        return tr("Off: nothing is taken away.");
    }
    if (areas.empty()) {
        return tr("It cuts no solid here.");
    }
    std::stable_sort(areas.begin(), areas.end(), [](const auto& a, const auto& b) { return a.first > b.first; });
    const auto text = [&](double area) { return quantity_text({area, {2, 0}}, session_.document().unit); };
    constexpr size_t most = 4;
    QStringList lines;
    double rest = sum;
    for (size_t i = 0; i < areas.size() && i < most; ++i) {
        lines << tr("%1: %2").arg(areas[i].second, text(areas[i].first));
        rest -= areas[i].first;
    }
    if (areas.size() > most) {
        lines << tr("%1 more: %2").arg(areas.size() - most).arg(text(rest));
    }
    if (areas.size() > 1) {
        lines << tr("In all: %1").arg(text(sum));
    }
    return lines.join('\n');
}

void CutawayCard::refresh() {
    const auto cutaway = in_hand();
    if (!cutaway && !session_.document().cutaways.empty()) {
        viewport_.hand().take_cutaway(session_.document().cutaways.front().letter); // comes back here
        return;
    }
    setVisible(cutaway.has_value());
    if (cutaway) {
        refresh_fields(*cutaway);
    }
}

void CutawayCard::refresh_fields(const Cutaway& cutaway) {
    const QString name = QString::fromStdString(cutaway.name);
    title_->setText(tr("Cutaway %1").arg(QString::fromStdString(cutaway.letter)));
    title_->setToolTip(name.isEmpty() ? title_->text() : name);
    suspend_->setText(cutaway.on ? tr("Off") : tr("On"));
    form_->setCurrentIndex(static_cast<int>(cutaway.form));
    side_->setCurrentIndex(cutaway.keeps ? 1 : 0);
    const int axis = axis_of(cutaway);
    const bool flat = is_flat(cutaway);
    const bool by_body = cutaway.form == Form::body;
    for (int i = 0; i < oblique_axis; ++i) {
        axis_->setItemText(i, (flat ? tr("across %1") : tr("along %1")).arg(QChar('x' + i)));
    }
    axis_->setCurrentIndex(axis);
    axis_->setVisible(!by_body);
    show_number(offset_, place_along(cutaway));
    offset_->setVisible(flat);
    grid_->addWidget(axis_, 1, 0, 1, flat ? 1 : 2);
    const auto show = [](const Row& row, bool shown) {
        row.label->setVisible(shown);
        row.field->setVisible(shown);
    };
    show(way_row_, axis == oblique_axis && !by_body);
    show(middle_row_, !flat && !by_body);
    show(size_row_, cutaway.form != Form::plane && !by_body);
    show(body_row_, by_body);
    members_->setVisible(cutaway.scope != Scope::all);
    take_->setVisible(cutaway.scope != Scope::all);
    const Vector3 z = model::frame_of(cutaway).z;
    for (size_t i = 0; i < 3; ++i) {
        show_number(way_[i], std::array{z.x, z.y, z.z}[i]);
        show_number(middle_[i], cutaway.origin[i]);
        show_number(size_[i], cutaway.size[i]);
    }
    const bool round = cutaway.form == Form::cylinder;
    const bool slab = cutaway.form == Form::slab;
    size_[0]->setVisible(!slab);
    size_[1]->setVisible(!slab && !round);
    size_row_.label->setText(slab ? tr("Thick") : round ? tr("\u2300, long") : tr("Size"));
    body_->setText(cutaway.body.empty() ? tr("none yet") : name_of(cutaway.body));
    scope_->setCurrentIndex(static_cast<int>(cutaway.scope));
    members_->setText(members_in_words(cutaway));
    fill_->setCurrentIndex(cutaway.fill.empty() ? 0 : 1);
    areas_->setText(areas_in_words(cutaway));
}

} // namespace kervo::app
