#pragma once

#include "app/hand/handle_marks.h"
#include "app/look/viewport.h"
#include "app/look/wipe_line.h"
#include "core/relief/map_picture.h"

#include <QImage>
#include <QWidget>

#include <memory>
#include <optional>

namespace noctis {

/// The height map: zoomed and panned as the picture is, lit by a lamp that is dragged on a disc, with
/// contour lines, a section line, and beside a second map to compare with.
class MapView : public QWidget {
    Q_OBJECT
public:
    enum class Compare { None, Wipe, Difference };

    explicit MapView(QWidget* parent = nullptr);

    /// cells: of the full map, where this one is worked smaller during a drag.
    void setMap(std::shared_ptr<const FieldPyramid> map, int factor);
    void setHint(const QString& text);
    void setLook(MapLook look);
    void setRange(const std::array<float, 2>& range);
    void setContours(bool shown);
    /// Tints what is about this high; not a number: nothing.
    void setLitHeight(float height);
    /// What a map that is compared with by its difference differs by.
    [[nodiscard]] const HeightStatistics& difference() const { return m_differs; }
    void setTiled(bool tiled);
    void setOther(std::shared_ptr<const FieldPyramid> other, Compare compare);
    /// The line of the section, cells of the full map; none: nothing is drawn.
    void setSection(const std::optional<std::array<QPointF, 2>>& ends);
    /// A place along the section that is pointed at, 0..1.
    void setSectionNeedle(std::optional<float> along);

    /// What can be dragged on it, cells of the full map.
    void setHandles(std::vector<PictureHandle> handles);
    /// Strokes are drawn with the left button. brush: its radius in cells, 0 for none. text: what to do.
    void setDrawn(bool drawn, qreal brush, const QString& text);
    /// What is read under the pointer, shown at the foot.
    void setReading(const QString& text);
    [[nodiscard]] const QString& reading() const { return m_reading; }

    void fit();
    void setZoom(qreal zoom, const QPointF& about);
    [[nodiscard]] qreal zoom() const { return m_viewport.zoom() * devicePixelRatioF(); }
    [[nodiscard]] QPointF toMap(const QPointF& widget) const {
        return m_viewport.toPicture(widget);
    }
    [[nodiscard]] QPointF fromMap(const QPointF& cells) const {
        return m_viewport.fromPicture(cells);
    }
    [[nodiscard]] float contourSpacing() const { return m_spacing; }
    [[nodiscard]] V3f towardsLight() const { return m_painting.towardsLight; }
    [[nodiscard]] QRectF lampDisc() const;
    [[nodiscard]] bool hasMap() const { return m_map != nullptr; }
    /// What is shown, for tests.
    [[nodiscard]] const QImage& shown() const { return m_image; }

Q_SIGNALS:
    void pointed(const QPointF& cells);
    void pointerLeft();
    void sectionDrawn(const QPointF& from, const QPointF& to);
    void lampMoved(const noctis::V3f& towardsLight);
    void menuAsked(const QPointF& cells, const QPoint& global);
    void zoomChanged();
    void handleMoved(const std::string& owner, const std::string& handle, const QPointF& cells);
    void handleRested();
    void strokeBegun(const QPointF& cells, bool takesAway);
    void strokeLed(const QPointF& cells);
    void strokeEnded(const QPointF& cells);

protected:
    void paintEvent(QPaintEvent*) override;
    void resizeEvent(QResizeEvent*) override;
    void wheelEvent(QWheelEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void leaveEvent(QEvent*) override;
    void contextMenuEvent(QContextMenuEvent* event) override;

private:
    static constexpr qreal kDisc = 32.0;  ///< of the lamp, px
    enum class Hand { None, Pan, Lamp, Section, SectionEnd, Wipe, Handle, Stroke };
    [[nodiscard]] QSizeF cells() const;
    void redraw();
    [[nodiscard]] QImage pictureOf(const FieldPyramid& map, int factor,
                                   const MapPainting& painting) const;
    void measureDifference();
    void paintLabels(QPainter& painter) const;
    void paintSection(QPainter& painter) const;
    void paintLamp(QPainter& painter) const;
    void paintNote(QPainter& painter, const QString& text, qreal top, qreal right) const;
    void paintBrush(QPainter& painter) const;
    void moveLamp(const QPointF& at);

    std::shared_ptr<const FieldPyramid> m_map;
    int m_factor = 1;
    std::shared_ptr<const FieldPyramid> m_other;
    Compare m_compare = Compare::None;
    MapPainting m_painting;
    bool m_contours = true;
    float m_spacing = 0.0F;
    QString m_hint;
    QImage m_image;
    QImage m_otherImage;
    bool m_stale = true;
    Viewport m_viewport;
    WipeLine m_wipe;
    Hand m_hand = Hand::None;
    int m_end = 0;
    QPointF m_pressedAt;
    QPointF m_draggedTo;
    std::optional<std::array<QPointF, 2>> m_section;
    std::optional<float> m_needle;
    HandleMarks m_handles;
    bool m_drawn = false;
    qreal m_brush = 0.0;
    QString m_drawnHint;
    QString m_reading;
    std::optional<QPointF> m_pointer;
    std::shared_ptr<const FieldPyramid> m_difference;
    HeightStatistics m_differs;
};

}  // namespace noctis
