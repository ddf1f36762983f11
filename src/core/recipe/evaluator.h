#pragma once

#include "core/recipe/recipe.h"

#include <cstdint>
#include <functional>
#include <list>
#include <map>
#include <memory>
#include <optional>

namespace noctis {

struct EvaluateOptions {
    int factor = 1;  ///< work at 1/factor of the size
    /// The step being edited: what comes before it is kept, so that only it and what follows run
    /// again.
    std::optional<std::size_t> editing;
    bool fused = true;  ///< off: every point step makes a whole picture of its own; for measuring
    /// Told of a step that can't run, which is then passed over. Unset: its error is thrown.
    std::function<void(std::size_t, const std::string&)> problem;
};

/// Runs recipes on a frame. Point steps that follow one another run fused, a short run of pixels
/// at a time, on all cores; area steps take and give whole pictures. Results are kept by a hash
/// of all that went into them, the least used dropped first beyond the memory budget.
/// Exact    same bits for any thread count and whether fused or not.
/// Errors   Error(MissingPass), naming the step.
/// Threads  one evaluate at a time; it uses all cores itself.
class Evaluator {
public:
    explicit Evaluator(const Catalogue& catalogue,
                       std::size_t memoryBudget = std::size_t{1} << 30U);

    /// The frame to work on; its picture is the beauty pass, or else the first colour pass.
    void setPasses(PassSet passes);
    [[nodiscard]] const PassSet& passes() const noexcept { return m_passes; }

    /// The finished picture, R G B; empty when stopped.
    /// Errors   Error(MissingPass) without a picture.
    Image evaluate(const Recipe& recipe, const EvaluateOptions& options = {},
                   const RunContext& run = {});

    /// How many pixels of steps were worked since the last call; for tests and profiling.
    [[nodiscard]] std::size_t takeStepCount() noexcept { return std::exchange(m_stepsRun, 0); }

private:
    struct Kept {
        Image image;
        std::list<std::uint64_t>::iterator use;
    };
    struct Ready {
        const Step* step;
        PointFunction work;
    };

    const FrameContext& frameAt(int factor);
    [[nodiscard]] const Image* recall(std::uint64_t key);
    void keep(std::uint64_t key, const Image& image);
    Image runPoints(const Image& from, const std::vector<Ready>& steps, const RunContext& run);
    Image runArea(const Image& from, const Step& step, const FrameContext& frame,
                  const RunContext& run);

    const Catalogue& m_catalogue;
    std::size_t m_budget;
    std::size_t m_used = 0;
    std::size_t m_stepsRun = 0;
    PassSet m_passes;
    std::uint64_t m_generation = 0;
    std::map<int, std::unique_ptr<FrameContext>> m_frames;
    std::map<std::uint64_t, Kept> m_kept;
    std::list<std::uint64_t> m_uses;  ///< the latest first
};

}  // namespace noctis
