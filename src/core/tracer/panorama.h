#pragma once

#include "core/image/image.h"

#include <filesystem>
#include <mutex>

namespace noctis {

/// Reads a sky's picture: three channels, linear.
/// Errors   as readFileChannels; Error(BadFile) for fewer than three channels.
Image readPanorama(const std::filesystem::path& path);

/// Keeps the panorama read last, for renders that follow one another; a file that changed is read anew.
/// Threads  any number.
class PanoramaCache {
public:
    /// Errors   as readPanorama.
    [[nodiscard]] Image get(const std::filesystem::path& path);

private:
    std::mutex m_mutex;
    std::filesystem::path m_path;
    std::filesystem::file_time_type m_written;
    Image m_image;
};

}  // namespace noctis
