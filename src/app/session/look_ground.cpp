#include "app/session/look_ground.h"

#include "core/passes/pass_file.h"
#include "core/steps/placed_picture.h"

#include <algorithm>

namespace noctis {

namespace {

constexpr float kLight = 0.6F;
constexpr float kDarkCheck = 0.12F;
constexpr float kLightCheck = 0.2F;
constexpr int kCheck = 24;  ///< px of the full picture

}  // namespace

Image LookGrounds::under(const Image& picture, const LookGround& ground, int factor) {
    if (picture.channels() < 4 || ground.kind == LookGround::Kind::Black)
        return picture;
    Image board;
    if (ground.kind == LookGround::Kind::Picture) {
        if (m_path != ground.picture || m_read.empty()) {
            m_read = readPicture(ground.picture);
            m_path = ground.picture;
        }
        PlaceList corners = fillingCorners(m_read, picture.width(), picture.height(), ground.scale);
        for (V2f& corner : corners)
            corner += ground.moved / static_cast<float>(factor);
        board = placedPicture(m_read, picture.width(), picture.height(), corners, {});
    }
    const int check = std::max(kCheck / factor, 1);
    Image out = picture.select({0, 1, 2}, {"R", "G", "B"});
    for (int c = 0; c < 3; ++c) {
        float* to = out.editPlane(c);
        for (int y = 0; y < out.height(); ++y)
            for (int x = 0; x < out.width(); ++x) {
                const float behind = !board.empty()                           ? board(x, y, c)
                                     : ground.kind == LookGround::Kind::Light ? kLight
                                     : (x / check + y / check) % 2 == 0       ? kDarkCheck
                                                                              : kLightCheck;
                to[out.rowStride() * y + x] += (1.0F - picture(x, y, 3)) * behind;
            }
    }
    return out;
}

}  // namespace noctis
