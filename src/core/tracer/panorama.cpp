#include "core/tracer/panorama.h"

#include "core/image/error.h"
#include "core/image/image_file.h"

#include <fmt/format.h>

namespace noctis {

Image readPanorama(const std::filesystem::path& path) {
    const FileInfo file = readFileInfo(path);
    if (file.channels.size() < 3)
        throw Error(ErrorCode::BadFile,
                    fmt::format("{}: a panorama needs three channels", path.string()));
    return readFileChannels(path, file, {0, 1, 2});
}

Image PanoramaCache::get(const std::filesystem::path& path) {
    const std::scoped_lock lock(m_mutex);
    std::error_code failed;
    const auto written = std::filesystem::last_write_time(path, failed);
    if (failed || path != m_path || written != m_written) {
        m_path.clear();
        m_image = readPanorama(path);
        m_path = path;
        m_written = written;
    }
    return m_image;
}

}  // namespace noctis
