#include "core/dispatch/export_format.h"
#include "core/dispatch/finished_frame.h"
#include "core/dispatch/job_record.h"
#include "core/dispatch/job_writer.h"
#include "core/dispatch/sheet.h"
#include "core/image/error.h"
#include "core/image/safe_write.h"
#include "core/passes/frame_name.h"

#include <algorithm>
#include <set>

#include <fmt/format.h>

namespace noctis {

namespace fs = std::filesystem;

namespace {

/// Each picture is kept in a file of its own until all are there, so that a job that was interrupted goes on.
class SheetWriter final : public JobWriter {
public:
    explicit SheetWriter(const JobContext& context) : m_context(context) {
        m_how.storage = context.job.settings.picture;
        m_how.storage.straightAlpha = true;  // a sheet is one for games and layouts
        m_how.warn = context.warn;
    }

    void begin(const std::vector<JobPiece>& pieces) override {
        requireUsable(m_context.project.recipe);
        std::set<fs::path> names;
        for (const JobPiece& piece : pieces)
            names.insert(piece.frame.out);
        if (names.size() > 1)
            throw Error(ErrorCode::BadSetting,
                        "a sheet is one file; take {frame} and # out of its name");
        for (const fs::path& out : names)
            (void)exportDepthOf(out, m_how.storage.bits);
    }

    std::vector<fs::path> take(const JobPiece& piece, const RunContext& run) override {
        const PassSet set = m_context.inputs.passesOf(piece, m_context.warn, run);
        if (run.stopped())
            return {};
        const std::optional<Image> picture =
            finishedPicture(m_context.project, set, piece.frame, m_how, run);
        if (!picture)
            return {};
        const FilePart part =
            pictureToWrite(piece.frame.out, *picture, m_context.project, m_how.storage);
        const fs::path file = cellFile(piece);
        FilePart kept;
        kept.name = "cell";
        kept.image = part.image;
        writing([&] {
            makeFolder(folderOf(file));
            writeImageFile(file, {kept});
        });
        if (m_context.show)
            m_context.show(jobPicture(
                viewed(*picture, m_context.project.viewTransform, m_context.project.exposure)));
        return {file};
    }

    std::vector<fs::path> end(const std::vector<JobPiece>& pieces) override {
        const fs::path out = pieces.front().frame.out;
        // Twice through the files, one picture at a time: a sheet of many large pictures fits into memory.
        Tile seen{0, 0, 0, 0};
        int width = 0;
        int height = 0;
        int channels = 0;
        for (const JobPiece& piece : pieces) {
            const Image cell = readCell(piece);
            if (width == 0) {
                width = cell.width();
                height = cell.height();
            } else if (cell.width() != width || cell.height() != height) {
                throw Error(ErrorCode::ShapeMismatch,
                            fmt::format("{} x {} px and {} x {} px: pictures on a sheet have one "
                                        "size; give the job a size",
                                        width, height, cell.width(), cell.height()));
            }
            channels = std::max(channels, cell.channels());
            seen = boxAround(seen, seenBox(cell));
        }
        SheetPlan plan = sheetPlanOf(static_cast<int>(pieces.size()), width, height, seen,
                                     m_context.job.settings.sheet);
        Image sheet(plan.width, plan.height, {"R", "G", "B", "A"});
        for (std::size_t i = 0; i < pieces.size(); ++i) {
            plan.cells[i].view = pieces[i].view;
            plan.cells[i].frame = pieces[i].frame.number;
            Image cell = readCell(pieces[i]);
            if (cell.channel("A") < 0)
                cell.append(Image(width, height, {"A"}, 1.0F));
            putCell(sheet, cell, plan.cells[i]);
        }
        const ExportDepth& depth = exportDepthOf(out, m_how.storage.bits);
        FilePart part;
        part.name = "sheet";
        part.image = withColourExtended(sheet);
        part.type = depth.type;
        part.straightAlpha = true;
        part.attributes = {{"software", std::string("Noctis")}};
        const fs::path places = sheetTextFileOf(out);
        const std::string text = sheetToText(out, plan);
        writing([&] {
            makeFolder(folderOf(out));
            writeTogether({{places, textWriter(text)}, {out, imageWriter(out, {part})}});
        });
        return {out, places};
    }

private:
    [[nodiscard]] fs::path cellFile(const JobPiece& piece) const {
        return keptBeside(m_context.record) / (fileNameOf(piece.key()) + ".exr");
    }
    [[nodiscard]] Image readCell(const JobPiece& piece) const {
        const FileInfo stored = readFileInfo(cellFile(piece));
        // R G B A, in the order of the file's format.
        std::vector<int> channels;
        std::vector<std::string> names;
        for (const char* name : {"R", "G", "B", "A"})
            for (std::size_t i = 0; i < stored.channels.size(); ++i)
                if (stored.channels[i].name == name) {
                    channels.push_back(static_cast<int>(i));
                    names.emplace_back(name);
                }
        const Image cell = readFileChannels(stored, channels);
        std::vector<int> all;
        for (int c = 0; c < cell.channels(); ++c)
            all.push_back(c);
        return cell.select(all, names);
    }

    const JobContext& m_context;
    FinishHow m_how;
};

}  // namespace

std::unique_ptr<JobWriter> sheetWriter(const JobContext& context) {
    return std::make_unique<SheetWriter>(context);
}

}  // namespace noctis
