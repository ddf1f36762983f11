#include "core/tracer/render.h"

#include "core/image/error.h"
#include "core/image/resample.h"
#include "core/tracer/denoise.h"
#include "core/tracer/denoise_guides.h"
#include "core/tracer/light_sum.h"
#include "core/tracer/pass_state.h"
#include "core/tracer/pass_warnings.h"
#include "core/tracer/refinement_progress.h"
#include "core/tracer/render_request.h"
#include "core/tracer/scene_lights.h"
#include "core/tracer/sky_of.h"

#include <algorithm>
#include <chrono>
#include <utility>

#include <fmt/format.h>

namespace noctis {

namespace {

constexpr int kTileSide = 32;
/// Frames of more pixels are shown from a coarse one first; of what is traced once, they are there sooner.
constexpr int kSmallFrame = 200 * 1000;
constexpr int kSmallDataFrame = 1000 * 1000;
constexpr int kCoarse = 4;

class Render {
public:
    Render(const Scene& scene, const Accelerator& accelerator, const RenderRequest& request,
           const RunContext& run, const RenderObserver& observer)
        : m_scene(scene), m_accelerator(accelerator), m_request(request), m_run(run),
          m_observer(observer), m_parts(accelerator), m_frame(tracedFrame(request)),
          m_light(beautySettings(lightOf(request))), m_tiles(tilesOf(request, kTileSide)),
          m_guides(accelerator, m_frame.camera, request.width, request.height, m_tiles),
          m_progress(m_refined, m_tiles.size() * samplesMeasured(), run) {
        m_set.width = request.width;
        m_set.height = request.height;
        m_set.camera = request.view.camera;
        m_set.cameraBefore = cameraAt(request.before);
        m_set.cameraAfter = cameraAt(request.after);
        m_set.view = request.view.name;
        m_set.lights = sceneLights(scene, request.moved);
    }

    PassSet run() {
        prepare();
        const int small = m_refined.empty() ? kSmallDataFrame : kSmallFrame;
        if (m_observer.refined && !m_request.watched && m_request.width * m_request.height > small)
            showCoarse();
        // Light is shown first: what is measured for later can wait.
        const bool lightFirst = m_request.watched && !m_refined.empty();
        if (!lightFirst)
            renderAllData();
        // Without a rough picture, what is refined has nothing to show yet.
        if (m_refined.empty() || !m_rough.passes.empty())
            showRefined();
        // Rounds of 1, 1, 2, 4, ... samples: each doubles what there is.
        for (int round = 0; !m_run.stopped(); ++round) {
            if (lightFirst && round == 1)
                renderAllData();
            bool all = true;
            for (Refinement& refinement : m_refined) {
                refine(refinement, 1 << round);
                all = all && refinement.finished();
            }
            if (all)
                break;
            m_rough = {};
            showRefined();
        }
        if (lightFirst && m_set.passes.empty())
            renderAllData();
        if (m_run.stopped())
            return m_set;
        m_progress.finish();
        PassSet set = cleaned(lastSet(), Cleaning::Last);
        if (m_observer.refined && !m_run.stopped() && !m_refined.empty())
            m_observer.refined(set);
        return set;
    }

private:
    [[nodiscard]] std::map<std::string, std::string> settingsOf(const PassRequest& request) const {
        PassRequest light = passRequest(PassKind::Beauty);
        light.settings = lightOf(m_request);
        std::map<std::string, std::string> text = settingsAsText(request, {light});
        if (!m_scene.signature.empty())
            text[kSceneSetting] = m_scene.signature;
        if (const std::string moved = movedLightsOf(request, m_request.moved); !moved.empty())
            text[kMovedSetting] = moved;
        return text;
    }

    [[nodiscard]] std::vector<std::string> warningsOf(const PassRequest& request) const {
        return passWarnings(request, lightOf(m_request), m_accelerator, m_frame);
    }

    static const Settings& lightOf(const RenderRequest& request) {
        for (const PassRequest& pass : request.passes)
            if (pass.kind == PassKind::Beauty)
                return pass.settings;
        return request.light;
    }

    [[nodiscard]] RefinedFrame refinedFrame() {
        return {m_accelerator,   m_parts,          *m_lighting,    m_frame.camera,
                m_request.width, m_request.height, m_request.seed, m_request.lens};
    }

    void prepare() {
        if (std::none_of(m_request.passes.begin(), m_request.passes.end(),
                         [](const PassRequest& pass) { return isRefined(pass.kind); }))
            return;  // nothing needs light, so the panorama isn't read
        m_lighting.emplace(m_scene, lightsOf(m_scene, m_request.moved),
                           skyOf(m_scene, m_light, m_request.panoramas.get(), &m_set.warnings));
        const RefinedFrame frame = refinedFrame();
        const auto add = [&](std::unique_ptr<RefinedPasses> passes,
                             const RefinementLimits& limits = {}) {
            m_refined.emplace_back(std::move(passes), m_tiles, limits);
        };
        std::vector<PassRequest> ofLight;
        for (const PassRequest& request : m_request.passes)
            switch (request.kind) {
            case PassKind::Occlusion:
            case PassKind::Bent:
                add(occlusionPass(frame, request));
                break;
            case PassKind::Shadow:
                add(shadowPass(frame, request));
                break;
            case PassKind::GroundShadow:
                add(groundShadowPass(frame, request));
                break;
            case PassKind::BehindColour:
                add(behindPass(frame, request, m_light));
                break;
            default:
                if (isRefined(request.kind))
                    ofLight.push_back(request);
            }
        if (!ofLight.empty())
            add(lightPasses(frame, ofLight, m_light), {m_light.noise, m_light.seconds});
    }

    /// Everything from a quarter of the frame's size, a sample a pixel, so that there is a picture at
    /// once.
    void showCoarse() {
        RenderRequest coarse = m_request;
        coarse.width = std::max(1, m_request.width / kCoarse);
        coarse.height = std::max(1, m_request.height / kCoarse);
        coarse.crop.reset();
        for (PassRequest& pass : coarse.passes)
            makeRough(pass);
        PassSet set =
            Render(m_scene, m_accelerator, coarse, {.stop = m_run.stop, .progress = {}}, {}).run();
        if (m_run.stopped())
            return;
        for (Pass& pass : set.passes)
            pass.image =
                resized(pass.image, m_request.width, m_request.height, Resampling::Nearest);
        set.width = m_request.width;
        set.height = m_request.height;
        m_observer.refined(set);
        m_rough = std::move(set);
    }

    void overTiles(PassKind kind, const std::vector<Tile>& tiles, std::size_t weight,
                   const std::function<void(const Tile&)>& work) {
        if (m_observer.passBegun)
            m_observer.passBegun(kind);
        forEachTile(tiles, {.stop = m_run.stop, .progress = {}}, [&](const Tile& tile) {
            if (m_observer.tileBegun)
                m_observer.tileBegun(kind, tile);
            work(tile);
            m_progress.add(weight);
        });
    }

    [[nodiscard]] Image measured(const PassRequest& request, const Accelerator& shown) {
        Image image(m_set.width, m_set.height, dataChannels(request),
                    passKindInfo(request.kind).background);
        std::vector<float*> planes;
        for (int c = 0; c < image.channels(); ++c)
            planes.push_back(image.editPlane(c));
        const auto samples = static_cast<std::size_t>(dataSamples(request));
        m_progress.beginMeasuring();
        const auto begun = std::chrono::steady_clock::now();
        overTiles(request.kind, m_tiles, samples, [&](const Tile& tile) {
            traceDataTile(m_frame, shown, request, tile, planes, image.rowStride());
        });
        const std::chrono::duration<double> taken = std::chrono::steady_clock::now() - begun;
        m_progress.measured(samples * m_tiles.size(), taken.count());
        return image;
    }

    /// Of each pixel, in all passes that are measured once.
    [[nodiscard]] std::size_t samplesMeasured() const {
        std::size_t samples = 0;
        for (const PassRequest& request : m_request.passes)
            if (!isRefined(request.kind))
                samples += static_cast<std::size_t>(dataSamples(request));
        return samples;
    }

    void renderAllData() {
        for (const PassRequest& request : m_request.passes)
            if (!isRefined(request.kind) && !m_run.stopped())
                renderData(request);
    }

    void renderData(const PassRequest& request) {
        const Accelerator& shown = m_parts.of(shownOnly(request));
        Pass pass;
        pass.image = measured(request, shown);
        pass.name = request.name();
        pass.kind = request.kind;
        pass.settings = settingsOf(request);
        if (passKindInfo(request.kind).matte())
            pass.manifest = manifestFor(m_scene, request.kind);
        if (request.kind == PassKind::Normal)
            pass.space = pass.settings["space"];
        pass.sampling = dataSamples(request) > 1 ? Sampling::Filtered : Sampling::Centre;
        pass.warnings = warningsOf(request);
        m_set.put(std::move(pass));
    }

    void refine(Refinement& refinement, int target) {
        const Refinement::Round round = refinement.next(target);
        m_progress.begin(refinement);
        std::vector<Tile> open;
        for (const std::size_t t : round.tiles)
            open.push_back(m_tiles[t]);
        RefinedPasses& passes = refinement.passes();
        const auto begun = std::chrono::steady_clock::now();
        overTiles(passes.kind(), open, static_cast<std::size_t>(round.to - round.from),
                  [&](const Tile& tile) { traceRows(passes, tile, round.from, round.to); });
        const std::chrono::duration<double> taken = std::chrono::steady_clock::now() - begun;
        refinement.took(round, taken.count());
    }

    /// A few rows at a time, so that a stop takes effect within a tile.
    void traceRows(RefinedPasses& passes, const Tile& tile, int from, int to) const {
        constexpr int kRows = 8;
        for (int y = tile.y0; y < tile.y1 && !m_run.stopped(); y = (y / kRows + 1) * kRows)
            passes.trace({tile.x0, y, tile.x1, std::min((y / kRows + 1) * kRows, tile.y1)}, from,
                         to);
    }

    /// All passes in the order they were asked for; before the first round, those that are refined are
    /// as rough as they were at first.
    [[nodiscard]] PassSet orderedSet() const {
        std::vector<Pass> refined;
        if (!m_rough.passes.empty()) {
            for (const PassRequest& request : m_request.passes)
                if (isRefined(request.kind))
                    refined.push_back(*m_rough.find(request.name()));
            return ordered(std::move(refined));
        }
        for (const Refinement& each : m_refined)
            for (Pass& pass : each.current())
                refined.push_back(std::move(pass));
        return ordered(std::move(refined));
    }

    /// The same for the last time: what they are made of is freed.
    [[nodiscard]] PassSet lastSet() {
        std::vector<Pass> refined;
        std::map<std::string, std::string> traced;
        for (Refinement& each : m_refined)
            for (Pass& pass : each.last()) {
                traced[pass.name] = each.tracedText();
                refined.push_back(std::move(pass));
            }
        PassSet set = ordered(std::move(refined));
        for (const PassRequest& request : m_request.passes)
            if (Pass* pass = isRefined(request.kind) ? set.find(request.name()) : nullptr) {
                pass->warnings = warningsOf(request);
                if (const std::string& text = traced[pass->name]; !text.empty())
                    pass->settings[kTracedSetting] = text;
            }
        return set;
    }

    [[nodiscard]] PassSet ordered(std::vector<Pass> refined) const {
        PassSet all = m_set;
        for (Pass& pass : refined)
            all.put(std::move(pass));
        PassSet ordered = m_set;
        ordered.passes.clear();
        for (const PassRequest& request : m_request.passes)
            if (Pass* pass = all.find(request.name())) {
                pass->settings = settingsOf(request);
                ordered.put(std::move(*pass));
            }
        return ordered;
    }

    /// More rays for pixels of an occlusion that cleaning can't help.
    /// Result   how many rays each pixel counts.
    [[nodiscard]] Image traceLonely(const PassRequest& request, Pass& pass, DenoiseGuides guide) {
        const int samples = occlusionSettings(request.settings).samples;
        Image rays = Image::filled(m_set.width, m_set.height, 1, static_cast<float>(samples));
        if (samples == 1)
            return rays;  // whoever asks for one wants it soon
        guide.rays = rays;
        const Image support = smoothingSupport(pass.image, guide, m_run);
        const LonelyOcclusion lonely(refinedFrame(), request);
        float* open = pass.image.editPlane(0);
        float* counts = rays.editPlane(0);
        overTiles(request.kind, m_tiles, 0,
                  [&](const Tile& tile) { lonely.add(tile, support, open, counts); });
        return rays;
    }

    enum class Cleaning { Preview, Last };  ///< Preview: without more rays
    [[nodiscard]] PassSet cleaned(PassSet set, Cleaning how) {
        const auto& asked = m_request.passes;
        const bool ofLight = std::any_of(asked.begin(), asked.end(), [this](const auto& request) {
            return request.kind != PassKind::Occlusion && cleaningOf(request, m_light).first > 0.0F;
        });
        std::vector<Pass> raw;
        for (const PassRequest& request : asked) {
            const auto [strength, keep] = cleaningOf(request, m_light);
            Pass* pass = set.find(request.name());
            if (strength <= 0.0F || pass == nullptr || m_run.stopped())
                continue;
            if (keep && how == Cleaning::Last) {
                raw.push_back(*pass);
                raw.back().name = noisyName(pass->name);
                raw.back().kind = PassKind::Colour;
            }
            const bool isOcclusion = request.kind == PassKind::Occlusion;
            DenoiseGuides guides =
                isOcclusion ? m_guides.ofOcclusion(m_run) : m_guides.ofLight(*m_lighting, m_run);
            if (isOcclusion && how == Cleaning::Last)
                guides.rays = traceLonely(request, *pass, guides);
            pass->image = denoised(pass->image, guides, strength, m_run);
        }
        if (ofLight)
            makeLightAddUp(set, lightGroups(m_scene));
        for (Pass& pass : raw)
            set.put(std::move(pass));
        return set;
    }

    void showRefined() {
        if (!m_observer.refined || m_run.stopped())
            return;
        PassSet set = orderedSet();
        if (m_request.watched)
            set = cleaned(std::move(set), Cleaning::Preview);
        if (!m_run.stopped())
            m_observer.refined(set);
    }

    const Scene& m_scene;
    const Accelerator& m_accelerator;
    const RenderRequest& m_request;
    const RunContext& m_run;
    const RenderObserver& m_observer;
    AcceleratorsByName m_parts;
    TracedFrame m_frame;
    BeautySettings m_light;
    std::optional<Lighting> m_lighting;
    PassSet m_rough;  ///< what came first, until each pixel has a sample
    std::vector<Tile> m_tiles;
    CleaningGuides m_guides;
    std::vector<Refinement> m_refined;
    PassSet m_set;
    RefinementProgress m_progress;
};

}  // namespace

PassSet renderPasses(const Scene& scene, const Accelerator& accelerator,
                     const RenderRequest& request, const RunContext& run,
                     const RenderObserver& observer) {
    checkRequest(request);
    std::vector<std::string> warnings;
    const RenderRequest moving = traceable(withMotion(scene, request), warnings);
    PassSet set = Render(scene, accelerator, moving, run, observer).run();
    set.warnings.insert(set.warnings.begin(), warnings.begin(), warnings.end());
    return set;
}

}  // namespace noctis
