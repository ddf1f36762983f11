#include "core/passes/pass_file.h"

#include "core/image/colour.h"
#include "core/image/error.h"
#include "core/image/safe_write.h"
#include "core/image/utf8.h"
#include "core/passes/diagnosis.h"
#include "core/passes/frame_name.h"
#include "core/passes/interpretation_text.h"
#include "core/passes/matte.h"
#include "core/passes/statistics.h"

#include <algorithm>
#include <array>
#include <cctype>
#include <cmath>
#include <functional>
#include <numeric>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace noctis {

namespace fs = std::filesystem;
using Json = nlohmann::json;

namespace {

constexpr const char* kKind = "noctis.kind";
constexpr const char* kSpace = "noctis.space";
constexpr const char* kSampling = "noctis.sampling";
constexpr const char* kSettings = "noctis.settings";
constexpr const char* kUnit = "noctis.unit";
constexpr const char* kReading = "noctis.reading";
constexpr const char* kRange = "noctis.range";
constexpr const char* kLights = "noctis.lights";
/// Of a beauty whose A is the picture's own; in files of ours without it, A is the coverage.
constexpr const char* kAlpha = "noctis.alpha";
/// Of files with all passes in one part: what each has for itself, as JSON by layer.
constexpr const char* kPasses = "noctis.passes";
constexpr std::array kOfOnePass{kKind, kUnit, kSampling, kSpace, kSettings, kReading, kAlpha};

std::string lower(std::string text) {
    std::transform(text.begin(), text.end(), text.begin(),
                   [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
    return text;
}

bool holds(const std::string& text, std::initializer_list<std::string_view> words) {
    return std::any_of(words.begin(), words.end(),
                       [&](std::string_view word) { return text.find(word) != std::string::npos; });
}

std::string textIn(const Attributes& attributes, const std::string& name) {
    const auto found = attributes.find(name);
    const auto* text =
        found == attributes.end() ? nullptr : std::get_if<std::string>(&found->second);
    return text == nullptr ? std::string() : *text;
}

/// What a layer is, by the words in its name. The trade's words; the last resort is a colour layer.
PassKind kindByName(const std::string& layer, std::size_t channels) {
    const std::string name = lower(layer);
    if (const auto own = passNamed(layer); own && own->kind != PassKind::Colour)
        return own->kind;
    if (holds(name, {"depth", "zbuffer"}) || name == "z" || name.ends_with(".z"))
        return PassKind::Depth;
    if (holds(name, {"distance"}))
        return PassKind::Distance;
    if (holds(name, {"normal"}) && channels >= 3)
        return PassKind::Normal;
    if (holds(name, {"position"}) && channels >= 3)
        return PassKind::Position;
    if (holds(name, {"occlusion"}) || name == "ao" || name.ends_with(".ao"))
        return PassKind::Occlusion;
    if (holds(name, {"mist"}))
        return PassKind::Mist;
    if (holds(name, {"coverage"}) || name == "alpha" || name.ends_with(".alpha"))
        return PassKind::Coverage;
    if (holds(name, {"object"}) && channels >= 4)
        return PassKind::Objects;
    if (holds(name, {"material"}) && channels >= 4)
        return PassKind::Materials;
    if (name.empty() || holds(name, {"beauty", "combined", "rgba", "composite"}))
        return channels >= 3 ? PassKind::Beauty : PassKind::Colour;
    return PassKind::Colour;
}

/// "objects00" and "objects01" are ranks of one matte.
std::string withoutRank(const std::string& layer) {
    const std::string name = lower(layer);
    if (layer.size() > 2 && holds(name, {"object", "material", "groups"}) &&
        std::isdigit(static_cast<unsigned char>(layer.back())) != 0 &&
        std::isdigit(static_cast<unsigned char>(layer[layer.size() - 2])) != 0)
        return layer.substr(0, layer.size() - 2);
    return layer;
}

int channelOrder(const std::string& suffix) {
    static const std::string order = "rgbaxyzuvw";
    const std::string name = lower(suffix);
    if (name == "red" || name == "green" || name == "blue" || name == "alpha")
        return channelOrder(name.substr(0, 1));
    // Motion: to the previous frame, then to the next.
    static const std::array<std::string, 4> motion{"px", "py", "nx", "ny"};
    if (const auto* found = std::find(motion.begin(), motion.end(), name); found != motion.end())
        return static_cast<int>(found - motion.begin());
    const auto at = name.size() == 1 ? order.find(name) : std::string::npos;
    return at == std::string::npos ? 99 : static_cast<int>(at);
}

struct SplitName {
    std::string layer;
    std::string suffix;
};

SplitName split(const std::string& channel) {
    const auto dot = channel.rfind('.');
    if (dot == std::string::npos)
        return {"", channel};
    return {channel.substr(0, dot), channel.substr(dot + 1)};
}

bool isOneOf(const std::string& suffix, std::initializer_list<std::string_view> names) {
    const std::string name = lower(suffix);
    return std::find(names.begin(), names.end(), name) != names.end();
}

std::optional<std::array<float, 2>> rangeIn(const Attributes& attributes) {
    const Json json = Json::parse(textIn(attributes, kRange), nullptr, false);
    if (!json.is_array() || json.size() != 2 || !json[0].is_number() || !json[1].is_number())
        return std::nullopt;
    return std::array<float, 2>{json[0].get<float>(), json[1].get<float>()};
}

/// A part's attributes as they hold for one of its layers.
Attributes ofLayer(const Attributes& part, const std::string& layer) {
    const Json all = Json::parse(textIn(part, kPasses), nullptr, false);
    Attributes attributes = part;
    if (all.is_object() && all.contains(layer) && all[layer].is_object())
        for (const auto& [key, value] : all[layer].items())
            if (value.is_string())
                attributes[key] = value.get<std::string>();
    return attributes;
}

/// The layer of a part's channels, as ofLayer wants it.
std::string layerOf(const FilePart& part) {
    if (!part.layer.empty())
        return part.layer;
    return part.image.channelName(0) == "Z" ? "depth" : "";
}

/// Attributes of a sidecar written by writePass, where there is one.
Attributes sidecarOf(const fs::path& path) {
    Attributes attributes;
    const fs::path sidecar = path.string() + ".json";
    if (!fs::exists(sidecar))
        return attributes;
    const Json json = Json::parse(readTextFile(sidecar), nullptr, false);
    if (json.is_object())
        for (const auto& [key, value] : json.items())
            if (key.starts_with("noctis."))
                attributes[key] = value.is_string() ? value.get<std::string>() : value.dump();
    return attributes;
}

std::map<std::string, std::string> manifestOf(const Attributes& attributes,
                                              const std::string& layer) {
    std::map<std::string, std::string> manifest;
    for (const auto& [key, value] : attributes) {
        if (!key.starts_with("cryptomatte/") || !key.ends_with("/name") ||
            textIn(attributes, key) != layer)
            continue;
        const std::string prefix = key.substr(0, key.size() - 4);
        const Json json = Json::parse(textIn(attributes, prefix + "manifest"), nullptr, false);
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

void settleDistances(Pass& pass, const Attributes& attributes, const InterpretationMap& corrections,
                     const Camera& camera) {
    Interpretation reading;
    if (const auto corrected = corrections.find(pass.name); corrected != corrections.end())
        reading = corrected->second;
    else if (const auto told = interpretationFromText(textIn(attributes, kReading)))
        reading = *told;
    else if (textIn(attributes, kKind).empty())
        reading = guessInterpretation(pass.image, pass.type, attributes,
                                      holds(lower(pass.name), {"radial"}));
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

void settleCamera(PassSet& set, const Attributes& attributes) {
    const auto camera = attributes.find("worldToCamera");
    const auto ndc = attributes.find("worldToNDC");
    if (set.camera || camera == attributes.end() || ndc == attributes.end())
        return;
    const auto* toCamera = std::get_if<M44f>(&camera->second);
    const auto* toNdc = std::get_if<M44f>(&ndc->second);
    if (toCamera != nullptr && toNdc != nullptr)
        set.camera = cameraFromMatrices(*toCamera, *toNdc);
}

/// What a file tells of a pass, without its pixels.
Pass passAsTold(const fs::path& path, const FileInfo& info, const PassInFile& found,
                const Attributes& attributes) {
    Pass pass;
    pass.name = found.name;
    pass.kind = found.kind;
    pass.file = path;
    pass.type = info.channels[static_cast<std::size_t>(found.channels.front())].type;
    pass.manifest = manifestOf(attributes, found.name);
    if (textIn(attributes, kSampling) == "filtered")
        pass.sampling = Sampling::Filtered;
    if (const std::string space = textIn(attributes, kSpace); !space.empty())
        pass.space = space;
    const Json settings = Json::parse(textIn(attributes, kSettings), nullptr, false);
    if (settings.is_object())
        for (const auto& [key, value] : settings.items())
            if (value.is_string())
                pass.settings[key] = value.get<std::string>();
    return pass;
}

/// Scene-linear and associated, from what the file says of both.
Image settledColour(Image image, const FileInfo& info) {
    const bool hasAlpha = image.channel("A") >= 0;
    if (!info.sceneLinear) {
        // The curve is that of straight colours.
        if (hasAlpha && !info.straightAlpha)
            image = straightFromAssociated(image);
        image = linearFromSrgb(image);
    }
    const bool straight = info.straightAlpha || !info.sceneLinear;
    return hasAlpha && straight ? associatedFromStraight(image) : image;
}

/// all: every channel of the file.
void takePixels(Pass& pass, const Image& all, const FileInfo& info, const PassInFile& found,
                const Attributes& attributes) {
    pass.image = all.select(found.channels);
    giveUsualNames(pass, pass.kind == PassKind::Beauty && hasOwnAlpha(attributes));
    settleRange(pass, attributes);
    if (!passKindInfo(pass.kind).data())
        pass.image = settledColour(std::move(pass.image), info);
    if (pass.kind == PassKind::Beauty && pass.image.channels() > 3 && isOpaque(pass.image))
        pass.image = pass.image.select({0, 1, 2});
}

Image readAllChannels(const fs::path& path, const FileInfo& info) {
    std::vector<int> channels(info.channels.size());
    std::iota(channels.begin(), channels.end(), 0);
    return readFileChannels(path, info, channels);
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
        pass.image = all.select({c}, {"Y"});
        set.put(std::move(pass));
    }
}

std::string uniqueName(const PassSet& set, const std::string& name) {
    std::string unique = name;
    for (int i = 2; set.find(std::string_view(unique)) != nullptr; ++i)
        unique = fmt::format("{} {}", name, i);
    return unique;
}

using TakePass = std::function<void(Pass, const PassInFile&, const Attributes&)>;

/// Takes the passes of a file, without their pixels, if it is of the set's size.
void forEachPassIn(PassSet& set, const fs::path& path, const FileInfo& info, const TakePass& take) {
    for (const std::string& warning : info.warnings)
        set.warnings.push_back(fmt::format("{}: {}", path.filename().string(), warning));
    if (!set.empty() && (info.width != set.width || info.height != set.height)) {
        set.warnings.push_back(
            fmt::format("{}: is {} x {} and the picture {} x {}; export it at the picture's size",
                        path.filename().string(), info.width, info.height, set.width, set.height));
        return;
    }
    set.width = info.width;
    set.height = info.height;
    const Attributes sidecar = sidecarOf(path);
    for (PassInFile found : passesIn(path, info)) {
        Attributes attributes =
            ofLayer(info.attributes[static_cast<std::size_t>(found.part)], found.layer);
        attributes.insert(sidecar.begin(), sidecar.end());
        settleCamera(set, attributes);
        set.lights.merge(lightsFromText(textIn(attributes, kLights)));
        if (set.view.empty())
            set.view = textIn(attributes, "view");
        found.name = uniqueName(set, found.name);
        take(passAsTold(path, info, found, attributes), found, attributes);
    }
}

void readFileInto(PassSet& set, const fs::path& path, const InterpretationMap& corrections) {
    const FileInfo info = readFileInfo(path);
    std::optional<PassInFile> covers;
    Image all;  // read at the first pass that is taken: the file is opened once
    forEachPassIn(
        set, path, info, [&](Pass pass, const PassInFile& found, const Attributes& attributes) {
            if (all.empty())
                all = readAllChannels(path, info);
            takePixels(pass, all, info, found, attributes);
            if (pass.kind == PassKind::Depth || pass.kind == PassKind::Distance)
                settleDistances(pass, attributes, corrections, set.cameraOrAssumed());
            addDiagnosis(pass);
            // An opaque picture of ours says nothing of what it covers.
            const bool opaque = pass.kind == PassKind::Beauty && pass.image.channels() == 3 &&
                                !textIn(attributes, kAlpha).empty();
            set.put(std::move(pass));
            if (found.kind == PassKind::Beauty && !opaque)
                covers = found;
        });
    if (covers)
        addCoverageFromAlpha(set, path, all, info, *covers);
}

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
    if (set.camera) {
        attributes["worldToCamera"] = set.camera->cameraToWorld.inverse();
        attributes["worldToNDC"] =
            worldToNdc(*set.camera, static_cast<float>(set.width) / static_cast<float>(set.height));
    }
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

std::vector<PassInFile> passesIn(const fs::path& path, const FileInfo& info) {
    std::vector<PassInFile> found;
    const auto passOf = [&](const std::string& name, int part) -> PassInFile& {
        for (PassInFile& pass : found)
            if (pass.name == name && pass.part == part)
                return pass;
        found.push_back({name, PassKind::Colour, {}, part, name});
        return found.back();
    };
    for (int c = 0; c < static_cast<int>(info.channels.size()); ++c) {
        const FileChannel& channel = info.channels[static_cast<std::size_t>(c)];
        auto [layer, suffix] = split(channel.name);
        if (layer.empty() && isOneOf(suffix, {"z", "depth"}))
            layer = "depth";
        else if (layer.empty() && !isOneOf(suffix, {"r", "g", "b", "a", "y"}))
            layer = suffix;
        passOf(withoutRank(layer), channel.part).channels.push_back(c);
    }
    for (PassInFile& pass : found) {
        // Files list channels by their alphabet; ranks of a matte stay together.
        std::stable_sort(pass.channels.begin(), pass.channels.end(), [&](int a, int b) {
            const SplitName one = split(info.channels[static_cast<std::size_t>(a)].name);
            const SplitName other = split(info.channels[static_cast<std::size_t>(b)].name);
            if (one.layer != other.layer)
                return one.layer < other.layer;
            return channelOrder(one.suffix) < channelOrder(other.suffix);
        });
        const Attributes& attributes = info.attributes[static_cast<std::size_t>(pass.part)];
        pass.layer = pass.name;
        Attributes told = ofLayer(attributes, pass.layer);
        if (found.size() == 1)
            told.merge(sidecarOf(path));
        const auto kind = passKindNamed(textIn(told, kKind));
        const bool wholeFile = pass.name.empty() && found.size() == 1;
        const std::string name = wholeFile ? path.stem().string() : pass.name;
        pass.kind = kind.value_or(kindByName(name, pass.channels.size()));
        if (wholeFile && pass.kind == PassKind::Colour && !kind)
            pass.kind = PassKind::Beauty;
        if (pass.name.empty() || (wholeFile && pass.kind != PassKind::Colour))
            pass.name = passKindInfo(pass.kind).id;
        pass.name = asUtf8(pass.name);
    }
    return found;
}

PassSet readPasses(const std::vector<fs::path>& paths, const Readings& readings) {
    PassSet set;
    set.assumedYfovRadians = readings.yfovRadians;
    for (const fs::path& path : paths)
        readFileInto(set, path, readings.passes);
    return set;
}

Image readPicture(const fs::path& path) {
    const FileInfo info = readFileInfo(path);
    std::vector<int> channels;
    std::vector<std::string> names;
    for (const char* wanted : {"r", "g", "b", "a"})
        for (int c = 0; c < static_cast<int>(info.channels.size()); ++c)
            if (lower(info.channels[static_cast<std::size_t>(c)].name) == wanted) {
                channels.push_back(c);
                names.emplace_back(1, static_cast<char>(std::toupper(*wanted)));
                break;
            }
    if (channels.size() < 3) {  // grey, or with names of their own
        const int last = static_cast<int>(info.channels.size()) - 1;
        channels = {0, std::min(1, last), std::min(2, last)};
        if (last < 2)
            channels = {0, 0, 0};
        names = {"R", "G", "B"};
        if (last == 1 || last == 3) {
            channels.push_back(last);
            names.emplace_back("A");
        }
    }
    Image image =
        settledColour(readFileChannels(path, info, channels)
                          .select(
                              [&] {
                                  std::vector<int> all;
                                  for (int c = 0; c < static_cast<int>(channels.size()); ++c)
                                      all.push_back(c);
                                  return all;
                              }(),
                              names),
                      info);
    if (image.channels() == 3)
        image.append(Image(image.width(), image.height(), {"A"}, 1.0F));
    return image;
}

PassSet readPassesWithoutPixels(const std::vector<fs::path>& paths) {
    PassSet set;
    for (const fs::path& path : paths)
        forEachPassIn(set, path, readFileInfo(path),
                      [&](Pass pass, const PassInFile&, const Attributes&) {
                          set.passes.push_back(std::move(pass));
                      });
    return set;
}

void reinterpret(Pass& pass, const Interpretation& interpretation, const Camera& camera) {
    pass.interpretation = interpretation;
    const bool wantsPlanar = pass.kind == PassKind::Depth;
    Interpretation asStored = interpretation;
    if (!wantsPlanar)
        asStored.radial = false;
    pass.image = depthFromStored(pass.raw, asStored, camera)
                     .select({0}, {passKindInfo(pass.kind).channels.front()});
}

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

void writePasses(const fs::path& path, const PassSet& set, const PassFileOptions& options) {
    if (options.layout == PassLayout::FolderPerPass)
        return writeFolders(path, set, options);
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
    writeImageFile(path, parts);
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
    writeImageFile(path, {part});
    writeTextFile(path.string() + ".json", sidecar.dump(2) + "\n");
}

}  // namespace noctis
