#include "app/controls/hairline.h"

#include "app/look/theme.h"

#include <QFrame>

namespace noctis {

QFrame* hairline(bool vertical) {
    auto* line = new QFrame;
    line->setStyleSheet(QStringLiteral("background: %1").arg(theme::kHairline.name()));
    if (vertical)
        line->setFixedWidth(1);
    else
        line->setFixedHeight(1);
    return line;
}

}  // namespace noctis
