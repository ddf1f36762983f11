#pragma once

#include "app/controls/value_editor.h"

#include <vector>

namespace noctis {

/// A panel made from declared parameters, one row each.
class SettingsForm : public QWidget {
    Q_OBJECT
public:
    /// names: where names to pick from come from.
    explicit SettingsForm(const std::vector<Parameter>& parameters, NameSource names = {},
                          QWidget* parent = nullptr);

    void setSettings(const Settings& settings);
    /// The names there are may be others now.
    void refreshNames();

Q_SIGNALS:
    /// A setting was changed by hand; id names it for undo. rested: the hand was lifted.
    void edited(const QString& id, const noctis::Value& value);
    void rested();

private:
    std::vector<Parameter> m_parameters;
    std::vector<ValueEditor*> m_rows;
    bool m_filling = false;
};

}  // namespace noctis
