#include "core/recipe/evaluator.h"

#include "core/image/error.h"
#include "core/passes/frame_name.h"
#include "core/recipe/recipe_at.h"
#include "core/settings/value_type.h"

#include <algorithm>
#include <bit>

#include <fmt/format.h>

namespace noctis {

namespace {

/// The stamps of the files that settings name, so that another content is another result.
void addFiles(Hash& hash, const Settings& settings) {
    (void)withFiles(settings, [&](const std::filesystem::path& path) {
        hash.add(std::string_view(PictureFiles::stampOf(path)));
        return path;
    });
}

/// The same of all frames of the sequences among them.
void addSequences(Hash& hash, const Settings& settings) {
    (void)withFiles(settings, [&](const std::filesystem::path& path) {
        if (isSequence(path))
            for (const int frame : framesBeside(path))
                hash.add(std::string_view(PictureFiles::stampOf(atFrame(path, frame))));
        return path;
    });
}

/// Of a step that runs.
std::vector<std::string> noticesOf(const Step& step, const StepType& type,
                                   const FrameContext& context) {
    std::vector<std::string> notices =
        type.notices ? type.notices(step.settings, context) : std::vector<std::string>{};
    if (type.readsTime && type.readsTime(step.settings))
        (void)withFiles(step.settings, [&](const std::filesystem::path& path) {
            if (isSequence(path))
                if (const std::string gaps = missingFrames(framesBeside(path)); !gaps.empty())
                    notices.push_back(
                        fmt::format("The sequence of {} has no frame {}; the nearest stands in.",
                                    path.filename().string(), gaps));
            return path;
        });
    return notices;
}

std::string named(const Step& step, const Catalogue& catalogue, const std::string& what) {
    return fmt::format("{}: {}", titleOf(step, catalogue), what);
}

std::string missingText(const PassNeed& need) {
    const bool derivable = need.pass.kind == PassKind::Distance ||
                           need.pass.kind == PassKind::Position ||
                           need.pass.kind == PassKind::Mist || need.pass.kind == PassKind::Normal;
    return fmt::format("there is no {} pass{}{}; render it or add a file that has it",
                       need.pass.subject == kEach ? std::string(passKindInfo(need.pass.kind).id)
                       : need.pass.kind == PassKind::Colour ? need.pass.subject
                                                            : nameOf(need.pass),
                       derivable ? " and no depth to derive it from" : "",
                       need.what.empty() ? "" : fmt::format(", needed to know {}", need.what));
}

/// Whether it is there, in the files or written by an earlier step.
bool isThere(const PassNeed& need, const FrameContext& context,
             const std::vector<PassName>& written) {
    const auto wrote = [&](PassKind kind) {
        return std::any_of(written.begin(), written.end(),
                           [&](const PassName& name) { return name.kind == kind; });
    };
    if (need.pass.subject == kEach) {
        const auto& passes = context.full().passes;
        return std::any_of(passes.begin(), passes.end(),
                           [&](const Pass& pass) { return pass.kind == need.pass.kind; });
    }
    const bool fromDepth = need.pass.kind == PassKind::Distance ||
                           need.pass.kind == PassKind::Position || need.pass.kind == PassKind::Mist;
    return context.has(need.pass) || wrote(need.pass.kind) || (fromDepth && wrote(PassKind::Depth));
}

constexpr const char* kOnlyImage = "";

}  // namespace

std::map<std::string, std::string> problemsOf(const Recipe& recipe, const Catalogue& catalogue) {
    std::map<std::string, std::string> problems;
    for (const Step& step : recipe.steps) {
        const Step* group = step.group.empty() ? nullptr : recipe.find(step.group);
        if (!step.on || (group != nullptr && !group->on))
            continue;
        if (!step.usable()) {
            problems[step.id] = step.problem;
            continue;
        }
        try {
            (void)needsOf(plainWhere(step.where, recipe.wheres), catalogue);
        } catch (const Error& error) {
            problems[step.id] = error.what();
        }
    }
    return problems;
}

Evaluator::Evaluator(const Catalogue& catalogue, std::size_t memoryBudget)
    : m_catalogue(catalogue), m_cache(memoryBudget) {}

void Evaluator::setPasses(PassSet passes) {
    m_passes = std::move(passes);
    m_cache.clear();
    ++m_generation;
}

FrameContext Evaluator::contextOf(const Recipe& recipe, const EvaluateOptions& options) {
    return {m_passes, options.factor, m_cache, m_files, m_generation, options.time, recipe.lights};
}

std::uint64_t Evaluator::startKeyOf(const Recipe& recipe, const EvaluateOptions& options) const {
    Hash hash(m_generation);
    hash.add(static_cast<std::uint64_t>(options.factor));
    if (!recipe.lights.empty())
        hash.add(std::string_view(lightsToText(recipe.lights)));
    return hash.value();
}

std::vector<Evaluator::Planned> Evaluator::plan(const Recipe& recipe,
                                                const EvaluateOptions& options,
                                                const FrameContext& context,
                                                std::uint64_t startKey) const {
    std::vector<Planned> planned;
    std::vector<PassName> written;
    const std::map<std::string, std::string> problems = problemsOf(recipe, m_catalogue);
    for (const auto& [id, text] : problems) {
        if (!options.problem)
            throw Error(ErrorCode::BadFile, named(*recipe.find(id), m_catalogue, text));
        options.problem(id, text);
    }
    Hash hash(startKey);
    std::uint64_t passesKey = m_generation;
    const auto firstMissing =
        [&](const std::vector<PassNeed>& needs) -> std::optional<std::string> {
        const auto missing = std::find_if(needs.begin(), needs.end(), [&](const PassNeed& need) {
            return !need.optional && !isThere(need, context, written);
        });
        return missing == needs.end() ? std::nullopt : std::optional(missingText(*missing));
    };
    const auto report = [&](const Step& step, const std::string& missing) {
        if (!options.problem)
            throw Error(ErrorCode::MissingPass, named(step, m_catalogue, missing));
        options.problem(step.id, missing);
    };
    std::string group;     // whose steps are being planned
    bool skipped = false;  // for what its Where lacks
    std::optional<GroupMix> mix;
    const auto endGroup = [&] {
        if (mix && planned.size() > mix->first) {
            Planned& last = planned.back();
            mix->unmixedKey = last.key;
            hash.add(std::string_view(kGroup))
                .add(mix->group->amount)
                .add(static_cast<std::uint64_t>(mix->group->blend));
            addToHash(hash, mix->where);
            last.key = hash.value();
            planned[mix->first].beginsMix = true;
            last.mix = std::move(mix);
        }
        mix.reset();
    };
    const auto beginGroup = [&](const std::string& id) {
        endGroup();
        group = id;
        skipped = problems.contains(id);
        const Step* step = recipe.find(id);
        if (step == nullptr || skipped || !options.solo.empty())
            return;
        Where where = plainWhere(step->where, recipe.wheres);
        if (const auto missing = firstMissing(needsOf(where, m_catalogue))) {
            report(*step, *missing);
            skipped = true;
        } else if (!replacesAll(*step) || !where.everywhere()) {
            mix = GroupMix{step, planned.size(), std::move(where), 0};
        }
    };
    for (const std::size_t index : m_catalogue.runningOrder(recipe)) {
        const Step& step = recipe.steps[index];
        const StepType& type = m_catalogue.type(step.type);
        if (step.group != group)
            beginGroup(step.group);
        if (skipped || problems.contains(step.id) ||
            (!options.solo.empty() && step.id != options.solo))
            continue;
        Where where = plainWhere(step.where, recipe.wheres);
        std::vector<PassNeed> needs =
            type.reads ? type.reads(step.settings) : std::vector<PassNeed>{};
        for (PassNeed& need : needsOf(where, m_catalogue))
            needs.push_back(std::move(need));
        if (const auto missing = firstMissing(needs)) {
            report(step, *missing);
            continue;
        }
        Planned next{&step, &type, std::move(where), 0, hash.value(), passesKey};
        hash.add(std::string_view(step.type))
            .add(step.amount)
            .add(static_cast<std::uint64_t>(step.blend));
        addToHash(hash, step.settings);
        addFiles(hash, step.settings);
        if (type.readsTime && type.readsTime(step.settings)) {
            hash.add(static_cast<std::uint64_t>(options.time.number))
                .add(std::bit_cast<std::uint64_t>(options.time.seconds));
            addSequences(hash, step.settings);
        }
        if (options.notice)
            for (const std::string& notice : noticesOf(step, type, context))
                options.notice(step.id, notice);
        addToHash(hash, next.where);
        next.key = hash.value();
        if (!type.writes.empty()) {
            written.insert(written.end(), type.writes.begin(), type.writes.end());
            passesKey = next.key;
        }
        planned.push_back(std::move(next));
    }
    endGroup();
    return planned;
}

Image Evaluator::evaluate(const Recipe& moving, const EvaluateOptions& options,
                          const RunContext& run) {
    const Recipe recipe = recipeAt(moving, m_catalogue, options.time);
    const FrameContext context = contextOf(recipe, options);
    const std::uint64_t startKey = startKeyOf(recipe, options);
    const std::vector<Planned> planned = plan(recipe, options, context, startKey);
    const WorkingFrame out = runPlan({planned, options, context, startKey}, planned.size(), run);
    if (run.stopped() || recipe.amount >= 1.0F || !options.solo.empty())
        return run.stopped() ? Image() : out.picture();
    const Image source = context.picture();
    Step whole;
    whole.amount = recipe.amount;
    Image result = blended(whole, source, out.picture(), {}, source, run);
    return run.stopped() ? Image() : result;
}

Image Evaluator::where(const Recipe& moving, const std::string& id, const EvaluateOptions& options,
                       const RunContext& run) {
    const Recipe recipe = recipeAt(moving, m_catalogue, options.time);
    if (recipe.find(id) == nullptr)
        throw Error(ErrorCode::UnknownName, fmt::format("there is no step {}", id));
    // Also of a step that is off: what it would work on.
    Recipe shown = recipe;
    Step& step = *shown.find(id);
    step.on = true;
    step.amount = 1.0F;
    const FrameContext context = contextOf(recipe, options);
    const std::uint64_t startKey = startKeyOf(recipe, options);
    std::vector<Planned> planned = plan(shown, options, context, startKey);
    const auto at = std::find_if(planned.begin(), planned.end(),
                                 [&](const Planned& p) { return p.step == &step; });
    if (at == planned.end())
        return {};
    const auto index = static_cast<std::size_t>(at - planned.begin());
    const Going going{planned, options, context, startKey};
    const Planned& wanted = planned[index];
    const bool needsPicture = readsPicture(wanted.where, m_catalogue) ||
                              wanted.passesKey != m_generation || movesLight(planned, index);
    const WorkingFrame before = runPlan(going, needsPicture ? index : 0, run);
    if (run.stopped())
        return {};
    Image mask = maskImage(wanted.where, maskInput(going, index, before), {run.stop, {}});
    return run.stopped() ? Image() : mask;
}

bool Evaluator::movesLight(const std::vector<Planned>& plan, std::size_t count) {
    return std::any_of(plan.begin(), plan.begin() + static_cast<std::ptrdiff_t>(count),
                       [](const Planned& one) { return one.type->carry != nullptr; });
}

void Evaluator::addMove(const Planned& planned, WorkingFrame& frame) {
    // What shows less than half of it still stands where it stood.
    if (planned.type->movesPasses && planned.step->amount >= 0.5F)
        frame.addMove([type = planned.type, settings = planned.step->settings](const Image& pass) {
            return type->movesPasses(pass, settings);
        });
}

MaskInput Evaluator::maskInput(const Going& going, std::size_t step, const WorkingFrame& frame) {
    const Planned& planned = going.plan[step];
    MaskInput input{m_catalogue, frame.still(), m_cache, planned.passesKey, planned.keyBefore};
    if (movesLight(going.plan, step))
        input.carry = [this, &going, step](const Image& mask, std::uint64_t key,
                                           const RunContext& run) {
            return carried(going, step, mask, key, run);
        };
    return input;
}

Image Evaluator::carried(const Going& going, std::size_t step, Image mask, std::uint64_t key,
                         const RunContext& run) {
    const RunContext quiet{run.stop, {}};
    Image atGroup;  // as the group that it is in began
    bool moved = false;
    for (std::size_t i = 0; i < step && !run.stopped(); ++i) {
        const Planned& planned = going.plan[i];
        if (planned.beginsMix) {
            atGroup = mask;
            moved = false;
        }
        const bool mixes = planned.mix && (moved || planned.type->carry);
        if (!planned.type->carry && !mixes)
            continue;
        // Through this step it is the same for all steps after it.
        key = Hash(planned.key).add(key).value();
        if (const Result* kept = m_cache.recall(key)) {
            mask = kept->at(kOnlyImage);
            moved = true;
            continue;
        }
        try {
            if (planned.type->carry) {
                const WorkingFrame before = runPlan(going, i, quiet);
                const WorkingFrame after = runPlan(going, i + 1, quiet, true);
                if (run.stopped())
                    break;
                mask = carriedThrough(going, i, before, after.picture(), mask, quiet);
                moved = true;
            }
            if (mixes && !run.stopped())
                mask = mixedMask(going, *planned.mix, atGroup, std::move(mask), i + 1, quiet);
        } catch (const Error&) {
            if (!going.options.problem)
                throw;
            continue;  // a step that failed moved nothing
        }
        if (!run.stopped())
            m_cache.keep(key, {{kOnlyImage, mask}});
    }
    return mask;
}

WorkingFrame Evaluator::runPlan(const Going& going, std::size_t count, const RunContext& run,
                                bool unmixed) {
    const auto& [planned, options, context, startKey] = going;
    std::size_t next = count;
    std::optional<WorkingFrame> frame;
    bool toMix = false;  // the last step's group isn't mixed yet
    const auto mixesAt = [&](std::size_t end) {
        return planned[end - 1].mix && !(unmixed && end == count);
    };
    for (; next > 0 && !frame; --next) {
        const Planned& last = planned[next - 1];
        const Result* kept = !last.mix || mixesAt(next) ? m_cache.recall(last.key) : nullptr;
        if (kept == nullptr && last.mix) {
            kept = m_cache.recall(last.mix->unmixedKey);
            toMix = kept != nullptr && mixesAt(next);
        }
        if (kept != nullptr) {
            frame.emplace(context, *kept);
            for (std::size_t i = 0; i < next; ++i)
                addMove(planned[i], *frame);
            break;
        }
    }
    if (!frame) {
        if (const Result* kept = m_cache.recall(startKey)) {
            frame.emplace(context, *kept);
        } else {
            frame.emplace(context, context.picture());
            m_cache.keep(startKey, frame->result());
        }
    }
    // A step that fails on this frame is skipped if someone is there to be warned.
    const auto guarded = [&](const Planned& one, const auto& work) {
        try {
            work();
        } catch (const Error& error) {
            if (!options.problem)
                throw Error(error.code(), named(*one.step, m_catalogue, error.what()));
            options.problem(one.step->id, error.what());
        }
    };
    SharedProgress progress(run);
    const RunContext forward{run.stop, [&](float done) { progress.reach(done); }};
    std::optional<WorkingFrame> groupInput;
    const auto mixLast = [&] {
        const GroupMix& mix = *planned[next - 1].mix;
        const WorkingFrame before =
            groupInput ? *groupInput : runPlan(going, mix.first, {run.stop, {}});
        const WorkingFrame after = *frame;
        frame = before;  // what stands where the mix fails
        try {
            frame = mixed(going, mix, before, after, next, run);
        } catch (const Error& error) {
            if (!options.problem)
                throw Error(error.code(), named(*mix.group, m_catalogue, error.what()));
            options.problem(mix.group->id, error.what());
        }
        groupInput.reset();
        if (!run.stopped())
            m_cache.keep(planned[next - 1].key, frame->result());
    };
    if (toMix && !run.stopped())
        mixLast();
    while (next < count && !run.stopped()) {
        const RunContext part = partOf(forward, next, count);
        if (planned[next].beginsMix)
            groupInput = *frame;
        if (planned[next].type->area) {
            guarded(planned[next], [&] {
                frame = runArea(going, next, *frame, part);
                addMove(planned[next], *frame);
            });
            ++next;
        } else {
            std::vector<Ready> ready;
            const Where* lastMasked = nullptr;
            for (; next < count; ++next) {
                const Planned& one = planned[next];
                const bool edited = !options.editing.empty() && options.editing == one.step->id;
                if (one.type->area ||
                    (!ready.empty() &&
                     (!options.fused || edited || one.beginsMix || planned[next - 1].mix ||
                      needsWholePicture(one.where, m_catalogue))))
                    break;
                guarded(one, [&] {
                    Ready prepared{
                        one.step, one.type->point(one.step->settings, *frame, run), {}, 1, false};
                    if (!one.where.everywhere()) {
                        const MaskInput input = maskInput(going, next, *frame);
                        prepared.mask = maskOf(one.where, input, run);
                        if (input.carry && hasPartOfPasses(one.where, m_catalogue))
                            prepared.maskChannels = 3;
                        prepared.sameMask = lastMasked != nullptr && *lastMasked == one.where &&
                                            !readsPicture(one.where, m_catalogue);
                        lastMasked = &one.where;
                    }
                    ready.push_back(std::move(prepared));
                });
            }
            if (!ready.empty() && !run.stopped())
                frame = runPoints(*frame, ready, partOf(forward, next - 1, count));
        }
        if (run.stopped())
            break;
        const Planned& last = planned[next - 1];
        m_cache.keep(last.mix ? last.mix->unmixedKey : last.key, frame->result());
        if (mixesAt(next))
            mixLast();
    }
    return *frame;
}

}  // namespace noctis
