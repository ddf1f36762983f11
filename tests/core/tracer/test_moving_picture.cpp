#include "core/tracer/moving_picture.h"

#include "core/image/camera_move.h"
#include "core/image/psnr.h"
#include "core/tracer/ray_packets.h"
#include "support/render.h"
#include "support/scenes.h"

#include <catch2/catch.hpp>

using namespace noctis;
using test::looking;

namespace {

constexpr int kWide = 160;
constexpr int kTall = 120;
/// What a picture that moves is to keep of the converged one.
constexpr double kLeastDecibels = 24.0;

Scene lit() {
    Scene scene;
    test::addGround(scene, 30.0F);
    test::addBall(scene, "ball", V3f(0, 0.8F, 0), 0.8F, 32);
    test::addQuad(scene, "wall", V3f(-6, 0, -3), V3f(6, 0, -3), V3f(6, 4, -3), V3f(-6, 4, -3));
    Light sun;
    sun.name = "sun";
    sun.kind = LightKind::Sun;
    sun.direction = V3f(-0.5F, -0.7F, -0.4F).normalized();
    sun.angleRadians = 0.01F;
    sun.power = {1.5F, 1.4F, 1.2F};
    scene.lights.push_back(sun);
    return scene;
}

RenderRequest requestOf(const Camera& camera, PassKind kind, const std::string& setting) {
    RenderRequest request;
    request.view = {"moved", camera};
    request.width = kWide;
    request.height = kTall;
    request.passes = {passRequest(kind)};
    applyPassSetting(request.passes, setting);
    return request;
}

struct Moving {
    Scene scene = lit();
    Accelerator accelerator{scene};
    Camera still = lookingAt(V3f(1, 2.2F, 5), V3f(0, 0.9F, 0), 0.7F);
    Camera moved = orbited(still, V3f(0, 0.9F, 0), 0.2F, 0.05F);
    MovingPicture picture;

    std::optional<SeenBefore> seen(PassKind kind, const std::string& setting) {
        RenderRequest request = requestOf(still, kind, setting);
        for (const PassKind kept : keptWith(kind))
            request.passes.push_back(passRequest(kept));
        return seenBefore(renderPasses(scene, accelerator, request));
    }
};

}  // namespace

TEST_CASE("a moving picture comes near the converged one, carried over or lit anew",
          "[tracer][moving]") {
    Moving m;
    const auto before = m.seen(PassKind::Beauty, "beauty.samples=64");
    REQUIRE(before);
    const RenderRequest request = requestOf(m.moved, PassKind::Beauty, "beauty.samples=256");
    const Image truth = renderPasses(m.scene, m.accelerator, request).passes[0].image;
    const auto decibels = [&](const SeenBefore* carried) {
        return psnrOf(m.picture.draw(m.scene, m.accelerator, request, carried).passes[0].image,
                      truth);
    };
    const double carried = decibels(&*before);
    CAPTURE(carried, decibels(nullptr));
    CHECK(carried > kLeastDecibels);
    CHECK(carried > decibels(nullptr));
}

TEST_CASE("a moving occlusion is carried over, and open where nothing was seen",
          "[tracer][moving]") {
    Moving m;
    const auto before = m.seen(PassKind::Occlusion, "occlusion.samples=256");
    REQUIRE(before);
    const RenderRequest request = requestOf(m.moved, PassKind::Occlusion, "occlusion.samples=256");
    const Image truth = renderPasses(m.scene, m.accelerator, request).passes[0].image;
    const PassSet drawn = m.picture.draw(m.scene, m.accelerator, request, &*before);
    CHECK(psnrOf(drawn.passes[0].image, truth) > kLeastDecibels);
    const PassSet unseen = m.picture.draw(m.scene, m.accelerator, request, nullptr);
    CHECK(unseen.passes[0].image(kWide / 2, kTall - 5, 0) == 1.0F);
}

/// Whether a depth is one that its place or those beside it have, or lies between them.
bool isAmong(float depth, const Image& truth, int x, int y) {
    float nearest = truth(x, y, 0);
    float farthest = nearest;
    for (const auto& [dx, dy] : {std::pair{-1, 0}, {1, 0}, {0, -1}, {0, 1}})
        if (x + dx >= 0 && y + dy >= 0 && x + dx < truth.width() && y + dy < truth.height()) {
            nearest = std::min(nearest, truth(x + dx, y + dy, 0));
            farthest = std::max(farthest, truth(x + dx, y + dy, 0));
        }
    return depth >= nearest * 0.9999F && depth <= farthest * 1.0001F;
}

TEST_CASE("a moving picture measures depth, and is the same on any number of threads",
          "[tracer][moving]") {
    Moving m;
    const RenderRequest request = requestOf(m.moved, PassKind::Beauty, "beauty.samples=1");
    RenderRequest depth = request;
    depth.passes = {passRequest(PassKind::Depth)};
    const Image truth = renderPasses(m.scene, m.accelerator, depth).passes[0].image;
    std::vector<PassSet> drawn;
    for (const int threads : {1, 2, 7}) {
        const ThreadLimit limit(threads);
        drawn.push_back(m.picture.draw(m.scene, m.accelerator, request, nullptr));
    }
    int off = 0;
    for (int y = 0; y < kTall; ++y)
        for (int x = 0; x < kWide; ++x) {
            const float measured = drawn[0].find(PassKind::Depth)->image(x, y, 0);
            const bool exact =
                measured == truth(x, y, 0) || measured == Approx(truth(x, y, 0)).epsilon(1e-3);
            if (isTraced(Traced::Second, x, y))
                REQUIRE(exact);
            REQUIRE(isAmong(measured, truth, x, y));
            off += exact ? 0 : 1;
            for (int c = 0; c < 3; ++c) {
                const float value = drawn[0].passes[0].image(x, y, c);
                REQUIRE(value == drawn[1].passes[0].image(x, y, c));
                REQUIRE(value == drawn[2].passes[0].image(x, y, c));
            }
        }
    CHECK(off < kWide * kTall / 50);  // beside outlines
}

TEST_CASE("a place is found again only where the same face of it was seen", "[tracer][moving]") {
    // A level ground seen from straight above, 4 m high; its value grows to the right.
    constexpr int kSide = 64;
    Camera above = lookingAt(V3f(0, 4, 0.001F), V3f(0, 0, 0), 1.0F);
    Image position(kSide, kSide, {"X", "Y", "Z"});
    Image normal(kSide, kSide, {"X", "Y", "Z"});
    Image value(kSide, kSide, {"Y"});
    for (int y = 0; y < kSide; ++y)
        for (int x = 0; x < kSide; ++x) {
            const CameraRay ray = cameraRay(above, static_cast<float>(x) + 0.5F,
                                            static_cast<float>(y) + 0.5F, kSide, kSide);
            const V3f p = ray.origin + ray.direction * (-ray.origin.y / ray.direction.y);
            for (int c = 0; c < 3; ++c)
                position.editPlane(c)[position.rowStride() * y + x] = p[c];
            normal.editPlane(1)[normal.rowStride() * y + x] = 1.0F;
            value.editPlane(0)[value.rowStride() * y + x] = p.x;
        }
    const SeenBefore seen(above, position, normal, value);
    const V3f up(0, 1, 0);
    LinearRgb found{};
    for (const float x : {-1.0F, -0.31F, 0.0F, 0.77F, 1.5F}) {
        REQUIRE(seen.at(V3f(x, 0, 0.4F), up, found));
        CHECK(found.g == Approx(x).margin(1e-3));
        CHECK(found.r == found.b);
    }
    CHECK_FALSE(seen.at(V3f(0, 0.5F, 0), up, found));          // over it
    CHECK_FALSE(seen.at(V3f(0, 0, 0), V3f(0, -1, 0), found));  // its other side
    CHECK_FALSE(seen.at(V3f(9, 0, 0), up, found));             // beside the picture
    CHECK_FALSE(seen.at(V3f(0, 9, 0), up, found));             // behind the camera
}

TEST_CASE("rays in packets meet what they meet one by one", "[tracer][moving]") {
    Moving m;
    TileRays rays;
    raysOfTile(m.still, 50, 37, {3, 5, 50, 37}, Traced::Every, rays);
    REQUIRE(rays.rays.size() == 47 * 32);
    std::vector<Hit> hits(rays.rays.size());
    std::vector<V3f> normals(rays.rays.size());
    intersectAll(m.accelerator, rays.rays.data(), hits.size(), hits.data(), normals.data());
    std::vector<unsigned char> blocked(hits.size());
    for (PacketRay& ray : rays.rays)
        ray.to = 5.5F;
    occludedAll(m.accelerator, rays.rays.data(), hits.size(), blocked.data());
    int met = 0;
    for (std::size_t i = 0; i < hits.size(); ++i) {
        const PacketRay& ray = rays.rays[i];
        const Hit single = m.accelerator.intersect(ray.origin, ray.direction, 0.0F, kNothingHit);
        REQUIRE(hits[i].any() == single.any());
        if (single.any()) {
            REQUIRE(hits[i].distance == Approx(single.distance).epsilon(1e-4));
            const Surface surface = m.accelerator.surfaceAt(single, ray.origin, ray.direction);
            REQUIRE(normals[i].dot(surface.geometricNormal) > 0.9999F);
            ++met;
        }
        REQUIRE((blocked[i] != 0) ==
                m.accelerator.occluded(ray.origin, ray.direction, 0.0F, ray.to));
    }
    CHECK(met > 500);
}

TEST_CASE("what was seen of a matt surface is found again, of a mirror never", "[tracer][moving]") {
    // A wall 5 m off, straight on: a mirror at its left, its right as bright as it is far aside.
    constexpr int kSide = 64;
    const Camera camera = lookingAt(V3f(0, 0, 5), V3f(0, 0, 0), 1.0F);
    Image position(kSide, kSide, {"X", "Y", "Z"});
    Image normal(kSide, kSide, {"X", "Y", "Z"});
    Image light(kSide, kSide, {"R", "G", "B"}, 1.0F);
    Image matt(kSide, kSide, {"R", "G", "B"});
    const FrameRays rays(camera, kSide, kSide);
    for (int y = 0; y < kSide; ++y)
        for (int x = 0; x < kSide; ++x) {
            const CameraRay ray =
                rays.through(static_cast<float>(x) + 0.5F, static_cast<float>(y) + 0.5F);
            const V3f p = ray.origin + ray.direction * (-ray.origin.z / ray.direction.z);
            for (int c = 0; c < 3; ++c) {
                position.editPlane(c)[position.rowStride() * y + x] = p[c];
                matt.editPlane(c)[matt.rowStride() * y + x] = p.x > 0.0F ? p.x : -1.0F;
            }
            normal.editPlane(2)[normal.rowStride() * y + x] = 1.0F;
        }
    const SeenBefore seen(camera, position, normal, light, matt);
    const V3f towards(0, 0, 1);
    const float pixel = 2.0F * std::tan(0.5F) * 5.0F / kSide;
    LinearRgb found{};
    for (const float x : {0.2F, 0.5F, 1.7F}) {
        REQUIRE(seen.mattAt(V3f(x, 0.3F, 0), towards, kNothingHit, found));
        CHECK(found.g == Approx(x).margin(1e-3));
        // Too coarse for a nearer look, not for one as near.
        CHECK(seen.mattAt(V3f(x, 0.3F, 0), towards, 1.01F * pixel, found));
        CHECK_FALSE(seen.mattAt(V3f(x, 0.3F, 0), towards, 0.99F * pixel, found));
    }
    CHECK_FALSE(seen.mattAt(V3f(-0.5F, 0, 0), towards, kNothingHit, found));
    CHECK_FALSE(seen.mattAt(V3f(0, 0, 0), towards, kNothingHit, found));  // half of it a mirror
    CHECK(seen.at(V3f(-0.5F, 0, 0), towards, found));  // its matt light is known all the same
    const SeenBefore withoutColour(camera, position, normal, light);
    CHECK_FALSE(withoutColour.mattAt(V3f(0.5F, 0, 0), towards, kNothingHit, found));
}

TEST_CASE("a mirror among matt things comes near the converged picture", "[tracer][moving]") {
    Moving m;
    Material mirror = m.scene.materials.front();
    mirror.roughness = 0.02F;
    mirror.metalness = 1.0F;
    m.scene.meshes.front().material = static_cast<int>(m.scene.materials.size());  // the ground
    m.scene.materials.push_back(mirror);
    const auto before = m.seen(PassKind::Beauty, "beauty.samples=64");
    REQUIRE(before);
    const RenderRequest request = requestOf(m.moved, PassKind::Beauty, "beauty.samples=256");
    const Image truth = renderPasses(m.scene, m.accelerator, request).passes[0].image;
    const Image drawn = m.picture.draw(m.scene, m.accelerator, request, &*before).passes[0].image;
    CHECK(psnrOf(drawn, truth) > kLeastDecibels);
    // No chessboard: neighbours along a row differ no more than those two apart.
    double beside = 0.0;
    double apart = 0.0;
    for (int y = kTall - 30; y < kTall - 5; ++y)
        for (int x = 5; x < kWide - 5; ++x) {
            const double here = static_cast<double>(drawn(x, y, 1));
            beside += std::abs(here - static_cast<double>(drawn(x + 1, y, 1)));
            apart += std::abs(here - static_cast<double>(drawn(x + 2, y, 1)));
        }
    CHECK(beside < apart);
}

TEST_CASE("a sun shines on what is not quite matt, carried over or lit anew", "[tracer][moving]") {
    // Towards a sun, over a ground as rough as worn wood.
    Moving m;
    m.scene.meshes.front().material = static_cast<int>(m.scene.materials.size());
    Material worn = m.scene.materials.front();
    worn.roughness = 0.5F;
    m.scene.materials.push_back(worn);
    m.scene.lights.front().direction = V3f(0.1F, -0.8F, 1.0F).normalized();
    m.scene.lights.front().power = {6.0F, 5.6F, 4.8F};
    m.still = lookingAt(V3f(5, 1.2F, 0.5F), V3f(0, 0.4F, 0), 0.7F);
    m.moved = lookingAt(V3f(0.5F, 1.2F, 5), V3f(0, 0.4F, 0), 0.7F);
    const auto before = m.seen(PassKind::Beauty, "beauty.samples=64");
    REQUIRE(before);
    const RenderRequest request = requestOf(m.moved, PassKind::Beauty, "beauty.samples=256");
    const Image truth = renderPasses(m.scene, m.accelerator, request).passes[0].image;
    const auto brightness = [](const Image& image) {  // of the ground before the wall's shadow
        double sum = 0.0;
        for (int y = kTall - 40; y < kTall; ++y)
            for (int x = 0; x < kWide; ++x)
                sum += static_cast<double>(image(x, y, 1));
        return sum / (40 * kWide);
    };
    for (const SeenBefore* carried : {&*before, static_cast<const SeenBefore*>(nullptr)}) {
        const Image drawn =
            m.picture.draw(m.scene, m.accelerator, request, carried).passes[0].image;
        CAPTURE(carried != nullptr);
        CHECK(brightness(drawn) == Approx(brightness(truth)).epsilon(0.15));
    }
}
