#include "core/passes/pass.h"

#include "core/image/error.h"
#include "core/passes/appearance.h"
#include "core/passes/pass_file.h"
#include "core/passes/probe.h"
#include "support/files.h"

#include <set>

#include <cmath>

#include <catch2/catch.hpp>

using namespace noctis;
using test::Folder;

namespace {

/// A pass of each kind there is, with values in its range.
PassSet oneOfEach() {
    PassSet set;
    set.camera = assumedCamera();
    for (const PassKindInfo& info : passKinds()) {
        if (info.matte() || info.kind == PassKind::Colour)
            continue;
        Pass pass;
        pass.kind = info.kind;
        pass.name = nameOf({info.kind, info.subject == PassSubject::Frame ? "" : "old lamp.2"});
        pass.image = test::ramp(12, 6, info.channels);
        set.put(pass);
    }
    return set;
}

}  // namespace

TEST_CASE("every kind of pass has what files and people need of it", "[passes]") {
    std::set<std::string_view> ids;
    std::set<std::string_view> labels;
    for (const PassKindInfo& info : passKinds()) {
        INFO(info.id);
        CHECK(ids.insert(info.id).second);
        CHECK(labels.insert(info.label).second);
        CHECK_FALSE(info.meaning.empty());
        CHECK(info.meaning.back() == '.');
        CHECK(info.matte() == info.channels.empty());
        CHECK(passKindNamed(info.id) == info.kind);
        CHECK(&passKindInfo(info.kind) == &info);
    }
}

TEST_CASE("names of passes carry what they are of", "[passes]") {
    CHECK(passNamed("depth") == PassName{PassKind::Depth, ""});
    CHECK(passNamed("shadow.lantern") == PassName{PassKind::Shadow, "lantern"});
    CHECK(passNamed("light.moon.left") == PassName{PassKind::Light, "moon.left"});
    CHECK(passNamed("diffuse.direct") == PassName{PassKind::DiffuseDirect, ""});
    CHECK(passNamed("depth.lantern") == std::nullopt);
    CHECK(passNamed("shadow.") == std::nullopt);
    CHECK(passNamed("") == std::nullopt);
    CHECK(passNamed("nothing.else") == std::nullopt);
    CHECK(nameOf({PassKind::Shadow, "lantern"}) == "shadow.lantern");
    CHECK(labelOf({PassKind::Shadow, "lantern"}) == "Shadow of lantern");
    CHECK(labelOf({PassKind::BehindDepth, ""}) == "Behind, depth");
}

TEST_CASE("every kind of pass comes back from its file as it was", "[passes][files]") {
    const Folder folder;
    const PassSet set = oneOfEach();
    for (const PassLayout layout : {PassLayout::PartPerPass, PassLayout::OnePart}) {
        writePasses(folder / "all.exr", set, {.layout = layout});
        const PassSet back = readPasses({folder / "all.exr"});
        for (const Pass& pass : set.passes) {
            INFO(pass.name);
            const Pass* found = back.find(std::string_view(pass.name));
            REQUIRE(found != nullptr);
            CHECK(found->kind == pass.kind);
            REQUIRE(found->image.channels() == pass.image.channels());
            for (int c = 0; c < pass.image.channels(); ++c)
                CHECK(found->image(5, 3, c) == Approx(pass.image(5, 3, c)).epsilon(1e-3));
        }
    }
}

TEST_CASE("colours are kept exactly, or packed as half where that is asked for",
          "[passes][files]") {
    const Folder folder;
    PassSet set;
    Pass beauty;
    beauty.name = "beauty";
    beauty.kind = PassKind::Beauty;
    beauty.image = Image(4, 4, {"R", "G", "B"}, 0.1234567F);
    set.put(beauty);
    writePasses(folder / "exact.exr", set);
    writePasses(folder / "half.exr", set, {.halfColour = true});
    CHECK(readPasses({folder / "exact.exr"}).passes[0].image(1, 1, 0) == 0.1234567F);
    const PassSet halved = readPasses({folder / "half.exr"});
    CHECK(halved.passes[0].type == SampleType::Half);
    CHECK(halved.passes[0].image(1, 1, 0) == Approx(0.1234567F).epsilon(5e-4));
}

TEST_CASE("every kind of pass can be looked at, within what a screen shows", "[passes]") {
    for (const Pass& pass : oneOfEach().passes) {
        INFO(pass.name);
        const Image shown = appearanceOf(pass);
        REQUIRE(shown.channels() == 3);
        for (int c = 0; c < 3; ++c)
            for (int x = 0; x < 12; ++x) {
                CHECK(shown(x, 2, c) >= 0.0F);
                CHECK(shown(x, 2, c) <= 1.0F);
            }
    }
}

TEST_CASE("signed passes show which side of nothing they are on", "[passes]") {
    Pass pass;
    pass.kind = PassKind::Curvature;
    pass.image = Image::row({-2.0F, 0.0F, 2.0F});
    const Image shown = appearanceOf(pass);
    CHECK(shown(0, 0, 2) > shown(0, 0, 0));  // indigo below
    CHECK(shown(2, 0, 0) > shown(2, 0, 2));  // brass above
    CHECK(shown(1, 0, 0) == shown(1, 0, 2));
}

TEST_CASE("a ramp between given distances is full at both ends", "[passes]") {
    const Image depth = Image::row({1.0F, 2.0F, 8.0F, 64.0F, kNothingHit});
    const Image shown = rampPicture(depth, {2.0F, 8.0F});
    for (int c = 0; c < 3; ++c) {
        CHECK(shown(0, 0, c) == shown(1, 0, c));
        CHECK(shown(2, 0, c) == shown(3, 0, c));
        CHECK(shown(4, 0, c) < 0.1F);
    }
    CHECK(shown(1, 0, 0) > shown(2, 0, 0));
}

TEST_CASE("a few stray pixels do not stretch the automatic range", "[passes]") {
    Image depth(200, 100, {"Z"}, 10.0F);
    for (int x = 0; x < 200; ++x)
        depth.editPlane(0)[depth.rowStride() * 50 + x] = 4.0F;
    depth.editPlane(0)[0] = 0.0004F;
    depth.editPlane(0)[1] = 90000.0F;
    const DepthRange range = depthRangeOf(depth);
    CHECK(range.nearest == Approx(4.0F).epsilon(0.05));
    CHECK(range.farthest == Approx(10.0F).epsilon(0.05));
}

TEST_CASE("a probe says what the new passes mean", "[passes][probe]") {
    PassSet set;
    const auto add = [&](const std::string& name, PassKind kind, std::vector<float> values) {
        Pass pass;
        pass.name = name;
        pass.kind = kind;
        pass.image = Image(1, 1, passKindInfo(kind).channels);
        for (std::size_t c = 0; c < values.size(); ++c)
            pass.image.editPlane(static_cast<int>(c))[0] = values[c];
        set.put(pass);
    };
    add("curvature", PassKind::Curvature, {4.0F});
    add("height", PassKind::Height, {1.5F});
    add("facing", PassKind::Facing, {0.25F});
    add("shadow.lamp", PassKind::Shadow, {0.5F});
    add("behind.depth", PassKind::BehindDepth, {kNothingHit});
    add("vectors", PassKind::Vectors, {0, 0, 3.0F, -1.0F});
    const std::vector<ProbedValue> read = probeAt(set, 0, 0);
    CHECK(read[0].meaning == "bends out like a ball of 0.25 m");
    CHECK(read[0].unit == "1/m");
    CHECK(read[1].meaning == "1.50 m above the level");
    CHECK(read[2].meaning == "25 % facing");
    CHECK(read[3].meaning == "50 % lit by lamp");
    CHECK(read[4].meaning == "nothing behind");
    CHECK(read[5].meaning == "moves 3.0, -1.0 px to the next frame");
}

TEST_CASE("a smaller copy of a pass keeps its measure", "[passes]") {
    Pass depth;
    depth.kind = PassKind::Depth;
    depth.image = test::ramp(16, 8, {"Z"});
    const Pass small = shrink(depth, 4);
    CHECK(small.image.width() == 4);
    CHECK(small.image(1, 1, 0) == depth.image(6, 6, 0));  // one of the pixels, not a blend
    Pass beauty;
    beauty.kind = PassKind::Beauty;
    beauty.image = test::ramp(16, 8, {"R", "G", "B"});
    const Pass mean = shrink(beauty, 4);
    CHECK(mean.image(0, 0, 1) == Approx(1.0F + 1.5F / 16.0F + 1.5F / 64.0F).epsilon(1e-5));
}

TEST_CASE("a set keeps one size and one pass a name", "[passes]") {
    PassSet set;
    Pass pass;
    pass.name = "depth";
    pass.kind = PassKind::Depth;
    pass.image = Image(8, 4, {"Z"}, 1.0F);
    set.put(pass);
    pass.image = Image(8, 4, {"Z"}, 2.0F);
    set.put(pass);
    REQUIRE(set.passes.size() == 1);
    CHECK(set.passes[0].image(0, 0, 0) == 2.0F);
    pass.name = "other";
    pass.image = Image(4, 4, {"Z"});
    CHECK_THROWS_AS(set.put(pass), Error);
    CHECK(set.passes.size() == 1);
}

TEST_CASE("mist made of depth is the mist of its definition", "[passes][derive]") {
    Pass depth;
    depth.name = "depth";
    depth.kind = PassKind::Depth;
    depth.image = Image::row({1.0F, 10.0F, 30.0F, 100.0F, kNothingHit});
    const Pass mist = mistFromDepth(
        depth, {.begins = 10.0F, .half = 10.0F + 40.0F * std::sqrt(0.5F), .full = 50.0F});
    CHECK(mist.kind == PassKind::Mist);
    CHECK(mist.warnings.empty());
    CHECK(mist.image(0, 0, 0) == 0.0F);
    CHECK(mist.image(1, 0, 0) == 0.0F);
    CHECK(mist.image(2, 0, 0) == Approx(0.25F));
    CHECK(mist.image(3, 0, 0) == 1.0F);
    CHECK(mist.image(4, 0, 0) == 1.0F);
}
