#pragma once

#include "core/tracer/refined_passes.h"

namespace noctis {

/// What ends refining before all samples are traced; 0 for no such limit.
struct RefinementLimits {
    float noise = 0.0F;    ///< of a tile's mean, as a part of white
    float seconds = 0.0F;  ///< of tracing these passes
};

/// Seconds that a sample of one tile takes, from the samples measured so far; a guess before.
double secondsASample(std::size_t samples, double seconds);

/// How far refined passes are in each tile, and what to trace next.
class Refinement {
public:
    Refinement(std::unique_ptr<RefinedPasses> passes, const std::vector<Tile>& tiles,
               const RefinementLimits& limits);

    /// Samples [from, to) of some tiles.
    struct Round {
        std::vector<std::size_t> tiles;
        int from = 0;
        int to = 0;
    };
    /// Takes the tiles that aren't clean yet to the target number of samples, or as close as time allows;
    /// returns no tiles once nothing is left to do.
    [[nodiscard]] Round next(int target);
    void took(const Round& round, double seconds);
    [[nodiscard]] bool finished() const noexcept { return m_finished; }
    /// Samples of all tiles together, traced or to come, as far as can be foreseen.
    [[nodiscard]] std::size_t foreseen() const;
    [[nodiscard]] std::size_t traced() const;
    [[nodiscard]] double secondsASample() const {
        return noctis::secondsASample(traced(), m_seconds);
    }

    [[nodiscard]] RefinedPasses& passes() noexcept { return *m_passes; }
    [[nodiscard]] std::vector<Pass> current() const { return m_passes->passes(m_samples, m_tiles); }
    /// How many samples lie in a pixel, as "7" or "8-64"; empty if all were traced.
    [[nodiscard]] std::string tracedText() const;
    /// As current(), for the last time: what the passes were made of goes.
    [[nodiscard]] std::vector<Pass> last();

private:
    [[nodiscard]] int affordable(int target) const;

    std::unique_ptr<RefinedPasses> m_passes;
    int m_all;
    const std::vector<Tile>& m_tiles;
    RefinementLimits m_limits;
    std::vector<int> m_samples;  ///< of each tile
    std::vector<bool> m_rests;   ///< tiles that are clean enough
    int m_traced = 0;            ///< samples of tiles that don't rest
    int m_expected;
    double m_seconds = 0.0;
    bool m_finished = false;
};

}  // namespace noctis
