#pragma once

#include "core/image/colour.h"
#include "core/image/tiles.h"
#include "core/passes/pass_file.h"
#include "core/recipe/recipe.h"
#include "core/relief/relief.h"
#include "core/scene/moved_places.h"
#include "core/tracer/pass_settings.h"

#include <array>
#include <filesystem>
#include <map>
#include <memory>
#include <optional>
#include <string>

namespace noctis {

/// A place in the scene that was marked.
struct Pin {
    std::string name;
    V3f position{0.0F};
    bool operator==(const Pin&) const = default;
};

/// The range of the depth ramp, m. Both 0: from the distances in the picture.
struct DepthRamp {
    float nearest = 0.0F;
    float farthest = 0.0F;
    bool operator==(const DepthRamp&) const = default;
    [[nodiscard]] bool automatic() const noexcept { return farthest <= 0.0F; }
};

constexpr double kSlowest = 0.1;  ///< frames a second
constexpr double kFastest = 1000.0;

/// Frames of a scene that moves, both counted.
struct FrameRange {
    int first = 1;
    int last = 1;
    bool operator==(const FrameRange&) const = default;
};

constexpr float kLeastSensor = 1.0F;  ///< mm
constexpr float kLargestSensor = 400.0F;

/// How a view's angle is given: a focal length on a sensor, or the angle itself.
struct LensReading {
    enum class By { FocalLength, AngleAcross, AngleUp } by = By::FocalLength;
    float sensorMillimetres = 36.0F;  ///< its width
    bool operator==(const LensReading&) const = default;
};

/// Numbered pass files: one frame after the other.
struct Sequence {
    std::filesystem::path pattern;  ///< its run of # is the number; empty: a still with keys
    int first = 1;
    int last = 1;
    int step = 1;
    double rate = 24.0;  ///< frames per second, kSlowest to kFastest
    bool operator==(const Sequence&) const = default;

    /// When a frame is: its first one is at 0 s.
    [[nodiscard]] double secondsAt(int frame) const noexcept { return (frame - first) / rate; }
};

/// Everything an artist decides, as a plain value, which makes saving, undo and comparing simple. Paths are
/// absolute here and relative in the file.
struct Project {
    std::filesystem::path scene;  ///< empty: none
    std::vector<std::filesystem::path> passFiles;
    /// Those of other views' frames, by view.
    std::map<std::string, std::vector<std::filesystem::path>> viewFiles;
    std::optional<View> view;  ///< as it was left in Survey
    std::vector<View> views;   ///< made by the artist, besides the scene's own
    int width = 1280;
    int height = 720;
    bool aspectLocked = true;
    LensReading lens;
    std::vector<PassRequest> passes;  ///< what Survey renders
    DepthRamp ramp;
    std::array<float, 4> crop{0.0F, 0.0F, 1.0F, 1.0F};  ///< left, top, right, bottom, of the frame
    std::vector<Pin> pins;
    MovedPlaces moved;                              ///< lights and locators
    std::map<std::string, FrameRange> frameRanges;  ///< by view
    double framesPerSecond = 24.0;                  ///< kSlowest to kFastest
    std::optional<Sequence> sequence;               ///< none: a still
    Readings readings;                              ///< how the pass files are read
    Recipe recipe;
    std::vector<Relief> reliefs;  ///< height maps
    float exposure = 0.0F;        ///< EV, of the view
    ViewTransform viewTransform = ViewTransform::SoftShoulder;
    /// Fields and passes of the file that this Noctis doesn't know, kept as JSON.
    std::shared_ptr<const std::string> unknown{};
    std::shared_ptr<const std::string> unknownPasses{};
    std::shared_ptr<const std::string> unknownReliefs{};
    std::vector<std::string> warnings{};  ///< about the file, from opening it; never saved

    bool operator==(const Project&) const = default;
    /// Width over height of the frame.
    [[nodiscard]] float aspect() const noexcept {
        return static_cast<float>(width) / static_cast<float>(height);
    }
};

/// The request for the pass of that name; none if it isn't rendered.
const PassRequest* passAsked(const Project& project, std::string_view name);
/// The same for editing; adds it to the passes if it is missing.
PassRequest& askPass(Project& project, const PassName& pass);

/// The relief with that id; none if there is none.
Relief* reliefOf(Project& project, std::string_view id);
const Relief* reliefOf(const Project& project, std::string_view id);

/// A project with the passes of the first render set up.
Project newProject();

/// The pixels to render; none for all of them.
std::optional<Tile> cropOf(const Project& project);

/// All files the project reads, and those of outputs that its scene names; none of them may be overwritten.
std::vector<std::filesystem::path> inputsOf(const Project& project,
                                            const std::vector<std::filesystem::path>& outputs);

/// The passes a new project renders.
std::vector<PassRequest> usualPasses();

}  // namespace noctis
