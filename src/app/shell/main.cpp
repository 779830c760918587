// kervo [DOCUMENT] [--slate] [--card NUMBER] [--verb ID]... [--at X,Y] [--picture FILE.png]
//       [--model FILE.png]
//
// --card opens a step's card, --verb runs verbs after that, --at puts the pointer over a place of the open sketch (mm);
// --picture saves a picture of the window once all is worked out, and quits; --model one of the model alone.
#include "app/shell/main_window.h"
#include "app/shell/recent.h"

#include <QApplication>
#include <QCommandLineParser>
#include <QPainter>
#include <QPixmap>
#include <chrono>
#include <thread>
#include <unistd.h>

namespace {

// The kernel does not always hear that it should stop. All that is to be kept is on the disk by now.
void end_soon(int code) {
    std::thread([code] {
        std::this_thread::sleep_for(std::chrono::milliseconds(1500));
        ::_exit(code);
    }).detach();
}

} // namespace

int main(int argc, char** argv) {
    kervo::app::ask_for_surface();
    QApplication application(argc, argv);
    kervo::app::dress_application();

    QCommandLineParser parser;
    parser.addPositionalArgument("document", "*.kervo or document.json");
    parser.addHelpOption();
    const QCommandLineOption slate("slate", "Start in the dark theme.");
    const QCommandLineOption picture("picture", "Save a picture of the window and quit.", "file");
    const QCommandLineOption card("card", "Open the card of this step.", "number");
    const QCommandLineOption verb("verb", "Run a verb, by its id.", "id");
    const QCommandLineOption model("model", "Save a small picture of the model alone and quit.", "file");
    const QCommandLineOption at("at", "Put the pointer over a place of the open sketch.", "x,y");
    parser.addOptions({slate, picture, model, card, verb, at});
    parser.process(application);

    kervo::app::MainWindow window;
    window.set_dark(parser.isSet(slate));
    if (parser.isSet(model)) {
        window.resize(window.width(), 500); // the model's part is as wide as such pictures are, then
    }
    window.show();
    if (!parser.positionalArguments().isEmpty()) {
        window.open_file(parser.positionalArguments().constFirst());
    } else {
        window.session().bring_back_untitled();
    }
    // Each thing that was asked for waits until the one before is worked out.
    QStringList waiting;
    if (parser.isSet(card)) {
        waiting << "card";
    }
    waiting << parser.values(verb);
    const auto take_up = [&](const QString& what) {
        if (what != "card") {
            window.run_verb(what);
            return;
        }
        for (const auto& step : window.session().document().steps) {
            if (step->number == parser.value(card).toInt()) {
                window.session().open_card(step->id);
                return;
            }
        }
    };
    const bool saves = parser.isSet(picture) || parser.isSet(model);
    if (saves || !waiting.isEmpty()) {
        auto* wait = new QTimer(&window);
        QObject::connect(wait, &QTimer::timeout, &window, [&] {
            if (window.session().settled()) {
                if (!waiting.isEmpty()) {
                    take_up(waiting.takeFirst());
                    return;
                }
                wait->stop();
                if (!saves) {
                    return;
                }
                if (const QStringList place = parser.value(at).split(','); place.size() == 2) {
                    auto& view = window.viewport();
                    view.point_at(view.place_on_sketch({place[0].toDouble(), place[1].toDouble()}));
                }
                QTimer::singleShot(400, &window, [&] {
                    if (parser.isSet(model)) {
                        const bool saved =
                            kervo::app::small_picture(window.viewport().grabFramebuffer()).save(parser.value(model));
                        window.session().leave();
                        QApplication::exit(saved ? 0 : 2);
                        return;
                    }
                    QPixmap shot = window.grab();
                    if (auto* dialog = QApplication::activeModalWidget()) { // with what stands before it
                        QPainter(&shot).drawPixmap(dialog->pos() - window.pos(), dialog->grab());
                    }
                    const bool saved = shot.save(parser.value(picture));
                    window.session().leave(); // a picture changes nothing
                    QApplication::exit(saved ? 0 : 2);
                });
            }
        });
        wait->start(50);
    }
    const int code = QApplication::exec();
    end_soon(code);
    return code;
}
