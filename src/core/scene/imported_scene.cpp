#include "core/scene/imported_scene.h"

#include "core/image/utf8.h"
#include "core/scene/scene_files.h"

#include <algorithm>

#include <assimp/scene.h>
#include <fmt/format.h>

namespace noctis {

namespace fs = std::filesystem;

void warnOfMissingMaterialFiles(const InputFile& obj, Scene& scene) {
    for (const fs::path& file : materialFilesOf(obj))
        if (std::error_code failed; !fs::is_regular_file(file, failed))
            scene.warnings.push_back(fmt::format(
                "{}: its material file {} is missing, so grey is used; put the file beside it",
                obj.path().filename().string(), file.filename().string()));
}

void makeNamesValid(const fs::path& path, Scene& scene) {
    const auto mend = [&](std::string& name) {
        const std::string valid = asUtf8(name);
        if (valid == name)
            return;
        const std::string warning =
            fmt::format("{}: the name {} is not UTF-8 and was read as Latin-1",
                        path.filename().string(), valid);
        if (std::find(scene.warnings.begin(), scene.warnings.end(), warning) ==
            scene.warnings.end())
            scene.warnings.push_back(warning);
        name = valid;
    };
    for (std::string& object : scene.objects)
        mend(object);
    for (std::string& group : scene.groups)
        mend(group);
    for (Mesh& mesh : scene.meshes)
        mend(mesh.name);
    for (Material& material : scene.materials) {
        mend(material.name);
        mend(material.lightGroup);
    }
    for (Texture& texture : scene.textures)
        mend(texture.file);
    for (View& view : scene.views)
        mend(view.name);
    for (Light& light : scene.lights) {
        mend(light.name);
        mend(light.group);
    }
    for (Locator& locator : scene.locators)
        mend(locator.name);
    if (scene.sky)
        mend(scene.sky->group);
    for (std::string& warning : scene.warnings)
        warning = asUtf8(warning);
}

void addKeyLight(Scene& scene) {
    const bool shines = std::any_of(scene.materials.begin(), scene.materials.end(),
                                    [](const Material& material) { return material.emits(); });
    if (shines || scene.sky || !scene.lights.empty())
        return;
    Light key;
    key.name = "key light";
    key.kind = LightKind::Sun;
    key.direction = V3f(0.5F, -0.75F, -0.45F).normalized();
    key.power = {2.6F, 2.5F, 2.35F};
    key.angleRadians = 0.1F;
    key.standIn = true;
    scene.lights.push_back(key);
    if (const Box3f bounds = boundsOf(scene); !bounds.isEmpty())
        scene.standInGround = bounds.min.y;
    scene.notes.emplace_back(
        "there is no light; a key light was added, and a ground for its shadow");
}

void noteConversions(const fs::path& path, const aiScene& from, Scene& scene) {
    const std::string ending = endingOf(path);
    float centimetres = 0.0F;  // the type matters: Assimp gives nothing for another
    if (ending == ".fbx") {
        if (from.mMetaData != nullptr && from.mMetaData->Get("UnitScaleFactor", centimetres))
            scene.notes.push_back(
                fmt::format("one unit of the file is {:g} cm; converted to metres", centimetres));
        scene.notes.emplace_back("the up-axis was converted to +Y");
    } else if (ending == ".dae") {
        scene.notes.emplace_back(
            "units and up axis were converted to metres and +Y, as the file says");
    } else if (ending != ".gltf" && ending != ".glb") {
        scene.notes.emplace_back("the file has no unit; its numbers are read as metres, +Y up");
    }
}

}  // namespace noctis
