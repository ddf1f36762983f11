#include "core/image/trial.h"

#include "core/image/error.h"
#include "core/image/shipped.h"

#include <algorithm>
#include <csignal>
#include <cstdlib>
#include <functional>
#include <string>
#include <thread>
#include <vector>

#include <fcntl.h>
#include <fmt/format.h>
#include <spawn.h>
#include <sys/wait.h>
#include <unistd.h>

namespace noctis {

namespace fs = std::filesystem;

namespace {

constexpr std::size_t kMegabyte = std::size_t{1} << 20U;
/// Beyond its processor time, a trial can only wait: for a network, say.
constexpr std::chrono::minutes kLongest{10};

std::string_view nameOf(TrialKind kind) {
    switch (kind) {
    case TrialKind::Scene:
        return trial::kScene;
    case TrialKind::Picture:
        return trial::kPicture;
    case TrialKind::Typeface:
        return trial::kTypeface;
    }
    return {};
}

pid_t start(const fs::path& program, int file, int passage, std::vector<std::string> words) {
    std::vector<char*> arguments;
    for (std::string& word : words)
        arguments.push_back(word.data());
    arguments.push_back(nullptr);
    posix_spawn_file_actions_t streams;
    posix_spawn_file_actions_init(&streams);
    // Above those it is copied to, it isn't overwritten before that.
    const int copied = ::fcntl(passage, F_DUPFD_CLOEXEC, trial::kPassage + 1);
    posix_spawn_file_actions_adddup2(&streams, file, trial::kDescriptor);
    if (copied >= 0)
        posix_spawn_file_actions_adddup2(&streams, copied, trial::kPassage);
    for (const int stream : {STDIN_FILENO, STDOUT_FILENO, STDERR_FILENO})
        posix_spawn_file_actions_addopen(&streams, stream, "/dev/null", O_RDWR, 0);
    // In a group of its own it is none of the terminal's: stopping it is up to this process.
    posix_spawnattr_t attributes;
    posix_spawnattr_init(&attributes);
    sigset_t none;
    sigemptyset(&none);
    posix_spawnattr_setsigmask(&attributes, &none);
    posix_spawnattr_setpgroup(&attributes, 0);
    posix_spawnattr_setflags(&attributes, POSIX_SPAWN_SETPGROUP | POSIX_SPAWN_SETSIGMASK);
    pid_t child = -1;
    const int failed =
        posix_spawn(&child, program.c_str(), &streams, &attributes, arguments.data(), environ);
    posix_spawnattr_destroy(&attributes);
    posix_spawn_file_actions_destroy(&streams);
    if (copied >= 0)
        ::close(copied);
    return failed == 0 ? child : -1;
}

/// Its wait status, or nothing of use after it was killed for taking too long or because of a stop.
bool endsInTime(pid_t child, const std::stop_token& stop, int& status,
                const std::function<void()>& meanwhile) {
    const auto deadline = std::chrono::steady_clock::now() + kLongest;
    auto nap = std::chrono::microseconds(500);
    while (waitpid(child, &status, WNOHANG) == 0) {
        meanwhile();
        if (stop.stop_requested() || std::chrono::steady_clock::now() > deadline) {
            kill(child, SIGKILL);
            waitpid(child, &status, 0);
            return false;
        }
        std::this_thread::sleep_for(nap);
        nap = std::min(nap * 2, std::chrono::microseconds(8000));
    }
    meanwhile();
    return true;
}

}  // namespace

std::optional<OpenFiles> tryReading(const InputFile& file, TrialKind kind,
                                    const TrialLimits& limits, const std::stop_token& stop) {
    const fs::path program = shippedProgram("noctis-trial");
    std::error_code failed;
    if (!fs::exists(program, failed))
        return std::nullopt;
    const std::string name = file.path().string();
    const std::size_t memory =
        limits.memory > 0 ? limits.memory : 4096 * kMegabyte + 20 * file.size();
    const FilePassage passage;
    const pid_t child = start(program, file.descriptor(), passage.there(),
                              {program.string(), std::string(nameOf(kind)), name,
                               std::to_string(memory), std::to_string(limits.stack),
                               std::to_string(limits.time.count()), std::to_string(::getpid())});
    if (child < 0)
        return std::nullopt;
    int status = 0;
    OpenFiles others;
    const bool ended =
        endsInTime(child, stop, status, [&] { takePassedFiles(passage.here(), others); });
    if (stop.stop_requested())
        return std::nullopt;
    if (!ended || (WIFSIGNALED(status) && WTERMSIG(status) == SIGXCPU))
        throw Error(ErrorCode::BadFile,
                    fmt::format("{}: reading takes far too long for its size, so the file must be "
                                "damaged; export or copy it again",
                                name));
    if (WIFEXITED(status) && WEXITSTATUS(status) == trial::kOutOfMemory)
        throw Error(
            ErrorCode::TooLarge,
            fmt::format(
                "{}: reading needs more than {} MB of memory; the file is damaged or too large",
                name, memory / kMegabyte));
    if (!WIFEXITED(status) || WEXITSTATUS(status) != trial::kRead)
        throw Error(ErrorCode::BadFile,
                    fmt::format("{} is damaged and can't be read; export or copy it again", name));
    return others;
}

}  // namespace noctis
