#pragma once

#include "app/controls/names_picker.h"
#include "core/settings/parameter.h"

#include <QWidget>

#include <functional>

namespace noctis {

/// Where names to pick from come from, for settings that name something.
using NameSource = std::function<NameChoices(TextUse)>;

/// The control of one setting.
class ValueEditor : public QWidget {
    Q_OBJECT
public:
    using QWidget::QWidget;
    /// Shows a value of the parameter's type; no edit.
    virtual void showValue(const Value& value) = 0;
    /// The names there are may be others now.
    virtual void refreshNames() {}
    /// Places may be clicked where this is edited.
    virtual void offerPicks() {}
    virtual void setPicked(bool) {}

Q_SIGNALS:
    void edited(const noctis::Value& value);  ///< while the hand moves
    void rested();             ///< the hand was lifted, or something was chosen or typed
    void picksAsked(bool on);  ///< its places are to be clicked, or no more
};

/// The editor of a parameter's type, with its label.
ValueEditor* makeValueEditor(const Parameter& parameter, const NameSource& names, QWidget* parent);

}  // namespace noctis
