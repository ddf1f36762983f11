#pragma once

#include "app/hand/handle_marks.h"
#include "app/look/viewport.h"
#include "app/look/wipe_line.h"
#include "core/image/image.h"

#include <QImage>
#include <QWidget>

#include <functional>
#include <optional>
#include <string>
#include <vector>

namespace noctis {

/// The picture: fitted or zoomed about the pointer, panned, compared with how it was before.
class PictureView : public QWidget {
    Q_OBJECT
public:
    enum class Compare { None, Wipe, SideBySide, Before };

    explicit PictureView(QWidget* parent = nullptr);

    /// size: of the picture in pixels, whatever the scale of the image.
    void setPicture(const QImage& image, QSize size);
    /// What it is compared with, and its name.
    /// make is called when it is first shown; unset: there is nothing to compare with.
    void setBefore(std::function<QImage()> make, const QString& name);
    void setCompare(Compare compare);
    [[nodiscard]] Compare compare() const { return m_compare; }
    /// Shown while a key is held, over any other comparison.
    void holdBefore(bool hold);
    /// Depth of the picture, for what setLitDistance lights up.
    void setDepth(const Image& depth);
    /// Lights up everything at about this distance; 0 for nothing.
    void setLitDistance(float metres);
    /// Where the focus was last set, in picture pixels.
    void setFocusMark(std::optional<QPointF> at, const QString& text);
    void setHint(const QString& text);
    /// Tints the picture where a mask is white; null for none.
    void setTinted(const QImage& mask);
    void setHandles(std::vector<PictureHandle> handles);
    /// A colour over the whole picture, as what a focus blurs; null for none.
    void setOver(const QImage& over);
    /// Strokes are drawn with the left button, and the middle one pans. brush: its radius in pixels of the
    /// picture, 0 for none.
    void setDrawn(bool drawn, qreal brush);

    /// A box that is being drawn, px of the picture; empty: none.
    void setBox(const QRectF& box);

    void fit();
    void setZoom(qreal zoom, const QPointF& about);
    void showWholePixels() { setZoom(1.0, QRectF(rect()).center()); }
    [[nodiscard]] qreal zoom() const;
    [[nodiscard]] QPointF toPicture(const QPointF& widget) const {
        return m_viewport.toPicture(widget);
    }
    [[nodiscard]] QPointF fromPicture(const QPointF& picture) const {
        return m_viewport.fromPicture(picture);
    }
    [[nodiscard]] const QImage& picture() const { return m_picture; }

Q_SIGNALS:
    void pointed(const QPointF& picture);
    void pointerLeft();
    void clicked(const QPointF& picture, Qt::KeyboardModifiers keys);
    void zoomChanged();
    void beforeHeld(bool hold);
    void handleMoved(const std::string& owner, const std::string& handle, const QPointF& picture);
    void handleRested();
    void escaped();
    void strokeBegun(const QPointF& picture, bool takesAway, qreal pressure);
    void strokeLed(const QPointF& picture, qreal pressure);
    void strokeEnded(const QPointF& picture);

protected:
    void tabletEvent(QTabletEvent* event) override;
    void paintEvent(QPaintEvent*) override;
    void wheelEvent(QWheelEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void leaveEvent(QEvent*) override;
    void resizeEvent(QResizeEvent*) override;

private:
    void placeRoom();
    void rebuildLit();
    void paintPicture(QPainter& painter, const QRectF& place);
    void paintBefore(QPainter& painter, const QRectF& place);
    void paintWipe(QPainter& painter, const QRectF& place);
    void paintFocus(QPainter& painter) const;
    [[nodiscard]] bool beginsStroke(const QMouseEvent& event) const;
    void paintBrush(QPainter& painter) const;

    QImage m_tint;
    QImage m_blur;
    bool m_drawn = false;
    bool m_stroke = false;
    qreal m_brush = 0.0;
    QRectF m_box;
    qreal m_pressure = 1.0;
    std::optional<QPointF> m_pointer;
    HandleMarks m_handles;
    QImage m_picture;
    std::function<QImage()> m_makeBefore;
    QImage m_before;  ///< null until it is shown
    QString m_beforeName;
    QImage m_lit;
    Image m_depth;
    float m_litDistance = 0.0F;
    Compare m_compare = Compare::None;
    bool m_holding = false;
    WipeLine m_wipe;
    bool m_dragsWipe = false;
    Viewport m_viewport;
    QPointF m_pressedAt;
    QPointF m_draggedTo;
    bool m_pans = false;
    bool m_moved = false;
    std::optional<QPointF> m_focus;
    QString m_focusText;
    QString m_hint;
};

}  // namespace noctis
