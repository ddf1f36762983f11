#include "app/instruments/depth_overlay.h"

#include "app/look/theme.h"

#include <cmath>

namespace noctis {

namespace {

constexpr int kTintAlpha = 120;

QRgb tint(const QColor& colour, float strength) {
    return qPremultiply(qRgba(colour.red(), colour.green(), colour.blue(),
                              static_cast<int>(static_cast<float>(kTintAlpha) * strength)));
}

/// A tint a pixel, by its distance.
template <typename ColourAt> QImage tinted(const Image& depth, const ColourAt& colourAt) {
    QImage out(depth.width(), depth.height(), QImage::Format_ARGB32_Premultiplied);
    for (int y = 0; y < depth.height(); ++y) {
        auto* line = reinterpret_cast<QRgb*>(out.scanLine(y));
        for (int x = 0; x < depth.width(); ++x)
            line[x] = colourAt(depth(x, y, 0));
    }
    return out;
}

}  // namespace

QImage cutOverlay(const Image& depth, const DepthRange& ramp) {
    const QRgb before = tint(theme::kNear, 1.0F);
    const QRgb beyond = tint(theme::kFar, 1.0F);
    return tinted(depth, [&](float metres) {
        return metres < ramp.nearest ? before : (metres > ramp.farthest ? beyond : 0);
    });
}

QImage blurOverlay(const Image& depth, const HandleGroup& focus) {
    const float sharp = focus.distance(focus.handles->front());
    const auto strength = focus.strength();
    return tinted(depth, [&](float metres) {
        // The square root makes the first, small blur visible.
        return tint(metres < sharp ? theme::kNear : theme::kFar, std::sqrt(strength(metres)));
    });
}

}  // namespace noctis
