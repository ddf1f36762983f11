#pragma once

#include <filesystem>
#include <string>
#include <vector>

namespace noctis {

/// The file of one frame: a run of # in the file's name becomes the number, as wide as the run; without
/// one, .0001 is put before the ending. The frame of "quay.####.exr" is "quay.0012.exr".
std::filesystem::path fileOfFrame(const std::filesystem::path& pattern, int frame);

/// Of files whose names differ in a number of three digits or more alone, the first: the frames of a sequence are not passes of one.
/// left: those that were left out.
std::vector<std::filesystem::path> firstFrames(std::vector<std::filesystem::path> files,
                                               std::vector<std::filesystem::path>* left = nullptr);

/// A name as a file may bear it: characters that it can't have become _.
std::string fileNameOf(std::string name);

}  // namespace noctis
