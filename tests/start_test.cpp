// How work begins and is taken back, in the real window: the start sheet, dropped files, the history beside the title,
// and a step that is not answered yet.
#include "window_fixture.h"

#include "app/shell/recent.h"
#include "app/shell/start_sheet.h"
#include "io/document/document_file.h"
#include "io/formats/hand_over.h"

#include <QHelpEvent>
#include <QLabel>
#include <QMessageBox>
#include <QMimeData>
#include <QToolButton>

using namespace kervo;
using namespace kervo::app;
using namespace kervo::app::test;

namespace {

QString demo(const QString& name) {
    return QString(KERVO_SOURCE "/demo/%1/document.json").arg(name);
}

StartSheet& sheet_of(Hand& hand) {
    return *hand.window().findChild<StartSheet*>();
}

void drop(Hand& hand, const QString& path) {
    QMimeData data;
    data.setUrls({QUrl::fromLocalFile(path)});
    QDragEnterEvent enter(QPoint(600, 400), Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
    QApplication::sendEvent(&hand.window(), &enter);
    if (!enter.isAccepted()) {
        return;
    }
    QDropEvent event(QPointF(600, 400), Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
    QApplication::sendEvent(&hand.window(), &event);
    QTest::qWait(50);
    hand.settle();
}

QString hint(Hand& hand) {
    return hand.find<QLabel>("hint")->toolTip();
}

void write(const QString& path, const QByteArray& bytes) {
    QFile file(path);
    Hand::must(file.open(QFile::WriteOnly) && file.write(bytes) == bytes.size());
}

} // namespace

class StartTest : public QObject {
    Q_OBJECT

private slots:
    void init() { start_clean(); }

    void an_empty_window_says_how_to_begin() {
        Hand hand;
        QVERIFY(sheet_of(hand).isVisible());
        QVERIFY(hand.window().size().width() <= 1280 && hand.window().size().height() <= 800);
        hand.press(hand.named("Stock"));
        hand.settle();
        QCOMPARE(hand.document().steps.size(), size_t(1));
        QVERIFY(!sheet_of(hand).isVisible());
        hand.press_button("Cancel");
        QVERIFY(sheet_of(hand).isVisible());
        hand.window().set_dark(true);
        QVERIFY(sheet_of(hand).isVisible());
        hand.model().setFocus(); // keys work beside it
        hand.key(Qt::Key_S);
        hand.key(Qt::Key_Return, Qt::ControlModifier);
        QVERIFY(!sheet_of(hand).isVisible());
        hand.key(Qt::Key_Z, Qt::ControlModifier);
        QVERIFY(sheet_of(hand).isVisible());
    }

    void a_demonstration_is_a_new_document() {
        Hand hand;
        hand.press(hand.named("Counterweight"));
        hand.settle();
        const auto wanted = io::open_document(demo("counterweight").toStdString());
        QVERIFY(kervo::model::same_content(*wanted, hand.document()));
        QVERIFY(hand.session().path().isEmpty() && !hand.session().edited());
        QVERIFY(!sheet_of(hand).isVisible());
        // Every one of them can be opened.
        for (const char* name : {"Azimuth table", "Finder clamp", "Sun screen", "Observing deck"}) {
            hand.key(Qt::Key_N, Qt::ControlModifier);
            hand.press(hand.named(name));
            hand.settle();
            QVERIFY2(!hand.document().steps.empty(), name);
            QVERIFY2(!hand.session().picture()->after.empty(), name);
        }
    }

    void what_was_worked_on_lately() {
        const QTemporaryDir folder;
        const QString path = folder.filePath("bracket.kervo");
        Hand hand;
        hand.model().setFocus();
        hand.key(Qt::Key_S);
        hand.key(Qt::Key_Return, Qt::ControlModifier);
        QVERIFY(hand.window().save_file(path));
        const auto saved = hand.document();
        QCOMPARE(recent_documents().size(), size_t(1));
        QVERIFY(!recent_documents()[0].picture.isNull());
        hand.key(Qt::Key_N, Qt::ControlModifier);
        hand.press(hand.named("bracket"));
        hand.settle();
        QCOMPARE(hand.session().path(), path);
        QVERIFY(kervo::model::same_content(saved, hand.document()));
        // The newest first, each once; what is gone is not offered.
        const QString other = demo_copy(folder);
        QVERIFY(hand.window().open_file(other));
        QVERIFY(hand.window().open_file(path));
        const auto recent = recent_documents();
        QCOMPARE(recent.size(), size_t(2));
        QCOMPARE(recent[0].path, path);
        QCOMPARE(recent[1].path, other);
        QVERIFY(QFile::remove(other));
        QCOMPARE(recent_documents().size(), size_t(1));
    }

    void files_are_dropped() {
        const QTemporaryDir folder;
        Hand hand;
        write(folder.filePath("a.csv"), "name,formula\nwide,40 mm\n");
        drop(hand, folder.filePath("a.csv"));
        QCOMPARE(hand.document().parameters.size(), size_t(1));
        write(folder.filePath("a.svg"), "<svg xmlns='http://www.w3.org/2000/svg' width='20mm' height='10mm' "
                                        "viewBox='0 0 20 10'><rect width='20' height='10'/></svg>");
        drop(hand, folder.filePath("a.svg"));
        QVERIFY(QTest::qWaitFor([&] { return hand.session().settled() && !hand.pen().figures().empty(); }, 20000));
        QVERIFY(hand.model().hand().drawn_step() != 0);
        QVERIFY(near(hand.session().report(hand.session().card())->output->sketch->regions[0].area, 200));
        hand.press_button("Accept");
        // A body becomes a step.
        const QString bodies = folder.filePath("plates.step");
        {
            kervo::model::EvaluationCache cache;
            Progress quiet;
            const auto document = io::open_document(demo("counterweight").toStdString());
            QVERIFY(io::export_bodies(*document, kervo::model::evaluate(*document, cache, {}, quiet),
                                      bodies.toStdString(), {})
                        .ok());
        }
        const size_t before = hand.document().steps.size();
        drop(hand, bodies);
        QCOMPARE(hand.document().steps.size(), before + 1);
        QVERIFY(hand.session().findings().empty());
        // What nobody knows is not taken.
        write(folder.filePath("a.txt"), "words");
        drop(hand, folder.filePath("a.txt"));
        write(folder.filePath("a.stl"), "solid");
        drop(hand, folder.filePath("a.stl"));
        QCOMPARE(hand.document().steps.size(), before + 1);
        QVERIFY2(hint(hand).contains("STL"), qPrintable(hint(hand)));
        // A document is opened, once the changes are dealt with.
        hand.when([] { return QApplication::activeModalWidget() != nullptr; },
                  [] {
                      auto* box = qobject_cast<QMessageBox*>(QApplication::activeModalWidget());
                      QTest::mouseClick(box->button(QMessageBox::Discard), Qt::LeftButton);
                  });
        drop(hand, demo_copy(folder));
        QCOMPARE(hand.document().title, std::string("azimuth-table"));
    }

    void the_history_stands_beside_the_title() {
        Hand hand;
        auto* undo = hand.window().findChild<QWidget*>("bar")->findChildren<QToolButton*>()[0];
        const auto button = [&](const QString& name) { return qobject_cast<QToolButton*>(hand.named(name)); };
        QVERIFY(undo == button("Undo") && !undo->isEnabled() && !button("Redo")->isEnabled());
        hand.model().setFocus();
        for (int i = 0; i < 2; ++i) {
            hand.key(Qt::Key_S);
            hand.key(Qt::Key_Return, Qt::ControlModifier);
        }
        QCOMPARE(hand.document().steps[0]->name, std::string("Stock"));
        QCOMPARE(hand.document().steps[1]->name, std::string("Stock 2")); // no two are called alike
        const auto whole = hand.document();
        QHelpEvent asks(QEvent::ToolTip, QPoint(5, 5), undo->mapToGlobal(QPoint(5, 5)));
        QApplication::sendEvent(undo, &asks);
        QVERIFY2(undo->toolTip().contains("Stock 2"), qPrintable(undo->toolTip()));
        hand.press(undo);
        hand.settle();
        QCOMPARE(hand.document().steps.size(), size_t(1));
        hand.press(button("Redo"));
        hand.settle();
        QVERIFY(kervo::model::same_content(whole, hand.document()));
        hand.take_from_next_menu("As it was opened");
        hand.press(button("History"));
        hand.settle();
        QVERIFY(hand.document().steps.empty());
        QCOMPARE(hand.session().changes(), size_t(2));
        hand.take_from_next_menu(hand.session().change_in_words(1));
        hand.press(button("History"));
        hand.settle();
        QVERIFY(kervo::model::same_content(whole, hand.document()));
        hand.model().setFocus();
        hand.key(Qt::Key_S); // while a card is open, its own changes are taken back
        QVERIFY(!button("History")->isEnabled());
    }

    void neighbours_are_told_apart() {
        Hand hand;
        hand.model().setFocus();
        for (int i = 0; i < 3; ++i) {
            hand.key(Qt::Key_S);
            hand.key(Qt::Key_Return, Qt::ControlModifier);
        }
        std::vector<std::string> bodies;
        for (const auto& [id, body] : hand.session().picture()->after) {
            bodies.push_back(id);
        }
        QCOMPARE(bodies.size(), size_t(3));
        for (const Theme& theme : {paper_theme(), slate_theme()}) {
            for (size_t i = 1; i < bodies.size(); ++i) {
                const QColor a = hand.model().shown().color_of(theme, bodies[i - 1]);
                const QColor b = hand.model().shown().color_of(theme, bodies[i]);
                const int apart =
                    std::abs(a.red() - b.red()) + std::abs(a.green() - b.green()) + std::abs(a.blue() - b.blue());
                QVERIFY2(apart > 24, qPrintable(a.name() + " " + b.name()));
            }
        }
    }

    void what_is_not_answered_yet_is_not_wrong() {
        Hand hand;
        hand.model().setFocus();
        hand.key(Qt::Key_S);
        hand.key(Qt::Key_Return, Qt::ControlModifier);
        hand.find_verb("Round edges");
        QVERIFY(hand.session().card() != 0);
        const auto shown = [&](const QString& name, const QString& words) {
            for (const QLabel* label : hand.window().findChildren<QLabel*>(name)) {
                if (label->isVisible() && label->text().contains(words)) {
                    return true;
                }
            }
            return false;
        };
        QVERIFY(shown("quiet", "Next: "));
        QVERIFY(!shown("problem", ""));
        QVERIFY(hand.session().findings().empty());
        QVERIFY(!row_called(hand, "Stock")->text(1).contains("stale"));
        // Kept as it is, it is a finding.
        hand.press_button("Accept");
        QCOMPARE(hand.session().findings().size(), size_t(1));
    }
};

int main(int argc, char** argv) {
    return run<StartTest>(argc, argv);
}
#include "start_test.moc"
