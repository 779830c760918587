// A kind of step that is added from outside: the rest of the house takes it like any other.
#include "io/document/document_json.h"
#include "io/document/document_schema.h"
#include "io_fixture.h"
#include "model/route/dependency_graph.h"
#include "model/steps/body_cut/body_cut.h"
#include "own_kind.h"

#include <condition_variable>
#include <thread>

using namespace kervo;
using namespace kervo::io;
using namespace kervo::io::test;

namespace {

struct OwnKind : ::testing::Test {
    static void SetUpTestSuite() { add_step_kind(StepOf<RoundBar>::kind()); }
    Builder b;
    int bar = 0;
    static double volume(const Evaluation& evaluation, int id) {
        for (const auto& [known, body] : evaluation.bodies_as_of()) {
            if (known == std::to_string(id)) {
                return geom::volume_of(body->shape);
            }
        }
        return 0;
    }
    OwnKind() {
        b.set("thick", "8 mm");
        bar = b.step(RoundBar{{"thick"}, {"30 mm"}, {"along_x"}, {"5 mm"}});
    }
};

} // namespace

namespace kervo::model {

// Waits until another step, which hangs on a third one, has run; or is that step.
struct Gate {
    static constexpr const char* kind = "gate";
    static constexpr const char* title = "Gate";
    static constexpr const char* summary = "Waits for another one.";

    Choice does{"wait"};
    References after;

    template <class Self, class Visit> static void fields(Self& self, Visit&& visit) {
        visit(FieldInfo("does", "Does", Question::size, "What.").one_of({{"wait", "Waits"}, {"open", "Opens"}}),
              self.does);
        visit(FieldInfo("after", "After", Question::place, "What.").picks({ElementKind::body}).several(), self.after);
    }
    [[nodiscard]] StepOutput evaluate(const StepInputs& /*inputs*/) const {
        std::unique_lock lock(guard);
        if (does.value == "open") {
            is_open = true;
            opened.notify_all();
        } else {
            met = opened.wait_for(lock, std::chrono::seconds(20), [] { return is_open; });
        }
        return {};
    }
    static std::vector<StepVerb> verbs() { return {}; }
    friend bool operator==(const Gate&, const Gate&) = default;

    static inline std::mutex guard;
    static inline std::condition_variable opened;
    static inline bool is_open = false, met = false;
};

template struct StepOf<Gate>;

} // namespace kervo::model

// A step runs as soon as what it reads is there, whatever else takes its time.
TEST_F(OwnKind, ASlowStepHoldsUpNothingThatDoesNotReadIt) {
    if (std::thread::hardware_concurrency() < 2) {
        GTEST_SKIP() << "needs two processors";
    }
    add_step_kind(StepOf<Gate>::kind());
    b.step(Gate{});
    b.step(Gate{{"open"}, {whole(std::to_string(bar))}});
    const Evaluation evaluation = b.evaluate();
    EXPECT_FALSE(evaluation.failed());
    EXPECT_TRUE(Gate::met);
}

TEST_F(OwnKind, IsMadeListedAndTold) {
    const auto made = make_definition("round_bar");
    ASSERT_TRUE(made && made->is<RoundBar>());
    EXPECT_EQ(title_of(*made), "Round bar");
    EXPECT_FALSE(sweeps(*made) || draws(*made));
    EXPECT_EQ(fields_of(*made).size(), 4U);
    EXPECT_EQ(fields_of(*made, true).size(), 3U); // the lift is asked of what lies
    EXPECT_NE(steps_reference().find(RoundBar::summary), std::string::npos);
}

TEST_F(OwnKind, IsEvaluatedAndFollowsItsParameters) {
    for (const double thick : {8.0, 3.0}) {
        b.set("thick", std::to_string(thick));
        const auto evaluation = b.evaluate();
        ASSERT_FALSE(evaluation.failed());
        EXPECT_NEAR(volume(evaluation, bar), pi * thick * thick / 4 * 30, 1e-7);
    }
    EXPECT_EQ(dependencies_of(b.document.step(bar)->definition).parameters, std::set<std::string>{"thick"});
    const auto renamed = rename_parameter(b.document, "thick", "width");
    EXPECT_EQ(renamed.step(bar)->definition.as<RoundBar>()->diameter.text, "width");
    EXPECT_EQ(b.document.step(bar)->definition.as<RoundBar>()->diameter.text, "thick");
    b.set("thick", "0");
    EXPECT_EQ(b.evaluate().report(bar)->findings.front().field, "diameter");
}

TEST_F(OwnKind, IsInFilesAsOthersAre) {
    const std::string text = to_text(b.document);
    const auto read = document_from_text(text);
    ASSERT_TRUE(read.ok());
    EXPECT_EQ(*read->step(bar), *b.document.step(bar));
    EXPECT_EQ(to_text(*read), text);
    EXPECT_TRUE(check_schema(Json::parse(text)).empty());
    Json wrong = Json::parse(text);
    wrong["steps"][0]["answers"]["lies"] = "crooked";
    EXPECT_FALSE(check_schema(wrong).empty());
    EXPECT_FALSE(document_from_text(wrong.dump()).ok());
}

TEST_F(OwnKind, IsCutAndCuts) {
    const int block = b.box("100", "100", "10");
    BodyCut cut;
    cut.workpieces = {{ElementKind::body, std::to_string(block), {}, {}, {}}};
    cut.cutter_bodies = {{ElementKind::body, std::to_string(bar), {}, {}, {}}};
    b.step(cut);
    const auto evaluation = b.evaluate();
    ASSERT_FALSE(evaluation.failed());
    EXPECT_NEAR(volume(evaluation, block), 100 * 100 * 10 - pi * 16 * 30, 1e-6);
}

TEST_F(OwnKind, IsAValue) {
    StepDefinition one = RoundBar{};
    StepDefinition other = one;
    EXPECT_EQ(one, other);
    other.as<RoundBar>()->length.text = "60 mm";
    EXPECT_FALSE(one == other);
    EXPECT_EQ(one.as<RoundBar>()->length.text, "50 mm");
    EXPECT_EQ(one.as<Stock>(), nullptr);
    EXPECT_FALSE(one == StepDefinition(Stock{}));
    one = std::move(other);
    EXPECT_EQ(one.as<RoundBar>()->length.text, "60 mm");
}
