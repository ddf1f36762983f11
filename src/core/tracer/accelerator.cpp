#include "core/tracer/accelerator.h"

#include "core/image/error.h"

#include <algorithm>
#include <cmath>
#include <cstring>

#include <embree3/rtcore.h>
#include <fmt/format.h>

namespace noctis {

namespace {

/// Up to here every placed mesh is laid out in the world, which traces faster than instances do.
constexpr std::size_t kMostFlattenedTriangles = 6'000'000;

[[noreturn]] void refuse(RTCError code, const char* text) {
    throw Error(code == RTC_ERROR_OUT_OF_MEMORY ? ErrorCode::TooLarge : ErrorCode::BadScene,
                fmt::format("the scene can't be traced: {}", text));
}

void checkDevice(RTCDevice device) {
    if (const RTCError code = rtcGetDeviceError(device); code != RTC_ERROR_NONE)
        refuse(code, "Embree reports an error");
}

RTCGeometry triangleGeometry(RTCDevice device, const Mesh& mesh, const M44f& toWorld) {
    const RTCGeometry geometry = rtcNewGeometry(device, RTC_GEOMETRY_TYPE_TRIANGLE);
    auto* vertices = static_cast<float*>(
        rtcSetNewGeometryBuffer(geometry, RTC_BUFFER_TYPE_VERTEX, 0, RTC_FORMAT_FLOAT3,
                                3 * sizeof(float), mesh.positions.size()));
    auto* corners = static_cast<std::uint32_t*>(
        rtcSetNewGeometryBuffer(geometry, RTC_BUFFER_TYPE_INDEX, 0, RTC_FORMAT_UINT3,
                                3 * sizeof(std::uint32_t), mesh.triangles.size()));
    if (vertices == nullptr || corners == nullptr)
        refuse(RTC_ERROR_OUT_OF_MEMORY, "not enough memory for its triangles");
    for (const V3f& position : mesh.positions) {
        const V3f world = position * toWorld;
        *vertices++ = world.x;
        *vertices++ = world.y;
        *vertices++ = world.z;
    }
    std::memcpy(corners, mesh.triangles.data(), mesh.triangles.size() * sizeof(mesh.triangles[0]));
    rtcCommitGeometry(geometry);
    return geometry;
}

template <typename T>
T interpolate(const std::vector<T>& values, const std::array<std::uint32_t, 3>& corner, float u,
              float v) {
    return values[corner[0]] * (1.0F - u - v) + values[corner[1]] * u + values[corner[2]] * v;
}

LinearRgb mixed(const std::vector<LinearRgb>& c, const std::array<std::uint32_t, 3>& corner,
                float u, float v) {
    const LinearRgb& a = c[corner[0]];
    const LinearRgb& b = c[corner[1]];
    const LinearRgb& d = c[corner[2]];
    const float w = 1.0F - u - v;
    return {a.r * w + b.r * u + d.r * v, a.g * w + b.g * u + d.g * v, a.b * w + b.b * u + d.b * v};
}

V3f mapped(const Surface& surface, const LinearRgb& texel, float strength) {
    if (surface.tangent.length2() < 0.5F)
        return surface.smoothNormal;
    const V3f bent = surface.tangent * ((texel.r * 2.0F - 1.0F) * strength) +
                     surface.bitangent * ((texel.g * 2.0F - 1.0F) * strength) +
                     surface.smoothNormal * std::max(texel.b * 2.0F - 1.0F, 0.05F);
    return bent.normalized();
}

}  // namespace

Accelerator::Accelerator(const Scene& scene, const std::vector<bool>& keep) : m_scene(scene) {
    m_device = rtcNewDevice(nullptr);
    if (m_device == nullptr)
        refuse(rtcGetDeviceError(nullptr), "Embree can't start on this machine");
    for (const Instance& instance : scene.instances)
        m_normalToWorld.push_back(instance.toWorld.inverse().transposed());
    try {
        build(keep);
    } catch (...) {
        this->~Accelerator();
        throw;
    }
}

Accelerator::~Accelerator() {
    for (RTCScene meshScene : m_meshScenes)
        if (meshScene != nullptr)
            rtcReleaseScene(meshScene);
    m_meshScenes.clear();
    if (m_top != nullptr)
        rtcReleaseScene(m_top);
    m_top = nullptr;
    if (m_device != nullptr)
        rtcReleaseDevice(m_device);
    m_device = nullptr;
}

RTCScene Accelerator::meshScene(int mesh) {
    RTCScene& made = m_meshScenes[static_cast<std::size_t>(mesh)];
    if (made == nullptr) {
        made = rtcNewScene(m_device);
        rtcSetSceneFlags(made, RTC_SCENE_FLAG_ROBUST);
        const RTCGeometry geometry =
            triangleGeometry(m_device, m_scene.meshes[static_cast<std::size_t>(mesh)], M44f());
        rtcAttachGeometry(made, geometry);
        rtcReleaseGeometry(geometry);
        rtcCommitScene(made);
    }
    return made;
}

void Accelerator::build(const std::vector<bool>& keep) {
    m_top = rtcNewScene(m_device);
    rtcSetSceneFlags(m_top, RTC_SCENE_FLAG_ROBUST);
    m_meshScenes.resize(m_scene.meshes.size(), nullptr);
    const bool flatten = triangleCount(m_scene) <= kMostFlattenedTriangles;
    for (std::size_t i = 0; i < m_scene.instances.size(); ++i) {
        const Instance& instance = m_scene.instances[i];
        if (!keep.empty() && !keep[i])
            continue;
        RTCGeometry geometry = nullptr;
        if (flatten) {
            geometry =
                triangleGeometry(m_device, m_scene.meshes[static_cast<std::size_t>(instance.mesh)],
                                 instance.toWorld);
        } else {
            geometry = rtcNewGeometry(m_device, RTC_GEOMETRY_TYPE_INSTANCE);
            rtcSetGeometryInstancedScene(geometry, meshScene(instance.mesh));
            rtcSetGeometryTransform(geometry, 0, RTC_FORMAT_FLOAT4X4_COLUMN_MAJOR,
                                    instance.toWorld.getValue());
            rtcCommitGeometry(geometry);
        }
        rtcAttachGeometryByID(m_top, geometry, static_cast<unsigned>(i));
        rtcReleaseGeometry(geometry);
    }
    rtcCommitScene(m_top);
    checkDevice(m_device);
}

Hit Accelerator::intersect(const V3f& origin, const V3f& direction, float from,
                           float to) const noexcept {
    if (!canTrace(origin, direction))
        return {};
    RTCIntersectContext context;
    rtcInitIntersectContext(&context);
    RTCRayHit query{};
    query.ray = {origin.x,    origin.y, origin.z, from, direction.x, direction.y,
                 direction.z, 0.0F,     to,       ~0U,  0,           0};
    query.hit.geomID = RTC_INVALID_GEOMETRY_ID;
    query.hit.instID[0] = RTC_INVALID_GEOMETRY_ID;
    rtcIntersect1(m_top, &context, &query);
    Hit hit;
    if (query.hit.geomID == RTC_INVALID_GEOMETRY_ID)
        return hit;
    hit.distance = query.ray.tfar;
    hit.instance = static_cast<int>(
        query.hit.instID[0] == RTC_INVALID_GEOMETRY_ID ? query.hit.geomID : query.hit.instID[0]);
    hit.triangle = query.hit.primID;
    hit.u = query.hit.u;
    hit.v = query.hit.v;
    return hit;
}

Hit Accelerator::behindFirst(const V3f& origin, const V3f& direction, bool& missed) const noexcept {
    constexpr int kMostLayers = 256;
    Hit hit = intersect(origin, direction, 0.0F, kNothingHit);
    missed = !hit.any();
    if (missed)
        return hit;
    const auto objectOf = [&](const Hit& h) {
        return m_scene.instances[static_cast<std::size_t>(h.instance)].object;
    };
    const int first = objectOf(hit);
    for (int layer = 0; layer < kMostLayers && hit.any() && objectOf(hit) == first; ++layer) {
        // Past the surface just met, by more than its place is known to.
        const float next = hit.distance + 1e-6F + 4e-6F * hit.distance;
        hit = intersect(origin, direction, next, kNothingHit);
    }
    return hit;
}

bool Accelerator::occluded(const V3f& origin, const V3f& direction, float from,
                           float to) const noexcept {
    if (!canTrace(origin, direction))
        return false;
    RTCIntersectContext context;
    rtcInitIntersectContext(&context);
    RTCRay ray{origin.x,    origin.y, origin.z, from, direction.x, direction.y,
               direction.z, 0.0F,     to,       ~0U,  0,           0};
    rtcOccluded1(m_top, &context, &ray);
    return ray.tfar < 0.0F;
}

V3f Accelerator::normalInWorld(const Hit& hit, const V3f& across, bool ofMesh) const noexcept {
    if (!ofMesh)
        return across.normalized();
    V3f normal;
    m_normalToWorld[static_cast<std::size_t>(hit.instance)].multDirMatrix(across, normal);
    return normal.normalized();
}

Surface Accelerator::surfaceAt(const Hit& hit, const V3f& origin,
                               const V3f& direction) const noexcept {
    const auto index = static_cast<std::size_t>(hit.instance);
    const Instance& instance = m_scene.instances[index];
    const Mesh& mesh = m_scene.meshes[static_cast<std::size_t>(instance.mesh)];
    const auto& corner = mesh.triangles[hit.triangle];
    const V3f& first = mesh.positions[corner[0]];
    V3f side;
    V3f other;
    instance.toWorld.multDirMatrix(mesh.positions[corner[1]] - first, side);
    instance.toWorld.multDirMatrix(mesh.positions[corner[2]] - first, other);

    Surface surface;
    surface.instance = hit.instance;
    surface.material = mesh.material;
    surface.position = origin + direction * hit.distance;
    surface.geometricNormal = side.cross(other).normalized();
    surface.entering = surface.geometricNormal.dot(direction) < 0.0F;
    if (!surface.entering)
        surface.geometricNormal = -surface.geometricNormal;

    surface.normal = surface.geometricNormal;
    if (!mesh.normals.empty()) {
        V3f smooth;
        m_normalToWorld[index].multDirMatrix(interpolate(mesh.normals, corner, hit.u, hit.v),
                                             smooth);
        if (smooth.length2() > 1e-20F) {
            smooth.normalize();
            surface.normal = smooth.dot(surface.geometricNormal) < 0.0F ? -smooth : smooth;
        }
    }
    surface.smoothNormal = surface.normal;
    if (!mesh.texture.empty())
        surface.texture = interpolate(mesh.texture, corner, hit.u, hit.v);
    if (!mesh.colours.empty())
        surface.tint = mixed(mesh.colours, corner, hit.u, hit.v);
    if (!mesh.tangents.empty()) {
        V3f tangent;
        instance.toWorld.multDirMatrix(interpolate(mesh.tangents, corner, hit.u, hit.v), tangent);
        tangent -= surface.smoothNormal * surface.smoothNormal.dot(tangent);
        if (tangent.length2() > 1e-12F) {
            surface.tangent = tangent.normalized();
            surface.bitangent =
                surface.smoothNormal.cross(surface.tangent) * mesh.handedness[corner[0]];
        }
    }
    const Material& material = m_scene.materials[static_cast<std::size_t>(mesh.material)];
    if (material.normalTexture >= 0)
        surface.normal = mapped(
            surface,
            sampleTexture(m_scene.textures[static_cast<std::size_t>(material.normalTexture)].image,
                          surface.texture),
            material.bumpiness);
    // A few units in the last place of the largest number that went into the position.
    const float largest = std::max({std::abs(surface.position.x), std::abs(surface.position.y),
                                    std::abs(surface.position.z), std::abs(origin.x),
                                    std::abs(origin.y), std::abs(origin.z), hit.distance});
    surface.offset = 1e-6F + 2e-6F * largest;
    return surface;
}

const Accelerator& AcceleratorsByName::of(const std::string& names) {
    if (names.empty())
        return m_all;
    std::unique_ptr<Accelerator>& part = m_parts[names];
    if (!part)
        part = std::make_unique<Accelerator>(m_all.scene(), instancesNamed(m_all.scene(), names));
    return *part;
}

V3f leavingFrom(const Surface& surface, const V3f& direction) noexcept {
    const float side = direction.dot(surface.geometricNormal) < 0.0F ? -1.0F : 1.0F;
    return surface.position + surface.geometricNormal * (side * surface.offset);
}

LinearRgb sampleTexture(const Image& image, const V2f& uv) noexcept {
    const float x = (uv.x - std::floor(uv.x)) * static_cast<float>(image.width()) - 0.5F;
    const float y = (1.0F - (uv.y - std::floor(uv.y))) * static_cast<float>(image.height()) - 0.5F;
    if (!std::isfinite(x) || !std::isfinite(y))
        return {};
    const float left = std::floor(x);
    const float upper = std::floor(y);
    const float fx = x - left;
    const float fy = y - upper;
    // Half a pixel at most beyond the picture, which repeats.
    const auto wrap = [](int i, int n) { return i < 0 ? i + n : i >= n ? i - n : i; };
    const int x0 = wrap(static_cast<int>(left), image.width());
    const int y0 = wrap(static_cast<int>(upper), image.height());
    const int x1 = wrap(x0 + 1, image.width());
    const int y1 = wrap(y0 + 1, image.height());
    const auto channel = [&](int c) {
        const float top = image(x0, y0, c) + (image(x1, y0, c) - image(x0, y0, c)) * fx;
        const float bottom = image(x0, y1, c) + (image(x1, y1, c) - image(x0, y1, c)) * fx;
        return top + (bottom - top) * fy;
    };
    return {channel(0), channel(1), channel(2)};
}

}  // namespace noctis
