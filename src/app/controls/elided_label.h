#pragma once

#include <QLabel>

namespace noctis {

/// A line of text that ends in "…" where it doesn't fit; text() and the tooltip have all of it.
class ElidedLabel : public QLabel {
    Q_OBJECT
public:
    explicit ElidedLabel(QWidget* parent = nullptr);

protected:
    void paintEvent(QPaintEvent*) override;
    bool event(QEvent* event) override;
};

}  // namespace noctis
