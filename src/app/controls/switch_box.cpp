#include "app/controls/switch_box.h"

#include "app/look/theme.h"

#include <QPainter>

namespace noctis {

SwitchBox::SwitchBox(const QString& name, QWidget* parent) : QAbstractButton(parent) {
    setCheckable(true);
    setAccessibleName(name);
    setFixedSize(26, 16);
    setFocusPolicy(Qt::StrongFocus);
    setCursor(Qt::PointingHandCursor);
}

void SwitchBox::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const QRectF body(2, 2, 22, 12);
    painter.setPen(QPen(isChecked() ? theme::kAccent : theme::kOff, 1));
    painter.setBrush(isChecked() ? theme::kAccent : theme::kHairline);
    painter.drawRoundedRect(body, 6, 6);
    painter.setPen(Qt::NoPen);
    painter.setBrush(isChecked() ? theme::kPanel : theme::kQuiet);
    painter.drawEllipse(QPointF(isChecked() ? 18 : 8, 8), 4, 4);
}

}  // namespace noctis
