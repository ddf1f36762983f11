#include "core/tracer/light_places.h"
#include "core/tracer/path.h"
#include "core/tracer/refined_passes.h"
#include "core/tracer/rgb.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace noctis {

namespace {

constexpr int kRgb = 3;
constexpr int kColours = 3;  ///< of diffuse, gloss and transmission

LightPlace placeOf(PassKind kind) {
    for (const LightPlace& place : kLightPlaces)
        if (place.kind == kind)
            return place;
    return {kind};
}

std::vector<std::string> numbered(int count) {
    std::vector<std::string> names;
    for (int i = 0; i < count; ++i)
        names.push_back(std::to_string(i));
    return names;
}

/// out / b, and 0 where b is 0: there out is too.
Image quotient(Image out, const Image& b) {
    for (int c = 0; c < out.channels(); ++c) {
        float* to = out.editPlane(c);
        const float* by = b.plane(c);
        for (std::ptrdiff_t i = 0; i < out.rowStride() * out.height(); ++i)
            to[i] = by[i] > 0.0F ? to[i] / by[i] : 0.0F;
    }
    return out;
}

/// Where in the sums each thing lies.
struct Layout {
    int evens = kRgb;  ///< luminance of every other sample, to measure the noise by
    int parts = -1;
    int colours = -1;
    int groups = -1;
    int alpha = -1;  ///< of a picture without its backdrop
    int planes = kRgb + 1;
};

class LightPasses : public RefinedPasses {
public:
    LightPasses(const RefinedFrame& frame, const std::vector<PassRequest>& requests,
                const BeautySettings& settings)
        : m_frame(frame), m_requests(requests), m_settings(settings),
          m_accelerator(frame.parts.of(settings.only)),
          m_groups(lightGroups(frame.accelerator.scene())) {
        const auto asked = [&](const auto& is) {
            return std::any_of(requests.begin(), requests.end(),
                               [&](const PassRequest& r) { return is(r.kind); });
        };
        if (asked([](PassKind k) { return placeOf(k).part >= 0 || placeOf(k).colour >= 0; })) {
            m_layout.parts = m_layout.planes;
            m_layout.colours = m_layout.parts + kRgb * static_cast<int>(kLightParts);
            m_layout.planes = m_layout.colours + kRgb * kColours;
        }
        if (asked([](PassKind k) { return k == PassKind::Light; })) {
            m_layout.groups = m_layout.planes;
            m_layout.planes += kRgb * static_cast<int>(m_groups.size());
        }
        if (!settings.backdrop)
            m_layout.alpha = m_layout.planes++;
        m_sums = Image(frame.width, frame.height, numbered(m_layout.planes));
        for (int c = 0; c < m_layout.planes; ++c)
            m_planes.push_back(m_sums.editPlane(c));
    }

    [[nodiscard]] PassKind kind() const override { return PassKind::Beauty; }
    [[nodiscard]] int samples() const override { return m_settings.samples; }

    void trace(const Tile& tile, int from, int to) noexcept override {
        PathLight light;
        if (m_layout.groups >= 0)
            light.groups.resize(m_groups.size());
        for (int y = tile.y0; y < tile.y1; ++y)
            for (int x = tile.x0; x < tile.x1; ++x)
                for (int i = from; i < to; ++i) {
                    PixelSampler sampler(x, y, static_cast<std::uint32_t>(i), m_frame.seed);
                    const Sample2 within = sampler.next2();
                    CameraRay ray = rayThrough(m_frame, x, y, within);
                    const Sample2 lens = sampler.next2();
                    if (m_frame.lens && m_frame.lens->apertureRadius > 0.0F)
                        ray = throughLens(ray, m_frame.camera, *m_frame.lens, lens);
                    tracePath(m_accelerator, m_frame.lighting, ray, m_settings, sampler, light);
                    lay(light, m_sums.rowStride() * y + x, i % 2 == 0);
                }
    }

    [[nodiscard]] std::vector<Pass> passes(const std::vector<int>& samplesOfTile,
                                           const std::vector<Tile>& tiles) const override {
        const auto mean = [&](int first, std::vector<std::string> names) {
            return averageOf(m_sums, first, std::move(names), samplesOfTile, tiles);
        };
        return made(mean);
    }

    /// The sums themselves become the passes: a large frame's would not fit in memory twice.
    [[nodiscard]] std::vector<Pass> lastPasses(const std::vector<int>& samplesOfTile,
                                               const std::vector<Tile>& tiles) override {
        for (float* plane : m_planes)
            average(plane, m_sums.rowStride(), samplesOfTile, tiles);
        std::vector<Pass> last = made([&](int first, std::vector<std::string> names) {
            std::vector<int> planes;
            for (int c = 0; c < static_cast<int>(names.size()); ++c)
                planes.push_back(first + c);
            return m_sums.select(planes, std::move(names));
        });
        m_planes.clear();
        m_sums = {};
        return last;
    }

    [[nodiscard]] std::optional<float> noiseOf(const Tile& tile, int done) const override {
        if (m_settings.noise <= 0.0F || done < 2)
            return std::nullopt;
        // Two halves of the samples differ by twice the mean's error.
        const auto half = static_cast<float>(done / 2);
        const float* even = m_sums.plane(m_layout.evens);
        double sum = 0.0;
        for (int y = tile.y0; y < tile.y1; ++y)
            for (int x = tile.x0; x < tile.x1; ++x) {
                const std::ptrdiff_t at = m_sums.rowStride() * y + x;
                const float all =
                    luminance({m_sums.plane(0)[at], m_sums.plane(1)[at], m_sums.plane(2)[at]});
                const float a = std::min(even[at] / half, 1.0F);
                const float b = std::min((all - even[at]) / half, 1.0F);
                sum += static_cast<double>((a - b) * (a - b));
            }
        return 0.5F * static_cast<float>(std::sqrt(sum / (tile.width() * tile.height())));
    }

private:
    [[nodiscard]] int groupIndex(const std::string& name) const {
        const auto found = std::find(m_groups.begin(), m_groups.end(), name);
        return found == m_groups.end() ? 0 : static_cast<int>(found - m_groups.begin());
    }

    /// The passes, each of means that meanOf(first plane, their names) gives.
    template <typename MeanOf> [[nodiscard]] std::vector<Pass> made(const MeanOf& meanOf) const {
        const auto meanAt = [&](int first) { return meanOf(first, {"R", "G", "B"}); };
        std::vector<Pass> passes;
        for (const PassRequest& request : m_requests) {
            Pass pass;
            pass.name = request.name();
            pass.kind = request.kind;
            const int part = placeOf(request.kind).part;
            const int colour = placeOf(request.kind).colour;
            if (request.kind == PassKind::Light)
                pass.image = meanAt(m_layout.groups + kRgb * groupIndex(request.subject));
            else if (part >= 0)
                pass.image = meanAt(m_layout.parts + kRgb * part);
            else
                pass.image = meanAt(colour >= 0 ? m_layout.colours + kRgb * colour : 0);
            if (part >= 0 && colour >= 0)
                pass.image =
                    quotient(std::move(pass.image), meanAt(m_layout.colours + kRgb * colour));
            if (request.kind == PassKind::Beauty && m_layout.alpha >= 0)
                pass.image.append(meanOf(m_layout.alpha, {"A"}));
            passes.push_back(std::move(pass));
        }
        return passes;
    }

    void lay(const PathLight& light, std::ptrdiff_t at, bool even) const noexcept {
        const auto add = [&](int first, const LinearRgb& c) {
            m_planes[static_cast<std::size_t>(first)][at] += c.r;
            m_planes[static_cast<std::size_t>(first) + 1][at] += c.g;
            m_planes[static_cast<std::size_t>(first) + 2][at] += c.b;
        };
        add(0, light.total);
        if (even)
            m_planes[static_cast<std::size_t>(m_layout.evens)][at] += luminance(light.total);
        if (m_layout.parts >= 0) {
            for (int i = 0; i < static_cast<int>(kLightParts); ++i)
                add(m_layout.parts + kRgb * i, light.parts[static_cast<std::size_t>(i)]);
            add(m_layout.colours, light.diffuseColour);
            add(m_layout.colours + kRgb, light.glossColour);
            add(m_layout.colours + 2 * kRgb, light.transmissionColour);
        }
        if (m_layout.alpha >= 0)
            m_planes[static_cast<std::size_t>(m_layout.alpha)][at] += light.alpha;
        for (std::size_t i = 0; i < light.groups.size(); ++i)
            add(m_layout.groups + kRgb * static_cast<int>(i), light.groups[i]);
    }

    RefinedFrame m_frame;
    std::vector<PassRequest> m_requests;
    BeautySettings m_settings;
    const Accelerator& m_accelerator;
    std::vector<std::string> m_groups;
    Layout m_layout;
    Image m_sums;
    std::vector<float*> m_planes;
};

class BehindPass : public RefinedPasses {
public:
    BehindPass(const RefinedFrame& frame, const PassRequest& request,
               const BeautySettings& settings)
        : m_frame(frame), m_name(request.name()), m_settings(settings),
          m_sums(frame.width, frame.height, {"R", "G", "B"}) {
        for (int c = 0; c < kRgb; ++c)
            m_planes[static_cast<std::size_t>(c)] = m_sums.editPlane(c);
    }

    [[nodiscard]] PassKind kind() const override { return PassKind::BehindColour; }
    [[nodiscard]] int samples() const override { return m_settings.samples; }

    void trace(const Tile& tile, int from, int to) noexcept override {
        PathLight light;
        for (int y = tile.y0; y < tile.y1; ++y)
            for (int x = tile.x0; x < tile.x1; ++x)
                for (int i = from; i < to; ++i) {
                    PixelSampler sampler(x, y, static_cast<std::uint32_t>(i), m_frame.seed);
                    const Sample2 within = sampler.next2();
                    CameraRay ray = rayThrough(m_frame, x, y, within);
                    bool missed = false;
                    const Hit behind =
                        m_frame.accelerator.behindFirst(ray.origin, ray.direction, missed);
                    if (missed)
                        continue;
                    if (behind.any())  // a little short of it, so that the path meets it first
                        ray.origin += ray.direction * (behind.distance * (1.0F - 1e-5F));
                    else
                        ray.origin += ray.direction * 1e7F;
                    tracePath(m_frame.accelerator, m_frame.lighting, ray, m_settings, sampler,
                              light);
                    const std::ptrdiff_t at = m_sums.rowStride() * y + x;
                    m_planes[0][at] += light.total.r;
                    m_planes[1][at] += light.total.g;
                    m_planes[2][at] += light.total.b;
                }
    }

    [[nodiscard]] std::vector<Pass> passes(const std::vector<int>& samplesOfTile,
                                           const std::vector<Tile>& tiles) const override {
        Pass pass;
        pass.name = m_name;
        pass.kind = PassKind::BehindColour;
        pass.image = averageOf(m_sums, 0, {"R", "G", "B"}, samplesOfTile, tiles);
        return {pass};
    }

private:
    RefinedFrame m_frame;
    std::string m_name;
    BeautySettings m_settings;
    Image m_sums;
    std::array<float*, kRgb> m_planes{};
};

}  // namespace

CameraRay rayThrough(const RefinedFrame& frame, int x, int y, const Sample2& within) noexcept {
    return cameraRay(frame.camera, static_cast<float>(x) + within.x,
                     static_cast<float>(y) + within.y, frame.width, frame.height);
}

void average(float* plane, std::ptrdiff_t stride, const std::vector<int>& samplesOfTile,
             const std::vector<Tile>& tiles) noexcept {
    for (std::size_t t = 0; t < tiles.size(); ++t) {
        const float scale = 1.0F / static_cast<float>(std::max(1, samplesOfTile[t]));
        for (int y = tiles[t].y0; y < tiles[t].y1; ++y)
            for (int x = tiles[t].x0; x < tiles[t].x1; ++x)
                plane[stride * y + x] *= scale;
    }
}

Image averageOf(const Image& sums, int first, std::vector<std::string> names,
                const std::vector<int>& samplesOfTile, const std::vector<Tile>& tiles) {
    const auto channels = static_cast<int>(names.size());
    std::vector<int> planes;
    for (int c = 0; c < channels; ++c)
        planes.push_back(first + c);
    Image out = sums.select(planes, std::move(names));
    for (int c = 0; c < channels; ++c)
        average(out.editPlane(c), out.rowStride(), samplesOfTile, tiles);
    return out;
}

std::unique_ptr<RefinedPasses> lightPasses(const RefinedFrame& frame,
                                           const std::vector<PassRequest>& requests,
                                           const BeautySettings& settings) {
    return std::make_unique<LightPasses>(frame, requests, settings);
}

std::unique_ptr<RefinedPasses> behindPass(const RefinedFrame& frame, const PassRequest& request,
                                          const BeautySettings& settings) {
    return std::make_unique<BehindPass>(frame, request, settings);
}

}  // namespace noctis
