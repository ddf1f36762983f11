#include "gltf_writer.h"

#include "core/image/safe_write.h"

#include <algorithm>
#include <cmath>

#include <Imath/ImathMatrixAlgo.h>

namespace demo {

using Json = nlohmann::json;

namespace {

constexpr int kFloat = 5126;
constexpr int kUnsigned = 5125;
constexpr float kDegree = 3.14159265F / 180.0F;

Json matrixJson(const M44f& m) {
    // glTF's columns are Imath's rows.
    Json json = Json::array();
    for (int i = 0; i < 4; ++i)
        for (int j = 0; j < 4; ++j)
            json.push_back(m[i][j]);
    return json;
}

}  // namespace

GltfWriter::GltfWriter() {
    m_json = {{"asset", {{"version", "2.0"}, {"generator", "Noctis demo"}}},
              {"scene", 0},
              {"scenes", Json::array({{{"nodes", Json::array()}}})},
              {"extensionsUsed", {"KHR_lights_punctual", "KHR_materials_emissive_strength"}}};
}

int GltfWriter::paint(const Paint& p) {
    Json json{{"name", p.name},
              {"pbrMetallicRoughness",
               {{"baseColorFactor", {p.colour.r, p.colour.g, p.colour.b, 1.0F}},
                {"roughnessFactor", p.roughness},
                {"metallicFactor", p.metalness}}}};
    const float strength = std::max({p.emission.r, p.emission.g, p.emission.b});
    if (strength > 0.0F) {
        json["emissiveFactor"] = {p.emission.r / strength, p.emission.g / strength,
                                  p.emission.b / strength};
        json["extensions"]["KHR_materials_emissive_strength"]["emissiveStrength"] = strength;
    }
    if (!p.lightGroup.empty())
        json["extras"]["light_group"] = p.lightGroup;
    m_json["materials"].push_back(json);
    return static_cast<int>(m_json["materials"].size()) - 1;
}

template <typename T>
int GltfWriter::accessor(const std::vector<T>& values, const char* type, int componentType,
                         int parts) {
    const std::size_t bytes = values.size() * sizeof(T);
    m_json["bufferViews"].push_back(
        {{"buffer", 0}, {"byteOffset", m_binary.size()}, {"byteLength", bytes}});
    m_binary.append(reinterpret_cast<const char*>(values.data()), bytes);
    m_json["accessors"].push_back(
        {{"bufferView", m_json["bufferViews"].size() - 1},
         {"componentType", componentType},
         {"count", values.size() * sizeof(T) / (4 * static_cast<std::size_t>(parts))},
         {"type", type}});
    return static_cast<int>(m_json["accessors"].size()) - 1;
}

int GltfWriter::mesh(const std::string& name, const Shape& shape, int paint) {
    Json primitive{{"material", paint}};
    primitive["attributes"]["POSITION"] = accessor(shape.positions, "VEC3", kFloat, 3);
    V3f low = shape.positions.front();
    V3f high = low;
    for (const V3f& p : shape.positions)
        for (int d = 0; d < 3; ++d) {
            low[d] = std::min(low[d], p[d]);
            high[d] = std::max(high[d], p[d]);
        }
    m_json["accessors"].back()["min"] = {low.x, low.y, low.z};
    m_json["accessors"].back()["max"] = {high.x, high.y, high.z};
    primitive["attributes"]["NORMAL"] = accessor(shape.normals, "VEC3", kFloat, 3);
    if (!shape.colours.empty())
        primitive["attributes"]["COLOR_0"] = accessor(shape.colours, "VEC3", kFloat, 3);
    primitive["indices"] = accessor(shape.triangles, "SCALAR", kUnsigned, 1);
    m_json["meshes"].push_back({{"name", name}, {"primitives", {primitive}}});
    return static_cast<int>(m_json["meshes"].size()) - 1;
}

void GltfWriter::node(Json json, const M44f& at) {
    json["matrix"] = matrixJson(at);
    m_json["nodes"].push_back(std::move(json));
    m_json["scenes"][0]["nodes"].push_back(m_json["nodes"].size() - 1);
}

void GltfWriter::object(const std::string& name, int mesh, const M44f& at) {
    node({{"name", name}, {"mesh", mesh}}, at);
}

void GltfWriter::object(const std::string& name, const Shape& shape, int paint, const M44f& at) {
    object(name, mesh(name, shape, paint), at);
}

void GltfWriter::view(const std::string& name, const V3f& eye, const V3f& target,
                      float yfovDegrees) {
    m_json["cameras"].push_back({{"name", name},
                                 {"type", "perspective"},
                                 {"perspective",
                                  {{"yfov", yfovDegrees * kDegree},
                                   {"znear", 0.1F},
                                   {"zfar", 4000.0F},
                                   {"aspectRatio", 16.0F / 9.0F}}}});
    node({{"name", name}, {"camera", m_json["cameras"].size() - 1}},
         noctis::lookingAt(eye, target, yfovDegrees * kDegree).cameraToWorld);
}

void GltfWriter::movingView(const std::string& name, const V3f& eye, const V3f& target,
                            const V3f& lastEye, float seconds, float yfovDegrees) {
    view(name, eye, target, yfovDegrees);
    // What moves must be given as translation and rotation.
    Json& node = m_json["nodes"].back();
    const M44f place = noctis::lookingAt(eye, target, 1.0F).cameraToWorld;
    const auto turn = Imath::extractQuat(place).normalized();
    node.erase("matrix");
    node["translation"] = {eye.x, eye.y, eye.z};
    node["rotation"] = {turn.v.x, turn.v.y, turn.v.z, turn.r};
    const int times = accessor(std::vector<float>{0.0F, seconds}, "SCALAR", kFloat, 1);
    m_json["accessors"].back()["min"] = {0.0F};
    m_json["accessors"].back()["max"] = {seconds};
    const int places = accessor(std::vector<V3f>{eye, lastEye}, "VEC3", kFloat, 3);
    m_json["animations"].push_back(
        {{"name", name},
         {"samplers", {{{"input", times}, {"output", places}, {"interpolation", "LINEAR"}}}},
         {"channels",
          {{{"sampler", 0},
            {"target", {{"node", m_json["nodes"].size() - 1}, {"path", "translation"}}}}}}});
}

void GltfWriter::viewFromAbove(const std::string& name, const V3f& centre, float height,
                               float away) {
    m_json["cameras"].push_back({{"name", name},
                                 {"type", "orthographic"},
                                 {"orthographic",
                                  {{"xmag", height * 0.5F * 16.0F / 9.0F},
                                   {"ymag", height * 0.5F},
                                   {"znear", 0.1F},
                                   {"zfar", 200.0F}}}});
    node({{"name", name}, {"camera", m_json["cameras"].size() - 1}},
         Imath::M44f(1, 0, 0, 0, 0, 0, -1, 0, 0, 1, 0, 0, centre.x, centre.y + away, centre.z, 1));
}

void GltfWriter::sun(const std::string& name, const V3f& from, const LinearRgb& irradiance,
                     float angleDegrees) {
    light(name, "directional", irradiance, {{"angle", angleDegrees * kDegree}},
          noctis::lookingAt(from, V3f(0.0F), 1.0F).cameraToWorld);
}

void GltfWriter::lamp(const std::string& name, const V3f& at, const LinearRgb& intensity,
                      float radius) {
    light(name, "point", intensity, {{"radius", radius}}, placed(at));
}

void GltfWriter::light(const std::string& name, const char* type, const LinearRgb& strength,
                       const Json& extras, const M44f& at) {
    // The standard keeps a light's colour within 1.
    const float most = std::max({strength.r, strength.g, strength.b});
    Json& lights = m_json["extensions"]["KHR_lights_punctual"]["lights"];
    lights.push_back({{"name", name},
                      {"type", type},
                      {"color", {strength.r / most, strength.g / most, strength.b / most}},
                      {"intensity", most}});
    node({{"name", name},
          {"extras", extras},
          {"extensions", {{"KHR_lights_punctual", {{"light", lights.size() - 1}}}}}},
         at);
}

void GltfWriter::locator(const std::string& name, const V3f& at) {
    node({{"name", name}}, placed(at));
}

void GltfWriter::extras(const std::string& name, const Json& numbers) {
    node({{"name", name}, {"extras", numbers}}, M44f());
}

void GltfWriter::write(const std::filesystem::path& folder, const std::string& name) {
    std::filesystem::create_directories(folder);
    m_json["buffers"] = Json::array({{{"uri", name + ".bin"}, {"byteLength", m_binary.size()}}});
    noctis::writeTextFile(folder / (name + ".bin"), m_binary);
    noctis::writeTextFile(folder / (name + ".gltf"), m_json.dump() + "\n");
}

}  // namespace demo
