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
    /// Settings that are places have a button to click them with; see picksAsked.
    void offerPicks();
    /// The setting whose places are clicked; empty: none.
    void setPicked(const std::string& id);

Q_SIGNALS:
    /// A setting was changed by hand; id names it for undo. rested: the hand was lifted.
    void edited(const QString& id, const noctis::Value& value);
    void rested();
    void picksAsked(const QString& id, bool on);

private:
    std::vector<Parameter> m_parameters;
    std::vector<ValueEditor*> m_rows;
    bool m_filling = false;
};

}  // namespace noctis
