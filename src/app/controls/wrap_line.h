#pragma once

#include <QWidget>

#include <vector>

namespace noctis {

/// Two groups of controls at the ends of a line, or in two lines if the width is too small. A group that
/// expands takes all the width that the other one leaves.
class WrapLine : public QWidget {
    Q_OBJECT
public:
    WrapLine(QWidget* left, QWidget* right, QWidget* parent = nullptr);

    [[nodiscard]] QSize minimumSizeHint() const override;
    [[nodiscard]] QSize sizeHint() const override { return minimumSizeHint(); }

protected:
    void resizeEvent(QResizeEvent*) override;
    bool event(QEvent* event) override;

private:
    void place();
    [[nodiscard]] bool inOne(int width) const;

    QWidget* m_left;
    QWidget* m_right;
};

/// Widgets side by side, for a line; the expanding one among them, if any, makes the group expand.
QWidget* lineGroup(const std::vector<QWidget*>& widgets, int spacing, QWidget* expanding = nullptr);

}  // namespace noctis
