#pragma once

#include <QWidget>

#include <array>
#include <optional>
#include <vector>

namespace noctis {

/// The upright axis of heights: how much of the map lies at each height, and the heights of black and white.
/// High is brass and low is indigo, like near and far.
class HeightAxis : public QWidget {
    Q_OBJECT
public:
    explicit HeightAxis(QWidget* parent = nullptr);

    /// counts: 0..1, from lowest to highest.
    void setHeights(float lowest, float highest, std::vector<float> counts);
    void setRange(const std::array<float, 2>& range);
    void setNeedle(std::optional<float> height);

    /// Where a height stands, for tests that drag it.
    [[nodiscard]] qreal placeOf(float height) const;
    [[nodiscard]] QSize sizeHint() const override { return {76, 300}; }
    [[nodiscard]] QSize minimumSizeHint() const override { return {76, 120}; }

Q_SIGNALS:
    void rangeMoved(float from, float to);
    void rangeRested();
    /// The height under the pointer; NaN: none.
    void heightPointed(float height);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void leaveEvent(QEvent*) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    [[nodiscard]] qreal tall() const;
    [[nodiscard]] float heightAt(qreal y) const;
    [[nodiscard]] int handleAt(const QPointF& at) const;
    void moveHandle(int handle, float height);

    float m_lowest = 0.0F;
    float m_highest = 0.0F;
    std::vector<float> m_counts;
    std::array<float, 2> m_range{0.0F, 0.0F};
    std::optional<float> m_needle;
    int m_grabbed = -1;
    int m_over = -1;
    int m_keyed = 1;
};

}  // namespace noctis
