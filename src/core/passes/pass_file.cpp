#include "core/passes/pass_file.h"

#include "core/image/colour.h"
#include "core/image/error.h"
#include "core/image/json_text.h"
#include "core/image/resample.h"
#include "core/image/utf8.h"
#include "core/passes/diagnosis.h"
#include "core/passes/fill_gaps.h"
#include "core/passes/interpretation_text.h"
#include "core/passes/pass_attributes.h"
#include "core/passes/pass_settling.h"
#include "core/passes/settled_colour.h"
#include "core/passes/sidecar.h"

#include <algorithm>
#include <array>
#include <functional>
#include <numeric>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace noctis {

namespace fs = std::filesystem;
using Json = nlohmann::json;

namespace {

std::optional<std::array<float, 2>> rangeIn(const Attributes& attributes) {
    const Json json = parseJsonIfAny(textIn(attributes, kRange));
    if (!json.is_array() || json.size() != 2 || !json[0].is_number() || !json[1].is_number())
        return std::nullopt;
    return std::array<float, 2>{json[0].get<float>(), json[1].get<float>()};
}

std::map<std::string, std::string> manifestOf(const Attributes& attributes,
                                              const std::string& layer) {
    std::map<std::string, std::string> manifest;
    for (const auto& [key, value] : attributes) {
        if (!key.starts_with("cryptomatte/") || !key.ends_with("/name") ||
            textIn(attributes, key) != layer)
            continue;
        const std::string prefix = key.substr(0, key.size() - 4);
        const Json json = parseJsonIfAny(textIn(attributes, prefix + "manifest"));
        if (json.is_object())
            for (const auto& [name, id] : json.items())
                if (id.is_string())
                    manifest[id.get<std::string>()] = name;
    }
    return manifest;
}

bool keepsItsChannels(PassKind kind) {
    return passKindInfo(kind).matte() || kind == PassKind::Colour;
}

bool isAlpha(const std::string& channel) { return isOneOf(split(channel).suffix, {"a", "alpha"}); }

/// The channels of its kind, and the alpha of a picture.
void giveUsualNames(Pass& pass, bool withAlpha) {
    const PassKindInfo& info = passKindInfo(pass.kind);
    if (keepsItsChannels(pass.kind))
        return;
    std::vector<int> kept;
    std::vector<std::string> names = info.channels;
    for (int c = 0; c < static_cast<int>(info.channels.size()); ++c)
        kept.push_back(std::min(c, pass.image.channels() - 1));
    for (int c = 0; withAlpha && c < pass.image.channels(); ++c)
        if (isAlpha(pass.image.channelName(c))) {
            kept.push_back(c);
            names.emplace_back("A");
            break;
        }
    pass.image = pass.image.select(kept, std::move(names));
}

bool isOpaque(const Image& image) {
    const int alpha = image.channel("A");
    if (alpha < 0)
        return true;
    for (int y = 0; y < image.height(); ++y)
        for (int x = 0; x < image.width(); ++x)
            if (image(x, y, alpha) != 1.0F)
                return false;
    return true;
}

/// Whether the A beside the colours is how much of the picture there is, and not just its coverage.
bool hasOwnAlpha(const Attributes& attributes) {
    return textIn(attributes, kKind).empty() || !textIn(attributes, kAlpha).empty();
}

void settleDistances(Pass& pass, const Attributes& attributes, const PassReading& corrected,
                     const Camera& camera) {
    PassReading reading = corrected;
    if (!reading.depth) {
        if (const auto stated = interpretationFromText(textIn(attributes, kReading)))
            reading.depth = *stated;
        else if (textIn(attributes, kKind).empty())
            reading.depth = guessInterpretation(pass.image, pass.type, attributes,
                                                holds(lower(pass.name), {"radial"}));
        else
            reading.depth = Interpretation{};
    }
    pass.raw = pass.image;
    reinterpret(pass, reading, camera);
}

void settleRange(Pass& pass, const Attributes& attributes) {
    const auto range = rangeIn(attributes);
    if (!range)
        return;
    for (int c = 0; c < pass.image.channels(); ++c) {
        float* plane = pass.image.editPlane(c);
        for (std::ptrdiff_t i = 0; i < pass.image.rowStride() * pass.image.height(); ++i)
            plane[i] = (*range)[0] + plane[i] * ((*range)[1] - (*range)[0]);
    }
}

void settleCamera(std::optional<Camera>& settled, const Attributes& attributes,
                  const std::string& of = {}) {
    const auto camera = attributes.find(of + "worldToCamera");
    const auto ndc = attributes.find(of + "worldToNDC");
    if (settled || camera == attributes.end() || ndc == attributes.end())
        return;
    const auto* toCamera = std::get_if<M44f>(&camera->second);
    const auto* toNdc = std::get_if<M44f>(&ndc->second);
    if (toCamera != nullptr && toNdc != nullptr)
        settled = cameraFromMatrices(*toCamera, *toNdc);
}

/// What a file says of a pass, without its pixels.
Pass passAsStated(const fs::path& path, const FileInfo& info, const PassInFile& found,
                  const Attributes& attributes) {
    Pass pass;
    pass.name = found.name;
    pass.kind = found.kind;
    pass.key = found.name;
    pass.why = found.why;
    for (const int c : found.channels)
        pass.fileChannels.push_back(asUtf8(info.channels[static_cast<std::size_t>(c)].name));
    pass.file = path;
    pass.type = info.channels[static_cast<std::size_t>(found.channels.front())].type;
    pass.manifest = manifestOf(attributes, found.name);
    if (textIn(attributes, kSampling) == "filtered")
        pass.sampling = Sampling::Filtered;
    if (const std::string space = textIn(attributes, kSpace); !space.empty())
        pass.space = space;
    const Json settings = parseJsonIfAny(textIn(attributes, kSettings));
    if (settings.is_object())
        for (const auto& [key, value] : settings.items())
            if (value.is_string())
                pass.settings[key] = value.get<std::string>();
    return pass;
}

/// Whether one is the other, larger or smaller: their sides agree within a pixel of the smaller one.
bool isSameShape(const FileInfo& info, const PassSet& set) {
    const std::int64_t skew = static_cast<std::int64_t>(info.width) * set.height -
                              static_cast<std::int64_t>(set.width) * info.height;
    return std::abs(skew) < std::max(info.height, set.height);
}

/// A picture is scaled smoothly; of a data pass each sample is one of the file's.
Image scaledTo(const Image& image, int width, int height, bool data) {
    return resized(image, width, height,
                   data                    ? Resampling::Nearest
                   : width < image.width() ? Resampling::Area
                                           : Resampling::Linear);
}

/// all: every channel of the file.
void takePixels(Pass& pass, const Image& all, const FileInfo& info, const PassInFile& found,
                const Attributes& attributes, const PassSet& set) {
    const bool data = passKindInfo(pass.kind).data();
    pass.image = all.select(found.channels);
    if (data)
        pass.image = scaledTo(pass.image, set.width, set.height, true);
    giveUsualNames(pass, pass.kind == PassKind::Beauty && hasOwnAlpha(attributes));
    settleRange(pass, attributes);
    if (!data)
        pass.image =
            scaledTo(settledColour(std::move(pass.image), info), set.width, set.height, false);
    if (info.width != set.width || info.height != set.height)
        pass.warnings.push_back(
            fmt::format("The file is {} x {} and was scaled to {} x {}; export it at that size.",
                        info.width, info.height, set.width, set.height));
    if (pass.kind == PassKind::Beauty && pass.image.channels() > 3 && isOpaque(pass.image))
        pass.image = pass.image.select({0, 1, 2});
}

Image readAllChannels(const FileInfo& info) {
    std::vector<int> channels(info.channels.size());
    std::iota(channels.begin(), channels.end(), 0);
    return readFileChannels(info, channels);
}

/// Alpha stored with the colour is the coverage pass, where there is no other.
void addCoverageFromAlpha(PassSet& set, const fs::path& path, const Image& all,
                          const FileInfo& info, const PassInFile& found) {
    for (const int c : found.channels) {
        const FileChannel& channel = info.channels[static_cast<std::size_t>(c)];
        if (!isAlpha(channel.name) || set.find(PassKind::Coverage) != nullptr)
            continue;
        Pass pass;
        pass.name = "coverage";
        pass.kind = PassKind::Coverage;
        pass.file = path;
        pass.type = channel.type;
        pass.image = scaledTo(all.select({c}, {"Y"}), set.width, set.height, false);
        set.put(std::move(pass));
    }
}

std::string uniqueName(const PassSet& set, const std::string& name) {
    std::string unique = name;
    for (int i = 2; set.find(std::string_view(unique)) != nullptr; ++i)
        unique = fmt::format("{} {}", name, i);
    return unique;
}

/// A name that no pass has now, nor had in its file.
std::string uniqueKey(const PassSet& set, const std::string& name) {
    const auto taken = [&](const std::string& key) {
        return set.find(std::string_view(key)) != nullptr ||
               std::any_of(set.passes.begin(), set.passes.end(),
                           [&](const Pass& pass) { return pass.key == key; });
    };
    std::string unique = name;
    for (int i = 2; taken(unique); ++i)
        unique = fmt::format("{} {}", name, i);
    return unique;
}

/// Its kind is not the one that its file suggests; one that was named by its kind is named by the new one.
void takeFor(Pass& pass, PassInFile& found, PassKind kind, const PassSet& set) {
    if (found.kind == kind)
        return;
    found.kind = pass.kind = kind;
    pass.why = "set by hand";
    if (const std::string name(passKindInfo(kind).id); kind != PassKind::Colour)
        pass.name = uniqueName(set, name);
}

using TakePass = std::function<void(Pass, const PassInFile&, const Attributes&)>;

/// Takes the passes of a file, without their pixels, if it is of the set's shape.
void forEachPassIn(PassSet& set, const fs::path& path, const FileInfo& info,
                   const ReadingMap& corrections, const TakePass& take) {
    for (const std::string& warning : info.warnings)
        set.warnings.push_back(fmt::format("{}: {}", path.filename().string(), warning));
    if (!isSameShape(info, set)) {
        set.warnings.push_back(fmt::format("{} is {} x {} but the picture is {} x {}, which has "
                                           "another shape; export it at the picture's size",
                                           path.filename().string(), info.width, info.height,
                                           set.width, set.height));
        return;
    }
    const Attributes sidecar = sidecarOf(path, set.warnings);
    for (PassInFile found : passesIn(path, info)) {
        const Attributes attributes =
            attributesOf(info, found.channels.front(), found.layer, sidecar);
        settleCamera(set.camera, attributes);
        settleCamera(set.cameraBefore, attributes, kOfFrameBefore);
        settleCamera(set.cameraAfter, attributes, kOfFrameAfter);
        set.lights.merge(lightsFromText(textIn(attributes, kLights)));
        if (set.view.empty())
            set.view = textIn(attributes, "view");
        found.name = uniqueKey(set, found.name);
        Pass pass = passAsStated(path, info, found, attributes);
        if (const auto corrected = corrections.find(pass.key);
            corrected != corrections.end() && corrected->second.kind)
            takeFor(pass, found, *corrected->second.kind, set);
        take(std::move(pass), found, attributes);
    }
}

/// One file's part of the run.
struct FileRun {
    const RunContext& run;
    float from = 0.0F;
    float share = 1.0F;
};

void readFileInto(PassSet& set, const fs::path& path, const FileInfo& info,
                  const ReadingMap& corrections, OpenNormals& open, const FileRun& part) {
    std::optional<PassInFile> covers;
    Image all;  // read at the first pass that is taken: the file is opened once
    const std::size_t before = set.passes.size();
    const auto most = static_cast<float>(std::max<std::size_t>(passesIn(path, info).size(), 1));
    forEachPassIn(
        set, path, info, corrections,
        [&](Pass pass, const PassInFile& found, const Attributes& attributes) {
            if (part.run.stopped())
                return;
            if (all.empty())
                all = readAllChannels(info);
            // Reading takes about half the time, and what is found out about the passes the other half.
            const auto taken = static_cast<float>(set.passes.size() - before);
            part.run.report(part.from + part.share * (0.5F + 0.5F * std::min(taken / most, 1.0F)));
            const PassReading reading = readingOf(corrections, pass.key);
            FileInfo as = info;
            as.straightAlpha = reading.straight.value_or(info.straightAlpha);
            takePixels(pass, all, as, found, attributes, set);
            if (reading.filled)
                pass.image = withoutGaps(pass.image);
            if (pass.kind == PassKind::Depth || pass.kind == PassKind::Distance)
                settleDistances(pass, attributes, reading, set.cameraOrAssumed());
            addDiagnosis(pass, reading);
            if (reading.snapped && pass.sampling == Sampling::Filtered && !pass.raw.empty()) {
                pass.sampling = Sampling::Centre;
                std::erase_if(pass.warnings, [](const std::string& warning) {
                    return repairFor(warning) == Repair::BlendedEdges;
                });
            }
            // An opaque picture of ours says nothing of what it covers.
            const bool opaque = pass.kind == PassKind::Beauty && pass.image.channels() == 3 &&
                                !textIn(attributes, kAlpha).empty();
            if (isDirection(pass.kind) && (!found.stated || reading.normal))
                open.push_back(pass.name);
            set.put(std::move(pass));
            if (found.kind == PassKind::Beauty && !opaque)
                covers = found;
        });
    if (covers && !part.run.stopped())
        addCoverageFromAlpha(set, path, all, info, *covers);
}

std::vector<FileInfo> infosOf(const std::vector<fs::path>& paths) {
    std::vector<FileInfo> infos;
    for (const fs::path& path : paths)
        infos.push_back(readFileInfo(path));
    return infos;
}

/// A set without passes that has the size of the first file with a picture, or of the first of all.
PassSet emptySetFor(const std::vector<fs::path>& paths, const std::vector<FileInfo>& infos) {
    const auto hasPicture = [&](std::size_t i) {
        const std::vector<PassInFile> found = passesIn(paths[i], infos[i]);
        return std::any_of(found.begin(), found.end(),
                           [](const PassInFile& pass) { return pass.kind == PassKind::Beauty; });
    };
    std::size_t first = 0;
    while (first < infos.size() && !hasPicture(first))
        ++first;
    PassSet set;
    if (!infos.empty()) {
        const FileInfo& info = infos[first < infos.size() ? first : 0];
        set.width = info.width;
        set.height = info.height;
    }
    return set;
}

}  // namespace

PassSet readPasses(const std::vector<fs::path>& paths, const Readings& readings,
                   const RunContext& run) {
    const std::vector<FileInfo> infos = infosOf(paths);
    PassSet set = emptySetFor(paths, infos);
    set.assumedYfovRadians = readings.yfovRadians;
    OpenNormals open;
    for (std::size_t i = 0; i < paths.size(); ++i)
        readFileInto(set, paths[i], infos[i], readings.passes, open,
                     FileRun{run, static_cast<float>(i) / static_cast<float>(paths.size()),
                             1.0F / static_cast<float>(paths.size())});
    if (run.stopped())
        return {};
    // The first depth is the one steps use: one with sharp edges, if there is one.
    std::stable_partition(set.passes.begin(), set.passes.end(), [](const Pass& pass) {
        return pass.kind != PassKind::Depth || pass.sampling != Sampling::Filtered;
    });
    settleOpenNormals(set, open, readings.passes);
    deriveCoverage(set);
    addKindDoubts(set, readings.passes);
    return set;
}

PassSet readPassesWithoutPixels(const std::vector<fs::path>& paths) {
    const std::vector<FileInfo> infos = infosOf(paths);
    PassSet set = emptySetFor(paths, infos);
    for (std::size_t i = 0; i < paths.size(); ++i)
        forEachPassIn(set, paths[i], infos[i], {},
                      [&](Pass pass, const PassInFile&, const Attributes&) {
                          set.passes.push_back(std::move(pass));
                      });
    return set;
}

}  // namespace noctis
