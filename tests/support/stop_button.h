#pragma once

#include <QPushButton>
#include <QWidget>

namespace noctis::test {

/// The button that stops what is under way in a widget; none if nothing can be stopped.
inline QPushButton* stopButtonIn(const QWidget& widget) {
    for (auto* button : widget.findChildren<QPushButton*>())
        if (button->text() == "Stop" && button->isVisible())
            return button;
    return nullptr;
}

}  // namespace noctis::test
