#pragma once

#include "core/image/camera.h"
#include "core/image/image.h"

#include <filesystem>

namespace noctis {

/// What is seen through a picture's alpha in the window; it is never written.
struct LookGround {
    enum class Kind { Black, Light, Checks, Picture } kind = Kind::Black;
    std::filesystem::path picture{};
    float scale = 1.0F;  ///< of the picture that fills the frame
    V2f moved{0.0F};     ///< px of the full picture, from where it fills it
    bool operator==(const LookGround&) const = default;
};

/// Lays pictures over their ground; keeps the one that was read last.
/// Threads  one at a time.
class LookGrounds {
public:
    /// The picture over it, R G B; one without alpha stays as it is. factor: the scale it was made at.
    /// Errors   as readPicture.
    [[nodiscard]] Image under(const Image& picture, const LookGround& ground, int factor);

private:
    std::filesystem::path m_path;
    Image m_read;
};

}  // namespace noctis
