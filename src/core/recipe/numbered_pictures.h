#pragma once

#include <filesystem>

namespace noctis {

/// What a sequence shows before its first and after its last frame: the nearest one, or it starts again.
enum class SequenceEnd { Holds, Loops };

/// Whether a file is one of several numbered ones that lie beside it.
bool isSequence(const std::filesystem::path& file);

/// The file of a frame; one that is missing is bridged by the nearest. A file of no sequence is itself.
std::filesystem::path pictureAt(const std::filesystem::path& file, int frame, SequenceEnd end);

}  // namespace noctis
