#include "core/relief/upside_down.h"

#include "core/passes/world_normals.h"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

namespace noctis {

namespace {

/// Light says less than a measured surface: it comes from the side as well, and things have their own colours.
constexpr float kSureOfSurface = -0.25F;
constexpr float kSureOfLight = -0.35F;
constexpr std::size_t kFewest = 64;  ///< places that both have a slope
/// A surface's depth changes by less than this part of it from pixel to pixel.
constexpr float kOneSurface = 0.05F;
constexpr float kFacing = 0.15F;  ///< normals farther from the view have no slope worth counting

class Correlation {
public:
    void add(float a, float b) {
        if (!std::isfinite(a) || !std::isfinite(b))
            return;
        m_ab += static_cast<double>(a) * static_cast<double>(b);
        m_aa += static_cast<double>(a) * static_cast<double>(a);
        m_bb += static_cast<double>(b) * static_cast<double>(b);
        ++m_count;
    }
    [[nodiscard]] std::optional<float> value() const {
        if (m_count < kFewest || !(m_aa > 0.0) || !(m_bb > 0.0))
            return std::nullopt;
        return static_cast<float>(m_ab / std::sqrt(m_aa * m_bb));
    }

private:
    double m_ab = 0.0;
    double m_aa = 0.0;
    double m_bb = 0.0;
    std::size_t m_count = 0;
};

/// How much one more to the right and one more down a picture has, for every pixel inside it.
template <typename Take> void forEachSlope(const Image& image, const Take& take) {
    for (int y = 1; y + 1 < image.height(); ++y)
        for (int x = 1; x + 1 < image.width(); ++x)
            take(x, y, 0.5F * (image(x + 1, y, 0) - image(x - 1, y, 0)),
                 0.5F * (image(x, y + 1, 0) - image(x, y - 1, 0)));
}

std::optional<float> withNormals(const PassSet& frame, const Image& heights) {
    const Pass* normal = frame.find(PassKind::Normal);
    if (normal == nullptr)
        return std::nullopt;
    Correlation found;
    const Camera camera = frame.cameraOrAssumed();
    const bool world = normal->space == "world";
    M44f toCamera = camera.cameraToWorld;
    toCamera.invert();
    forEachSlope(heights, [&](int x, int y, float right, float down) {
        V3f n(normal->image(x, y, 0), normal->image(x, y, 1), normal->image(x, y, 2));
        if (world) {
            V3f turned;
            toCamera.multDirMatrix(n, turned);
            n = turned;
        }
        if (!(n.z > kFacing))
            return;
        found.add(right, -n.x / n.z);
        found.add(down, n.y / n.z);
    });
    return found.value();
}

std::optional<float> withDepth(const PassSet& frame, const Image& heights) {
    const Pass* depth = frame.find(PassKind::Depth);
    if (depth == nullptr)
        return std::nullopt;
    Correlation found;
    const Image& z = depth->image;
    forEachSlope(heights, [&](int x, int y, float right, float down) {
        const float here = z(x, y, 0);
        const float across = 0.5F * (z(x + 1, y, 0) - z(x - 1, y, 0)) / here;
        const float along = 0.5F * (z(x, y + 1, 0) - z(x, y - 1, 0)) / here;
        if (std::abs(across) < kOneSurface && std::abs(along) < kOneSurface) {
            found.add(right, -across);  // nearer is higher
            found.add(down, -along);
        }
    });
    return found.value();
}

/// What rises down the picture faces up it, and is the lighter for it.
std::optional<float> withLight(const PassSet& frame, const Image& heights) {
    const Pass* beauty = frame.find(PassKind::Beauty);
    if (beauty == nullptr || beauty->image.channels() < 3)
        return std::nullopt;
    Correlation found;
    const auto light = [&](int x, int y) {
        return std::log(std::max(1e-4F, beauty->image(x, y, 0) + beauty->image(x, y, 1) +
                                            beauty->image(x, y, 2)));
    };
    constexpr int kAround = 6;
    forEachSlope(heights, [&](int x, int y, float, float down) {
        if (y < kAround || y + kAround >= heights.height())
            return;
        // Beside what is a little above and below, so that skies and large shadows don't count.
        found.add(down, light(x, y) - 0.5F * (light(x, y - kAround) + light(x, y + kAround)));
    });
    return found.value();
}

}  // namespace

std::optional<Agreement> agreementWith(const PassSet& frame, const HeightField& field) {
    if (frame.empty() || !field.places.empty() || frame.width != field.width() ||
        frame.height != field.height())
        return std::nullopt;
    if (const auto found = withNormals(frame, field.heights))
        return Agreement{*found, "normals"};
    if (const auto found = withDepth(frame, field.heights))
        return Agreement{*found, "depth"};
    if (const auto found = withLight(frame, field.heights))
        return Agreement{*found, "light"};
    return std::nullopt;
}

bool isUpsideDown(const Agreement& agreement) noexcept {
    return agreement.correlation <
           (std::string_view(agreement.with) == "light" ? kSureOfLight : kSureOfSurface);
}

std::string upsideDownText(const Agreement& agreement) {
    return fmt::format("The map seems upside down: it has valleys where the picture's {} {} hills.",
                       agreement.with,
                       std::string_view(agreement.with) == "normals" ? "have" : "has");
}

}  // namespace noctis
