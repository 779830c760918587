// Rows of Contents beside bodies and groups: layers, sketches, cutaways, views, materials.
#include "app/contents/contents_tree.h"

#include "app/contents/swatches.h"
#include "app/look/counted.h"
#include "model/document/groups_and_layers.h"

#include <algorithm>

namespace kervo::app {

void ContentsTree::add_layers() {
    const model::Document& document = session_.document();
    if (document.layers.empty()) {
        return;
    }
    const PicturePtr picture = session_.picture();
    auto* head = add_row(nullptr, Row::layers, {}, tr("Layers"), QString::number(document.layers.size()));
    head->setForeground(0, theme_.quiet);
    head->setFlags(Qt::ItemIsEnabled);
    for (const model::Layer& layer : document.layers) {
        const auto count = std::count_if(picture->after.begin(), picture->after.end(), [&](const auto& body) {
            return picture->evaluation->traits.at(body.first).layer == layer.name;
        });
        const bool current = document.current_layer == layer.name;
        QStringList words;
        words << (layer.hidden ? tr("hidden") : QString()) << (layer.locked ? tr("locked") : QString())
              << (current ? tr("current") : QString());
        words.removeAll(QString());
        const QString name = QString::fromStdString(layer.name);
        // One word, so that the names keep their room; the tip has all of them.
        auto* row = add_row(head, Row::layer, name, name, words.isEmpty() ? QString::number(count) : words.first());
        row->setFlags(row->flags() | Qt::ItemIsEditable);
        row->setIcon(0, sheets(layer.hidden ? theme_.quiet : theme_.ink, true));
        QFont weighty = font();
        weighty.setBold(current);
        row->setFont(0, weighty);
        row->setForeground(0, layer.hidden ? theme_.quiet : theme_.ink);
        row->setToolTip(0, tr("%1, a layer with %2%3. A double click makes it current: new bodies lie on it.")
                               .arg(name, counted(count, tr("body"), tr("bodies")),
                                    words.isEmpty() ? QString() : "; " + words.join(", ")));
    }
}

// Hidden ones are written pale, as hidden bodies are.
bool ContentsTree::add_sketches() {
    const model::Document& document = session_.document();
    const auto shown = model::sketches_shown(document);
    std::vector<model::StepPtr> sketches;
    std::copy_if(document.steps.begin(), document.steps.end(), std::back_inserter(sketches),
                 [](const model::StepPtr& step) { return model::draws(step->definition); });
    auto* head = add_row(nullptr, Row::sketches, {}, tr("Sketches"), QString::number(sketches.size()));
    head->setFlags(Qt::ItemIsEnabled);
    head->setForeground(0, theme_.quiet);
    for (const model::StepPtr& step : sketches) {
        const QString name =
            QString::fromStdString(step->name.empty() ? model::title_of(step->definition) : step->name);
        auto* row = add_row(head, Row::sketch, QString::number(step->id), name, QString::number(step->number));
        const bool hidden = !shown.contains(step->id);
        QFont slanted = font();
        slanted.setItalic(hidden);
        row->setFont(0, slanted);
        row->setForeground(0, hidden ? theme_.quiet : theme_.ink);
        row->setToolTip(0, tr("%1, a sketch, %2. A double click opens it; H hides or shows it.")
                               .arg(name, hidden ? tr("hidden") : tr("seen in the model")));
    }
    return !sketches.empty();
}

namespace {

QString shape_in_words(const model::Cutaway& cutaway) {
    using Form = model::Cutaway::Form;
    switch (cutaway.form) {
    case Form::plane:
        return ContentsTree::tr("plane");
    case Form::slab:
        return ContentsTree::tr("slab");
    case Form::box:
        return ContentsTree::tr("box");
    case Form::cylinder:
        return ContentsTree::tr("cylinder");
    case Form::body:
        break;
    }
    return ContentsTree::tr("body");
}

} // namespace

bool ContentsTree::add_cutaways() {
    const auto& all = session_.document().cutaways;
    auto* head = add_row(nullptr, Row::cutaways, {}, tr("Cutaways"), QString::number(all.size()));
    head->setFlags(Qt::ItemIsEnabled);
    head->setForeground(0, theme_.quiet);
    for (const model::Cutaway& cutaway : all) {
        const QString letter = QString::fromStdString(cutaway.letter);
        const QString name = QString::fromStdString(cutaway.name);
        auto* row = add_row(head, Row::cutaway, letter, name.isEmpty() ? letter : name, shape_in_words(cutaway));
        row->setFlags(row->flags() | Qt::ItemIsEditable);
        row->setCheckState(0, cutaway.on ? Qt::Checked : Qt::Unchecked);
        QFont weighty = font();
        weighty.setBold(cutaway.letter == viewport_.hand().cutaway());
        row->setFont(0, weighty);
        row->setForeground(0, cutaway.on ? theme_.ink : theme_.quiet);
        row->setToolTip(0, tr("Cutaway %1; the tick says whether it is on. A click takes it in hand.").arg(letter));
    }
    return !all.empty();
}

bool ContentsTree::add_views() {
    const auto& all = session_.document().views;
    if (all.empty()) {
        return false;
    }
    auto* head = add_row(nullptr, Row::views, {}, tr("Views"), QString::number(all.size()));
    head->setFlags(Qt::ItemIsEnabled);
    head->setForeground(0, theme_.quiet);
    for (const model::View& view : all) {
        const QString name = QString::fromStdString(view.name);
        auto* row = add_row(head, Row::view, name, name, {});
        row->setFlags(row->flags() | Qt::ItemIsEditable);
        QFont weighty = font();
        weighty.setBold(view.name == views_->current());
        row->setFont(0, weighty);
        const QString note = QString::fromStdString(view.note);
        row->setToolTip(0, tr("%1, a view%2. A double click goes there; Y goes to the next one.")
                               .arg(name, note.isEmpty() ? note : ": " + note));
    }
    return true;
}

bool ContentsTree::add_materials() {
    const model::Document& document = session_.document();
    if (document.materials.empty()) {
        return false;
    }
    auto* head = add_row(nullptr, Row::materials, {}, tr("Materials"), QString::number(document.materials.size()));
    head->setFlags(Qt::ItemIsEnabled);
    head->setForeground(0, theme_.quiet);
    for (const model::Material& material : document.materials) {
        const QString name = QString::fromStdString(material.name);
        auto* row = add_row(head, Row::material, name, name,
                            tr("%1 g/cm\u00b3").arg(QString::fromStdString(format_quantity(material.density, "", 3))));
        row->setFlags(row->flags() | Qt::ItemIsEditable);
        row->setIcon(0, swatch(QColor(QString::fromStdString(material.color)), theme_.edge));
        row->setToolTip(
            0, tr("%1, a material. A double click changes it; the menu gives it to the selected bodies.").arg(name));
    }
    return true;
}

} // namespace kervo::app
