#include "core/scene/import_materials.h"

#include "core/image/colour.h"
#include "core/image/error.h"
#include "core/image/image_file.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <utility>

#include <OpenImageIO/filesystem.h>
#include <OpenImageIO/imageio.h>
#include <assimp/GltfMaterial.h>
#include <assimp/material.h>
#include <assimp/scene.h>
#include <fmt/format.h>

namespace noctis {

namespace fs = std::filesystem;

namespace {

LinearRgb colourOf(const aiColor4D& c) { return {c.r, c.g, c.b}; }

Image asRgb(const Image& image) {
    const int last = image.channels() - 1;
    return image.select({0, std::min(1, last >= 2 ? 1 : 0), std::min(2, last >= 2 ? 2 : 0)},
                        {"R", "G", "B"});
}

/// A texture packed into the scene file, still as PNG or JPEG.
Image decodeEmbedded(const aiTexture& texture) {
    if (texture.mHeight != 0) {
        Image image = Image::filled(static_cast<int>(texture.mWidth),
                                    static_cast<int>(texture.mHeight), 3, 0.0F);
        for (int c = 0; c < 3; ++c) {
            float* plane = image.editPlane(c);
            for (int y = 0; y < image.height(); ++y)
                for (int x = 0; x < image.width(); ++x) {
                    const aiTexel& t = texture.pcData[y * image.width() + x];
                    const unsigned char value = c == 0 ? t.r : (c == 1 ? t.g : t.b);
                    plane[image.rowStride() * y + x] = static_cast<float>(value) / 255.0F;
                }
        }
        return image;
    }
    OIIO::Filesystem::IOMemReader reader(texture.pcData, texture.mWidth);
    const std::string name = fmt::format("texture.{}", texture.achFormatHint);
    auto input = OIIO::ImageInput::open(name, nullptr, &reader);
    if (!input) {
        (void)OIIO::geterror();
        throw Error(ErrorCode::BadFile, "it is embedded in the scene and can't be read");
    }
    const OIIO::ImageSpec spec = input->spec();
    Image image = Image::filled(spec.width, spec.height, spec.nchannels, 0.0F);
    std::vector<float> samples(spec.image_pixels() * static_cast<std::size_t>(spec.nchannels));
    if (!input->read_image(0, 0, 0, -1, OIIO::TypeFloat, samples.data()))
        throw Error(ErrorCode::BadFile, "an embedded texture is damaged");
    for (int c = 0; c < spec.nchannels; ++c) {
        float* plane = image.editPlane(c);
        auto from = static_cast<std::size_t>(c);
        for (int y = 0; y < spec.height; ++y)
            for (int x = 0; x < spec.width; ++x, from += static_cast<std::size_t>(spec.nchannels))
                plane[image.rowStride() * y + x] = samples[from];
    }
    return image;
}

class TextureReader {
public:
    TextureReader(const aiScene& from, SceneFiles& files, Scene& scene)
        : m_from(from), m_files(files), m_sceneFile(files.own().path()), m_scene(scene) {}

    /// The index of a texture, read once, or -1.
    int read(const aiMaterial& material, aiTextureType type, unsigned slot, bool isColour) {
        aiString file;
        if (material.GetTexture(type, slot, &file) != aiReturn_SUCCESS)
            return -1;
        const auto key = std::make_pair(std::string(file.C_Str()), isColour);
        if (const auto known = m_known.find(key); known != m_known.end())
            return known->second;
        int index = -1;
        try {
            Image image = load(file, isColour);
            index = static_cast<int>(m_scene.textures.size());
            m_scene.textures.push_back({key.first, std::move(image)});
        } catch (const Error& error) {
            m_scene.warnings.push_back(fmt::format("{}: texture {} is left out: {}",
                                                   m_sceneFile.filename().string(), key.first,
                                                   error.what()));
        }
        m_known[key] = index;
        return index;
    }

private:
    [[nodiscard]] Image load(const aiString& file, bool isColour) const {
        Image image;
        bool linear = false;
        if (const aiTexture* embedded = m_from.GetEmbeddedTexture(file.C_Str())) {
            image = decodeEmbedded(*embedded);
        } else {
            std::string name = file.C_Str();
            std::replace(name.begin(), name.end(), '\\', '/');
            const fs::path path = m_sceneFile.parent_path() / name;
            const FileInfo info = readTriedFileInfo(m_files.open(path));
            std::vector<int> channels;
            for (int c = 0; c < std::min<int>(4, static_cast<int>(info.channels.size())); ++c)
                channels.push_back(c);
            image = readFileChannels(info, channels);
            linear = info.sceneLinear;
        }
        image = asRgb(image);
        return isColour && !linear ? linearFromSrgb(image) : image;
    }

    const aiScene& m_from;
    SceneFiles& m_files;
    const fs::path& m_sceneFile;
    Scene& m_scene;
    std::map<std::pair<std::string, bool>, int> m_known;
};

Material importMaterial(const aiMaterial& from, TextureReader& textures) {
    Material material;
    material.name = from.GetName().C_Str();
    aiColor4D colour;
    if (from.Get(AI_MATKEY_BASE_COLOR, colour) == aiReturn_SUCCESS ||
        from.Get(AI_MATKEY_COLOR_DIFFUSE, colour) == aiReturn_SUCCESS)
        material.baseColour = colourOf(colour);
    float number = 0.0F;
    if (from.Get(AI_MATKEY_ROUGHNESS_FACTOR, number) == aiReturn_SUCCESS)
        material.roughness = number;
    else if (from.Get(AI_MATKEY_SHININESS, number) == aiReturn_SUCCESS && number > 0.0F)
        material.roughness = std::sqrt(std::sqrt(2.0F / (number + 2.0F)));
    if (from.Get(AI_MATKEY_METALLIC_FACTOR, number) == aiReturn_SUCCESS)
        material.metalness = number;
    if (from.Get(AI_MATKEY_COLOR_EMISSIVE, colour) == aiReturn_SUCCESS)
        material.emission = colourOf(colour);
    if (from.Get(AI_MATKEY_EMISSIVE_INTENSITY, number) == aiReturn_SUCCESS)
        material.emission = {material.emission.r * number, material.emission.g * number,
                             material.emission.b * number};
    if (from.Get(AI_MATKEY_TRANSMISSION_FACTOR, number) == aiReturn_SUCCESS)
        material.transmission = number;
    else if (from.Get(AI_MATKEY_OPACITY, number) == aiReturn_SUCCESS && number < 1.0F)
        material.transmission = 1.0F - number;
    if (from.Get(AI_MATKEY_REFRACTI, number) == aiReturn_SUCCESS && number > 1.0F)
        material.refraction = number;
    material.baseTexture = textures.read(from, aiTextureType_BASE_COLOR, 0, true);
    if (material.baseTexture < 0)
        material.baseTexture = textures.read(from, aiTextureType_DIFFUSE, 0, true);
    material.roughnessTexture = textures.read(from, aiTextureType_UNKNOWN, 0, false);
    material.emissionTexture = textures.read(from, aiTextureType_EMISSIVE, 0, true);
    material.normalTexture = textures.read(from, aiTextureType_NORMALS, 0, false);
    return material;
}

void tame(Material& material) {
    const auto unit = [](float& v) { v = std::isfinite(v) ? std::clamp(v, 0.0F, 1.0F) : 0.5F; };
    const auto positive = [](float& v) { v = std::isfinite(v) ? std::max(v, 0.0F) : 0.0F; };
    unit(material.roughness);
    unit(material.metalness);
    unit(material.transmission);
    unit(material.baseColour.r);
    unit(material.baseColour.g);
    unit(material.baseColour.b);
    positive(material.emission.r);
    positive(material.emission.g);
    positive(material.emission.b);
}

}  // namespace

void importMaterials(const aiScene& from, SceneFiles& files, Scene& scene) {
    TextureReader textures(from, files, scene);
    for (unsigned i = 0; i < from.mNumMaterials; ++i) {
        scene.materials.push_back(importMaterial(*from.mMaterials[i], textures));
        tame(scene.materials.back());
    }
    if (scene.materials.empty())
        scene.materials.push_back({.name = "grey"});
}

}  // namespace noctis
