#include "core/dispatch/job_preview.h"

#include "core/dispatch/export_format.h"
#include "core/dispatch/finished_frame.h"
#include "core/dispatch/job_writer.h"
#include "core/image/error.h"
#include "core/operations/registry.h"
#include "core/passes/appearance.h"
#include "core/relief/derived_maps.h"
#include "core/relief/height_file.h"
#include "core/relief/map_picture.h"
#include "core/steps/registry.h"

#include <algorithm>

#include <fmt/format.h>

namespace noctis {

namespace {

/// px of a sheet's picture in a preview.
constexpr int kCellSide = 384;

/// How a part of a file looks: what is stored as light goes through the view, what is stored as seen doesn't.
Image seenOf(const FilePart& part, const Project& project, bool linear) {
    const Image straight = part.straightAlpha ? part.image : straightFromAssociated(part.image);
    if (straight.channels() < 3)
        return straight.select({0, 0, 0}, {"R", "G", "B"});
    Image seen = linear ? viewed(straight, project.viewTransform, project.exposure)
                        : straight.select({0, 1, 2}, {"R", "G", "B"});
    if (const int alpha = straight.channel("A"); alpha >= 0)
        seen.append(straight.select({alpha}, {"A"}));
    return seen;
}

FinishHow howOf(const Job& job) {
    FinishHow how;
    how.storage = job.settings.picture;
    how.storage.straightAlpha = how.storage.straightAlpha || job.kind == JobKind::Sheet;
    return how;
}

}  // namespace

std::vector<JobFile> filesOfJob(const Job& job, const std::vector<JobPiece>& pieces,
                                const std::vector<std::string>& passes) {
    std::vector<JobFile> files;
    const std::vector<std::string>& chosen =
        job.settings.passes.empty() ? passes : job.settings.passes;
    for (std::size_t i = 0; i < pieces.size(); ++i) {
        const std::filesystem::path& out = pieces[i].frame.out;
        switch (job.kind) {
        case JobKind::Finished:
            files.push_back({out, {}, i});
            break;
        case JobKind::Passes:
            if (job.settings.packing == PassPacking::OneFile && chosen.size() > 1) {
                files.push_back({out, {}, i});
                break;
            }
            for (const std::string& pass : chosen)
                files.push_back({fileOfPassIn(job.settings, out, pass), pass, i});
            break;
        case JobKind::Sheet:
            if (i > 0)
                break;
            files.push_back({out, {}, i});
            files.push_back({sheetTextFileOf(out), {}, i, false});
            break;
        case JobKind::Relief: {
            const auto all =
                job.settings.relief.as == kHeightsWritten ? filesOfHeights(out) : std::vector{out};
            for (std::size_t k = 0; k < all.size(); ++k)
                files.push_back({all[k], {}, i, k == 0});
            break;
        }
        }
    }
    return files;
}

JobPreview finishedPreview(const Job& job, const Project& project, const PassSet& passes,
                           const JobPiece& piece, const RunContext& run) {
    const FinishHow how = howOf(job);
    const ExportDepth& depth = exportDepthOf(piece.frame.out, how.storage.bits);
    JobPreview preview;
    requireUsable(project.recipe);
    const auto picture = finishedPicture(project, passes, piece.frame, how, run);
    if (!picture)
        return preview;
    const FilePart part = pictureToWrite(piece.frame.out, *picture, project, how.storage);
    preview.values = part.image;
    preview.seen = seenOf(part, project, depth.linear);
    preview.width = part.image.width();
    preview.height = part.image.height();
    return preview;
}

JobPreview passPreview(const Job& job, const Project& project, const PassSet& passes,
                       const JobPiece& piece, const std::string& pass) {
    const Pass* found = passes.find(pass);
    if (found == nullptr)
        throw Error(ErrorCode::MissingPass, fmt::format("there is no pass {}", pass));
    const PassStorage storage = storageOf(job.settings, *found);
    (void)exportDepthOf(piece.frame.out, storage.bits);
    PassSet alone = passes;
    alone.passes = {*found};
    alone = framedPasses(alone, storage.framing);
    const Pass& framed = alone.passes.front();
    JobPreview preview;
    if (storage.span) {
        preview.values = greysOf(framed.image, *storage.span);
        preview.seen = preview.values.select({0, 0, 0}, {"R", "G", "B"});
    } else {
        preview.values = framed.image;
        preview.seen = passKindInfo(framed.kind).data()
                           ? appearanceOf(framed)
                           : viewed(framed.image, project.viewTransform, project.exposure);
    }
    preview.width = framed.image.width();
    preview.height = framed.image.height();
    return preview;
}

JobPreview sheetPreview(const Job& job, const Project& project, const std::vector<JobPiece>& pieces,
                        const std::function<PassSet(const JobPiece&)>& passesOf,
                        const RunContext& run) {
    JobPreview preview;
    FinishHow how = howOf(job);
    requireUsable(project.recipe);
    std::vector<std::optional<FilePart>> parts(pieces.size());
    Tile seen{0, 0, 0, 0};
    int width = 0;
    int height = 0;
    bool linear = false;
    how.factor = std::max(1, std::max(project.width, project.height) / kCellSide);
    for (std::size_t i = 0; i < pieces.size(); ++i) {
        const PassSet passes = passesOf(pieces[i]);
        if (run.stopped())
            return {};
        if (passes.empty()) {
            preview.missing.push_back(pieces[i].view);
            continue;
        }
        how.factor = std::max(1, std::max(passes.width, passes.height) / kCellSide);
        const auto picture = finishedPicture(project, passes, pieces[i].frame, how, run);
        if (!picture)
            return {};
        const std::filesystem::path& out = pieces[i].frame.out;
        linear = exportDepthOf(out, how.storage.bits).linear;
        parts[i] = pictureToWrite(out, *picture, project, how.storage, how.factor);
        if (width > 0 && (parts[i]->image.width() != width || parts[i]->image.height() != height))
            throw Error(ErrorCode::ShapeMismatch,
                        "pictures on a sheet have one size; give them one under Size");
        width = parts[i]->image.width();
        height = parts[i]->image.height();
        seen = boxAround(seen, seenBox(parts[i]->image));
    }
    if (width == 0) {
        width = (project.width + how.factor - 1) / how.factor;
        height = (project.height + how.factor - 1) / how.factor;
    }
    SheetLayout layout = job.settings.sheet;
    const int factor = how.factor;
    layout.padding = (layout.padding + factor - 1) / factor;
    layout.powerOfTwo = false;
    if (layout.pivot)
        for (int& side : *layout.pivot)
            side /= factor;
    const SheetPlan plan =
        sheetPlanOf(static_cast<int>(pieces.size()), width, height, seen, layout);
    FilePart whole;
    whole.straightAlpha = true;
    whole.image = Image(plan.width, plan.height, {"R", "G", "B", "A"});
    for (std::size_t i = 0; i < pieces.size(); ++i)
        if (parts[i]) {
            Image cell = parts[i]->image;
            if (cell.channel("A") < 0)
                cell.append(Image(cell.width(), cell.height(), {"A"}, 1.0F));
            putCell(whole.image, cell, plan.cells[i]);
        }
    preview.cells = plan.cells;
    for (std::size_t i = 0; i < pieces.size(); ++i)
        preview.cells[i].view = pieces[i].view;
    preview.values = whole.image;
    preview.seen = seenOf(whole, project, linear);
    preview.width = plan.width * factor;
    preview.height = plan.height * factor;
    return preview;
}

JobPreview reliefPreview(const Job& job, const Project& project, const JobPiece& piece,
                         const ReliefSurroundings& around, const RunContext& run) {
    const Relief* relief = reliefOf(project, piece.item);
    if (relief == nullptr)
        throw Error(ErrorCode::UnknownName, "the project has no such height map");
    ReliefEvaluator evaluator(reliefCatalogue(), stepCatalogue());
    evaluator.setInput(gatherReliefInput(relief->from, around, run));
    HeightField field = evaluator.evaluate(*relief, 1, {}, run);
    if (run.stopped())
        return {};
    JobPreview preview;
    preview.width = field.width();
    preview.height = field.height();
    const std::string& as = job.settings.relief.as;
    if (as != kHeightsWritten && as != kSolidWritten) {
        const DerivedMap& map = derivedMap(as);
        preview.values = map.make(field);
        const Image encoded = map.encoded(preview.values);
        preview.seen = encoded.channels() < 3 ? encoded.select({0, 0, 0}, {"R", "G", "B"})
                                              : encoded.select({0, 1, 2}, {"R", "G", "B"});
        return preview;
    }
    preview.values = field.heights;
    MapPainting painting;
    painting.look = as == kSolidWritten ? MapLook::Relief : MapLook::Grey;
    painting.range = reportOf(field, SampleType::Short).range;
    const FieldPyramid pyramid(std::move(field));
    preview.seen = mapPicture(pyramid, painting, {}, preview.width, preview.height);
    return preview;
}

}  // namespace noctis
