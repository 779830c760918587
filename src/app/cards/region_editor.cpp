#include "app/cards/region_editor.h"
#include "app/view/tools/region_tool.h"

#include "app/cards/chosen_list.h"
#include "app/cards/editor_parts.h"

#include <QGuiApplication>
#include <QMenu>
#include <QPushButton>
#include <QVBoxLayout>

#include <algorithm>

namespace kervo::app {

namespace {

using Regions = model::RegionReferences;

// All of the figure that covers the region, the newest where several do; else the region alone.
sketch::RegionReference reference_to(const model::SketchResult& sketch, int index) {
    const auto& region = sketch.regions[static_cast<size_t>(index)];
    for (auto at = sketch.covered.rbegin(); at != sketch.covered.rend(); ++at) {
        if (std::find(at->second.begin(), at->second.end(), index) != at->second.end()) {
            return {{}, region.inside, at->first};
        }
    }
    return {region.bounds, region.inside, 0};
}

class RegionEditor : public FieldEditor {
public:
    RegionEditor(const model::FieldInfo& info, const CardContext& context, QWidget* parent)
        : FieldEditor(info, context, parent) {
        auto* column = new QVBoxLayout(this);
        column->setContentsMargins(0, 0, 0, 0);
        column->setSpacing(4);
        auto* head = new QWidget(this);
        auto* row = row_of(head);
        count_ = new QLabel(head);
        row->addWidget(count_, 1);
        for (const bool all : {true, false}) {
            auto* button = new QPushButton(all ? tr("All") : tr("None"), head);
            button->setObjectName("plain");
            button->setAccessibleName(all ? tr("Take all regions") : tr("Take no region"));
            button->setToolTip(
                all ? tr("Takes every region of the sketch. Click regions in the model to take them one by one; a "
                         "click on words, a ring or a row takes all of it, with Shift only what is under the pointer.")
                    : tr("Leaves all regions of the sketch."));
            connect(button, &QPushButton::clicked, this, [this, all] { take_all(all); });
            row->addWidget(button);
        }
        auto* more = new QPushButton(tr("More"), head);
        more->setObjectName("plain");
        more->setAccessibleName(tr("More about regions"));
        more->setToolTip(tr("Regions of other sketches, and what each has of its own."));
        connect(more, &QPushButton::clicked, this, [this, more] { open_menu(more); });
        row->addWidget(more);
        column->addWidget(head);
        list_ = new ChosenList(info_, this);
        column->addWidget(list_);
        connect(list_, &ChosenList::taken_off, this, [this](int index) {
            Regions next = chosen_;
            next.erase(next.begin() + index);
            set(next);
        });
        connect(list_, &ChosenList::own_given, this, [this](int index, const QString& formula) {
            Regions next = chosen_;
            next[static_cast<size_t>(index)].own.text = formula.trimmed().toStdString();
            set(next);
        });
        connect(&context_.viewport.tool<RegionTool>(), &RegionTool::region_clicked, this,
                [this](int index) { toggle({index}); });
        connect(&context_.viewport.tool<RegionTool>(), &RegionTool::regions_framed, this,
                [this](const auto& all) { toggle(all); });
    }

    void refresh(const model::FieldValue& value) override {
        chosen_ = std::get<Regions>(value);
        const auto sketch = context_.viewport.shown().card_sketch();
        const int other = in_hand() == own_sketch() ? 0 : in_hand();
        count_->setText(!sketch
                            ? tr("no regions yet")
                            : tr("%1 of %2 regions").arg(taken(*sketch, chosen_).size()).arg(sketch->regions.size()) +
                                  (other == 0 ? QString() : tr(" of %1").arg(number_of(other))));
        const bool with_own = !info_.each_label.empty() &&
                              (each_ || std::any_of(chosen_.begin(), chosen_.end(),
                                                    [](const auto& region) { return !region.own.text.empty(); }));
        const bool several =
            std::any_of(chosen_.begin(), chosen_.end(), [](const auto& region) { return region.sketch != 0; });
        std::vector<ChosenList::Line> lines;
        for (const model::ChosenRegion& region : with_own || several ? chosen_ : Regions{}) {
            const QString place = tr("at %1, %2").arg(region.near[0], 0, 'f', 1).arg(region.near[1], 0, 'f', 1);
            lines.push_back({several ? tr("%1 %2").arg(number_of(sketch_of(region)), place) : place,
                             QString::fromStdString(region.own.text)});
        }
        list_->show_lines(lines, with_own);
    }

private:
    [[nodiscard]] int own_sketch() const {
        const auto step = context_.session.document().step(context_.step);
        return step ? model::sketch_of(step->definition) : 0;
    }
    [[nodiscard]] int in_hand() const { return context_.viewport.shown().card_sketch_step(); }
    [[nodiscard]] int sketch_of(const model::ChosenRegion& region) const {
        return region.sketch != 0 ? region.sketch : own_sketch();
    }
    [[nodiscard]] QString number_of(int id) const {
        const auto step = context_.session.document().step(id);
        return !step ? tr("?") : QString("%1 %2").arg(step->number).arg(QString::fromStdString(step->name));
    }

    void open_menu(const QWidget* button) {
        QMenu menu(this);
        menu.addSection(tr("Clicks take regions of"));
        for (const auto& step : context_.session.document().steps) {
            if (step->id == context_.step) {
                break;
            }
            if (model::draws(step->definition)) {
                auto* action = menu.addAction(number_of(step->id), this, [this, id = step->id] {
                    context_.viewport.shown().take_card_sketch(id);
                    context_.viewport.repaint_all();
                    refresh(chosen_);
                });
                action->setCheckable(true);
                action->setChecked(step->id == in_hand());
            }
        }
        if (!info_.each_label.empty()) {
            menu.addSeparator();
            auto* each =
                menu.addAction(tr("%1 for each region").arg(QString::fromStdString(info_.each_label)), this, [this] {
                    each_ = !each_;
                    refresh(chosen_);
                });
            each->setCheckable(true);
            each->setChecked(each_);
        }
        menu.exec(button->mapToGlobal(QPoint(0, button->height())));
    }

    void take_all(bool all) {
        Regions next = chosen_;
        std::erase_if(next, [&](const auto& region) { return sketch_of(region) == in_hand(); });
        const auto sketch = context_.viewport.shown().card_sketch();
        for (int i = 0; all && sketch && i < static_cast<int>(sketch->regions.size()); ++i) {
            if (!taken(*sketch, next).contains(i)) {
                next.push_back(chosen(reference_to(*sketch, i)));
            }
        }
        set(next);
    }

    // What is chosen goes, where all of these are; else what is missing comes.
    void toggle(const std::vector<int>& regions) {
        const auto sketch = context_.viewport.shown().card_sketch();
        if (!sketch) {
            return;
        }
        auto next = chosen_;
        std::set<int> known = taken(*sketch, next);
        if (std::all_of(regions.begin(), regions.end(), [&](int index) { return known.contains(index); })) {
            std::erase_if(next, [&](const model::ChosenRegion& reference) {
                const auto meant = sketch_of(reference) == in_hand() ? sketch->meant_by(reference) : std::vector<int>{};
                return std::any_of(meant.begin(), meant.end(), [&](int index) {
                    return std::find(regions.begin(), regions.end(), index) != regions.end();
                });
            });
            set(next);
            return;
        }
        const bool alone = QGuiApplication::keyboardModifiers().testFlag(Qt::ShiftModifier);
        for (const int index : regions) {
            if (known.contains(index)) {
                continue; // also by a figure that covers it
            }
            const auto& region = sketch->regions[static_cast<size_t>(index)];
            next.push_back(chosen(alone ? sketch::RegionReference{region.bounds, region.inside, 0}
                                        : reference_to(*sketch, index)));
            known = taken(*sketch, next);
        }
        set(next);
    }
    // Of the sketch whose regions are clicked.
    [[nodiscard]] std::set<int> taken(const model::SketchResult& sketch, const Regions& references) const {
        std::set<int> all;
        for (const auto& reference : references) {
            if (sketch_of(reference) == in_hand()) {
                const auto meant = sketch.meant_by(reference);
                all.insert(meant.begin(), meant.end());
            }
        }
        return all;
    }
    [[nodiscard]] model::ChosenRegion chosen(const sketch::RegionReference& reference) const {
        return {reference.bounds, reference.near, reference.figure, in_hand() == own_sketch() ? 0 : in_hand()};
    }

    QLabel* count_;
    ChosenList* list_;
    Regions chosen_;
    bool each_ = false; ///< what each has of its own is shown, also where none has anything yet
};

} // namespace

FieldEditor* make_region_editor(const model::FieldInfo& info, const CardContext& context, QWidget* parent) {
    return new RegionEditor(info, context, parent);
}

} // namespace kervo::app
