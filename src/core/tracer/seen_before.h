#pragma once

#include "core/image/camera.h"
#include "core/image/image.h"
#include "core/passes/pass_set.h"

#include <optional>
#include <vector>

namespace noctis {

/// A picture of surfaces that can be looked up by place: a value that does not depend on the viewer, as
/// matt light or how open a surface is, is found again from another camera.
class SeenBefore {
public:
    /// Shape    all of one size; position and normal X Y Z in the world, normal 0 where nothing was hit;
    ///          value 1 or 3 channels.
    SeenBefore(const Camera& camera, const Image& position, const Image& normal,
               const Image& value);

    /// The value of a surface at a place, mixed from the pixels about it that show the same surface.
    /// Result   false where none does; value is then left as it is. One channel fills all three.
    bool at(const V3f& place, const V3f& normal, LinearRgb& value) const noexcept;

private:
    Camera m_camera;
    M44f m_toCamera;
    float m_pixel = 0.0F;  ///< m a pixel at 1 m; of a parallel view at any distance
    /// Side by side, for they are read together, at any place.
    struct Seen {
        V3f position;
        V3f normal;
        LinearRgb value;
    };
    int m_width = 0;
    int m_height = 0;
    std::vector<Seen> m_seen;
};

/// Of a set that has position and facing normals, and parts of matt light or occlusion; none of others.
std::optional<SeenBefore> seenBefore(const PassSet& set);
/// The passes that seenBefore() needs besides a beauty or an occlusion, by name.
std::vector<PassKind> keptWith(PassKind shown);

}  // namespace noctis
