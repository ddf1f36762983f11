#include "core/steps/distortion.h"

#include "core/steps/warped_picture.h"

#include <algorithm>
#include <cmath>
#include <limits>

#include <fmt/format.h>

namespace noctis {

namespace {

constexpr double kExact = 1e-8;  ///< half diagonals; far below 0.001 px
constexpr int kMostTurns = 30;
constexpr int kAlongBorder = 64;  ///< places looked at on each side
constexpr double kLeastZoom = 0.05;

/// The first r > 0 at which r (1 + k1 r^2 + k2 r^4) turns back.
double turningPoint(double k1, double k2) {
    // 1 + 3 k1 u + 5 k2 u^2 = 0 with u = r^2.
    constexpr double kNever = std::numeric_limits<double>::infinity();
    const double a = 5.0 * k2;
    const double b = 3.0 * k1;
    if (std::abs(a) < 1e-12)
        return b < 0.0 ? std::sqrt(-1.0 / b) : kNever;
    const double under = b * b - 4.0 * a;
    if (under < 0.0)
        return kNever;
    double first = kNever;
    for (const double sign : {-1.0, 1.0})
        if (const double u = (-b + sign * std::sqrt(under)) / (2.0 * a); u > 0.0)
            first = std::min(first, u);
    return std::sqrt(first);
}

PlaceMap mapOf(const DistortionSettings& s, int width, int height) {
    return [map = DistortionMap(s, width, height)](float x, float y) { return map.sourceOf(x, y); };
}

bool changesNothing(const DistortionSettings& s) { return s.k1 == 0.0F && s.k2 == 0.0F; }

}  // namespace

DistortionMap::DistortionMap(const DistortionSettings& s, int width, int height)
    : m_k1(static_cast<double>(s.k1)), m_k2(static_cast<double>(s.k2)), m_inverse(s.inverse),
      m_middleX(0.5 * width), m_middleY(0.5 * height), m_half(std::hypot(m_middleX, m_middleY)),
      m_farthest(turningPoint(m_k1, m_k2)) {
    if (!s.fill || !showsBorder(1.0))
        return;
    double shown = kLeastZoom;
    double hidden = 1.0;
    for (int i = 0; i < 50; ++i) {
        const double middle = 0.5 * (shown + hidden);
        (showsBorder(middle) ? hidden : shown) = middle;
    }
    m_zoom = shown;
}

double DistortionMap::forward(double r) const noexcept {
    const double held = std::min(r, m_farthest);
    const double u = held * held;
    return held * (1.0 + u * (m_k1 + u * m_k2));
}

double DistortionMap::backward(double wanted) const noexcept {
    if (std::isfinite(m_farthest) && wanted >= forward(m_farthest))
        return m_farthest;
    // Newton's steps, held between two radii that the wanted one is between.
    double below = 0.0;
    double above = std::isfinite(m_farthest) ? m_farthest : 1.0;
    while (forward(above) < wanted)
        above *= 2.0;
    double r = std::clamp(wanted, below, above);
    for (int i = 0; i < kMostTurns; ++i) {
        const double off = forward(r) - wanted;
        (off > 0.0 ? above : below) = r;
        const double u = r * r;
        const double slope = 1.0 + u * (3.0 * m_k1 + 5.0 * u * m_k2);
        double next = r - off / slope;
        if (!(next >= below && next <= above))
            next = 0.5 * (below + above);
        if (std::abs(next - r) < kExact)
            return next;
        r = next;
    }
    return r;
}

V2f DistortionMap::placed(double x, double y, double zoom) const noexcept {
    const double dx = (x - m_middleX) * zoom;
    const double dy = (y - m_middleY) * zoom;
    const double r = std::hypot(dx, dy) / m_half;
    if (!(r > 0.0))
        return {static_cast<float>(x), static_cast<float>(y)};
    const double scale = (m_inverse ? backward(r) : forward(r)) / r;
    return {static_cast<float>(m_middleX + dx * scale), static_cast<float>(m_middleY + dy * scale)};
}

V2f DistortionMap::sourceOf(float x, float y) const noexcept {
    return placed(static_cast<double>(x), static_cast<double>(y), m_zoom);
}

bool DistortionMap::showsBorder(double zoom) const noexcept {
    constexpr float kSlack = 1e-3F;  // px
    const auto beyond = [&](double x, double y) {
        const V2f at = placed(x, y, zoom);
        return at.x < -kSlack || at.y < -kSlack ||
               at.x > static_cast<float>(2.0 * m_middleX) + kSlack ||
               at.y > static_cast<float>(2.0 * m_middleY) + kSlack;
    };
    for (int i = 0; i <= kAlongBorder; ++i) {
        const double part = static_cast<double>(i) / kAlongBorder;
        if (beyond(2.0 * m_middleX * part, 0.0) ||
            beyond(2.0 * m_middleX * part, 2.0 * m_middleY) ||
            beyond(0.0, 2.0 * m_middleY * part) || beyond(2.0 * m_middleX, 2.0 * m_middleY * part))
            return true;
    }
    return false;
}

StepType distortionStep() {
    using S = DistortionSettings;
    return StepBuilder<S>("distortion", "Distortion")
        .version(1)
        .phase(Phase::Lens)
        .help("Bends straight lines as a lens does, or straightens those that one has bent. The "
              "passes go with the picture.")
        .number(&S::k1, "k1", "Bend", Unit::None, {-1.0F, 1.0F, 0.3F},
                "How far places are moved, by the square of their distance from the middle: above "
                "0 the sides bulge, below 0 they are drawn in.")
        .number(&S::k2, "k2", "Corner bend", Unit::None, {-1.0F, 1.0F, 0.3F},
                "The same by the fourth power, which acts near the corners.")
        .toggle(&S::inverse, "inverse", "Straighten",
                "Takes away the distortion that these numbers describe.")
        .toggle(&S::fill, "fill", "Fill the frame",
                "Enlarges the picture until no border shows; otherwise the border's colours go on.")
        .suited([](Settings& s, const Surroundings&) { s.set("k1", 0.08F); })
        .preset("Wide angle", {{"k1", 0.12F}, {"k2", 0.02F}})
        .preset("Long lens", {{"k1", -0.05F}, {"k2", 0.0F}})
        .summary([](const S& s) {
            return changesNothing(s) ? std::string("none")
                                     : fmt::format("{} {}, {}", s.inverse ? "straightens" : "bends",
                                                   formatNumber(s.k1, Unit::None),
                                                   formatNumber(s.k2, Unit::None));
        })
        .area([](const WorkingFrame& frame, const S& s, const RunContext& run) {
            WorkingFrame out = frame;
            if (!changesNothing(s))
                out.setPicture(
                    warpedPicture(frame.picture(), mapOf(s, frame.width(), frame.height()), run));
            return out;
        })
        .carries([](const WorkingFrame& frame, const S& s, const CarriedMask& mask,
                    const RunContext& run) {
            return warpedPicture(maskedLight(frame.picture(), mask),
                                 mapOf(s, frame.width(), frame.height()), run);
        })
        .movesPasses([](const Image& pass, const S& s) {
            return changesNothing(s) ? pass
                                     : warpedData(pass, mapOf(s, pass.width(), pass.height()));
        })
        .build();
}

}  // namespace noctis
