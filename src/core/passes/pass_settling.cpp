#include "core/passes/pass_settling.h"

#include "core/image/error.h"
#include "core/passes/even_steps.h"
#include "core/passes/snap_edges.h"

#include <algorithm>
#include <cmath>
#include <limits>

#include <fmt/format.h>

namespace noctis {

namespace fs = std::filesystem;

namespace {

/// The stored values without their stairs; the background keeps its code.
Image evened(const Pass& pass, const Interpretation& interpretation) {
    const float step = pass.type == SampleType::Byte    ? 1.0F / 255.0F
                       : pass.type == SampleType::Short ? 1.0F / 65535.0F
                                                        : 0.0F;
    Image known = pass.raw.select({0}, {"Y"});
    float* plane = known.editPlane(0);
    for (int y = 0; y < known.height(); ++y)
        for (int x = 0; x < known.width(); ++x)
            if (float& value = plane[known.rowStride() * y + x];
                !std::isfinite(depthFromStored(value, interpretation)))
                value = std::numeric_limits<float>::quiet_NaN();
    Image smooth = withoutSteps(known, step);
    float* to = smooth.editPlane(0);
    for (int y = 0; y < smooth.height(); ++y)
        for (int x = 0; x < smooth.width(); ++x)
            if (float& value = to[smooth.rowStride() * y + x]; !std::isfinite(value))
                value = pass.raw(x, y, 0);
    return smooth;
}

}  // namespace

bool isDirection(PassKind kind) {
    return kind == PassKind::Normal || kind == PassKind::FacingNormal || kind == PassKind::Bent;
}

void settleOpenNormals(PassSet& set, const OpenNormals& open, const ReadingMap& corrections) {
    if (open.empty())
        return;
    PassSet others = set;
    std::erase_if(others.passes, [](const Pass& pass) { return isDirection(pass.kind); });
    NormalHints hints;
    hints.camera = set.camera;
    if (const std::optional<Pass> measured = tryResolvePass(others, PassKind::Normal))
        hints.measured =
            cameraNormals(measured->image, {NormalAxes::World, NormalCoding::Plain, GreenWay::Up},
                          set.cameraOrAssumed());
    for (const std::string& name : open) {
        Pass* pass = set.find(std::string_view(name));
        if (pass == nullptr || pass->image.channels() < 3)
            continue;
        const PassReading reading = readingOf(corrections, pass->key);
        const SettledNormals settled =
            settleNormals(pass->image, hints, reading.normal.value_or(NormalReading{}));
        NormalReading decoded = settled.reading;
        decoded.axes = NormalAxes::Camera;  // they stay in their own axes
        pass->raw = pass->image;
        pass->image = cameraNormals(pass->raw, decoded, {});
        pass->normals = settled.reading;
        pass->space = settled.reading.axes == NormalAxes::World ? "world" : "camera";
        for (std::string reason : settled.reasons) {
            if (reason.ends_with('.'))  // whatever shows the reasons ends them
                reason.pop_back();
            pass->why += (pass->why.empty() ? "" : ". ") + reason;
        }
    }
}

void deriveCoverage(PassSet& set) {
    const Pass* depth = set.find(PassKind::Depth);
    if (set.find(PassKind::Coverage) != nullptr || depth == nullptr || !depth->interpretation ||
        saysItself(*depth))
        return;
    Pass coverage;
    coverage.name = "coverage";
    coverage.kind = PassKind::Coverage;
    coverage.derived = true;
    coverage.why = "derived from depth's background";
    coverage.image = Image(set.width, set.height, {"Y"}, 1.0F);
    float* to = coverage.image.editPlane(0);
    bool any = false;
    for (int y = 0; y < set.height; ++y)
        for (int x = 0; x < set.width; ++x)
            if (!std::isfinite(depth->image(x, y, 0))) {
                to[coverage.image.rowStride() * y + x] = 0.0F;
                any = true;
            }
    if (any)
        set.put(std::move(coverage));
}

PassSet readPassesAs(const std::vector<fs::path>& paths, Readings& readings,
                     const std::vector<std::string>& requests) {
    std::vector<ReadRequest> asked;
    for (const std::string& text : requests) {
        asked.push_back(readRequestFromText(text));
        PassReading& reading = readings.passes[asked.back().pass];
        const PassReading& wanted = asked.back().reading;
        if (wanted.kind)
            reading.kind = wanted.kind;
        if (wanted.depth)
            reading.depth = wanted.depth;
        if (wanted.normal)
            reading.normal = wanted.normal;
        if (wanted.straight)
            reading.straight = wanted.straight;
        reading.evened |= wanted.evened;
        reading.snapped |= wanted.snapped;
        reading.filled |= wanted.filled;
    }
    PassSet set = readPasses(paths, readings);
    bool again = false;
    for (const ReadRequest& request : asked) {
        const auto found =
            std::find_if(set.passes.begin(), set.passes.end(), [&](const Pass& pass) {
                return pass.key == request.pass || pass.name == request.pass;
            });
        if (found == set.passes.end())
            throw Error(
                ErrorCode::UnknownName,
                fmt::format("--read names a pass {} that these files don't have", request.pass));
        if (found->key != request.pass) {  // by the name it has now
            readings.passes[found->key] = readings.passes[request.pass];
            readings.passes.erase(request.pass);
            again = true;
        }
        if (!request.nearPlace)
            continue;
        if (!found->interpretation)
            throw Error(ErrorCode::BadSetting,
                        fmt::format("{} isn't depth, so near and far have no meaning for it",
                                    request.pass));
        const Interpretation base =
            request.setsDepth ? *request.reading.depth : *found->interpretation;
        readings.passes[found->key].depth =
            readingThrough(found->raw, base, *request.nearPlace, *request.farPlace);
        again = true;
    }
    return again ? readPasses(paths, readings) : set;
}

void reinterpret(Pass& pass, const Interpretation& interpretation, const Camera& camera) {
    PassReading reading;
    reading.depth = interpretation;
    reinterpret(pass, reading, camera);
}

void reinterpret(Pass& pass, const PassReading& reading, const Camera& camera) {
    const Interpretation interpretation =
        reading.depth.value_or(pass.interpretation.value_or(Interpretation{}));
    pass.interpretation = interpretation;
    const bool wantsPlanar = pass.kind == PassKind::Depth;
    Interpretation asStored = interpretation;
    if (!wantsPlanar)
        asStored.radial = false;
    pass.image =
        depthFromStored(reading.evened ? evened(pass, interpretation) : pass.raw, asStored, camera)
            .select({0}, {passKindInfo(pass.kind).channels.front()});
    if (reading.snapped) {
        const bool inverse = interpretation.coding == DepthCoding::Inverse ||
                             interpretation.coding == DepthCoding::Projected;
        pass.image =
            snappedEdges(pass.image, inverse ? FilteredIn::InverseDepth : FilteredIn::Depth)
                .select({0}, {passKindInfo(pass.kind).channels.front()});
    }
}

}  // namespace noctis
