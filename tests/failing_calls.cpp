#include "failing_calls.h"

#include <cerrno>
#include <cstdarg>
#include <dlfcn.h>
#include <fcntl.h>
#include <sys/file.h>
#include <sys/stat.h>
#include <unistd.h>

namespace kervo::test {

namespace {

struct State {
    int at = 0, error = 0, calls = 0;
    bool lasting = false, inside = false;
    std::function<void(const char*)> before;
};
thread_local State state;

// Whether the call is to fail; `changes` the disk.
bool fails(const char* call, bool changes) {
    if (state.inside) {
        return false;
    }
    ++state.calls;
    if (state.before) {
        state.inside = true;
        state.before(call);
        state.inside = false;
    }
    const bool now = state.at > 0 && (state.calls == state.at || (state.lasting && changes && state.calls > state.at));
    if (now) {
        errno = state.error;
    }
    return now;
}

// Calls on sockets and pipes are none of this.
bool is_regular(int file) {
    struct stat status {};
    return ::fstat(file, &status) == 0 && S_ISREG(status.st_mode);
}

template <class Function> Function real(Function, const char* name) {
    return reinterpret_cast<Function>(::dlsym(RTLD_NEXT, name));
}

} // namespace

void FailingCalls::fail(int at, int error, bool lasting) {
    state.at = at;
    state.error = error;
    state.lasting = lasting;
    state.calls = 0;
}
void FailingCalls::stop_failing() {
    state.at = 0;
}
void FailingCalls::watch(std::function<void(const char*)> before) {
    state.before = std::move(before);
    state.calls = 0;
}
int FailingCalls::count() {
    return state.calls;
}

} // namespace kervo::test

using kervo::test::fails;
using kervo::test::is_regular;
using kervo::test::real;

extern "C" {

int open(const char* path, int flags, ...) {
    mode_t mode = 0;
    if ((flags & O_CREAT) != 0) {
        va_list rest;
        va_start(rest, flags);
        mode = static_cast<mode_t>(va_arg(rest, int));
        va_end(rest);
    }
    static const auto original = real(static_cast<int (*)(const char*, int, ...)>(&::open), "open");
    return fails("open", (flags & O_CREAT) != 0) ? -1 : original(path, flags, mode);
}

ssize_t write(int file, const void* bytes, size_t count) {
    static const auto original = real(&::write, "write");
    if (is_regular(file) && fails("write", true)) {
        // A full disk takes a part of it first.
        [[maybe_unused]] const ssize_t part = errno == ENOSPC && count > 1 ? original(file, bytes, count / 2) : 0;
        errno = part > 0 ? ENOSPC : errno;
        return part > 0 ? part : -1;
    }
    return original(file, bytes, count);
}

int fsync(int file) {
    static const auto original = real(&::fsync, "fsync");
    return fails("fsync", true) ? -1 : original(file);
}

int ftruncate(int file, off_t length) noexcept {
    static const auto original = reinterpret_cast<int (*)(int, off_t)>(::dlsym(RTLD_NEXT, "ftruncate"));
    return fails("ftruncate", false) ? -1 : original(file, length);
}

int rename(const char* from, const char* to) noexcept {
    static const auto original = reinterpret_cast<int (*)(const char*, const char*)>(::dlsym(RTLD_NEXT, "rename"));
    return fails("rename", true) ? -1 : original(from, to);
}

int unlink(const char* path) noexcept {
    static const auto original = reinterpret_cast<int (*)(const char*)>(::dlsym(RTLD_NEXT, "unlink"));
    return fails("unlink", false) ? -1 : original(path);
}

int close(int file) {
    static const auto original = real(&::close, "close");
    if (is_regular(file) && fails("close", false)) {
        original(file); // it is closed all the same
        errno = EIO;
        return -1;
    }
    return original(file);
}

int flock(int file, int operation) noexcept {
    static const auto original = reinterpret_cast<int (*)(int, int)>(::dlsym(RTLD_NEXT, "flock"));
    if (fails("flock", false)) {
        errno = ENOLCK; // a file system without locks
        return -1;
    }
    return original(file, operation);
}

ssize_t read(int file, void* bytes, size_t count) {
    static const auto original = real(&::read, "read");
    return is_regular(file) && fails("read", false) ? -1 : original(file, bytes, count);
}
}
