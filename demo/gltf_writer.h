#pragma once

#include "shape.h"

#include <filesystem>
#include <memory>
#include <string>

#include <nlohmann/json.hpp>

namespace demo {

/// A surface of the demo, as glTF describes it.
struct Paint {
    std::string name;
    LinearRgb colour{};
    float roughness = 0.8F;
    float metalness = 0.0F;
    LinearRgb emission{};  ///< beyond 1 goes through KHR_materials_emissive_strength
    std::string lightGroup{};
};

/// Collects a scene and writes it as .gltf with a .bin beside it.
class GltfWriter {
public:
    GltfWriter();
    int paint(const Paint& paint);
    /// A mesh to be placed any number of times.
    int mesh(const std::string& name, const Shape& shape, int paint);
    void object(const std::string& name, int mesh, const M44f& at = M44f());
    /// The usual case: a shape placed once.
    void object(const std::string& name, const Shape& shape, int paint, const M44f& at = M44f());
    void view(const std::string& name, const V3f& eye, const V3f& target, float yfovDegrees);
    /// A view that moves straight from its place to another within so many seconds.
    void movingView(const std::string& name, const V3f& eye, const V3f& target, const V3f& lastEye,
                    float seconds, float yfovDegrees);
    void viewFromAbove(const std::string& name, const V3f& centre, float height, float away);
    void sun(const std::string& name, const V3f& from, const LinearRgb& irradiance,
             float angleDegrees);
    /// A small sphere that shines evenly all around. intensity: radiant intensity; radius: m
    void lamp(const std::string& name, const V3f& at, const LinearRgb& intensity, float radius);
    void locator(const std::string& name, const V3f& at);
    /// A node with plain numbers in its extras.
    void extras(const std::string& name, const nlohmann::json& numbers);
    void write(const std::filesystem::path& folder, const std::string& name);

private:
    template <typename T>
    int accessor(const std::vector<T>& values, const char* type, int componentType, int parts);
    void light(const std::string& name, const char* type, const LinearRgb& strength,
               const nlohmann::json& extras, const M44f& at);
    void node(nlohmann::json node, const M44f& at);

    nlohmann::json m_json;
    std::string m_binary;
};

}  // namespace demo
