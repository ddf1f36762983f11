#pragma once

#include "core/image/image.h"
#include "core/image/pixel_size.h"
#include "core/passes/pass_set.h"

#include <optional>
#include <vector>

namespace noctis {

/// Rougher surfaces mirror no picture, only the light about them.
inline constexpr float kMirrorsUpTo = 0.35F;

/// A picture of surfaces that can be looked up by place: a value that does not depend on the viewer, as
/// matt light or how open a surface is, is found again from another camera.
class SeenBefore {
public:
    /// Shape    all of one size; position and normal X Y Z in the world, normal 0 where nothing was hit;
    ///          value 1 or 3 channels; matt R G B, or empty.
    /// matt: what is seen of surfaces that are matt alone; less than 0 of others.
    SeenBefore(const Camera& camera, const Image& position, const Image& normal, const Image& value,
               const Image& matt = {});

    /// The value of a surface at a place, mixed from the pixels about it that show the same surface.
    /// Result   false where none does; value is then left as it is. One channel fills all three.
    bool at(const V3f& place, const V3f& normal, LinearRgb& value) const noexcept;
    /// As at(), of what is seen of a matt surface; not where it was seen in pixels of more than that many
    /// metres, which would show in a picture of smaller ones.
    bool mattAt(const V3f& place, const V3f& normal, float coarsest,
                LinearRgb& seen) const noexcept;

private:
    Camera m_camera;
    M44f m_toCamera;
    PixelSize m_pixel;
    /// Side by side, for they are read together, at any place.
    struct Seen {
        V3f normal;
        float along = 0.0F;  ///< of the plane that the surface lies in: its place along the normal
        LinearRgb value;
        LinearRgb matt;
    };
    /// A place in the picture, and the size of a pixel there, m.
    struct Spot {
        float x = 0.0F;
        float y = 0.0F;
        float pixel = 0.0F;
    };
    [[nodiscard]] bool find(const V3f& place, Spot& spot) const noexcept;
    /// Calls take(seen, weight) for the pixels about a spot that show the same surface.
    template <typename Take>
    void about(const Spot& spot, const V3f& place, const V3f& normal,
               const Take& take) const noexcept;

    int m_width = 0;
    int m_height = 0;
    std::vector<Seen> m_seen;
};

/// Of a set that has position and facing normals, and parts of matt light or occlusion; none of others.
/// ground: y of the one that stands in, which is kept as it is seen; see StandInGround.
std::optional<SeenBefore> seenBefore(const PassSet& set, std::optional<float> ground = {});
/// The passes that seenBefore() needs besides a beauty or an occlusion, by name; without the last two, what
/// is seen of matt surfaces is not kept.
std::vector<PassKind> keptWith(PassKind shown);

}  // namespace noctis
