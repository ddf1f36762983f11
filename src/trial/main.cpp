// Reads a stranger's file where it can't hurt; see core/image/trial.h.
#include "core/image/error.h"
#include "core/image/image_file.h"
#include "core/image/passed_files.h"
#include "core/image/trial.h"
#include "core/image/typeface.h"
#include "core/scene/import.h"

#include <csignal>
#include <cstdint>
#include <cstdlib>
#include <cstring>
#include <exception>
#include <memory>
#include <new>
#include <numeric>
#include <string>
#include <system_error>

#include <sys/prctl.h>
#include <sys/resource.h>
#include <unistd.h>

namespace {

constexpr int kTriedSize = 64;  ///< px of a line of text

void limit(int resource, const char* text) {
    const auto value = static_cast<rlim_t>(std::strtoull(text, nullptr, 10));
    const rlimit both{value, value};
    setrlimit(static_cast<__rlimit_resource>(resource), &both);
}

/// Allows processor time for the files that are opened.
class Time {
public:
    explicit Time(const char* seconds) : m_seconds(std::strtoull(seconds, nullptr, 10)) {
#ifdef __SANITIZE_ADDRESS__
        m_seconds *= 10;
#endif
    }
    void allowFor(std::uint64_t bytes) {
        m_bytes += bytes;
        rlimit now{};
        getrlimit(RLIMIT_CPU, &now);
        now.rlim_cur = m_seconds + m_bytes / noctis::trial::kBytesPerSecond;
        setrlimit(RLIMIT_CPU, &now);
    }

private:
    std::uint64_t m_seconds;
    std::uint64_t m_bytes = 0;
};

void readAll(std::string_view kind, const std::filesystem::path& path, Time& time) {
    const auto file =
        std::make_shared<const noctis::InputFile>(path, int{noctis::trial::kDescriptor});
    time.allowFor(file->size());
    if (kind == noctis::trial::kScene) {
        (void)noctis::importTriedScene({.file = file,
                                        .others = std::nullopt,
                                        .opened =
                                            [&](const noctis::InputFile& other) {
                                                time.allowFor(other.size());
                                                (void)noctis::passFile(noctis::trial::kPassage,
                                                                       other);
                                            },
                                        .stop = {}});
        return;
    }
    if (kind == noctis::trial::kTypeface) {
        noctis::Typeface(*file).drawAll(kTriedSize);
        return;
    }
    const noctis::FileInfo info = noctis::readTriedFileInfo(file);
    std::vector<int> channels(info.channels.size());
    std::iota(channels.begin(), channels.end(), 0);
    (void)noctis::readFileChannels(info, channels);
}

/// Nobody waits for the result of a trial whose starter is gone.
void endWith(const char* parent) {
    prctl(PR_SET_PDEATHSIG, SIGKILL);
    if (std::to_string(getppid()) != parent)
        std::_Exit(noctis::trial::kRead);
}

/// Where memory runs out depends on the moment, as libraries start threads of their own: an allocation
/// that fails, or a thread that can't be started, ends the trial wherever it happens.
void endWhenOutOfMemory() {
    std::set_new_handler([] { std::_Exit(noctis::trial::kOutOfMemory); });
    std::set_terminate([] {
        try {
            if (const std::exception_ptr error = std::current_exception())
                std::rethrow_exception(error);
        } catch (const std::system_error& error) {
            if (error.code() == std::errc::resource_unavailable_try_again)
                std::_Exit(noctis::trial::kOutOfMemory);
        } catch (...) {
            // Something else: the file is at fault.
        }
        std::abort();
    });
}

}  // namespace

int main(int count, char** words) {
    if (count != noctis::trial::kArguments)
        return 2;
    endWith(words[6]);
    limit(RLIMIT_CORE, "0");
#ifndef __SANITIZE_ADDRESS__  // which reserves terabytes
    limit(RLIMIT_AS, words[3]);
#endif
    limit(RLIMIT_STACK, words[4]);
    endWhenOutOfMemory();
    Time time(words[5]);
    try {
        readAll(words[1], words[2], time);
    } catch (const std::bad_alloc&) {
        std::_Exit(noctis::trial::kOutOfMemory);
    } catch (const std::exception& error) {
        // Libraries that catch everything still say what it was.
        std::_Exit(std::strstr(error.what(), "bad_alloc") != nullptr ? noctis::trial::kOutOfMemory
                                                                     : noctis::trial::kRead);
    }
    std::_Exit(noctis::trial::kRead);
}
