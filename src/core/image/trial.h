#pragma once

#include <chrono>
#include <cstddef>
#include <filesystem>
#include <stop_token>
#include <string_view>

namespace noctis {

/// Errors   Error(FileAccess) if there is nothing there, or no plain file: a pipe could be read for ever.
void requireFile(const std::filesystem::path& path);

/// What an untrusted file is tried as.
enum class TrialKind { Scene, Picture };

/// Limits of a trial. The defaults leave room for anything an artist works with.
struct TrialLimits {
    std::size_t memory = 0;  ///< bytes; 0: four GiB and twenty times the file
    std::size_t stack = std::size_t{64} << 20U;
    std::chrono::seconds time{0};  ///< 0: one minute, and a second for each five MB
};

/// Reads a file in a separate process (noctis-trial) and drops the result. Some damaged files abort, hang,
/// overflow the stack or eat all memory inside the libraries that read them, with nothing to catch; in that
/// process, it can't do harm. Where the program isn't found, nothing is tried.
/// Errors   Error(BadFile) if the reading died or took too long, Error(TooLarge) if it needs more memory than
///          the limit. Never for a file that is refused in good order: reading it says why.
/// When stopped, it ends at once.
/// Threads  any.
void tryReading(const std::filesystem::path& path, TrialKind kind, const TrialLimits& limits = {},
                const std::stop_token& stop = {});

/// The arguments and exit codes of noctis-trial.
namespace trial {
inline constexpr std::string_view kScene = "scene";
inline constexpr std::string_view kPicture = "picture";
inline constexpr int kRead = 0;         ///< read, or refused properly
inline constexpr int kOutOfMemory = 9;  ///< more than the limit would be needed
}  // namespace trial

}  // namespace noctis
