#pragma once

#include "core/passes/appearance.h"
#include "core/project/handles.h"

#include <QImage>

namespace noctis {

/// Tints what lies nearer than near in brass, and farther than far in indigo.
QImage cutOverlay(const Image& depth, const DepthRange& ramp);

/// Tints what is out of focus: brass in front, indigo behind, stronger where the blur is wider.
QImage blurOverlay(const Image& depth, const HandleGroup& focus);

}  // namespace noctis
