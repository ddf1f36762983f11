#include "core/image/error.h"
#include "core/image/image_file.h"
#include "core/tracer/render.h"
#include "support/files.h"
#include "support/scenes.h"

#include <cmath>

#include <catch2/catch.hpp>

using namespace noctis;
using test::Folder;

namespace {

constexpr int kWide = 64;
constexpr int kHigh = 32;

/// Dark but for one bright patch of these columns and rows.
std::string panorama(const Folder& folder, int x0, int x1, int y0, int y1, float light) {
    Image image(kWide, kHigh, {"R", "G", "B"}, 0.0F);
    for (int c = 0; c < 3; ++c)
        for (int y = y0; y < y1; ++y)
            for (int x = x0; x < x1; ++x)
                image.editPlane(c)[image.rowStride() * y + x] = light;
    writeImageFile(folder / "sky.exr",
                   {{"sky", "", image, SampleType::Float, {}, Compression::Zip}});
    return (folder / "sky.exr").string();
}

Image render(const Scene& scene, const View& view, const std::string& file, int samples) {
    RenderRequest request;
    request.view = view;
    request.width = request.height = 17;
    request.passes = {passRequest(PassKind::Beauty)};
    applyPassSetting(request.passes, "beauty.samples=" + std::to_string(samples));
    applyPassSetting(request.passes, "beauty.bounces=1");
    applyPassSetting(request.passes, "beauty.panorama=" + file);
    const Accelerator accelerator(scene);
    return renderPasses(scene, accelerator, request).passes[0].image;
}

}  // namespace

TEST_CASE("a panorama stands where it says: -Z in its middle, +X to the right of it, +Y above",
          "[tracer][panorama]") {
    const Folder folder;
    Scene scene;
    test::addQuad(scene, "speck", {0, -500, 0}, {0.01F, -500, 0}, {0.01F, -500, 0.01F},
                  {0, -500, 0.01F});
    const auto seen = [&](const V3f& towards, const std::string& file) {
        return render(scene, {"v", lookingAt(V3f(0, 0, 0), towards, 0.05F)}, file, 2)(8, 8, 1);
    };
    const std::string middle =
        panorama(folder, kWide / 2 - 2, kWide / 2 + 2, kHigh / 2 - 2, kHigh / 2 + 2, 3.0F);
    CHECK(seen(V3f(0, 0, -1), middle) == 3.0F);
    CHECK(seen(V3f(0, 0, 1), middle) == 0.0F);
    const std::string right =
        panorama(folder, kWide * 3 / 4 - 2, kWide * 3 / 4 + 2, kHigh / 2 - 2, kHigh / 2 + 2, 3.0F);
    CHECK(seen(V3f(1, 0, 0), right) == 3.0F);
    CHECK(seen(V3f(-1, 0, 0), right) == 0.0F);
    const std::string top = panorama(folder, 0, kWide, 0, 3, 3.0F);
    CHECK(seen(V3f(0.01F, 1, 0), top) == 3.0F);
    CHECK(seen(V3f(0.01F, -1, 0), top) == 0.0F);
}

TEST_CASE("a bright patch of a panorama lights a ground with its irradiance, found at once",
          "[tracer][panorama][truth]") {
    const Folder folder;
    Scene scene;
    scene.materials.push_back(
        {.name = "matt", .baseColour = {0.5F, 0.5F, 0.5F}, .roughness = 1.0F, .refraction = 1.0F});
    test::addGround(scene, 50.0F);
    // Rows 6 and 7, eight columns: irradiance is the sum of radiance, cosine and solid angle.
    const std::string file = panorama(folder, 20, 28, 6, 8, 40.0F);
    double irradiance = 0.0;
    for (int y = 6; y < 8; ++y) {
        const double top = M_PI * y / kHigh;
        const double bottom = M_PI * (y + 1) / kHigh;
        // The integral of cos sin over the row's angles.
        irradiance += 40.0 * 8.0 * 2.0 * M_PI / kWide * 0.5 *
                      (std::sin(bottom) * std::sin(bottom) - std::sin(top) * std::sin(top));
    }
    const Image image =
        render(scene, {"above", lookingAt(V3f(0, 6, 0.001F), V3f(0, 0, 0), 0.4F)}, file, 64);
    double mean = 0.0;
    for (int y = 4; y < 13; ++y)
        for (int x = 4; x < 13; ++x)
            mean += static_cast<double>(image(x, y, 0)) / 81.0;
    CHECK(mean == Approx(0.5 / M_PI * irradiance).epsilon(0.02));
    CHECK(image(8, 8, 0) ==
          Approx(0.5 / M_PI * irradiance).epsilon(0.15));  // little noise: the patch is sampled
}

TEST_CASE("a panorama has the colours of its channels' names, in whatever order a file lists them",
          "[tracer][panorama]") {
    const Folder folder;
    Image red(kWide, kHigh, {"R", "G", "B"}, 0.0F);
    std::fill_n(red.editPlane(0), red.rowStride() * red.height(), 2.0F);
    writeImageFile(folder / "sky.exr", {{"sky", "", red, SampleType::Float, {}}});
    writeImageFile(folder / "sky.tif", {{"sky", "", red, SampleType::Float, {}}});
    for (const char* name : {"sky.exr", "sky.tif"}) {
        const Image read = readPanorama(folder / name).image;
        CHECK(read(3, 3, 0) == 2.0F);
        CHECK(read(3, 3, 2) == 0.0F);
    }
}

TEST_CASE("a panorama that can't be read is refused before any work", "[tracer][panorama]") {
    const Folder folder;
    Scene scene;
    test::addGround(scene, 5.0F);
    CHECK_THROWS_AS(render(scene, {"v", assumedCamera()}, (folder / "none.hdr").string(), 1),
                    Error);
    writeImageFile(folder / "grey.exr",
                   {{"a", "", Image(8, 4, {"Y"}, 1.0F), SampleType::Float, {}, Compression::Zip}});
    CHECK_THROWS_AS(render(scene, {"v", assumedCamera()}, (folder / "grey.exr").string(), 1),
                    Error);
}

TEST_CASE("a panorama is kept between renders and read anew when its file changed",
          "[tracer][panorama]") {
    const Folder folder;
    const std::string file = panorama(folder, 0, kWide, 0, kHigh, 2.0F);
    PanoramaCache cache;
    const Image first = cache.get(file).image;
    CHECK(first(3, 3, 0) == 2.0F);
    CHECK(cache.get(file).image.plane(0) == first.plane(0));  // the same memory: nothing was read
    panorama(folder, 0, kWide, 0, kHigh, 5.0F);
    std::filesystem::last_write_time(file, std::filesystem::last_write_time(file) +
                                               std::chrono::seconds(5));
    CHECK(cache.get(file).image(3, 3, 0) == 5.0F);
    CHECK_THROWS_AS(cache.get(folder / "none.hdr"), Error);
    CHECK(cache.get(file).image(3, 3, 0) == 5.0F);
}
