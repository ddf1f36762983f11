#include "core/image/input_file.h"

#include "core/image/error.h"

#include <algorithm>
#include <cctype>
#include <cerrno>
#include <cstring>

#include <fcntl.h>
#include <fmt/format.h>
#include <sys/stat.h>
#include <unistd.h>

namespace noctis {

namespace fs = std::filesystem;

InputFile::InputFile(fs::path path)
    // Opening a pipe would wait for somebody to write to it.
    : InputFile(path, ::open(path.c_str(), O_RDONLY | O_NONBLOCK | O_NOCTTY | O_CLOEXEC)) {}

InputFile::InputFile(fs::path path, int descriptor)
    : m_path(std::move(path)), m_descriptor(descriptor) {
    const int failure = errno;
    if (m_descriptor < 0 && failure == ENOENT)
        throw Error(ErrorCode::FileAccess,
                    fmt::format("{}: no such file; check the path", m_path.string()));
    if (m_descriptor < 0)
        throw Error(ErrorCode::FileAccess,
                    fmt::format("{} can't be read ({})", m_path.string(), std::strerror(failure)));
    try {
        requireRegular();
    } catch (...) {
        ::close(m_descriptor);
        throw;
    }
}

InputFile::~InputFile() { ::close(m_descriptor); }

void InputFile::requireRegular() {
    struct stat found {};
    if (::fstat(m_descriptor, &found) != 0 || !S_ISREG(found.st_mode))
        throw Error(ErrorCode::FileAccess,
                    fmt::format("{} isn't a readable file; choose a file", m_path.string()));
    m_size = static_cast<std::uint64_t>(found.st_size);
}

fs::path InputFile::handle() const { return fmt::format("/proc/self/fd/{}", m_descriptor); }

std::size_t InputFile::readAt(std::uint64_t at, void* bytes, std::size_t count) const noexcept {
    auto* to = static_cast<char*>(bytes);
    count = at < m_size ? std::min<std::uint64_t>(count, m_size - at) : 0;
    std::size_t done = 0;
    while (done < count) {
        const ::ssize_t found =
            ::pread(m_descriptor, to + done, count - done, static_cast<::off_t>(at + done));
        if (found < 0 && errno == EINTR)
            continue;
        if (found <= 0)
            break;
        done += static_cast<std::size_t>(found);
    }
    return done;
}

std::string endingOf(const fs::path& path) {
    std::string ending = path.extension().string();
    std::transform(ending.begin(), ending.end(), ending.begin(),
                   [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
    return ending;
}

std::string contentOf(const InputFile& file, std::size_t limit) {
    if (file.size() > limit)
        throw Error(ErrorCode::TooLarge, fmt::format("{} is larger than {} MB, which can't be used",
                                                     file.path().string(), limit >> 20U));
    std::string text(static_cast<std::size_t>(file.size()), '\0');
    text.resize(file.readAt(0, text.data(), text.size()));
    return text;
}

std::string readTextFile(const fs::path& path, std::size_t limit) {
    return contentOf(InputFile(path), limit);
}

}  // namespace noctis
