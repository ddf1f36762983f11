// Light from the sky and its panorama, picked by how bright it is.
#include "core/tracer/directions.h"
#include "core/tracer/lighting.h"
#include "core/tracer/pick_by_sums.h"
#include "core/tracer/rgb.h"

#include <algorithm>
#include <cmath>

namespace noctis {

namespace {

/// The power of the height that leads from the horizon's colour to the zenith's.
constexpr float kThickening = 0.42F;

}  // namespace

void Lighting::prepareSky() {
    Emitter emitter;
    emitter.kind = Emitter::Kind::Sky;
    emitter.group = m_skyGroup;
    const Image& panorama = m_sky.panorama;
    if (!panorama.empty()) {
        float total = 0.0F;
        for (int y = 0; y < panorama.height(); ++y) {
            const float sine = std::sin(kPi * (static_cast<float>(y) + 0.5F) /
                                        static_cast<float>(panorama.height()));
            float row = 0.0F;
            for (int x = 0; x < panorama.width(); ++x) {
                row += sine * luminance({panorama(x, y, 0), panorama(x, y, 1), panorama(x, y, 2)}) +
                       1e-9F;
                m_skyColumns.push_back(row);
            }
            total += row;
            m_skyRows.push_back(total);
        }
        emitter.power =
            kPi * total * 2.0F / static_cast<float>(panorama.width() * panorama.height());
    } else {
        emitter.power = kPi * luminance(mix(m_sky.zenith, m_sky.horizon, 0.5F));
    }
    emitter.power *= m_sky.strength;
    if (emitter.power > 0.0F)
        m_emitters.push_back(emitter);
}

void Lighting::prepareGround() {
    const auto key = std::find_if(m_lights.begin(), m_lights.end(),
                                  [](const Light& light) { return light.standIn; });
    if (!m_scene.standInGround || key == m_lights.end() || !m_sky.panorama.empty())
        return;
    // The mean of skyRadiance's power of the height over a level surface, weighted by the cosine.
    const LinearRgb over = mix(m_sky.horizon, m_sky.zenith, 2.0F / (2.0F + kThickening));
    m_ground.emplace(*m_scene.standInGround, *key,
                     groupNamed(key->group.empty() ? key->name : key->group),
                     kPi * luminance(over) * m_sky.strength, m_skyGroup);
}

LinearRgb Lighting::skyRadiance(const V3f& d) const noexcept {
    if (!m_sky.panorama.empty()) {
        const float u = 0.5F + std::atan2(d.x, -d.z) / (2.0F * kPi);
        const float v = std::acos(std::clamp(d.y, -1.0F, 1.0F)) / kPi;
        const int x = std::clamp(static_cast<int>(u * static_cast<float>(m_sky.panorama.width())),
                                 0, m_sky.panorama.width() - 1);
        const int y = std::clamp(static_cast<int>(v * static_cast<float>(m_sky.panorama.height())),
                                 0, m_sky.panorama.height() - 1);
        return LinearRgb{m_sky.panorama(x, y, 0), m_sky.panorama(x, y, 1),
                         m_sky.panorama(x, y, 2)} *
               m_sky.strength;
    }
    if (d.y < 0.0F)
        return mix(m_sky.horizon, m_sky.ground, std::min(1.0F, -d.y / Sky::kGroundFrom)) *
               m_sky.strength;
    // Air thickens fast towards the horizon.
    const float height = std::pow(std::min(d.y, 1.0F), kThickening);
    return mix(m_sky.horizon, m_sky.zenith, height) * m_sky.strength;
}

void Lighting::sampleSky(const V3f& normal, const Sample2& u, LightSample& out) const noexcept {
    out.distance = kNothingHit;
    if (m_sky.panorama.empty()) {
        const V2f disc = discFromSquare(u.x, u.y);
        out.direction = TangentFrame(normal).toWorld(
            {disc.x, disc.y, std::sqrt(std::max(0.0F, 1.0F - disc.x * disc.x - disc.y * disc.y))});
    } else {
        float withinRow = 0.0F;
        float withinColumn = 0.0F;
        const auto width = static_cast<std::size_t>(m_sky.panorama.width());
        const std::size_t y = pickBySums(m_skyRows.data(), m_skyRows.size(), u.y, withinRow);
        const std::size_t x = pickBySums(m_skyColumns.data() + y * width, width, u.x, withinColumn);
        const float theta =
            kPi * (static_cast<float>(y) + withinRow) / static_cast<float>(m_sky.panorama.height());
        const float phi =
            2.0F * kPi *
            ((static_cast<float>(x) + withinColumn) / static_cast<float>(width) - 0.5F);
        out.direction = {std::sin(theta) * std::sin(phi), std::cos(theta),
                         -std::sin(theta) * std::cos(phi)};
    }
    out.pdf = skyPdf(normal, out.direction);
    out.radiance = skyRadiance(out.direction);
}

float Lighting::skyPdf(const V3f& normal, const V3f& d) const noexcept {
    if (m_sky.panorama.empty())
        return std::max(0.0F, d.dot(normal)) / kPi;
    const int width = m_sky.panorama.width();
    const int height = m_sky.panorama.height();
    const float u = 0.5F + std::atan2(d.x, -d.z) / (2.0F * kPi);
    const float theta = std::acos(std::clamp(d.y, -1.0F, 1.0F));
    const int x = std::clamp(static_cast<int>(u * static_cast<float>(width)), 0, width - 1);
    const int y =
        std::clamp(static_cast<int>(theta / kPi * static_cast<float>(height)), 0, height - 1);
    const std::size_t cell =
        static_cast<std::size_t>(y) * static_cast<std::size_t>(width) + static_cast<std::size_t>(x);
    const float weight = m_skyColumns[cell] - (x > 0 ? m_skyColumns[cell - 1] : 0.0F);
    const float chance = weight / m_skyRows.back() * static_cast<float>(width * height);
    return chance / (2.0F * kPi * kPi * std::max(std::sin(theta), 1e-4F));
}

}  // namespace noctis
