#include "core/passes/probe.h"

#include "core/image/error.h"
#include "core/passes/derived_pixels.h"

#include <array>
#include <bit>
#include <cmath>
#include <cstdint>

#include <fmt/format.h>

namespace noctis {

namespace {

/// Directions as on a chart: -Z is north, +X east.
std::string bearing(const V3f& n) {
    static constexpr std::array<std::string_view, 8> kNames{
        "north", "north-east", "east", "south-east", "south", "south-west", "west", "north-west"};
    const float flat = std::hypot(n.x, n.z);
    if (flat < 0.1F)
        return n.y > 0.0F ? "faces up" : "faces down";
    const float turn = std::atan2(n.x, -n.z) / (2.0F * 3.14159265F);
    const auto eighth = static_cast<std::size_t>(std::lround(turn * 8.0F) + 8) % 8;
    const float up = std::atan2(n.y, flat) * 180.0F / 3.14159265F;
    std::string text = fmt::format("faces {}", kNames[eighth]);
    if (std::abs(up) >= 1.0F)
        text += fmt::format(", {:.0f}° {}", std::abs(up), up > 0.0F ? "up" : "down");
    return text;
}

std::string metres(float value) {
    if (!std::isfinite(value))
        return "nothing hit";
    return value < 100.0F ? fmt::format("{:.2f} m", value) : fmt::format("{:.0f} m", value);
}

std::string meaningOf(const Pass& pass, const std::vector<float>& v, int x, int y) {
    switch (pass.kind) {
    case PassKind::Depth:
        return std::isfinite(v[0]) ? metres(v[0]) + " deep" : metres(v[0]);
    case PassKind::Distance:
        return std::isfinite(v[0]) ? metres(v[0]) + " away" : metres(v[0]);
    case PassKind::Position:
        return fmt::format("{:.2f} m high", v[1]);
    case PassKind::Normal: {
        const V3f n(v[0], v[1], v[2]);
        if (n.length() < 0.5F)
            return "faces no direction";
        return pass.space == "world" ? bearing(n) : std::string();
    }
    case PassKind::BehindDepth:
        return std::isfinite(v[0]) ? metres(v[0]) + " deep behind" : "nothing behind";
    case PassKind::Curvature:
        return std::abs(v[0]) < 1e-3F
                   ? "flat"
                   : fmt::format("{} like a ball of {}", v[0] > 0.0F ? "bends out" : "bends in",
                                 metres(1.0F / std::abs(v[0])));
    case PassKind::Height:
        return fmt::format("{:.2f} m above the level", v[0]);
    case PassKind::Facing:
        return fmt::format("{:.0f} % facing", v[0] * 100.0F);
    case PassKind::Shadow:
        return fmt::format("{:.0f} % lit by {}", v[0] * 100.0F,
                           passNamed(pass.name).value_or(PassName{}).subject);
    case PassKind::Vectors:
        return fmt::format("moves {:.1f}, {:.1f} px to the next frame", v[2], v[3]);
    case PassKind::Occlusion:
        return fmt::format("{:.0f} % open", v[0] * 100.0F);
    case PassKind::Coverage:
        return fmt::format("{:.0f} % covered", v[0] * 100.0F);
    case PassKind::Mist:
        return fmt::format("{:.0f} % mist", v[0] * 100.0F);
    case PassKind::Objects:
    case PassKind::Materials:
    case PassKind::Groups: {
        const std::string name = matteNameAt(pass, x, y);
        return name.empty() ? "nothing" : name;
    }
    default:
        return {};
    }
}

}  // namespace

std::string matteNameAt(const Pass& matte, int x, int y) {
    if (matte.image.channels() < 2 || matte.image(x, y, 1) <= 0.0F)
        return {};
    const auto id = std::bit_cast<std::uint32_t>(matte.image(x, y, 0));
    const auto found = matte.manifest.find(fmt::format("{:08x}", id));
    return found == matte.manifest.end() ? std::string() : found->second;
}

std::vector<ProbedValue> probeAt(const PassSet& set, int x, int y) {
    if (x < 0 || y < 0 || x >= set.width || y >= set.height)
        throw Error(ErrorCode::BadSetting,
                    fmt::format("{},{} lies outside the picture of {} x {} pixels", x, y, set.width,
                                set.height));
    std::vector<ProbedValue> readings;
    for (const Pass& pass : set.passes) {
        ProbedValue reading{pass.name, pass.kind, {}, {}, std::string(passKindInfo(pass.kind).unit),
                            {}};
        for (int c = 0; c < pass.image.channels(); ++c) {
            reading.channels.push_back(pass.image.channelName(c));
            reading.value.push_back(pass.image(x, y, c));
        }
        reading.meaning = meaningOf(pass, reading.value, x, y);
        readings.push_back(std::move(reading));
    }
    return readings;
}

std::vector<ProbedValue> derivedAt(const PassSet& set, int x, int y) {
    std::vector<ProbedValue> readings;
    const auto add = [&](PassKind kind, const std::vector<float>& value) {
        const PassKindInfo& info = passKindInfo(kind);
        Pass pass;
        pass.name = info.id;
        pass.kind = kind;
        readings.push_back(
            {pass.name, kind, {}, value, std::string(info.unit), meaningOf(pass, value, x, y)});
    };
    const DerivedPixels pixels(set);
    const auto derivable = [&](PassKind kind) {
        return set.find(kind) == nullptr && canResolve(set, kind);
    };
    if (derivable(PassKind::Depth))
        add(PassKind::Depth, {pixels.depth(x, y)});
    if (derivable(PassKind::Position)) {
        const V3f place = pixels.position(x, y);
        add(PassKind::Position, {place.x, place.y, place.z});
    }
    return readings;
}

}  // namespace noctis
