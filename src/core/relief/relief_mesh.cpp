#include "core/relief/relief_mesh.h"

#include "core/image/error.h"
#include "core/image/safe_write.h"
#include "core/passes/pass_attributes.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <unordered_set>

#include <assimp/Exporter.hpp>
#include <assimp/scene.h>
#include <fmt/format.h>

namespace noctis {

namespace fs = std::filesystem;

namespace {

constexpr std::uint32_t kNone = ~0U;
using Triangle = std::array<std::uint32_t, 3>;

/// Right-angled triangles that are halved where the map needs it.
///
/// Exact    neighbours always meet; what touches a hole is halved down to the cells.
/// Source   Evans, Kirkpatrick, Townsend 2001, Right-Triangulated Irregular Networks; errors from the smallest
///          triangles up, so that one whose error is allowed has none below it that isn't.
class HalvedTriangles {
public:
    explicit HalvedTriangles(const HeightField& field) : m_field(field) {
        while (m_side < std::max(field.width(), field.height()) - 1)
            m_side *= 2;
        m_errors.assign(static_cast<std::size_t>(m_side + 1) * static_cast<std::size_t>(m_side + 1),
                        0.0F);
        measure();
    }

    /// Calls emit(a, b, c) for each triangle with three known corners, in cells.
    template <typename Emit> void cut(float allowed, const Emit& emit) const {
        halve({{{0, 0}, {m_side, m_side}, {m_side, 0}}}, allowed, emit);
        halve({{{m_side, m_side}, {0, 0}, {0, m_side}}}, allowed, emit);
    }

private:
    struct Corner {
        int x;
        int y;
    };
    using Corners = std::array<Corner, 3>;  ///< the two ends of the long side, and the right angle

    [[nodiscard]] float at(const Corner& c) const noexcept {
        return c.x < m_field.width() && c.y < m_field.height()
                   ? m_field.heights(c.x, c.y, 0)
                   : std::numeric_limits<float>::quiet_NaN();
    }
    [[nodiscard]] std::size_t index(int x, int y) const noexcept {
        return static_cast<std::size_t>(y) * static_cast<std::size_t>(m_side + 1) +
               static_cast<std::size_t>(x);
    }
    static Corner middle(const Corner& a, const Corner& b) noexcept {
        return {(a.x + b.x) / 2, (a.y + b.y) / 2};
    }

    /// From the smallest triangles to the two largest.
    void measure() {
        const std::int64_t side = m_side;
        const std::int64_t all = 2 * side * side - 2;
        const std::int64_t parents = all - side * side;
        for (std::int64_t i = all - 1; i >= 0; --i) {
            Corner a{0, 0};
            Corner b{0, 0};
            Corner c{0, 0};
            std::int64_t id = i + 2;
            if ((id & 1) != 0)
                b = {m_side, m_side}, c = {m_side, 0};
            else
                a = {m_side, m_side}, c = {0, m_side};
            while ((id >>= 1) > 1) {
                const Corner m = middle(a, b);
                if ((id & 1) != 0) {
                    b = a;
                    a = c;
                } else {
                    a = b;
                    b = c;
                }
                c = m;
            }
            const Corner m = middle(a, b);
            const float off = std::abs(0.5F * (at(a) + at(b)) - at(m));
            float& error = m_errors[index(m.x, m.y)];
            // What is not known must not lie within a larger triangle, nor at its corners.
            error = std::max(error, std::isfinite(off + at(c)) ? off : kNothingHit);
            if (i < parents)
                for (const Corner& child : {middle(a, c), middle(b, c)})
                    error = std::max(error, m_errors[index(child.x, child.y)]);
        }
    }

    template <typename Emit> void halve(const Corners& t, float allowed, const Emit& emit) const {
        const auto& [a, b, c] = t;
        const Corner m = middle(a, b);
        if (std::abs(a.x - c.x) + std::abs(a.y - c.y) > 1 && m_errors[index(m.x, m.y)] > allowed) {
            halve({{c, a, m}}, allowed, emit);
            halve({{b, c, m}}, allowed, emit);
        } else if (std::isfinite(at(a) + at(b) + at(c))) {
            emit(a.x, a.y, b.x, b.y, c.x, c.y);
        }
    }

    const HeightField& m_field;
    int m_side = 1;
    std::vector<float> m_errors;
};

std::size_t countOf(const HalvedTriangles& halved, float allowed) {
    std::size_t count = 0;
    halved.cut(allowed, [&](int, int, int, int, int, int) { ++count; });
    return count;
}

ReliefMesh topOf(const HeightField& field, const HalvedTriangles& halved, float allowed) {
    ReliefMesh mesh;
    const int w = field.width();
    const int h = field.height();
    const float m = field.metresPerPixel;
    std::vector<std::uint32_t> corner(static_cast<std::size_t>(w) * static_cast<std::size_t>(h),
                                      kNone);
    const auto place = [&](int x, int y) {
        std::uint32_t& index = corner[static_cast<std::size_t>(y) * static_cast<std::size_t>(w) +
                                      static_cast<std::size_t>(x)];
        if (index == kNone) {
            index = static_cast<std::uint32_t>(mesh.positions.size());
            mesh.positions.emplace_back(
                (static_cast<float>(x) + 0.5F - 0.5F * static_cast<float>(w)) * m,
                field.heights(x, y, 0),
                (static_cast<float>(y) + 0.5F - 0.5F * static_cast<float>(h)) * m);
        }
        return index;
    };
    halved.cut(allowed, [&](int ax, int ay, int bx, int by, int cx, int cy) {
        const bool turned = (bx - ax) * (cy - ay) - (cx - ax) * (by - ay) > 0;
        const std::uint32_t a = place(ax, ay);
        const std::uint32_t b = place(bx, by);
        const std::uint32_t c = place(cx, cy);
        mesh.triangles.push_back(turned ? Triangle{a, c, b} : Triangle{a, b, c});
    });
    if (mesh.triangles.empty())
        throw Error(ErrorCode::BadFile,
                    "no neighbouring heights are known, so there is nothing to make a solid of");
    return mesh;
}

/// The same with a floor that mirrors the top's triangles, and walls on every edge that has one triangle.
ReliefMesh closed(ReliefMesh mesh, float base) {
    std::unordered_set<std::uint64_t> open;
    const auto key = [](std::uint32_t from, std::uint32_t to) {
        return std::uint64_t{from} << 32U | to;
    };
    for (const Triangle& t : mesh.triangles)
        for (std::size_t i = 0; i < 3; ++i)
            if (open.erase(key(t[(i + 1) % 3], t[i])) == 0)
                open.insert(key(t[i], t[(i + 1) % 3]));
    float lowest = kNothingHit;
    for (const V3f& p : mesh.positions)
        lowest = std::min(lowest, p.y);
    const float floor = lowest - std::max(base, 1e-6F);
    const auto below = static_cast<std::uint32_t>(mesh.positions.size());
    for (std::uint32_t i = 0; i < below; ++i)
        mesh.positions.emplace_back(mesh.positions[i].x, floor, mesh.positions[i].z);
    const std::size_t top = mesh.triangles.size();
    for (std::size_t i = 0; i < top; ++i) {
        const Triangle t = mesh.triangles[i];
        mesh.triangles.push_back({t[0] + below, t[2] + below, t[1] + below});
    }
    std::vector<std::uint64_t> edges(open.begin(), open.end());
    std::sort(edges.begin(), edges.end());  // the same file for the same map
    for (const std::uint64_t edge : edges) {
        const auto from = static_cast<std::uint32_t>(edge >> 32U);
        const auto to = static_cast<std::uint32_t>(edge);
        mesh.triangles.push_back({from, from + below, to});
        mesh.triangles.push_back({to, from + below, to + below});
    }
    return mesh;
}

/// The farthest that heights lie off a solid's top: every cell's middle against the highest triangle there.
float measured(const HeightField& field, const ReliefMesh& mesh) {
    const int w = field.width();
    const int h = field.height();
    Image top(w, h, {"Y"}, -kNothingHit);
    float* to = top.editPlane(0);
    const float m = field.metresPerPixel;
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
    std::size_t known = 0;
    std::size_t bare = 0;
    for (int y = 0; y < h; ++y)
        for (int x = 0; x < w; ++x) {
            const float z = field.heights(x, y, 0);
            if (!std::isfinite(z))
                continue;
            ++known;
            if (std::isfinite(top(x, y, 0)))
                most = std::max(most, std::abs(z - top(x, y, 0)));
            else
                ++bare;
        }
    // Single cells between holes have no top; more than a few without one are an outline that moved.
    constexpr double kBare = 0.01;
    return static_cast<double>(bare) > kBare * static_cast<double>(known) ? kNothingHit : most;
}

}  // namespace

ReliefMesh reliefMesh(const HeightField& field, const ReliefMeshSettings& settings,
                      const RunContext& run) {
    if (std::min(field.width(), field.height()) < 2)
        throw Error(ErrorCode::BadFile,
                    "a solid needs at least two rows and two columns of heights");
    const HalvedTriangles halved(field);
    const auto finished = [&](float allowed) {
        ReliefMesh mesh = topOf(field, halved, allowed);
        mesh.heightError = measured(field, mesh);
        return settings.closed ? closed(std::move(mesh), settings.base) : mesh;
    };
    if (settings.triangles == 0 && settings.heightError <= 0.0F)
        return finished(-1.0F);
    if (settings.heightError > 0.0F) {
        // Errors of halvings add up a little: what comes of it is measured.
        float allowed = settings.heightError;
        ReliefMesh mesh = finished(allowed);
        for (int round = 0; mesh.heightError > settings.heightError && !run.stopped(); ++round) {
            allowed = round < 20 ? allowed * 0.75F : 0.0F;
            mesh = finished(allowed);
            if (allowed == 0.0F)
                break;
        }
        if (settings.triangles > 0 && mesh.triangles.size() > settings.triangles)
            throw Error(ErrorCode::BadSetting,
                        fmt::format("{} triangles can't stay within {}; {} can", settings.triangles,
                                    lengthText(static_cast<double>(settings.heightError)),
                                    mesh.triangles.size()));
        return mesh;
    }
    // The least error whose triangles are few enough; a closed solid has them twice, and walls.
    std::size_t budget = settings.closed ? settings.triangles * 2 / 5 : settings.triangles;
    for (;;) {
        float few = std::max(heightStatisticsOf(field.heights).range(), 1e-9F);
        float many = 0.0F;
        for (int round = 0; round < 24 && !run.stopped(); ++round) {
            const float between = 0.5F * (few + many);
            (countOf(halved, between) > budget ? many : few) = between;
        }
        ReliefMesh mesh = finished(few);
        if (mesh.triangles.size() <= settings.triangles || budget < 4 || run.stopped())
            return mesh;
        budget = budget * 9 / 10;
    }
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
                    fmt::format("{}: solids are written as .glb, .ply, .obj or .stl",
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
    writeThenRename(path, [&](OutputFile& file) {
        const aiExportDataBlob* blob = exporter.ExportToBlob(&scene, format->second);
        if (blob == nullptr)
            throwCannotWrite(path, std::string(exporter.GetErrorString()));
        file.writeAt(0, blob->data, blob->size);
    });
}

}  // namespace noctis
