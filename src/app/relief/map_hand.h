#pragma once

#include "app/hand/handle_marks.h"
#include "app/hand/where_hand.h"
#include "app/session/relief_worker.h"

#include <QObject>
#include <QPointF>

#include <memory>

namespace noctis {

class MapView;
class ReliefPanel;

/// Where the hand works on the height map: the shapes of an operation's Where are drawn and dragged there, and places
/// are clicked. They are places of the frame that the map is made from.
class MapHand : public QObject {
    Q_OBJECT
public:
    MapHand(Session& session, MapView& map, ReliefPanel& panel, QObject* parent);

    /// Shows what the open card has now.
    void refresh();
    void setWorked(const std::shared_ptr<const WorkedRelief>& worked);

Q_SIGNALS:
    void moves();
    void rested();

private:
    /// A place of the map, in cells of the full one, as a place of the frame; NaN where the map shows none.
    [[nodiscard]] V2f framePlace(const QPointF& cells) const;
    [[nodiscard]] const Relief* relief() const;
    /// The steps of the list whose handles are shown: the relief's operations.
    [[nodiscard]] const Steps& operations() const;
    void showHandles();
    void showDrawing();
    void change(const QString& what, const QString& gesture,
                const std::function<void(Steps&)>& edit);
    void click(const QPointF& cells);
    void leadStroke(const V2f& to);
    void endStroke(const V2f& at);
    void moveHandle(const std::string& owner, const std::string& handle, const QPointF& cells);

    Session& m_session;
    MapView& m_map;
    ReliefPanel& m_panel;
    std::shared_ptr<const WorkedRelief> m_worked;
    WhereHand m_drawing;
    bool m_begun = false;  ///< a stroke begins where the map first shows something
    bool m_takesAway = false;
    PlaceList m_clicked;
};

}  // namespace noctis
