#pragma once

#include <filesystem>
#include <optional>
#include <string>
#include <vector>

namespace noctis {

/// No job has more frames.
inline constexpr int kMostFrames = 100'000;

/// Frames from first to last.
/// Errors   Error(BadSetting) for a range that is none, or that is longer than kMostFrames.
std::vector<int> framesFrom(int first, int last);

/// The file of one frame: a run of # in the file's name becomes the number, as wide as the run; without
/// one, .0001 is put before the ending. The frame of "quay.####.exr" is "quay.0012.exr".
std::filesystem::path fileOfFrame(const std::filesystem::path& pattern, int frame);

/// Of files whose names differ in a number of three digits or more alone, the first: the frames of a sequence are not passes of one.
/// left: those that were left out.
std::vector<std::filesystem::path> firstFrames(std::vector<std::filesystem::path> files,
                                               std::vector<std::filesystem::path>* left = nullptr);

/// The frame of a sequence a file is, by the last number of its name, of three digits or more; none: it is none.
std::optional<int> frameOf(const std::filesystem::path& file);
/// The file of another frame of the same sequence; the file itself where it is of none.
std::filesystem::path atFrame(const std::filesystem::path& file, int frame);
/// The frames of a file's sequence that lie in its folder, in their order.
std::vector<int> framesBeside(const std::filesystem::path& file);

/// What a file of a frame is of, by its name: without its ending, its frame's number and the words that name passes.
/// "Mole_quay.depth.0012.exr" is of "mole quay"; empty where nothing is left.
std::string shotOf(const std::filesystem::path& file);

/// A name as a file may bear it: characters that it can't have become _.
std::string fileNameOf(std::string name);

}  // namespace noctis
