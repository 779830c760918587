#include "io/reader/sandbox.h"

#include <array>
#include <cerrno>
#include <cstddef>
#include <cstdlib>
#include <linux/audit.h>
#include <linux/filter.h>
#include <linux/sched.h>
#include <linux/seccomp.h>
#include <sys/prctl.h>
#include <sys/syscall.h>
#include <unistd.h>
#include <vector>

namespace kervo::io {

namespace {

#if defined(__x86_64__)
constexpr unsigned machine = AUDIT_ARCH_X86_64;
#elif defined(__aarch64__)
constexpr unsigned machine = AUDIT_ARCH_AARCH64;
#else
constexpr unsigned machine = 0;
#endif

// Memory, threads, clocks, and what is open already. Nothing here takes a path or an address.
constexpr auto harmless = std::to_array<long>({
    SYS_read,
    SYS_write,
    SYS_readv,
    SYS_writev,
    SYS_pread64,
    SYS_pwrite64,
    SYS_lseek,
    SYS_fstat,
    SYS_close,
    SYS_ftruncate,
    SYS_mmap,
    SYS_munmap,
    SYS_mprotect,
    SYS_mremap,
    SYS_madvise,
    SYS_brk,
    SYS_membarrier,
    SYS_mincore,
    SYS_futex,
    SYS_exit,
    SYS_exit_group,
    SYS_set_robust_list,
    SYS_get_robust_list,
    SYS_set_tid_address,
    SYS_sched_yield,
    SYS_sched_getaffinity,
    SYS_rt_sigaction,
    SYS_rt_sigprocmask,
    SYS_rt_sigreturn,
    SYS_sigaltstack,
    SYS_restart_syscall,
    SYS_getpid,
    SYS_gettid,
    SYS_getuid,
    SYS_geteuid,
    SYS_getgid,
    SYS_getegid,
    SYS_clock_gettime,
    SYS_clock_getres,
    SYS_clock_nanosleep,
    SYS_nanosleep,
    SYS_gettimeofday,
    SYS_getrusage,
    SYS_getrandom,
    SYS_sysinfo,
    SYS_uname,
    SYS_getcpu,
#ifdef SYS_rseq
    SYS_rseq,
#endif
#ifdef SYS_arch_prctl
    SYS_arch_prctl,
#endif
#ifdef SYS_time
    SYS_time,
#endif
});

sock_filter step(int code, unsigned value, size_t if_so = 0, size_t if_not = 0) {
    return {static_cast<unsigned short>(code), static_cast<unsigned char>(if_so), static_cast<unsigned char>(if_not),
            value};
}

sock_filter load(size_t offset) {
    return step(BPF_LD | BPF_W | BPF_ABS, static_cast<unsigned>(offset));
}

// Allows the call where its number is this one.
void allow(std::vector<sock_filter>& program, long call) {
    program.push_back(step(BPF_JMP | BPF_JEQ | BPF_K, static_cast<unsigned>(call), 0, 1));
    program.push_back(step(BPF_RET | BPF_K, SECCOMP_RET_ALLOW));
}

// Allows it where, besides, its argument has all of `bits` (or, by `equal`, is that).
void allow_with(std::vector<sock_filter>& program, long call, size_t argument, bool equal, unsigned value) {
    program.push_back(step(BPF_JMP | BPF_JEQ | BPF_K, static_cast<unsigned>(call), 0, 4));
    program.push_back(load(offsetof(seccomp_data, args) + argument * sizeof(__u64))); // the lower half, little endian
    program.push_back(step(BPF_JMP | (equal ? BPF_JEQ : BPF_JSET) | BPF_K, value, 0, 1));
    program.push_back(step(BPF_RET | BPF_K, SECCOMP_RET_ALLOW));
    program.push_back(step(BPF_RET | BPF_K, SECCOMP_RET_ERRNO | EPERM));
}

void leave_all_folders() {
    std::array<char, 32> place{"/tmp/kervo-XXXXXX"};
    if (::mkdtemp(place.data()) != nullptr) {
        [[maybe_unused]] const int there = ::chdir(place.data());
        ::rmdir(place.data());
    }
}

} // namespace

bool shut_all_doors() {
    leave_all_folders();
    if (machine == 0) {
        return false;
    }
    std::vector<sock_filter> program{load(offsetof(seccomp_data, arch)), step(BPF_JMP | BPF_JEQ | BPF_K, machine, 1, 0),
                                     step(BPF_RET | BPF_K, SECCOMP_RET_KILL_PROCESS), load(offsetof(seccomp_data, nr))};
    for (const long call : harmless) {
        allow(program, call);
    }
    // Threads, not processes; the newer call hides its flags behind a pointer, and the C library takes the older one
    // where it is not there.
    program.push_back(step(BPF_JMP | BPF_JEQ | BPF_K, SYS_clone3, 0, 1));
    program.push_back(step(BPF_RET | BPF_K, SECCOMP_RET_ERRNO | ENOSYS));
    allow_with(program, SYS_clone, 0, false, CLONE_THREAD);
    allow_with(program, SYS_tgkill, 0, true, static_cast<unsigned>(::getpid())); // how abort() ends
    program.push_back(step(BPF_RET | BPF_K, SECCOMP_RET_ERRNO | EPERM));
    const sock_fprog filter{static_cast<unsigned short>(program.size()), program.data()};
    return ::prctl(PR_SET_NO_NEW_PRIVS, 1, 0, 0, 0) == 0 &&
           ::syscall(SYS_seccomp, SECCOMP_SET_MODE_FILTER, SECCOMP_FILTER_FLAG_TSYNC, &filter) == 0;
}

} // namespace kervo::io
