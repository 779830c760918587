#include "base/parallel.h"

#include <tbb/blocked_range.h>
#include <tbb/parallel_for.h>
#include <tbb/task_group.h>

#if defined(__SANITIZE_THREAD__)
extern "C" void __tsan_acquire(void* place); // NOLINT(bugprone-reserved-identifier): the sanitizer's name
extern "C" void __tsan_release(void* place); // NOLINT(bugprone-reserved-identifier)
#endif

namespace kervo {

namespace {

// What a thread did before it gives has happened for all that take afterwards. TBB sees to that itself; its library
// does not tell the sanitizer.
class HandOver {
public:
    void give() {
#if defined(__SANITIZE_THREAD__)
        __tsan_release(this);
#endif
    }
    void take() {
#if defined(__SANITIZE_THREAD__)
        __tsan_acquire(this);
#endif
    }
};

} // namespace

void parallel_for(size_t count, const std::function<void(size_t)>& work, size_t worth_it) {
    if (count < worth_it) {
        for (size_t i = 0; i < count; ++i) {
            work(i);
        }
        return;
    }
    HandOver given;
    HandOver done;
    given.give();
    tbb::parallel_for(tbb::blocked_range<size_t>(0, count), [&](const tbb::blocked_range<size_t>& range) {
        given.take();
        for (size_t i = range.begin(); i != range.end(); ++i) {
            work(i);
        }
        done.give();
    });
    done.take();
}

void both_at_once(const std::function<void()>& one, const std::function<void()>& other) {
    parallel_for(2, [&](size_t i) { (i == 0 ? one : other)(); });
}

struct TaskGroup::Tasks {
    tbb::task_group group;
    HandOver given, done;
};

TaskGroup::TaskGroup() : tasks_(std::make_unique<Tasks>()) {}
TaskGroup::~TaskGroup() = default;

void TaskGroup::run(std::function<void()> task) {
    tasks_->given.give();
    tasks_->group.run([tasks = tasks_.get(), task = std::move(task)] {
        tasks->given.take();
        task();
        tasks->done.give();
    });
}

void TaskGroup::wait() {
    tasks_->group.wait();
    tasks_->done.take();
}

} // namespace kervo
