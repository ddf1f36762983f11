#include "app/dispatch/written_view.h"

#include "app/look/picture_paint.h"
#include "app/look/theme.h"

#include <QMouseEvent>
#include <QPainter>
#include <QWheelEvent>

#include <algorithm>
#include <cmath>

namespace noctis {

namespace {

constexpr int kChecker = 8;           // px of the screen
constexpr int kMostSide = 2048;       // px of what is painted
constexpr double kZoomStep = 1.0015;  // a unit of the wheel
constexpr QColor kLightGround{0xe6, 0xe4, 0xdf};
constexpr QColor kDarkGround{0x12, 0x12, 0x13};
constexpr QColor kCheckerLight{0x5a, 0x5a, 0x59};
constexpr QColor kCheckerDark{0x47, 0x47, 0x46};

/// Straight sRGB-encoded colours with alpha, no larger than a screen needs.
QImage paintable(const Image& seen) {
    const int factor = std::max(1, std::max(seen.width(), seen.height()) / kMostSide);
    const int alpha = seen.channel("A");
    QImage image((seen.width() + factor - 1) / factor, (seen.height() + factor - 1) / factor,
                 alpha < 0 ? QImage::Format_RGB32 : QImage::Format_ARGB32);
    const auto byte = [](float v) {
        return static_cast<int>(std::lround(255.0F * std::clamp(v, 0.0F, 1.0F)));
    };
    for (int y = 0; y < image.height(); ++y) {
        auto* line = reinterpret_cast<QRgb*>(image.scanLine(y));
        for (int x = 0; x < image.width(); ++x) {
            const int sx = x * factor;
            const int sy = y * factor;
            line[x] = qRgba(byte(seen(sx, sy, 0)), byte(seen(sx, sy, 1)), byte(seen(sx, sy, 2)),
                            alpha < 0 ? 255 : byte(seen(sx, sy, alpha)));
        }
    }
    return image;
}

}  // namespace

WrittenView::WrittenView(QWidget* parent) : QWidget(parent) {
    setObjectName("written");
    setMouseTracking(true);
    setMinimumSize(200, 120);
    setAccessibleName(tr("What will be written"));
}

void WrittenView::setPreview(JobPreview preview) {
    const QSizeF before(m_preview.values.width(), m_preview.values.height());
    m_preview = std::move(preview);
    m_instead.clear();
    m_image = m_preview.seen.empty() ? QImage() : paintable(m_preview.seen);
    const QSizeF size(m_preview.values.width(), m_preview.values.height());
    m_viewport.setPicture(size);
    if (size != before)
        m_viewport.fit();
    update();
}

void WrittenView::setInstead(const QString& text) {
    m_preview = {};
    m_image = {};
    m_instead = text;
    update();
}

void WrittenView::setGround(Ground ground) {
    m_ground = ground;
    update();
}

void WrittenView::setGroundPicture(const QImage& picture) {
    m_groundPicture = picture;
    setGround(Ground::Picture);
}

void WrittenView::fit() {
    m_viewport.fit();
    update();
}

void WrittenView::showWholePixels() {
    m_viewport.setZoom(1.0 / devicePixelRatioF(), QRectF(rect()).center());
    update();
}

QString WrittenView::valuesAt(const QPointF& widget) const {
    const Image& values = m_preview.values;
    if (values.empty())
        return {};
    const QPointF at = m_viewport.toPicture(widget);
    const int x = static_cast<int>(std::floor(at.x()));
    const int y = static_cast<int>(std::floor(at.y()));
    if (x < 0 || y < 0 || x >= values.width() || y >= values.height())
        return {};
    // Of a sheet that is shown smaller, the place in the file.
    const int scale = std::max(1, m_preview.width / std::max(1, values.width()));
    QStringList texts{QStringLiteral("%1, %2").arg(x * scale).arg(y * scale)};
    for (int c = 0; c < values.channels(); ++c) {
        const float v = values(x, y, c);
        texts << QStringLiteral("%1 %2").arg(
            qstring(values.channelName(c)),
            std::isfinite(v) ? QString::number(static_cast<double>(v), 'f', 4) : tr("nothing"));
    }
    return texts.join(QStringLiteral("   "));
}

void WrittenView::paintGround(QPainter& painter, const QRectF& frame) const {
    switch (m_ground) {
    case Ground::Light:
        painter.fillRect(frame, kLightGround);
        return;
    case Ground::Dark:
        painter.fillRect(frame, kDarkGround);
        return;
    case Ground::Picture: {
        const QSizeF size =
            QSizeF(m_groundPicture.size()).scaled(frame.size(), Qt::KeepAspectRatioByExpanding);
        painter.save();
        painter.setClipRect(frame);
        painter.drawImage(QRectF(frame.center() - QPointF(size.width(), size.height()) / 2, size),
                          m_groundPicture);
        painter.restore();
        return;
    }
    case Ground::Checker:
        break;
    }
    QPixmap tile(2 * kChecker, 2 * kChecker);
    tile.fill(kCheckerDark);
    QPainter on(&tile);
    on.fillRect(0, 0, kChecker, kChecker, kCheckerLight);
    on.fillRect(kChecker, kChecker, kChecker, kChecker, kCheckerLight);
    on.end();
    painter.drawTiledPixmap(frame, tile, frame.topLeft());
}

void WrittenView::paintCells(QPainter& painter) const {
    painter.setFont(theme::font(11));
    for (const SheetCell& cell : m_preview.cells) {
        const QPointF corner(cell.at[0], cell.at[1]);
        const QRectF box(m_viewport.fromPicture(corner),
                         m_viewport.fromPicture(corner + QPointF(cell.size[0], cell.size[1])));
        const bool missing =
            std::ranges::find(m_preview.missing, cell.view) != m_preview.missing.end();
        painter.setPen(QPen(theme::kQuiet, 1, Qt::DotLine));
        painter.drawRect(box);
        if (missing) {
            painter.setPen(theme::kText);
            painter.drawText(box.adjusted(4, 4, -4, -4), Qt::AlignCenter | Qt::TextWordWrap,
                             tr("%1\nrendered by the job").arg(qstring(cell.view)));
            continue;
        }
        const QPointF pivot =
            m_viewport.fromPicture(corner + QPointF(cell.pivot[0], cell.pivot[1]));
        painter.setPen(QPen(theme::kAccent, 2));
        painter.drawLine(pivot - QPointF(0, 5), pivot + QPointF(0, 5));
        painter.drawLine(pivot - QPointF(5, 0), pivot + QPointF(5, 0));
    }
}

void WrittenView::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.fillRect(rect(), theme::kSurround);
    if (m_image.isNull()) {
        painter.setPen(theme::kQuiet);
        painter.setFont(theme::font(13));
        painter.drawText(rect().adjusted(24, 0, -24, 0), Qt::AlignCenter | Qt::TextWordWrap,
                         m_instead);
        return;
    }
    const QRectF frame = m_viewport.frame();
    if (m_image.hasAlphaChannel())
        paintGround(painter, frame);
    painter.setRenderHint(QPainter::SmoothPixmapTransform, m_viewport.zoom() < 2.0);
    painter.drawImage(frame, m_image);
    paintCells(painter);
}

void WrittenView::resizeEvent(QResizeEvent*) { m_viewport.setRoom(rect()); }

void WrittenView::mousePressEvent(QMouseEvent* event) { m_grabbed = event->position(); }

void WrittenView::mouseMoveEvent(QMouseEvent* event) {
    if (event->buttons().testFlag(Qt::LeftButton)) {
        m_viewport.moveBy(event->position() - m_grabbed);
        m_grabbed = event->position();
        update();
    }
    Q_EMIT pointed(valuesAt(event->position()));
}

void WrittenView::leaveEvent(QEvent*) { Q_EMIT pointed({}); }

void WrittenView::wheelEvent(QWheelEvent* event) {
    m_viewport.setZoom(m_viewport.zoom() * std::pow(kZoomStep, event->angleDelta().y()),
                       event->position());
    update();
    event->accept();
}

}  // namespace noctis
