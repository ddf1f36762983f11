#include "core/dispatch/job_run.h"

#include "core/dispatch/job_record.h"
#include "core/dispatch/job_writer.h"
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

/// Names what a job writes at its end in its record.
constexpr const char* kWhole = "whole";

/// What all pieces of a job are made from: how it writes, and what the project says and reads. Not which of its frames
/// are wanted, or a longer job would begin anew.
std::uint64_t sharedOrigin(const Job& job, const std::string& projectText, const Project& project) {
    Job how;
    how.kind = job.kind;
    how.settings = job.settings;
    how.settings.sheet = {};  // shapes the sheet alone, not its pictures
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

/// Of all pieces together, in their order.
std::uint64_t originOfWhole(std::uint64_t shared, const Job& job,
                            const std::vector<JobPiece>& pieces) {
    Job how;
    how.kind = job.kind;
    how.settings.sheet = job.settings.sheet;
    Hash hash(shared);
    hash.add(jobToText(how, {}));
    for (const JobPiece& piece : pieces)
        hash.add(piece.key()).add(originOf(shared, piece.frame));
    return hash.value();
}

/// Before anything is written: what would make every frame fail.
void requireRunnable(const Job& job, const Project& project, const std::vector<JobPiece>& pieces) {
    std::vector<fs::path> inputs;
    std::vector<fs::path> outputs;
    std::set<fs::path> names;
    for (const JobPiece& piece : pieces) {
        inputs.insert(inputs.end(), piece.frame.passes.begin(), piece.frame.passes.end());
        outputs.push_back(piece.frame.out);
        if (!names.insert(piece.frame.out).second && job.kind != JobKind::Sheet)
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
}

/// One run of a job.
class JobRun {
public:
    JobRun(const Job& job, const Project& project, const std::string& projectText,
           const fs::path& record, const JobObserver& observer)
        : m_job(job), m_observer(observer),
          m_inputs(job, project), m_context{job,
                                            project,
                                            m_inputs,
                                            record,
                                            [this](const std::string& sentence) { warn(sentence); },
                                            observer.shown},
          m_writer(jobWriter(m_context)), m_record(record),
          m_shared(sharedOrigin(job, projectText, project)) {}

    JobState run(const std::vector<JobPiece>& pieces, const RunContext& run) {
        m_state.pieces = static_cast<int>(pieces.size());
        m_writer->begin(pieces);
        tell();
        const auto goesOn = [&] {
            return !run.stopped() && !(m_observer.yields && m_observer.yields());
        };
        for (std::size_t i = 0; i < pieces.size() && goesOn(); ++i) {
            const RunContext part = partOf(run, i, pieces.size());
            if (!take(pieces[i], part))
                return m_state;
            part.report(1.0F);
            tell();
        }
        return m_state;
    }

    /// Once all pieces of all shares are there.
    JobState end(const std::vector<JobPiece>& all) {
        const JobRecord made(m_context.record);
        const bool whole = std::ranges::all_of(all, [&](const JobPiece& piece) {
            return made.stands(piece.key(), originOf(m_shared, piece.frame));
        });
        const std::uint64_t origin = originOfWhole(m_shared, m_job, all);
        if (!whole || all.empty() || made.stands(kWhole, origin))
            return m_state;
        try {
            const std::vector<fs::path> files = m_writer->end(all);
            if (!files.empty())
                writing([&] { m_record.add(kWhole, origin, files); });
        } catch (const JobHalt& halt) {
            m_state.halted = halt.reason;
        }
        return m_state;
    }

private:
    void warn(const std::string& sentence) {
        if (m_observer.warned && m_warned.insert(sentence).second)
            m_observer.warned(sentence);
    }

    void tell() const {
        if (m_observer.changed)
            m_observer.changed(m_state);
    }

    /// Whether the next piece may follow.
    bool take(const JobPiece& piece, const RunContext& run) {
        const std::uint64_t origin = originOf(m_shared, piece.frame);
        try {
            if (m_record.stands(piece.key(), origin)) {
                ++m_state.kept;
                return true;
            }
            const std::vector<fs::path> files = m_writer->take(piece, run);
            if (files.empty() && run.stopped())
                return false;
            writing([&] { m_record.add(piece.key(), origin, files); });
            ++m_state.written;
        } catch (const JobHalt& halt) {
            m_state.halted = halt.reason;
            tell();
            return false;
        } catch (const Error& error) {
            m_state.failures.push_back({piece.view, piece.frame.number, error.what()});
        }
        return true;
    }

    const Job& m_job;
    const JobObserver& m_observer;
    JobInputs m_inputs;
    JobContext m_context;
    std::unique_ptr<JobWriter> m_writer;
    JobRecord m_record;
    std::uint64_t m_shared;
    JobState m_state;
    std::set<std::string> m_warned;
};

}  // namespace

JobState runJob(const Job& job, const JobShare& share, const fs::path& record,
                const JobObserver& observer, const RunContext& run) {
    std::string text;
    const Project project = openProject(job.project, stepCatalogue(), &text);
    const std::vector<JobPiece> pieces = piecesOf(job, project, share);
    requireRunnable(job, project, pieces);
    JobRun now(job, project, text, record, observer);
    const JobState state = now.run(pieces, run);
    if (state.done() < state.pieces || !state.halted.empty() || !state.failures.empty())
        return state;
    return now.end(piecesOf(job, project));
}

}  // namespace noctis
