#pragma once

#include "core/image/run_context.h"

#include <chrono>
#include <cstdio>
#include <mutex>
#include <string>

namespace noctis {

/// Shows how far long work is: a bar with the time left on a terminal, plain lines otherwise.
/// Threads  report from any.
class Progress {
public:
    /// quietFor: work that is done sooner shows nothing.
    Progress(std::FILE* to, std::string what, std::chrono::milliseconds quietFor = {});
    ~Progress();
    Progress(const Progress&) = delete;
    Progress& operator=(const Progress&) = delete;

    void report(float done);

private:
    std::FILE* m_to;
    std::string m_what;
    bool m_terminal;
    std::chrono::milliseconds m_quietFor;
    std::mutex m_mutex;
    std::chrono::steady_clock::time_point m_start = std::chrono::steady_clock::now();
    std::chrono::steady_clock::time_point m_shown = m_start;
    int m_lastTenth = 0;
};

/// "12 s", "3 min", "2 h".
std::string durationText(double seconds);

}  // namespace noctis
