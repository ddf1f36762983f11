#pragma once

#include <QWidget>

namespace noctis {

/// Two groups of controls at the ends of a line, or in two lines if the width is too small. A right group that
/// expands takes all the width the left one leaves.
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

}  // namespace noctis
