// A hand that works with a document in the real window until it is killed, and tells of each change once it is safe;
// and an eye that tells what somebody finds there afterwards. Driven by scripts/kill_tests.py.
//
//   kill_hand work DOCUMENT [CALL]    CALL: the process kills itself before that system call that touches files
//   kill_hand look DOCUMENT           prints the number of the last change that is found
#include "failing_calls.h"
#include "window_fixture.h"

#include <csignal>
#include <cstdio>
#include <unistd.h>

using namespace kervo::app;
using namespace kervo::app::test;
using kervo::test::FailingCalls;

namespace {

int count_in(const kervo::model::Document& document) {
    return QString::fromStdString(document.parameters.front().formula).section('*', 1).toInt(); // 0 as it comes
}

void tell(char what, int count) {
    std::printf("%c %d\n", what, count);
    std::fflush(stdout);
}

int work(const QString& path, int at_call) {
    Hand hand;
    if (at_call > 0) {
        FailingCalls::watch([at_call](const char*) {
            if (FailingCalls::count() >= at_call) {
                ::kill(::getpid(), SIGKILL);
            }
        });
    }
    if (!hand.window().open_file(path)) {
        return 1;
    }
    hand.session().take_recovered();
    tell('o', count_in(hand.document()));
    for (int count = count_in(hand.document()) + 1;; ++count) {
        tell('t', count); // tried
        hand.set_formula(0, QString("16 mm + 0 mm * %1").arg(count));
        if (count_in(hand.document()) != count) {
            return 2;
        }
        if (!hand.session().trouble()) {
            tell('a', count); // accepted
        }
        if (count % 3 == 0) {
            hand.activate();
            QTest::keyClick(hand.window().windowHandle(), Qt::Key_S, Qt::ControlModifier);
            tell('s', count);
        }
    }
}

int look(const QString& path) {
    Hand hand;
    if (!hand.window().open_file(path)) {
        return 1;
    }
    tell('f', count_in(hand.document()));
    hand.session().leave();
    return 0;
}

} // namespace

int main(int argc, char** argv) {
    ask_for_surface();
    QApplication application(argc, argv);
    dress_application();
    start_clean();
    const QStringList words = QCoreApplication::arguments();
    if (words.size() < 3) {
        return 3;
    }
    return words[1] == "look" ? look(words[2]) : work(words[2], words.value(3).toInt());
}
