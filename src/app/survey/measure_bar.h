#pragma once

#include "app/session/session.h"
#include "core/passes/appearance.h"

#include <QWidget>

class QLabel;
class QPushButton;

namespace noctis {

/// A place of the scene that was clicked.
struct ClickedPlace {
    V3f position{0.0F};
    float depth = 0.0F;     ///< m, planar
    float distance = 0.0F;  ///< m, radial
    std::string object;
};

/// What is known of the place clicked last, and what can be done from there.
class MeasureBar : public QWidget {
    Q_OBJECT
public:
    explicit MeasureBar(Session& session, QWidget* parent = nullptr);

    void setPlace(const ClickedPlace& place);
    void setAutomaticRange(const DepthRange& range) { m_automatic = range; }
    [[nodiscard]] QString text() const;
    /// Another scene: what was measured is no longer there.
    void clear();

private:
    void addAction(const QString& id, const QString& label, const QString& help,
                   const std::function<void(Project&)>& edit);

    Session& m_session;
    QLabel* m_text;
    std::optional<ClickedPlace> m_place;
    std::optional<V3f> m_before;  ///< clicked before that
    DepthRange m_automatic;
};

}  // namespace noctis
