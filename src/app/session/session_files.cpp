// What a session brings in and hands over beside its document.
#include "app/look/counted.h"
#include "app/session/session.h"
#include "model/steps/import/import.h"

#include "io/document/document_file.h"
#include "io/document/safe_file.h"
#include "io/formats/brep/brep.h"
#include "io/formats/dxf/dxf.h"
#include "io/formats/hand_over.h"
#include "io/formats/svg/svg.h"
#include "io/reader/import_child.h"
#include "model/document/groups_and_layers.h"
#include "model/sketching/merge_sketches.h"

#include <QFileInfo>
#include <QThreadPool>

#include <algorithm>

namespace kervo::app {

std::optional<Finding> Session::parameters_out(const QString& path) const {
    return io::export_parameters(document(), path.toStdString());
}

std::optional<Finding> Session::parameters_in(const QString& path) {
    const io::Format* format = io::format_of(path.toStdString());
    if (format == nullptr || !format->reads(io::Content::parameters)) {
        return io::no_such_format("import.format", path.toStdString(), io::readers_of(io::Content::parameters));
    }
    const auto text = io::read_whole(path.toStdString());
    if (!text) {
        return text.finding();
    }
    const auto changed = format->read_parameters(document(), *text);
    if (!changed) {
        return changed.finding();
    }
    edit([&](const model::Document&) { return *changed; });
    return std::nullopt;
}

namespace {

// With the file, and a step at the end that imports it.
model::Document with_import(model::Document document, const model::AssetPtr& asset, const QString& name, int* step) {
    model::Import definition;
    definition.file.name = asset->name.text();
    document.assets[asset->name] = asset;
    return model::add_step(std::move(document), definition, name.toStdString(), -1, step);
}

} // namespace

std::optional<Finding> Session::import_file(const QString& path) {
    const auto asset = io::load_asset(document(), path.toStdString());
    if (!asset) {
        return asset.finding();
    }
    accept_card();
    edit([&](const model::Document& now) {
        return with_import(now, *asset, QFileInfo(path).completeBaseName(), nullptr);
    });
    return std::nullopt;
}

void Session::add_frozen_copies(const std::vector<model::BodyId>& bodies) {
    accept_card();
    std::vector<model::BodyId> wanted;
    for (const auto& [id, body] : picture_ ? picture_->after : scene::ShownBodies{}) {
        if (std::find(bodies.begin(), bodies.end(), id) != bodies.end() && !body->blade) {
            wanted.push_back(id);
        }
    }
    ++open_questions_;
    evaluator_.ask(FreezeQuestion{wanted}, [this](const FreezeAnswer& texts) {
        --open_questions_;
        model::Document next = document();
        for (const auto& [id, text] : texts) {
            next = with_frozen_copy(std::move(next), picture_->evaluation->traits.at(id), text);
        }
        edit([&](const model::Document&) { return next; });
    });
}

model::Document Session::with_frozen_copy(model::Document next, const model::BodyTraits& traits,
                                          const std::string& text) const {
    const QString name = tr("%1 frozen").arg(QString::fromStdString(traits.name));
    const auto asset = io::new_asset(next, name.toStdString() + ".brep", text); // which names its bodies
    int step = 0;
    next = with_import(std::move(next), asset, name, &step);
    next = model::change_field(std::move(next), step, "solids", model::Choice{"together"});
    next.appearance[std::to_string(step) + ".1"].color = traits.color;
    return next;
}

void Session::outlines_in(int step, const QString& path) {
    reading_ = std::make_shared<Progress>();
    emit reading();
    QThreadPool::globalInstance()->start([this, step, path, progress = reading_] {
        const auto bytes = io::read_whole(path.toStdString());
        const auto read = bytes ? io::outlines_in_child(
                                      {model::AssetName::like(QFileInfo(path).fileName().toStdString()), *bytes, false},
                                      {}, *progress)
                                : Result<sketch::Artwork>(bytes.finding());
        QMetaObject::invokeMethod(this, [this, step, read] { take_outlines(step, read); });
    });
}

void Session::take_outlines(int step, const Result<sketch::Artwork>& read) {
    reading_.reset();
    const auto target = document().step(step);
    const auto* drawn = target ? model::drawing_of(target->definition) : nullptr;
    if (!read && read.finding().code == "import.cancelled") {
        emit work_cancelled();
    } else if (!read) {
        emit completed();
        emit failed(read.finding());
    } else if (drawn != nullptr) {
        auto drawing = *drawn;
        sketch::add_artwork(drawing, std::make_shared<const sketch::Artwork>(*read));
        set_field(step, "drawing", drawing);
        emit said(read->skipped.empty() ? tr("Brought in: %1").arg(QString::fromStdString(read->name))
                                        : tr("Brought in but for some things; the card lists them"));
    }
}

std::optional<Finding> Session::merge_sketch(int from) {
    const auto solved = [this](int step) -> model::SketchResultPtr {
        const model::StepReport* known = report(step);
        return known == nullptr || !known->output ? nullptr : known->output->sketch;
    };
    const auto into = solved(card_);
    const auto other = solved(from);
    if (!into || !other || from == card_) {
        return error_finding("sketch.not_open", "There is no sketch into which this one could be drawn.",
                             "Open the card of the sketch that should hold both.");
    }
    const auto merged = model::merge_sketches(document(), card_, from, *into, *other);
    if (!merged) {
        return merged.finding();
    }
    const std::string name = document().step(from)->name;
    edit([&](const model::Document&) { return merged->document; });
    QString told = tr("\u201c%1\u201d is drawn here as well").arg(QString::fromStdString(name));
    told += merged->kept ? tr("; it stays, since other steps read it.") : tr(", and deleted there.");
    if (merged->left_out > 0) {
        told += " " +
                counted(static_cast<qsizetype>(merged->left_out), tr("constraint was left out"),
                        tr("constraints were left out")) +
                tr(", since the planes are turned.");
    }
    emit said(told);
    return std::nullopt;
}

std::optional<Finding> Session::outlines_out(int step, const QString& path) const {
    const model::StepReport* known = report(step);
    if (known == nullptr || !known->output || !known->output->sketch) {
        return error_finding("export.busy", "The sketch is still being worked out.", "Wait a moment and try again.");
    }
    const auto& drawing = known->output->sketch->solution.sketch;
    return io::export_outlines(drawing, path.toStdString());
}

bool Session::any_hidden() const {
    return whole_ && std::any_of(whole_->traits.begin(), whole_->traits.end(), [&](const auto& each) {
               return model::is_hidden(document(), each.first, each.second.layer);
           });
}

std::optional<Finding> Session::hand_over(const QString& path, io::ExportOptions options) {
    if (!whole_ || !whole_is_new_) {
        return error_finding("export.busy", "The model is still being worked out.", "Wait a moment and try again.");
    }
    options.as_of = card_ != 0 ? 0 : as_of_;
    evaluator_.ask_for_bodies(
        document(), whole_, options, [this, path, options](const Result<io::ModelToWrite>& model) {
            if (!model) {
                emit handed_over(path, {model.finding()});
                return;
            }
            writing_.start([this, model = *model, path, options] {
                const auto written = io::write_model(model, path.toStdString(), options);
                const Findings told = written ? *written : Findings{written.finding()};
                QMetaObject::invokeMethod(this, [this, path, told] { emit handed_over(path, told); });
            });
        });
    return std::nullopt;
}

} // namespace kervo::app
