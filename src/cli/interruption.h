#pragma once

#include <array>
#include <csignal>
#include <stop_token>
#include <thread>

namespace noctis {

/// While it lives, SIGINT, SIGTERM and SIGHUP ask for a stop instead of ending the process, and a file that grows
/// beyond its limit is an error of its writer, as a full disk is. Signals that are ignored stay so. One at a time.
class Interruption {
public:
    Interruption();
    ~Interruption();
    Interruption(const Interruption&) = delete;
    Interruption& operator=(const Interruption&) = delete;

    [[nodiscard]] std::stop_token token() const { return m_source.get_token(); }

private:
    static constexpr std::array kSignals{SIGINT, SIGTERM, SIGHUP, SIGXFSZ};

    std::stop_source m_source;
    std::array<int, 2> m_pipe{-1, -1};
    std::array<struct sigaction, kSignals.size()> m_before{};
    std::jthread m_waiting;
};

}  // namespace noctis
