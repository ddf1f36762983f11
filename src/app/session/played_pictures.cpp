#include "app/session/played_pictures.h"

#include <Imath/half.h>

#include <algorithm>
#include <cstdlib>

namespace noctis {

void PlayedPictures::put(const Source& source, const Image& picture) {
    Kept kept{source, picture.width(), picture.height(), {}, {}};
    kept.halves.reserve(static_cast<std::size_t>(picture.width()) *
                        static_cast<std::size_t>(picture.height()) *
                        static_cast<std::size_t>(picture.channels()));
    for (int c = 0; c < picture.channels(); ++c) {
        kept.channels.push_back(picture.channelName(c));
        for (int y = 0; y < picture.height(); ++y)
            std::transform(picture.row(c, y), picture.row(c, y) + picture.width(),
                           std::back_inserter(kept.halves),
                           [](float v) { return imath_float_to_half(v); });
    }
    const std::scoped_lock lock(m_mutex);
    m_last = source.time.number;
    Kept& place = m_kept[m_last];
    m_bytes = m_bytes - bytesOf(place) + bytesOf(kept);
    place = std::move(kept);
    while (m_bytes > m_mostBytes && m_kept.size() > 1) {
        const auto farthest = std::ranges::max_element(
            m_kept, {}, [this](const auto& each) { return std::abs(each.first - m_last); });
        m_bytes -= bytesOf(farthest->second);
        m_kept.erase(farthest);
    }
}

bool PlayedPictures::has(const Source& source) const {
    const std::scoped_lock lock(m_mutex);
    const auto found = m_kept.find(source.time.number);
    return found != m_kept.end() && found->second.source == source;
}

std::optional<Image> PlayedPictures::find(const Source& source) {
    const std::scoped_lock lock(m_mutex);
    m_last = source.time.number;
    const auto found = m_kept.find(m_last);
    if (found == m_kept.end() || !(found->second.source == source))
        return std::nullopt;
    const Kept& kept = found->second;
    Image picture = Image::unset(kept.width, kept.height, kept.channels);
    auto from = kept.halves.begin();
    for (int c = 0; c < picture.channels(); ++c) {
        float* plane = picture.editPlane(c);
        for (int y = 0; y < kept.height; ++y, from += kept.width)
            std::transform(from, from + kept.width, plane + picture.rowStride() * y,
                           [](std::uint16_t half) { return imath_half_to_float(half); });
    }
    return picture;
}

std::vector<int> PlayedPictures::frames() const {
    const std::scoped_lock lock(m_mutex);
    std::vector<int> frames;
    for (const auto& [frame, kept] : m_kept)
        frames.push_back(frame);
    return frames;
}

std::size_t PlayedPictures::bytes() const {
    const std::scoped_lock lock(m_mutex);
    return m_bytes;
}

}  // namespace noctis
