#pragma once

#include <QAbstractButton>

namespace noctis {

/// On or off.
class SwitchBox : public QAbstractButton {
    Q_OBJECT
public:
    explicit SwitchBox(const QString& name, QWidget* parent = nullptr);
    [[nodiscard]] QSize sizeHint() const override { return {26, 16}; }

protected:
    void paintEvent(QPaintEvent*) override;
};

}  // namespace noctis
