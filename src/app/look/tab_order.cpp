#include "app/look/tab_order.h"

#include <QAbstractItemView>
#include <QAbstractSpinBox>
#include <QComboBox>
#include <QLayout>
#include <QScrollArea>
#include <QStackedWidget>

#include <algorithm>

namespace noctis {

namespace {

void collect(QWidget* widget, std::vector<QWidget*>& stops);

void collect(QLayout& layout, std::vector<QWidget*>& stops) {
    for (int i = 0; i < layout.count(); ++i) {
        QLayoutItem* item = layout.itemAt(i);
        if (item->widget() != nullptr)
            collect(item->widget(), stops);
        else if (item->layout() != nullptr)
            collect(*item->layout(), stops);
    }
}

bool isOneStop(const QWidget* widget) {
    return qobject_cast<const QAbstractSpinBox*>(widget) != nullptr ||
           qobject_cast<const QComboBox*>(widget) != nullptr ||
           qobject_cast<const QAbstractItemView*>(widget) != nullptr;
}

void collect(QWidget* widget, std::vector<QWidget*>& stops) {
    if (!widget->isVisible() || std::find(stops.begin(), stops.end(), widget) != stops.end())
        return;
    if ((widget->focusPolicy() & Qt::TabFocus) != 0 && widget->isEnabled())
        stops.push_back(widget);
    if (isOneStop(widget))
        return;
    if (const auto* scroll = qobject_cast<QScrollArea*>(widget);
        scroll != nullptr && scroll->widget() != nullptr)
        collect(scroll->widget(), stops);
    if (widget->layout() != nullptr)
        collect(*widget->layout(), stops);
    for (QObject* child : widget->children())
        if (auto* inside = qobject_cast<QWidget*>(child); inside != nullptr && !inside->isWindow())
            collect(inside, stops);
}

}  // namespace

std::vector<QWidget*> tabOrder(QWidget& window) {
    std::vector<QWidget*> stops;
    collect(&window, stops);
    return stops;
}

QWidget* nextStop(QWidget& window, const QWidget* from, bool forwards) {
    const std::vector<QWidget*> stops = tabOrder(window);
    if (stops.empty())
        return nullptr;
    const auto at = std::find(stops.begin(), stops.end(), from);
    if (at == stops.end())
        return forwards ? stops.front() : stops.back();
    const auto count = static_cast<std::ptrdiff_t>(stops.size());
    const std::ptrdiff_t next = (at - stops.begin() + (forwards ? 1 : count - 1)) % count;
    return stops[static_cast<std::size_t>(next)];
}

}  // namespace noctis
