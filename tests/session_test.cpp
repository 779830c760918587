// The session behind the window: history, cards, files; with a real evaluator on its own thread, without a display.
#include "app/session/session.h"
#include "io/document/document_file.h"
#include "io/document/safe_file.h"
#include "model/steps/sketch/sketch_step.h"
#include "model/steps/stock/stock.h"

#include <QCoreApplication>
#include <QStandardPaths>
#include <QTemporaryDir>
#include <QTest>

#include <gtest/gtest.h>

using namespace kervo;
using namespace kervo::app;

namespace {

// A new session in a folder of its own.
class SessionTest : public ::testing::Test {
protected:
    void SetUp() override {
        QStandardPaths::setTestModeEnabled(true);
        session.start_new();
        settle();
    }
    void TearDown() override { session.leave(); }

    void settle() {
        ASSERT_TRUE(QTest::qWaitFor([this] { return session.settled(); }, 60000));
    }
    void add_block(const std::string& name) {
        session.add_step(model::Stock{}, name);
        session.accept_card();
        settle();
    }
    [[nodiscard]] std::string width(int step) const {
        return session.document().step(step)->definition.as<model::Stock>()->width.text;
    }
    [[nodiscard]] QString file(const char* name) const { return folder.filePath(name); }

    QTemporaryDir folder;
    Session session;
};

} // namespace

TEST_F(SessionTest, HistoryGoesBackAndForthWithoutLimit) {
    for (int i = 0; i < 40; ++i) {
        session.edit([i](model::Document document) {
            document.parameters.resize(1);
            document.parameters[0] = {"n", std::to_string(i), "", ""};
            return document;
        });
    }
    EXPECT_TRUE(session.edited());
    for (int i = 38; i >= 0; --i) {
        session.undo();
        EXPECT_EQ(session.document().parameters.at(0).formula, std::to_string(i));
    }
    session.undo();
    EXPECT_TRUE(session.document().parameters.empty());
    EXPECT_FALSE(session.can_undo());
    EXPECT_FALSE(session.edited()); // back where it began
    for (int i = 0; i < 40; ++i) {
        session.redo();
    }
    EXPECT_EQ(session.document().parameters.at(0).formula, "39");
    EXPECT_FALSE(session.can_redo());
    session.undo();
    session.edit([](model::Document document) {
        document.title = "another way";
        return document;
    });
    EXPECT_FALSE(session.can_redo()); // a new change ends what could be made again
    session.edit([](const model::Document& document) { return document; });
    session.undo();
    EXPECT_EQ(session.document().parameters.at(0).formula, "38"); // no change is no entry
}

TEST_F(SessionTest, ACardIsOneEntryOfTheHistory) {
    session.add_step(model::Stock{}, "Block");
    EXPECT_EQ(session.card(), 10);
    session.set_field(10, "width", Expression{"70"});
    session.set_field(10, "depth", Expression{"50"});
    session.accept_card();
    EXPECT_EQ(session.card(), 0);
    EXPECT_EQ(width(10), "70");
    session.undo();
    EXPECT_TRUE(session.document().steps.empty());
    session.redo();
    EXPECT_EQ(width(10), "70");
}

TEST_F(SessionTest, CancelLeavesEverythingAsItWas) {
    session.add_step(model::Stock{}, "Block");
    session.cancel_card();
    EXPECT_TRUE(session.document().steps.empty());
    EXPECT_FALSE(session.edited());
    add_block("Block");
    session.open_card(10);
    session.set_field(10, "width", Expression{"7"});
    session.cancel_card();
    EXPECT_EQ(width(10), "100 mm");
}

TEST_F(SessionTest, UndoInACardTakesBackWhatWasTypedInOneGo) {
    add_block("Block");
    session.open_card(10);
    for (const char* text : {"7", "70", "70 ", "70 mm"}) {
        session.set_field(10, "width", Expression{text});
    }
    for (const char* text : {"3", "33"}) {
        session.set_field(10, "depth", Expression{text});
    }
    session.undo();
    EXPECT_EQ(width(10), "70 mm");
    EXPECT_EQ(session.document().step(10)->definition.as<model::Stock>()->depth.text, "60 mm");
    session.undo();
    EXPECT_EQ(width(10), "100 mm");
    EXPECT_EQ(session.card(), 10);
}

TEST_F(SessionTest, NewStepsGoWhereTheModelIsShown) {
    add_block("One");
    add_block("Two");
    session.show_as_of(10);
    settle();
    EXPECT_EQ(session.picture()->after.size(), 1u);
    session.add_step(model::Stock{}, "Between");
    session.accept_card();
    settle();
    ASSERT_EQ(session.document().steps.size(), 3u);
    EXPECT_EQ(session.document().steps[1]->name, "Between");
    EXPECT_EQ(session.document().steps[1]->number, 15);
    EXPECT_EQ(session.as_of(), session.document().steps[1]->id); // and are shown
    session.show_as_of(session.document().steps.back()->id);
    EXPECT_EQ(session.as_of(), 0); // as of the last step is the whole route
}

TEST_F(SessionTest, StepsBelowAnOpenCardStayKnown) {
    add_block("One");
    add_block("Two");
    session.open_card(10);
    settle();
    EXPECT_EQ(session.picture()->as_of, 10);
    ASSERT_NE(session.report(20), nullptr);
    EXPECT_EQ(session.report(20)->state, model::StepState::ok);
    session.set_field(10, "width", Expression{"nonsense"});
    settle();
    EXPECT_EQ(session.report(10)->state, model::StepState::failed);
    EXPECT_EQ(session.findings().size(), 1u);
    EXPECT_EQ(session.report(20)->state, model::StepState::ok); // it does not read the first
}

TEST_F(SessionTest, PicksByHandBecomeNamesOnTheWay) {
    add_block("Block");
    model::SketchStep sketch;
    sketch.plane.value = "face";
    sketch.face = {{model::ElementKind::face, "10", {}, {}, model::Place{3, 3, 20}}};
    session.add_step(sketch, "Sketch");
    session.accept_card();
    settle();
    const auto& face = session.document().step(20)->definition.as<model::SketchStep>()->face.at(0);
    EXPECT_EQ(face.faces, std::vector<std::string>{"10:top"});
}

TEST_F(SessionTest, SavingTakesTheNameOfTheFileAndEndsTheJournal) {
    add_block("Block");
    const QString path = file("yoke.kervo");
    ASSERT_FALSE(session.save(path));
    EXPECT_EQ(session.document().title, "yoke");
    EXPECT_FALSE(session.edited());
    const auto journal = io::recover(io::journal_path_for(path.toStdString()));
    ASSERT_TRUE(journal);
    EXPECT_EQ(journal->changes, 0);
    EXPECT_TRUE(model::same_content(*io::open_document(path.toStdString()), session.document()));
    session.leave();
    EXPECT_FALSE(QFile::exists(QString::fromStdString(io::journal_path_for(path.toStdString()))));
    EXPECT_TRUE(session.save(file("no/such/folder/x.kervo")).has_value());
}

TEST_F(SessionTest, AJournalAloneBringsADamagedFileBack) {
    add_block("Block");
    const QString path = file("yoke.kervo");
    ASSERT_FALSE(session.save(path));
    session.edit([](model::Document document) {
        document.unit = "cm";
        return document;
    });
    const QString journal = QString::fromStdString(io::journal_path_for(path.toStdString()));
    ASSERT_TRUE(QFile::copy(journal, file(".torn.kervo.journal")));
    QFile torn(file("torn.kervo"));
    ASSERT_TRUE(torn.open(QIODevice::WriteOnly));
    torn.write("PK, and then the disk was full");
    torn.close();
    Session other;
    ASSERT_FALSE(other.open(file("torn.kervo")));
    EXPECT_EQ(other.document().unit, "cm");
    EXPECT_EQ(other.document().steps.size(), 1u);
    ASSERT_NE(other.recovered(), nullptr);
    EXPECT_EQ(other.recovered()->changes, 1);
    EXPECT_TRUE(other.recovered()->changed_outside); // it is not the file that the journal goes on from
    EXPECT_LT(std::abs(other.recovered()->until.secsTo(QDateTime::currentDateTime())), 60);
    // Crashing again before anything is saved loses nothing either.
    const auto again = io::recover(io::journal_path_for(file("torn.kervo").toStdString()));
    ASSERT_TRUE(again);
    EXPECT_GT(again->changes, 0);
    EXPECT_EQ(again->document.unit, "cm");
    other.leave();
}

TEST_F(SessionTest, AFileThatIsOpenElsewhereIsNotTaken) {
    add_block("Block");
    ASSERT_FALSE(session.save(file("yoke.kervo")));
    Session other;
    const auto refused = other.open(file("yoke.kervo"));
    ASSERT_TRUE(refused);
    EXPECT_EQ(refused->code, "file.in_use");
    session.leave();
    EXPECT_FALSE(other.open(file("yoke.kervo")));
    EXPECT_FALSE(other.open(file("yoke.kervo"))); // its own is no hindrance
    other.leave();
}

// A drawing of millions of lines takes a while to read; Stop ends the reader, and nothing has changed.
TEST_F(SessionTest, ReadingOutlinesHearsStop) {
    model::SketchStep drawn;
    session.add_step(drawn, "Sketch");
    session.accept_card();
    const int step = session.document().steps.back()->id;
    QFile large(file("large.dxf"));
    ASSERT_TRUE(large.open(QIODevice::WriteOnly));
    large.write("0\nSECTION\n2\nENTITIES\n");
    for (int i = 0; i < 400000; ++i) {
        large.write("0\nLINE\n8\n0\n10\n0\n20\n0\n11\n10\n21\n" + QByteArray::number(i) + "\n");
    }
    large.write("0\nENDSEC\n0\nEOF\n");
    large.close();
    bool stopped = false;
    QObject::connect(&session, &Session::work_cancelled, [&] { stopped = true; });
    const auto before = session.document();
    session.outlines_in(step, large.fileName());
    EXPECT_TRUE(session.busy());
    session.cancel_work();
    ASSERT_TRUE(QTest::qWaitFor([&] { return stopped; }, 60000));
    EXPECT_TRUE(model::same_content(session.document(), before));
}

TEST_F(SessionTest, HandingOverWaitsForTheModel) {
    add_block("Block");
    session.edit([](model::Document document) {
        document.title = "x";
        return document;
    });
    bool done = false;
    std::optional<Finding> problem;
    QObject::connect(&session, &Session::handed_over, [&](const QString&, const Findings& told) {
        done = true;
        problem = told.empty() ? std::nullopt : std::optional(told.front());
    });
    const auto early = session.hand_over(file("a.step"));
    if (early) {
        EXPECT_EQ(early->code, "export.busy");
        settle();
        ASSERT_FALSE(session.hand_over(file("a.step")));
    }
    ASSERT_TRUE(QTest::qWaitFor([&] { return done; }, 30000));
    EXPECT_TRUE(QFile::exists(file("a.step")));
    ASSERT_FALSE(session.hand_over(file("no/such/folder/a.step")));
    done = false;
    ASSERT_TRUE(QTest::qWaitFor([&] { return done; }, 30000));
    ASSERT_TRUE(problem);
    EXPECT_EQ(problem->code, "file.write");
}

TEST_F(SessionTest, ImportsThatCannotBeReadAreFindingsOnTheirStep) {
    QFile bad(file("arm.step"));
    ASSERT_TRUE(bad.open(QIODevice::WriteOnly));
    bad.write("this is no STEP file");
    bad.close();
    ASSERT_FALSE(session.import_file(file("arm.step")));
    settle();
    EXPECT_EQ(session.document().steps.size(), 1u);
    EXPECT_EQ(session.report(10)->state, model::StepState::failed);
    EXPECT_TRUE(session.import_file(file("nothing.step")).has_value());
    EXPECT_EQ(session.document().steps.size(), 1u);
}

int main(int argc, char** argv) {
    ::testing::InitGoogleTest(&argc, argv);
    QCoreApplication application(argc, argv);
    return RUN_ALL_TESTS();
}
