#include "core/passes/matte.h"

#include <bit>

#include <fmt/format.h>

namespace noctis {

std::uint32_t murmurHash3(std::string_view text) noexcept {
    const auto byteAt = [&](std::size_t i) {
        return static_cast<std::uint32_t>(static_cast<unsigned char>(text[i]));
    };
    std::uint32_t h = 0;
    const auto mixIn = [](std::uint32_t k) { return std::rotl(k * 0xcc9e2d51U, 15) * 0x1b873593U; };
    const std::size_t whole = text.size() / 4 * 4;
    for (std::size_t i = 0; i < whole; i += 4) {
        h ^= mixIn(byteAt(i) | byteAt(i + 1) << 8U | byteAt(i + 2) << 16U | byteAt(i + 3) << 24U);
        h = std::rotl(h, 13) * 5U + 0xe6546b64U;
    }
    std::uint32_t tail = 0;
    for (std::size_t i = text.size(); i > whole; --i)
        tail = tail << 8U | byteAt(i - 1);
    if (text.size() > whole)
        h ^= mixIn(tail);
    h ^= static_cast<std::uint32_t>(text.size());
    h ^= h >> 16U;
    h *= 0x85ebca6bU;
    h ^= h >> 13U;
    h *= 0xc2b2ae35U;
    h ^= h >> 16U;
    return h;
}

std::uint32_t matteId(std::string_view name) noexcept {
    std::uint32_t id = murmurHash3(name);
    const std::uint32_t exponent = id >> 23U & 255U;
    if (exponent == 0 || exponent == 255)
        id ^= 1U << 23U;
    return id;
}

std::vector<std::string> matteChannels(std::string_view name, int ranks) {
    std::vector<std::string> channels;
    for (int layer = 0; layer < (ranks + 1) / 2; ++layer)
        for (const char channel : {'R', 'G', 'B', 'A'})
            channels.push_back(fmt::format("{}{:02}.{}", name, layer, channel));
    return channels;
}

std::map<std::string, std::string> matteManifest(const std::vector<std::string>& names) {
    std::map<std::string, std::string> manifest;
    for (const std::string& name : names)
        manifest[fmt::format("{:08x}", matteId(name))] = name;
    return manifest;
}

Image matteOf(const Pass& pass, std::string_view name) {
    const auto id = std::bit_cast<float>(matteId(name));
    Image matte(pass.image.width(), pass.image.height(), {"Y"});
    float* out = matte.editPlane(0);
    for (int rank = 0; rank + 1 < pass.image.channels(); rank += 2)
        for (int y = 0; y < matte.height(); ++y)
            for (int x = 0; x < matte.width(); ++x)
                if (pass.image(x, y, rank) == id)
                    out[matte.rowStride() * y + x] += pass.image(x, y, rank + 1);
    return matte;
}

}  // namespace noctis
