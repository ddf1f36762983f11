#pragma once

#include "core/image/run_context.h"
#include "core/recipe/step_type.h"
#include "core/steps/blur_surfaces.h"

namespace noctis {

/// View: the focal length that sees the view's own angle on the sensor, so that blur and angle agree.
enum class LensMode { View, Physical, Radius };

/// Settings of the depth of field step. Units and ranges are declared in depth_of_field.cpp.
struct DepthOfFieldSettings {
    float focus = 5.0F;  ///< m, planar
    LensMode lens = LensMode::View;
    float fNumber = 2.0F;
    float focalLength = 50.0F;  ///< mm
    float sensorWidth = 36.0F;  ///< mm
    float radius = 12.0F;       ///< px of the full picture, at infinity
    float spanNear = 0.0F;      ///< m before the focus that stay sharp
    float spanFar = 0.0F;       ///< m behind it
    float nearAmount = 1.0F;    ///< factor on the blur before the focus
    float farAmount = 1.0F;     ///< and behind it
    int blades = 0;             ///< fewer than 3: round
    float rotation = 0.0F;      ///< degrees
    float roundness = 0.3F;
    float limit = 128.0F;  ///< px; no blur is wider
};

/// The blur radius of a distance, in pixels of a picture this wide: negative before the focus.
/// Source   thin lens: c = |z - zf|/z f^2/(N (zf - f)), of which half is the radius.
float blurRadius(float depth, const DepthOfFieldSettings& settings, float widthPixels) noexcept;

/// Settings whose lens is the view's own, as a physical one.
DepthOfFieldSettings withLensOf(DepthOfFieldSettings settings, const Camera& camera, float aspect);

/// What the pixels of a picture hide: the next surface of another object. Empty where it was not
/// measured.
struct HiddenSurface {
    Image colour;  ///< R G B
    Image depth;   ///< planar, m
    /// The visible surfaces in the light that colour was measured in, where they have changed since.
    Image seenThen;
};

/// Blurs a picture as a lens does. What is sharp stays sharp and bleeds into nothing; what is
/// blurred behind stays behind; what is blurred before spreads over the rest, whose hidden part is
/// taken from `hidden`, or guessed from the surface beside the edge. Highlights keep their energy.
///
/// Shape    colour: W x H x 3 or 4, alpha last; depth (planar): W x H x 1; the result is shaped like colour.
/// Units    depth in m, +inf where nothing was hit. fullWidth: of the picture that radii are given
///          for.
///          taken: what of the picture is blurred, by the surfaces of the whole picture.
/// Exact    pixels whose radius is 0, with nothing blurred over them, are unchanged. Kernels have the variance of
///          the lens's disc from 0 up: r^2/4 along an axis.
/// Errors   Error(ShapeMismatch).
/// Threads  same bits for any thread count; stops early when run.stop is requested.
/// Source   layers by blur, front to back, after Potmesil and Chakravarty 1981 (lens) and Kosloff
///          et al. 2009 (layers); see blur_surfaces.h for what a layer holds, spread.h for how it is
///          blurred.
Image applyDepthOfField(const Image& colour, const Image& depth,
                        const DepthOfFieldSettings& settings, float fullWidth,
                        const RunContext& run = {}, const HiddenSurface& hidden = {},
                        const TakenLight& taken = {});

StepType depthOfFieldStep();

}  // namespace noctis
