#include "app/controls/instrument_head.h"

#include "app/look/theme.h"

#include <QLabel>
#include <QPushButton>

namespace noctis {

void addHeading(QWidget* instrument, const QString& text) {
    auto* label = new QLabel(text, instrument);
    label->setProperty("role", "heading");
    label->move(16, 8);
}

QPushButton* addLink(QWidget* instrument, const QString& text, const QString& help, int x) {
    auto* button = new QPushButton(text, instrument);
    button->setProperty("role", "link");
    button->setFont(theme::font(12));
    button->setToolTip(help);
    button->adjustSize();
    button->move(x, 5);
    return button;
}

}  // namespace noctis
