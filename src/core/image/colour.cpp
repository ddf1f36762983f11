#include "core/image/colour.h"

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

constexpr int kBandHeight = 32;

// The film-like view: stops about middle grey from kDarkest to kBrightest are laid on an S curve.
constexpr double kMiddleGrey = 0.18;
constexpr double kDarkest = -9.0;
constexpr double kBrightest = 5.5;
constexpr int kCurveSamples = 4096;

OCIO::ConstTransformRcPtr srgbCurve(OCIO::TransformDirection direction) {
    auto curve = OCIO::ExponentWithLinearTransform::Create();
    curve->setGamma({2.4, 2.4, 2.4, 1.0});
    curve->setOffset({0.055, 0.055, 0.055, 0.0});
    curve->setDirection(direction);
    return curve;
}

/// The soft shoulder, at a place 0..1 between the darkest and the brightest stop, sRGB-encoded. Middle
/// grey stays where plain sRGB has it, with the same slope on both sides; the darkest stop is black.
double filmCurve(double place) {
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

OCIO::ConstTransformRcPtr filmView() {
    auto group = OCIO::GroupTransform::Create();
    // Bright saturated light moves towards white, as film and eyes have it.
    auto crosstalk = OCIO::MatrixTransform::Create();
    const double keep = 0.90;
    const double share = (1.0 - keep) / 2.0;
    const double m[16] = {keep,  share, share, 0, share, keep, share, 0,
                          share, share, keep,  0, 0,     0,    0,     1};
    crosstalk->setMatrix(m);
    group->appendTransform(crosstalk);
    auto stops = OCIO::AllocationTransform::Create();
    const float range[2] = {static_cast<float>(std::log2(kMiddleGrey) + kDarkest),
                            static_cast<float>(std::log2(kMiddleGrey) + kBrightest)};
    stops->setAllocation(OCIO::ALLOCATION_LG2);
    stops->setVars(2, range);
    group->appendTransform(stops);
    auto curve = OCIO::Lut1DTransform::Create(kCurveSamples, false);
    for (unsigned long i = 0; i < kCurveSamples; ++i) {
        const auto value =
            static_cast<float>(filmCurve(static_cast<double>(i) / (kCurveSamples - 1)));
        curve->setValue(i, value, value, value);
    }
    curve->setInterpolation(OCIO::INTERP_LINEAR);
    group->appendTransform(curve);
    return group;
}

OCIO::ConstCPUProcessorRcPtr processorOf(const OCIO::ConstTransformRcPtr& transform) {
    static const OCIO::ConstConfigRcPtr config = OCIO::Config::CreateRaw();
    return config->getProcessor(transform)->getDefaultCPUProcessor();
}

OCIO::ConstCPUProcessorRcPtr viewProcessor(ViewTransform view) {
    static const auto plain = processorOf(srgbCurve(OCIO::TRANSFORM_DIR_INVERSE));
    static const auto film = processorOf(filmView());
    return view == ViewTransform::Film ? film : plain;
}

/// Runs a processor over the first three channels, a band of rows at a time.
Image processed(const Image& image, const OCIO::ConstCPUProcessorRcPtr& processor, float gain,
                bool clamp) {
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
                    rows[static_cast<std::size_t>(x * 3 + c)] = from[c][x] * gain;
            OCIO::PackedImageDesc desc(rows.data(), image.width(), 1, 3);
            processor->apply(desc);
            for (int x = 0; x < image.width(); ++x)
                for (int c = 0; c < 3; ++c) {
                    const float value = rows[static_cast<std::size_t>(x * 3 + c)];
                    planes[c][out.rowStride() * y + x] =
                        clamp ? (value > 0.0F ? std::min(value, 1.0F) : 0.0F) : value;
                }
        }
    });
    return out;
}

Image processedWithAlpha(const Image& image, OCIO::TransformDirection direction) {
    static const auto toLinear = processorOf(srgbCurve(OCIO::TRANSFORM_DIR_FORWARD));
    static const auto toSrgb = processorOf(srgbCurve(OCIO::TRANSFORM_DIR_INVERSE));
    Image out =
        processed(image, direction == OCIO::TRANSFORM_DIR_FORWARD ? toLinear : toSrgb, 1.0F, false);
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
    return view == ViewTransform::Film ? "film" : "plain";
}

std::string_view viewTransformLabel(ViewTransform view) {
    return view == ViewTransform::Film ? "Soft shoulder" : "Plain sRGB";
}

ViewTransform viewTransformNamed(std::string_view id) {
    if (id == "plain")
        return ViewTransform::Plain;
    if (id == "film")
        return ViewTransform::Film;
    throw Error(ErrorCode::UnknownName,
                fmt::format("there is no view transform {}; there are plain and film", id));
}

Image viewed(const Image& linear, ViewTransform view, float exposure) {
    return processed(linear, viewProcessor(view), std::exp2(exposure), true);
}

}  // namespace noctis
