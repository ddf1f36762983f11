#pragma once

#include "core/image/image.h"

#include <filesystem>
#include <mutex>
#include <string>

namespace noctis {

/// A sky's picture: three channels, linear, finite.
struct Panorama {
    Image image;
    std::string warning;  ///< a sentence, if it had to be made finite; see makeTraceable
};

/// Errors   as readFileChannels; Error(BadFile) for fewer than three channels.
Panorama readPanorama(const std::filesystem::path& path);

/// Keeps the panorama read last, for renders that follow one another; a file that changed is read anew.
/// Threads  any number.
class PanoramaCache {
public:
    /// Errors   as readPanorama.
    [[nodiscard]] Panorama get(const std::filesystem::path& path);

private:
    std::mutex m_mutex;
    std::filesystem::path m_path;
    std::filesystem::file_time_type m_written;
    Panorama m_panorama;
};

}  // namespace noctis
