#include "core/tracer/panorama.h"

#include "core/image/error.h"
#include "core/image/image_file.h"
#include "core/scene/traceable.h"

#include <string>
#include <utility>
#include <vector>

#include <fmt/format.h>

namespace noctis {

namespace {

/// Of R, G and B, or the first three: EXR files list them by their alphabet.
std::vector<int> colourChannels(const FileInfo& file) {
    std::vector<int> channels{0, 1, 2};
    for (int i = 0; i < 3; ++i)
        for (int c = 0; c < static_cast<int>(file.channels.size()); ++c)
            if (file.channels[static_cast<std::size_t>(c)].name == std::string(1, "RGB"[i]))
                channels[static_cast<std::size_t>(i)] = c;
    return channels;
}

}  // namespace

Panorama readPanorama(const std::filesystem::path& path) {
    const FileInfo file = readFileInfo(path);
    if (file.channels.size() < 3)
        throw Error(ErrorCode::BadFile,
                    fmt::format("{}: a panorama needs three channels", path.string()));
    Sky sky;
    sky.panorama = readFileChannels(file, colourChannels(file));
    const bool changed = makeTraceable(sky);
    return {std::move(sky.panorama),
            changed
                ? fmt::format("Panorama {} has pixels that are infinite, negative or no number; "
                              "they are taken as very bright, or black.",
                              path.filename().string())
                : std::string()};
}

Panorama PanoramaCache::get(const std::filesystem::path& path) {
    const std::scoped_lock lock(m_mutex);
    std::error_code failed;
    const auto written = std::filesystem::last_write_time(path, failed);
    if (failed || path != m_path || written != m_written) {
        m_path.clear();
        m_panorama = readPanorama(path);
        m_path = path;
        m_written = written;
    }
    return m_panorama;
}

}  // namespace noctis
