#include "core/relief/relief_mesh.h"

#include "core/image/error.h"
#include "core/image/safe_write.h"
#include "core/passes/pass_attributes.h"

#include <algorithm>
#include <cmath>

#include <assimp/Exporter.hpp>
#include <assimp/scene.h>
#include <fmt/format.h>
#include <meshoptimizer.h>

namespace noctis {

namespace fs = std::filesystem;

namespace {

constexpr std::uint32_t kNone = ~0U;
using Triangle = std::array<std::uint32_t, 3>;

/// The solid before it is thinned, with each cell's corner on its top.
struct Whole {
    ReliefMesh mesh;
    std::size_t topTriangles = 0;
    std::size_t topCorners = 0;
};

Whole wholeMesh(const HeightField& field, const ReliefMeshSettings& settings) {
    Whole whole;
    ReliefMesh& mesh = whole.mesh;
    const int w = field.width();
    const int h = field.height();
    const Image& z = field.heights;
    const float m = field.metresAPixel;
    std::vector<std::uint32_t> corner(static_cast<std::size_t>(w) * static_cast<std::size_t>(h),
                                      kNone);
    const auto at = [&](int x, int y) -> std::uint32_t& {
        return corner[static_cast<std::size_t>(y) * static_cast<std::size_t>(w) +
                      static_cast<std::size_t>(x)];
    };
    const auto known = [&](int x, int y) { return std::isfinite(z(x, y, 0)); };
    const auto place = [&](int x, int y) {
        if (std::uint32_t& index = at(x, y); index == kNone) {
            index = static_cast<std::uint32_t>(mesh.positions.size());
            mesh.positions.emplace_back(
                (static_cast<float>(x) + 0.5F - 0.5F * static_cast<float>(w)) * m, z(x, y, 0),
                (static_cast<float>(y) + 0.5F - 0.5F * static_cast<float>(h)) * m);
        }
        return at(x, y);
    };
    const auto whole4 = [&](int x, int y) {
        return x >= 0 && y >= 0 && x + 1 < w && y + 1 < h && known(x, y) && known(x + 1, y) &&
               known(x, y + 1) && known(x + 1, y + 1);
    };
    for (int y = 0; y + 1 < h; ++y)
        for (int x = 0; x + 1 < w; ++x) {
            if (!whole4(x, y))
                continue;
            const std::uint32_t a = place(x, y);
            const std::uint32_t b = place(x + 1, y);
            const std::uint32_t c = place(x, y + 1);
            const std::uint32_t d = place(x + 1, y + 1);
            mesh.triangles.push_back({a, c, b});
            mesh.triangles.push_back({b, c, d});
        }
    if (mesh.triangles.empty())
        throw Error(ErrorCode::BadFile, "no four heights beside each other are known: there is "
                                        "nothing to make a solid of");
    whole.topTriangles = mesh.triangles.size();
    whole.topCorners = mesh.positions.size();
    if (!settings.closed)
        return whole;
    // The floor mirrors the top's triangles, and walls stand on every edge with one triangle.
    float lowest = kNothingHit;
    for (const V3f& p : mesh.positions)
        lowest = std::min(lowest, p.y);
    const float floor = lowest - std::max(settings.base, 1e-6F);
    const auto below = static_cast<std::uint32_t>(mesh.positions.size());
    for (std::uint32_t i = 0; i < below; ++i)
        mesh.positions.emplace_back(mesh.positions[i].x, floor, mesh.positions[i].z);
    for (std::size_t i = 0; i < whole.topTriangles; ++i) {
        const Triangle t = mesh.triangles[i];
        mesh.triangles.push_back({t[0] + below, t[2] + below, t[1] + below});
    }
    const auto wall = [&](std::uint32_t from, std::uint32_t to) {  // as its top triangle runs
        mesh.triangles.push_back({from, from + below, to});
        mesh.triangles.push_back({to, from + below, to + below});
    };
    for (int y = 0; y + 1 < h; ++y)
        for (int x = 0; x + 1 < w; ++x) {
            if (!whole4(x, y))
                continue;
            if (!whole4(x, y - 1))
                wall(at(x + 1, y), at(x, y));
            if (!whole4(x, y + 1))
                wall(at(x, y + 1), at(x + 1, y + 1));
            if (!whole4(x - 1, y))
                wall(at(x, y), at(x, y + 1));
            if (!whole4(x + 1, y))
                wall(at(x + 1, y + 1), at(x + 1, y));
        }
    return whole;
}

/// The farthest that heights lie off a solid's top: every cell's middle against the highest triangle there.
float measured(const HeightField& field, const ReliefMesh& mesh) {
    const int w = field.width();
    const int h = field.height();
    Image top(w, h, {"Y"}, -kNothingHit);
    float* to = top.editPlane(0);
    const float m = field.metresAPixel;
    const auto cellX = [&](const V3f& p) { return p.x / m + 0.5F * static_cast<float>(w) - 0.5F; };
    const auto cellY = [&](const V3f& p) { return p.z / m + 0.5F * static_cast<float>(h) - 0.5F; };
    for (const Triangle& t : mesh.triangles) {
        const V3f& a = mesh.positions[t[0]];
        const V3f& b = mesh.positions[t[1]];
        const V3f& c = mesh.positions[t[2]];
        const float ax = cellX(a), ay = cellY(a), bx = cellX(b), by = cellY(b), cx = cellX(c),
                    cy = cellY(c);
        const float area = (bx - ax) * (cy - ay) - (cx - ax) * (by - ay);
        if (area >= -1e-6F)  // walls, and what is seen from below
            continue;
        constexpr float kSlack = 1e-3F;
        const int y0 = std::max(0, static_cast<int>(std::ceil(std::min({ay, by, cy}) - kSlack)));
        const int y1 =
            std::min(h - 1, static_cast<int>(std::floor(std::max({ay, by, cy}) + kSlack)));
        const int x0 = std::max(0, static_cast<int>(std::ceil(std::min({ax, bx, cx}) - kSlack)));
        const int x1 =
            std::min(w - 1, static_cast<int>(std::floor(std::max({ax, bx, cx}) + kSlack)));
        for (int y = y0; y <= y1; ++y)
            for (int x = x0; x <= x1; ++x) {
                const auto px = static_cast<float>(x);
                const auto py = static_cast<float>(y);
                const float u = ((bx - px) * (cy - py) - (cx - px) * (by - py)) / area;
                const float v = ((cx - px) * (ay - py) - (ax - px) * (cy - py)) / area;
                if (u < -kSlack || v < -kSlack || u + v > 1.0F + kSlack)
                    continue;
                float& there = to[top.rowStride() * y + x];
                there = std::max(there, u * a.y + v * b.y + (1.0F - u - v) * c.y);
            }
    }
    float most = 0.0F;
    for (int y = 0; y < h; ++y)
        for (int x = 0; x < w; ++x)
            if (const float z = field.heights(x, y, 0);
                std::isfinite(z) && std::isfinite(top(x, y, 0)))
                most = std::max(most, std::abs(z - top(x, y, 0)));
    return most;
}

/// Only the corners that triangles use.
void compact(ReliefMesh& mesh) {
    std::vector<std::uint32_t> kept(mesh.positions.size(), kNone);
    std::vector<V3f> positions;
    for (Triangle& t : mesh.triangles)
        for (std::uint32_t& index : t) {
            if (kept[index] == kNone) {
                kept[index] = static_cast<std::uint32_t>(positions.size());
                positions.push_back(mesh.positions[index]);
            }
            index = kept[index];
        }
    mesh.positions = std::move(positions);
}

ReliefMesh thinned(const ReliefMesh& mesh, std::size_t triangles, float metres) {
    ReliefMesh thin;
    thin.positions = mesh.positions;
    thin.triangles.resize(mesh.triangles.size());
    // What the library calls an error is a part of the longest side.
    const float extent =
        meshopt_simplifyScale(&mesh.positions[0].x, mesh.positions.size(), sizeof(V3f));
    const std::size_t count = meshopt_simplify(
        thin.triangles[0].data(), mesh.triangles[0].data(), mesh.triangles.size() * 3,
        &mesh.positions[0].x, mesh.positions.size(), sizeof(V3f),
        std::max<std::size_t>(triangles, 4) * 3, metres / std::max(extent, 1e-9F), 0, nullptr);
    thin.triangles.resize(count / 3);
    compact(thin);
    return thin;
}

}  // namespace

ReliefMesh reliefMesh(const HeightField& field, const ReliefMeshSettings& settings,
                      const RunContext& run) {
    Whole whole = wholeMesh(field, settings);
    if (settings.triangles == 0 && settings.heightError <= 0.0F)
        return std::move(whole.mesh);
    if (settings.heightError <= 0.0F) {
        ReliefMesh thin = thinned(whole.mesh, settings.triangles, kNothingHit);
        thin.heightError = measured(field, thin);
        return thin;
    }
    // What the library allows is not quite what the map is off: it is measured, and asked for less until it holds.
    const auto requireBudget = [&](const ReliefMesh& mesh) {
        if (settings.triangles > 0 &&
            mesh.triangles.size() > settings.triangles + settings.triangles / 20)
            throw Error(ErrorCode::BadSetting,
                        fmt::format("{} triangles can't keep within {}; {} can", settings.triangles,
                                    lengthText(static_cast<double>(settings.heightError)),
                                    mesh.triangles.size()));
    };
    float allowed = settings.heightError;
    for (int round = 0; round < 12 && !run.stopped(); ++round) {
        ReliefMesh thin = thinned(whole.mesh, settings.triangles, allowed);
        thin.heightError = measured(field, thin);
        if (thin.heightError <= settings.heightError) {
            requireBudget(thin);
            return thin;
        }
        allowed *= 0.6F * std::max(settings.heightError / thin.heightError, 0.2F);
    }
    requireBudget(whole.mesh);
    return std::move(whole.mesh);
}

Scene sceneOf(const ReliefMesh& mesh, const std::string& name) {
    Scene scene;
    Mesh one;
    one.name = name;
    one.positions = mesh.positions;
    one.triangles = mesh.triangles;
    scene.meshes.push_back(std::move(one));
    scene.objects.push_back(name);
    scene.groups.push_back(name);
    scene.materials.push_back({.name = "relief"});
    scene.instances.push_back({0, 0, M44f()});
    return scene;
}

const std::vector<std::string>& meshEndings() {
    static const std::vector<std::string> endings{".glb", ".ply", ".obj", ".stl"};
    return endings;
}

void writeReliefMesh(const fs::path& path, const ReliefMesh& mesh, const std::string& name) {
    const std::string ending = lower(path.extension().string());
    const std::vector<std::pair<std::string, const char*>> formats{
        {".glb", "glb2"}, {".ply", "plyb"}, {".obj", "obj"}, {".stl", "stlb"}};
    const auto format = std::find_if(formats.begin(), formats.end(),
                                     [&](const auto& f) { return f.first == ending; });
    if (format == formats.end())
        throw Error(ErrorCode::UnknownName,
                    fmt::format("{}: a solid is written as .glb, .ply, .obj or .stl",
                                path.filename().string()));
    aiScene scene;
    scene.mNumMaterials = 1;
    scene.mMaterials = new aiMaterial* [1] { new aiMaterial };
    scene.mNumMeshes = 1;
    scene.mMeshes = new aiMesh* [1] { new aiMesh };
    aiMesh& out = *scene.mMeshes[0];
    out.mName = name;
    out.mPrimitiveTypes = aiPrimitiveType_TRIANGLE;
    out.mNumVertices = static_cast<unsigned>(mesh.positions.size());
    out.mVertices = new aiVector3D[mesh.positions.size()];
    for (std::size_t i = 0; i < mesh.positions.size(); ++i)
        out.mVertices[i] = {mesh.positions[i].x, mesh.positions[i].y, mesh.positions[i].z};
    out.mNumFaces = static_cast<unsigned>(mesh.triangles.size());
    out.mFaces = new aiFace[mesh.triangles.size()];
    for (std::size_t i = 0; i < mesh.triangles.size(); ++i) {
        out.mFaces[i].mNumIndices = 3;
        out.mFaces[i].mIndices =
            new unsigned[3]{mesh.triangles[i][0], mesh.triangles[i][1], mesh.triangles[i][2]};
    }
    scene.mRootNode = new aiNode;
    scene.mRootNode->mName = name;
    scene.mRootNode->mNumMeshes = 1;
    scene.mRootNode->mMeshes = new unsigned[1]{0};
    Assimp::Exporter exporter;
    writeThenRename(path, [&](const fs::path& beside) {
        const aiExportDataBlob* blob = exporter.ExportToBlob(&scene, format->second);
        if (blob == nullptr)
            throwCannotWrite(path, exporter.GetErrorString());
        writeTextFile(beside, {static_cast<const char*>(blob->data), blob->size});
    });
}

}  // namespace noctis
