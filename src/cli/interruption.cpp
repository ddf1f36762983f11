#include "cli/interruption.h"

#include <atomic>

#include <fcntl.h>
#include <unistd.h>

namespace noctis {

namespace {

std::atomic<int> writingEnd = -1;

/// A handler may do little; whoever reads the pipe does the rest.
void onSignal(int) {
    const char byte = 0;
    (void)!::write(writingEnd, &byte, 1);
}

}  // namespace

Interruption::Interruption() {
    (void)!::pipe2(m_pipe.data(), O_CLOEXEC);
    writingEnd = m_pipe[1];
    m_waiting = std::jthread([this] {
        char byte = 0;
        while (::read(m_pipe[0], &byte, 1) == 1)
            m_source.request_stop();
    });
    for (std::size_t i = 0; i < kSignals.size(); ++i) {
        struct sigaction action {};
        action.sa_handler = kSignals[i] == SIGXFSZ ? SIG_IGN : onSignal;
        ::sigaction(kSignals[i], nullptr, &m_before[i]);
        if (m_before[i].sa_handler != SIG_IGN)
            ::sigaction(kSignals[i], &action, nullptr);
    }
}

Interruption::~Interruption() {
    for (std::size_t i = 0; i < kSignals.size(); ++i)
        ::sigaction(kSignals[i], &m_before[i], nullptr);
    writingEnd = -1;
    ::close(m_pipe[1]);  // which ends the reading
    m_waiting.join();
    ::close(m_pipe[0]);
}

}  // namespace noctis
