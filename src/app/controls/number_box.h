#pragma once

#include <QDoubleSpinBox>

namespace noctis {

/// A box for a number with a decimal point, as all numbers here have, whatever the language of the system; a
/// comma that is typed counts as one.
class NumberBox : public QDoubleSpinBox {
    Q_OBJECT
public:
    explicit NumberBox(QWidget* parent = nullptr);

    QValidator::State validate(QString& text, int& at) const override;
};

}  // namespace noctis
