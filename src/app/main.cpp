// kervo [DOCUMENT] [--slate] [--picture FILE.png]
//
// --picture saves a picture of the window once the document is worked out, and quits.
#include "app/main_window.h"

#include <QApplication>
#include <QCommandLineParser>

int main(int argc, char** argv) {
    QSurfaceFormat format;
    format.setDepthBufferSize(24);
    format.setStencilBufferSize(8);
    QSurfaceFormat::setDefaultFormat(format);
    QApplication application(argc, argv);
    QApplication::setApplicationName("kervo");
    QApplication::setStyle("Fusion");
    kervo::app::load_fonts();
    QApplication::setFont(kervo::app::interface_font());

    QCommandLineParser parser;
    parser.addPositionalArgument("document", "*.kervo or document.json");
    parser.addHelpOption();
    const QCommandLineOption slate("slate", "Start in the dark theme.");
    const QCommandLineOption picture("picture", "Save a picture of the window and quit.", "file");
    parser.addOptions({slate, picture});
    parser.process(application);

    kervo::app::MainWindow window;
    window.set_dark(parser.isSet(slate));
    window.show();
    if (!parser.positionalArguments().isEmpty()) {
        window.open_file(parser.positionalArguments().constFirst());
    }
    if (parser.isSet(picture)) {
        auto* wait = new QTimer(&window);
        QObject::connect(wait, &QTimer::timeout, &window, [&] {
            if (!window.session().busy() && window.session().picture()) {
                wait->stop();
                QTimer::singleShot(400, &window, [&] {
                    const bool saved = window.grab().save(parser.value(picture));
                    QApplication::exit(saved ? 0 : 2);
                });
            }
        });
        wait->start(50);
    }
    return QApplication::exec();
}
