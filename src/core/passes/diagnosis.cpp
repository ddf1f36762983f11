#include "core/passes/diagnosis.h"

#include "core/passes/picture_pass.h"
#include "core/passes/statistics.h"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

namespace noctis {

namespace {

/// A ratio of distances across two pixels that only an edge makes.
constexpr float kEdgeRatio = 1.5F;
constexpr float kBlendedWhenAbove = 0.25F;
constexpr std::size_t kFewestEdges = 20;

// How warnings begin or go on that a reading can repair.
constexpr std::string_view kBands = "8-bit depth has only 256 values";
constexpr std::string_view kBlendedEdges = "Edges are blended by a filter";
constexpr std::string_view kGaps = "pixels have no valid number";

constexpr std::string_view kFar = "Distances from";
constexpr std::string_view kUnnamed = "The name says nothing, and its values look like";
constexpr std::string_view kDepthLike = "a depth";
constexpr std::string_view kOcclusionLike = "an occlusion";
constexpr std::string_view kCoverageLike = "a coverage";

/// m; whose nearest place is as far and whose farthest is beyond the other: hardly a picture of a camera on a set.
constexpr float kFarNearest = 50.0F;
constexpr float kFarFarthest = 5000.0F;

bool isDistance(PassKind kind) { return kind == PassKind::Depth || kind == PassKind::Distance; }

/// Whether all colours are the same: one channel, or several alike.
bool isGrey(const Image& image) {
    for (int c = 1; c < std::min(image.channels(), 3); ++c)
        for (int y = 0; y < image.height(); y += 3)
            for (int x = 0; x < image.width(); x += 3)
                if (image(x, y, c) != image(x, y, 0))
                    return false;
    return image.channels() > 0;
}

/// What the values of a grey layer look like; empty: nothing in particular.
std::string_view likeness(const Image& image) {
    const Statistics s = statisticsOf(image, 0);
    if (s.counted == 0 || s.constant())
        return {};
    if (s.maximum > 1.5F || s.infinite > 0)
        return kDepthLike;
    std::size_t ends = 0;
    std::size_t bright = 0;
    double upper = 0.0;
    double lower = 0.0;
    std::size_t counted = 0;
    for (int y = 0; y < image.height(); y += 2)
        for (int x = 0; x < image.width(); x += 2) {
            const float value = image(x, y, 0);
            if (!std::isfinite(value))
                continue;
            ++counted;
            ends += value < 0.01F || value > 0.99F ? 1 : 0;
            bright += value > 0.6F ? 1 : 0;
            (y < image.height() / 2 ? upper : lower) += static_cast<double>(value);
        }
    const auto all = static_cast<double>(std::max<std::size_t>(counted, 1));
    const double trend = std::abs(upper - lower) / (0.5 * all);
    if (static_cast<double>(ends) > 0.95 * all)
        return kCoverageLike;
    // Distances run from the foot of a picture to its head; openness is mostly high.
    if (trend > 0.15)
        return kDepthLike;
    return static_cast<double>(bright) > 0.7 * all ? kOcclusionLike : std::string_view();
}

}  // namespace

float blendedEdgeFraction(const Image& depth) {
    std::size_t edges = 0;
    std::size_t blended = 0;
    for (int y = 0; y < depth.height(); ++y) {
        const float* row = depth.row(0, y);
        for (int x = 1; x + 2 < depth.width(); ++x) {
            const float a = std::min(row[x - 1], row[x + 1]);
            const float b = std::max(row[x - 1], row[x + 1]);
            if (!(a > 0.0F) || !std::isfinite(b) || b < a * kEdgeRatio)
                continue;
            ++edges;
            const float margin = 0.1F * (b - a);
            if (row[x] > a + margin && row[x] < b - margin)
                ++blended;
        }
    }
    return edges < kFewestEdges ? 0.0F : static_cast<float>(blended) / static_cast<float>(edges);
}

void addDiagnosis(Pass& pass, const PassReading& reading) {
    const Image& stored = pass.raw.empty() ? pass.image : pass.raw;
    const Statistics s = statisticsOf(stored, 0);
    if (isDistance(pass.kind)) {
        if (pass.type == SampleType::Byte && pass.interpretation && !reading.evened) {
            const float step =
                (pass.interpretation->farDistance - pass.interpretation->nearDistance) / 255.0F;
            pass.warnings.push_back(
                fmt::format("{}, about {:.2g} m apart, and will show bands; smooth them, or write "
                            "it as float EXR or 16-bit.",
                            kBands, step));
        }
        const bool guessed = pass.interpretation && !pass.interpretation->reason.empty();
        const Statistics shown = statisticsOf(pass.image, 0);
        if (guessed && pass.interpretation->coding == DepthCoding::Metres &&
            shown.minimum >= kFarNearest && shown.maximum >= kFarFarthest)
            pass.warnings.push_back(
                fmt::format("{} {:.4g} to {:.6g} m are far for a camera; the file may be in "
                            "centimetres.",
                            kFar, shown.minimum, shown.maximum));
        if (s.constant())
            pass.warnings.push_back(fmt::format("All values are {:g}: the pass holds no distances; "
                                                "write it unclamped, as float EXR.",
                                                s.minimum));
        if (pass.sampling == Sampling::Centre &&
            blendedEdgeFraction(pass.image) > kBlendedWhenAbove) {
            pass.sampling = Sampling::Filtered;
            pass.warnings.push_back(fmt::format(
                "{}, which makes halos; snap them, or write depth unfiltered.", kBlendedEdges));
        }
    } else if (s.constant() && stored.channels() == 1 && passKindInfo(pass.kind).data() &&
               pass.kind != PassKind::Coverage) {
        pass.warnings.push_back(fmt::format("All values are {:g}: the pass is empty.", s.minimum));
    }
    if (s.notANumber > 0)
        pass.warnings.push_back(
            fmt::format("{} {} and are read as background.", s.notANumber, kGaps));
}

void addKindDoubts(PassSet& set, const ReadingMap& readings) {
    const Pass* picture = picturePass(set);
    for (Pass& pass : set.passes) {
        const bool colours = pass.kind == PassKind::Beauty || pass.kind == PassKind::Colour;
        if (&pass == picture || !colours || !pass.settings.empty() || pass.derived ||
            pass.key.empty() || readingOf(readings, pass.key).kind || !isGrey(pass.image))
            continue;
        const std::string_view like = likeness(pass.image);
        const Statistics s = statisticsOf(pass.image, 0);
        pass.warnings.push_back(
            like.empty()
                ? fmt::format("The name says nothing, and its values, {:.3g} to {:.3g}, could be "
                              "anything; show it and choose what it is.",
                              s.minimum, s.maximum)
                : fmt::format("{} {}, {:.3g} to {:.3g}.", kUnnamed, like, s.minimum, s.maximum));
    }
}

std::optional<Repair> repairFor(std::string_view warning) {
    if (warning.starts_with(kFar))
        return Repair::Centimetres;
    if (warning.starts_with(kUnnamed)) {
        const std::string_view like = warning.substr(kUnnamed.size() + 1);
        return like.starts_with(kDepthLike)       ? Repair::IsDepth
               : like.starts_with(kOcclusionLike) ? Repair::IsOcclusion
                                                  : Repair::IsCoverage;
    }
    if (warning.starts_with(kBands))
        return Repair::Bands;
    if (warning.starts_with(kBlendedEdges))
        return Repair::BlendedEdges;
    if (warning.find(kGaps) != std::string_view::npos)
        return Repair::Gaps;
    return std::nullopt;
}

PassReading withRepair(PassReading reading, Repair repair, const Pass& pass) {
    switch (repair) {
    case Repair::Bands:
        reading.evened = true;
        break;
    case Repair::BlendedEdges:
        reading.snapped = true;
        break;
    case Repair::Gaps:
        reading.filled = true;
        break;
    case Repair::Centimetres:
        reading.depth = pass.interpretation.value_or(Interpretation{});
        reading.depth->scale *= 0.01F;
        reading.depth->reason.clear();
        break;
    case Repair::IsDepth:
        reading.kind = PassKind::Depth;
        break;
    case Repair::IsOcclusion:
        reading.kind = PassKind::Occlusion;
        break;
    case Repair::IsCoverage:
        reading.kind = PassKind::Coverage;
        break;
    }
    return reading;
}

}  // namespace noctis
