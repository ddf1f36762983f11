#pragma once

#include <QLayout>
#include <QWidget>

namespace noctis {

/// Takes everything out of a layout. Widgets are deleted later: one of them may be what asked for this.
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
