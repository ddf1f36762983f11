#pragma once

#include "core/tracer/pass_state.h"

#include <QWidget>

#include <map>
#include <string>
#include <vector>

class QLabel;
class QPushButton;

namespace noctis {

/// Below the prints: which passes of the frame no longer are what would be rendered, and renders them. Takes no room
/// while all are.
class StalePasses : public QWidget {
    Q_OBJECT
public:
    explicit StalePasses(QWidget* parent = nullptr);

    /// By the passes' names.
    void setStates(const std::map<std::string, PassState>& states);
    /// Of a render that is going on; empty: none is.
    void setRendering(const QString& progress);

Q_SIGNALS:
    void renderAsked(const std::vector<noctis::PassName>& passes);
    void stopAsked();

private:
    void refresh();

    std::vector<PassName> m_passes;  ///< that are stale
    QString m_stale;
    QString m_rendering;
    QLabel* m_text;
    QPushButton* m_button;
};

}  // namespace noctis
