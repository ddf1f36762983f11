#include "core/passes/pass_file.h"
#include "support/files.h"
#include "support/render.h"
#include "support/scenes.h"

#include <cstdint>
#include <cstring>
#include <map>

#include <OpenEXR/ImfChannelList.h>
#include <OpenEXR/ImfFrameBuffer.h>
#include <OpenEXR/ImfHeader.h>
#include <OpenEXR/ImfInputFile.h>
#include <OpenEXR/ImfInputPart.h>
#include <OpenEXR/ImfMultiPartInputFile.h>
#include <OpenEXR/ImfStringAttribute.h>
#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>

// A reader of the open Cryptomatte layout (specification 1.2), written from the specification alone and
// sharing nothing with the product: it must find every object of a file that Noctis wrote.

using namespace noctis;
using test::Folder;

namespace {

/// MurmurHash3_x86_32 with seed 0, after Austin Appleby's public domain reference.
std::uint32_t referenceHash(const std::string& key) {
    const auto* data = reinterpret_cast<const std::uint8_t*>(key.data());
    const int blocks = static_cast<int>(key.size() / 4);
    std::uint32_t h = 0;
    const auto rotate = [](std::uint32_t x, int r) { return (x << r) | (x >> (32 - r)); };
    for (int i = 0; i < blocks; ++i) {
        std::uint32_t k = 0;
        std::memcpy(&k, data + i * 4, 4);
        k *= 0xcc9e2d51U;
        k = rotate(k, 15);
        k *= 0x1b873593U;
        h ^= k;
        h = rotate(h, 13);
        h = h * 5 + 0xe6546b64U;
    }
    const std::uint8_t* tail = data + blocks * 4;
    std::uint32_t k = 0;
    switch (key.size() & 3U) {
    case 3:
        k ^= static_cast<std::uint32_t>(tail[2]) << 16U;
        [[fallthrough]];
    case 2:
        k ^= static_cast<std::uint32_t>(tail[1]) << 8U;
        [[fallthrough]];
    case 1:
        k ^= tail[0];
        k *= 0xcc9e2d51U;
        k = rotate(k, 15);
        k *= 0x1b873593U;
        h ^= k;
        break;
    default:
        break;
    }
    h ^= static_cast<std::uint32_t>(key.size());
    h ^= h >> 16U;
    h *= 0x85ebca6bU;
    h ^= h >> 13U;
    h *= 0xc2b2ae35U;
    h ^= h >> 16U;
    return h;
}

/// "To convert: if the exponent is all zeros or all ones, flip its lowest bit."
float referenceId(const std::string& name) {
    std::uint32_t bits = referenceHash(name);
    const std::uint32_t exponent = (bits >> 23U) & 0xffU;
    if (exponent == 0 || exponent == 255)
        bits ^= 1U << 23U;
    float id = 0.0F;
    std::memcpy(&id, &bits, 4);
    return id;
}

struct Matte {
    int width = 0;
    int height = 0;
    std::map<std::string, std::string> manifest;  ///< name to hexadecimal id
    std::vector<std::vector<float>> planes;       ///< id, coverage, id, coverage, ...

    [[nodiscard]] float coverage(const std::string& name, int x, int y) const {
        const float id = referenceId(name);
        const auto at = static_cast<std::size_t>(y * width + x);
        float sum = 0.0F;
        for (std::size_t rank = 0; rank + 1 < planes.size(); rank += 2)
            if (planes[rank][at] == id)
                sum += planes[rank + 1][at];
        return sum;
    }
};

/// Finds the matte of that name by its metadata and reads its ranks in order.
Matte readMatte(const std::filesystem::path& path, const std::string& wanted) {
    Imf::MultiPartInputFile file(path.c_str());
    for (int part = 0; part < file.parts(); ++part) {
        const Imf::Header& header = file.header(part);
        for (auto at = header.begin(); at != header.end(); ++at) {
            const std::string key = at.name();
            if (key.rfind("cryptomatte/", 0) != 0 || key.size() < 5 ||
                key.substr(key.size() - 5) != "/name")
                continue;
            const std::string prefix = key.substr(0, key.size() - 4);
            const auto text = [&](const std::string& field) {
                return header.typedAttribute<Imf::StringAttribute>(prefix + field).value();
            };
            if (text("name") != wanted)
                continue;
            CHECK(text("hash") == "MurmurHash3_32");
            CHECK(text("conversion") == "uint32_to_float32");
            // The key is the first seven digits of the hash of the matte's name.
            char digits[9];
            std::snprintf(digits, sizeof digits, "%08x", referenceHash(wanted));
            CHECK(prefix == "cryptomatte/" + std::string(digits).substr(0, 7) + "/");
            Matte matte;
            matte.manifest =
                nlohmann::json::parse(text("manifest")).get<std::map<std::string, std::string>>();
            const Imath::Box2i window = header.dataWindow();
            matte.width = window.max.x - window.min.x + 1;
            matte.height = window.max.y - window.min.y + 1;
            const auto count = static_cast<std::size_t>(matte.width * matte.height);
            Imf::FrameBuffer buffer;
            for (int layer = 0;; ++layer) {
                char name[64];
                std::snprintf(name, sizeof name, "%s%02d.R", wanted.c_str(), layer);
                if (header.channels().findChannel(name) == nullptr)
                    break;
                for (int c = 0; c < 4; ++c)
                    matte.planes.emplace_back(count);
            }
            std::size_t plane = 0;
            for (int layer = 0; plane < matte.planes.size(); ++layer)
                for (const char channel : {'R', 'G', 'B', 'A'}) {
                    char name[64];
                    std::snprintf(name, sizeof name, "%s%02d.%c", wanted.c_str(), layer, channel);
                    buffer.insert(
                        name, Imf::Slice(Imf::FLOAT,
                                         reinterpret_cast<char*>(matte.planes[plane++].data()),
                                         sizeof(float),
                                         sizeof(float) * static_cast<std::size_t>(matte.width)));
                }
            Imf::InputPart input(file, part);
            input.setFrameBuffer(buffer);
            input.readPixels(window.min.y, window.max.y);
            return matte;
        }
    }
    FAIL("there is no matte " << wanted);
    return {};
}

/// Boards side by side, with names that are hard to keep.
Scene manyBoards(const std::vector<std::string>& names) {
    Scene scene;
    for (std::size_t i = 0; i < names.size(); ++i) {
        const float x = static_cast<float>(i) - static_cast<float>(names.size()) / 2.0F;
        test::addQuad(scene, names[i], V3f(x, -1, -6), V3f(x + 0.9F, -1, -6), V3f(x + 0.9F, 1, -6),
                      V3f(x, 1, -6));
        scene.groups.push_back(i % 2 == 0 ? "even" : "odd");
    }
    return scene;
}

}  // namespace

TEST_CASE("an independent reader of the open layout finds every object where it is",
          "[passes][matte][truth]") {
    const std::vector<std::string> names{"crate", "crate 2", "Lämpchen", "a", "ab", "abc", "abcd"};
    const Scene scene = manyBoards(names);
    const View view{"front", lookingAt(V3f(0, 0, 2), V3f(0, 0, -6), 0.9F)};
    const Folder folder;
    const PassSet set = test::rendered(scene, view, {"objects", "materials", "groups", "position"},
                                       {.width = 96, .height = 48});
    writePasses(folder / "m.exr", set);
    const Matte matte = readMatte(folder / "m.exr", "objects");
    REQUIRE(matte.width == 96);
    CHECK(matte.planes.size() >= 6 * 2 - 2);
    for (const std::string& name : names) {
        REQUIRE(matte.manifest.contains(name));
        char digits[9];
        std::uint32_t bits = 0;
        const float id = referenceId(name);
        std::memcpy(&bits, &id, 4);
        std::snprintf(digits, sizeof digits, "%08x", bits);
        CHECK(matte.manifest.at(name) == digits);
    }
    // Where the position pass says a board is, its matte covers the pixel.
    int found = 0;
    for (int y = 2; y < 46; ++y)
        for (int x = 2; x < 94; ++x) {
            const Image& position = test::imageOf(set, "position");
            const float place = position(x, y, 0) + static_cast<float>(names.size()) / 2.0F;
            const float within = place - std::floor(place);
            if (position(x, y, 2) == 0.0F || within < 0.15F || within > 0.75F ||
                std::abs(position(x, y, 1)) > 0.8F)
                continue;
            const std::string& name = names.at(static_cast<std::size_t>(place));
            REQUIRE(matte.coverage(name, x, y) == Approx(1.0F));
            ++found;
        }
    CHECK(found > 200);
}

TEST_CASE("groups and materials are in the open layout, too", "[passes][matte]") {
    const Scene scene = manyBoards({"one", "two", "three"});
    const View view{"front", lookingAt(V3f(0, 0, 2), V3f(0, 0, -6), 0.9F)};
    const Folder folder;
    writePasses(folder / "m.exr", test::rendered(scene, view, {"materials", "groups"}, {}));
    const Matte groups = readMatte(folder / "m.exr", "groups");
    CHECK(groups.manifest.size() == 2);
    const Matte materials = readMatte(folder / "m.exr", "materials");
    double even = 0.0;
    double all = 0.0;
    for (int y = 0; y < groups.height; ++y)
        for (int x = 0; x < groups.width; ++x) {
            even += static_cast<double>(groups.coverage("even", x, y));
            all += static_cast<double>(materials.coverage("grey", x, y));
        }
    CHECK(even / all == Approx(2.0 / 3.0).margin(0.03));
}

TEST_CASE("a matte with few ranks keeps the largest parts", "[passes][matte]") {
    const Scene scene = manyBoards({"one", "two", "three", "four", "five", "six"});
    const View far{"front", lookingAt(V3f(0, 0, 120), V3f(0, 0, -6), 0.9F)};
    const PassSet few = test::rendered(
        scene, far, {"objects"},
        {.width = 4, .height = 4, .settings = {"objects.ranks=2", "objects.samples=4096"}});
    const Image& image = few.passes[0].image;
    CHECK(image.channels() == 4);
    for (int y = 0; y < 4; ++y)
        for (int x = 0; x < 4; ++x)
            CHECK(image(x, y, 1) >= image(x, y, 3));
}
