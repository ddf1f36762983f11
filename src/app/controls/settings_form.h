#pragma once

#include "app/controls/names_picker.h"
#include "core/settings/parameter.h"

#include <QWidget>

#include <functional>
#include <vector>

class QLineEdit;

namespace noctis {

/// A panel made from declared parameters, one row each.
class SettingsForm : public QWidget {
    Q_OBJECT
public:
    explicit SettingsForm(const std::vector<Parameter>& parameters, QWidget* parent = nullptr);

    void setSettings(const Settings& settings);
    /// Where names to pick from come from, for settings that name parts of the scene.
    void setNameChoices(std::function<NameChoices()> choices) { m_choices = std::move(choices); }

Q_SIGNALS:
    /// A setting was changed by hand; id names it for undo. rested tells that the hand let go.
    void edited(std::size_t index, const noctis::Value& value);
    void rested();

private:
    QWidget* rowFor(std::size_t index);
    QWidget* textRow(std::size_t index);
    void tell(std::size_t index, const Value& value);
    void pickNames(std::size_t index, QLineEdit* line);
    void pickFile(std::size_t index, QLineEdit* line);

    const std::vector<Parameter>& m_parameters;
    Settings m_settings;
    std::vector<QWidget*> m_rows;
    bool m_filling = false;
    std::function<NameChoices()> m_choices;
};

}  // namespace noctis
