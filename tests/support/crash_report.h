#pragma once

#include <execinfo.h>
#include <unistd.h>

#include <csignal>
#include <initializer_list>

namespace noctis::test {

/// Writes where a test program crashed to standard error, as the framework names no more than the test. Call it
/// before the framework runs: its own handler passes the signal on.
inline void reportCrashes() {
    const auto report = [](int signal) {
        void* frames[64];
        backtrace_symbols_fd(frames, backtrace(frames, 64), STDERR_FILENO);
        std::signal(signal, SIG_DFL);
        std::raise(signal);
    };
    void* first = nullptr;
    backtrace(&first, 1);  // loads what it needs now, not in the handler
    for (const int signal : {SIGSEGV, SIGBUS, SIGFPE, SIGILL, SIGABRT})
        std::signal(signal, report);
}

}  // namespace noctis::test
