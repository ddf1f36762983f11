#pragma once

#include <QWidget>

#include <optional>
#include <vector>

namespace noctis {

/// A cut through a height map: heights along a line, metres on both axes.
class Section : public QWidget {
    Q_OBJECT
public:
    explicit Section(QWidget* parent = nullptr);

    /// heights: evenly spaced along length metres; NaN over holes. Empty: no line yet.
    void setHeights(std::vector<float> heights, float length);
    /// The same of another map to compare with, drawn thin behind it.
    void setOther(std::vector<float> heights);
    /// A place on it, 0..1.
    void setNeedle(std::optional<float> along);
    [[nodiscard]] QString reading() const;
    [[nodiscard]] QRectF plot() const;
    /// How many times higher heights are drawn than they are.
    [[nodiscard]] float stretch() const;
    [[nodiscard]] QSize sizeHint() const override { return {500, 200}; }
    [[nodiscard]] QSize minimumSizeHint() const override { return {200, 110}; }

Q_SIGNALS:
    /// The place along the line under the pointer, 0..1; less than 0: none.
    void pointed(float along);

protected:
    void paintEvent(QPaintEvent*) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void leaveEvent(QEvent*) override;
    void contextMenuEvent(QContextMenuEvent* event) override;

private:
    std::vector<float> m_heights;
    std::vector<float> m_other;
    float m_length = 0.0F;
    float m_lowest = 0.0F;
    float m_highest = 1.0F;
    std::optional<float> m_needle;
};

}  // namespace noctis
