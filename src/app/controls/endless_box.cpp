#include "app/controls/endless_box.h"

namespace noctis {

EndlessBox::EndlessBox(QWidget* parent) : NumberBox(parent) {
    connect(this, &QDoubleSpinBox::valueChanged, this, [this](double value) {
        if (!suffix().isEmpty())
            m_unit = suffix();
        const QString now = value >= maximum() ? QString() : m_unit;
        if (suffix() != now)  // setting it ends what is being typed
            setSuffix(now);
    });
}

QString EndlessBox::endless() { return tr("endless"); }

QString EndlessBox::textFromValue(double value) const {
    return value >= maximum() ? endless() : QDoubleSpinBox::textFromValue(value);
}

double EndlessBox::valueFromText(const QString& text) const {
    return text.startsWith(endless()) ? maximum() : QDoubleSpinBox::valueFromText(text);
}

QValidator::State EndlessBox::validate(QString& text, int& at) const {
    QString typed = text;
    typed = typed.remove(suffix()).trimmed();
    if (typed == endless())
        return QValidator::Acceptable;
    if (!typed.isEmpty() && endless().startsWith(typed))
        return QValidator::Intermediate;
    return NumberBox::validate(text, at);
}

}  // namespace noctis
