#include "app/cards/editor_parts.h"
#include "app/cards/pick_editors.h"
#include "app/cards/step_card.h"
#include "app/look/counted.h"
#include "app/view/tools/answer_tool.h"
#include "app/view/tools/piece_tool.h"
#include "model/document/groups_and_layers.h"

#include <QCheckBox>
#include <QVBoxLayout>

#include <algorithm>

namespace kervo::app {

namespace {

// Bodies to be ticked: those that the profile meets first.
class BodyEditor : public FieldEditor {
public:
    BodyEditor(const model::FieldInfo& info, const CardContext& context, QWidget* parent)
        : FieldEditor(info, context, parent) {
        column_ = new QVBoxLayout(this);
        column_->setContentsMargins(0, 0, 0, 0);
        column_->setSpacing(2);
        if (info_.clicked) {
            connect(&context_.viewport.tool<PieceTool>(), &PieceTool::body_clicked, this,
                    [this](const model::BodyId& id) {
                        if (goes_here(info_, context_.viewport.hand().marker())) {
                            toggle(id);
                        }
                    });
            connect(&context_.viewport.tool<AnswerTool>(), &AnswerTool::picked, this,
                    [this](const model::Reference& reference, const std::string& field) {
                        if (field == info_.key) {
                            toggle(reference.body);
                        }
                    });
        } else { // bodies that are only looked at have a title
            column_->addWidget(new QLabel(QString::fromStdString(info_.label), this));
        }
    }

    void refresh(const model::FieldValue& value) override {
        ticked_ = std::get<model::References>(value);
        const PicturePtr picture = context_.session.picture();
        if (!picture || picture->as_of != context_.step) {
            return;
        }
        std::vector<model::BodyId> wanted;
        for (const auto& [id, body] : picture->before) {
            if (!body->blade && !is_something_else(id)) {
                wanted.push_back(id);
            }
        }
        const auto bodies = wanted;
        for (const model::Group& group : context_.session.document().groups) {
            const auto members = model::members_of(group.id, scene::ids_of(picture->before),
                                                   context_.session.document(), *picture->evaluation);
            if (std::find_first_of(members.begin(), members.end(), bodies.begin(), bodies.end()) != members.end()) {
                wanted.push_back(model::reference_to_group(group.id));
            }
        }
        if (wanted != listed_) {
            rebuild(wanted);
        }
        const bool cuts = info_.writes && model::sweeps(context_.session.document().step(context_.step)->definition);
        std::vector<bool> matters(listed_.size());
        for (size_t i = 0; i < listed_.size(); ++i) {
            if (model::group_meant(listed_[i]) != 0) {
                matters[i] = is_ticked(listed_[i]);
                boxes_[i]->setChecked(matters[i]);
                boxes_[i]->setText(tr("All of %1").arg(context_.name_of(listed_[i])));
                continue;
            }
            const bool with_group = is_in_ticked_group(listed_[i]);
            boxes_[i]->setEnabled(!with_group);
            const bool met = std::find(picture->met.begin(), picture->met.end(), listed_[i]) != picture->met.end();
            const bool on = with_group || is_ticked(listed_[i]);
            matters[i] = on || (cuts && met);
            boxes_[i]->setChecked(on);
            boxes_[i]->setText(context_.name_of(listed_[i]) + (with_group   ? tr(", with its group")
                                                               : !cuts      ? QString()
                                                               : met && !on ? tr(", met but not cut")
                                                               : !met && on ? tr(", not met")
                                                               : !met       ? tr(", clear of it")
                                                                            : QString()));
        }
        fold(matters);
    }

private:
    // In a large model what is chosen, and what a cut meets, stands there; the others are a line that opens them.
    void fold(std::vector<bool> matters) {
        constexpr std::ptrdiff_t most = 6; // shown where nothing matters yet, and folded where it would be fewer
        if (std::none_of(matters.begin(), matters.end(), [](bool it) { return it; })) {
            std::fill(matters.begin(), matters.begin() + std::min(most, std::ssize(matters)), true);
        }
        const auto others = std::count(matters.begin(), matters.end(), false);
        const bool folded = !opened_ && others > most / 2;
        for (size_t i = 0; i < boxes_.size(); ++i) {
            boxes_[i]->setVisible(!folded || matters[i]);
        }
        if (folded && others_ == nullptr) {
            others_ = new FoldedAnswers({}, this);
            others_->setToolTip(tr("Shows all bodies of the model."));
            column_->addWidget(others_);
            connect(others_, &FoldedAnswers::opened, this, [this] {
                opened_ = true;
                refresh(model::References(ticked_));
            });
        }
        if (others_ != nullptr) {
            others_->say(tr("%1 others").arg(others));
            others_->setVisible(folded);
        }
    }

    // A cutter, or a spared body: chosen one by one elsewhere on the card, and not here.
    [[nodiscard]] bool is_something_else(const model::BodyId& id) const {
        const auto step = context_.session.document().step(context_.step);
        for (const model::Field& field :
             step ? model::fields_of(step->definition, true) : std::vector<model::Field>{}) {
            const auto* references = std::get_if<model::References>(&field.value);
            if (references != nullptr && field.info.listed && !is_ticked(id) && model::names_body(*references, id)) {
                return true;
            }
        }
        return false;
    }
    [[nodiscard]] bool is_ticked(const model::BodyId& id) const { return model::names_body(ticked_, id); }

    [[nodiscard]] bool is_in_ticked_group(const model::BodyId& id) const {
        const auto& traits = context_.session.picture()->evaluation->traits;
        const auto own = traits.find(id);
        return own != traits.end() && std::any_of(ticked_.begin(), ticked_.end(), [&](const model::Reference& r) {
                   return r.body != id && model::refers_to(context_.session.document(), r, id, own->second.group);
               });
    }

    void toggle(const model::BodyId& id) {
        auto next = ticked_;
        if (is_ticked(id)) {
            std::erase_if(next, [&](const model::Reference& r) { return r.body == id; });
        } else {
            next.push_back(model::whole(id));
        }
        set(next);
    }

    void rebuild(const std::vector<model::BodyId>& bodies) {
        for (QCheckBox* box : boxes_) {
            box->deleteLater();
        }
        boxes_.clear();
        listed_ = bodies;
        for (const model::BodyId& id : bodies) {
            auto* box = new QCheckBox(this);
            box->setObjectName(QString::fromStdString("tick_" + id));
            box->setToolTip(info_.writes ? tr("Ticked bodies are cut, all others pass untouched.") : toolTip());
            column_->insertWidget(column_->count() - (others_ != nullptr ? 1 : 0), box);
            boxes_.push_back(box);
            connect(box, &QCheckBox::clicked, this, [this, id] { toggle(id); });
        }
    }

    QVBoxLayout* column_;
    model::References ticked_;
    std::vector<model::BodyId> listed_;
    std::vector<QCheckBox*> boxes_;
    FoldedAnswers* others_ = nullptr; ///< what is folded
    bool opened_ = false;
};

} // namespace

bool goes_here(const model::FieldInfo& info, Marker marker) {
    return (info.question == model::Question::what_cuts_it) == (marker == Marker::cutter);
}

FieldEditor* make_body_editor(const model::FieldInfo& info, const CardContext& context, QWidget* parent) {
    return new BodyEditor(info, context, parent);
}

} // namespace kervo::app
