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

// What was asked for on the command line, one after the other: each waits until the one before is worked out.
class Asked : public QObject {
public:
    Asked(kervo::app::MainWindow& window, QStringList verbs, QString picture, QString model, const QString& at)
        : window_(window), waiting_(std::move(verbs)), picture_(std::move(picture)), model_(std::move(model)),
          at_(at.split(',')) {
        if (saves() || !waiting_.isEmpty()) {
            startTimer(50);
        }
    }

protected:
    void timerEvent(QTimerEvent* event) override {
        if (!window_.session().settled()) {
            return;
        }
        if (!waiting_.isEmpty()) {
            take_up(waiting_.takeFirst());
            return;
        }
        killTimer(event->timerId());
        if (!saves()) {
            return;
        }
        if (at_.size() == 2) {
            auto& view = window_.viewport();
            view.point_at(view.place_on_sketch({at_[0].toDouble(), at_[1].toDouble()}));
        }
        QTimer::singleShot(400, this, [this] {
            const bool saved = save();
            window_.session().leave(); // a picture changes nothing
            QApplication::exit(saved ? 0 : 2);
        });
    }

private:
    [[nodiscard]] bool saves() const { return !picture_.isEmpty() || !model_.isEmpty(); }

    // A verb by its id, or the card of a step by its number.
    void take_up(const QString& what) {
        bool is_number = false;
        const int number = what.toInt(&is_number);
        if (!is_number) {
            window_.run_verb(what);
            return;
        }
        for (const auto& step : window_.session().document().steps) {
            if (step->number == number) {
                window_.session().open_card(step->id);
                return;
            }
        }
    }

    bool save() {
        if (!model_.isEmpty()) {
            return kervo::app::small_picture(window_.viewport().grabFramebuffer()).save(model_);
        }
        QPixmap shot = window_.grab();
        if (auto* dialog = QApplication::activeModalWidget()) { // with what stands before it
            QPainter(&shot).drawPixmap(dialog->pos() - window_.pos(), dialog->grab());
        }
        return shot.save(picture_);
    }

    kervo::app::MainWindow& window_;
    QStringList waiting_;
    QString picture_, model_;
    QStringList at_;
};

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
    QStringList verbs = parser.values(verb);
    if (parser.isSet(card)) {
        verbs.prepend(parser.value(card));
    }
    const Asked asked(window, verbs, parser.value(picture), parser.value(model), parser.value(at));
    const int code = QApplication::exec();
    end_soon(code);
    return code;
}
