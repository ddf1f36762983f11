#include "cli/progress.h"

#include <algorithm>

#include <fmt/format.h>
#include <unistd.h>

namespace noctis {

namespace {

constexpr int kBarLength = 30;
constexpr auto kBetween = std::chrono::milliseconds(100);

}  // namespace

std::string durationText(double seconds) {
    if (seconds < 90.0)
        return fmt::format("{:.0f} s", seconds);
    if (seconds < 5400.0)
        return fmt::format("{:.0f} min", seconds / 60.0);
    return fmt::format("{:.1f} h", seconds / 3600.0);
}

Progress::Progress(std::FILE* to, std::string what, std::chrono::milliseconds quietFor)
    : m_to(to), m_what(std::move(what)), m_terminal(::isatty(::fileno(to)) != 0),
      m_quietFor(quietFor) {}

Progress::~Progress() {
    if (m_terminal)
        std::fputs("\r\033[K", m_to);
}

void Progress::report(float done) {
    const std::scoped_lock lock(m_mutex);
    const auto now = std::chrono::steady_clock::now();
    if (now - m_start < m_quietFor)
        return;
    const double elapsed = std::chrono::duration<double>(now - m_start).count();
    const auto part = static_cast<double>(std::clamp(done, 0.0F, 1.0F));
    const double left = part > 0.0 ? elapsed / part - elapsed : 0.0;
    const std::string rest =
        part < 1.0 ? fmt::format(", {} left", durationText(left)) : std::string();
    if (m_terminal) {
        if (now - m_shown < kBetween)
            return;
        m_shown = now;
        const auto filled = static_cast<std::size_t>(part * kBarLength);
        fmt::print(m_to, "\r{} [{}{}] {:3.0f} %{} \033[K", m_what, std::string(filled, '='),
                   std::string(kBarLength - filled, ' '), part * 100.0, rest);
        std::fflush(m_to);
        return;
    }
    const int tenth = static_cast<int>(part * 10.0);
    if (tenth > m_lastTenth) {
        m_lastTenth = tenth;
        fmt::print(m_to, "{}: {} %{}\n", m_what, tenth * 10, rest);
        std::fflush(m_to);
    }
}

}  // namespace noctis
