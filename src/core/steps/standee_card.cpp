#include "core/steps/standee_card.h"

#include "core/image/resample.h"

#include <algorithm>
#include <cmath>

namespace noctis {

namespace {

constexpr int kCoarsestText = 64;  ///< px a line
constexpr int kFinestText = 1024;
constexpr float kTextPerPixel = 1.25F;
constexpr int kBlock = 4;  ///< px of the card

/// Fine enough for the samples of that many pixels; in few sizes, so that dragging sets it rarely.
int lineHeightFor(float pixelsHigh) {
    int line = kCoarsestText;
    while (line < kFinestText && static_cast<float>(line) < pixelsHigh * kTextPerPixel)
        line *= 2;
    return line;
}

}  // namespace

StandeeCard::StandeeCard(const StandeeSettings& s, const FrameContext& context, float pixelsHigh,
                         int later)
    : m_image(s.picture.path.empty()
                  ? context.text(s.text, s.font.path, lineHeightFor(pixelsHigh))
                  : context.fileInTime(s.picture.path, SequenceEnd::Loops, later)),
      m_tint{s.colour.r * s.strength, s.colour.g * s.strength, s.colour.b * s.strength} {}

float StandeeCard::aspect() const {
    return static_cast<float>(m_image.width()) / static_cast<float>(m_image.height());
}

void StandeeCard::fit(float pixelsHigh) {
    const float wanted = std::max(1.0F, pixelsHigh * kSide);
    const int factor = static_cast<int>(static_cast<float>(m_image.height()) / wanted);
    if (factor >= 2)
        m_image = shrinkByMean(m_image, std::min(factor, m_image.height()));
    for (int c = 0; c < m_image.channels(); ++c)
        m_planes.push_back(m_image.plane(c));
    m_columns = (m_image.width() + kBlock - 1) / kBlock;
    const int rows = (m_image.height() + kBlock - 1) / kBlock;
    for (int row = 0; row < rows; ++row)
        for (int column = 0; column < m_columns; ++column)
            m_blocks.push_back(fillingOfBlock(column, row));
}

StandeeCard::Filling StandeeCard::fillingOfBlock(int column, int row) const {
    float least = 1.0F;
    float most = 0.0F;
    const int x0 = column * kBlock;
    const int x1 = std::min(x0 + kBlock, m_image.width());
    for (const float* plane : m_planes)
        for (int y = row * kBlock; y < std::min((row + 1) * kBlock, m_image.height()); ++y)
            for (int x = x0; x < x1; ++x) {
                const float value = plane[m_image.rowStride() * y + x];
                least = std::min(least, value);
                most = std::max(most, std::abs(value));
            }
    if (most == 0.0F)
        return Filling::Nothing;
    return m_planes.size() == 1 && least == 1.0F ? Filling::Solid : Filling::Mixed;
}

float StandeeCard::sample(const float* plane, float u, float v) const noexcept {
    const int right = m_image.width() - 1;
    const int bottom = m_image.height() - 1;
    const float x = u * static_cast<float>(m_image.width()) - 0.5F;
    const float y = v * static_cast<float>(m_image.height()) - 0.5F;
    // Both are above -1, so that cutting the fraction off one more is the floor.
    const int x0 = static_cast<int>(x + 1.0F) - 1;
    const int y0 = static_cast<int>(y + 1.0F) - 1;
    const float* above = plane + m_image.rowStride() * std::max(y0, 0);
    const float* below = plane + m_image.rowStride() * std::min(y0 + 1, bottom);
    const int i = std::max(x0, 0);
    const int j = std::min(x0 + 1, right);
    const float fx = x - static_cast<float>(x0);
    const float fy = y - static_cast<float>(y0);
    const float top = above[i] + (above[j] - above[i]) * fx;
    return top + (below[i] + (below[j] - below[i]) * fx - top) * fy;
}

std::array<float, 4> StandeeCard::at(float u, float v) const noexcept {
    if (m_planes.size() == 1) {
        const float covered = sample(m_planes[0], u, v);
        return {m_tint.r * covered, m_tint.g * covered, m_tint.b * covered, covered};
    }
    return {m_tint.r * sample(m_planes[0], u, v), m_tint.g * sample(m_planes[1], u, v),
            m_tint.b * sample(m_planes[2], u, v), sample(m_planes[3], u, v)};
}

StandeeCard::Filling StandeeCard::filling(float u0, float u1, float v0, float v1) const noexcept {
    if (!(u1 >= 0.0F && u0 <= 1.0F && v1 >= 0.0F && v0 <= 1.0F))
        return Filling::Nothing;
    const auto block = [](float place, int size, float half) {
        const float texel = place * static_cast<float>(size) + half;
        return static_cast<int>(std::clamp(texel, 0.0F, static_cast<float>(size - 1))) / kBlock;
    };
    // What a sample blends reaches half a pixel of the card to either side.
    const int left = block(u0, m_image.width(), -0.5F);
    const int right = block(u1, m_image.width(), 0.5F);
    const int top = block(v0, m_image.height(), -0.5F);
    const int bottom = block(v1, m_image.height(), 0.5F);
    const Filling first = m_blocks[static_cast<std::size_t>(top * m_columns + left)];
    for (int y = top; y <= bottom; ++y)
        for (int x = left; x <= right; ++x)
            if (m_blocks[static_cast<std::size_t>(y * m_columns + x)] != first)
                return Filling::Mixed;
    const bool within = u0 >= 0.0F && u1 <= 1.0F && v0 >= 0.0F && v1 <= 1.0F;
    return first == Filling::Solid && !within ? Filling::Mixed : first;
}

}  // namespace noctis
