#include "app/view/views.h"

#include "model/document/cutaways.h"

#include <algorithm>

namespace kervo::app {

namespace {

int place_of(const std::vector<model::View>& views, const std::string& name) {
    const auto at =
        std::find_if(views.begin(), views.end(), [&](const model::View& each) { return each.name == name; });
    return at == views.end() ? -1 : static_cast<int>(at - views.begin());
}

} // namespace

Views::Views(Session& session, Viewport& viewport, QObject* parent)
    : QObject(parent), session_(session), viewport_(viewport) {}

std::string Views::current() const {
    return model::find_view(session_.document(), current_) == nullptr ? std::string() : current_;
}

void Views::keep() {
    if (!viewport_.sees()) {
        return;
    }
    session_.edit([&](model::Document document) {
        model::View view = model::view_of(document, model::free_view_name(document, tr("View").toStdString()));
        viewport_.write_camera(view);
        current_ = view.name;
        document.views.push_back(std::move(view));
        return document;
    });
    emit current_changed();
    emit viewport_.hinted(
        tr("Kept as \u201c%1\u201d; F2 in Contents renames it.").arg(QString::fromStdString(current_)));
}

void Views::go_to(const std::string& name) {
    const model::View* known = model::find_view(session_.document(), name);
    if (known == nullptr) {
        return;
    }
    const model::View view = *known;
    current_ = name;
    session_.edit([&](model::Document document) { return model::as_in_view(std::move(document), view); });
    viewport_.read_camera(view);
    emit current_changed();
    emit viewport_.hinted(view.note.empty() ? QString::fromStdString(name)
                                            : QString::fromStdString(name + ": " + view.note));
}

void Views::step(int by) {
    const auto& views = session_.document().views;
    if (views.empty()) {
        return;
    }
    const int count = static_cast<int>(views.size());
    const int at = place_of(views, current_);
    const int next = at < 0 ? (by > 0 ? 0 : count - 1) : (at + by + count) % count;
    go_to(views[static_cast<size_t>(next)].name);
}

void Views::change(const std::string& name, const std::function<void(model::View&)>& how) {
    session_.edit([&](model::Document document) {
        if (const int place = place_of(document.views, name); place >= 0) {
            how(document.views[static_cast<size_t>(place)]);
        }
        return document;
    });
}

void Views::update(const std::string& name) {
    change(name, [&](model::View& view) {
        const std::string note = view.note;
        view = model::view_of(session_.document(), name);
        view.note = note;
        viewport_.write_camera(view);
    });
    current_ = name;
    emit current_changed();
}

void Views::rename(const std::string& from, const std::string& to) {
    if (to.empty() || model::find_view(session_.document(), to) != nullptr) {
        return;
    }
    change(from, [&](model::View& view) { view.name = to; });
    current_ = current_ == from ? to : current_;
}

void Views::annotate(const std::string& name, const std::string& note) {
    change(name, [&](model::View& view) { view.note = note; });
}

void Views::move(const std::string& name, int by) {
    session_.edit([&](model::Document document) {
        const int from = place_of(document.views, name);
        const int to = from + by;
        if (from >= 0 && to >= 0 && to < static_cast<int>(document.views.size())) {
            std::swap(document.views[static_cast<size_t>(from)], document.views[static_cast<size_t>(to)]);
        }
        return document;
    });
}

void Views::remove(const std::string& name) {
    session_.edit([&](model::Document document) {
        std::erase_if(document.views, [&](const model::View& each) { return each.name == name; });
        return document;
    });
}

std::vector<Verb> Views::verbs() {
    const auto has_document = [this] { return !session_.document().steps.empty() && viewport_.sees(); };
    const auto any = [this] { return !session_.document().views.empty(); };
    const BarGroup inside = BarGroup::inside;
    return {
        {"keep_view", inside, tr("Keep this view"),
         tr("Where one looks from, what is hidden, how bodies are shown, and the cutaways, under a name."), "Ctrl+K",
         [this] { keep(); }, has_document},
        {"next_view", inside, tr("Next view"), tr("Goes to the next view that was kept, round and round."), "Y",
         [this] { step(1); }, any},
        {"view_before", inside, tr("View before"), tr("Goes to the view before that one."), "Shift+Y",
         [this] { step(-1); }, any},
        {"update_view", inside, tr("Update the view"), tr("The view that was gone to last is what is seen now."), "",
         [this] { update(current()); }, [this] { return !current().empty(); }},
    };
}

} // namespace kervo::app
