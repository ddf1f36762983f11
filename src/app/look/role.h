#pragma once

#include <QStyle>
#include <QWidget>

namespace noctis {

/// Gives a widget that is shown already another look of the theme's.
inline void setRole(QWidget& widget, const char* role) {
    if (widget.property("role").toByteArray() == role)
        return;
    widget.setProperty("role", QByteArray(role));
    widget.style()->unpolish(&widget);
    widget.style()->polish(&widget);
}

}  // namespace noctis
