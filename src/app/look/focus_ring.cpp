#include "app/look/focus_ring.h"

#include "app/look/theme.h"

#include <QAbstractSpinBox>
#include <QApplication>
#include <QEvent>
#include <QLineEdit>
#include <QPainter>
#include <QScrollArea>

namespace noctis {

namespace {

constexpr int kOutside = 2;

class Ring : public QWidget {
public:
    explicit Ring(QWidget* window) : QWidget(window) {
        setObjectName("focus-ring");
        setAttribute(Qt::WA_TransparentForMouseEvents);
        setAttribute(Qt::WA_NoSystemBackground);
        setFocusPolicy(Qt::NoFocus);
    }

protected:
    void paintEvent(QPaintEvent*) override {
        QPainter painter(this);
        painter.setRenderHint(QPainter::Antialiasing);
        painter.setPen(QPen(theme::kAccent, 1.5));
        painter.drawRoundedRect(QRectF(rect()).adjusted(0.75, 0.75, -0.75, -0.75), 4, 4);
    }
};

bool showsFocusItself(const QWidget* widget) {
    return qobject_cast<const QLineEdit*>(widget) != nullptr ||
           qobject_cast<const QAbstractSpinBox*>(widget) != nullptr || widget->inherits("QMenu") ||
           widget->inherits("QAbstractItemView") || widget->isWindow();
}

}  // namespace

FocusRing::FocusRing(QObject* parent) : QObject(parent) { qApp->installEventFilter(this); }

bool FocusRing::eventFilter(QObject* watched, QEvent* event) {
    switch (event->type()) {
    case QEvent::KeyPress:
        m_byKeys = true;
        break;
    case QEvent::MouseButtonPress:
        m_byKeys = false;
        break;
    case QEvent::FocusIn:
        if (auto* widget = qobject_cast<QWidget*>(watched))
            follow(m_byKeys && !showsFocusItself(widget) ? widget : nullptr);
        break;
    case QEvent::FocusOut:
        if (watched == m_widget)
            follow(nullptr);
        break;
    case QEvent::Move:
    case QEvent::Resize:
    case QEvent::Show:
    case QEvent::Hide:
        if (auto* widget = qobject_cast<QWidget*>(watched);
            widget != nullptr && m_widget != nullptr &&
            (widget == m_widget || widget->isAncestorOf(m_widget)))
            place();
        break;
    default:
        break;
    }
    return false;
}

void FocusRing::follow(QWidget* widget) {
    m_widget = widget;
    place();
}

void FocusRing::place() {
    if (m_widget == nullptr || !m_widget->isVisible()) {
        if (m_ring != nullptr)
            m_ring->hide();
        return;
    }
    QWidget* const window = m_widget->window();
    if (m_ring == nullptr || m_ring->parentWidget() != window) {
        delete m_ring;
        m_ring = new Ring(window);
    }
    constexpr QMargins around(kOutside, kOutside, kOutside, kOutside);
    const auto placeOf = [&](const QWidget* widget) {
        return QRect(widget->mapTo(window, QPoint(0, 0)), widget->size());
    };
    QRect place = placeOf(m_widget).marginsAdded(around) & window->rect();
    for (QWidget* each = m_widget->parentWidget(); each != nullptr && each != window;
         each = each->parentWidget())
        if (qobject_cast<QScrollArea*>(each->parentWidget()) != nullptr)
            place &= placeOf(each).marginsAdded(around);
    m_ring->setGeometry(place);
    m_ring->setVisible(!place.isEmpty());
    m_ring->raise();
}

}  // namespace noctis
