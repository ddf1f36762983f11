#include "core/scene/gltf_details.h"

#include "core/image/json_text.h"

#include <algorithm>
#include <array>
#include <cstdint>
#include <cstring>

#include <nlohmann/json.hpp>

namespace noctis {

using Json = nlohmann::json;

namespace {

constexpr std::uint32_t kBinaryMagic = 0x46546C67;
constexpr std::size_t kMostJson = std::size_t{256} << 20U;

/// The JSON of a .gltf, or of a .glb's first chunk. Not an object where it can't be read.
Json readJson(const InputFile& file) {
    std::uint32_t head[5] = {};
    const bool binary = file.readAt(0, head, sizeof head) == sizeof head && head[0] == kBinaryMagic;
    const std::size_t size = binary ? head[3] : file.size();
    if (size > kMostJson)
        return {};
    std::string text(size, '\0');
    text.resize(file.readAt(binary ? sizeof head : 0, text.data(), text.size()));
    return parseJsonIfAny(text);
}

void applyMaterials(const Json& json, Scene& scene) {
    const Json materials = json.value("materials", Json::array());
    for (const Json& from : materials) {
        const std::string name = from.value("name", std::string());
        const auto found =
            std::find_if(scene.materials.begin(), scene.materials.end(),
                         [&](const Material& m) { return !name.empty() && m.name == name; });
        if (found == scene.materials.end())
            continue;
        found->lightGroup = from.value(Json::json_pointer("/extras/light_group"), std::string());
        if (!from.contains("emissiveFactor"))
            continue;
        const Json strength = from.value(
            Json::json_pointer("/extensions/KHR_materials_emissive_strength/emissiveStrength"),
            Json(1.0F));
        const auto factor = from["emissiveFactor"].get<std::array<float, 3>>();
        const float scale = std::max(strength.get<float>(), 0.0F);
        found->emission = {factor[0] * scale, factor[1] * scale, factor[2] * scale};
    }
}

void applyCameras(const Json& json, Scene& scene) {
    const Json cameras = json.value("cameras", Json::array());
    for (const Json& node : json.value("nodes", Json::array())) {
        if (!node.contains("camera"))
            continue;
        const std::string name = node.value("name", std::string());
        const Json& camera = cameras.at(node["camera"].get<std::size_t>());
        for (View& view : scene.views)
            if (view.name == name && camera.contains("perspective"))
                view.camera.yfovRadians =
                    camera["perspective"].value("yfov", view.camera.yfovRadians);
    }
}

}  // namespace

void applyGltfDetails(const InputFile& file, Scene& scene) {
    const std::string ending = endingOf(file.path());
    if (ending != ".gltf" && ending != ".glb")
        return;
    try {
        const Json json = readJson(file);
        if (!json.is_object())
            return;
        applyMaterials(json, scene);
        applyCameras(json, scene);
    } catch (const Json::exception&) {
        // Assimp has read the file; details of a shape the standard does not know are left as it
        // has them.
    }
}

}  // namespace noctis
