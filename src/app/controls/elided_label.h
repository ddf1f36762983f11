#pragma once

#include <QLabel>

namespace noctis {

/// A line of text that ends in "…" where it doesn't fit; text() has all of it, and so has the tooltip unless
/// another is set.
class ElidedLabel : public QLabel {
    Q_OBJECT
public:
    explicit ElidedLabel(QWidget* parent = nullptr);

protected:
    void paintEvent(QPaintEvent*) override;
    bool event(QEvent* event) override;
};

}  // namespace noctis
