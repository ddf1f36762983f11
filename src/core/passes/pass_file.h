#pragma once

#include "core/image/run_context.h"
#include "core/passes/pass_reading.h"
#include "core/passes/pass_set.h"

#include <filesystem>
#include <map>
#include <vector>

namespace noctis {

/// How to read files that don't say how, or say it wrongly.
struct Readings {
    ReadingMap passes;                        ///< corrections, by the pass's key
    float yfovRadians = kAssumedYfovRadians;  ///< of a frame without a camera
    bool operator==(const Readings&) const = default;
};

/// A pass as found in a file, before its pixels are read.
struct PassInFile {
    std::string name;
    PassKind kind = PassKind::Colour;
    std::vector<int> channels;  ///< indices into the file's
    int part = 0;
    std::string layer;    ///< in the file; empty for plain R G B A
    std::string why;      ///< why it has this kind
    bool stated = false;  ///< the file says its kind: one of ours
};

/// The passes in a file, from its layers, channel names, metadata and file name.
std::vector<PassInFile> passesIn(const std::filesystem::path& path, const FileInfo& info);

/// Reads all passes of these files as one frame. What can't be used is left out with a warning in
/// the set; depth is brought to metres by its metadata, by corrections, or by a guess. Empty if it is stopped.
/// Errors   Error(FileAccess, BadFile, TooLarge) if a file can't be read; Error(ShapeMismatch) never:
///          a file of the picture's shape is scaled to its size, and one of another shape left out, both with a warning.
PassSet readPasses(const std::vector<std::filesystem::path>& paths, const Readings& readings = {},
                   const RunContext& run = {});

/// A picture for a step to use: scene-linear R G B A, associated; opaque where the file has no alpha.
/// Errors   as readFileInfo.
Image readPicture(const std::filesystem::path& path);

/// As readPasses, but only what the files state about each pass: reads no pixels, guesses and diagnoses
/// nothing.
PassSet readPassesWithoutPixels(const std::vector<std::filesystem::path>& paths);

/// Converts one pass to metres again under another reading, keeping the stored values.
void reinterpret(Pass& pass, const Interpretation& interpretation, const Camera& camera);
/// The same with what else a reading says of a depth: bands smoothed, edges snapped.
void reinterpret(Pass& pass, const PassReading& reading, const Camera& camera);

/// Reads files as the requests of a command line say; see readRequestFromText. Where two distances are known they
/// settle the depth, and readings has the corrections afterwards.
/// Errors   as readPasses; Error(UnknownName) for a pass that is not there, Error(BadSetting).
PassSet readPassesAs(const std::vector<std::filesystem::path>& paths, Readings& readings,
                     const std::vector<std::string>& requests);

enum class PassLayout {
    PartPerPass,    ///< reading one pass is as fast as it can be
    OnePart,        ///< for programs that read only the first part
    FolderPerPass,  ///< a file a pass, each in a folder of the pass's name; see fileOfPass
};

struct PassFileOptions {
    PassLayout layout = PassLayout::PartPerPass;
    Compression colour =
        Compression::Zip;      ///< of beauty; data passes are always packed without loss
    bool halfColour = false;   ///< smaller colours, within 5e-4 of each value
    bool halfNormals = false;  ///< smaller normals, within 5e-4 of a unit vector
};

/// Where a pass goes that has its own file: "out/f.exr" gives "out/depth/f.exr". Characters that
/// can't be in a folder's name become _.
std::filesystem::path fileOfPass(const std::filesystem::path& path, const std::string& pass);

/// The parts of a file with these passes, in one part or a part each.
std::vector<FilePart> filePartsOf(const PassSet& set, const PassFileOptions& options);

/// Writes passes as EXR with names, units, settings, view and camera matrices. Data passes are kept
/// exactly.
/// Errors   as writeImageFile.
void writePasses(const std::filesystem::path& path, const PassSet& set,
                 const PassFileOptions& options = {});

/// Writes one pass by the file's ending. In 8- and 16-bit files a data pass is scaled into 0..1,
/// its range goes into the metadata and a JSON file beside it, and readPasses brings it back.
void writePass(const std::filesystem::path& path, const PassSet& set, const Pass& pass,
               SampleType type);

}  // namespace noctis
