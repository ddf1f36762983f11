#include "app/controls/key_button.h"

#include "app/look/theme.h"

#include <QPainter>

namespace noctis {

namespace {

constexpr qreal kHalf = 3.6;  ///< px, of the mark

}  // namespace

KeyButton::KeyButton(const QString& setting, QWidget* parent) : QAbstractButton(parent) {
    setFixedSize(sizeHint());
    setFocusPolicy(Qt::TabFocus);
    setAccessibleName(tr("Key of %1").arg(setting));
    setState(KeyState::None);
}

void KeyButton::setState(KeyState state) {
    m_state = state;
    const QString curve = tr("A right click shows its curve.");
    setToolTip((state == KeyState::Here
                    ? tr("Takes the key at this frame (K). With the last one, the setting stands "
                         "still again.")
                    : tr("Sets a key at this frame (K): the setting moves in time, from key to "
                         "key.")) +
               QLatin1Char(' ') + curve);
    update();
}

void KeyButton::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const QPointF middle = QRectF(rect()).center();
    const bool lit = underMouse() || hasFocus();
    painter.setPen(QPen(m_state != KeyState::None ? theme::kAccent
                        : lit                     ? theme::kText
                                                  : theme::kHairline,
                        1.2));
    painter.setBrush(m_state == KeyState::Here ? QBrush(theme::kAccent) : QBrush(Qt::NoBrush));
    painter.drawEllipse(middle, kHalf, kHalf);
    if (m_state == KeyState::Elsewhere) {
        painter.setPen(Qt::NoPen);
        painter.setBrush(theme::kAccent);
        painter.drawEllipse(middle, 1.2, 1.2);
    }
}

}  // namespace noctis
