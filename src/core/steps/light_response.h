#pragma once

#include "core/image/camera.h"
#include "core/image/image.h"
#include "core/passes/scene_light.h"

namespace noctis {

/// A place on a surface and what it is like; unit vectors in the world.
struct LitPoint {
    V3f position;
    V3f normal;
    V3f towardsViewer;
    LinearRgb albedo;  ///< matt
    LinearRgb mirror;  ///< at this view; see PassKind::SpecularColour
    float roughness = 0.5F;
};

/// The light that a surface sends to the viewer for one light, shadows off.
/// Matt: albedo/pi (1 - F) E cos; mirrored: GGX with Smith's masking, as the tracer has them. highlight
/// scales the mirrored part.
/// Source   areas: the irradiance of a polygon, Lambert 1760, as Arvo 1995; their mirrored part stands for
///          the whole light by one direction. Domes: both parts summed beforehand over the hemisphere.
class LightResponse {
public:
    LightResponse(const SceneLight& light, float highlight);
    [[nodiscard]] LinearRgb operator()(const LitPoint& point) const noexcept;

private:
    [[nodiscard]] LinearRgb fromDirection(const LitPoint& point, const V3f& towards,
                                          float irradiance, float widened) const noexcept;
    [[nodiscard]] LinearRgb fromArea(const LitPoint& point) const noexcept;
    /// The same from all sides.
    [[nodiscard]] LinearRgb fromDome(const LitPoint& point) const noexcept;

    SceneLight m_light;
    float m_highlight;
    V3f m_towards;
    V3f m_corners[4];
    float m_inner;
    float m_outer;
};

}  // namespace noctis
