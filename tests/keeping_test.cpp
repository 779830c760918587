// What the window says, and keeps saying, about work that is not safe, was changed by others or was brought back.
#include "window_fixture.h"

#include "io/document/document_file.h"
#include "io/document/journal.h"

#include <QMessageBox>

using namespace kervo;
using namespace kervo::app;
using namespace kervo::app::test;

namespace {

QPushButton* notice_button(Hand& hand, const QString& title) {
    for (auto* button : hand.find<QWidget>("notice")->findChildren<QPushButton*>()) {
        if (button->isVisible() && button->text() == title) {
            return button;
        }
    }
    qFatal("the notice has no button %s", qPrintable(title));
    return nullptr;
}

QString notice_of(Hand& hand) {
    for (auto* notice : hand.window().findChildren<QWidget*>("notice")) {
        if (notice->isVisible()) {
            return notice->findChild<QLabel*>("notice_text")->text();
        }
    }
    return {};
}

// Presses a button of the message that is about to come, or is there.
void answer(const QString& title, QString* said = nullptr) {
    QTimer::singleShot(150, [title, said] {
        auto* box = qobject_cast<QMessageBox*>(QApplication::activeModalWidget());
        if (box == nullptr) {
            qFatal("there is no message");
        }
        if (said != nullptr) {
            *said = box->text() + " " + box->informativeText();
        }
        for (auto* button : box->buttons()) {
            if (button->text().remove('&') == title) {
                QTest::mouseClick(button, Qt::LeftButton);
                return;
            }
        }
        qFatal("the message has no button %s", qPrintable(title));
    });
}

// Writes the document at `path` with another thickness of plates, as another program might.
void change_outside(const QString& path, const std::string& plate) {
    auto document = io::open_document(path.toStdString());
    document->parameters[0].formula = plate;
    QFile file(path);
    QVERIFY(file.open(QIODevice::WriteOnly));
    file.write(QByteArray::fromStdString(io::to_text(*document)));
}

// A document with changes that a crash left in its journal.
QString crashed_copy(const QTemporaryDir& folder, kervo::model::Document* lost) {
    const QString path = demo_copy(folder);
    const QString crashed = folder.filePath("crashed.json");
    QFile::copy(path, crashed);
    Hand hand;
    hand.window().open_file(path);
    hand.settle();
    hand.set_formula(0, "19 mm");
    hand.set_formula(0, "20 mm");
    *lost = hand.document();
    QFile::copy(folder.filePath(".document.json.journal"), folder.filePath(".crashed.json.journal"));
    return crashed;
}

} // namespace

class KeepingTest : public QObject {
    Q_OBJECT
private slots:
    void init() { start_clean(); }

    void work_that_was_brought_back_can_be_looked_at_and_kept() {
        const QTemporaryDir folder;
        kervo::model::Document lost;
        const QString crashed = crashed_copy(folder, &lost);
        Hand hand;
        QVERIFY(hand.window().open_file(crashed));
        hand.settle();
        QVERIFY2(notice_of(hand).startsWith("2 changes, the last on "), qPrintable(notice_of(hand)));
        QVERIFY(notice_of(hand).contains("You see the document with them."));
        QVERIFY(kervo::model::same_content(hand.document(), lost));
        hand.press(notice_button(hand, "Show without"));
        hand.settle();
        QCOMPARE(hand.document().parameters[0].formula, std::string("16 mm"));
        // While they are put aside nothing is made upon something else, and nothing is lost.
        answer("OK");
        hand.session().edit([](kervo::model::Document document) {
            document.unit = "cm";
            return document;
        });
        QTest::qWait(300);
        QCOMPARE(hand.document().unit, std::string("mm"));
        QCOMPARE(io::recover(folder.filePath(".crashed.json.journal").toStdString())->changes, 2);
        hand.press(notice_button(hand, "Show with them"));
        hand.settle();
        QVERIFY(kervo::model::same_content(hand.document(), lost));
        hand.press(notice_button(hand, "Keep them"));
        QCOMPARE(notice_of(hand), QString());
        QVERIFY(hand.session().edited());
        QVERIFY(hand.window().save_file(crashed));
        QCOMPARE(io::open_document(crashed.toStdString())->parameters[0].formula, std::string("20 mm"));
        hand.session().leave();
    }

    void work_that_was_brought_back_can_be_given_up() {
        const QTemporaryDir folder;
        kervo::model::Document lost;
        const QString crashed = crashed_copy(folder, &lost);
        Hand hand;
        QVERIFY(hand.window().open_file(crashed));
        hand.settle();
        hand.press(notice_button(hand, "Give them up"));
        hand.settle();
        QCOMPARE(notice_of(hand), QString());
        QVERIFY(!hand.session().edited());
        QCOMPARE(hand.document().parameters[0].formula, std::string("16 mm"));
        hand.session().leave();
        QVERIFY(!QFile::exists(folder.filePath(".crashed.json.journal")));
    }

    void work_that_is_put_aside_is_there_the_next_time() {
        const QTemporaryDir folder;
        kervo::model::Document lost;
        const QString crashed = crashed_copy(folder, &lost);
        {
            Hand hand;
            QVERIFY(hand.window().open_file(crashed));
            hand.settle();
            hand.press(notice_button(hand, "Show without"));
            hand.settle();
            hand.window().close();
        }
        {
            Hand hand; // another document is opened, and this one again
            QVERIFY(hand.window().open_file(crashed));
            hand.press(notice_button(hand, "Show without"));
            const QString third = folder.filePath("third.json");
            QVERIFY(QFile::copy(crashed, third));
            QVERIFY(hand.window().open_file(third));
            QCOMPARE(notice_of(hand), QString());
            QVERIFY(hand.window().open_file(crashed));
            QVERIFY(notice_of(hand).startsWith("2 changes"));
            hand.press(notice_button(hand, "Show without"));
            QVERIFY(hand.window().open_file(crashed));
            QVERIFY(notice_of(hand).startsWith("2 changes"));
            hand.session().leave(); // a picture was made, nobody decided anything
        }
        Hand hand;
        QVERIFY(hand.window().open_file(crashed));
        hand.settle();
        QVERIFY(notice_of(hand).startsWith("2 changes"));
        QVERIFY(kervo::model::same_content(hand.document(), lost));
        hand.press(notice_button(hand, "Give them up"));
        hand.session().leave();
    }

    void another_programs_changes_are_told_and_not_replaced_unasked() {
        const QTemporaryDir folder;
        const QString path = demo_copy(folder);
        Hand hand;
        QVERIFY(hand.window().open_file(path));
        hand.settle();
        hand.set_formula(0, "19 mm");
        change_outside(path, "12 mm");
        QString said;
        answer("Cancel", &said);
        QVERIFY(!hand.window().save_file(path));
        QVERIFY2(said.contains("16 mm became 12 mm"), qPrintable(said));
        QCOMPARE(io::open_document(path.toStdString())->parameters[0].formula, std::string("12 mm"));
        QVERIFY(notice_of(hand).startsWith("Another program has changed")); // and it stays
        QTest::mouseMove(hand.window().windowHandle(), {600, 400});
        QVERIFY(notice_of(hand).startsWith("Another program has changed"));
        hand.press(notice_button(hand, "What changed"));
        answer("Close", &said);
        QTest::qWait(300);
        QVERIFY2(said.contains("16 mm became 12 mm"), qPrintable(said));
        hand.press(notice_button(hand, "Keep this one"));
        QCOMPARE(notice_of(hand), QString());
        QVERIFY(hand.window().save_file(path));
        QCOMPARE(io::open_document(path.toStdString())->parameters[0].formula, std::string("19 mm"));
        // The other way: theirs is taken.
        hand.set_formula(0, "21 mm");
        change_outside(path, "12 mm");
        answer("Save over it");
        QVERIFY(hand.window().save_file(path));
        change_outside(path, "14 mm");
        hand.session().look_outside();
        hand.press(notice_button(hand, "Open theirs"));
        hand.settle();
        QCOMPARE(hand.document().parameters[0].formula, std::string("14 mm"));
        QCOMPARE(notice_of(hand), QString());
        hand.session().leave();
    }

    void changes_that_cannot_be_kept_safe_are_told_until_they_can() {
        const QTemporaryDir folder;
        QVERIFY(QDir(folder.path()).mkdir("inner"));
        const QString path = folder.filePath("inner/document.json");
        QFile::copy(demo_copy(folder), path);
        Hand hand;
        QVERIFY(hand.window().open_file(path));
        hand.settle();
        // The folder goes, as with a stick that is pulled out.
        QVERIFY(QDir(folder.path()).rename("inner", "away"));
        hand.set_formula(0, "19 mm");
        QVERIFY2(notice_of(hand).startsWith("Changes cannot be kept safe"), qPrintable(notice_of(hand)));
        QVERIFY2(!notice_of(hand).contains(".."), qPrintable(notice_of(hand)));
        hand.model().setFocus();
        QTest::mouseMove(hand.window().windowHandle(), {600, 400});
        hand.settle();
        QVERIFY(notice_of(hand).startsWith("Changes cannot be kept safe"));
        QVERIFY(QDir(folder.path()).rename("away", "inner")); // and comes again
        QVERIFY(QTest::qWaitFor([&] { return notice_of(hand).isEmpty(); }, 20000));
        QCOMPARE(
            io::recover(folder.filePath("inner/.document.json.journal").toStdString())->document.parameters[0].formula,
            std::string("19 mm"));
        hand.session().leave();
    }
};

int main(int argc, char** argv) {
    return run<KeepingTest>(argc, argv);
}
#include "keeping_test.moc"
