#include "core/dispatch/export_format.h"
#include "core/dispatch/job_writer.h"
#include "core/image/error.h"
#include "core/image/safe_write.h"
#include "core/operations/registry.h"
#include "core/relief/derived_maps.h"
#include "core/relief/height_file.h"
#include "core/relief/map_picture.h"
#include "core/relief/relief.h"
#include "core/relief/relief_mesh.h"
#include "core/steps/registry.h"

#include <fmt/format.h>

namespace noctis {

namespace fs = std::filesystem;

namespace {

class ReliefWriter final : public JobWriter {
public:
    explicit ReliefWriter(const JobContext& context) : m_context(context) {}

    void begin(const std::vector<JobPiece>& pieces) override {
        const ReliefSettings& s = m_context.job.settings.relief;
        if (s.as != kHeightsWritten && s.as != kSolidWritten)
            (void)derivedMap(s.as);
        for (const JobPiece& piece : pieces)
            (void)requiredRelief(piece);
    }

    std::vector<fs::path> take(const JobPiece& piece, const RunContext& run) override {
        const Relief& relief = requiredRelief(piece);
        PassSet frame;
        if (relief.from.files.empty() && relief.from.view.empty())
            frame = m_context.inputs.passesOf(piece, m_context.warn, run);
        ReliefSurroundings around;
        around.frame = &frame;
        if (!relief.from.view.empty())
            around = m_context.inputs.surroundings(frame, run);
        if (run.stopped())
            return {};
        ReliefEvaluator evaluator(reliefCatalogue(), stepCatalogue());
        evaluator.setInput(gatherReliefInput(relief.from, around, run));
        if (run.stopped())
            return {};
        const HeightField field = evaluator.evaluate(relief, 1, {}, run);
        if (run.stopped())
            return {};
        return write(piece, relief, field, evaluator.input().source, run);
    }

private:
    [[nodiscard]] const Relief& requiredRelief(const JobPiece& piece) const {
        const Relief* relief = reliefOf(m_context.project, piece.item);
        if (relief == nullptr)
            throw Error(ErrorCode::UnknownName,
                        fmt::format("the project has no height map {}", piece.item));
        return *relief;
    }

    std::vector<fs::path> write(const JobPiece& piece, const Relief& relief,
                                const HeightField& field, const std::string& source,
                                const RunContext& run) {
        const JobSettings& settings = m_context.job.settings;
        const fs::path& out = piece.frame.out;
        if (settings.relief.as == kSolidWritten) {
            ReliefMeshSettings solid;
            solid.base = settings.relief.base;
            solid.closed = solid.base > 0.0F;
            solid.heightError = settings.relief.within;
            const ReliefMesh mesh = reliefMesh(field, solid, run);
            if (run.stopped())
                return {};
            writing([&] {
                makeFolder(folderOf(out));
                writeReliefMesh(out, mesh, relief.name.empty() ? "relief" : relief.name);
            });
            return {out};
        }
        // Half floats are too coarse for heights.
        const SampleType usual = exportDepthOf(out, settings.picture.bits).type;
        const SampleType type = usual == SampleType::Half ? SampleType::Float : usual;
        if (settings.relief.as == kHeightsWritten) {
            writing([&] {
                makeFolder(folderOf(out));
                writeHeights(out, field, {type, settings.picture.dither, source});
            });
            return filesOfHeights(out);
        }
        const DerivedMap& map = derivedMap(settings.relief.as);
        const Image made = map.make(field);
        if (run.stopped())
            return {};
        writing([&] {
            makeFolder(folderOf(out));
            writeMap(out, type == SampleType::Float ? made : map.encoded(made), type,
                     settings.relief.as, field);
        });
        return {out};
    }

    const JobContext& m_context;
};

}  // namespace

std::unique_ptr<JobWriter> reliefWriter(const JobContext& context) {
    return std::make_unique<ReliefWriter>(context);
}

}  // namespace noctis
