#include "core/image/colour.h"
#include "core/image/error.h"
#include "core/image/safe_write.h"
#include "core/passes/frame_name.h"
#include "core/passes/interpretation_text.h"
#include "core/passes/matte.h"
#include "core/passes/pass_attributes.h"
#include "core/passes/pass_file.h"
#include "core/passes/sidecar.h"
#include "core/passes/statistics.h"

#include <algorithm>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace noctis {

namespace fs = std::filesystem;
using Json = nlohmann::json;

namespace {

Attributes attributesOf(const PassSet& set, const Pass& pass) {
    const PassKindInfo& info = passKindInfo(pass.kind);
    Attributes attributes{{kKind, std::string(info.id)},
                          {kSampling, pass.sampling == Sampling::Centre ? "centre" : "filtered"},
                          {"software", "Noctis"}};
    if (!info.unit.empty())
        attributes[kUnit] = std::string(info.unit);
    if (info.look == PassLook::Direction || info.look == PassLook::Place)
        attributes[kSpace] = pass.space;
    if (!pass.settings.empty())
        attributes[kSettings] = Json(pass.settings).dump();
    if (!set.view.empty())
        attributes["view"] = set.view;
    if (!set.lights.empty())
        attributes[kLights] = lightsToText(set.lights);
    const float aspect = static_cast<float>(set.width) / static_cast<float>(set.height);
    const auto putCamera = [&](const std::string& of, const std::optional<Camera>& camera) {
        if (!camera)
            return;
        attributes[of + "worldToCamera"] = camera->cameraToWorld.inverse();
        attributes[of + "worldToNDC"] = worldToNdc(*camera, aspect);
    };
    putCamera({}, set.camera);
    putCamera(kOfFrameBefore, set.cameraBefore);
    putCamera(kOfFrameAfter, set.cameraAfter);
    if (!pass.manifest.empty()) {
        const std::string prefix =
            fmt::format("cryptomatte/{:08x}", murmurHash3(pass.name)).substr(0, 19) + "/";
        Json manifest = Json::object();
        for (const auto& [id, name] : pass.manifest)
            manifest[name] = id;
        attributes[prefix + "name"] = pass.name;
        attributes[prefix + "hash"] = std::string("MurmurHash3_32");
        attributes[prefix + "conversion"] = std::string("uint32_to_float32");
        attributes[prefix + "manifest"] = manifest.dump();
    }
    return attributes;
}

FilePart partOf(const PassSet& set, const Pass& pass, const PassFileOptions& options) {
    const PassKindInfo& info = passKindInfo(pass.kind);
    FilePart part;
    part.name = pass.name;
    part.image = pass.image;
    part.attributes = attributesOf(set, pass);
    const bool half = info.exactAsHalf || (options.halfNormals && pass.kind == PassKind::Normal) ||
                      (options.halfColour && !info.data());
    part.type = half ? SampleType::Half : SampleType::Float;
    if (info.matte())
        part.layer = "";  // their channels carry the rank's layer already
    else
        part.layer = pass.kind == PassKind::Colour || info.subject != PassSubject::Frame
                         ? pass.name
                         : std::string(info.layer);
    if (!info.data())
        part.compression = options.colour;
    if (pass.kind == PassKind::Beauty) {
        if (pass.image.channels() == 3)
            part.image.append(Image(pass.image.width(), pass.image.height(), {"A"}, 1.0F));
        part.attributes[kAlpha] = std::string("picture");
    }
    return part;
}

}  // namespace

fs::path fileOfPass(const fs::path& path, const std::string& pass) {
    return path.parent_path() / fileNameOf(pass) / path.filename();
}

namespace {

void writeFolders(const fs::path& path, const PassSet& set, const PassFileOptions& options) {
    PassFileOptions single = options;
    single.layout = PassLayout::PartPerPass;
    for (const Pass& pass : set.passes) {
        PassSet alone = set;
        alone.passes = {pass};
        const fs::path file = fileOfPass(path, pass.name);
        makeFolder(file.parent_path());
        writePasses(file, alone, single);
    }
}

}  // namespace

std::vector<FilePart> filePartsOf(const PassSet& set, const PassFileOptions& options) {
    std::vector<FilePart> parts;
    for (const Pass& pass : set.passes)
        parts.push_back(partOf(set, pass, options));
    if (options.layout == PassLayout::OnePart && parts.size() > 1) {
        FilePart one;
        Json passes = Json::object();
        for (const FilePart& part : parts) {
            std::vector<int> channels;
            std::vector<std::string> names;
            for (int c = 0; c < part.image.channels(); ++c) {
                channels.push_back(c);
                const std::string& name = part.image.channelName(c);
                names.push_back(part.layer.empty() ? name : part.layer + "." + name);
            }
            one.image.append(part.image.select(channels, names));
            one.attributes.insert(part.attributes.begin(), part.attributes.end());
            // A matte's channels carry its layer themselves.
            const std::string layer =
                part.image.channels() % 4 == 0 &&
                        part.image.channelName(0).find('.') != std::string::npos
                    ? part.name
                    : layerOf(part);
            for (const char* key : kOfOnePass)
                if (const std::string text = textIn(part.attributes, key); !text.empty())
                    passes[layer][key] = text;
        }
        for (const char* key : kOfOnePass)
            one.attributes.erase(key);
        one.attributes[kPasses] = passes.dump();
        parts = {one};
    }
    return parts;
}

void writePasses(const fs::path& path, const PassSet& set, const PassFileOptions& options) {
    if (options.layout == PassLayout::FolderPerPass)
        return writeFolders(path, set, options);
    writeImageFile(path, filePartsOf(set, options));
}

void writePass(const fs::path& path, const PassSet& set, const Pass& pass, SampleType type) {
    FilePart part = partOf(set, pass, {});
    part.type = type;
    part.layer = "";
    part.image = pass.image;
    const bool integer = type == SampleType::Byte || type == SampleType::Short;
    const bool isData = passKindInfo(pass.kind).data();
    if (integer && !isData)
        part.image = srgbFromLinear(part.image);
    if (!integer || !isData) {
        writeImageFile(path, {part});
        return;
    }
    Statistics all = statisticsOf(pass.image, 0);
    for (int c = 1; c < pass.image.channels(); ++c) {
        const Statistics s = statisticsOf(pass.image, c);
        all.minimum = std::min(all.minimum, s.minimum);
        all.maximum = std::max(all.maximum, s.maximum);
    }
    const bool isDistance = pass.kind == PassKind::Depth || pass.kind == PassKind::Distance;
    Interpretation reading;
    reading.coding = DepthCoding::Normalised;
    reading.nearDistance = all.minimum;
    // The last step is kept for nothing hit.
    const float steps = type == SampleType::Byte ? 255.0F : 65535.0F;
    reading.farDistance =
        all.minimum + std::max(all.maximum - all.minimum, 1e-3F) * steps / (steps - 1.0F);
    reading.backgroundFrom = 1.0F;
    const float span = std::max(all.maximum - all.minimum, 1e-6F);
    for (int c = 0; c < part.image.channels(); ++c) {
        float* plane = part.image.editPlane(c);
        for (std::ptrdiff_t i = 0; i < part.image.rowStride() * part.image.height(); ++i)
            plane[i] =
                isDistance ? storedFromDepth(plane[i], reading) : (plane[i] - all.minimum) / span;
    }
    if (isDistance)
        part.attributes[kReading] = textFromInterpretation(reading);
    else
        part.attributes[kRange] = Json{all.minimum, all.maximum}.dump();
    Json sidecar = Json::object();
    for (const auto& [key, value] : part.attributes)
        if (const auto* text = std::get_if<std::string>(&value))
            sidecar[key] = *text;
    writeWithSidecar(path, std::move(part), sidecar);
}

}  // namespace noctis
