#include "core/tracer/refinement_progress.h"

namespace noctis {

void RefinementProgress::begin(const Refinement& one) { begin(one.secondsASample()); }

void RefinementProgress::beginMeasuring() {
    begin(secondsASample(m_measured.traced, m_measured.seconds));
}

void RefinementProgress::measured(std::size_t samples, double seconds) {
    m_measured.traced += samples;
    m_measured.seconds += seconds;
}

void RefinementProgress::begin(double secondsASample) {
    const double measuring = noctis::secondsASample(m_measured.traced, m_measured.seconds);
    m_samples = 0;
    m_secondsASample = secondsASample;
    m_before = static_cast<double>(m_measured.traced) * measuring;
    m_foreseen = static_cast<double>(m_measured.foreseen) * measuring;
    for (const Refinement& each : m_refined) {
        m_before += static_cast<double>(each.traced()) * each.secondsASample();
        m_foreseen += static_cast<double>(each.foreseen()) * each.secondsASample();
    }
    add(0);
}

void RefinementProgress::add(std::size_t samples) {
    const auto traced = static_cast<double>(m_samples += samples);
    if (m_foreseen > 0.0)
        m_progress.reach(static_cast<float>((m_before + traced * m_secondsASample) / m_foreseen));
}

}  // namespace noctis
