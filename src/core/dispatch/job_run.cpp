#include "core/dispatch/job_run.h"

#include "core/dispatch/export_format.h"
#include "core/dispatch/file_names.h"
#include "core/dispatch/job_frames.h"
#include "core/dispatch/job_record.h"
#include "core/image/error.h"
#include "core/image/safe_write.h"
#include "core/project/project_file.h"
#include "core/recipe/picture_files.h"
#include "core/settings/hash.h"
#include "core/steps/registry.h"

#include <algorithm>
#include <set>

#include <fmt/format.h>

namespace noctis {

namespace fs = std::filesystem;

namespace {

/// The passes a job writes of a frame.
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

bool takesSpan(const Pass& pass) {
    return pass.kind == PassKind::Depth || pass.kind == PassKind::Distance;
}

PassStorage storageOf(const JobSettings& settings, const Pass& pass) {
    PassStorage storage;
    storage.bits = settings.picture.bits;
    storage.framing = settings.picture.framing;
    if (takesSpan(pass))
        storage.span = settings.span;
    return storage;
}

/// Where each pass of a frame goes.
fs::path fileOfPassIn(const JobSettings& settings, const fs::path& out, const Pass& pass) {
    if (settings.packing == PassPacking::FolderEach)
        return fileOfPass(out, pass.name);
    NameValues values;
    values.pass = pass.name;
    return namedFile(out, values);
}

/// Whether one file holds all passes of a frame.
bool together(const JobSettings& settings) { return settings.packing == PassPacking::OneFile; }

void writeChosen(const JobSettings& settings, const fs::path& out, const PassSet& set,
                 std::vector<fs::path>& files) {
    if (together(settings) && set.passes.size() > 1) {
        makeFolder(folderOf(out));
        writePasses(out, framedPasses(set, settings.picture.framing));
        files.push_back(out);
        return;
    }
    for (const Pass& pass : set.passes) {
        const fs::path file = fileOfPassIn(settings, out, pass);
        makeFolder(folderOf(file));
        exportPass(file, set, pass, storageOf(settings, pass));
        files.push_back(file);
    }
}

/// What all pieces of a job are made from: how it writes, and what the project says and reads. Not which of its frames
/// are wanted, or a longer job would begin anew.
std::uint64_t sharedOrigin(const Job& job, const std::string& projectText, const Project& project) {
    Job how;
    how.kind = job.kind;
    how.settings = job.settings;
    Hash hash;
    hash.add(jobToText(how, {})).add(projectText);
    std::set<fs::path> frames(project.passFiles.begin(), project.passFiles.end());
    for (const auto& [view, files] : project.viewFiles)
        frames.insert(files.begin(), files.end());
    for (const fs::path& input : inputsOf(project, {}))
        if (!frames.contains(input))
            hash.add(input.string()).add(PictureFiles::stampOf(input));
    return hash.value();
}

std::uint64_t originOf(std::uint64_t shared, const FrameToFinish& frame) {
    Hash hash(shared);
    hash.add(frame.out.string()).add(static_cast<std::uint64_t>(frame.number));
    for (const fs::path& pass : frame.passes)
        hash.add(pass.string()).add(PictureFiles::stampOf(pass));
    return hash.value();
}

/// A file that couldn't be written.
struct Halt {
    std::string reason;
};

/// Runs what writes; what keeps it from writing halts the job.
template <typename Write> void writing(const Write& write) {
    try {
        write();
    } catch (const Error& error) {
        if (error.code() == ErrorCode::FileAccess)
            throw Halt{error.what()};
        throw;
    }
}

class Run {
public:
    Run(const Job& job, const Project& project, const JobObserver& observer)
        : m_job(job), m_project(project), m_observer(observer) {
        m_how.storage = job.settings.picture;
        m_how.warn = [this](const std::string& sentence) {
            if (m_observer.warned && m_warned.insert(sentence).second)
                m_observer.warned(sentence);
        };
    }

    /// Returns  the files it wrote; none if it was stopped.
    std::vector<fs::path> write(const JobPiece& piece, const RunContext& run) {
        const Project project = projectOfView(m_project, piece.view);
        std::vector<fs::path> files;
        if (m_job.kind == JobKind::Passes) {
            Readings readings = project.readings;
            const PassSet set = readPassesAs(piece.frame.passes, readings, {});
            for (const std::string& warning : set.warnings)
                m_how.warn(warning);
            if (run.stopped())
                return {};
            const PassSet chosen = chosenPasses(set, m_job.settings.passes);
            writing([&] { writeChosen(m_job.settings, piece.frame.out, chosen, files); });
            return files;
        }
        const std::optional<Image> picture = finishedPicture(project, piece.frame, m_how, run);
        if (!picture)
            return {};
        writing([&] {
            makeFolder(folderOf(piece.frame.out));
            writeFinished(project, piece.frame, m_how, *picture);
        });
        return {piece.frame.out};
    }

private:
    const Job& m_job;
    const Project& m_project;
    const JobObserver& m_observer;
    FinishHow m_how;
    std::set<std::string> m_warned;
};

/// What a job's packing can't hold. One pass alone has a file of its own, whatever the packing.
void requirePackable(const Job& job, const std::vector<fs::path>& outputs) {
    const JobSettings& s = job.settings;
    if (s.passes.size() == 1)
        return;
    if (s.packing == PassPacking::FileEach && !hasPlaceholder(job.to, "pass"))
        throw Error(ErrorCode::BadSetting,
                    "each pass has a file of its own: put {pass} into the name");
    if (!together(s))
        return;
    for (const fs::path& out : outputs)
        if (!exportFormatOf(out).layers)
            throw Error(
                ErrorCode::BadSetting,
                fmt::format("{}: this file holds one pass; write EXR, or a file for each pass",
                            out.string()));
    if (s.span || s.picture.bits > 0)
        throw Error(ErrorCode::BadSetting,
                    "a file with several passes stores each as it needs; for greys between two "
                    "distances, or bits of your choice, write a file for each pass");
}

/// Before anything is written: what would make every frame fail.
void requireRunnable(const Job& job, const Project& project, const std::vector<JobPiece>& pieces) {
    std::vector<fs::path> inputs;
    std::vector<fs::path> outputs;
    std::set<fs::path> names;
    for (const JobPiece& piece : pieces) {
        inputs.insert(inputs.end(), piece.frame.passes.begin(), piece.frame.passes.end());
        outputs.push_back(piece.frame.out);
        if (!names.insert(piece.frame.out).second)
            throw Error(
                ErrorCode::BadSetting,
                fmt::format("{}: two frames would have this name; put {{view}} or {{frame}} "
                            "into it",
                            piece.frame.out.string()));
    }
    inputs.push_back(job.project);
    for (fs::path& input : inputsOf(project, outputs))
        inputs.push_back(std::move(input));
    requireNoInput(outputs, inputs);
    for (const fs::path& out : outputs)
        (void)exportDepthOf(out, job.settings.picture.bits);
    if (job.kind == JobKind::Finished)
        requireUsable(project.recipe);
    else
        requirePackable(job, outputs);
}

}  // namespace

JobState runJob(const Job& job, const JobShare& share, const fs::path& record,
                const JobObserver& observer, const RunContext& run) {
    std::string text;
    const Project project = openProject(job.project, stepCatalogue(), &text);
    const std::vector<JobPiece> pieces = piecesOf(job, project, share);
    requireRunnable(job, project, pieces);
    const std::uint64_t shared = sharedOrigin(job, text, project);
    JobRecord made(record);
    JobState state;
    state.pieces = static_cast<int>(pieces.size());
    Run worker(job, project, observer);
    const auto tell = [&] {
        if (observer.changed)
            observer.changed(state);
    };
    tell();
    for (std::size_t i = 0; i < pieces.size() && !run.stopped(); ++i) {
        const JobPiece& piece = pieces[i];
        const RunContext part = partOf(run, i, pieces.size());
        const std::uint64_t origin = originOf(shared, piece.frame);
        try {
            if (made.stands(piece.key(), origin)) {
                ++state.kept;
            } else {
                const std::vector<fs::path> files = worker.write(piece, part);
                if (files.empty() && run.stopped())
                    break;
                writing([&] { made.add(piece.key(), origin, files); });
                ++state.written;
            }
        } catch (const Halt& halt) {
            state.halted = halt.reason;
            tell();
            return state;
        } catch (const Error& error) {
            state.failures.push_back({piece.view, piece.frame.number, error.what()});
        }
        part.report(1.0F);
        tell();
    }
    return state;
}

}  // namespace noctis
