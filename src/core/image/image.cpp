#include "core/image/image.h"

#include "core/image/error.h"
#include "core/image/plane_pool.h"

#include <algorithm>
#include <cassert>
#include <utility>

#include <fmt/format.h>

namespace noctis {

namespace {

constexpr int kFloatsPerLine = 16;  // 64 bytes

std::vector<std::string> usualNames(int channels) {
    switch (channels) {
    case 1:
        return {"Y"};
    case 3:
        return {"R", "G", "B"};
    case 4:
        return {"R", "G", "B", "A"};
    default:
        break;
    }
    std::vector<std::string> names;
    for (int i = 0; i < channels; ++i)
        names.push_back(std::to_string(i));
    return names;
}

}  // namespace

Image Image::unset(int width, int height, std::vector<std::string> channelNames) {
    if (width < 1 || height < 1 || width > kMaximumSide || height > kMaximumSide ||
        static_cast<std::size_t>(width) * static_cast<std::size_t>(height) > kMaximumPixels)
        throw Error(
            ErrorCode::TooLarge,
            fmt::format("an image of {} x {} pixels can't be made; sides are 1 to {} and the "
                        "whole at most {} pixels",
                        width, height, kMaximumSide, kMaximumPixels));
    Image image;
    image.m_width = width;
    image.m_height = height;
    image.m_stride = (width + kFloatsPerLine - 1) / kFloatsPerLine * kFloatsPerLine;
    for (std::string& name : channelNames)
        image.m_planes.push_back({std::move(name), image.allocatePlane()});
    return image;
}

Image::Image(int width, int height, std::vector<std::string> channelNames, float value)
    : Image(unset(width, height, std::move(channelNames))) {
    for (int c = 0; c < channels(); ++c)
        std::fill_n(editPlane(c), m_stride * m_height, value);
}

Image Image::filled(int width, int height, int channels, float value) {
    return {width, height, usualNames(channels), value};
}

Image Image::row(std::initializer_list<float> values) {
    Image image(static_cast<int>(values.size()), 1, {"Y"});
    std::copy(values.begin(), values.end(), image.editPlane(0));
    return image;
}

std::size_t Image::bytes() const noexcept {
    return m_planes.size() * static_cast<std::size_t>(m_stride * m_height) * sizeof(float);
}

const std::string& Image::channelName(int channel) const {
    return m_planes.at(static_cast<std::size_t>(channel)).name;
}

int Image::channel(std::string_view name) const noexcept {
    const auto found = std::find_if(m_planes.begin(), m_planes.end(),
                                    [&](const Plane& plane) { return plane.name == name; });
    return found == m_planes.end() ? -1 : static_cast<int>(found - m_planes.begin());
}

const float* Image::plane(int channel) const noexcept {
    assert(channel >= 0 && channel < channels());
    return m_planes[static_cast<std::size_t>(channel)].samples.get();
}

float* Image::editPlane(int channel) {
    Plane& plane = m_planes.at(static_cast<std::size_t>(channel));
    if (plane.samples.use_count() > 1) {
        std::shared_ptr<float[]> own = allocatePlane();
        std::copy_n(plane.samples.get(), m_stride * m_height, own.get());
        plane.samples = std::move(own);
    }
    return plane.samples.get();
}

Image Image::select(const std::vector<int>& channels, std::vector<std::string> names) const {
    Image image;
    image.m_width = m_width;
    image.m_height = m_height;
    image.m_stride = m_stride;
    for (std::size_t i = 0; i < channels.size(); ++i) {
        image.m_planes.push_back(m_planes.at(static_cast<std::size_t>(channels[i])));
        if (i < names.size())
            image.m_planes.back().name = std::move(names[i]);
    }
    return image;
}

void Image::append(const Image& other) {
    if (!empty() && !sameSize(other))
        throw Error(ErrorCode::ShapeMismatch,
                    fmt::format("{} x {} and {} x {} pixels don't fit", m_width, m_height,
                                other.m_width, other.m_height));
    m_width = other.m_width;
    m_height = other.m_height;
    m_stride = other.m_stride;
    m_planes.insert(m_planes.end(), other.m_planes.begin(), other.m_planes.end());
}

std::shared_ptr<float[]> Image::allocatePlane() const {
    return takePlane(static_cast<std::size_t>(m_stride * m_height));
}

}  // namespace noctis
