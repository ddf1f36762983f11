#pragma once

#include <QLayout>
#include <QWidget>

namespace noctis {

/// Empties a layout. Widgets are deleted later, since one of them may have asked for this.
inline void clearLayout(QLayout& layout) {
    while (QLayoutItem* item = layout.takeAt(0)) {
        if (QWidget* widget = item->widget()) {
            widget->hide();
            widget->setParent(nullptr);
            widget->deleteLater();
        }
        delete item;
    }
}

}  // namespace noctis
