#pragma once

#include "app/session/session.h"

#include <QScrollArea>

#include <map>

namespace noctis {

/// The named cameras of the scene and those the artist made, each with a small traced picture.
class ViewsStrip : public QScrollArea {
    Q_OBJECT
public:
    explicit ViewsStrip(Session& session, QWidget* parent = nullptr);

private:
    void rebuild();
    void mark();
    void renderNext();
    void addView();
    [[nodiscard]] std::vector<View> views() const;

    Session& m_session;
    Background m_background{this};
    std::vector<View> m_shown;
    std::map<std::string, QImage> m_pictures;
};

}  // namespace noctis
