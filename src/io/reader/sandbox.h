// What a process that reads a stranger's file gives up before it does so.
#pragma once

namespace kervo::io {

/// From here on this process, with all its threads, opens no file, makes no connection, starts no process and signals
/// none but itself; what it has open already it may use. Any such call fails with EPERM. Its working folder is one that
/// is gone, so that names without a folder lead nowhere. By seccomp (Linux: Documentation/userspace-api/
/// seccomp_filter). False where the system cannot; the working folder has changed even then.
bool shut_all_doors();

} // namespace kervo::io
