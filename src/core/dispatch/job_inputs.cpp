#include "core/dispatch/job_inputs.h"

#include "core/image/error.h"
#include "core/project/render_request.h"
#include "core/scene/import.h"
#include "core/tracer/render_file.h"
#include "core/tracer/sequence.h"

#include <algorithm>
#include <set>

#include <fmt/format.h>

namespace noctis {

struct JobInputs::Loaded {
    Scene scene;
    std::unique_ptr<Accelerator> accelerator;
    std::vector<View> views;  ///< the scene's as they stood at first, then the project's

    [[nodiscard]] const View& viewOf(const std::string& name, const Project& project) const {
        if (name.empty())
            return project.view ? *project.view : views.front();
        // The artist's own view of a name goes before the scene's.
        const auto found = std::find_if(views.rbegin(), views.rend(),
                                        [&](const View& v) { return v.name == name; });
        if (found == views.rend())
            throw Error(ErrorCode::UnknownName,
                        fmt::format("neither the scene nor the project has a view {}", name));
        return *found;
    }
};

namespace {

/// Of these passes alone, where some are chosen, and of this set of objects.
void narrow(RenderRequest& request, const Job& job, const std::string& item) {
    const std::vector<std::string>& names = job.settings.passes;
    if (job.kind == JobKind::Passes && !names.empty()) {
        for (const std::string& name : names)
            if (std::ranges::none_of(request.passes,
                                     [&](const PassRequest& r) { return r.name() == name; }))
                throw Error(ErrorCode::MissingPass,
                            fmt::format("the project doesn't render a pass {}", name));
        std::erase_if(request.passes, [&](const PassRequest& r) {
            return std::ranges::find(names, r.name()) == names.end();
        });
    }
    for (const ObjectSet& set : job.settings.sets) {
        if (set.name != item)
            continue;
        for (PassRequest& pass : request.passes)
            for (const Parameter& parameter : passParameters(pass.kind))
                if (parameter.id == "only")
                    pass.settings.set("only", set.only);
    }
}

}  // namespace

JobInputs::JobInputs(const Job& job, const Project& project) : m_job(job), m_project(project) {}

JobInputs::~JobInputs() = default;

JobInputs::Loaded* JobInputs::loaded(const RunContext& run) {
    if (m_loaded)
        return m_loaded.get();
    if (m_project.scene.empty())
        throw Error(ErrorCode::MissingPass, "the project has no scene to render");
    auto fresh = std::make_unique<Loaded>();
    fresh->scene = importScene(m_project.scene, run.stop);
    if (run.stopped())
        return nullptr;
    fresh->accelerator = std::make_unique<Accelerator>(fresh->scene);
    fresh->views = fresh->scene.views;
    fresh->views.insert(fresh->views.end(), m_project.views.begin(), m_project.views.end());
    m_loaded = std::move(fresh);
    return m_loaded.get();
}

std::optional<RenderRequest> JobInputs::requestOf(const JobPiece& piece, const RunContext& run) {
    Loaded* const all = loaded(run);
    if (all == nullptr)
        return std::nullopt;
    RenderRequest request = renderRequestOf(m_project, all->viewOf(piece.view, m_project));
    if (!piece.view.empty() && (!m_project.view || piece.view != m_project.view->name))
        request.crop.reset();  // drawn for another view
    narrow(request, m_job, piece.item);
    if (m_job.frames) {
        poseAt(all->scene, 0.0);
        const std::optional<std::size_t> own = ownView(all->scene, request.view);
        request =
            requestAtFrame(all->scene, request, own, piece.frame.number, m_project.framesPerSecond);
        all->accelerator = std::make_unique<Accelerator>(all->scene);
    }
    return request;
}

PassSet JobInputs::passesOf(const JobPiece& piece, const Warn& warn, const RunContext& run) {
    PassSet set;
    if (piece.rendered) {
        const std::optional<RenderRequest> request = requestOf(piece, run);
        if (!request)
            return {};
        set = renderPasses(m_loaded->scene, *m_loaded->accelerator, *request, run);
    } else {
        if (piece.frame.standIn)
            warn(fmt::format("frame {} is missing; frame {} stands in for it", piece.frame.number,
                             *piece.frame.standIn));
        Readings readings = m_project.readings;
        set = readPassesAs(piece.frame.passes, readings, {});
    }
    for (const std::string& warning : set.warnings)
        warn(warning);
    return run.stopped() ? PassSet() : set;
}

bool JobInputs::renderInto(const std::filesystem::path& file, const JobPiece& piece,
                           const Warn& warn, const RunContext& run) {
    const std::optional<RenderRequest> request = requestOf(piece, run);
    if (!request)
        return false;
    requireFreeToRender(m_loaded->scene, *request, {file});
    const RenderedFile rendered =
        renderToFile(m_loaded->scene, *m_loaded->accelerator, *request, file, {}, run);
    for (const std::string& warning : rendered.warnings)
        warn(warning);
    return rendered.whole;
}

ReliefSurroundings JobInputs::surroundings(const PassSet& frame, const RunContext& run) {
    ReliefSurroundings around;
    around.frame = &frame;
    if (m_project.scene.empty())
        return around;
    if (const Loaded* const all = loaded(run)) {
        around.scene = &all->scene;
        around.accelerator = all->accelerator.get();
        around.views = all->views;
    }
    return around;
}

}  // namespace noctis
