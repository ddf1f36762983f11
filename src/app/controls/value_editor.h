#pragma once

#include "app/controls/names_picker.h"
#include "core/settings/parameter.h"

#include <QWidget>

#include <functional>

namespace noctis {

/// The source of names to pick from, for settings that name something.
using NameSource = std::function<NameChoices(TextUse)>;

/// The control of one setting.
class ValueEditor : public QWidget {
    Q_OBJECT
public:
    using QWidget::QWidget;
    /// Shows a value of the parameter's type, without an edit.
    virtual void showValue(const Value& value) = 0;
    /// The available names may have changed.
    virtual void refreshNames() {}
    /// Allows places to be clicked.
    virtual void offerPicks() {}
    virtual void setPicked(bool) {}

Q_SIGNALS:
    void edited(const noctis::Value& value);  ///< during a drag
    void rested();                            ///< a drag ended, or something was chosen or typed
    void picksAsked(bool on);                 ///< starts or stops clicking its places
};

/// The editor of a parameter's type, with its label.
ValueEditor* makeValueEditor(const Parameter& parameter, const NameSource& names, QWidget* parent);

}  // namespace noctis
