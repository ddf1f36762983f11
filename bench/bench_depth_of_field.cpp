#include "core/image/colour.h"
#include "core/image/resample.h"
#include "core/image/tiles.h"
#include "core/passes/pass_file.h"
#include "core/recipe/evaluator.h"
#include "core/recipe/recipe_json.h"
#include "core/recipe/where_json.h"
#include "core/scene/import.h"
#include "core/steps/depth_of_field.h"
#include "core/steps/registry.h"
#include "core/tracer/lens.h"
#include "core/tracer/render.h"
#include "core/tracer/sampler.h"
#include "harness.h"
#include "yard.h"

#include <array>
#include <cmath>
#include <cstdlib>
#include <filesystem>
#include <functional>

#include <fmt/format.h>
#include <nlohmann/json.hpp>
#include <opencv2/core.hpp>
#include <opencv2/imgproc.hpp>

namespace bench {

namespace {

using namespace noctis;

constexpr int kWidth = 1920;
constexpr int kHeight = 1080;

DepthOfFieldSettings byRadius(float radius) {
    DepthOfFieldSettings s;
    s.lens = LensMode::Radius;
    s.radius = radius;
    s.limit = 512.0F;
    return s;
}

Image testPicture() {
    Image image(kWidth, kHeight, {"R", "G", "B"});
    for (int c = 0; c < 3; ++c) {
        float* plane = image.editPlane(c);
        for (int y = 0; y < kHeight; ++y)
            for (int x = 0; x < kWidth; ++x)
                plane[image.rowStride() * y + x] =
                    0.5F + 0.4F * std::sin(0.05F * static_cast<float>(x + c * 11)) *
                               std::cos(0.07F * static_cast<float>(y));
    }
    return image;
}

cv::Mat discKernel(int radius) {
    cv::Mat kernel(2 * radius + 1, 2 * radius + 1, CV_32F);
    for (int y = -radius; y <= radius; ++y)
        for (int x = -radius; x <= radius; ++x)
            kernel.at<float>(y + radius, x + radius) =
                x * x + y * y <= radius * radius ? 1.0F : 0.0F;
    kernel /= cv::sum(kernel)[0];
    return kernel;
}

/// The step against a traced lens, on the demo. In dB; the noise of both counts.
void psnr(const Demo& demo, std::vector<Row>& rows) {
    constexpr int w = 480;
    constexpr int h = 270;
    const Scene scene = importScene(demo.folder / "saltern_quay.gltf");
    const Accelerator accelerator(scene);
    RenderRequest request;
    request.view = viewNamed(scene, "quay view");
    request.width = w;
    request.height = h;
    request.passes = {passRequest(PassKind::Beauty), passRequest(PassKind::Depth)};
    applyPassSetting(request.passes, "beauty.samples=128");
    applyPassSetting(request.passes, "beauty.clamp=6");
    const PassSet pinhole = renderPasses(scene, accelerator, request);
    for (const float focus : {4.0F, 7.35F, 30.0F, 400.0F}) {
        DepthOfFieldSettings settings;
        settings.focus = focus;
        settings.fNumber = 0.35F;
        settings.sensorWidth = 36.0F;
        settings.focalLength =
            0.5F * 36.0F * h / w / std::tan(0.5F * request.view.camera.yfovRadians);
        request.lens = TracedLens::ofFNumber(settings.fNumber, settings.focalLength, focus);
        request.seed = 1;
        const Image truth = renderPasses(scene, accelerator, request).passes[0].image;
        const Image ours =
            applyDepthOfField(pinhole.passes[0].image, pinhole.passes[1].image, settings, w);
        const auto decibels = [&](const Image& image) {
            const Image a = viewed(image, ViewTransform::SoftShoulder, 0.5F);
            const Image b = viewed(truth, ViewTransform::SoftShoulder, 0.5F);
            double sum = 0.0;
            for (int c = 0; c < 3; ++c)
                for (int y = 0; y < h; ++y)
                    for (int x = 0; x < w; ++x)
                        sum += std::pow(static_cast<double>(a(x, y, c) - b(x, y, c)), 2.0);
            return -10.0 * std::log10(sum / (3.0 * w * h));
        };
        Row row;
        row.name = fmt::format("dof against traced lens at {:g} m", focus);
        row.ours = decibels(ours);
        row.reference = decibels(pinhole.passes[0].image);
        row.ratio = row.ours / row.reference;
        row.unit = "dB";
        row.note = "PSNR as viewed; the reference is the sharp picture";
        rows.push_back(row);
    }
}

/// As the artist's screen shows it: sRGB of what lies from 0 to 1.
double shownDecibels(const Image& a, const Image& b) {
    const auto shown = [](const Image& image) {
        Image clamped = image.select({0, 1, 2});
        for (int c = 0; c < 3; ++c) {
            float* plane = clamped.editPlane(c);
            for (std::ptrdiff_t i = 0; i < clamped.rowStride() * clamped.height(); ++i)
                plane[i] = std::clamp(plane[i], 0.0F, 1.0F);
        }
        return srgbFromLinear(clamped);
    };
    const Image one = shown(a);
    const Image other = shown(b);
    double sum = 0.0;
    for (int c = 0; c < 3; ++c)
        for (int y = 0; y < a.height(); ++y)
            for (int x = 0; x < a.width(); ++x)
                sum += std::pow(static_cast<double>(one(x, y, c) - other(x, y, c)), 2.0);
    return -10.0 * std::log10(sum / (3.0 * a.width() * a.height()));
}

/// A scene that only shines, through a pinhole and through lenses; the pinhole's passes are made once.
class Shining {
public:
    /// textured: with a fine texture on everything, as cloth, stone and wood have it.
    Shining(Scene scene, int width, int height, bool textured = false)
        : m_scene(std::move(scene)), m_accelerator(m_scene), m_textured(textured) {
        m_request.view = m_scene.views.front();
        m_request.width = width;
        m_request.height = height;
        m_request.passes = {passRequest(PassKind::Depth), passRequest(PassKind::BehindDepth)};
        m_pinhole = renderPasses(m_scene, m_accelerator, m_request);
        m_sharp = averaged(kPinholeSamples, 1, [&](const CameraRay& ray, PixelSampler&) {
            return shine(ray,
                         m_accelerator.intersect(ray.origin, ray.direction, 0.0F, kNothingHit));
        });
        m_behind = averaged(kPinholeSamples, 1, [&](const CameraRay& ray, PixelSampler&) {
            bool missed = false;
            return shine(ray, m_accelerator.behindFirst(ray.origin, ray.direction, missed));
        });
    }

    [[nodiscard]] DepthOfFieldSettings lens(float focus, float fNumber) const {
        DepthOfFieldSettings s;
        s.focus = focus;
        s.fNumber = fNumber;
        return withLensOf(s, m_request.view.camera,
                          static_cast<float>(m_request.width) /
                              static_cast<float>(m_request.height));
    }
    /// With NOCTIS_BENCH_KEEP, pictures are kept in that folder, to be looked at and used again.
    [[nodiscard]] static Image kept(const std::string& name, const std::function<Image()>& make) {
        const char* folder = std::getenv("NOCTIS_BENCH_KEEP");
        if (folder == nullptr)
            return make();
        const std::filesystem::path file = std::filesystem::path(folder) / (name + ".exr");
        if (std::filesystem::exists(file))
            return readPicture(file).select({0, 1, 2});
        FilePart part;
        part.image = make();
        writeImageFile(file, {part});
        return part.image;
    }
    /// Through the tracer's own lens. What only shines needs no more of a path than its first hit.
    /// everyRow: of how many rows one is traced; the others stay black.
    [[nodiscard]] Image traced(const DepthOfFieldSettings& s, int samples, int everyRow = 1) const {
        const TracedLens lens = TracedLens::ofFNumber(s.fNumber, s.focalLength, s.focus);
        return averaged(samples, everyRow, [&](const CameraRay& straight, PixelSampler& sampler) {
            const CameraRay ray =
                throughLens(straight, m_request.view.camera, lens, sampler.next2());
            return shine(ray,
                         m_accelerator.intersect(ray.origin, ray.direction, 0.0F, kNothingHit));
        });
    }
    [[nodiscard]] Image ours(const DepthOfFieldSettings& s, bool behind) const {
        return applyDepthOfField(sharp(), m_pinhole.find(PassKind::Depth)->image, s,
                                 static_cast<float>(m_request.width), {},
                                 behind ? hidden() : HiddenSurface{});
    }
    [[nodiscard]] const Image& sharp() const { return m_sharp; }
    [[nodiscard]] const Image& depth() const { return m_pinhole.find(PassKind::Depth)->image; }
    [[nodiscard]] const PassSet& pinhole() const { return m_pinhole; }
    [[nodiscard]] HiddenSurface hidden() const {
        return {m_behind, m_pinhole.find(PassKind::BehindDepth)->image, {}};
    }

private:
    static constexpr int kPinholeSamples = 256;

    /// What only shines needs no more of a path than its first hit.
    [[nodiscard]] LinearRgb shine(const CameraRay& ray, const Hit& hit) const noexcept {
        const LinearRgb plain = shine(hit);
        if (!m_textured || !hit.any())
            return plain;
        const float tone = textureAt(ray.origin + ray.direction * hit.distance);
        return {plain.r * tone, plain.g * tone, plain.b * tone};
    }
    /// About 1: waves of a hand to a finger's width in many directions.
    [[nodiscard]] static float textureAt(const V3f& at) noexcept {
        float sum = 0.0F;
        float length = 0.25F;  // m
        for (int i = 0; i < 10; ++i, length *= 0.8F) {
            const float turn = 2.399963F * static_cast<float>(i);
            const V3f k = V3f(std::cos(turn), 0.7F * std::sin(1.7F * turn), std::sin(turn)) *
                          (6.2831853F / length);
            sum += std::sin(k.dot(at) + static_cast<float>(i * i));
        }
        return std::max(0.1F, 1.0F + 0.16F * sum);
    }
    [[nodiscard]] LinearRgb shine(const Hit& hit) const noexcept {
        if (!hit.any())
            return kYardSky;
        const Instance& instance = m_scene.instances[static_cast<std::size_t>(hit.instance)];
        const Mesh& mesh = m_scene.meshes[static_cast<std::size_t>(instance.mesh)];
        return m_scene.materials[static_cast<std::size_t>(mesh.material)].emission;
    }

    /// The mean of what rays through each pixel give: of(ray, sampler).
    template <typename Of>
    [[nodiscard]] Image averaged(int samples, int everyRow, const Of& of) const {
        Image out = Image::filled(m_request.width, m_request.height, 3, 0.0F);
        std::array<float*, 3> planes{out.editPlane(0), out.editPlane(1), out.editPlane(2)};
        forEachBand(out.height(), 4, {}, [&](int y0, int y1) {
            for (int y = y0; y < y1; ++y)
                for (int x = 0; x < out.width() && y % everyRow == 0; ++x) {
                    std::array<double, 3> sum{};
                    for (int i = 0; i < samples; ++i) {
                        PixelSampler sampler(x, y, static_cast<std::uint32_t>(i), 1);
                        const Sample2 within = sampler.next2();
                        const LinearRgb c = of(
                            cameraRay(m_request.view.camera, static_cast<float>(x) + within.x,
                                      static_cast<float>(y) + within.y, out.width(), out.height()),
                            sampler);
                        sum[0] += static_cast<double>(c.r);
                        sum[1] += static_cast<double>(c.g);
                        sum[2] += static_cast<double>(c.b);
                    }
                    for (std::size_t c = 0; c < 3; ++c)
                        planes[c][out.rowStride() * y + x] = static_cast<float>(sum[c] / samples);
                }
        });
        return out;
    }

    Scene m_scene;
    Accelerator m_accelerator;
    bool m_textured;
    RenderRequest m_request;
    PassSet m_pinhole;
    Image m_sharp;
    Image m_behind;
};

constexpr std::array kFocuses{3.0F, 5.0F, 8.0F, 16.0F, 30.0F, 58.0F};
/// By focus and aperture: with and without the surfaces behind, beside the sharp picture.
void againstLens(std::vector<Row>& rows, bool textured) {
    constexpr int kSamples = 256;
    const Shining scene(yard(), 512, 288, textured);
    const std::string what = textured ? "textured yard" : "yard";
    const std::array<float, 2> fNumbers =
        textured ? std::array{0.7F, 2.0F} : std::array{0.4F, 0.2F};
    std::array<double, 2> sums{};
    std::array<double, 2> least{1e9, 1e9};
    int count = 0;
    for (const float fNumber : fNumbers)
        for (const float focus : kFocuses) {
            const DepthOfFieldSettings s = scene.lens(focus, fNumber);
            const std::string name = fmt::format("{} {:g} {:g}", what, focus, fNumber);
            const Image truth =
                Shining::kept(name + " truth", [&] { return scene.traced(s, kSamples); });
            (void)Shining::kept(what + " sharp", [&] { return scene.sharp(); });
            const double sharp = shownDecibels(scene.sharp(), truth);
            for (const bool behind : {true, false}) {
                Row row;
                row.name = fmt::format("{}, f/{:g} at {:g} m{}", what, fNumber, focus,
                                       behind ? ", behind" : "");
                const Image ours = scene.ours(s, behind);
                (void)Shining::kept(name + (behind ? " behind" : " ours"), [&] { return ours; });
                row.ours = shownDecibels(ours, truth);
                row.reference = sharp;
                row.ratio = row.ours / sharp;
                row.unit = "dB";
                row.note = "against the traced lens; the reference is the sharp picture";
                if (row.ours < sharp)
                    row.wrong = "worse than the sharp picture";
                rows.push_back(row);
                sums[behind ? 0 : 1] += row.ours;
                least[behind ? 0 : 1] = std::min(least[behind ? 0 : 1], row.ours);
            }
            ++count;
        }
    for (const bool behind : {true, false}) {
        const std::size_t i = behind ? 0 : 1;
        Row row;
        row.name = what + (behind ? ", mean, behind" : ", mean");
        row.ours = sums[i] / count;
        row.reference = textured ? (behind ? 42.0 : 40.0) : (behind ? 37.0 : 35.0);
        row.ratio = row.ours / row.reference;
        row.unit = "dB";
        row.note = fmt::format("beside what is wanted; the least is {:.1f} dB", least[i]);
        rows.push_back(row);
    }
}

/// One stop more on the near things of the yard, behind the lens, beside the lens alone. The same gain before the lens
/// must give the same picture.
void carriedMask(std::vector<Row>& rows) {
    constexpr double kAlike = 40.0;  // dB
    const Shining scene(yard(), 1280, 720);
    constexpr float kNearTo = 8.0F;  // m
    const Image depth = scene.depth();
    Image brighter = scene.sharp();
    for (int c = 0; c < 3; ++c)
        for (int y = 0; y < depth.height(); ++y)
            for (int x = 0; x < depth.width(); ++x)
                if (depth(x, y, 0) <= kNearTo)
                    brighter.editPlane(c)[brighter.rowStride() * y + x] *= 2.0F;
    const auto passes = [&](const Image& picture) {
        PassSet set = scene.pinhole();
        Pass beauty;
        beauty.name = "beauty";
        beauty.kind = PassKind::Beauty;
        beauty.image = picture;
        set.put(std::move(beauty));
        return set;
    };
    Recipe lens;
    lens.steps = {stepCatalogue().newStep("depth_of_field")};
    lens.steps.front().settings.set("focus", 16.0F);
    lens.steps.front().settings.set("f_number", 0.4F);
    Recipe behind = lens;
    behind.steps.push_back(stepCatalogue().newStep("grade", behind));
    behind.steps.back().settings.set("exposure", 1.0F);
    behind.steps.back().where = whereFromJson({{"by", "depth"}, {"to", kNearTo}}, stepCatalogue());
    const auto made = [&](const PassSet& set, const Recipe& recipe) {
        Evaluator evaluator(stepCatalogue());
        evaluator.setPasses(set);
        return evaluator.evaluate(recipe);
    };
    const PassSet plain = passes(scene.sharp());
    Case c;
    c.name = "mask behind the lens, 720p";
    c.check = [&] {
        const double alike = shownDecibels(made(plain, behind), made(passes(brighter), lens));
        return alike >= kAlike ? std::string()
                               : fmt::format("{:.1f} dB from the same gain before it", alike);
    };
    c.ours = [&] { (void)made(plain, behind); };
    c.reference = [&] { (void)made(plain, lens); };
    c.target = 3.5;
    c.note = "beside the lens alone; it is blurred once more, and once again where it is dark";
    rows.push_back(run(c));
}

// At 1024 samples the noise of the traced picture alone reaches 0.03 somewhere: few rows, many samples.
constexpr int kRimRows = 24;
constexpr int kRimSamples = 16384;

/// How much brighter than the traced lens any pixel is, of white. On the uneven card a change of tone lies hidden
/// behind a post, which only the behind passes know of.
Row rim(const Shining& scene, float focus, bool even) {
    const DepthOfFieldSettings s = scene.lens(focus, 0.4F);
    const std::string name = fmt::format("{} card {:g}", even ? "even" : "uneven", focus);
    const Image truth =
        Shining::kept(name + " truth", [&] { return scene.traced(s, kRimSamples, kRimRows); });
    const Image ours = scene.ours(s, !even);
    (void)Shining::kept(name + " ours", [&] { return ours; });
    float worst = -1.0F;
    int atX = 0;
    int atY = 0;
    for (int y = 0; y < ours.height(); y += kRimRows)
        for (int x = 0; x < ours.width(); ++x)
            if (const float excess = ours(x, y, 1) - truth(x, y, 1); excess > worst) {
                worst = excess;
                atX = x;
                atY = y;
            }
    Row row;
    row.name = fmt::format("rim on the card{} at {:g} m{}", even ? "" : ", uneven,", focus,
                           even ? "" : ", behind");
    row.ours = static_cast<double>(worst);
    row.reference = 0.02;
    row.ratio = row.ours / row.reference;
    row.target = 1.0;
    row.unit = "";
    row.note = fmt::format("brightest excess over the traced lens, of white, at {}, {}", atX, atY);
    return row;
}

void rims(std::vector<Row>& rows) {
    for (const bool even : {true, false}) {
        const Shining scene(card(even), 512, 288);
        for (const float focus : kFocuses)
            rows.push_back(rim(scene, focus, even));
    }
}

/// The demo's own picture and depth, wide open, beside one plane's disc of radius 32.
Row onDemo(const Demo& demo, float focus, const std::string& name) {
    PassSet set = readPasses({demo.folder / "beauty.exr", demo.folder / "depth.exr"});
    const Image colour = resized(set.find(PassKind::Beauty)->image.select({0, 1, 2}), kWidth,
                                 kHeight, Resampling::Nearest);
    const Image depth =
        resized(set.find(PassKind::Depth)->image, kWidth, kHeight, Resampling::Nearest);
    DepthOfFieldSettings s;
    s.focus = focus;
    s.lens = LensMode::Physical;
    s.fNumber = 1.4F;
    const cv::Mat kernel = discKernel(32);
    const cv::Mat reference(kHeight, kWidth, CV_32FC3, cv::Scalar(0.3, 0.4, 0.5));
    cv::Mat blurred;
    return run(
        {name, [] { return std::string(); },
         [&] { (void)applyDepthOfField(colour, depth, s, kWidth); },
         [&] {
             cv::filter2D(reference, blurred, -1, kernel, {-1, -1}, 0.0, cv::BORDER_REPLICATE);
         },
         1.5, false, "f/1.4, 50 mm; cv::filter2D, a disc of radius 32", 5});
}

}  // namespace

void depthOfField(const Demo& demo, const Filter& wanted, std::vector<Row>& rows) {
    const Image picture = testPicture();
    const Image depth = Image::filled(kWidth, kHeight, 1, kNothingHit);
    cv::Mat reference;
    std::vector<cv::Mat> planes;
    for (int c = 0; c < 3; ++c) {
        cv::Mat plane(kHeight, kWidth, CV_32F);
        for (int y = 0; y < kHeight; ++y)
            std::copy_n(picture.row(c, y), kWidth, plane.ptr<float>(y));
        planes.push_back(plane);
    }
    cv::merge(planes, reference);
    for (const int radius : {8, 16, 32, 64, 128}) {
        const std::string name = fmt::format("depth of field, radius {}", radius);
        if (!wanted(name))
            continue;
        const cv::Mat kernel = discKernel(radius);
        cv::Mat blurred;
        const auto check = [&] {
            const Image ours =
                applyDepthOfField(picture, depth, byRadius(static_cast<float>(radius)), kWidth);
            cv::filter2D(reference, blurred, -1, kernel, {-1, -1}, 0.0, cv::BORDER_REPLICATE);
            double worst = 0.0;
            for (int y = 200; y < kHeight - 200; y += 13)
                for (int x = 200; x < kWidth - 200; x += 13)
                    worst = std::max(worst, std::abs(static_cast<double>(
                                                ours(x, y, 1) - blurred.at<cv::Vec3f>(y, x)[1])));
            return worst < 0.01 ? std::string()
                                : fmt::format("differs from the disc by {:.4f}", worst);
        };
        rows.push_back(run(
            {name, check,
             [&] {
                 (void)applyDepthOfField(picture, depth, byRadius(static_cast<float>(radius)),
                                         kWidth);
             },
             [&] {
                 cv::filter2D(reference, blurred, -1, kernel, {-1, -1}, 0.0, cv::BORDER_REPLICATE);
             },
             radius == 32 ? 1.0 : 0.0, false, "cv::filter2D, a disc; every pixel blurred", 5}));
    }
    for (const float focus : {3.0F, 60.0F})
        if (const std::string name = fmt::format("depth of field, demo at {:g} m", focus);
            wanted(name))
            rows.push_back(onDemo(demo, focus, name));
    if (wanted("dof against traced lens"))
        psnr(demo, rows);
    if (wanted("yard"))
        againstLens(rows, false);
    if (wanted("textured yard"))
        againstLens(rows, true);
    if (wanted("mask behind the lens, 720p"))
        carriedMask(rows);
    if (wanted("rim on the card"))
        rims(rows);
}

}  // namespace bench
