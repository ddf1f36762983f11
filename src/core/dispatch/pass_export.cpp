#include "core/dispatch/pass_export.h"

#include "core/dispatch/export_format.h"
#include "core/image/error.h"
#include "core/image/tiles.h"
#include "core/passes/interpretation_text.h"
#include "core/passes/pass_attributes.h"
#include "core/passes/sidecar.h"
#include "core/settings/number_list.h"

#include <algorithm>
#include <cmath>
#include <cstdint>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace noctis {

namespace {

bool isLength(PassKind kind) { return kind == PassKind::Depth || kind == PassKind::Distance; }

/// Lengths in pixels become those of the pass's new size.
void scalePixels(Image& image, float across, float down) {
    for (int c = 0; c < image.channels(); ++c) {
        const std::string& name = image.channelName(c);
        const float scale = name == "PY" || name == "NY" ? down : across;
        float* plane = image.editPlane(c);
        for (std::ptrdiff_t i = 0; i < image.rowStride() * image.height(); ++i)
            plane[i] *= scale;
    }
}

Pass framedPass(const Pass& pass, Framing framing) {
    const PassKindInfo& info = passKindInfo(pass.kind);
    framing.letterbox = 0.0F;  // black bars are no distance, normal or name
    framing.bySample = framing.bySample || info.data();
    Pass out = pass;
    out.raw = {};
    out.image = framed(pass.image, framing);
    const Tile whole{0, 0, pass.image.width(), pass.image.height()};
    const Tile part = framing.crop.value_or(whole);
    if (info.unit == "px")
        scalePixels(out.image,
                    static_cast<float>(out.image.width()) / static_cast<float>(part.width()),
                    static_cast<float>(out.image.height()) / static_cast<float>(part.height()));
    return out;
}

void writeGreys(const std::filesystem::path& path, const Pass& pass, const GreySpan& span,
                const ExportDepth& depth) {
    if (pass.image.channels() != 1)
        throw Error(ErrorCode::BadSetting,
                    fmt::format("{} has {} channels; only a pass with one value per pixel can be "
                                "a grey between two values",
                                pass.name, pass.image.channels()));
    FilePart part;
    part.name = pass.name;
    part.image = greysOf(pass.image, span);
    part.type = depth.type;
    part.attributes = {{"software", std::string("Noctis")},
                       {kKind, std::string(passKindInfo(pass.kind).id)}};
    if (isLength(pass.kind)) {
        Interpretation reading;
        reading.coding = DepthCoding::Normalised;
        reading.nearDistance = span.nearest;
        reading.farDistance = span.farthest;
        reading.nearBright = span.brightNear;
        reading.radial = pass.kind == PassKind::Distance;
        reading.backgroundFrom = span.brightNear ? 0.0F : 1.0F;
        part.attributes[kReading] = textFromInterpretation(reading);
    }
    if (depth.linear) {
        writeImageFile(path, {part});
        return;
    }
    nlohmann::json sidecar = nlohmann::json::object();
    for (const auto& [key, value] : part.attributes)
        if (const auto* text = std::get_if<std::string>(&value))
            sidecar[key] = *text;
    writeWithSidecar(path, std::move(part), sidecar);
}

}  // namespace

GreySpan greySpanFromText(const std::string& text) {
    const auto numbers = numbersBetween<float>(text, ',');
    const bool two = numbers && numbers->size() == 2;
    const GreySpan span{two ? numbers->front() : 0.0F, two ? numbers->back() : 0.0F};
    if (!std::isfinite(span.nearest) || !std::isfinite(span.farthest) || span.nearest < 0.0F ||
        span.farthest <= span.nearest)
        throw Error(ErrorCode::BadSetting,
                    "the two ends are NEAR,FAR in metres, NEAR from 0 on and less than FAR");
    return span;
}

PassSet framedPasses(const PassSet& set, const Framing& framing) {
    if (framing == Framing())
        return set;
    PassSet out = set;
    for (Pass& pass : out.passes) {
        pass = framedPass(pass, framing);
        out.width = pass.image.width();
        out.height = pass.image.height();
    }
    const std::int64_t skew = static_cast<std::int64_t>(out.width) * set.height -
                              static_cast<std::int64_t>(set.width) * out.height;
    // A part, or a picture of another shape, isn't what the camera sees.
    if (framing.crop || std::abs(skew) >= std::max(out.height, set.height)) {
        out.camera.reset();
        out.cameraBefore.reset();
        out.cameraAfter.reset();
    }
    return out;
}

Image greysOf(const Image& pass, const GreySpan& span) {
    Image out(pass.width(), pass.height(), {"Y"});
    float* to = out.editPlane(0);
    const float perUnit = 1.0F / (span.farthest - span.nearest);
    forEachBand(out.height(), kBandHeight, {}, [&](int y0, int y1) {
        for (int y = y0; y < y1; ++y) {
            const float* from = pass.row(0, y);
            for (int x = 0; x < out.width(); ++x) {
                const float far = std::isfinite(from[x])
                                      ? std::clamp((from[x] - span.nearest) * perUnit, 0.0F, 1.0F)
                                      : 1.0F;
                to[out.rowStride() * y + x] = span.brightNear ? 1.0F - far : far;
            }
        }
    });
    return out;
}

void exportPass(const std::filesystem::path& path, const PassSet& set, const Pass& pass,
                const PassStorage& storage) {
    const ExportDepth& depth = exportDepthOf(path, storage.bits);
    // Half floats lose distances far off, and names altogether.
    const PassKindInfo& info = passKindInfo(pass.kind);
    const bool exact =
        depth.type == SampleType::Half && (info.matte() || (info.data() && storage.bits == 0));
    PassSet alone = set;
    alone.passes = {pass};
    alone = framedPasses(alone, storage.framing);
    if (storage.span)
        writeGreys(path, alone.passes.front(), *storage.span, depth);
    else
        writePass(path, alone, alone.passes.front(), exact ? SampleType::Float : depth.type);
}

}  // namespace noctis
