#pragma once

#include "core/settings/parameter.h"

#include <QWidget>

#include <vector>

namespace noctis {

/// A panel made from declared parameters, one row each.
class SettingsForm : public QWidget {
    Q_OBJECT
public:
    explicit SettingsForm(const std::vector<Parameter>& parameters, QWidget* parent = nullptr);

    void setSettings(const Settings& settings);

Q_SIGNALS:
    /// A setting was changed by hand; id names it for undo. rested tells that the hand let go.
    void edited(std::size_t index, const noctis::Value& value);
    void rested();

private:
    QWidget* rowFor(std::size_t index);

    const std::vector<Parameter>& m_parameters;
    Settings m_settings;
    std::vector<QWidget*> m_rows;
    bool m_filling = false;
};

}  // namespace noctis
