#pragma once

#include "core/recipe/step_type.h"

#include <string>
#include <vector>

namespace noctis {

enum class StandeeFacing { Camera, Upright, Fixed };
enum class StandeeMode { Over, Add, Screen };

/// Settings of the standee step. Units and ranges are declared in standee.cpp.
struct StandeeSettings {
    std::string text = "Standee";  ///< lines end with \n; while there is no picture
    FilePath picture{};
    FilePath font{};         ///< empty: the application's own
    float height = 2.0F;     ///< m, of all of it
    float distance = 0.0F;   ///< m along the view; 0: it stands at position
    V2f at{200.0F, 200.0F};  ///< px of the full picture: its bottom centre, with a distance
    V3f position{0.0F};      ///< m: its bottom centre, without one
    StandeeFacing facing = StandeeFacing::Camera;
    float turn = 0.0F;  ///< degrees about the vertical, when fixed; 0 faces along +Z
    LinearRgb colour{1.0F, 1.0F, 1.0F};  ///< of a text; of a picture, what it is multiplied by
    float strength = 1.0F;               ///< multiplies its light
    float soft = 0.05F;                  ///< m before a surface over which it fades into it
    StandeeMode mode = StandeeMode::Over;
    int count = 1;
    float span = 0.0F;  ///< m, along and across the view, over which several are spread
    int seed = 1;
    V3f velocity{0.0F};  ///< m/s
    float life = 0.0F;   ///< s after which each starts again; 0: never
};

/// One of several that stand: how it differs from the first, at a time.
struct StandeeOne {
    V3f offset{0.0F};  ///< m
    float size = 1.0F;
    float strength = 1.0F;
    int later = 0;  ///< frames of a sequence
};

/// All of them, by seed and time alone. axes: of the camera, right and towards the viewer.
std::vector<StandeeOne> standeesOf(const StandeeSettings& settings, double seconds,
                                   const V3f& right, const V3f& towards);

/// A flat picture or text that stands in the scene: hidden by what is nearer, and part of the depth and
/// coverage that later steps see.
///
/// Shape    depth, coverage: W x H x 1, of the frame; without a depth it hides everything.
/// Exact    pixels beyond its bounds keep every bit; planes that it does not touch are shared.
/// Errors   Error(FileAccess, BadFile) for a picture or font that can't be read.
/// Threads  same bits for any thread count; stops early when run.stop is requested.
WorkingFrame standIn(const WorkingFrame& frame, const StandeeSettings& settings,
                     const RunContext& run = {});

StepType standeeStep();

}  // namespace noctis
