#include "app/controls/tab_button.h"

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

}  // namespace noctis
