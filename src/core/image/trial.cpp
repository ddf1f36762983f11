#include "core/image/trial.h"

#include "core/image/error.h"

#include <algorithm>
#include <csignal>
#include <cstdlib>
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
constexpr std::size_t kBytesPerSecond = 5 * kMegabyte;

/// As installed; or where it was built.
fs::path trialProgram() {
    std::error_code failed;
    const fs::path self = fs::read_symlink("/proc/self/exe", failed);
    const fs::path libraries = NOCTIS_TRIAL_INSTALLED;
    if (!failed)
        for (const fs::path& folder :
             {self.parent_path(), self.parent_path().parent_path() / libraries})
            if (fs::exists(folder / "noctis-trial"))
                return folder / "noctis-trial";
    return fs::exists(NOCTIS_TRIAL_BUILT) ? fs::path(NOCTIS_TRIAL_BUILT) : fs::path();
}

pid_t start(const fs::path& program, std::vector<std::string> words) {
    std::vector<char*> arguments;
    for (std::string& word : words)
        arguments.push_back(word.data());
    arguments.push_back(nullptr);
    posix_spawn_file_actions_t quiet;
    posix_spawn_file_actions_init(&quiet);
    for (const int stream : {STDIN_FILENO, STDOUT_FILENO, STDERR_FILENO})
        posix_spawn_file_actions_addopen(&quiet, stream, "/dev/null", O_RDWR, 0);
    pid_t child = -1;
    const int failed =
        posix_spawn(&child, program.c_str(), &quiet, nullptr, arguments.data(), environ);
    posix_spawn_file_actions_destroy(&quiet);
    return failed == 0 ? child : -1;
}

/// Its wait status, or nothing of use after it was killed for taking too long or because of a stop.
bool endsInTime(pid_t child, std::chrono::seconds time, const std::stop_token& stop, int& status) {
    const auto deadline = std::chrono::steady_clock::now() + time;
    auto nap = std::chrono::microseconds(500);
    while (waitpid(child, &status, WNOHANG) == 0) {
        if (stop.stop_requested() || std::chrono::steady_clock::now() > deadline) {
            kill(child, SIGKILL);
            waitpid(child, &status, 0);
            return false;
        }
        std::this_thread::sleep_for(nap);
        nap = std::min(nap * 2, std::chrono::microseconds(8000));
    }
    return true;
}

}  // namespace

void requireFile(const fs::path& path) {
    std::error_code failed;
    if (!fs::exists(path, failed))
        throw Error(ErrorCode::FileAccess,
                    fmt::format("{}: no such file; check the path", path.string()));
    if (!fs::is_regular_file(path, failed))
        throw Error(ErrorCode::FileAccess,
                    fmt::format("{} isn't a readable file; choose a file", path.string()));
}

void tryReading(const fs::path& path, TrialKind kind, const TrialLimits& limits,
                const std::stop_token& stop) {
    const fs::path program = trialProgram();
    std::error_code failed;
    const auto size = static_cast<std::size_t>(fs::file_size(path, failed));
    if (program.empty() || failed)
        return;
    const std::size_t memory = limits.memory > 0 ? limits.memory : 4096 * kMegabyte + 20 * size;
    const std::chrono::seconds time =
        limits.time.count() > 0 ? limits.time : std::chrono::seconds(60 + size / kBytesPerSecond);
    const std::string_view what = kind == TrialKind::Scene ? trial::kScene : trial::kPicture;
    const pid_t child =
        start(program, {program.string(), std::string(what), path.string(), std::to_string(memory),
                        std::to_string(limits.stack), std::to_string(time.count())});
    if (child < 0)
        return;
    int status = 0;
    const bool ended = endsInTime(child, time, stop, status);
    if (stop.stop_requested())
        return;
    if (!ended || (WIFSIGNALED(status) && WTERMSIG(status) == SIGXCPU))
        throw Error(ErrorCode::BadFile, fmt::format("{}: reading takes longer than {} s, so the "
                                                    "file must be damaged; export or copy it again",
                                                    path.string(), time.count()));
    if (WIFEXITED(status) && WEXITSTATUS(status) == trial::kOutOfMemory)
        throw Error(
            ErrorCode::TooLarge,
            fmt::format(
                "{}: reading needs more than {} MB of memory; the file is damaged or too large",
                path.string(), memory / kMegabyte));
    if (!WIFEXITED(status) || WEXITSTATUS(status) != trial::kRead)
        throw Error(
            ErrorCode::BadFile,
            fmt::format("{} is damaged and can't be read; export or copy it again", path.string()));
}

}  // namespace noctis
