#pragma once

#include "core/recipe/step_type.h"

namespace noctis {

enum class SweepFrom { Camera, Point };
enum class SweepMode { Add, Tint, Reveal };

/// Settings of the sweep step. Units and ranges are declared in sweep.cpp.
struct SweepSettings {
    SweepFrom from = SweepFrom::Camera;
    V3f point{0.0F, 0.0F, 0.0F};  ///< m
    float distance = 10.0F;       ///< m, of the band's front edge
    float width = 1.0F;           ///< m
    float soft = 0.2F;            ///< m
    float trail = 0.0F;           ///< m behind the band
    LinearRgb colour{0.35F, 0.75F, 1.0F};
    float strength = 1.0F;
    float edge = 1.0F;  ///< how much brighter the front edge is
    SweepMode mode = SweepMode::Add;
    FilePath picture{};  ///< what the band reveals
};

/// How much of the band is at a distance, m: 1 within it, its edge on top, falling along the trail; 0 before it.
float sweepAt(const SweepSettings& settings, float metres) noexcept;

/// Whether the band has passed there, 0..1.
float sweptAt(const SweepSettings& settings, float metres) noexcept;

StepType sweepStep();

}  // namespace noctis
