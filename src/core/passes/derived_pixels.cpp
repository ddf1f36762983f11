#include "core/passes/derived_pixels.h"

#include "core/passes/normal_from_places.h"
#include "core/passes/world_normals.h"

#include <cmath>

namespace noctis {

namespace {

const Image* imageOf(const PassSet& set, PassKind kind) {
    const Pass* pass = set.find(kind);
    return pass == nullptr ? nullptr : &pass->image;
}

}  // namespace

DerivedPixels::DerivedPixels(const PassSet& set)
    : m_set(set), m_rays(set.cameraOrAssumed(), set.width, set.height),
      m_worldToCamera(set.cameraOrAssumed().cameraToWorld.inverse()),
      m_depth(imageOf(set, PassKind::Depth)), m_distance(imageOf(set, PassKind::Distance)),
      m_position(imageOf(set, PassKind::Position)), m_coverage(imageOf(set, PassKind::Coverage)) {}

float DerivedPixels::depth(int x, int y) const {
    if (m_depth != nullptr)
        return (*m_depth)(x, y, 0);
    if (m_distance != nullptr)
        return (*m_distance)(x, y, 0) * ray(x, y).planarPerDistance;
    const V3f world = position(x, y);
    const bool nothing =
        m_coverage != nullptr ? (*m_coverage)(x, y, 0) <= 0.0F : world == V3f(0.0F);
    return nothing ? kNothingHit : -(world * m_worldToCamera).z;
}

float DerivedPixels::distance(int x, int y) const {
    return m_distance != nullptr ? (*m_distance)(x, y, 0)
                                 : depth(x, y) / ray(x, y).planarPerDistance;
}

V3f DerivedPixels::position(int x, int y) const {
    if (m_position != nullptr)
        return {(*m_position)(x, y, 0), (*m_position)(x, y, 1), (*m_position)(x, y, 2)};
    const CameraRay through = ray(x, y);
    const float length = m_distance != nullptr ? (*m_distance)(x, y, 0)
                                               : (*m_depth)(x, y, 0) / through.planarPerDistance;
    return std::isfinite(length) ? through.origin + through.direction * length : V3f(0.0F);
}

V3f DerivedPixels::normal(int x, int y) const {
    const Pass* measured = m_set.find(PassKind::Normal);
    if (measured == nullptr)
        measured = m_set.find(PassKind::FacingNormal);
    if (measured != nullptr)
        return normalInWorld(*measured, m_set.cameraOrAssumed(), x, y);
    const V3f direction = ray(x, y).direction;
    return normalFromPlaces([this](int i, int j) { return position(i, j); },
                            [this](int i, int j) { return depth(i, j); }, direction, m_set.width,
                            m_set.height, x, y);
}

}  // namespace noctis
