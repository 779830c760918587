// Progress and cancelling of long work. The worker calls `report` and asks `cancelled`; the owner may call `cancel`
// from any thread.
#pragma once

#include <atomic>
#include <functional>
#include <string>
#include <utility>

namespace kervo {

class Progress {
public:
    using Callback = std::function<void(double fraction, const std::string& what)>;

    Progress() = default;
    explicit Progress(Callback callback) : callback_(std::move(callback)) {}

    void cancel() { cancelled_ = true; }
    [[nodiscard]] bool cancelled() const { return cancelled_; }

    /// `fraction` in 0..1. Called from worker threads; the callback must be safe to call from them.
    void report(double fraction, const std::string& what) {
        if (callback_) {
            callback_(fraction, what);
        }
    }

private:
    std::atomic<bool> cancelled_{false};
    Callback callback_;
};

} // namespace kervo
