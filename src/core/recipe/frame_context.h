#pragma once

#include "core/passes/pass_set.h"
#include "core/recipe/numbered_pictures.h"
#include "core/recipe/picture_files.h"
#include "core/recipe/result_cache.h"

#include <cstdint>

namespace noctis {

/// When a frame is.
struct FrameTime {
    int number = 1;
    double seconds = 0.0;
    bool operator==(const FrameTime&) const = default;
};

/// The frame that a recipe works on, at the working scale: smaller sizes and derived passes are made on demand
/// and cached while there is room.
/// Threads  one at a time: ask for passes before going parallel.
class FrameContext {
public:
    /// factor: the work is done at 1/factor of the size of full, which outlives this, as cache does.
    /// generation: changes with the passes. lights: the recipe's own.
    FrameContext(const PassSet& full, int factor, ResultCache& cache, PictureFiles& files,
                 std::uint64_t generation, FrameTime time = {}, NamedLights lights = {});

    [[nodiscard]] int width() const noexcept { return m_width; }
    [[nodiscard]] int height() const noexcept { return m_height; }
    [[nodiscard]] int fullWidth() const noexcept { return m_full.width; }
    [[nodiscard]] int fullHeight() const noexcept { return m_full.height; }
    [[nodiscard]] int factor() const noexcept { return m_factor; }
    /// Working pixels per pixel of the full picture.
    [[nodiscard]] float pixelScale() const noexcept { return 1.0F / static_cast<float>(m_factor); }
    [[nodiscard]] Camera camera() const { return m_full.cameraOrAssumed(); }
    /// None if unknown.
    [[nodiscard]] const std::optional<Camera>& cameraBefore() const { return m_full.cameraBefore; }
    [[nodiscard]] const std::optional<Camera>& cameraAfter() const { return m_full.cameraAfter; }
    [[nodiscard]] const FrameTime& time() const noexcept { return m_time; }
    /// One of the recipe's own, or of the scene's.
    /// Errors   Error(UnknownName), naming those there are.
    [[nodiscard]] SceneLight light(const std::string& name) const;
    [[nodiscard]] const PassSet& full() const noexcept { return m_full; }

    /// The picture of the files: R G B, and A where it has one.
    /// Errors   Error(MissingPass).
    [[nodiscard]] Image picture() const;
    /// Whether it is there or derivable; computes nothing.
    [[nodiscard]] bool has(const PassName& name) const;
    /// What the other passes reveal about a pass, without its pixels.
    [[nodiscard]] const Pass* measured(const PassName& name) const;
    /// Errors   Error(MissingPass) where it is neither there nor derivable.
    [[nodiscard]] Image pass(const PassName& name) const;
    /// The inputs for deriving from depth at this scale, for deriving again from a depth that a step wrote.
    [[nodiscard]] PassSet geometry() const;
    /// A picture from a file, as it is now. Errors: as readPictureFile.
    [[nodiscard]] Image file(const std::filesystem::path& path) const { return m_files.read(path); }
    /// The same of a numbered sequence: its picture at this frame.
    [[nodiscard]] Image fileInTime(const std::filesystem::path& path, SequenceEnd end,
                                   int later = 0) const;
    /// The passes of a file, as they are now. Errors: as readPasses.
    [[nodiscard]] std::shared_ptr<const PassSet> passesOf(const std::filesystem::path& path) const {
        return m_files.passes(path);
    }
    /// A text, typeset once. Errors: as PictureFiles::text.
    [[nodiscard]] Image text(const std::string& text, const std::filesystem::path& font,
                             int pixelsPerLine) const {
        return m_files.text(text, font, pixelsPerLine);
    }

private:
    [[nodiscard]] Image small(const Pass& pass) const;

    const PassSet& m_full;
    int m_factor;
    int m_width;
    int m_height;
    ResultCache& m_cache;
    PictureFiles& m_files;
    std::uint64_t m_generation;
    FrameTime m_time;
    NamedLights m_lights;
    /// Frames of the sequences that were asked for, as they lie in their folders.
    mutable std::map<std::filesystem::path, std::vector<int>> m_sequences;
};

}  // namespace noctis
