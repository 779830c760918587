// System calls that can be told to fail, and watched: the program's own definitions go before the C library's.
#pragma once

#include <functional>

namespace kervo::test {

struct FailingCalls {
    /// The `at`-th call on this thread from now on (1: the next) fails with `error`, and `lasting`: all that follow
    /// that would change the disk.
    static void fail(int at, int error, bool lasting);
    static void stop_failing();
    /// Before each call, as if the process were killed then. Calls of its own are not watched.
    static void watch(std::function<void(const char* call)> before);
    /// How many calls there were since `fail` or `watch`.
    static int count();
};

} // namespace kervo::test
