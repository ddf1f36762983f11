#include "core/relief/height_file.h"

#include "core/image/error.h"
#include "core/image/json_text.h"
#include "core/image/safe_write.h"
#include "core/passes/pass_attributes.h"
#include "core/passes/sidecar.h"

#include <cmath>
#include <cstdint>
#include <limits>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace noctis {

namespace fs = std::filesystem;
using Json = nlohmann::json;

namespace {

constexpr const char* kMetresPerPixel = "noctis.metres_a_pixel";
constexpr const char* kLevel = "noctis.level";
constexpr const char* kSource = "noctis.source";
constexpr const char* kHoles = "noctis.holes";
constexpr const char* kExaggeration = "noctis.exaggeration";

float codesOf(SampleType type) { return type == SampleType::Byte ? 255.0F : 65535.0F; }

bool isInteger(SampleType type) { return type == SampleType::Byte || type == SampleType::Short; }

/// Even noise from -0.5 to 0.5, the same for the same cell.
float noiseAt(int x, int y) noexcept {
    auto h =
        static_cast<std::uint32_t>(x) * 0x9e3779b9U ^ static_cast<std::uint32_t>(y) * 0x85ebca6bU;
    h ^= h >> 16U;
    h *= 0x7feb352dU;
    h ^= h >> 15U;
    h *= 0x846ca68bU;
    h ^= h >> 16U;
    return static_cast<float>(h >> 8U) / 16777216.0F - 0.5F;
}

/// The heights of code 0 and of the last code.
std::array<float, 2> codedRange(const HeightReport& report, SampleType type) {
    std::array<float, 2> range = report.range;
    if (!(range[1] > range[0]))
        range[1] = range[0] + 1e-6F;  // a flat field: any range that reads back to it
    if (report.holes > 0.0 && isInteger(type))
        range[0] -= (range[1] - range[0]) / (codesOf(type) - 1.0F);
    return range;
}

void requireHeld(const fs::path& path, SampleType type) {
    const std::string ending = lower(path.extension().string());
    if (ending == ".exr" && type != SampleType::Float)
        throw Error(ErrorCode::BadSetting, "EXR holds heights as floats; write PNG or TIFF for 8 "
                                           "or 16 bits");
    if (ending == ".png" && type == SampleType::Float)
        throw Error(ErrorCode::BadSetting, "PNG holds 8 or 16 bits; write EXR or TIFF for floats");
}

Attributes attributesOf(const HeightField& field, const std::string& source) {
    return {{kKind, std::string("height")},
            {kUnit, std::string("m")},
            {kSampling, std::string("centre")},
            {kMetresPerPixel, fmt::format("{:.9g}", field.metresPerPixel)},
            {kLevel, field.level},
            {kSource, source},
            {kExaggeration, fmt::format("{:.9g}", field.exaggeration)},
            {"software", std::string("Noctis")}};
}

/// A sidecar holds for people what Noctis itself reads from the file.
Json sidecarFor(const HeightField& field, const HeightReport& report,
                const Attributes& attributes) {
    Json json = Json::object();
    for (const auto& [key, value] : attributes)
        if (const auto* text = std::get_if<std::string>(&value))
            json[key] = *text;
    const auto vector = [](const V3f& v) { return Json{v.x, v.y, v.z}; };
    json["range"] = {report.range[0], report.range[1]};
    json["metres_a_pixel"] = field.metresPerPixel;
    json["step"] = report.step;
    json["black_to_white"] = report.blackToWhite();
    json["grey_of_zero"] = report.greyOfZero();
    json["plane"] = {{"origin", vector(field.plane.origin)},
                     {"right", vector(field.plane.right)},
                     {"up", vector(field.plane.up)},
                     {"normal", vector(field.plane.normal)}};
    return json;
}

float numberIn(const std::map<std::string, std::string>& stated, const char* key, float otherwise) {
    const auto found = stated.find(key);
    if (found == stated.end())
        return otherwise;
    const Json json = parseJsonIfAny(found->second);
    return json.is_number() && json.get<float>() > 0.0F ? json.get<float>() : otherwise;
}

}  // namespace

HeightReport reportOf(const HeightField& field, SampleType type) {
    HeightReport report;
    const HeightStatistics statistics = heightStatisticsOf(field.heights);
    report.range = writtenRange(field);
    report.holes = statistics.holeFraction();
    std::size_t beyond = 0;
    if (field.range)
        for (int y = 0; y < field.height(); ++y)
            for (int x = 0; x < field.width(); ++x) {
                const float h = field.heights(x, y, 0);
                beyond += h < report.range[0] || h > report.range[1] ? 1 : 0;
            }
    report.clipped = statistics.known > 0
                         ? static_cast<double>(beyond) / static_cast<double>(statistics.known)
                         : 0.0;
    if (isInteger(type)) {
        const std::array<float, 2> coded = codedRange(report, type);
        report.step = (coded[1] - coded[0]) / codesOf(type);
    }
    report.notes = field.notes;
    report.warnings = field.warnings;
    if (type == SampleType::Byte)
        report.warnings.push_back(fmt::format("8 bits: a step is {}, which shows as bands; write "
                                              "16 bits.",
                                              lengthText(static_cast<double>(report.step))));
    if (statistics.known == 0)
        report.warnings.emplace_back("The map is all holes.");
    else if (!(statistics.range() > 0.0F))
        report.warnings.push_back(fmt::format("The map is flat: every height is {}.",
                                              lengthText(static_cast<double>(statistics.lowest))));
    else if (statistics.holes > 0)
        report.warnings.push_back(
            fmt::format("{:.2g} % of the map is holes; fill them before using it for displacement.",
                        100.0 * report.holes));
    if (report.clipped > 0.0)
        report.warnings.push_back(
            fmt::format("{:.2g} % lies beyond the range and is clipped.", 100.0 * report.clipped));
    if (field.exaggeration != 1.0F)
        report.warnings.push_back(
            fmt::format("Heights are {:g} times what was measured.", field.exaggeration));
    if (statistics.range() > 0.0F) {
        const FittedPlane plane = planeThrough(field.heights);
        const double tilt = std::abs(plane.a) * field.width() + std::abs(plane.b) * field.height();
        double left = 0.0;
        for (int y = 0; y < field.height(); ++y)
            for (int x = 0; x < field.width(); ++x)
                if (const float h = field.heights(x, y, 0); std::isfinite(h)) {
                    const double d = static_cast<double>(h) - plane.at(x, y);
                    left += d * d;
                }
        // Six standard deviations hold what stands out of the plane.
        const double relief = 6.0 * std::sqrt(left / static_cast<double>(statistics.known));
        if (tilt > relief)
            report.warnings.push_back(fmt::format("The map is tilted by {} while its relief is "
                                                  "only {}; level it to use the full range.",
                                                  lengthText(tilt), lengthText(relief)));
    }
    return report;
}

std::vector<fs::path> filesOfHeights(const fs::path& path) {
    requireOwnSidecar(path);
    return {path, sidecarFileOf(path)};
}

void writeHeights(const fs::path& path, const HeightField& field,
                  const HeightFileOptions& options) {
    requireHeld(path, options.type);
    const HeightReport report = reportOf(field, options.type);
    FilePart part;
    part.name = "height";
    part.type = options.type;
    part.attributes = attributesOf(field, options.source);
    part.image = field.heights;
    if (isInteger(options.type)) {
        const std::array<float, 2> coded = codedRange(report, options.type);
        const float codes = codesOf(options.type);
        const float span = coded[1] - coded[0];
        const bool holes = report.holes > 0.0;
        const float least = holes ? 1.0F : 0.0F;
        float* plane = part.image.editPlane(0);
        for (int y = 0; y < field.height(); ++y)
            for (int x = 0; x < field.width(); ++x) {
                float& value = plane[part.image.rowStride() * y + x];
                if (!std::isfinite(value)) {
                    value = 0.0F;
                    continue;
                }
                float code = (value - coded[0]) / span * codes;
                if (options.dithered)
                    code += noiseAt(x, y);
                value = std::clamp(std::round(code), least, codes) / codes;
            }
        part.attributes[kRange] = Json{coded[0], coded[1]}.dump();
        if (holes)
            part.attributes[kHoles] = std::string("0");
    }
    const Json sidecar = sidecarFor(field, report, part.attributes);
    writeWithSidecar(path, std::move(part), sidecar);
}

HeightField heightFieldOf(const Pass& pass) {
    HeightField field;
    field.heights = pass.image.select({0}, {"Y"});
    Attributes stated = sidecarOf(pass.file, field.warnings);
    try {
        const FileInfo info = readFileInfo(pass.file);
        if (!info.attributes.empty())
            stated.insert(info.attributes.front().begin(), info.attributes.front().end());
    } catch (const Error&) {
        // Its sidecar is the only source.
    }
    std::map<std::string, std::string> texts;
    for (const auto& [key, value] : stated)
        if (const auto* text = std::get_if<std::string>(&value))
            texts[key] = *text;
    field.metresPerPixel = numberIn(texts, kMetresPerPixel, field.metresPerPixel);
    field.exaggeration = numberIn(texts, kExaggeration, 1.0F);
    field.level = texts[kLevel];
    field.plane.up = V3f(0.0F, 1.0F, 0.0F);
    field.plane.normal = V3f(0.0F, 0.0F, 1.0F);
    const Json range = parseJsonIfAny(texts[kRange]);
    if (texts[kHoles] == "0" && range.is_array() && !range.empty() && range[0].is_number()) {
        const auto hole = range[0].get<float>();
        const float above = std::nextafter(hole, kNothingHit);
        float* plane = field.heights.editPlane(0);
        for (int y = 0; y < field.height(); ++y)
            for (int x = 0; x < field.width(); ++x)
                if (float& h = plane[field.heights.rowStride() * y + x]; h <= above)
                    h = std::numeric_limits<float>::quiet_NaN();
    }
    return field;
}

void writeMap(const fs::path& path, const Image& map, SampleType type, const std::string& what,
              const HeightField& field) {
    requireHeld(path, type);
    FilePart part;
    part.name = what;
    part.type = type;
    part.image = map;
    part.attributes = {{"software", std::string("Noctis")},
                       {kMetresPerPixel, fmt::format("{:.9g}", field.metresPerPixel)},
                       {kSource, what}};
    writeImageFile(path, {part});
}

}  // namespace noctis
