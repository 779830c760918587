// Work on several threads at once, by TBB. All of ours goes through here: what one thread did before it handed work on
// is seen by the one that does it, and what that did by the one that waits; tools that watch for races are told so.
//
//   parallel_for(faces.size(), [&](size_t i) { made[i] = describe(faces[i]); });
#pragma once

#include <functional>
#include <memory>

namespace kervo {

/// Calls `work` with 0 to count - 1, several at once, and returns when all are done. The first exception is thrown
/// again here. Fewer than `worth_it` are done one after the other.
void parallel_for(size_t count, const std::function<void(size_t)>& work, size_t worth_it = 2);

/// Both at once; the first exception is thrown again here.
void both_at_once(const std::function<void()>& one, const std::function<void()>& other);

/// Tasks that may add more of them.
class TaskGroup {
public:
    TaskGroup();
    ~TaskGroup();

    /// From any thread, also from within a task. `task` must not throw.
    void run(std::function<void()> task);
    /// Until all are done, those that were added meanwhile too.
    void wait();

private:
    struct Tasks;
    std::unique_ptr<Tasks> tasks_;
};

} // namespace kervo
