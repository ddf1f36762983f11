#include "core/image/colour.h"

#include "core/image/curve_table.h"
#include "core/image/error.h"
#include "core/image/tiles.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <mutex>

#include <OpenColorIO/OpenColorIO.h>
#include <fmt/format.h>

namespace noctis {

namespace OCIO = OCIO_NAMESPACE;

namespace {

// The soft shoulder: stops about middle grey from kDarkest to kBrightest are laid on an S curve.
constexpr double kMiddleGrey = 0.18;
constexpr double kDarkest = -9.0;
constexpr double kBrightest = 5.5;
/// The share of each of red, green and blue that goes to each of the three: bright saturated light moves
/// towards white, as on film and to the eye.
constexpr float kShared = 0.05F;

OCIO::ConstTransformRcPtr srgbCurve(OCIO::TransformDirection direction) {
    auto curve = OCIO::ExponentWithLinearTransform::Create();
    curve->setGamma({2.4, 2.4, 2.4, 1.0});
    curve->setOffset({0.055, 0.055, 0.055, 0.0});
    curve->setDirection(direction);
    return curve;
}

/// The soft shoulder, at a place 0..1 between the darkest and the brightest stop, sRGB-encoded. Middle
/// grey stays where plain sRGB has it, with the same slope on both sides; the darkest stop is black.
double shoulderCurve(double place) {
    const double stops = kDarkest + place * (kBrightest - kDarkest);
    const double grey = 0.4614;  // middle grey, sRGB-encoded
    const double slope = 0.118;  // per stop, at middle grey
    const double room = 1.0 - grey;
    const double shoulder = std::tanh(kBrightest * slope / room);
    if (stops >= 0.0)
        return grey + room * std::tanh(stops * slope / room) / shoulder;
    // An exponential toe; its rate makes its slope at middle grey that of the shoulder.
    const double darkest = kDarkest * slope / grey;
    double rate = 1.0;
    for (int i = 0; i < 40; ++i)
        rate = (1.0 - std::exp(rate * darkest)) / shoulder;
    const double end = std::exp(rate * darkest);
    return grey * (std::exp(rate * stops * slope / grey) - end) / (1.0 - end);
}

double shoulderOf(double linear) {
    const double stops = linear > 0.0 ? std::log2(linear / kMiddleGrey) : kDarkest;
    return shoulderCurve((std::clamp(stops, kDarkest, kBrightest) - kDarkest) /
                         (kBrightest - kDarkest));
}

OCIO::ConstCPUProcessorRcPtr processorOf(const OCIO::ConstTransformRcPtr& transform) {
    static const OCIO::ConstConfigRcPtr config = OCIO::Config::CreateRaw();
    return config->getProcessor(transform)->getDefaultCPUProcessor();
}

/// Runs a processor over the first three channels, a band of rows at a time.
Image processed(const Image& image, const OCIO::ConstCPUProcessorRcPtr& processor) {
    Image out = Image::unset(image.width(), image.height(), {"R", "G", "B"});
    float* planes[3] = {out.editPlane(0), out.editPlane(1), out.editPlane(2)};
    const int last = image.channels() - 1;
    forEachBand(image.height(), kBandHeight, {}, [&](int y0, int y1) {
        std::vector<float> rows(static_cast<std::size_t>(image.width()) * 3);
        for (int y = y0; y < y1; ++y) {
            const float* from[3] = {image.row(0, y), image.row(std::min(1, last), y),
                                    image.row(std::min(2, last), y)};
            for (int x = 0; x < image.width(); ++x)
                for (int c = 0; c < 3; ++c)
                    rows[static_cast<std::size_t>(x * 3 + c)] = from[c][x];
            OCIO::PackedImageDesc desc(rows.data(), image.width(), 1, 3);
            processor->apply(desc);
            for (int x = 0; x < image.width(); ++x)
                for (int c = 0; c < 3; ++c)
                    planes[c][out.rowStride() * y + x] = rows[static_cast<std::size_t>(x * 3 + c)];
        }
    });
    return out;
}

Image processedWithAlpha(const Image& image, OCIO::TransformDirection direction) {
    static const auto toLinear = processorOf(srgbCurve(OCIO::TRANSFORM_DIR_FORWARD));
    static const auto toSrgb = processorOf(srgbCurve(OCIO::TRANSFORM_DIR_INVERSE));
    Image out = processed(image, direction == OCIO::TRANSFORM_DIR_FORWARD ? toLinear : toSrgb);
    if (image.channels() < 3)
        out = out.select({0}, {image.channelName(0)});
    if (const int alpha = image.channel("A"); alpha >= 0)
        out.append(image.select({alpha}));
    return out;
}

/// Each colour changed by change(colour, alpha).
template <typename Change> Image withAlpha(const Image& image, const Change& change) {
    const int alpha = image.channel("A");
    Image out = image;
    for (int c = 0; alpha >= 0 && c < image.channels(); ++c) {
        if (c == alpha)
            continue;
        float* to = out.editPlane(c);
        const float* a = image.plane(alpha);
        for (std::ptrdiff_t i = 0; i < image.rowStride() * image.height(); ++i)
            to[i] = change(to[i], a[i]);
    }
    return out;
}

}  // namespace

Image associatedFromStraight(const Image& straight) {
    return withAlpha(straight, [](float colour, float alpha) { return colour * alpha; });
}

Image straightFromAssociated(const Image& associated) {
    return withAlpha(associated, [](float colour, float alpha) {
        return alpha > 0.0F ? colour / alpha : colour;
    });
}

float linearFromSrgb(float encoded) noexcept {
    return encoded <= 0.04045F ? encoded / 12.92F : std::pow((encoded + 0.055F) / 1.055F, 2.4F);
}

float srgbFromLinear(float linear) noexcept {
    return linear <= 0.0031308F ? linear * 12.92F : 1.055F * std::pow(linear, 1.0F / 2.4F) - 0.055F;
}

Image linearFromSrgb(const Image& encoded) {
    return processedWithAlpha(encoded, OCIO::TRANSFORM_DIR_FORWARD);
}

Image srgbFromLinear(const Image& linear) {
    return processedWithAlpha(linear, OCIO::TRANSFORM_DIR_INVERSE);
}

std::string_view viewTransformId(ViewTransform view) {
    return view == ViewTransform::SoftShoulder ? "soft_shoulder" : "plain";
}

std::string_view viewTransformLabel(ViewTransform view) {
    return view == ViewTransform::SoftShoulder ? "Soft shoulder" : "Plain sRGB";
}

ViewTransform viewTransformNamed(std::string_view id) {
    if (id == "plain")
        return ViewTransform::Plain;
    if (id == "soft_shoulder")
        return ViewTransform::SoftShoulder;
    throw Error(ErrorCode::UnknownName,
                fmt::format("there is no view transform {}; use plain or soft_shoulder", id));
}

Image viewed(const Image& linear, ViewTransform view, float exposure) {
    static const CurveTable plain([](double light) {
        return static_cast<double>(srgbFromLinear(static_cast<float>(light)));
    });
    static const CurveTable shoulder(shoulderOf);
    const bool isSoft = view == ViewTransform::SoftShoulder;
    const CurveTable& curve = isSoft ? shoulder : plain;
    const float gain = std::exp2(exposure);
    const float shared = isSoft ? kShared * gain : 0.0F;
    const float own = gain - 3.0F * shared;
    Image out = Image::unset(linear.width(), linear.height(), {"R", "G", "B"});
    float* planes[3] = {out.editPlane(0), out.editPlane(1), out.editPlane(2)};
    const int last = linear.channels() - 1;
    forEachBand(linear.height(), kBandHeight, {}, [&](int y0, int y1) {
        for (int y = y0; y < y1; ++y) {
            const float* from[3] = {linear.row(0, y), linear.row(std::min(1, last), y),
                                    linear.row(std::min(2, last), y)};
            const std::ptrdiff_t at = out.rowStride() * y;
            for (int x = 0; x < linear.width(); ++x) {
                // No part of an endless light would be no number.
                const float all =
                    shared > 0.0F ? shared * (from[0][x] + from[1][x] + from[2][x]) : 0.0F;
                for (int c = 0; c < 3; ++c)
                    planes[c][at + x] = std::clamp(curve.at(own * from[c][x] + all), 0.0F, 1.0F);
            }
        }
    });
    return out;
}

}  // namespace noctis
