#include "scene/picture.h"

#include "model/document/groups_and_layers.h"
#include "model/sketching/drawn_curves.h"

#include <Standard_Failure.hxx>
#include <spdlog/spdlog.h>

#include <algorithm>

namespace kervo::scene {

namespace {

Finding not_drawn(const std::string& cause) {
    Finding finding = warning_finding("picture.failed", "Something here could not be drawn, though it is there.",
                                      "What is made of it, and what files get, is right all the same.");
    finding.trace = {cause};
    return finding;
}

} // namespace

std::optional<model::Element> Picture::meant(const model::Reference& reference) const {
    const auto owner = scene::find_body(before, reference.body);
    if (const auto exact = owner ? owner->elements->find(reference) : std::nullopt) {
        return exact;
    }
    const auto known =
        std::find_if(found.begin(), found.end(), [&](const auto& each) { return each.first == reference; });
    return known == found.end() ? std::nullopt : known->second;
}

namespace {

Finding nothing_taken() {
    return error_finding("taken.nothing", "There is nothing that could be taken.", "Pick another one.");
}

} // namespace

TakeAnswer PictureMaker::answer(const TakeQuestion& question) const try {
    if (!newest_) {
        return nothing_taken();
    }
    const model::Evaluation& evaluation = *newest_->evaluation;
    const auto sketch = evaluation.sketches.find(question.sketch);
    model::BodyPtr body;
    for (const auto& [id, known] : evaluation.bodies_as_of(question.sketch)) {
        body = id == question.body ? known : body;
    }
    if (sketch == evaluation.sketches.end() || !body) {
        return nothing_taken();
    }
    const gp_Ax3& frame = sketch->second->frame;
    switch (question.what) {
    case TakeQuestion::What::section:
        return model::take_section(question.body, *body, frame);
    case TakeQuestion::What::silhouette:
        return model::take_silhouette(question.body, *body, frame);
    case TakeQuestion::What::edges:
        break;
    }
    const auto element = model::shape_of(*body, question.element);
    return element.IsNull() ? TakeAnswer(nothing_taken()) : model::take_edges(question.body, *body, element, frame);
} catch (const Standard_Failure& failure) {
    spdlog::warn("a question is not answered: {}", failure.GetMessageString());
    return nothing_taken();
}

FreezeAnswer PictureMaker::answer(const FreezeQuestion& question) const try {
    FreezeAnswer texts;
    if (!newest_) {
        return texts;
    }
    const auto& traits = newest_->evaluation->traits;
    for (const auto& [id, body] : newest_->evaluation->bodies_as_of(newest_->as_of)) {
        if (std::find(question.bodies.begin(), question.bodies.end(), id) != question.bodies.end()) {
            texts.emplace_back(id, writer_(traits.at(id).name, traits.at(id).color, *body));
        }
    }
    return texts;
} catch (const Standard_Failure& failure) {
    spdlog::warn("bodies are not written: {}", failure.GetMessageString());
    return {};
}

namespace {

// What the names of the card do not tell by themselves: what was divided, changed or picked by hand.
void find_references(Picture& picture, const PictureRequest& request, const BodyShower::Bodies& before) {
    const model::StepPtr step = request.document.step(request.as_of);
    for (const auto& field : step ? model::fields_of(step->definition, true) : std::vector<model::Field>{}) {
        const auto* references = std::get_if<model::References>(&field.value);
        for (const model::Reference& reference : references == nullptr ? model::References{} : *references) {
            const auto body = std::find_if(before.begin(), before.end(),
                                           [&](const auto& each) { return each.first == reference.body; });
            const auto shown = find_body(picture.before, reference.body);
            if (reference.kind == model::ElementKind::body || body == before.end() || !shown ||
                shown->elements->find(reference)) {
                continue;
            }
            const auto found = model::resolve(reference, body->second.get()).element;
            picture.found.emplace_back(reference,
                                       found.IsNull() ? std::nullopt : model::element_of(*body->second, found));
        }
    }
}

} // namespace

void PictureMaker::add_card_lines(Picture& picture, const PictureRequest& request, const Bodies& before,
                                  Progress& progress) {
    const model::StepReport* report = picture.evaluation->report(request.as_of);
    const model::StepPtr step = request.document.step(request.as_of);
    if (report == nullptr || !step) {
        return;
    }
    double size = 1;
    for (const auto& [id, body] : before) {
        size = std::max(size, size_of(*body));
    }
    if (report->output) {
        for (const model::Piece& piece : report->output->pieces) {
            picture.pieces.push_back(lines_of_piece(piece.shape, size / 60));
        }
        for (const geom::Blade& blade : report->output->blades) {
            picture.blades.push_back(shown(blade));
        }
    }
    if (model::sets_verdicts(step->definition)) {
        const auto inputs =
            model::inputs_before(request.document, *picture.evaluation, request.as_of, services_, progress);
        const auto ids = ids_of(picture.before);
        const auto members = [&](int group) {
            return model::members_of(group, ids, request.document, *picture.evaluation);
        };
        picture.met = model::bodies_met(model::without_groups(step->definition, members), inputs);
    }
}

std::map<int, model::BodyPtr> PictureMaker::curves_of_sketches(const model::Evaluation& evaluation,
                                                               const PictureRequest& request) {
    auto shown = model::sketches_shown(request.document);
    if (const auto step = request.document.step(request.as_of); request.card && step) {
        shown.merge(model::dependencies_of(step->definition).sketches);
    }
    std::map<int, model::BodyPtr> by_step;
    std::map<model::SketchResultPtr, model::BodyPtr> fresh;
    for (const int step : shown) {
        const auto found = evaluation.sketches.find(step);
        if (found == evaluation.sketches.end()) {
            continue;
        }
        const auto known = curves_.find(found->second);
        try {
            const auto curves =
                known != curves_.end() ? known->second : model::body_of_curves(step, *found->second, "outlines");
            fresh[found->second] = curves;
            if (curves) {
                by_step[step] = curves;
            }
        } catch (const Standard_Failure& failure) { // a curve that the kernel cannot make is not seen
            spdlog::warn("sketch {} is not drawn: {}", step, failure.GetMessageString());
        }
    }
    curves_ = std::move(fresh);
    return by_step;
}

model::EvaluationPtr PictureMaker::evaluate(const model::Document& document, Progress& progress, int as_of) {
    return std::make_shared<model::Evaluation>(model::evaluate(document, cache_, services_, progress, as_of));
}

PicturePtr PictureMaker::make(const PictureRequest& request, Progress& progress) {
    const auto start = Clock::now();
    auto picture = std::make_shared<Picture>();
    picture->as_of = request.as_of;
    picture->evaluation = evaluate(request.document, progress, request.as_of);
    if (progress.cancelled()) {
        return picture;
    }
    try {
        draw(*picture, request, progress, start);
    } catch (const Standard_Failure& failure) {
        picture->findings.push_back(not_drawn(failure.GetMessageString()));
    } catch (const std::exception& failure) {
        picture->findings.push_back(not_drawn(failure.what()));
    }
    newest_ = picture;
    return picture;
}

std::map<model::BodyId, model::Opened> PictureMaker::open(Picture& picture, const PictureRequest& request,
                                                          const Bodies& after, Progress& progress) {
    std::map<model::BodyId, model::Opened> opened;
    std::map<model::BodyPtr, KnownOpened> fresh;
    const model::CuttingBodies cutting(after.begin(), after.end());
    for (const auto& [id, body] : after) {
        const auto by = model::opening(request.cutaways, request.document, *picture.evaluation, id);
        if (by.empty() || body->blade || model::is_hidden(request.document, *picture.evaluation, id) ||
            model::cuts_with(request.cutaways, id)) {
            continue;
        }
        std::vector<model::BodyPtr> with;
        for (const model::Cutaway& each : by) {
            const auto found = cutting.find(each.body);
            with.push_back(found == cutting.end() ? nullptr : found->second);
        }
        const auto known = opened_.find(body);
        if (known != opened_.end() && known->second.by == by && known->second.cutting == with) {
            opened[id] = known->second.opened;
        } else if (auto made = model::open_up(*body, by, cutting, progress)) {
            opened[id] = std::move(*made);
        } else {
            const bool told = std::any_of(picture.findings.begin(), picture.findings.end(),
                                          [&](const Finding& each) { return each.cause == made.finding().cause; });
            told ? void() : picture.findings.push_back(made.finding());
            continue;
        }
        fresh[body] = {by, with, opened[id]};
    }
    opened_ = std::move(fresh);
    return opened;
}

void PictureMaker::add_caps(Picture& picture, const PictureRequest& request,
                            const std::map<model::BodyId, model::Opened>& opened) {
    double size = 0;
    for (const auto& [id, body] : picture.after) {
        size = std::max(size, body->box.diagonal());
    }
    size_t place = 0;
    for (const auto& [id, shown] : picture.after) {
        const auto by = model::opening(request.cutaways, request.document, *picture.evaluation, id);
        const auto exact = opened.find(id);
        if (exact == opened.end()) {
            continue;
        }
        const size_t own_place = shown->substance == Substance::solid ? place++ : place;
        const auto style = [&, &body = id](const model::Cutaway& cutaway) {
            return cap_style(request.document, cutaway, body, own_place, size);
        };
        for (const model::CutFace& face : exact->second.faces) {
            picture.caps.push_back(
                exact_cap(id, face, style(*model::find_cutaway(request.cutaways, face.letter)), size * 1e-3));
            model::add_area(picture.cut_areas, id, face);
        }
        if (shown->substance == Substance::surface && model::by_planes_alone(by)) { // lines along which it is cut
            for (Cap& cap : live_caps(id, *shown, by, style, 1, nullptr)) {
                picture.caps.push_back(std::move(cap));
            }
        }
        if (exact->second.divided) {
            picture.opened[shown] = {exact->second.left ? shower_(exact->second.left) : nullptr, exact->second.sources};
        }
    }
}

void PictureMaker::draw(Picture& picture, const PictureRequest& request, Progress& progress, Clock::time_point start) {
    const Bodies after = picture.evaluation->bodies_as_of(request.as_of);
    const int index = request.document.index_of(request.as_of);
    const Bodies before =
        index > 0 ? picture.evaluation->bodies_as_of(request.document.steps[static_cast<size_t>(index) - 1]->id)
                  : Bodies{};
    const auto sketches = curves_of_sketches(*picture.evaluation, request);
    std::vector<model::BodyPtr> all;
    for (const auto* bodies : {&before, &after}) {
        std::transform(bodies->begin(), bodies->end(), std::back_inserter(all),
                       [](const auto& each) { return each.second; });
    }
    std::transform(sketches.begin(), sketches.end(), std::back_inserter(all),
                   [](const auto& each) { return each.second; });
    picture.cutaways = request.cutaways;
    const auto opened = open(picture, request, after, progress);
    for (const auto& [id, each] : opened) {
        if (each.left) {
            all.push_back(each.left);
        }
    }
    shower_.show(all);
    picture.before = shower_(before);
    picture.after = shower_(after);
    for (const auto& [step, curves] : sketches) {
        picture.sketches[step] = shower_(curves);
        picture.bounds.add(picture.sketches[step]->box);
    }
    for (const auto& [id, body] : picture.after) {
        if (!body->blade) {
            picture.bounds.add(body->box);
        }
        if (body->failed) {
            picture.findings.push_back(not_drawn(*body->failed));
            picture.findings.back().step = model::maker_of(id);
        }
    }
    picture.milliseconds = std::chrono::duration<double, std::milli>(Clock::now() - start).count();
    if (request.card) {
        find_references(picture, request, before);
        add_card_lines(picture, request, before, progress);
    }
    add_caps(picture, request, opened);
}

} // namespace kervo::scene
