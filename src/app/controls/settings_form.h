#pragma once

#include "app/controls/key_button.h"
#include "app/controls/value_editor.h"

#include <map>
#include <string>
#include <vector>

class QHBoxLayout;

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
    /// Gives settings that can move in time a button for their keys.
    void offerKeys();
    void setKeys(const std::map<std::string, KeyState>& states);
    /// The setting whose places are being clicked; empty: none.
    void setPicked(const std::string& id);

Q_SIGNALS:
    /// A setting was edited; id names it for undo. rested: the drag ended.
    void edited(const QString& id, const noctis::Value& value);
    void rested();
    void picksAsked(const QString& id, bool on);
    /// Sets or takes a key of a setting.
    void keyAsked(const QString& id);
    /// To see how it moves.
    void curveAsked(const QString& id);

protected:
    void keyPressEvent(QKeyEvent* event) override;

private:
    std::vector<Parameter> m_parameters;
    std::vector<ValueEditor*> m_rows;
    std::vector<QHBoxLayout*> m_lines;
    std::vector<KeyButton*> m_keys;  ///< beside the rows; none for what stands still
    bool m_filling = false;
};

}  // namespace noctis
