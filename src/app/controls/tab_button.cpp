#include "app/controls/tab_button.h"

#include "app/look/theme.h"

#include <QPushButton>

namespace noctis {

QPushButton* tabButton(const QString& text, const QString& help, const QString& name) {
    auto* button = new QPushButton(text);
    button->setProperty("role", "tab");
    button->setCheckable(true);
    button->setObjectName(name);
    button->setToolTip(help);
    return button;
}

QPushButton* linkButton(const QString& text, const QString& help) {
    auto* button = new QPushButton(text);
    button->setProperty("role", "link");
    button->setFont(theme::font(12));
    button->setToolTip(help);
    return button;
}

}  // namespace noctis
