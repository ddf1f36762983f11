#pragma once

#include "core/image/run_context.h"
#include "core/tracer/refinement.h"

#include <atomic>
#include <vector>

namespace noctis {

/// How far a render is, by time: a sample of a tile counts for as long as such samples took so far, be it of
/// what is refined in rounds or of what is measured once.
class RefinementProgress {
public:
    /// refined: outlives this, as run does. measured: samples of tiles that are measured once.
    RefinementProgress(const std::vector<Refinement>& refined, std::size_t measured,
                       const RunContext& run)
        : m_refined(refined), m_progress(run), m_measured{measured} {}

    /// A round of one of those refined begins.
    void begin(const Refinement& one);
    void beginMeasuring();
    void measured(std::size_t samples, double seconds);
    /// Counts samples of tiles that have been traced since begin().
    /// Threads  any.
    void add(std::size_t samples);
    void finish() { m_progress.reach(1.0F); }

private:
    void begin(double secondsASample);

    struct Measured {
        std::size_t foreseen = 0;
        std::size_t traced = 0;
        double seconds = 0.0;
    };
    const std::vector<Refinement>& m_refined;
    SharedProgress m_progress;
    Measured m_measured;
    std::atomic<std::size_t> m_samples = 0;  ///< of what has begun
    double m_secondsASample = 0.0;
    double m_before = 0.0;  ///< s, of what is done
    double m_foreseen = 0.0;
};

}  // namespace noctis
