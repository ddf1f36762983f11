#include "core/passes/matte.h"
#include "core/tracer/curvature.h"
#include "core/tracer/pass_state.h"
#include "support/files.h"
#include "support/render.h"
#include "support/scenes.h"

#include <bit>
#include <cmath>

#include <catch2/catch.hpp>

using namespace noctis;
using test::imageOf;
using test::looking;
using test::rendered;

namespace {

Scene ballScene(float radius, int rings = 160) {
    Scene scene;
    test::addBall(scene, "ball", V3f(0, 0, 0), radius, rings);
    return scene;
}

/// A quad facing +Z with its texture turned by an angle and, if asked, mirrored.
Scene texturedQuad(float turn, bool mirrored) {
    Scene scene;
    test::addQuad(scene, "board", V3f(-1, -1, 0), V3f(1, -1, 0), V3f(1, 1, 0), V3f(-1, 1, 0));
    Mesh& mesh = scene.meshes.back();
    const V3f tangent(std::cos(turn), std::sin(turn), 0.0F);
    for (const V3f& p : mesh.positions) {
        const V3f across = V3f(0, 0, 1).cross(tangent) * (mirrored ? -1.0F : 1.0F);
        mesh.texture.emplace_back(p.dot(tangent), p.dot(across));
        mesh.normals.emplace_back(0.0F, 0.0F, 1.0F);
        mesh.tangents.push_back(tangent);
        mesh.handedness.push_back(mirrored ? -1.0F : 1.0F);
    }
    scene.materials[0].normalTexture = 0;
    Texture texture;
    texture.image = Image(2, 2, {"R", "G", "B"});
    const V3f bent = V3f(0.3F, 0.2F, 1.0F).normalized();
    for (int c = 0; c < 3; ++c)
        std::fill_n(texture.image.editPlane(c), texture.image.rowStride() * 2,
                    0.5F + 0.5F * bent[c]);
    scene.textures.push_back(texture);
    return scene;
}

}  // namespace

TEST_CASE("a sphere's curvature is one over its radius", "[tracer][truth][curvature]") {
    for (const float radius : {0.5F, 2.0F}) {
        const PassSet set =
            rendered(ballScene(radius), looking(V3f(0, 0, 6 * radius), V3f(0.0F)), {"curvature"},
                     {.settings = {fmt::format("curvature.reach={}", 0.25F * radius)}});
        for (const auto& [x, y] : {std::pair(24, 24), std::pair(20, 28), std::pair(28, 19)})
            CHECK(imageOf(set, "curvature")(x, y, 0) == Approx(1.0F / radius).epsilon(0.01));
        CHECK(imageOf(set, "curvature")(0, 0, 0) == 0.0F);
    }
}

TEST_CASE("a ball seen from within bends in, a plane not at all, an edge up to the reach",
          "[tracer][curvature]") {
    const PassSet inside = rendered(ballScene(2.0F), looking(V3f(0, 0, 0), V3f(0, 0, -1)),
                                    {"curvature"}, {.settings = {"curvature.reach=0.2"}});
    CHECK(imageOf(inside, "curvature")(24, 24, 0) == Approx(-0.5F).epsilon(0.01));
    Scene ground;
    test::addGround(ground, 10.0F);
    const Accelerator plane(ground);
    const Hit hit = plane.intersect(V3f(0, 1, 0), V3f(0, -1, 0), 0.0F, kNothingHit);
    const Surface surface = plane.surfaceAt(hit, V3f(0, 1, 0), V3f(0, -1, 0));
    CHECK(curvatureAt(plane, surface, 0.5F, 16, 1) == Approx(0.0F).margin(1e-5));
    const Hit rim = plane.intersect(V3f(10, 1, 10), V3f(0, -1, 0), 0.0F, kNothingHit);
    if (rim.any()) {
        const Surface corner = plane.surfaceAt(rim, V3f(10, 1, 10), V3f(0, -1, 0));
        const float bent = curvatureAt(plane, corner, 0.5F, 64, 1);
        CHECK(bent > 1.0F);
        CHECK(bent <= 2.0F);
    }
}

TEST_CASE("height is counted from its level, in metres", "[tracer][truth]") {
    const PassSet set = rendered(ballScene(1.0F), looking(V3f(0, 5, 0.001F), V3f(0.0F)), {"height"},
                                 {.settings = {"height.level=-2"}});
    CHECK(imageOf(set, "height")(24, 24, 0) == Approx(3.0F).epsilon(1e-3));
    const PassSet position = rendered(ballScene(1.0F), looking(V3f(0, 5, 0.001F), V3f(0.0F)),
                                      {"position", "height"}, {.settings = {"height.level=-2"}});
    for (int x = 18; x < 30; ++x)
        CHECK(imageOf(position, "height")(x, 22, 0) ==
              Approx(imageOf(position, "position")(x, 22, 1) + 2.0F).epsilon(1e-6));
}

TEST_CASE("facing is the cosine to the viewer, and the facing normal the triangle's own",
          "[tracer][truth]") {
    const View view = looking(V3f(0, 0, 6), V3f(0.0F));
    const PassSet set =
        rendered(ballScene(1.0F, 12), view, {"facing", "normal", "facing_normal", "position"});
    int differ = 0;
    for (int y = 16; y < 32; ++y)
        for (int x = 16; x < 32; ++x) {
            const auto vectorOf = [&](const char* name) {
                const Image& image = imageOf(set, name);
                return V3f(image(x, y, 0), image(x, y, 1), image(x, y, 2));
            };
            const CameraRay ray = cameraRay(view.camera, static_cast<float>(x) + 0.5F,
                                            static_cast<float>(y) + 0.5F, 48, 48);
            if (vectorOf("normal").length() < 0.5F)
                continue;
            CHECK(imageOf(set, "facing")(x, y, 0) ==
                  Approx(-vectorOf("normal").dot(ray.direction)).margin(1e-5));
            CHECK(vectorOf("facing_normal").length() == Approx(1.0F));
            CHECK(vectorOf("normal").dot(vectorOf("facing_normal")) > 0.9F);
            differ += vectorOf("normal").dot(vectorOf("facing_normal")) < 0.9999F ? 1 : 0;
        }
    CHECK(differ > 20);  // a coarse ball is smooth in one and has facets in the other
}

TEST_CASE("tangent normals give the normal map back, and lead to the world's again",
          "[tracer][truth][normal]") {
    const V3f bent = V3f(0.3F, 0.2F, 1.0F).normalized();
    for (const float turn : {0.0F, 0.7F, 2.5F})
        for (const bool mirrored : {false, true}) {
            const Scene scene = texturedQuad(turn, mirrored);
            const View view = looking(V3f(0, 0, 4), V3f(0.0F));
            const PassSet up =
                rendered(scene, view, {"normal"}, {.settings = {"normal.space=tangent"}});
            const PassSet down =
                rendered(scene, view, {"normal"},
                         {.settings = {"normal.space=tangent", "normal.green=down"}});
            const PassSet world = rendered(scene, view, {"normal"});
            const Image& t = imageOf(up, "normal");
            CHECK(up.passes[0].space == "tangent");
            for (int c = 0; c < 3; ++c)
                CHECK(t(24, 24, c) == Approx(bent[c]).margin(2e-3));
            CHECK(imageOf(down, "normal")(24, 24, 1) == Approx(-t(24, 24, 1)));
            const V3f tangent(std::cos(turn), std::sin(turn), 0.0F);
            const V3f across = V3f(0, 0, 1).cross(tangent) * (mirrored ? -1.0F : 1.0F);
            const V3f back =
                tangent * t(24, 24, 0) + across * t(24, 24, 1) + V3f(0, 0, 1) * t(24, 24, 2);
            for (int c = 0; c < 3; ++c)
                CHECK(imageOf(world, "normal")(24, 24, c) == Approx(back[c]).margin(1e-5));
        }
}

TEST_CASE("object normals stay with the object however it is turned and stretched",
          "[tracer][truth][normal]") {
    Scene scene = ballScene(1.0F);
    const View view = looking(V3f(0, 0, 9), V3f(0.0F));
    M44f place;
    place.rotate(V3f(0.0F, 1.5707963F, 0.0F));
    scene.instances[0].toWorld = place;
    const PassSet set =
        rendered(scene, view, {"normal", "position"}, {.settings = {"normal.space=object"}});
    const M44f back = place.inverse();
    for (int x = 20; x < 28; ++x) {
        const Image& position = imageOf(set, "position");
        const V3f own = V3f(position(x, 22, 0), position(x, 22, 1), position(x, 22, 2)) * back;
        for (int c = 0; c < 3; ++c)
            CHECK(imageOf(set, "normal")(x, 22, c) == Approx(own[c]).margin(2e-3));
    }
}

TEST_CASE("texture places are the mesh's own, and their absence is reported", "[tracer]") {
    const PassSet set =
        rendered(texturedQuad(0.0F, false), looking(V3f(0, 0, 4), V3f(0.0F)), {"uv", "position"});
    for (const int x : {18, 24, 30})
        CHECK(imageOf(set, "uv")(x, 24, 0) ==
              Approx(imageOf(set, "position")(x, 24, 0)).margin(1e-5));
    CHECK(set.find(PassKind::Uv)->warnings.empty());
    const PassSet bare = rendered(ballScene(1.0F, 8), looking(V3f(0, 0, 4), V3f(0.0F)), {"uv"});
    REQUIRE(bare.passes[0].warnings.size() == 1);
    CHECK(bare.passes[0].warnings[0].find("unwrap") != std::string::npos);
    CHECK(imageOf(bare, "uv")(24, 24, 0) == 0.0F);
}

TEST_CASE("a pass shows only what it is asked to, and says what it leaves out", "[tracer]") {
    Scene scene;
    test::addGround(scene, 10.0F);
    test::addBall(scene, "near ball", V3f(0, 1, 0), 0.5F, 12);
    test::addBall(scene, "far ball", V3f(2, 1, -3), 0.5F, 12);
    const View view = looking(V3f(0, 1, 5), V3f(0, 1, 0));
    const PassSet all = rendered(scene, view, {"depth"});
    const PassSet some = rendered(scene, view, {"depth"}, {.settings = {"depth.only=near ball"}});
    CHECK(imageOf(some, "depth")(24, 24, 0) == imageOf(all, "depth")(24, 24, 0));
    CHECK(imageOf(all, "depth")(24, 46, 0) < 10.0F);
    CHECK(imageOf(some, "depth")(24, 46, 0) == kNothingHit);
    REQUIRE(some.passes[0].warnings.size() == 1);
    CHECK(some.passes[0].warnings[0].find("2 visible objects: far ball, ground") !=
          std::string::npos);
    const PassSet but = rendered(scene, view, {"depth"}, {.settings = {"depth.only=-near ball"}});
    CHECK(imageOf(but, "depth")(24, 46, 0) == imageOf(all, "depth")(24, 46, 0));
    CHECK(imageOf(but, "depth")(24, 24, 0) > imageOf(all, "depth")(24, 24, 0));
    const PassSet wrong = rendered(scene, view, {"depth"}, {.settings = {"depth.only=bal"}});
    CHECK(wrong.passes[0].warnings[0].find("no object, group or material bal") !=
          std::string::npos);
}

TEST_CASE("names choose by object, group and material", "[scene]") {
    Scene scene;
    test::addGround(scene, 1.0F);
    test::addBall(scene, "a", V3f(0.0F), 1.0F, 4);
    test::addBall(scene, "b", V3f(0.0F), 1.0F, 4);
    scene.groups = {"ground", "balls", "balls"};
    scene.materials.push_back({.name = "brass"});
    scene.meshes[2].material = 1;
    using Kept = std::vector<bool>;
    CHECK(instancesNamed(scene, "") == Kept{true, true, true});
    CHECK(instancesNamed(scene, "balls") == Kept{false, true, true});
    CHECK(instancesNamed(scene, " balls , -brass") == Kept{false, true, false});
    CHECK(instancesNamed(scene, "a,ground") == Kept{true, true, false});
    CHECK(instancesNamed(scene, "-a") == Kept{true, false, true});
    std::vector<std::string> unknown;
    CHECK(instancesNamed(scene, "c,-d,a", &unknown) == Kept{false, true, false});
    CHECK(unknown == std::vector<std::string>{"c", "d"});
}

TEST_CASE("mattes cover each pixel once, by object, material and group", "[tracer][matte]") {
    Scene scene;
    test::addGround(scene, 40.0F);
    test::addBall(scene, "a", V3f(-0.6F, 1, 0), 0.5F, 12);
    test::addBall(scene, "b", V3f(0.6F, 1, 0), 0.5F, 12);
    scene.groups = {"ground", "balls", "balls"};
    const PassSet set =
        rendered(scene, looking(V3f(0, 6, 5), V3f(0, 0.5F, 0)), {"objects", "materials", "groups"});
    for (const Pass& pass : set.passes)
        for (int y = 0; y < 48; ++y)
            for (int x = 0; x < 48; ++x) {
                float sum = 0.0F;
                for (int rank = 1; rank < pass.image.channels(); rank += 2)
                    sum += pass.image(x, y, rank);
                REQUIRE(sum == Approx(1.0F).margin(1e-5));
            }
    const Pass& groups = *set.find(PassKind::Groups);
    const Pass& objects = *set.find(PassKind::Objects);
    const Image balls = matteOf(groups, "balls");
    const Image a = matteOf(objects, "a");
    const Image b = matteOf(objects, "b");
    for (int y = 0; y < 48; ++y)
        for (int x = 0; x < 48; ++x)
            REQUIRE(balls(x, y, 0) == Approx(a(x, y, 0) + b(x, y, 0)).margin(1e-6));
    CHECK(groups.manifest.size() == 2);
}

TEST_CASE("a crop renders the same pixels and leaves the others as background", "[tracer]") {
    Scene scene;
    test::addGround(scene, 10.0F);
    RenderRequest request;
    request.view = looking(V3f(0, 2, 5), V3f(0, 0, 0));
    request.width = 96;
    request.height = 64;
    request.passes = passRequests({"beauty", "depth"}, scene);
    applyPassSetting(request.passes, "beauty.samples=3");
    const Accelerator accelerator(scene);
    const PassSet whole = renderPasses(scene, accelerator, request);
    request.crop = Tile{20, 40, 50, 60};
    const PassSet part = renderPasses(scene, accelerator, request);
    for (const char* name : {"beauty", "depth"})
        for (int y = 0; y < 64; ++y)
            for (int x = 0; x < 96; ++x) {
                const bool inside = x >= 20 && x < 50 && y >= 40 && y < 60;
                if (inside)
                    REQUIRE(imageOf(part, name)(x, y, 0) == imageOf(whole, name)(x, y, 0));
                else
                    REQUIRE(imageOf(part, name)(x, y, 0) ==
                            passKindInfo(part.find(std::string_view(name))->kind).background);
            }
}

TEST_CASE("a large frame is shown coarsely first, at its full size", "[tracer]") {
    Scene scene;
    test::addGround(scene, 10.0F);
    RenderRequest request;
    request.view = looking(V3f(0, 2, 5), V3f(0, 0, 0));
    request.width = 640;
    request.height = 360;
    request.passes = passRequests({"depth", "occlusion", "beauty"}, scene);
    for (const char* setting : {"occlusion.samples=2", "beauty.samples=2"})
        applyPassSetting(request.passes, setting);
    std::vector<PassSet> reported;
    const Accelerator accelerator(scene);
    const PassSet last =
        renderPasses(scene, accelerator, request, {},
                     {.refined = [&](const PassSet& set) { reported.push_back(set); },
                      .tileBegun = {},
                      .passBegun = {}});
    REQUIRE(reported.size() == 4);  // rough, data, 1 and 2 samples
    CHECK(reported.front().width == 640);
    const Image& coarse = imageOf(reported.front(), "depth");
    CHECK(coarse.width() == 640);
    CHECK(coarse(400, 300, 0) == coarse(401, 301, 0));
    CHECK(coarse(400, 300, 0) == Approx(imageOf(last, "depth")(400, 300, 0)).epsilon(0.05));
    CHECK(imageOf(last, "depth")(400, 300, 0) != imageOf(last, "depth")(400, 301, 0));
    // Data as they are, while light is still rough: never black.
    CHECK(imageOf(reported[1], "depth")(400, 300, 0) == imageOf(last, "depth")(400, 300, 0));
    CHECK(imageOf(reported[1], "occlusion")(400, 300, 0) ==
          imageOf(reported[0], "occlusion")(400, 300, 0));
    // Data alone are there at once.
    request.passes = {passRequest(PassKind::Depth)};
    std::size_t times = 0;
    (void)renderPasses(
        scene, accelerator, request, {},
        {.refined = [&](const PassSet&) { ++times; }, .tileBegun = {}, .passBegun = {}});
    CHECK(times == 1);
    for (const PassSet& set : reported) {
        CHECK(imageOf(set, "beauty")(400, 300, 1) > 0.0F);
        CHECK(imageOf(set, "occlusion")(400, 300, 0) > 0.0F);
    }
}

TEST_CASE("a pass is stale by what changes it and by nothing else", "[tracer][state]") {
    Scene scene;
    test::addGround(scene, 10.0F);
    const View view = looking(V3f(0, 2, 5), V3f(0, 0, 0));
    PassSet set =
        rendered(scene, view, {"depth", "occlusion"}, {.settings = {"occlusion.samples=2"}});
    WantedFrame wanted{view, 48, 48,
                       passRequests({"depth", "occlusion", "mist", "light.sky"}, scene)};
    applyPassSetting(wanted.passes, "occlusion.samples=2");
    const auto stateOf = [&](std::size_t i) { return passState(set, wanted.passes[i], wanted); };
    CHECK(stateOf(0).kind == PassState::Kind::Current);
    CHECK(stateOf(1).kind == PassState::Kind::Current);
    CHECK(stateOf(3).kind == PassState::Kind::Missing);

    applyPassSetting(wanted.passes, "mist.begins=20");  // made of depth, live
    CHECK(stateOf(2).kind == PassState::Kind::Current);

    set.find(std::string_view("occlusion"))->settings.erase("fade");  // of an older file
    CHECK(stateOf(1).kind == PassState::Kind::Current);
    applyPassSetting(wanted.passes, "occlusion.fade=1");
    CHECK(stateOf(1).kind == PassState::Kind::Stale);
    CHECK(stateOf(1).why == "Fade changed");
    CHECK(stateOf(0).kind == PassState::Kind::Current);

    wanted.view.camera = lookingAt(V3f(0, 2, 6), V3f(0, 0, 0), 0.7F);
    CHECK(stateOf(0).why == "camera moved");
    wanted.view = view;
    wanted.width = 64;
    CHECK(stateOf(0).why == "other size");
    wanted.width = 48;
    wanted.moved.locators["post"] = V3f(1, 2, 3);
    CHECK(stateOf(0).kind == PassState::Kind::Current);
}

TEST_CASE("occlusion and shadows say what they leave out and what casts nothing in them",
          "[tracer][warnings]") {
    Scene scene;
    test::addGround(scene, 10.0F);
    test::addBall(scene, "ball", V3f(0, 1, 0), 1.0F, 12);
    test::addQuad(scene, "board", V3f(-3, 0, -2), V3f(3, 0, -2), V3f(3, 2, -2), V3f(-3, 2, -2));
    const View view = looking(V3f(0, 2, 8), V3f(0, 1, 0));
    const auto warningsOf = [&](const std::string& pass, std::vector<std::string> settings) {
        if (pass == "occlusion")
            settings.push_back("occlusion.samples=1");
        const PassSet set = rendered(scene, view, {pass}, {.settings = settings});
        return set.find(std::string_view(pass))->warnings;
    };
    using Warnings = std::vector<std::string>;
    CHECK(warningsOf("occlusion", {}).empty());
    CHECK(warningsOf("occlusion", {"occlusion.on=ball"}) ==
          Warnings{"Leaves out 2 visible objects: board, ground."});
    CHECK(warningsOf("occlusion", {"occlusion.of=-ball"}) ==
          Warnings{"Nothing is cast by 1 visible object: ball."});
    CHECK(warningsOf("occlusion", {"occlusion.on=ball", "occlusion.of=bell,ground,board"}) ==
          Warnings{"Leaves out 2 visible objects: board, ground.",
                   "There is no object, group or material bell.",
                   "Nothing is cast by 1 visible object: ball."});
    CHECK(warningsOf("uv", {}).size() == 1);
}

TEST_CASE("light passes say what beauty's settings leave out", "[tracer][warnings]") {
    Scene scene;
    test::addGround(scene, 10.0F);
    test::addBall(scene, "ball", V3f(0, 1, 0), 1.0F, 12);
    const PassSet set = rendered(scene, looking(V3f(0, 2, 8), V3f(0, 1, 0)), {"beauty", "emission"},
                                 {.settings = {"beauty.samples=1", "beauty.only=ball"}});
    for (const Pass& pass : set.passes)
        CHECK(pass.warnings == std::vector<std::string>{"Leaves out 1 visible object: ground."});
}
