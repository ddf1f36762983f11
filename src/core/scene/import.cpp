#include "core/scene/import.h"

#include "core/image/error.h"
#include "core/image/large_stack.h"
#include "core/image/trial.h"
#include "core/image/utf8.h"
#include "core/scene/gltf_details.h"
#include "core/scene/import_animation.h"
#include "core/scene/import_materials.h"
#include "core/scene/imported_scene.h"
#include "core/scene/scene_files.h"
#include "core/scene/signature.h"
#include "core/scene/traceable.h"
#include "core/scene/vertex_frames.h"

#include <algorithm>
#include <cmath>
#include <map>

#include <Imath/ImathMatrixAlgo.h>
#include <assimp/Importer.hpp>
#include <assimp/ProgressHandler.hpp>
#include <assimp/config.h>
#include <assimp/postprocess.h>
#include <assimp/scene.h>
#include <fmt/format.h>

namespace noctis {

namespace fs = std::filesystem;

namespace {

constexpr float kSmoothingDegrees = 40.0F;
constexpr int kMaximumNodes = 1'000'000;
constexpr int kMaximumNesting = 512;
constexpr std::size_t kSpareStack = std::size_t{32} << 20U;

V3f vector(const aiVector3D& v) { return {v.x, v.y, v.z}; }

/// Assimp multiplies column vectors; Imath row vectors.
M44f matrix(const aiMatrix4x4& m) {
    return {m.a1, m.b1, m.c1, m.d1, m.a2, m.b2, m.c2, m.d2,
            m.a3, m.b3, m.c3, m.d3, m.a4, m.b4, m.c4, m.d4};
}

class Builder {
public:
    Builder(const aiScene& from, SceneFiles& files)
        : m_from(from), m_files(files), m_path(files.own().path()) {}

    Scene build() {
        importMaterials(m_from, m_files, m_scene);
        for (unsigned i = 0; i < m_from.mNumMeshes; ++i)
            addMesh(*m_from.mMeshes[i]);
        for (unsigned i = 0; i < m_from.mNumCameras; ++i)
            m_cameras[m_from.mCameras[i]->mName.C_Str()] = m_from.mCameras[i];
        for (unsigned i = 0; i < m_from.mNumLights; ++i)
            m_lights[m_from.mLights[i]->mName.C_Str()] = m_from.mLights[i];
        if (m_from.mRootNode != nullptr)
            addNode(*m_from.mRootNode, M44f(), -1, 0);
        if (const std::size_t left = importKeys(m_from, m_nodeIndices, m_animation); left > 0)
            warn(fmt::format("{} of its motion aren't finite and are left out",
                             left == 1 ? std::string("1 key") : fmt::format("{} keys", left)));
        if (!m_animation.keys.empty())
            m_scene.animation = std::make_shared<const Animation>(std::move(m_animation));
        return std::move(m_scene);
    }

private:
    void addMesh(const aiMesh& from) {
        Mesh mesh;
        mesh.name = from.mName.C_Str();
        mesh.material = static_cast<int>(from.mMaterialIndex);
        if (mesh.material >= static_cast<int>(m_scene.materials.size()))
            mesh.material = 0;
        for (unsigned i = 0; i < from.mNumVertices; ++i) {
            mesh.positions.push_back(vector(from.mVertices[i]));
            if (from.HasNormals())
                mesh.normals.push_back(vector(from.mNormals[i]));
            if (from.HasTangentsAndBitangents()) {
                const V3f tangent = vector(from.mTangents[i]);
                mesh.tangents.push_back(tangent);
                const V3f across = vector(from.mNormals[i]).cross(tangent);
                mesh.handedness.push_back(across.dot(vector(from.mBitangents[i])) < 0.0F ? -1.0F
                                                                                         : 1.0F);
            }
            if (from.HasTextureCoords(0))
                mesh.texture.emplace_back(from.mTextureCoords[0][i].x, from.mTextureCoords[0][i].y);
            if (from.HasVertexColors(0))
                mesh.colours.push_back(
                    {from.mColors[0][i].r, from.mColors[0][i].g, from.mColors[0][i].b});
        }
        addTriangles(from, mesh);
        if (mesh.normals.empty())
            addSmoothNormals(mesh, kSmoothingDegrees);
        if (mesh.tangents.empty() && !mesh.texture.empty())
            addTangents(mesh);
        m_scene.meshes.push_back(std::move(mesh));
    }

    void addTriangles(const aiMesh& from, Mesh& mesh) {
        std::size_t notFinite = 0;
        std::size_t noArea = 0;
        for (unsigned i = 0; i < from.mNumFaces; ++i) {
            const aiFace& face = from.mFaces[i];
            if (face.mNumIndices != 3)
                continue;
            const std::array<std::uint32_t, 3> corner{face.mIndices[0], face.mIndices[1],
                                                      face.mIndices[2]};
            if (std::any_of(corner.begin(), corner.end(),
                            [&](std::uint32_t c) { return c >= mesh.positions.size(); }))
                continue;
            const V3f& a = mesh.positions[corner[0]];
            const V3f& b = mesh.positions[corner[1]];
            const V3f& c = mesh.positions[corner[2]];
            if (!isFinite(a) || !isFinite(b) || !isFinite(c))
                ++notFinite;
            else if (!((b - a).cross(c - a).length() > 0.0F))
                ++noArea;
            else
                mesh.triangles.push_back(corner);
        }
        // Left in place they would spoil the bounds.
        for (V3f& position : mesh.positions)
            if (!isFinite(position))
                position =
                    mesh.triangles.empty() ? V3f(0.0F) : mesh.positions[mesh.triangles.front()[0]];
        for (V3f& normal : mesh.normals)
            if (!isFinite(normal))
                normal = V3f(0.0F);
        if (notFinite > 0)
            warn(fmt::format("mesh {} has {} triangles with invalid corners; they are left out",
                             mesh.name, notFinite));
        if (noArea > 0)
            m_scene.notes.push_back(
                fmt::format("mesh {}: {} triangles without area are left out", mesh.name, noArea));
    }

    void addNode(const aiNode& node, const M44f& parent, int parentIndex, int depth) {
        if (depth > kMaximumNesting || ++m_nodes > kMaximumNodes)
            throw Error(ErrorCode::BadFile,
                        fmt::format("{} nests too deeply or has too many nodes", m_path.string()));
        const M44f toWorld = matrix(node.mTransformation) * parent;
        const std::string name = node.mName.C_Str();
        const auto index = static_cast<int>(m_animation.nodes.size());
        m_animation.nodes.push_back({parentIndex, matrix(node.mTransformation), -1});
        m_nodeIndices[name] = index;
        if (node.mNumMeshes > 0)
            addObject(node, toWorld);
        else if (const auto camera = m_cameras.find(name); camera != m_cameras.end())
            addView(*camera->second, toWorld);
        else if (const auto light = m_lights.find(name); light != m_lights.end())
            addLight(*light->second, toWorld, node);
        else if (name == "sky" && node.mMetaData != nullptr)
            addSky(*node.mMetaData);
        else if (node.mNumChildren == 0)
            m_scene.locators.push_back({name, toWorld});
        for (unsigned i = 0; i < node.mNumChildren; ++i)
            addNode(*node.mChildren[i], toWorld, index, depth + 1);
    }

    void addObject(const aiNode& node, const M44f& toWorld) {
        if (!isFinite(toWorld)) {
            warn(fmt::format("object {} stands nowhere and is left out", node.mName.C_Str()));
            return;
        }
        const int object = static_cast<int>(m_scene.objects.size());
        m_scene.objects.emplace_back(node.mName.C_Str());
        const bool isTop = node.mParent == nullptr || node.mParent->mParent == nullptr;
        m_scene.groups.emplace_back((isTop ? &node : node.mParent)->mName.C_Str());
        for (unsigned i = 0; i < node.mNumMeshes; ++i)
            if (node.mMeshes[i] < m_scene.meshes.size() &&
                !m_scene.meshes[node.mMeshes[i]].triangles.empty())
                m_scene.instances.push_back({static_cast<int>(node.mMeshes[i]), object, toWorld});
        m_animation.nodeOfInstance.resize(m_scene.instances.size(), lastNode());
    }

    void addView(const aiCamera& from, const M44f& toWorld) {
        // In glTF a camera sits at its node; Assimp gives the node's place a second time.
        const V3f eye = isGltf() ? V3f(0.0F) : vector(from.mPosition);
        const V3f back = (-vector(from.mLookAt)).normalized();
        const V3f right = vector(from.mUp).cross(back).normalized();
        const V3f up = back.cross(right);
        Camera camera;
        const M44f inNode(right.x, right.y, right.z, 0, up.x, up.y, up.z, 0, back.x, back.y, back.z,
                          0, eye.x, eye.y, eye.z, 1);
        camera.cameraToWorld = inNode * toWorld;
        V3f scale;
        if (!Imath::extractAndRemoveScalingAndShear(camera.cameraToWorld, scale, m_shear, false))
            return;
        const float aspect = from.mAspect > 0.0F ? from.mAspect : 1.0F;
        if (from.mOrthographicWidth > 0.0F)
            camera.orthographicHeight = 2.0F * from.mOrthographicWidth / aspect;
        else
            camera.yfovRadians = 2.0F * std::atan(std::tan(0.5F * from.mHorizontalFOV) / aspect);
        if (from.mClipPlaneNear > 0.0F)
            camera.nearDistance = from.mClipPlaneNear;
        if (from.mClipPlaneFar > camera.nearDistance)
            camera.farDistance = from.mClipPlaneFar;
        if (makeTraceable(camera))
            warn(fmt::format("camera {} had a place or an angle that can't be traced, and was "
                             "brought to one that can",
                             from.mName.C_Str()));
        m_scene.views.push_back({from.mName.C_Str(), camera});
        m_animation.nodeOfView.push_back(lastNode());
        m_animation.viewInNode.push_back(inNode);
    }

    void addLight(const aiLight& from, const M44f& toWorld, const aiNode& node) {
        Light light;
        light.name = from.mName.C_Str();
        light.power = {from.mColorDiffuse.r, from.mColorDiffuse.g, from.mColorDiffuse.b};
        const V3f place = isGltf() ? V3f(0.0F) : vector(from.mPosition);
        light.position = place * toWorld;
        toWorld.multDirMatrix(vector(from.mDirection), light.direction);
        light.direction.normalize();
        switch (from.mType) {
        case aiLightSource_DIRECTIONAL:
            light.kind = LightKind::Sun;
            break;
        case aiLightSource_SPOT:
            light.kind = LightKind::Spot;
            light.innerRadians = from.mAngleInnerCone;
            light.outerRadians = std::max(from.mAngleOuterCone, from.mAngleInnerCone + 1e-3F);
            break;
        case aiLightSource_POINT:
            break;
        default:
            warn(fmt::format("light {} is of an unknown kind and is left out", light.name));
            return;
        }
        if (node.mMetaData != nullptr) {
            number(*node.mMetaData, "radius", light.radius);
            number(*node.mMetaData, "angle", light.angleRadians);
            text(*node.mMetaData, "light_group", light.group);
        }
        if (makeTraceable(light))
            warn(fmt::format("light {} had numbers that aren't finite, and was brought to ones "
                             "that are",
                             light.name));
        m_scene.lights.push_back(light);
        m_animation.nodeOfLight.push_back(lastNode());
        m_animation.lightPositionInNode.push_back(place);
        m_animation.lightDirectionInNode.push_back(vector(from.mDirection));
    }

    /// The node being read: children come after what stands at their parent.
    [[nodiscard]] int lastNode() const { return static_cast<int>(m_animation.nodes.size()) - 1; }

    static void number(const aiMetadata& data, const std::string& key, float& value) {
        double wide = 0.0;
        float narrow = 0.0F;
        if (data.Get(key, wide))
            value = static_cast<float>(wide);
        else if (data.Get(key, narrow))
            value = narrow;
    }

    static void text(const aiMetadata& data, const std::string& key, std::string& value) {
        if (aiString found; data.Get(key, found))
            value = found.C_Str();
    }

    /// Our own scenes keep their sky in the extras of a node of that name.
    void addSky(const aiMetadata& data) {
        Sky sky;
        const auto colour = [&](const std::string& key, LinearRgb& value) {
            number(data, key + "_r", value.r);
            number(data, key + "_g", value.g);
            number(data, key + "_b", value.b);
        };
        colour("zenith", sky.zenith);
        colour("horizon", sky.horizon);
        colour("ground", sky.ground);
        text(data, "light_group", sky.group);
        if (makeTraceable(sky))
            warn("the sky had numbers that aren't finite, and was brought to ones that are");
        m_scene.sky = sky;
    }

    [[nodiscard]] bool isGltf() const {
        return endingOf(m_path) == ".gltf" || endingOf(m_path) == ".glb";
    }

    void warn(std::string sentence) {
        m_scene.warnings.push_back(fmt::format("{}: {}", m_path.filename().string(), sentence));
    }

    const aiScene& m_from;
    SceneFiles& m_files;
    const fs::path& m_path;
    Scene m_scene;
    V3f m_shear;
    std::map<std::string, const aiCamera*> m_cameras;
    std::map<std::string, const aiLight*> m_lights;
    Animation m_animation;
    std::map<std::string, int> m_nodeIndices;
    int m_nodes = 0;
};

/// Ends Assimp's reading by an exception, which it takes for a damaged file.
class Stopping : public Assimp::ProgressHandler {
public:
    explicit Stopping(std::stop_token stop) : m_stop(std::move(stop)) {}
    bool Update(float) override {
        if (m_stop.stop_requested())
            throw std::runtime_error("stopped");
        return true;
    }

private:
    std::stop_token m_stop;
};

}  // namespace

const std::vector<std::string>& readableSceneEndings() {
    static const std::vector<std::string> endings{".gltf", ".glb", ".obj", ".ply",
                                                  ".stl",  ".off", ".fbx", ".dae"};
    return endings;
}

Scene importScene(const fs::path& path, const std::stop_token& stop) {
    const auto file = std::make_shared<const InputFile>(path);
    auto others = tryReading(*file, TrialKind::Scene, {}, stop);
    Scene scene;
    if (!stop.stop_requested())
        // Files are nested as deeply as the trial's stack holds.
        runWithStack(TrialLimits().stack + kSpareStack, [&] {
            scene = importTriedScene(
                {.file = file, .others = std::move(others), .opened = {}, .stop = stop});
        });
    return scene;
}

Scene importTriedScene(const SceneInput& reading) {
    const std::stop_token& stop = reading.stop;
    const fs::path& path = reading.file->path();
    SceneFiles files(reading);
    Assimp::Importer importer;
    importer.SetIOHandler(assimpFilesOf(files));
    importer.SetProgressHandler(new Stopping(stop));  // which the importer deletes
    importer.SetPropertyInteger(AI_CONFIG_PP_SBP_REMOVE,
                                aiPrimitiveType_POINT | aiPrimitiveType_LINE);
    // Normals and tangents are our own: Assimp finds a vertex's neighbours in time that grows with the square of
    // their number, and takes all within a ten-thousandth of the mesh's size for one.
    unsigned steps =
        aiProcess_Triangulate | aiProcess_JoinIdenticalVertices | aiProcess_SortByPType;
    if (endingOf(path) == ".fbx")
        steps |= aiProcess_GlobalScale;
    const aiScene* from = nullptr;
    try {
        from = importer.ReadFile(path.string(), steps);
    } catch (const std::exception& error) {
        if (stop.stop_requested())
            return {};
        throw Error(ErrorCode::BadFile,
                    fmt::format("{} can't be read as a scene ({}); export it again", path.string(),
                                error.what()));
    }
    if (stop.stop_requested())
        return {};
    if (from == nullptr)
        throw Error(ErrorCode::BadFile,
                    fmt::format("{} can't be read as a scene ({}); export it again", path.string(),
                                importer.GetErrorString()));
    Scene scene = Builder(*from, files).build();
    scene.file = path;
    applyGltfDetails(files.own(), scene);
    if (endingOf(path) == ".obj")
        warnOfMissingMaterialFiles(files.own(), scene);
    makeNamesValid(path, scene);
    noteConversions(path, *from, scene);
    addKeyLight(scene);
    if (triangleCount(scene) == 0)
        throw Error(ErrorCode::BadScene,
                    fmt::format("{} has no triangles to render; check the export", path.string()));
    scene.signature = signatureOf(scene);
    if (scene.views.empty()) {
        scene.views.push_back(framingView(boundsOf(scene), 16.0F / 9.0F));
        scene.notes.emplace_back("there is no camera; a view that frames everything was added");
    }
    return scene;
}

}  // namespace noctis
