#include "core/image/error.h"
#include "core/passes/even_steps.h"
#include "core/passes/fill_gaps.h"
#include "core/passes/pass_file.h"
#include "core/passes/snap_edges.h"
#include "support/fields.h"
#include "support/files.h"

#include <catch2/catch.hpp>

using namespace noctis;
using namespace noctis::test;

namespace {

constexpr int kWidth = 160;
constexpr int kHeight = 120;

/// A ground that runs away from 3 to 80 m, and a wall that stands askew on it at 12 m.
float depthAt(int x, int y) {
    const float ground = 3.0F / (1.0F - 0.9625F * static_cast<float>(kHeight - 1 - y) / kHeight);
    const float wall = 12.0F + 0.04F * static_cast<float>(x - 60) + 0.02F * static_cast<float>(y);
    return x > 60 && x < 110 && y > 30 && y < 95 ? std::min(ground, wall) : ground;
}

Interpretation coded(DepthCoding coding, bool bright) {
    Interpretation real;
    real.coding = coding;
    real.nearDistance = 2.0F;
    real.farDistance = 95.0F;
    real.nearBright = bright;
    return real;
}

/// As another program stores it: 8 or 16 bits, near and far unknown to the reader.
Image stored(const Interpretation& coding, int bits) {
    const float codes = bits == 8 ? 255.0F : 65535.0F;
    return filledBy(kWidth, kHeight, [&](int x, int y) {
        return std::round(std::clamp(storedFromDepth(depthAt(x, y), coding), 0.0F, 1.0F) * codes) /
               codes;
    });
}

double medianError(const Image& found) {
    std::vector<double> errors;
    for (int y = 0; y < kHeight; ++y)
        for (int x = 0; x < kWidth; ++x)
            errors.push_back(
                std::abs(static_cast<double>(found(x, y, 0)) - static_cast<double>(depthAt(x, y))));
    std::nth_element(errors.begin(),
                     errors.begin() + static_cast<std::ptrdiff_t>(errors.size() / 2), errors.end());
    return errors[errors.size() / 2] / 77.0;
}

std::string written(const Folder& folder, const std::string& name, const Image& image,
                    SampleType type) {
    FilePart part;
    part.image = image;
    part.type = type;
    writeImageFile(folder / name, {part});
    return (folder / name).string();
}

}  // namespace

TEST_CASE("two known distances settle a depth of any coding", "[passes][reading]") {
    for (const DepthCoding coding :
         {DepthCoding::Normalised, DepthCoding::Inverse, DepthCoding::Projected})
        for (const bool bright : {false, true})
            for (const int bits : {8, 16}) {
                const Interpretation real = coded(coding, bright);
                const Image file = stored(real, bits);
                Interpretation guess;  // which way round it is follows, too
                guess.coding = coding;
                const KnownDistance near{20, 100, depthAt(20, 100)};
                const KnownDistance far{20, 22, depthAt(20, 22)};
                const Interpretation settled = readingThrough(file, guess, near, far);
                INFO(describe(real) << ", " << bits << " bits: " << describe(settled));
                CHECK(settled.nearBright == bright);
                Interpretation planar = settled;
                planar.radial = false;
                const Image found = depthFromStored(file, planar, assumedCamera());
                CHECK(medianError(found) < (bits == 8 ? 0.01 : 0.001));
            }
    // Lengths in another unit.
    Image centimetres =
        filledBy(kWidth, kHeight, [](int x, int y) { return depthAt(x, y) * 100.0F; });
    const Interpretation metres = readingThrough(
        centimetres, Interpretation{}, {20, 100, depthAt(20, 100)}, {20, 22, depthAt(20, 22)});
    CHECK(metres.scale == Approx(0.01).epsilon(1e-4));
}

TEST_CASE("two places that settle nothing are refused in a sentence", "[passes][reading]") {
    const Image file = stored(coded(DepthCoding::Normalised, false), 16);
    Interpretation coding;
    coding.coding = DepthCoding::Normalised;
    CHECK_THROWS_WITH(readingThrough(file, coding, {20, 100, 4.0F}, {40, 100, 8.0F}),
                      Catch::Contains("same value"));
    CHECK_THROWS_WITH(readingThrough(file, coding, {80, 50, 4.0F}, {20, 20, 4.0F}),
                      Catch::Contains("must differ"));
    CHECK_THROWS_WITH(readingThrough(file, coding, {800, 50, 4.0F}, {20, 20, 8.0F}),
                      Catch::Contains("outside the picture"));
    CHECK_THROWS_WITH(readingThrough(file, coding, {80, 50, -4.0F}, {20, 20, 8.0F}),
                      Catch::Contains("more than 0"));
    coding.coding = DepthCoding::Metres;
    CHECK_THROWS_WITH(readingThrough(file, coding, {20, 100, 4.0F}, {20, 22, 60.0F}),
                      Catch::Contains("no scale fits"));
}

TEST_CASE("the stairs of 8 bits are evened out and no edge moves", "[passes][reading]") {
    const Folder folder;
    // The same scene at four times the size, as pictures are larger.
    constexpr int kTimes = 4;
    const Interpretation real = coded(DepthCoding::Inverse, true);
    const auto sceneAt = [](int x, int y) {
        const float across = (static_cast<float>(x) + 0.5F) / kTimes;
        const float down = (static_cast<float>(y) + 0.5F) / kTimes;
        const float ground = 3.0F / (1.0F - 0.9625F * (kHeight - down) / kHeight);
        const float wall = 12.0F + 0.04F * (across - 60.0F) + 0.02F * down;
        return across > 60.0F && across < 110.0F && down > 30.0F && down < 95.0F
                   ? std::min(ground, wall)
                   : ground;
    };
    const Image bytes = filledBy(kWidth * kTimes, kHeight * kTimes, [&](int x, int y) {
        return std::round(storedFromDepth(sceneAt(x, y), real) * 255.0F) / 255.0F;
    });
    const std::string file = written(folder, "shot_depth.png", bytes, SampleType::Byte);
    Readings readings;
    readings.passes["depth"].depth = real;
    const Image rough = readPasses({file}, readings).find(PassKind::Depth)->image;
    readings.passes["depth"].evened = true;
    const Image even = readPasses({file}, readings).find(PassKind::Depth)->image;
    // In 1/depth, which is what was stored in even steps.
    const auto error = [&](const Image& depth) {
        double sum = 0.0;
        for (int y = 0; y < depth.height(); ++y)
            for (int x = 0; x < depth.width(); ++x) {
                const double d = 1.0 / static_cast<double>(depth(x, y, 0)) -
                                 1.0 / static_cast<double>(sceneAt(x, y));
                sum += d * d;
            }
        return std::sqrt(sum);
    };
    CHECK(20.0 * std::log10(error(rough) / error(even)) > 10.0);
    const float half = 0.501F / 255.0F * (1.0F / 2.0F - 1.0F / 95.0F);
    float moved = 0.0F;
    for (int y = 0; y < even.height(); ++y)
        for (int x = 0; x < even.width(); ++x)
            moved = std::max(moved, std::abs(1.0F / even(x, y, 0) - 1.0F / rough(x, y, 0)));
    CHECK(moved <= half);
}

TEST_CASE("blended edges are snapped to one of their sides", "[passes][reading]") {
    // A card and a thin post at 2 m before a slope from 10 to 30 m, each edge blended by a filter.
    const auto scene = [](int x, int y) {
        const bool card = x > 20 && x < 60 && y > 15 && y < 45;
        return card || (x > 67 && x < 71) ? 2.0F : 10.0F + 0.25F * static_cast<float>(x);
    };
    const Image sharp = filledBy(80, 60, scene);
    for (const int reach : {1, 2, 3}) {
        const Image blended = filledBy(80, 60, [&](int x, int y) {
            float sum = 0.0F;
            for (int dy = -reach; dy <= reach; ++dy)
                for (int dx = -reach; dx <= reach; ++dx)
                    sum += scene(std::clamp(x + dx, 0, 79), std::clamp(y + dy, 0, 59));
            return sum / static_cast<float>((2 * reach + 1) * (2 * reach + 1));
        });
        const Image snapped = snappedEdges(blended);
        int mixed = 0;
        int left = 0;
        for (int y = 8; y < 52; ++y)
            for (int x = 8; x < 62; ++x) {
                const auto between = [&](const Image& image) {
                    return image(x, y, 0) > 2.3F && image(x, y, 0) < 9.5F;
                };
                mixed += between(blended) ? 1 : 0;
                left += between(snapped) ? 1 : 0;
            }
        INFO(reach << ": " << left << " of " << mixed);
        CHECK(mixed > 80 * reach);
        CHECK(left <= mixed / (reach < 3 ? 50 : 25));
    }
    // A slope without an edge stays as it is.
    CHECK(apart(snappedEdges(sharp), sharp) == 0.0);
}

TEST_CASE("edges blended with the sky are snapped to it or to the thing before it",
          "[passes][reading]") {
    // Hills from 100 to 400 m and a mast before an endless sky, stored as one over the distance and filtered.
    const auto scene = [](int x, int y) {
        if (x > 30 && x < 36 && y > 8)
            return 20.0F;
        const int crest = 24 + x / 8;
        return y < crest ? kNothingHit : 400.0F - 8.0F * static_cast<float>(y - crest);
    };
    const Image blended = filledBy(80, 60, [&](int x, int y) {
        float sum = 0.0F;
        for (int dy = -1; dy <= 1; ++dy)
            for (int dx = -1; dx <= 1; ++dx)
                sum += 1.0F / scene(std::clamp(x + dx, 0, 79), std::clamp(y + dy, 0, 59));
        return 9.0F / sum;
    });
    const auto odd = [&](const Image& image) {
        int count = 0;
        for (int y = 8; y < 52; ++y)
            for (int x = 4; x < 76; ++x) {
                const float z = image(x, y, 0);
                count += z < 19.0F || (z > 21.0F && z < 100.0F) || (z > 410.0F && std::isfinite(z))
                             ? 1
                             : 0;
            }
        return count;
    };
    INFO(odd(blended));
    CHECK(odd(blended) > 150);
    const Image snapped = snappedEdges(blended, FilteredIn::InverseDepth);
    CHECK(odd(snapped) <= odd(blended) / 40);
    // Each on the side that it shows more of: the mast stays five pixels wide.
    for (int y = 30; y < 50; ++y) {
        CHECK(snapped(31, y, 0) == Approx(20.0F).epsilon(0.01));
        CHECK(snapped(30, y, 0) > 200.0F);
        CHECK(snapped(36, y, 0) > 200.0F);
    }
}

TEST_CASE("two known distances of one over depth show where there is nothing",
          "[passes][reading]") {
    // 3 / z, whose sky is 0.
    Image stored = filledBy(40, 30, [](int, int y) {
        return y < 10 ? 0.0F : 3.0F / (200.0F / static_cast<float>(y - 9));
    });
    const Interpretation reading =
        readingThrough(stored, coded(DepthCoding::Inverse, true), {20, 28, 200.0F / 19.0F},
                       {20, 13, 200.0F / 4.0F});
    CHECK(reading.nearDistance == Approx(3.0F).epsilon(0.01));
    CHECK(std::isinf(depthFromStored(0.0F, reading)));
    CHECK(depthFromStored(stored(20, 20, 0), reading) == Approx(200.0F / 11.0F).epsilon(0.01));
}

TEST_CASE("a correction reads a pass as another kind, by its key", "[passes][reading]") {
    const Folder folder;
    Image normals = normalsBy(slopesBy(Waves{}, 60, 40)).select({0, 1, 2}, {"R", "G", "B"});
    for (int c = 0; c < 3; ++c) {
        float* plane = normals.editPlane(c);
        for (std::ptrdiff_t i = 0; i < normals.rowStride() * normals.height(); ++i)
            plane[i] = 0.5F + 0.5F * plane[i];
    }
    const std::string picture =
        written(folder, "a.png", filledBy(60, 40, [](int, int) { return 0.5F; }), SampleType::Byte);
    const std::string file = written(folder, "layer two.png", normals, SampleType::Short);
    Readings readings;
    const PassSet before = readPasses({picture, file}, readings);
    CHECK(before.find(PassKind::Normal) == nullptr);
    const std::string key = before.passes.back().key;
    readings.passes[key].kind = PassKind::Normal;
    const PassSet after = readPasses({picture, file}, readings);
    const Pass* normal = after.find(PassKind::Normal);
    REQUIRE(normal != nullptr);
    CHECK(normal->name == "normal");
    CHECK(normal->key == key);
    CHECK(normal->why.find("set by hand") != std::string::npos);
    CHECK(normal->image(10, 10, 2) > 0.3F);
    CHECK(V3f(normal->image(10, 10, 0), normal->image(10, 10, 1), normal->image(10, 10, 2))
              .length() == Approx(1.0F));
}

TEST_CASE("words in names give kinds, and the reason is kept", "[passes][reading]") {
    const Folder folder;
    const Image grey =
        filledBy(20, 10, [](int x, int) { return 0.1F + 0.04F * static_cast<float>(x); });
    for (const auto& [name, kind] : {std::pair{"shot_z.png", PassKind::Depth},
                                     {"shot.zdepth.0001.png", PassKind::Depth},
                                     {"mainZ.png", PassKind::Depth},
                                     {"heroAO_v2.png", PassKind::Occlusion},
                                     {"shot-ao.png", PassKind::Occlusion},
                                     {"shot alpha.png", PassKind::Coverage}}) {
        const PassSet set = readPasses({written(folder, name, grey, SampleType::Short)});
        INFO(name);
        REQUIRE(set.passes.size() == 1);
        CHECK(set.passes[0].kind == kind);
        CHECK(set.passes[0].why.find("from its name") != std::string::npos);
        CHECK_FALSE(set.passes[0].fileChannels.empty());
    }
    Image three(20, 10, {"R", "G", "B"}, 0.5F);
    std::fill_n(three.editPlane(2), three.rowStride() * 10, 1.0F);
    const PassSet set = readPasses({written(folder, "shot_nrm.png", three, SampleType::Short)});
    REQUIRE(set.find(PassKind::Normal) != nullptr);
    CHECK(set.find(PassKind::Normal)->image(3, 3, 2) == Approx(1.0F).margin(1e-3));
    CHECK(set.find(PassKind::Normal)->normals.has_value());
}

TEST_CASE("a missing alpha follows from depth's background", "[passes][reading]") {
    const Folder folder;
    FilePart part;
    part.image = Image(30, 20, {"R", "G", "B", "Z"}, 0.4F);
    float* z = part.image.editPlane(3);
    for (int y = 0; y < 20; ++y)
        for (int x = 0; x < 30; ++x)
            z[part.image.rowStride() * y + x] = x < 15 ? 5.0F + static_cast<float>(x) : 1e10F;
    writeImageFile(folder / "shot.exr", {part});
    const PassSet set = readPasses({folder / "shot.exr"});
    const Pass* coverage = set.find(PassKind::Coverage);
    REQUIRE(coverage != nullptr);
    CHECK(coverage->derived);
    CHECK(coverage->image(3, 3, 0) == 1.0F);
    CHECK(coverage->image(20, 3, 0) == 0.0F);
}

TEST_CASE("readings are written and read as text", "[passes][reading]") {
    PassReading reading;
    reading.kind = PassKind::Depth;
    reading.depth = coded(DepthCoding::Inverse, true);
    reading.normal = NormalReading{NormalAxes::World, NormalCoding::Encoded, GreenWay::Down};
    reading.evened = true;
    reading.filled = true;
    reading.straight = false;
    CHECK(readingFromText(textFromReading(reading)) == reading);
    CHECK(readingFromText(textFromReading({})) == PassReading{});
    // As an earlier Noctis wrote them.
    const auto old = readingFromText(R"({"coding": "normalised", "near": 1, "far": 9})");
    REQUIRE(old);
    CHECK(old->depth->farDistance == 9.0F);
    for (const char* broken :
         {"", "[]", "{\"coding\": 3}", "{\"kind\": \"cheese\"}", "{\"even\": {}}"})
        CHECK_FALSE(readingFromText(broken));
}

TEST_CASE("the command line's readings say what is meant, and what is not understood",
          "[passes][reading]") {
    const ReadRequest request =
        readRequestFromText("depth=inverse,near=4@320,200,far=60@10,20,radial,even,fill");
    CHECK(request.pass == "depth");
    CHECK(request.reading.depth->coding == DepthCoding::Inverse);
    CHECK(request.reading.depth->radial);
    CHECK(request.reading.evened);
    CHECK(request.reading.filled);
    REQUIRE(request.nearPlace);
    CHECK(request.nearPlace->metres == 4.0F);
    CHECK(request.nearPlace->x == 320);
    CHECK(request.nearPlace->y == 200);
    CHECK(request.farPlace->y == 20);
    const ReadRequest normal =
        readRequestFromText("Nrm=kind=normal,encoded,space=camera,green=down");
    CHECK(normal.reading.kind == PassKind::Normal);
    CHECK(normal.reading.normal ==
          NormalReading{NormalAxes::Camera, NormalCoding::Encoded, GreenWay::Down});
    for (const char* wrong : {"depth", "=inverse", "depth=cheese", "depth=near=x", "depth=near=4@3",
                              "depth=near=4@320,200", "depth=kind=cheese"})
        CHECK_THROWS_AS(readRequestFromText(wrong), Error);
}

TEST_CASE("readings of the command line bring foreign depth to metres", "[passes][reading]") {
    const Folder folder;
    const Interpretation real = coded(DepthCoding::Inverse, false);
    const std::string file = written(folder, "shot_depth.png", stored(real, 16), SampleType::Short);
    Readings readings;
    const PassSet set = readPassesAs({file}, readings,
                                     {"depth=inverse,near=" + std::to_string(depthAt(20, 100)) +
                                      "@20,100,far=" + std::to_string(depthAt(20, 22)) + "@20,22"});
    CHECK(medianError(set.find(PassKind::Depth)->image) < 0.001);
    CHECK(readings.passes.at("depth").depth->coding == DepthCoding::Inverse);
    CHECK_THROWS_WITH(readPassesAs({file}, readings, {"cheese=inverse"}),
                      Catch::Contains("pass cheese that these files"));
}

TEST_CASE("gaps are filled from their rims by what is around them", "[passes][reading]") {
    // Left 2 m, right 8 m, and gaps: one pixel, a block across the edge, a corner.
    Image depth = Image::filled(12, 9, 1, 2.0F);
    const auto at = [&](int x, int y) -> float& {
        return depth.editPlane(0)[depth.rowStride() * y + x];
    };
    for (int y = 0; y < 9; ++y)
        for (int x = 6; x < 12; ++x)
            at(x, y) = 8.0F;
    const Image whole = depth;
    const float nan = std::numeric_limits<float>::quiet_NaN();
    for (int y = 3; y < 7; ++y)
        for (int x = 4; x < 8; ++x)
            at(x, y) = nan;
    at(2, 2) = nan;
    at(11, 8) = nan;
    at(0, 0) = std::numeric_limits<float>::infinity();
    const Image filled = withoutGaps(depth);
    CHECK(std::isinf(filled(0, 0, 0)));
    int moved = 0;
    for (int y = 1; y < 9; ++y)
        for (int x = 0; x < 12; ++x) {
            INFO(x << ", " << y);
            // No distance between the two is made up.
            CHECK((filled(x, y, 0) == 2.0F || filled(x, y, 0) == 8.0F));
            moved += filled(x, y, 0) != whole(x, y, 0) ? 1 : 0;
        }
    CHECK(moved <= 2);
    const Image nothing = Image::filled(2, 2, 1, nan);
    CHECK(std::isnan(withoutGaps(nothing)(1, 1, 0)));
}
