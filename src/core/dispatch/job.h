#pragma once

#include "core/dispatch/pass_export.h"
#include "core/dispatch/picture_export.h"
#include "core/dispatch/sheet.h"
#include "core/project/project.h"

#include <filesystem>
#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace noctis {

inline constexpr int kJobVersion = 1;

enum class JobKind { Passes, Finished, Sheet, Relief };

std::string_view jobKindId(JobKind kind);

/// Where the passes of one frame go.
enum class PassPacking {
    OneFile,     ///< an EXR file with all of them
    FileEach,    ///< a file a pass: {pass} in its name
    FolderEach,  ///< a file a pass, in a folder of the pass's name
};

/// Which passes a job renders from the project's scene.
enum class JobRender {
    None,     ///< all are in files
    Missing,  ///< those of views that have no files
    All,
};

/// Objects that are rendered without the others.
struct ObjectSet {
    std::string name;  ///< {set} in a file's name
    std::string only;  ///< see instancesNamed
    bool operator==(const ObjectSet&) const = default;
};

inline constexpr std::string_view kHeightsWritten = "height";
inline constexpr std::string_view kSolidWritten = "mesh";

/// What is written of height maps.
struct ReliefSettings {
    std::vector<std::string> ids{};   ///< of the project's reliefs; empty: all
    std::string as{kHeightsWritten};  ///< heights, a solid, or a map of derivedMaps()
    float base = 0.005F;              ///< m, of a solid; 0: open
    float within = 0.0F;              ///< m, of a solid; see ReliefMeshSettings
    bool operator==(const ReliefSettings&) const = default;
};

/// What is written, and how.
struct JobSettings {
    PictureStorage picture{};
    bool bridge = false;                ///< missing frames are made from the nearest
    std::vector<std::string> passes{};  ///< by name; empty: all that are there
    PassPacking packing = PassPacking::OneFile;
    std::optional<GreySpan> span{};  ///< of depth and distance; none: in metres
    JobRender render = JobRender::None;
    std::vector<ObjectSet> sets{};  ///< each rendered for itself; none: everything at once
    SheetLayout sheet{};
    ReliefSettings relief{};
    bool operator==(const JobSettings&) const = default;
};

/// Something that goes out, as a value that is saved and can be run anywhere its files are.
struct Job {
    std::string id;  ///< lasting; letters, digits, - and _
    JobKind kind = JobKind::Finished;
    std::filesystem::path project;       ///< absolute
    std::vector<std::string> views{};    ///< empty: the one whose passes the project has
    std::optional<FrameRange> frames{};  ///< none: the one frame that the project names
    /// Absolute; {project}, {view}, {pass}, {set}, {frame} and runs of # stand for their values. Without frames,
    /// {frame} and # count the views from 1. A sheet's {view} is
    /// what the names of its views begin with, a height map's {pass} its name.
    std::filesystem::path to;
    JobSettings settings{};
    /// Fields of the file that this Noctis doesn't know, kept as JSON.
    std::shared_ptr<const std::string> unknown{};
    bool operator==(const Job&) const = default;
};

/// A new id: the time and a random part.
std::string newJobId();

/// Whether its frames come from renders, for sets of objects at least.
inline bool rendersAll(const JobSettings& s) {
    return s.render == JobRender::All || !s.sets.empty();
}

/// The text of a job file; paths are relative to its folder where they are below it.
std::string jobToText(const Job& job, const std::filesystem::path& folder);
/// Errors   Error(BadFile) that says what is wrong, Error(NewerVersion).
Job jobFromText(const std::string& text, const std::filesystem::path& folder);

/// Errors   as jobFromText, with the file's name; Error(FileAccess).
Job openJob(const std::filesystem::path& file);
void saveJob(const Job& job, const std::filesystem::path& file);

/// A share of a job's frames: the part-th of parts, from 1.
struct JobShare {
    int part = 1;
    int parts = 1;
};
/// "I/N". Errors: Error(BadSetting).
JobShare jobShareFromText(const std::string& text);

}  // namespace noctis
