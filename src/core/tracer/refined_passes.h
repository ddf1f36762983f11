#pragma once

#include "core/image/tiles.h"
#include "core/passes/pass_set.h"
#include "core/tracer/accelerator.h"
#include "core/tracer/lens.h"
#include "core/tracer/lighting.h"
#include "core/tracer/occlusion.h"
#include "core/tracer/pass_settings.h"

#include <memory>
#include <optional>
#include <vector>

namespace noctis {

/// What refined passes are traced for. All of it outlives them.
struct RefinedFrame {
    const Accelerator& accelerator;  ///< everything
    AcceleratorsByName& parts;
    const Lighting& lighting;
    const Camera& camera;
    int width;
    int height;
    std::uint32_t seed;
    std::optional<TracedLens> lens;
};

/// One or more passes that are averaged over the samples of each pixel, the same samples for all.
class RefinedPasses {
public:
    virtual ~RefinedPasses() = default;

    /// For saying what is being rendered.
    [[nodiscard]] virtual PassKind kind() const = 0;
    [[nodiscard]] virtual int samples() const = 0;
    /// Adds samples [from, to) of a tile.
    /// Threads  different tiles at once.
    virtual void trace(const Tile& tile, int from, int to) noexcept = 0;
    /// The passes as they are, by name. done(tile) samples lie in each tile.
    [[nodiscard]] virtual std::vector<Pass> passes(const std::vector<int>& samplesOfTile,
                                                   const std::vector<Tile>& tiles) const = 0;
    /// As passes(), for the last time: nothing is added or asked for after it, so the sums may be used up.
    [[nodiscard]] virtual std::vector<Pass> lastPasses(const std::vector<int>& samplesOfTile,
                                                       const std::vector<Tile>& tiles) {
        return passes(samplesOfTile, tiles);
    }
    /// The noise of a tile's mean as a part of white, where it is known; none to go by samples alone.
    [[nodiscard]] virtual std::optional<float> noiseOf(const Tile& tile, int done) const {
        (void)tile;
        (void)done;
        return std::nullopt;
    }
};

/// Beauty with all that is made of its paths: light groups, parts, emission, backdrop.
std::unique_ptr<RefinedPasses> lightPasses(const RefinedFrame& frame,
                                           const std::vector<PassRequest>& requests,
                                           const BeautySettings& settings);
/// Light of what the first object hides.
std::unique_ptr<RefinedPasses> behindPass(const RefinedFrame& frame, const PassRequest& request,
                                          const BeautySettings& settings);
/// Occlusion, or the bent normal.
std::unique_ptr<RefinedPasses> occlusionPass(const RefinedFrame& frame, const PassRequest& request);
/// Pixels of an occlusion pass that their neighbours can't help, see smoothingSupport, are traced with
/// more rays: half as many again, and at least kRaysAlone.
constexpr int kRaysAlone = 64;
class LonelyOcclusion {
public:
    LonelyOcclusion(const RefinedFrame& frame, const PassRequest& request);
    /// Adds to a tile of open, and to rays, which counts them, where there is little support.
    /// Threads  different tiles at once.
    void add(const Tile& tile, const Image& support, float* open, float* rays) const noexcept;

private:
    RefinedFrame m_frame;
    OcclusionSettings m_settings;
    const Accelerator& m_receivers;
    OcclusionSampler m_sampler;
};

/// A light's shadow.
std::unique_ptr<RefinedPasses> shadowPass(const RefinedFrame& frame, const PassRequest& request);
/// All lights' shadow on an unseen ground.
std::unique_ptr<RefinedPasses> groundShadowPass(const RefinedFrame& frame,
                                                const PassRequest& request);

/// The ray through a point of a pixel; its centre if none is given.
CameraRay rayThrough(const RefinedFrame& frame, int x, int y,
                     const Sample2& within = {0.5F, 0.5F}) noexcept;

/// Divides a plane of sums by each tile's samples.
void average(float* plane, std::ptrdiff_t stride, const std::vector<int>& samplesOfTile,
             const std::vector<Tile>& tiles) noexcept;
/// The same for some of an image's channels, which stays. channels of sums [first, first + names.size()).
Image averageOf(const Image& sums, int first, std::vector<std::string> names,
                const std::vector<int>& samplesOfTile, const std::vector<Tile>& tiles);

}  // namespace noctis
