#pragma once

#include <cstddef>
#include <initializer_list>
#include <limits>
#include <memory>
#include <string>
#include <string_view>
#include <vector>

namespace noctis {

// Valid for every image: pixel (0,0) is top left and its centre is (0.5, 0.5); colour is scene-linear with
// Rec.709 primaries; lengths are metres; +inf is the distance of nothing hit.

inline constexpr float kNothingHit = std::numeric_limits<float>::infinity();

/// Sides beyond this are refused when files are read, and so are more pixels than kMaximumPixels.
inline constexpr int kMaximumSide = 65536;
inline constexpr std::size_t kMaximumPixels = std::size_t{1} << 28U;

/// Scene-linear colour.
struct LinearRgb {
    float r = 0.0F;
    float g = 0.0F;
    float b = 0.0F;
    bool operator==(const LinearRgb&) const = default;
};

/// A planar float32 picture of any number of named channels.
///
/// Shape    width x height x channels; rows start on 64-byte boundaries, rowStride() floats apart.
/// Range    any float, non-finite values included.
/// Errors   Error(TooLarge) from the constructors beyond kMaximumSide or kMaximumPixels.
/// Threads  copies share their planes; editPlane() gives this image a copy of the plane first. It is
///          not safe to call from two threads at once; writing through its pointer is.
class Image {
public:
    Image() = default;
    Image(int width, int height, std::vector<std::string> channelNames, float value = 0.0F);

    /// Channels are named Y, R G B, or R G B A for 1, 3 and 4 of them, and 0, 1, ... otherwise.
    static Image filled(int width, int height, int channels, float value);
    static Image row(std::initializer_list<float> values);
    /// As the constructor, but with every sample left unset.
    static Image unset(int width, int height, std::vector<std::string> channelNames);

    [[nodiscard]] int width() const noexcept { return m_width; }
    [[nodiscard]] int height() const noexcept { return m_height; }
    [[nodiscard]] int channels() const noexcept { return static_cast<int>(m_planes.size()); }
    [[nodiscard]] bool empty() const noexcept { return m_planes.empty(); }
    [[nodiscard]] std::ptrdiff_t rowStride() const noexcept { return m_stride; }
    [[nodiscard]] std::size_t bytes() const noexcept;

    [[nodiscard]] const std::string& channelName(int channel) const;
    /// The index of a channel, or -1.
    [[nodiscard]] int channel(std::string_view name) const noexcept;

    [[nodiscard]] const float* plane(int channel) const noexcept;
    [[nodiscard]] float* editPlane(int channel);
    [[nodiscard]] const float* row(int channel, int y) const noexcept {
        return plane(channel) + m_stride * y;
    }
    [[nodiscard]] float operator()(int x, int y, int channel) const noexcept {
        return row(channel, y)[x];
    }

    /// These channels of this image, under these names, sharing the planes.
    [[nodiscard]] Image select(const std::vector<int>& channels,
                               std::vector<std::string> names = {}) const;
    /// Adds the channels of another image of the same size, sharing the planes.
    void append(const Image& other);

    [[nodiscard]] bool sameSize(const Image& other) const noexcept {
        return m_width == other.m_width && m_height == other.m_height;
    }

private:
    struct Plane {
        std::string name;
        std::shared_ptr<float[]> samples;
    };

    [[nodiscard]] std::shared_ptr<float[]> allocatePlane() const;

    int m_width = 0;
    int m_height = 0;
    std::ptrdiff_t m_stride = 0;
    std::vector<Plane> m_planes;
};

}  // namespace noctis
