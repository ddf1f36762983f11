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

    void addView();
    void lookFromAbove();
    /// The object that new views are offered of.
    void setObject(const std::string& object) { m_object = object; }
    [[nodiscard]] const std::string& object() const { return m_object; }

private:
    void showMenu(const View& view, const QPoint& at);
    void rename(const View& view);
    /// Before how many of the artist's own views a place lies, and what a view dragged there does.
    [[nodiscard]] std::size_t placeAmongOwn(const QPoint& global) const;
    void markDrop(const QPoint& global);
    void drop(const std::string& name, const QPoint& global);
    void rebuild();
    void mark();
    /// Shows of each view whether its passes are current.
    void markStates();
    void renderNext();

    Session& m_session;
    QTimer m_settles;  ///< runs out when the project has come to rest
    std::vector<View> m_shown;
    QFrame* m_dropMark = nullptr;
    std::string m_object;
    struct SmallPicture {
        View of;  ///< as it was when it was traced
        QImage image;
    };
    std::map<std::string, SmallPicture> m_pictures;  ///< by the view's name
    Background m_background{this};                   ///< last: it uses all of the above
};

}  // namespace noctis
