#pragma once

#include <QTimer>
#include <QWidget>

#include <utility>
#include <vector>

class QLabel;
class QPushButton;
class QSpinBox;

namespace noctis {

/// One line of time below the instruments: the frames with the keys of the chosen step, the frame that is shown, and
/// what plays it. Arrow keys go from frame to frame, Home and End to the ends.
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
    [[nodiscard]] bool playing() const { return m_play.isActive(); }
    void setPlaying(bool playing);
    /// Where a frame is, px from the left.
    [[nodiscard]] double placeOf(int frame) const;

Q_SIGNALS:
    void frameChosen(int frame);
    /// While it plays, the next frame is due.
    void frameDue(int frame);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    [[nodiscard]] QRectF ruler() const;
    void choose(int frame);
    void showText();

    std::pair<int, int> m_frames{1, 1};
    double m_rate = 24.0;
    int m_frame = 1;
    std::vector<int> m_keys;
    QTimer m_play;
    QPushButton* m_playButton;
    QPushButton* m_loop;
    QLabel* m_text;
};

}  // namespace noctis
