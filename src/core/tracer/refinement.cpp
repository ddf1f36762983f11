#include "core/tracer/refinement.h"

#include <algorithm>
#include <numeric>

#include <fmt/format.h>

namespace noctis {

namespace {

/// Of fewer samples the noise can't be estimated.
constexpr int kFewest = 8;

}  // namespace

double secondsASample(std::size_t samples, double seconds) {
    constexpr double kGuess = 1e-3;
    return samples > 0 && seconds > 0.0 ? seconds / static_cast<double>(samples) : kGuess;
}

Refinement::Refinement(std::unique_ptr<RefinedPasses> passes, const std::vector<Tile>& tiles,
                       const RefinementLimits& limits)
    : m_passes(std::move(passes)), m_all(m_passes->samples()), m_tiles(tiles), m_limits(limits),
      m_samples(tiles.size(), 0), m_rests(tiles.size(), false), m_expected(m_all) {}

/// As many samples as there is time for, judging by how long the previous ones took.
int Refinement::affordable(int target) const {
    if (m_limits.seconds <= 0.0F || m_traced == 0 || m_seconds <= 0.0)
        return target;
    const double left = std::max(0.0, static_cast<double>(m_limits.seconds) - m_seconds);
    const double more = left * m_traced / m_seconds;
    return more < target - m_traced ? m_traced + static_cast<int>(more) : target;
}

Refinement::Round Refinement::next(int target) {
    m_expected = affordable(m_all);
    Round round{{}, m_traced, std::min(m_expected, target)};
    if (round.to > round.from)
        for (std::size_t t = 0; t < m_tiles.size(); ++t) {
            if (m_limits.noise > 0.0F && !m_rests[t] && m_traced >= kFewest) {
                const std::optional<float> noise = m_passes->noiseOf(m_tiles[t], m_traced);
                m_rests[t] = noise && *noise <= m_limits.noise;
            }
            if (!m_rests[t])
                round.tiles.push_back(t);
        }
    m_finished = round.tiles.empty() || round.to >= m_all;
    return round;
}

void Refinement::took(const Round& round, double seconds) {
    m_traced = round.to;
    m_seconds += seconds;
    for (const std::size_t t : round.tiles)
        m_samples[t] = round.to;
}

std::size_t Refinement::foreseen() const {
    std::size_t all = 0;
    for (std::size_t t = 0; t < m_tiles.size(); ++t)
        all += static_cast<std::size_t>(m_rests[t] ? m_samples[t] : m_expected);
    return all;
}

std::size_t Refinement::traced() const {
    return std::accumulate(m_samples.begin(), m_samples.end(), std::size_t{0});
}

std::string Refinement::tracedText() const {
    const auto [fewest, most] = std::minmax_element(m_samples.begin(), m_samples.end());
    if (fewest == m_samples.end() || *fewest >= m_all)
        return {};
    return *fewest == *most ? std::to_string(*fewest) : fmt::format("{}-{}", *fewest, *most);
}

std::vector<Pass> Refinement::last() {
    std::vector<Pass> passes = m_passes->lastPasses(m_samples, m_tiles);
    m_passes.reset();
    return passes;
}

}  // namespace noctis
