#include "core/passes/pass_file.h"

#include "core/image/error.h"
#include "core/passes/diagnosis.h"
#include "core/passes/matte.h"
#include "core/passes/probe.h"
#include "support/files.h"

#include <algorithm>
#include <bit>
#include <cmath>

#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>

using namespace noctis;
using test::Folder;
using test::ramp;
using test::sameBits;

namespace {

Pass pass(PassKind kind, Image image) {
    Pass p;
    p.name = passKindInfo(kind).id;
    p.kind = kind;
    p.image = std::move(image);
    return p;
}

/// A ground of depths from 2 to 60 m with a sky.
Image groundDepth(int width, int height) {
    Image depth(width, height, {"Z"});
    float* plane = depth.editPlane(0);
    for (int y = 0; y < height; ++y)
        for (int x = 0; x < width; ++x)
            plane[depth.rowStride() * y + x] =
                y < height / 4 ? kNothingHit
                               : 2.0F + 58.0F * static_cast<float>(height - 1 - y) /
                                            static_cast<float>(height);
    return depth;
}

PassSet frame() {
    PassSet set;
    set.camera = lookingAt(V3f(1, 2, 3), V3f(0, 1, -5), 0.7F);
    set.view = "quay";
    set.put(pass(PassKind::Beauty, ramp(24, 18, {"R", "G", "B"})));
    set.put(pass(PassKind::Depth, groundDepth(24, 18)));
    set.put(pass(PassKind::Normal, ramp(24, 18, {"X", "Y", "Z"})));
    set.put(pass(PassKind::Occlusion, Image(24, 18, {"Y"}, 0.5F)));
    set.passes.back().image.editPlane(0)[3] = 0.25F;
    set.passes.back().settings = {{"reach", "2"}, {"samples", "64"}};
    return set;
}

}  // namespace

TEST_CASE("passes written read back with values, settings, view and camera, in both layouts",
          "[passes][files]") {
    const Folder folder;
    const PassSet set = frame();
    for (const PassLayout layout : {PassLayout::PartPerPass, PassLayout::OnePart}) {
        writePasses(folder / "p.exr", set, {.layout = layout});
        const PassSet back = readPasses({folder / "p.exr"});
        CHECK(back.view == "quay");
        REQUIRE(back.camera);
        CHECK_FALSE(back.cameraBefore);
        CHECK_FALSE(back.cameraAfter);
        CHECK(back.camera->cameraToWorld.equalWithAbsError(set.camera->cameraToWorld, 1e-4F));
        for (const Pass& p : set.passes) {
            const Pass* found = back.find(p.kind);
            REQUIRE(found != nullptr);
            CHECK(sameBits(found->image, p.image));
            CHECK(found->warnings.empty());
        }
        CHECK(back.find(PassKind::Occlusion)->settings.at("reach") == "2");

        const PassSet listed = readPassesWithoutPixels({folder / "p.exr"});
        CHECK(listed.view == "quay");
        CHECK(listed.width == 24);
        CHECK(listed.height == 18);
        REQUIRE(listed.camera);
        CHECK(*listed.camera == *back.camera);
        REQUIRE(listed.passes.size() == back.passes.size());
        for (std::size_t i = 0; i < listed.passes.size(); ++i) {
            CHECK(listed.passes[i].name == back.passes[i].name);
            CHECK(listed.passes[i].kind == back.passes[i].kind);
            CHECK(listed.passes[i].settings == back.passes[i].settings);
            CHECK(listed.passes[i].image.empty());
        }
    }
}

TEST_CASE("channel names follow the format's custom", "[passes][files]") {
    const Folder folder;
    writePasses(folder / "p.exr", frame());
    std::vector<std::string> names;
    for (const FileChannel& channel : readFileInfo(folder / "p.exr").channels)
        names.push_back(channel.name);
    for (const char* name : {"R", "Z", "normal.X", "occlusion.Y"})
        CHECK(std::find(names.begin(), names.end(), name) != names.end());
}

TEST_CASE("depth in 8- and 16-bit files reads back to metres", "[passes][files]") {
    const Folder folder;
    const PassSet set = frame();
    const Pass& depth = *set.find(PassKind::Depth);
    for (const auto& [name, type, error] : {std::tuple("d.png", SampleType::Short, 58.0 / 65534),
                                            std::tuple("d8.tif", SampleType::Byte, 58.0 / 254)}) {
        writePass(folder / name, set, depth, type);
        CHECK(std::filesystem::exists((folder / name).string() + ".json"));
        const PassSet back = readPasses({folder / name});
        REQUIRE(back.find(PassKind::Depth) != nullptr);
        const Image& image = back.find(PassKind::Depth)->image;
        CHECK(image(3, 0, 0) == kNothingHit);
        for (int y = 5; y < 18; ++y)
            CHECK(image(3, y, 0) == Approx(depth.image(3, y, 0)).margin(error));
    }
}

TEST_CASE("a sidecar is enough where the metadata was lost", "[passes][files]") {
    const Folder folder;
    const PassSet set = frame();
    writePass(folder / "d.png", set, *set.find(PassKind::Depth), SampleType::Short);
    const FileInfo info = readFileInfo(folder / "d.png");
    Image stored = readFileChannels(info, {0});
    writeImageFile(folder / "d.png", {{"d", "", stored, SampleType::Short, {}, Compression::Zip}});
    const PassSet back = readPasses({folder / "d.png"});
    REQUIRE(back.find(PassKind::Depth) != nullptr);
    CHECK(back.find(PassKind::Depth)->image(3, 17, 0) == Approx(2.0F).margin(0.01));
}

TEST_CASE("normals in integer files read back within a step", "[passes][files]") {
    const Folder folder;
    PassSet set;
    set.put(pass(PassKind::Normal, Image(4, 4, {"X", "Y", "Z"}, -0.5F)));
    set.passes[0].image.editPlane(1)[0] = 1.0F;
    writePass(folder / "n.png", set, set.passes[0], SampleType::Short);
    const PassSet back = readPasses({folder / "n.png"});
    REQUIRE(back.find(PassKind::Normal) != nullptr);
    CHECK(back.find(PassKind::Normal)->image(0, 0, 1) == Approx(1.0F).margin(1e-4));
    CHECK(back.find(PassKind::Normal)->image(2, 2, 0) == Approx(-0.5F).margin(1e-4));
}

TEST_CASE("the layers of a foreign file are recognised by their names", "[passes][files]") {
    const Folder folder;
    const std::vector<std::pair<std::string, PassKind>> layers{
        {"shot.composite", PassKind::Beauty},
        {"shot.normals", PassKind::Normal},
        {"shot.occlusion", PassKind::Occlusion},
        {"shot.depth", PassKind::Depth},
        {"shot.glow", PassKind::Colour}};
    FilePart part{"x", "", {}, SampleType::Float, {}, Compression::Zip};
    for (const auto& [name, kind] : layers) {
        const bool single = kind == PassKind::Depth || kind == PassKind::Occlusion;
        Image image =
            single
                ? groundDepth(16, 16).select({0}, {name + (kind == PassKind::Depth ? ".Z" : ".Y")})
                : ramp(16, 16, {name + ".R", name + ".G", name + ".B"});
        part.image.append(image);
    }
    writeImageFile(folder / "foreign.exr", {part});
    const PassSet set = readPasses({folder / "foreign.exr"});
    for (const auto& [name, kind] : layers) {
        const Pass* found = set.find(std::string_view(name));
        REQUIRE(found != nullptr);
        CHECK(found->kind == kind);
    }
}

TEST_CASE("8-bit pictures come in as sRGB and EXR as linear", "[passes][files]") {
    const Folder folder;
    writeImageFile(
        folder / "beauty.png",
        {{"a", "", Image(4, 4, {"R", "G", "B"}, 0.5F), SampleType::Byte, {}, Compression::Zip}});
    writeImageFile(
        folder / "beauty.exr",
        {{"a", "", Image(4, 4, {"R", "G", "B"}, 0.5F), SampleType::Half, {}, Compression::Zip}});
    CHECK(readPasses({folder / "beauty.png"}).passes[0].image(0, 0, 0) ==
          Approx(0.2158F).margin(0.002));
    CHECK(readPasses({folder / "beauty.exr"}).passes[0].image(0, 0, 0) == 0.5F);
}

TEST_CASE("a file of another shape is left out with a warning", "[passes][files]") {
    const Folder folder;
    writeImageFile(
        folder / "a.exr",
        {{"a", "", ramp(8, 8, {"R", "G", "B"}), SampleType::Half, {}, Compression::Zip}});
    writeImageFile(folder / "depth.exr",
                   {{"a", "", ramp(9, 8, {"Z"}), SampleType::Float, {}, Compression::Zip}});
    const PassSet set = readPasses({folder / "a.exr", folder / "depth.exr"});
    CHECK(set.passes.size() == 1);
    REQUIRE(set.warnings.size() == 1);
    CHECK(set.warnings[0].find("9 x 8") != std::string::npos);
}

TEST_CASE(
    "a file of the picture's shape is scaled to its size: data by whole samples, with a warning",
    "[passes][files]") {
    const Folder folder;
    // Depth has half the size, and comes first; the picture says how large the frame is.
    Image depth(20, 10, {"Z"});
    float* z = depth.editPlane(0);
    for (int y = 0; y < 10; ++y)
        for (int x = 0; x < 20; ++x)
            z[depth.rowStride() * y + x] = x < 10 ? 2.0F : 50.0F;
    writeImageFile(folder / "a_depth.exr",
                   {{"a", "", depth, SampleType::Float, {}, Compression::Zip}});
    writeImageFile(
        folder / "picture.exr",
        {{"a", "", Image(41, 20, {"R", "G", "B"}, 0.5F), SampleType::Half, {}, Compression::Zip}});
    const PassSet set = readPasses({folder / "a_depth.exr", folder / "picture.exr"});
    CHECK(set.width == 41);
    CHECK(set.height == 20);
    const Pass* scaled = set.find(PassKind::Depth);
    REQUIRE(scaled != nullptr);
    REQUIRE(scaled->image.width() == 41);
    for (int x = 0; x < 41; ++x)
        CHECK(scaled->image(x, 19, 0) == (x < 20 ? 2.0F : 50.0F));
    REQUIRE(scaled->warnings.size() == 1);
    CHECK(scaled->warnings[0].find("20 x 10") != std::string::npos);
    CHECK(set.find(PassKind::Beauty)->warnings.empty());
}

TEST_CASE("of two depths the one with sharp edges is used", "[passes][files]") {
    const Folder folder;
    Image both(60, 40, {"soft.Z", "sharp.Z", "R", "G", "B"}, 0.5F);
    float* soft = both.editPlane(0);
    float* sharp = both.editPlane(1);
    for (int y = 0; y < 40; ++y)
        for (int x = 0; x < 60; ++x) {
            const int phase = x % 10;
            const std::ptrdiff_t at = both.rowStride() * y + x;
            sharp[at] = phase < 5 ? 3.0F : 30.0F;
            soft[at] = phase == 4 || phase == 9 ? 16.0F : sharp[at];
        }
    writeImageFile(folder / "all.exr", {{"a", "", both, SampleType::Float, {}, Compression::Zip}});
    const PassSet set = readPasses({folder / "all.exr"});
    REQUIRE(set.find(PassKind::Depth) != nullptr);
    CHECK(set.find(PassKind::Depth)->name == "sharp");
    CHECK(set.find(PassKind::Depth)->why == "its channel is Z");
    CHECK(std::count_if(set.passes.begin(), set.passes.end(),
                        [](const Pass& pass) { return pass.kind == PassKind::Depth; }) == 2);
}

TEST_CASE("a corrected reading is used instead of the guess, and can be changed again",
          "[passes][files]") {
    const Folder folder;
    Image grey(4, 4, {"Z"}, 0.25F);
    grey.editPlane(0)[0] = 0.5F;
    writeImageFile(folder / "depth.exr",
                   {{"a", "", grey, SampleType::Float, {}, Compression::Zip}});
    Interpretation stated;
    stated.coding = DepthCoding::Normalised;
    stated.nearDistance = 10.0F;
    stated.farDistance = 30.0F;
    PassSet set =
        readPasses({folder / "depth.exr"}, {.passes = {{"depth", PassReading{.depth = stated}}}});
    Pass* depth = set.find(std::string_view("depth"));
    REQUIRE(depth != nullptr);
    CHECK(depth->image(2, 2, 0) == 15.0F);
    stated.nearBright = true;
    reinterpret(*depth, stated, assumedCamera());
    CHECK(depth->image(2, 2, 0) == 25.0F);
}

TEST_CASE("integers that another program made of a pass of ours are read as a stranger's",
          "[passes][files]") {
    const Folder folder;
    Image grey(4, 4, {"Y"}, 0.25F);
    grey.editPlane(0)[0] = 0.5F;
    writeImageFile(folder / "shot_z.png",
                   {{"z", "", grey, SampleType::Byte, {}, Compression::Zip}});
    folder.write("shot_z.png.json", R"({"noctis.kind":"depth","noctis.unit":"m"})");
    const PassSet set = readPasses({folder / "shot_z.png"});
    const Pass* depth = set.find(PassKind::Depth);
    REQUIRE(depth != nullptr);
    REQUIRE(depth->interpretation);
    CHECK(depth->interpretation->coding == DepthCoding::Normalised);
    CHECK(depth->why == "from its name, shot_z");
}

TEST_CASE("banding, blended edges, constant passes and non-numbers are reported with a remedy",
          "[passes][diagnosis]") {
    const auto warningsOf = [](Image image, SampleType type) {
        Pass p = pass(PassKind::Depth, std::move(image));
        p.type = type;
        p.interpretation = Interpretation{};
        addDiagnosis(p);
        return p.warnings;
    };
    CHECK(warningsOf(ramp(8, 8, {"Z"}), SampleType::Byte).at(0).find("256 values") !=
          std::string::npos);
    CHECK(warningsOf(Image(8, 8, {"Z"}, 1.0F), SampleType::Float).at(0).find("All values are 1") !=
          std::string::npos);
    Image edges(60, 60, {"Z"});
    for (int y = 0; y < 60; ++y)
        for (int x = 0; x < 60; ++x)
            edges.editPlane(0)[edges.rowStride() * y + x] = x < 30 ? 2.0F : 20.0F;
    CHECK(warningsOf(edges, SampleType::Float).empty());
    CHECK(blendedEdgeFraction(edges) == 0.0F);
    for (int y = 0; y < 60; ++y)
        edges.editPlane(0)[edges.rowStride() * y + 30] = 11.0F;
    CHECK(warningsOf(edges, SampleType::Float).at(0).find("blended") != std::string::npos);
    CHECK(repairFor(warningsOf(edges, SampleType::Float).at(0)) == Repair::BlendedEdges);
    CHECK(repairFor(warningsOf(ramp(8, 8, {"Z"}), SampleType::Byte).at(0)) == Repair::Bands);
    CHECK_FALSE(repairFor(warningsOf(Image(8, 8, {"Z"}, 1.0F), SampleType::Float).at(0)));
    edges.editPlane(0)[5] = std::nanf("");
    CHECK(warningsOf(edges, SampleType::Float).back().find("no valid number") != std::string::npos);
    CHECK(repairFor(warningsOf(edges, SampleType::Float).back()) == Repair::Gaps);
}

TEST_CASE("distances that are far for a camera may be centimetres", "[passes][diagnosis]") {
    const Folder folder;
    Image far(40, 30, {"Z"});
    for (int y = 0; y < 30; ++y)
        for (int x = 0; x < 40; ++x)
            far.editPlane(0)[far.rowStride() * y + x] = 316.0F + 137.0F * static_cast<float>(x * y);
    writeImageFile(folder / "crag_depth.exr", {{"", "", far, SampleType::Float, {}}});
    PassSet set = readPasses({folder / "crag_depth.exr"});
    const Pass* depth = set.find(PassKind::Depth);
    REQUIRE(depth != nullptr);
    REQUIRE_FALSE(depth->warnings.empty());
    REQUIRE(repairFor(depth->warnings[0]) == Repair::Centimetres);
    Readings readings;
    readings.passes[depth->key] = withRepair({}, Repair::Centimetres, *depth);
    set = readPasses({folder / "crag_depth.exr"}, readings);
    depth = set.find(PassKind::Depth);
    CHECK(depth->image(0, 0, 0) == Approx(3.16F));
    for (const std::string& warning : depth->warnings)
        CHECK(repairFor(warning) != Repair::Centimetres);
}

TEST_CASE("a grey layer whose name says nothing is asked about, with what it looks like",
          "[passes][diagnosis]") {
    const Folder folder;
    writeImageFile(folder / "pier.png",
                   {{"", "", Image(40, 30, {"R", "G", "B"}, 0.4F), SampleType::Byte, {}}});
    const auto doubtOf = [&](const std::function<float(int, int)>& value, bool three) {
        Image grey(40, 30,
                   three ? std::vector<std::string>{"R", "G", "B"} : std::vector<std::string>{"Y"});
        for (int c = 0; c < grey.channels(); ++c)
            for (int y = 0; y < 30; ++y)
                for (int x = 0; x < 40; ++x)
                    grey.editPlane(c)[grey.rowStride() * y + x] = value(x, y);
        writeImageFile(folder / "pier_k7.png", {{"", "", grey, SampleType::Byte, {}}});
        const PassSet set = readPasses({folder / "pier.png", folder / "pier_k7.png"});
        for (const Pass& pass : set.passes)
            if (pass.file.filename() == "pier_k7.png" && !pass.warnings.empty())
                return repairFor(pass.warnings.front());
        return std::optional<Repair>();
    };
    for (const bool three : {false, true}) {
        CHECK(doubtOf([](int, int y) { return 0.1F + 0.028F * static_cast<float>(y); }, three) ==
              Repair::IsDepth);
        CHECK(doubtOf([](int x, int y) { return (x + y) % 11 == 0 ? 0.3F : 0.9F; }, three) ==
              Repair::IsOcclusion);
        CHECK(doubtOf([](int x, int) { return x % 20 < 10 ? 0.0F : 1.0F; }, three) ==
              Repair::IsCoverage);
    }
    // What has a name, or stands alone, isn't asked about.
    writeImageFile(folder / "pier_depth.png",
                   {{"", "", Image(40, 30, {"Y"}, 0.4F), SampleType::Byte, {}}});
    for (const Pass& pass : readPasses({folder / "pier.png", folder / "pier_depth.png"}).passes)
        for (const std::string& warning : pass.warnings)
            CHECK(repairFor(warning) != Repair::IsDepth);
    for (const Pass& pass : readPasses({folder / "pier_k7.png"}).passes)
        CHECK(pass.warnings.empty());
}

TEST_CASE("position, distance and mist are derived from depth as they were measured",
          "[passes][derive]") {
    PassSet set = frame();
    const Pass distance = resolvePass(set, PassKind::Distance);
    const Pass position = resolvePass(set, PassKind::Position);
    CHECK(distance.derived);
    for (const auto& [x, y] : {std::pair(0, 17), std::pair(12, 9), std::pair(23, 6)}) {
        const CameraRay ray = cameraRay(*set.camera, static_cast<float>(x) + 0.5F,
                                        static_cast<float>(y) + 0.5F, 24, 18);
        const float d = distance.image(x, y, 0);
        CHECK(d * ray.planarPerDistance ==
              Approx(set.find(PassKind::Depth)->image(x, y, 0)).epsilon(1e-5));
        const V3f p = ray.origin + ray.direction * d;
        CHECK(position.image(x, y, 0) == Approx(p.x).margin(1e-4));
        CHECK(position.image(x, y, 1) == Approx(p.y).margin(1e-4));
    }
    CHECK(distance.image(0, 0, 0) == kNothingHit);
    CHECK(position.image(0, 0, 2) == 0.0F);
    CHECK(resolvePass(set, PassKind::Mist).image(0, 0, 0) == 1.0F);
    CHECK_THROWS_AS(resolvePass(PassSet{}, PassKind::Distance), Error);
}

TEST_CASE("mist runs from where it begins to where it is full, half where it is half",
          "[passes][derive]") {
    CHECK(mistAt(5.0F, {5.0F, 10.0F, 15.0F}) == 0.0F);
    CHECK(mistAt(10.0F, {5.0F, 10.0F, 15.0F}) == Approx(0.5F));
    CHECK(mistAt(7.5F, {5.0F, 10.0F, 15.0F}) == Approx(0.25F));
    CHECK(mistAt(8.0F, {5.0F, 8.0F, 15.0F}) == Approx(0.5F));
    CHECK(mistAt(15.0F, {5.0F, 14.0F, 15.0F}) == 1.0F);
    CHECK(mistAt(kNothingHit, {5.0F, 10.0F, 15.0F}) == 1.0F);
}

TEST_CASE("matte ids are the open layout's", "[passes][matte]") {
    CHECK(murmurHash3("") == 0U);
    CHECK(murmurHash3("hello") == 0x248bfa47U);
    CHECK(murmurHash3("hello, world") == 0x149bbb7fU);
    CHECK(murmurHash3("The quick brown fox jumps over the lazy dog") == 0x2e4ff723U);
    for (const char* name : {"", "crate 1", "water", "rope"})
        CHECK(std::isfinite(std::bit_cast<float>(matteId(name))));
}

TEST_CASE("mattes read back with their names, whatever the order of channels in the file",
          "[passes][matte]") {
    const Folder folder;
    PassSet set;
    Pass matte = pass(PassKind::Objects, Image(6, 4, matteChannels("objects", 4)));
    matte.manifest = matteManifest({"crate", "water"});
    for (int x = 0; x < 6; ++x) {
        matte.image.editPlane(0)[x] = std::bit_cast<float>(matteId(x < 3 ? "crate" : "water"));
        matte.image.editPlane(1)[x] = 0.75F;
        matte.image.editPlane(2)[x] = std::bit_cast<float>(matteId(x < 3 ? "water" : "crate"));
        matte.image.editPlane(3)[x] = 0.25F;
    }
    set.put(matte);
    writePasses(folder / "m.exr", set);
    const PassSet back = readPasses({folder / "m.exr"});
    const Pass* found = back.find(PassKind::Objects);
    REQUIRE(found != nullptr);
    CHECK(sameBits(found->image, matte.image));
    CHECK(matteNameAt(*found, 1, 0) == "crate");
    CHECK(matteNameAt(*found, 5, 0) == "water");
    CHECK(matteNameAt(*found, 1, 2).empty());
    CHECK(matteOf(*found, "crate")(4, 0, 0) == 0.25F);
}

TEST_CASE("a probe shows values and what they mean", "[passes][probe]") {
    PassSet set;
    set.put(pass(PassKind::Depth, Image(2, 2, {"Z"}, 12.46F)));
    set.put(pass(PassKind::Normal, Image(2, 2, {"X", "Y", "Z"}, 0.0F)));
    set.passes[1].image.editPlane(0)[0] = -1.0F;
    set.put(pass(PassKind::Occlusion, Image(2, 2, {"Y"}, 0.62F)));
    const std::vector<ProbedValue> readings = probeAt(set, 0, 0);
    CHECK(readings[0].meaning == "12.46 m deep");
    CHECK(readings[1].meaning == "faces west");
    CHECK(readings[2].meaning == "62 % open");
    CHECK(readings[0].unit == "m");
    CHECK_THROWS_AS(probeAt(set, 2, 0), Error);
    CHECK_THROWS_AS(probeAt(set, 0, -1), Error);
}

TEST_CASE("each pass may go into a folder of its name", "[passes][files]") {
    const Folder folder;
    PassSet set;
    for (const char* name : {"beauty", "depth", "shadow.a/b"}) {
        Pass pass;
        pass.name = name;
        pass.kind = passNamed(name)->kind;
        pass.image = Image(3, 2, passKindInfo(pass.kind).channels, 0.25F);
        set.put(std::move(pass));
    }
    writePasses(folder / "f.0007.exr", set, {.layout = PassLayout::FolderPerPass});
    CHECK(!std::filesystem::exists(folder / "f.0007.exr"));
    const PassSet back =
        readPasses({folder / "beauty" / "f.0007.exr", folder / "depth" / "f.0007.exr",
                    folder / "shadow.a_b" / "f.0007.exr"});
    REQUIRE(back.passes.size() == 3);
    CHECK(back.find(PassKind::Depth)->image(2, 1, 0) == 0.25F);
    CHECK(back.find("shadow.a/b") != nullptr);
}

TEST_CASE("a frame without a camera can be given its angle of view", "[passes][files]") {
    const Folder folder;
    writeImageFile(folder / "distance.exr",
                   {{"", "", Image::filled(64, 64, 1, 10.0F), SampleType::Float, {}}});
    Interpretation radial;
    radial.radial = true;
    const auto depthAtCorner = [&](float degrees) {
        const PassSet set = readPasses({folder / "distance.exr"},
                                       {.passes = {{"distance", PassReading{.depth = radial}},
                                                   {"depth", PassReading{.depth = radial}}},
                                        .yfovRadians = degrees * 3.14159265F / 180.0F});
        return resolvePass(set, PassKind::Depth).image(0, 0, 0);
    };
    for (const float degrees : {20.0F, 90.0F}) {
        const float slope = std::tan(degrees * 3.14159265F / 360.0F) * 63.0F / 64.0F;
        CHECK(depthAtCorner(degrees) ==
              Approx(10.0F / std::sqrt(1.0F + 2.0F * slope * slope)).epsilon(1e-4));
    }
}
