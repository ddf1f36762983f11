#include "core/passes/diagnosis.h"

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

bool isDistance(PassKind kind) { return kind == PassKind::Depth || kind == PassKind::Distance; }

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

std::optional<Repair> repairFor(std::string_view warning) {
    if (warning.starts_with(kBands))
        return Repair::Bands;
    if (warning.starts_with(kBlendedEdges))
        return Repair::BlendedEdges;
    if (warning.find(kGaps) != std::string_view::npos)
        return Repair::Gaps;
    return std::nullopt;
}

PassReading withRepair(PassReading reading, Repair repair) {
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
    }
    return reading;
}

}  // namespace noctis
