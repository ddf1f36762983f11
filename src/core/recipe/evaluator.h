#pragma once

#include "core/recipe/mask.h"
#include "core/recipe/mask_stretches.h"
#include "core/recipe/recipe.h"

#include <cstdint>
#include <functional>
#include <optional>
#include <string>

namespace noctis {

struct EvaluateOptions {
    int factor = 1;  ///< work at 1/factor of the size
    /// The id of the step being edited: its input is kept, so that only it and later steps run again.
    std::string editing{};
    /// The id of the only step that runs; empty: all.
    std::string solo{};
    FrameTime time{};
    bool fused = true;  ///< off: every point step produces a whole picture; for benchmarks
    /// Called with the id of a step that can't run and the reason; the step is skipped. Unset: its error is
    /// thrown.
    std::function<void(const std::string&, const std::string&)> problem{};
    /// Called with the id of a step that runs and something worth knowing about its input.
    std::function<void(const std::string&, const std::string&)> notice{};
};

/// Runs recipes on a frame. Point steps that follow one another run fused, a short run of pixels at a time, on
/// all cores; area steps map whole frames. Results are cached under a hash of all their inputs; beyond the
/// memory budget, the least used are dropped first.
/// Exact    same bits for any thread count and whether fused or not.
/// Errors   Error(MissingPass, BadSetting, UnknownName), naming the step.
/// Threads  one evaluate at a time; it uses all cores itself.
class Evaluator {
public:
    explicit Evaluator(const Catalogue& catalogue,
                       std::size_t memoryBudget = std::size_t{1} << 30U);

    /// Sets the frame; its picture is the beauty pass, or else the first colour pass.
    void setPasses(PassSet passes);
    [[nodiscard]] const PassSet& passes() const noexcept { return m_passes; }

    /// The finished picture, R G B and, where it is not opaque, A; empty when stopped.
    /// Errors   Error(MissingPass) without a picture.
    Image evaluate(const Recipe& recipe, const EvaluateOptions& options = {},
                   const RunContext& run = {});

    /// Where a step works, one channel; empty when stopped.
    /// Errors   Error(UnknownName) without such a step; as evaluate.
    Image where(const Recipe& recipe, const std::string& step, const EvaluateOptions& options = {},
                const RunContext& run = {});

    /// How many steps ran since the last call; for tests and profiling.
    [[nodiscard]] std::size_t takeStepCount() noexcept { return std::exchange(m_stepsRun, 0); }

private:
    /// What becomes of a group's steps together.
    struct GroupMix {
        const Step* group;
        std::size_t first;  ///< the plan's first step of the group
        Where where;        ///< plain
        std::uint64_t unmixedKey;
    };
    /// A runnable step, and the hash of everything up to and including it.
    struct Planned {
        const Step* step;
        const StepType* type;
        Where where;  ///< plain
        std::uint64_t key = 0;
        std::uint64_t keyBefore = 0;
        std::uint64_t passesKey = 0;    ///< of the passes as they stand before it
        bool beginsMix = false;         ///< the first step of a group that is mixed
        std::optional<GroupMix> mix{};  ///< of the group that ends with it
    };
    struct Ready {
        const Step* step;
        PointFunction work;
        MaskFunction mask;      ///< unset: everywhere
        int maskChannels = 1;   ///< 3 where the mask differs by channel
        bool sameMask = false;  ///< the same as the previous step's mask, which is already there
    };

    /// What runs in one go: the plan, and what it runs on.
    struct Going {
        const std::vector<Planned>& plan;
        const EvaluateOptions& options;
        const FrameContext& context;
        std::uint64_t startKey;
    };

    /// Runs a step on a stretch of a run, through the run's masks, one or one a channel. before: room for its input.
    static void workOn(const Ready& ready, const Stretch& part, const PointRow& run,
                       const float (&mask)[3][kRunLength], float (&before)[3][kRunLength]);

    [[nodiscard]] FrameContext contextOf(const Recipe& recipe, const EvaluateOptions& options);
    [[nodiscard]] std::uint64_t startKeyOf(const Recipe& recipe,
                                           const EvaluateOptions& options) const;
    std::vector<Planned> plan(const Recipe& recipe, const EvaluateOptions& options,
                              const FrameContext& context, std::uint64_t startKey) const;
    /// The frame after the first count steps; unmixed: without the mix of a group that ends there.
    WorkingFrame runPlan(const Going& going, std::size_t count, const RunContext& run,
                         bool unmixed = false);
    /// A group's result, mixed with what the group began with.
    WorkingFrame mixed(const Going& going, const GroupMix& mix, const WorkingFrame& before,
                       WorkingFrame after, std::size_t end, const RunContext& run);
    /// The same for a mask on its way through a group that moves light.
    Image mixedMask(const Going& going, const GroupMix& mix, const Image& before, Image after,
                    std::size_t end, const RunContext& run);
    /// Tells a frame how a step of the plan has moved its places.
    static void addMove(const Planned& planned, WorkingFrame& frame);
    /// The mask input of a step of the plan, whose input is frame; its passes are those from before the first move.
    [[nodiscard]] MaskInput maskInput(const Going& going, std::size_t step,
                                      const WorkingFrame& frame);
    /// A mask taken through all steps before that one that move light.
    Image carried(const Going& going, std::size_t step, Image mask, std::uint64_t key,
                  const RunContext& run);
    /// The same through one of them, between whose input and output pictures it lies.
    Image carriedThrough(const Going& going, std::size_t step, const WorkingFrame& before,
                         const Image& after, const Image& mask, const RunContext& run);
    /// Whether any of the first steps moves light.
    static bool movesLight(const std::vector<Planned>& plan, std::size_t count);
    /// A step's result on a picture as its amount, blend mode and Where let it through.
    Image blended(const Step& step, const Image& before, Image after, const MaskFunction& mask,
                  const Image& input, const RunContext& run);
    WorkingFrame runPoints(const WorkingFrame& from, const std::vector<Ready>& steps,
                           const RunContext& run);
    WorkingFrame runArea(const Going& going, std::size_t step, const WorkingFrame& from,
                         const RunContext& run);

    const Catalogue& m_catalogue;
    ResultCache m_cache;
    PictureFiles m_files;
    std::size_t m_stepsRun = 0;
    PassSet m_passes;
    std::uint64_t m_generation = 0;
};

/// Why enabled steps can't run, whatever the frame: unknown types, an unusable Where. By step id.
std::map<std::string, std::string> problemsOf(const Recipe& recipe, const Catalogue& catalogue);

}  // namespace noctis
