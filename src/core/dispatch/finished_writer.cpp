#include "core/dispatch/export_format.h"
#include "core/dispatch/finished_frame.h"
#include "core/dispatch/job_writer.h"
#include "core/image/safe_write.h"

namespace noctis {

namespace {

class FinishedWriter final : public JobWriter {
public:
    explicit FinishedWriter(const JobContext& context) : m_context(context) {
        m_how.storage = context.job.settings.picture;
        m_how.warn = context.warn;
    }

    void begin(const std::vector<JobPiece>& pieces) override {
        for (const JobPiece& piece : pieces)
            (void)exportDepthOf(piece.frame.out, m_how.storage.bits);
        requireUsable(m_context.project.recipe);
    }

    std::vector<std::filesystem::path> take(const JobPiece& piece, const RunContext& run) override {
        const PassSet set = m_context.inputs.passesOf(piece, m_context.warn, run);
        if (run.stopped())
            return {};
        const std::optional<Image> picture =
            finishedPicture(m_context.project, set, piece.frame, m_how, run);
        if (!picture)
            return {};
        writing([&] {
            makeFolder(folderOf(piece.frame.out));
            writeFinished(m_context.project, piece.frame, m_how, *picture);
        });
        if (m_context.show)
            m_context.show(jobPicture(
                viewed(*picture, m_context.project.viewTransform, m_context.project.exposure)));
        return {piece.frame.out};
    }

private:
    const JobContext& m_context;
    FinishHow m_how;
};

}  // namespace

std::unique_ptr<JobWriter> finishedWriter(const JobContext& context) {
    return std::make_unique<FinishedWriter>(context);
}

}  // namespace noctis
