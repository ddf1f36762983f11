#pragma once

#include "app/picture/player.h"

#include <QWidget>

#include <optional>
#include <utility>
#include <vector>

class QLabel;
class QPushButton;
class QSpinBox;

namespace noctis {

/// One line of time below the instruments: what plays, the frame that is shown, and a ruler with the frames that are
/// kept or missing, the keys of the chosen step, and the part that plays. Arrow keys go from frame to frame, Home and End
/// to the ends.
class TimeStrip : public QWidget {
    Q_OBJECT
public:
    explicit TimeStrip(QWidget* parent = nullptr);

    /// rate: frames per second.
    void setFrames(std::pair<int, int> frames, double rate);
    void setFrame(int frame);
    [[nodiscard]] int frame() const { return m_frame; }
    /// Frames that the chosen step has keys at.
    void setKeys(std::vector<int> keys);
    /// Frames that are shown at once, and those that aren't there.
    void setKept(std::vector<int> kept, std::vector<int> gaps);
    /// plays: how fast, and what was left out; none: it stands.
    void setPlaying(const std::optional<QString>& plays);
    [[nodiscard]] bool playing() const { return m_plays.has_value(); }
    /// The part of the frames that plays: all of them unless its ends were dragged.
    [[nodiscard]] std::pair<int, int> part() const;
    /// Whether the curves are shown, and whether there are any.
    void setCurves(bool shown, bool any);
    void setAfterLast(AfterLast after);
    [[nodiscard]] AfterLast afterLast() const noexcept { return m_after; }
    /// Where a frame is, px from the left.
    [[nodiscard]] double placeOf(int frame) const;
    /// The middle of the mark of the part's first or last frame.
    [[nodiscard]] QPointF markOf(bool last) const;
    [[nodiscard]] QPointF keyPlace(int frame) const;

Q_SIGNALS:
    void frameChosen(int frame);
    void playAsked(bool play);
    void partChanged();
    void afterLastChosen(noctis::AfterLast after);
    /// Keys at a frame are dragged to another; copies: they stay, too. A drag is one gesture until keysRested.
    void keysMoved(int from, int to, bool copies);
    void keysRested();
    /// The curves of what moves are to be shown, or not.
    void curvesAsked(bool show);

protected:
    void paintEvent(QPaintEvent*) override;
    void resizeEvent(QResizeEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    enum class Drag { None, Frame, First, Last, Key };

    [[nodiscard]] QRectF ruler() const;
    [[nodiscard]] int frameAt(double x) const;
    [[nodiscard]] Drag dragAt(const QPointF& at) const;
    void paintRuler(QPainter& painter) const;
    void choose(int frame);
    void showText();

    std::pair<int, int> m_frames{1, 1};
    std::optional<std::pair<int, int>> m_part;
    double m_rate = 24.0;
    int m_frame = 1;
    std::vector<int> m_keys;
    std::vector<int> m_kept;
    std::vector<int> m_gaps;
    std::optional<QString> m_plays;
    AfterLast m_after = AfterLast::Again;
    bool m_inSeconds = false;
    Drag m_drag = Drag::None;
    int m_key = 0;  ///< being dragged: where it is
    QPushButton* m_play;
    QPushButton* m_afterLast;
    QSpinBox* m_number;
    QPushButton* m_unit;
    QPushButton* m_curves;
    QLabel* m_count;
    QLabel* m_text;
};

}  // namespace noctis
