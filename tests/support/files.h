#pragma once

#include "core/image/image.h"
#include "core/image/safe_write.h"

#include <csignal>
#include <cstdint>
#include <cstring>
#include <filesystem>
#include <fstream>
#include <string>

#include <fmt/format.h>
#include <sys/resource.h>
#include <unistd.h>

namespace noctis::test {

/// A folder that is there for one test. Its name has a space and letters beyond ASCII, as folders do.
class Folder {
public:
    Folder() {
        static int count = 0;
        m_path = std::filesystem::temp_directory_path() /
                 fmt::format("noctis tést {}-{}", ::getpid(), count++);
        std::filesystem::create_directories(m_path);
    }
    ~Folder() {
        std::error_code ignored;
        std::filesystem::permissions(m_path, std::filesystem::perms::owner_all, ignored);
        std::filesystem::remove_all(m_path, ignored);
    }
    Folder(const Folder&) = delete;
    Folder& operator=(const Folder&) = delete;

    [[nodiscard]] std::filesystem::path operator/(const std::string& name) const {
        return m_path / name;
    }
    [[nodiscard]] const std::filesystem::path& path() const { return m_path; }
    [[nodiscard]] std::size_t count() const {
        std::size_t n = 0;
        for ([[maybe_unused]] const auto& entry : std::filesystem::directory_iterator(m_path))
            ++n;
        return n;
    }
    std::filesystem::path write(const std::string& name, const std::string& text) const {
        std::ofstream(m_path / name, std::ios::binary) << text;
        return m_path / name;
    }

private:
    std::filesystem::path m_path;
};

/// While it lives no file of this process grows beyond this many bytes, as on a disk that is full.
class FullDisk {
public:
    explicit FullDisk(std::uintmax_t bytes) : m_signal(std::signal(SIGXFSZ, SIG_IGN)) {
        ::getrlimit(RLIMIT_FSIZE, &m_before);
        const ::rlimit limit{static_cast<::rlim_t>(bytes), m_before.rlim_max};
        ::setrlimit(RLIMIT_FSIZE, &limit);
    }
    ~FullDisk() {
        ::setrlimit(RLIMIT_FSIZE, &m_before);
        std::signal(SIGXFSZ, m_signal);
    }
    FullDisk(const FullDisk&) = delete;
    FullDisk& operator=(const FullDisk&) = delete;

private:
    ::rlimit m_before{};
    void (*m_signal)(int);
};

/// A picture whose samples all differ: value(x, y, c) = c + x / 16 + y / 1024, exact as half up to there.
inline Image ramp(int width, int height, std::vector<std::string> names) {
    Image image(width, height, std::move(names));
    for (int c = 0; c < image.channels(); ++c) {
        float* plane = image.editPlane(c);
        for (int y = 0; y < height; ++y)
            for (int x = 0; x < width; ++x)
                plane[image.rowStride() * y + x] = static_cast<float>(c) +
                                                   static_cast<float>(x) / 16.0F +
                                                   static_cast<float>(y) / 64.0F;
    }
    return image;
}

/// Whether two pictures hold the same bits.
inline bool sameBits(const Image& a, const Image& b) {
    if (!a.sameSize(b) || a.channels() != b.channels())
        return false;
    for (int c = 0; c < a.channels(); ++c)
        for (int y = 0; y < a.height(); ++y)
            if (std::memcmp(a.row(c, y), b.row(c, y),
                            sizeof(float) * static_cast<std::size_t>(a.width())) != 0)
                return false;
    return true;
}

}  // namespace noctis::test
