#pragma once

#include "core/image/run_context.h"
#include "core/passes/pass_file.h"
#include "core/relief/height_field.h"
#include "core/tracer/accelerator.h"

#include <filesystem>
#include <vector>

namespace noctis {

/// What a height map is made from.
struct ReliefInput {
    PassSet passes;
    /// The first file as stored, unconverted: greys and normals often come without a known kind.
    Image stored{};
    SampleType storedType = SampleType::Float;
    std::string source;       ///< where it is from, in a few words, for the map's own files
    std::string signature{};  ///< changes with the content; empty: use the files' names
};

/// The frame that a relief's places are pixels of.
struct FrameSize {
    int width = 0;
    int height = 0;
};
FrameSize frameSizeOf(const ReliefInput& input);

/// What a relief is made from: files of passes; a view of a scene, of the file or the open one, that is traced;
/// or, without files and view, the frame in Picture.
struct ReliefFrom {
    std::vector<std::filesystem::path> files{};
    std::string view{};
    int width = 1024;  ///< of what is traced
    int height = 1024;
    bool operator==(const ReliefFrom&) const = default;
};

/// Errors   as readPasses.
ReliefInput readReliefInput(const std::vector<std::filesystem::path>& files,
                            const Readings& readings = {});

/// Traces what height maps read: depth, position, normals, objects. In perspective or parallel.
/// Errors   as renderPasses.
ReliefInput traceReliefInput(const Scene& scene, const Accelerator& accelerator, const View& view,
                             int width, int height, const RunContext& run = {});

/// A frame that already exists.
ReliefInput reliefInputOf(const PassSet& passes, std::string source);

/// What is open besides the relief. Any of it may be missing.
struct ReliefSurroundings {
    const PassSet* frame = nullptr;
    const Scene* scene = nullptr;
    const Accelerator* accelerator = nullptr;
    std::vector<View> views{};
};
/// Whether it is a scene, by its ending.
bool isSceneFile(const std::filesystem::path& path);
/// Reads or traces what a relief is made from.
/// Errors   as readReliefInput, importScene and traceReliefInput; Error(UnknownName) for a view that is not there.
ReliefInput gatherReliefInput(const ReliefFrom& from, const ReliefSurroundings& surroundings,
                              const RunContext& run = {});

/// A height map that Noctis wrote, to the metre; nothing for any other file.
std::optional<HeightField> writtenHeights(const ReliefInput& input);

}  // namespace noctis
