#pragma once

#include "core/passes/appearance.h"
#include "core/project/handles.h"

#include <QImage>

namespace noctis {

/// What lies before near, in brass, and beyond far, in indigo.
QImage cutOverlay(const Image& depth, const DepthRange& ramp);

/// What a focus leaves unsharp: brass before it, indigo behind it, the stronger the wider its blur.
QImage blurOverlay(const Image& depth, const HandleGroup& focus);

}  // namespace noctis
