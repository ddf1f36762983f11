#pragma once

#include "app/look/picture_paint.h"
#include "app/look/theme.h"
#include "core/settings/parameter.h"

#include <QHBoxLayout>
#include <QLabel>

namespace noctis {

// Rows of value editors.

inline constexpr int kLabelWidth = 84;
inline constexpr int kSwitchLabelWidth = 130;

inline QHBoxLayout* rowOf(QWidget* widget) {
    auto* layout = new QHBoxLayout(widget);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    return layout;
}

inline QLabel* labelOf(const Parameter& parameter, int width) {
    auto* text = new QLabel(qstring(parameter.label));
    text->setFont(theme::font(12));
    text->setProperty("role", "quiet");
    text->setFixedWidth(width);
    return text;
}

}  // namespace noctis
