#include "core/recipe/frame_context.h"

#include "core/image/error.h"
#include "core/passes/frame_name.h"
#include "core/passes/picture_pass.h"
#include "core/settings/hash.h"

#include <algorithm>
#include <utility>

#include <fmt/format.h>

namespace noctis {

namespace {

constexpr const char* kOnly = "";  ///< the name of a result that is one image

/// What depths, distances, positions and mist are derived from.
constexpr PassKind kGeometry[] = {PassKind::Depth, PassKind::Distance, PassKind::Position,
                                  PassKind::Coverage};

}  // namespace

FrameContext::FrameContext(const PassSet& full, int factor, ResultCache& cache, PictureFiles& files,
                           std::uint64_t generation, FrameTime time, NamedLights lights)
    : m_full(full), m_factor(factor), m_width((full.width + factor - 1) / factor),
      m_height((full.height + factor - 1) / factor), m_cache(cache), m_files(files),
      m_generation(generation), m_time(time), m_lights(std::move(lights)) {
    m_lights.insert(full.lights.begin(), full.lights.end());
}

SceneLight FrameContext::light(const std::string& name) const {
    if (const auto found = m_lights.find(name); found != m_lights.end()) {
        SceneLight light = found->second;
        if (light.group.empty())
            light.group = name;
        return light;
    }
    std::string names;
    for (const auto& [known, light] : m_lights)
        names += (names.empty() ? "" : ", ") + known;
    throw Error(
        ErrorCode::UnknownName,
        names.empty()
            ? fmt::format("there is no light {}: these passes don't list their scene's lights",
                          name)
            : fmt::format("there is no light {}; there are {}", name, names));
}

Image FrameContext::picture() const {
    const Pass* picture = picturePass(m_full);
    if (picture == nullptr)
        throw Error(ErrorCode::MissingPass,
                    "there is no picture to work on; render beauty or open a file that has it");
    const Image image = small(*picture);
    const int last = image.channels() - 1;
    const int alpha = picture->kind == PassKind::Beauty ? image.channel("A") : -1;
    if (alpha >= 0)
        return image.select({0, 1, 2, alpha}, {"R", "G", "B", "A"});
    return image.select({0, std::min(1, last), std::min(2, last)}, {"R", "G", "B"});
}

Image FrameContext::fileInTime(const std::filesystem::path& path, SequenceEnd end,
                               int later) const {
    if (!frameOf(path))
        return m_files.read(path);
    const auto [found, isNew] = m_sequences.try_emplace(path);
    if (isNew)
        found->second = framesBeside(path);
    const std::vector<int>& frames = found->second;
    return m_files.read(
        frames.size() < 2 ? path : atFrame(path, frameInstead(frames, m_time.number + later, end)));
}

const Pass* FrameContext::measured(const PassName& name) const {
    if (const Pass* pass = m_full.find(std::string_view(nameOf(name))); pass != nullptr)
        return pass;
    if (name.kind == PassKind::Colour && !name.subject.empty())
        return m_full.find(std::string_view(name.subject));  // by the name its file gave it
    return name.subject.empty() ? m_full.find(name.kind) : nullptr;
}

bool FrameContext::has(const PassName& name) const {
    return measured(name) != nullptr || (name.subject.empty() && canResolve(m_full, name.kind));
}

Image FrameContext::small(const Pass& pass) const {
    if (m_factor == 1)
        return pass.image;
    const std::uint64_t key = Hash(m_generation)
                                  .add(static_cast<std::uint64_t>(m_factor))
                                  .add(std::string_view(pass.name))
                                  .add(std::string_view("small"))
                                  .value();
    if (const Result* kept = m_cache.recall(key))
        return kept->at(kOnly);
    const Image image = shrink(pass, m_factor).image;
    m_cache.keep(key, {{kOnly, image}});
    return image;
}

PassSet FrameContext::geometry() const {
    PassSet set;
    set.width = m_width;
    set.height = m_height;
    set.camera = m_full.camera;
    set.assumedYfovRadians = m_full.assumedYfovRadians;
    set.mist = m_full.mist;
    for (const PassKind kind : kGeometry)
        if (const Pass* pass = m_full.find(kind)) {
            Pass there = *pass;
            there.image = small(*pass);
            there.raw = {};
            set.passes.push_back(std::move(there));
        }
    return set;
}

Image FrameContext::pass(const PassName& name) const {
    if (const Pass* pass = measured(name))
        return small(*pass);
    const std::uint64_t key = Hash(m_generation)
                                  .add(static_cast<std::uint64_t>(m_factor))
                                  .add(std::string_view(nameOf(name)))
                                  .add(std::string_view("derived"))
                                  .value();
    if (const Result* kept = m_cache.recall(key))
        return kept->at(kOnly);
    const Image image = resolvePass(geometry(), name.kind).image;
    m_cache.keep(key, {{kOnly, image}});
    return image;
}

}  // namespace noctis
