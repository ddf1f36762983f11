#include "core/passes/pass_reading.h"

#include "core/image/error.h"
#include "core/image/json_text.h"
#include "core/passes/interpretation_text.h"

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace noctis {

using Json = nlohmann::json;

namespace {

constexpr std::array<const char*, 3> kAxes{"guess", "camera", "world"};
constexpr std::array<const char*, 3> kCodings{"guess", "plain", "encoded"};
constexpr std::array<const char*, 3> kGreens{"guess", "up", "down"};

template <typename E> E named(const std::array<const char*, 3>& names, const std::string& name) {
    for (std::size_t i = 0; i < names.size(); ++i)
        if (names[i] == name)
            return static_cast<E>(i);
    return E{};
}

template <typename E> const char* nameOf(const std::array<const char*, 3>& names, E value) {
    return names[static_cast<std::size_t>(value)];
}

/// Of the finite values around a place.
float medianAround(const Image& stored, const KnownDistance& place) {
    if (place.x < 0 || place.y < 0 || place.x >= stored.width() || place.y >= stored.height())
        throw Error(ErrorCode::BadSetting,
                    fmt::format("{},{} lies outside the picture of {} x {} pixels", place.x,
                                place.y, stored.width(), stored.height()));
    if (!(place.metres > 0.0F) || !std::isfinite(place.metres))
        throw Error(ErrorCode::BadSetting, "a known distance must be more than 0 m");
    const float here = stored(place.x, place.y, 0);
    if (!std::isfinite(here))
        throw Error(ErrorCode::BadSetting,
                    fmt::format("nothing was hit at {},{}", place.x, place.y));
    std::vector<float> values;
    for (int y = std::max(place.y - 1, 0); y <= std::min(place.y + 1, stored.height() - 1); ++y)
        for (int x = std::max(place.x - 1, 0); x <= std::min(place.x + 1, stored.width() - 1); ++x)
            if (std::isfinite(stored(x, y, 0)))
                values.push_back(stored(x, y, 0));
    std::nth_element(values.begin(),
                     values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2), values.end());
    return values[values.size() / 2];
}

float numberIn(const std::string& text, const std::string& word) {
    float number = 0.0F;
    const char* end = text.data() + text.size();
    if (text.empty() || std::from_chars(text.data(), end, number).ptr != end)
        throw Error(ErrorCode::BadSetting, fmt::format("'{}' must end with a number", word));
    return number;
}

std::vector<std::string> wordsOf(const std::string& text) {
    std::vector<std::string> words;
    for (std::size_t at = 0; at <= text.size();) {
        const std::size_t end = std::min(text.find(',', at), text.size());
        const std::string word = text.substr(at, end - at);
        // The place in "4@320,200" has a comma, too.
        if (!words.empty() && words.back().find('@') != std::string::npos &&
            words.back().find(',') == std::string::npos)
            words.back() += "," + word;
        else
            words.push_back(word);
        at = end + 1;
    }
    return words;
}

KnownDistance placeIn(const std::string& value, const std::string& word) {
    const auto at = value.find('@');
    const auto comma = value.find(',', at);
    if (comma == std::string::npos)
        throw Error(ErrorCode::BadSetting, fmt::format("'{}' must be METRES@X,Y", word));
    return {static_cast<int>(numberIn(value.substr(at + 1, comma - at - 1), word)),
            static_cast<int>(numberIn(value.substr(comma + 1), word)),
            numberIn(value.substr(0, at), word)};
}

}  // namespace

PassReading readingOf(const ReadingMap& corrections, const std::string& key) {
    const auto found = corrections.find(key);
    return found == corrections.end() ? PassReading{} : found->second;
}

bool saysItself(const Pass& pass) { return pass.why == kFileSaysSo; }

std::string textFromReading(const PassReading& r) {
    Json json = r.depth ? Json::parse(textFromInterpretation(*r.depth)) : Json::object();
    if (r.kind)
        json["kind"] = passKindInfo(*r.kind).id;
    if (r.normal)
        json["normal"] = {{"space", nameOf(kAxes, r.normal->axes)},
                          {"coding", nameOf(kCodings, r.normal->coding)},
                          {"green", nameOf(kGreens, r.normal->green)}};
    if (r.evened)
        json["even"] = true;
    if (r.snapped)
        json["snap"] = true;
    if (r.filled)
        json["fill"] = true;
    if (r.straight)
        json["straight"] = *r.straight;
    return json.dump();
}

std::optional<PassReading> readingFromText(const std::string& text) {
    try {
        const Json json = parseJsonIfAny(text);
        if (!json.is_object())
            return std::nullopt;
        PassReading r;
        if (json.contains("coding")) {
            r.depth = interpretationFromText(text);
            if (!r.depth)
                return std::nullopt;
        }
        if (json.contains("kind")) {
            r.kind = passKindNamed(json["kind"].get<std::string>());
            if (!r.kind)
                return std::nullopt;
        }
        if (json.contains("normal")) {
            const Json& n = json["normal"];
            r.normal =
                NormalReading{named<NormalAxes>(kAxes, n.value("space", std::string())),
                              named<NormalCoding>(kCodings, n.value("coding", std::string())),
                              named<GreenWay>(kGreens, n.value("green", std::string()))};
        }
        r.evened = json.value("even", false);
        r.snapped = json.value("snap", false);
        r.filled = json.value("fill", false);
        if (json.contains("straight"))
            r.straight = json["straight"].get<bool>();
        return r;
    } catch (const Json::exception&) {
        return std::nullopt;
    }
}

Interpretation readingThrough(const Image& stored, const Interpretation& coding,
                              const KnownDistance& one, const KnownDistance& other) {
    const double a = static_cast<double>(medianAround(stored, one));
    const double b = static_cast<double>(medianAround(stored, other));
    const auto metresA = static_cast<double>(one.metres);
    const auto metresB = static_cast<double>(other.metres);
    if (a == b)
        throw Error(ErrorCode::BadSetting,
                    "both places have the same value; click two at different distances");
    if (metresA == metresB)
        throw Error(ErrorCode::BadSetting, "the two distances must differ");
    Interpretation reading = coding;
    reading.reason.clear();
    if (coding.coding == DepthCoding::Metres) {
        // One scale for both, by least squares of the ratio.
        const double scale = 0.5 * (metresA / a + metresB / b);
        if (!(std::abs(metresA / a / scale - 1.0) < 0.1))
            throw Error(ErrorCode::BadSetting,
                        "no scale fits both distances; the values are not lengths: try normalised "
                        "or inverse");
        reading.scale = static_cast<float>(scale);
        return reading;
    }
    // depth, or 1/depth, is straight in the stored value: its ends at 0 and 1 follow.
    const bool straight = coding.coding == DepthCoding::Normalised;
    const double depthA = straight ? metresA : 1.0 / metresA;
    const double depthB = straight ? metresB : 1.0 / metresB;
    const double slope = (depthB - depthA) / (b - a);
    const double atZero = depthA - slope * a;
    const double atOne = atZero + slope;
    const auto end = [straight](double value) {
        constexpr double kBeyond = 1e7;  // 1/depth ran through nothing: endlessly far
        return static_cast<float>(straight ? value : value > 1.0 / kBeyond ? 1.0 / value : kBeyond);
    };
    reading.nearBright = metresA < metresB ? a > b : b > a;
    reading.nearDistance = end(reading.nearBright ? atOne : atZero);
    reading.farDistance = end(reading.nearBright ? atZero : atOne);
    // A far end beyond every horizon is where nothing is.
    constexpr float kNowhere = 1e5F;  // m
    if (std::isfinite(reading.backgroundFrom) || (!straight && reading.farDistance >= kNowhere))
        reading.backgroundFrom = reading.nearBright ? 0.0F : 1.0F;
    return reading;
}

ReadRequest readRequestFromText(const std::string& text) {
    const auto equals = text.find('=');
    if (equals == std::string::npos || equals == 0)
        throw Error(
            ErrorCode::BadSetting,
            fmt::format("'{}' must be PASS=WORD, such as depth=inverse,near=4@320,200", text));
    ReadRequest request;
    request.pass = text.substr(0, equals);
    Interpretation depth;
    NormalReading normal;
    bool setsNormal = false;
    for (const std::string& word : wordsOf(text.substr(equals + 1))) {
        const auto is = word.find('=');
        const std::string key = word.substr(0, is);
        const std::string value = is == std::string::npos ? std::string() : word.substr(is + 1);
        const auto setDepth = [&](auto& field, auto to) {
            field = to;
            request.setsDepth = true;
        };
        const auto setNormal = [&](auto& field, auto to) {
            field = to;
            setsNormal = true;
        };
        if (const auto coding = depthCodingNamed(key); coding && value.empty())
            setDepth(depth.coding, *coding);
        else if (key == "radial" || key == "planar")
            setDepth(depth.radial, key == "radial");
        else if (key == "bright" || key == "dark")
            setDepth(depth.nearBright, key == "bright");
        else if ((key == "near" || key == "far") && value.find('@') != std::string::npos)
            (key == "near" ? request.nearPlace : request.farPlace) = placeIn(value, word);
        else if (key == "near")
            setDepth(depth.nearDistance, numberIn(value, word));
        else if (key == "far")
            setDepth(depth.farDistance, numberIn(value, word));
        else if (key == "scale")
            setDepth(depth.scale, numberIn(value, word));
        else if (key == "background")
            setDepth(depth.backgroundFrom, numberIn(value, word));
        else if (key == "kind" && passKindNamed(value))
            request.reading.kind = passKindNamed(value);
        else if (key == "space" && (value == "camera" || value == "tangent" || value == "world"))
            setNormal(normal.axes, value == "world" ? NormalAxes::World : NormalAxes::Camera);
        else if (key == "encoded" || key == "plain")
            setNormal(normal.coding,
                      key == "encoded" ? NormalCoding::Encoded : NormalCoding::Plain);
        else if (key == "green" && (value == "up" || value == "down"))
            setNormal(normal.green, value == "up" ? GreenWay::Up : GreenWay::Down);
        else if (key == "even")
            request.reading.evened = true;
        else if (key == "snap")
            request.reading.snapped = true;
        else if (key == "fill")
            request.reading.filled = true;
        else if (key == "straight" || key == "associated")
            request.reading.straight = key == "straight";
        else
            throw Error(ErrorCode::BadSetting,
                        fmt::format("'{}' isn't a way to read {}", word, request.pass));
    }
    if (request.nearPlace.has_value() != request.farPlace.has_value())
        throw Error(ErrorCode::BadSetting, "near and far must both be given as METRES@X,Y");
    if (request.setsDepth)
        request.reading.depth = depth;
    if (setsNormal)
        request.reading.normal = normal;
    return request;
}

}  // namespace noctis
