#include "core/passes/normal_reading.h"
#include "core/relief/slopes.h"
#include "support/fields.h"

#include <catch2/catch.hpp>
#include <fmt/format.h>

using namespace noctis;
using namespace noctis::test;

namespace {

template <typename Change> Image changed(const Image& normals, const Change& change) {
    Image out(normals.width(), normals.height(), {"X", "Y", "Z"});
    float* to[3] = {out.editPlane(0), out.editPlane(1), out.editPlane(2)};
    for (int y = 0; y < out.height(); ++y)
        for (int x = 0; x < out.width(); ++x) {
            const V3f n = change(V3f(normals(x, y, 0), normals(x, y, 1), normals(x, y, 2)));
            for (int c = 0; c < 3; ++c)
                to[c][out.rowStride() * y + x] = n[c];
        }
    return out;
}

/// As an 8-bit picture has them.
Image encoded(const Image& normals) {
    return changed(normals, [](const V3f& n) {
        V3f code = n * 0.5F + V3f(0.5F);
        for (int c = 0; c < 3; ++c)
            code[c] = std::round(code[c] * 255.0F) / 255.0F;
        return code;
    });
}

Image greenTurned(const Image& normals) {
    return changed(normals, [](const V3f& n) { return V3f(n.x, -n.y, n.z); });
}

/// The camera's axes as the world's, of a view from above: y up.
Image fromAbove(const Image& normals) {
    return changed(normals, [](const V3f& n) { return V3f(n.x, n.z, -n.y); });
}

/// A field of balls on the ground, looked at from a slope: normals in camera axes.
Image ballsSeen(const Camera& camera, int width, int height) {
    Image world(width, height, {"X", "Y", "Z"});
    float* to[3] = {world.editPlane(0), world.editPlane(1), world.editPlane(2)};
    for (int y = 0; y < height; ++y)
        for (int x = 0; x < width; ++x) {
            const CameraRay ray = cameraRay(camera, static_cast<float>(x) + 0.5F,
                                            static_cast<float>(y) + 0.5F, width, height);
            float nearest = ray.direction.y < 0.0F ? -ray.origin.y / ray.direction.y : kNothingHit;
            V3f normal = nearest < kNothingHit ? V3f(0.0F, 1.0F, 0.0F) : V3f(0.0F);
            for (int b = 0; b < 9; ++b) {
                const V3f centre(-2.0F + 2.0F * static_cast<float>(b % 3), 0.5F,
                                 -2.0F + 2.0F * static_cast<float>(b / 3));
                const V3f d = ray.origin - centre;
                const float half = d.dot(ray.direction);
                const float inside = half * half - d.dot(d) + 0.49F;
                const float t = inside > 0.0F ? -half - std::sqrt(inside) : kNothingHit;
                if (t > 0.0F && t < nearest) {
                    nearest = t;
                    normal = (ray.origin + ray.direction * t - centre).normalized();
                }
            }
            for (int c = 0; c < 3; ++c)
                to[c][world.rowStride() * y + x] = normal[c];
        }
    return cameraNormals(world, {NormalAxes::World, NormalCoding::Plain, GreenWay::Up}, camera);
}

}  // namespace

TEST_CASE("how normals are stored is recognised by their values", "[passes][normals]") {
    const Image normals = normalsBy(slopesBy(Waves{}, 96, 80));
    const NormalReading plain = settleNormals(normals, {}, {}).reading;
    CHECK(plain == NormalReading{NormalAxes::Camera, NormalCoding::Plain, GreenWay::Up});
    CHECK(settleNormals(encoded(normals), {}, {}).reading.coding == NormalCoding::Encoded);
    const SettledNormals world = settleNormals(fromAbove(normals), {}, {});
    CHECK(world.reading.axes == NormalAxes::World);
    CHECK_FALSE(world.reasons.empty());
    // What is asked for is not guessed.
    const NormalReading wanted{NormalAxes::World, NormalCoding::Plain, GreenWay::Down};
    CHECK(settleNormals(normals, {"camera", {}, {}}, wanted).reading == wanted);
}

TEST_CASE("nine of ten foreign normals are read right by themselves, all of them beside depth",
          "[passes][normals]") {
    // The set: waves from above and balls on a ground, seen from a slope; in camera or world axes, green up or
    // down, encoded in 8 bits or plain: sixteen files, without a word in them.
    const Camera camera = lookingAt(V3f(1.0F, 3.0F, 5.0F), V3f(0.0F, 0.3F, 0.0F), 0.7F);
    Camera above;
    above.cameraToWorld = M44f(1, 0, 0, 0, 0, 0, -1, 0, 0, 1, 0, 0, 0, 1, 0, 1);
    above.orthographicHeight = 0.1F;
    const std::pair<Camera, Image> scenes[] = {{above, normalsBy(slopesBy(Waves{}, 120, 90))},
                                               {camera, ballsSeen(camera, 160, 120)}};
    for (const bool withDepth : {false, true}) {
        int right = 0;
        int all = 0;
        for (const auto& [seenBy, truth] : scenes)
            for (const bool world : {false, true})
                for (const bool down : {false, true})
                    for (const bool bytes : {false, true}) {
                        Image stored = truth;
                        if (world)
                            stored = changed(truth, [&camera = seenBy](const V3f& n) {
                                V3f turned;
                                camera.cameraToWorld.multDirMatrix(n, turned);
                                return turned;
                            });
                        if (down)
                            stored = greenTurned(stored);
                        if (bytes)
                            stored = encoded(stored);
                        NormalHints hints;
                        hints.camera = seenBy;
                        if (withDepth)
                            hints.measured = truth;
                        const SettledNormals settled = settleNormals(stored, hints, {});
                        const Image found = cameraNormals(stored, settled.reading, seenBy);
                        double agrees = 0.0;
                        double count = 0.0;
                        for (int y = 0; y < truth.height(); ++y)
                            for (int x = 0; x < truth.width(); ++x) {
                                const V3f t(truth(x, y, 0), truth(x, y, 1), truth(x, y, 2));
                                if (t.length() < 0.5F)
                                    continue;
                                agrees += static_cast<double>(
                                    t.dot(V3f(found(x, y, 0), found(x, y, 1), found(x, y, 2))));
                                count += 1.0;
                            }
                        const bool ok = agrees / count > 0.995;
                        right += ok ? 1 : 0;
                        ++all;
                        if (!ok)
                            WARN(fmt::format("missed: world {} down {} bytes {} perspective {}: {}",
                                             world, down, bytes, !seenBy.orthographic(),
                                             describe(settled.reading)));
                    }
        INFO((withDepth ? "beside depth" : "alone"));
        CHECK(10 * right >= 9 * all);
        if (withDepth)
            CHECK(right == all);
    }
}

TEST_CASE("slopes come back from normals in either axes", "[passes][normals]") {
    const Slopes slopes = slopesBy(Waves{}, 60, 50);
    const Image normals = normalsBy(slopes);
    const NormalReading camera{NormalAxes::Camera, NormalCoding::Plain, GreenWay::Up};
    const NormalReading world{NormalAxes::World, NormalCoding::Plain, GreenWay::Up};
    for (const Slopes& found : {slopesOfNormals(cameraNormals(normals, camera, {})),
                                slopesOfNormals(cameraNormals(fromAbove(normals), world, {}))}) {
        CHECK(apart(found.right, slopes.right) < 1e-5);
        CHECK(apart(found.up, slopes.up) < 1e-5);
    }
}

TEST_CASE("a green channel that runs the other way contradicts the red one", "[passes][normals]") {
    const Image normals = normalsBy(slopesBy(Waves{}, 96, 80));
    CHECK(greenDoubt(normals) < 0.2);
    CHECK(greenDoubt(greenTurned(normals)) > 5.0);
    CHECK(greenDoubt(normalsBy({filledBy(9, 9, [](int, int) { return 0.3F; }),
                                filledBy(9, 9, [](int, int) { return 0.2F; })})) == 1.0);
}

TEST_CASE("empty, reversed and broken normals have no slope", "[passes][normals]") {
    Image normals(3, 1, {"X", "Y", "Z"});
    normals.editPlane(2)[1] = -1.0F;
    normals.editPlane(2)[2] = std::numeric_limits<float>::quiet_NaN();
    const Slopes slopes = slopesOfNormals(
        cameraNormals(normals, {NormalAxes::Camera, NormalCoding::Plain, GreenWay::Up}, {}));
    for (int x = 0; x < 3; ++x)
        CHECK(std::isnan(slopes.right(x, 0, 0)));
}
