#pragma once

#include "app/relief/map_view.h"
#include "app/rooms/room.h"
#include "app/session/background.h"
#include "app/session/relief_worker.h"

#include <array>
#include <map>

class QMenu;

namespace noctis {

class HeightAxis;
class MapHand;
class ReliefExport;
class ReliefPanel;
class ReliefStrip;
class ReliefTools;
class Section;
class SolidView;

/// The room of height maps: what they are from, the map, its section and solid, what is done to it, what
/// comes out.
class ReliefRoom : public Room {
    Q_OBJECT
public:
    explicit ReliefRoom(Session& session, QWidget* parent = nullptr);

    [[nodiscard]] MapView& map() { return *m_map; }
    [[nodiscard]] Section& section() { return *m_section; }
    [[nodiscard]] HeightAxis& axis() { return *m_axis; }
    [[nodiscard]] SolidView& solid() { return *m_solid; }
    [[nodiscard]] ReliefPanel& panel() { return *m_panel; }
    [[nodiscard]] const std::string& chosen() const { return m_chosen; }
    /// The last map that was worked, and whether all of it is.
    [[nodiscard]] const WorkedRelief* worked() const { return m_worked.get(); }
    [[nodiscard]] bool settled() const;
    /// Every map has been made once, or has failed to.
    [[nodiscard]] bool allPrinted() const;
    void choose(const std::string& id);
    /// With another map that was worked; none of that id: with nothing.
    void compareWith(const std::string& id, MapView::Compare compare);
    /// A new map from files: a grey picture, normals, passes, or a scene from above.
    void addFromFile(const std::filesystem::path& file);

    [[nodiscard]] QString title() const override { return tr("Relief"); }
    [[nodiscard]] QString purpose() const override { return tr("Height maps, in metres."); }
    [[nodiscard]] QWidget* foot() const override { return m_foot; }
    [[nodiscard]] std::vector<RoomCommand> commands() override;
    [[nodiscard]] QString headDetail() const override;
    [[nodiscard]] QString headSize() const override;
    [[nodiscard]] bool showsLight() const override { return false; }
    void enter() override;
    void fitPicture() override { m_map->fit(); }
    void showWholePixels() override { m_map->setZoom(1.0, QRectF(m_map->rect()).center()); }
    void holdBefore(bool hold) override;

protected:
    void resizeEvent(QResizeEvent*) override;

private:
    void showCompareMenu(const QPoint& global);
    void buildAddMenu();
    /// from: a view that is new, too.
    void add(Relief relief, const QString& what, const std::optional<View>& from = {});
    void addFromAbove();
    void takeProject();
    void takePasses();
    void takeWorked(const std::shared_ptr<const WorkedRelief>& worked);
    void takePrint(const WorkedRelief& worked);
    /// Computes maps without a print while nothing else needs doing.
    void fillPrints();
    void refreshSection();
    void point(const std::optional<QPointF>& cells);
    void moveRange(float from, float to);
    void showMapMenu(const QPointF& cells, const QPoint& global);
    void giveToPicture(const std::string& map);
    [[nodiscard]] float heightUnder(const QPointF& cells) const;

    Session& m_session;
    QWidget* m_foot;
    ReliefWorker m_worker;
    std::string m_chosen;
    bool m_entered = false;
    bool m_moving = false;
    std::string m_editing;                    ///< the operation a hand is at outside of the cards
    std::vector<View> m_views;                ///< as the worker knows them
    std::map<std::string, Relief> m_printed;  ///< what prints were made of, or can't be
    std::shared_ptr<const WorkedRelief> m_worked;
    std::map<std::string, std::shared_ptr<const WorkedRelief>> m_last;  ///< by relief, in full
    std::optional<std::array<QPointF, 2>> m_line;
    bool m_withPicture = false;
    std::string m_other;
    ReliefStrip* m_strip;
    MapView* m_map;
    HeightAxis* m_axis;
    Section* m_section;
    SolidView* m_solid;
    ReliefPanel* m_panel;
    ReliefExport* m_export;
    ReliefTools* m_tools;
    MapHand* m_hand;
    QMenu* m_add;
    Background m_giving{this};  ///< last: it uses the above
};

}  // namespace noctis
