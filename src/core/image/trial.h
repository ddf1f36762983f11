#pragma once

#include "core/image/input_file.h"
#include "core/image/passed_files.h"

#include <chrono>
#include <cstddef>
#include <optional>
#include <stop_token>
#include <string_view>

namespace noctis {

/// What an untrusted file is tried as.
enum class TrialKind { Scene, Picture, Typeface };

/// Limits of a trial. The defaults leave room for anything an artist works with.
struct TrialLimits {
    std::size_t memory = 0;  ///< bytes; 0: four GiB and twenty times the file
    std::size_t stack = std::size_t{64} << 20U;
    std::chrono::seconds time{10};  ///< of processors, and a second for each ten MB it opens
};

/// Reads a file in a separate process (noctis-trial) and drops the result. Some damaged files abort, hang,
/// overflow the stack or eat all memory inside the libraries that read them, with nothing to catch; in that
/// process, it can't do harm. It reads the file that is open here, and ends when this process does. Where the
/// program isn't found, nothing is tried.
/// Returns  the other files that it opened on the way (buffers and textures of a scene), still open: to be read,
///          too, as another file may have their names by now. Nothing where nothing was tried.
/// Errors   Error(BadFile) if the reading died or took too long, Error(TooLarge) if it needs more memory than
///          the limit. Never for a file that is refused in good order: reading it says why.
/// When stopped, it ends at once.
/// Threads  any.
std::optional<OpenFiles> tryReading(const InputFile& file, TrialKind kind,
                                    const TrialLimits& limits = {},
                                    const std::stop_token& stop = {});

/// The arguments and exit codes of noctis-trial: kind, file's name, bytes of memory and of stack, seconds, and
/// the process that waits for it.
namespace trial {
inline constexpr std::string_view kScene = "scene";
inline constexpr std::string_view kPicture = "picture";
inline constexpr std::string_view kTypeface = "typeface";
inline constexpr int kArguments = 7;    ///< with the program itself
inline constexpr int kDescriptor = 3;   ///< the file
inline constexpr int kPassage = 4;      ///< for the other files that it opens
inline constexpr int kRead = 0;         ///< read, or refused properly
inline constexpr int kOutOfMemory = 9;  ///< more than the limit would be needed
inline constexpr std::size_t kBytesPerSecond = std::size_t{10} << 20U;
}  // namespace trial

}  // namespace noctis
