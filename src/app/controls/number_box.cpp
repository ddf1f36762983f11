#include "app/controls/number_box.h"

namespace noctis {

NumberBox::NumberBox(QWidget* parent) : QDoubleSpinBox(parent) {
    QLocale plain = QLocale::c();
    plain.setNumberOptions(QLocale::OmitGroupSeparator | QLocale::RejectGroupSeparator);
    setLocale(plain);
}

QValidator::State NumberBox::validate(QString& text, int& at) const {
    text.replace(QLatin1Char(','), QLatin1Char('.'));
    return QDoubleSpinBox::validate(text, at);
}

}  // namespace noctis
