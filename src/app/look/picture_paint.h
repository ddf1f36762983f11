#pragma once

#include "core/image/image.h"

#include <QImage>
#include <QString>

namespace noctis {

/// A display-encoded R G B picture (0..1) as Qt paints it.
QImage toQImage(const Image& encoded);

/// One channel from 0 to 1 as grey.
QImage greyQImage(const Image& mask);

/// Metres as people read them: "5.80 m", "412 m".
QString metresText(float metres);

QString qstring(const std::string& text);
QString qstring(std::string_view text);

}  // namespace noctis
