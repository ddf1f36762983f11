#include "core/dispatch/pass_export.h"

#include "core/dispatch/export_format.h"
#include "core/image/error.h"
#include "core/image/tiles.h"
#include "core/passes/interpretation_text.h"
#include "core/passes/pass_attributes.h"
#include "core/passes/sidecar.h"

#include <algorithm>
#include <charconv>
#include <cmath>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace noctis {

namespace {

bool isLength(PassKind kind) { return kind == PassKind::Depth || kind == PassKind::Distance; }

/// The same pass in another frame.
Pass framedPass(const Pass& pass, Framing framing) {
    framing.bySample = true;
    Pass out = pass;
    out.image = framed(pass.image, framing);
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
    GreySpan span;
    const char* const end = text.data() + text.size();
    const auto first = std::from_chars(text.data(), end, span.nearest);
    const bool two = first.ec == std::errc() && first.ptr != end && *first.ptr == ',';
    const auto second = std::from_chars(two ? first.ptr + 1 : end, end, span.farthest);
    if (!two || second.ec != std::errc() || second.ptr != end || !std::isfinite(span.nearest) ||
        !std::isfinite(span.farthest) || span.nearest < 0.0F || span.farthest <= span.nearest)
        throw Error(ErrorCode::BadSetting,
                    "the two ends are NEAR,FAR in metres, NEAR from 0 on and less than FAR");
    return span;
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
    const Pass out = framedPass(pass, storage.framing);
    if (storage.span) {
        writeGreys(path, out, *storage.span, depth);
        return;
    }
    PassSet framedSet = set;
    framedSet.passes = {out};
    framedSet.width = out.image.width();
    framedSet.height = out.image.height();
    if (storage.framing.crop)
        framedSet.camera.reset();  // a part's camera is another
    writePass(path, framedSet, framedSet.passes.front(), depth.type);
}

}  // namespace noctis
