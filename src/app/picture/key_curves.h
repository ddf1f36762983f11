#pragma once

#include "app/picture/key_graph.h"

#include <QWidget>

class QComboBox;
class QLabel;

namespace noctis {

class SettingsForm;

/// How the settings of a step move: which one, how its chosen keys go on and whether it flickers at the left, the curves
/// beside.
class KeyCurves : public QWidget {
    Q_OBJECT
public:
    explicit KeyCurves(QWidget* parent = nullptr);

    void setSettings(const std::vector<MovingSetting>& settings);
    void choose(const TrackPlace& place);
    [[nodiscard]] const TrackPlace& chosen() const noexcept { return m_chosen; }
    void setFrames(std::pair<int, int> frames, int now, double rate);
    [[nodiscard]] KeyGraph& graph() { return *m_graph; }

Q_SIGNALS:
    /// gesture: empty: it is a change by itself.
    void keysEdited(const QString& what, const QString& gesture, const noctis::TrackPlace& place,
                    const noctis::KeyList& keys);
    void flickerEdited(const QString& gesture, const noctis::TrackPlace& place,
                       const noctis::Flicker& flicker);
    void rested();
    void frameChosen(int frame);

private:
    [[nodiscard]] const MovingSetting* active() const;
    void showForms();
    void editEase(const QString& id, const Value& value);

    std::vector<MovingSetting> m_settings;
    TrackPlace m_chosen;
    QComboBox* m_which;
    QLabel* m_hint;  ///< while no key is chosen
    SettingsForm* m_ease;
    SettingsForm* m_flicker;
    KeyGraph* m_graph;
};

}  // namespace noctis
