// Reads a stranger's file where it can't hurt; see core/image/trial.h.
#include "core/image/error.h"
#include "core/image/image_file.h"
#include "core/image/trial.h"
#include "core/scene/import.h"

#include <cstdlib>
#include <cstring>
#include <exception>
#include <new>
#include <numeric>
#include <string>
#include <system_error>

#include <sys/resource.h>

namespace {

void limit(int resource, const char* text) {
    const auto value = static_cast<rlim_t>(std::strtoull(text, nullptr, 10));
    const rlimit both{value, value};
    setrlimit(static_cast<__rlimit_resource>(resource), &both);
}

void readAll(std::string_view kind, const std::filesystem::path& path) {
    if (kind == noctis::trial::kScene) {
        (void)noctis::importTriedScene(path);
        return;
    }
    const noctis::FileInfo info = noctis::readTriedFileInfo(path);
    std::vector<int> channels(info.channels.size());
    std::iota(channels.begin(), channels.end(), 0);
    (void)noctis::readFileChannels(path, info, channels);
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
    if (count != 6)
        return 2;
    limit(RLIMIT_CORE, "0");
#ifndef __SANITIZE_ADDRESS__  // which reserves terabytes
    limit(RLIMIT_AS, words[3]);
#endif
    limit(RLIMIT_STACK, words[4]);
    limit(RLIMIT_CPU, words[5]);
    endWhenOutOfMemory();
    try {
        readAll(words[1], words[2]);
    } catch (const std::bad_alloc&) {
        std::_Exit(noctis::trial::kOutOfMemory);
    } catch (const std::exception& error) {
        // Libraries that catch everything still say what it was.
        std::_Exit(std::strstr(error.what(), "bad_alloc") != nullptr ? noctis::trial::kOutOfMemory
                                                                     : noctis::trial::kRead);
    }
    std::_Exit(noctis::trial::kRead);
}
