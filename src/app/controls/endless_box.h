#pragma once

#include "app/controls/number_box.h"

namespace noctis {

/// A number box whose largest value is shown, and can be typed, as "endless".
class EndlessBox : public NumberBox {
    Q_OBJECT
public:
    explicit EndlessBox(QWidget* parent = nullptr);

    [[nodiscard]] QString textFromValue(double value) const override;
    [[nodiscard]] double valueFromText(const QString& text) const override;
    QValidator::State validate(QString& text, int& at) const override;

private:
    [[nodiscard]] static QString endless();

    QString m_unit;  ///< the suffix of all other values
};

}  // namespace noctis
