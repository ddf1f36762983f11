#pragma once

#include "app/session/session.h"
#include "app/survey/seen_place.h"
#include "core/passes/appearance.h"

#include <QWidget>

class QLabel;
class QPushButton;

namespace noctis {

/// What is known of the place clicked last, and what can be done from there.
class MeasureBar : public QWidget {
    Q_OBJECT
public:
    explicit MeasureBar(Session& session, QWidget* parent = nullptr);

    void setPlace(const SeenPlace& place);
    void setAutomaticRange(const DepthRange& range) { m_automatic = range; }
    [[nodiscard]] QString text() const;
    /// For another scene: forgets what was measured.
    void clear();

private:
    void followCamera();
    void showText();
    void addAction(const QString& id, const QString& label, const QString& help,
                   const std::function<void(Project&)>& edit);

    Session& m_session;
    QLabel* m_text;
    std::optional<SeenPlace> m_place;
    std::optional<V3f> m_before;  ///< clicked before that
    Camera m_from;                ///< what its distances are measured from
    DepthRange m_automatic;
};

}  // namespace noctis
