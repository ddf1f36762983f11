#pragma once

#include "app/controls/value_editor.h"

#include <vector>

namespace noctis {

/// A panel built from declared parameters, one row each.
class SettingsForm : public QWidget {
    Q_OBJECT
public:
    /// names: the source of names to pick from.
    explicit SettingsForm(const std::vector<Parameter>& parameters, NameSource names = {},
                          QWidget* parent = nullptr);
    ~SettingsForm() override;

    void setSettings(const Settings& settings);
    /// The available names may have changed.
    void refreshNames();
    /// Gives settings that are places a button to click them with; see picksAsked.
    void offerPicks();
    /// The setting whose places are being clicked; empty: none.
    void setPicked(const std::string& id);

Q_SIGNALS:
    /// A setting was edited; id names it for undo. rested: the drag ended.
    void edited(const QString& id, const noctis::Value& value);
    void rested();
    void picksAsked(const QString& id, bool on);

private:
    std::vector<Parameter> m_parameters;
    std::vector<ValueEditor*> m_rows;
    bool m_filling = false;
};

}  // namespace noctis
