#pragma once

#include "core/image/camera.h"
#include "core/recipe/step_type.h"

namespace noctis {

/// Settings of the distortion step. Units and ranges are declared in distortion.cpp.
struct DistortionSettings {
    float k1 = 0.0F;
    float k2 = 0.0F;
    bool inverse = false;
    bool fill = false;  ///< enlarged until no border shows
};

/// A lens's distortion about the middle of a frame: the result at a distance of r half diagonals shows the source at
/// r (1 + k1 r^2 + k2 r^4). Where that would turn back, it stays at its farthest.
/// Exact    the inverse within 0.001 px.
/// Source   the radial model of Brown 1966.
class DistortionMap {
public:
    DistortionMap(const DistortionSettings& settings, int width, int height);

    /// px, pixel centres at halves.
    [[nodiscard]] V2f sourceOf(float x, float y) const noexcept;
    /// How much of the result's half diagonals the frame shows; 1 unless it fills.
    [[nodiscard]] double zoom() const noexcept { return m_zoom; }

private:
    [[nodiscard]] double forward(double r) const noexcept;
    [[nodiscard]] double backward(double r) const noexcept;
    [[nodiscard]] bool showsBorder(double zoom) const noexcept;
    [[nodiscard]] V2f placed(double x, double y, double zoom) const noexcept;

    double m_k1;
    double m_k2;
    bool m_inverse;
    double m_middleX;
    double m_middleY;
    double m_half;  ///< px of half a diagonal
    double
        m_farthest;  ///< half diagonals, where the map would turn back; infinite if it never does
    double m_zoom = 1.0;
};

StepType distortionStep();

}  // namespace noctis
