#include "app/relief/relief_strip.h"

#include "app/look/picture_paint.h"
#include "app/look/theme.h"
#include "core/relief/sources.h"

#include <QContextMenuEvent>
#include <QInputDialog>
#include <QKeyEvent>
#include <QMenu>
#include <QPainter>
#include <QVBoxLayout>

namespace noctis {

namespace {

constexpr int kWide = 126;
constexpr int kHigh = 72;

/// One print.
class Print : public QWidget {
public:
    Print(ReliefStrip& strip, const Relief& relief, bool chosen, const QImage& picture,
          const QString& state)
        : m_strip(strip), m_relief(relief), m_chosen(chosen), m_picture(picture), m_state(state) {
        setFixedHeight(kHigh + (state.isEmpty() ? 26 : 44));
        setFocusPolicy(Qt::StrongFocus);
        setObjectName(QStringLiteral("relief ") + qstring(relief.id));
        setAccessibleName(titleOf(relief));
        setToolTip(QStringLiteral("%1\n%2").arg(titleOf(relief),
                                                qstring(reliefSource(relief.source).help)));
    }

protected:
    void paintEvent(QPaintEvent*) override {
        QPainter painter(this);
        painter.setRenderHint(QPainter::Antialiasing);
        painter.setRenderHint(QPainter::SmoothPixmapTransform);
        const QRectF frame(1, 1, kWide, kHigh);
        painter.fillRect(frame, theme::kSurround);
        if (!m_picture.isNull()) {
            const QSizeF size =
                QSizeF(m_picture.size()).scaled(frame.size(), Qt::KeepAspectRatioByExpanding);
            painter.save();
            painter.setClipRect(frame);
            painter.drawImage(
                QRectF(frame.center() - QPointF(size.width(), size.height()) / 2, size), m_picture);
            painter.restore();
        }
        if (m_chosen) {
            painter.setPen(QPen(theme::kText, 1.2));
            painter.setBrush(Qt::NoBrush);
            painter.drawRect(frame);
        }
        const qreal line = kHigh + 14;
        painter.setPen(Qt::NoPen);
        painter.setBrush(m_state.isEmpty() ? theme::kAccent : theme::kWarning);
        painter.drawEllipse(QPointF(6, line), 3, 3);
        painter.setFont(theme::font(12));
        painter.setPen(m_chosen ? theme::kText : theme::kQuiet);
        painter.drawText(
            QRectF(14, line - 9, kWide - 14, 18), Qt::AlignVCenter,
            painter.fontMetrics().elidedText(titleOf(m_relief), Qt::ElideRight, kWide - 14));
        if (!m_state.isEmpty()) {
            painter.setPen(theme::kWarning);
            painter.drawText(QRectF(2, line + 8, kWide, 18), Qt::AlignVCenter,
                             painter.fontMetrics().elidedText(m_state, Qt::ElideRight, kWide));
        }
    }
    void mouseReleaseEvent(QMouseEvent* event) override {
        if (event->button() == Qt::LeftButton)
            Q_EMIT m_strip.chosen(m_relief.id);
    }
    void keyPressEvent(QKeyEvent* event) override {
        if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Space)
            Q_EMIT m_strip.chosen(m_relief.id);
        else if (event->key() == Qt::Key_Delete)
            Q_EMIT m_strip.removed(m_relief.id);
        else
            QWidget::keyPressEvent(event);
    }
    void contextMenuEvent(QContextMenuEvent* event) override {
        QMenu menu(this);
        menu.addAction(QObject::tr("Rename…"), this, [this] {
            bool ok = false;
            const QString name =
                QInputDialog::getText(this, QObject::tr("Rename"), QObject::tr("Name"),
                                      QLineEdit::Normal, titleOf(m_relief), &ok);
            if (ok)
                Q_EMIT m_strip.renamed(m_relief.id, name);
        });
        menu.addAction(QObject::tr("Remove"), this,
                       [this] { Q_EMIT m_strip.removed(m_relief.id); });
        menu.exec(event->globalPos());
    }

private:
    ReliefStrip& m_strip;
    Relief m_relief;
    bool m_chosen;
    QImage m_picture;
    QString m_state;
};

}  // namespace

QString titleOf(const Relief& relief) {
    if (!relief.name.empty())
        return qstring(relief.name);
    const QString source = qstring(reliefSource(relief.source).label);
    if (!relief.from.view.empty())
        return QStringLiteral("%1, %2").arg(source, qstring(relief.from.view));
    return relief.from.files.empty() ? source
                                     : qstring(relief.from.files.front().filename().string());
}

ReliefStrip::ReliefStrip(QWidget* parent) : QScrollArea(parent) {
    setFocusPolicy(Qt::NoFocus);  // its prints have it
    setWidgetResizable(true);
    setFixedWidth(kWide + 22);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setAccessibleName(tr("Height maps"));
}

void ReliefStrip::setReliefs(const std::vector<Relief>& reliefs, const std::string& chosen) {
    if (reliefs == m_reliefs && chosen == m_chosen)
        return;
    m_reliefs = reliefs;
    m_chosen = chosen;
    rebuild();
}

void ReliefStrip::setPrint(const std::string& id, const QImage& print) {
    m_prints[qstring(id)] = print;
    rebuild();
}

void ReliefStrip::setState(const std::string& id, const QString& state) {
    if (m_states.value(qstring(id)) == state)
        return;
    m_states[qstring(id)] = state;
    rebuild();
}

void ReliefStrip::rebuild() {
    auto* list = new QWidget;
    auto* layout = new QVBoxLayout(list);
    layout->setContentsMargins(10, 2, 10, 6);
    layout->setSpacing(4);
    for (const Relief& relief : m_reliefs)
        layout->addWidget(new Print(*this, relief, relief.id == m_chosen,
                                    m_prints.value(qstring(relief.id)),
                                    m_states.value(qstring(relief.id))));
    layout->addStretch(1);
    // A print may have asked for this: the old ones go later.
    if (QWidget* old = takeWidget())
        old->deleteLater();
    setWidget(list);
}

}  // namespace noctis
