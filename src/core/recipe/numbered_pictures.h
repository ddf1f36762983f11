#pragma once

#include <filesystem>
#include <string>
#include <vector>

namespace noctis {

/// What a sequence shows before its first and after its last frame: the nearest one, or it starts again.
enum class SequenceEnd { Holds, Loops };

/// Whether a file is one of several numbered ones that lie beside it.
bool isSequence(const std::filesystem::path& file);

/// The numbers that a sequence leaves out, in a few words, as "12, 14 to 16"; empty where it leaves out none.
std::string missingFrames(const std::vector<int>& frames);

/// Which of a sequence's frames, by rising number, stands for one: a missing one is bridged by the nearest.
int frameInstead(const std::vector<int>& frames, int frame, SequenceEnd end);

}  // namespace noctis
