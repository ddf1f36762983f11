#pragma once

#include "core/image/image.h"

namespace noctis {

/// How close a surface is to where it ends in front of something farther or the sky: 1 at that edge, 0 from so many
/// pixels on. What lies behind an edge has none of it.
/// Shape    depth: W x H x 1, m along the view, infinite where nothing is hit; objects: a matte whose first channel is
///          the id of what covers a pixel most, or empty; the result one channel, 0..1.
/// Exact    depth ends where it grows by more than 3 % and three times as much as on the other side: a plane that
///          runs to the horizon has no edges. Where another object begins behind, 0.3 % are enough.
Image nearSilhouettes(const Image& depth, float widthPixels, const Image& objects = {});

}  // namespace noctis
