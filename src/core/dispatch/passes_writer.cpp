#include "core/dispatch/export_format.h"
#include "core/dispatch/file_names.h"
#include "core/dispatch/job_writer.h"
#include "core/image/error.h"
#include "core/image/safe_write.h"
#include "core/passes/appearance.h"
#include "core/passes/picture_pass.h"

#include <algorithm>

#include <fmt/format.h>

namespace noctis {

namespace fs = std::filesystem;

namespace {

/// As a queue shows passes: the picture, or else the first one.
Image pictureOf(const PassSet& set, const Project& project) {
    if (const Pass* picture = picturePass(set))
        return viewed(picture->image, project.viewTransform, project.exposure);
    return appearanceOf(set.passes.front());
}

class PassesWriter final : public JobWriter {
public:
    explicit PassesWriter(const JobContext& context)
        : m_context(context), m_settings(context.job.settings) {}

    void begin(const std::vector<JobPiece>& pieces) override {
        for (const JobPiece& piece : pieces)
            (void)exportDepthOf(piece.frame.out, m_settings.picture.bits);
        requirePackable(pieces);
    }

    std::vector<fs::path> take(const JobPiece& piece, const RunContext& run) override {
        const fs::path& out = piece.frame.out;
        std::vector<fs::path> files;
        if (piece.rendered && together() && m_settings.picture.framing == Framing() &&
            m_settings.passes.size() != 1) {
            bool whole = false;
            writing([&] {
                makeFolder(folderOf(out));
                whole = m_context.inputs.renderInto(out, piece, m_context.warn, run);
            });
            if (whole)
                files.push_back(out);
            return files;
        }
        const PassSet set = m_context.inputs.passesOf(piece, m_context.warn, run);
        if (run.stopped())
            return {};
        const PassSet chosen = chosenPasses(set, m_settings.passes);
        if (chosen.empty())
            throw Error(ErrorCode::MissingPass, "there are no passes to write");
        writing([&] { write(out, chosen, files); });
        if (m_context.show)
            m_context.show(jobPicture(pictureOf(chosen, m_context.project)));
        return files;
    }

private:
    /// Whether one file holds all passes of a frame.
    [[nodiscard]] bool together() const { return m_settings.packing == PassPacking::OneFile; }

    /// What the packing can't hold. One pass alone has a file of its own, whatever the packing.
    void requirePackable(const std::vector<JobPiece>& pieces) const {
        if (m_settings.passes.size() == 1)
            return;
        if (m_settings.packing == PassPacking::FileEach &&
            !hasPlaceholder(m_context.job.to, "pass"))
            throw Error(ErrorCode::BadSetting,
                        "each pass has a file of its own: put {pass} into the name");
        if (!together())
            return;
        for (const JobPiece& piece : pieces)
            if (!exportFormatOf(piece.frame.out).layers)
                throw Error(
                    ErrorCode::BadSetting,
                    fmt::format("{}: this file holds one pass; write EXR, or a file for each pass",
                                piece.frame.out.string()));
        if (m_settings.span || m_settings.picture.bits > 0)
            throw Error(ErrorCode::BadSetting,
                        "a file with several passes stores each as it needs; for greys between two "
                        "distances, or bits of your choice, write a file for each pass");
    }

    void write(const fs::path& out, const PassSet& set, std::vector<fs::path>& files) const {
        if (together() && set.passes.size() > 1) {
            makeFolder(folderOf(out));
            writePasses(out, framedPasses(set, m_settings.picture.framing));
            files.push_back(out);
            return;
        }
        for (const Pass& pass : set.passes) {
            const fs::path file = fileOfPassIn(m_settings, out, pass.name);
            makeFolder(folderOf(file));
            exportPass(file, set, pass, storageOf(m_settings, pass));
            files.push_back(file);
        }
    }

    const JobContext& m_context;
    const JobSettings& m_settings;
};

}  // namespace

PassSet chosenPasses(const PassSet& set, const std::vector<std::string>& names) {
    if (names.empty())
        return set;
    PassSet chosen = set;
    chosen.passes.clear();
    for (const std::string& name : names) {
        const Pass* pass = set.find(name);
        if (pass == nullptr)
            throw Error(ErrorCode::MissingPass, fmt::format("there is no pass {}", name));
        chosen.passes.push_back(*pass);
    }
    return chosen;
}

PassStorage storageOf(const JobSettings& settings, const Pass& pass) {
    PassStorage storage;
    storage.bits = settings.picture.bits;
    storage.framing = settings.picture.framing;
    if (pass.kind == PassKind::Depth || pass.kind == PassKind::Distance)
        storage.span = settings.span;
    return storage;
}

fs::path fileOfPassIn(const JobSettings& settings, const fs::path& out, const std::string& pass) {
    if (settings.packing == PassPacking::FolderEach)
        return fileOfPass(out, pass);
    NameValues values;
    values.pass = pass;
    return namedFile(out, values);
}

std::unique_ptr<JobWriter> passesWriter(const JobContext& context) {
    return std::make_unique<PassesWriter>(context);
}

}  // namespace noctis
