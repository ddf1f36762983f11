#include "app/relief/map_hand.h"

#include "app/look/picture_paint.h"
#include "app/relief/map_view.h"
#include "app/relief/relief_panel.h"
#include "core/operations/registry.h"
#include "core/project/handles.h"
#include "core/relief/sources.h"
#include "core/steps/registry.h"

#include <cmath>
#include <utility>

namespace noctis {

namespace {

constexpr std::size_t kPlacesOfPlane = 3;

/// What is clicked belongs to no step.
constexpr const char* kClicked = "clicked";

}  // namespace

MapHand::MapHand(Session& session, MapView& map, ReliefPanel& panel, QObject* parent)
    : QObject(parent), m_session(session), m_map(map), m_panel(panel),
      m_drawing({[this] { return criterionOf(operations(), m_panel.inHand().owner()); },
                 [this]() -> const Brush& { return m_panel.brush(); },
                 [this]() -> const PassSet& { return m_worked->passes; },
                 [this](const QString& what, const QString& gesture, const Settings& settings) {
                     change(what, gesture, [&](Steps& steps) {
                         criterionOf(steps, m_panel.inHand().owner())->settings = settings;
                     });
                 }}) {
    connect(&m_panel, &ReliefPanel::inHandChanged, this, [this] {
        m_clicked.clear();
        refresh();
    });
    connect(&m_map, &MapView::strokeBegun, this, [this](const QPointF& cells, bool takesAway) {
        m_begun = false;
        m_takesAway = takesAway;
        leadStroke(framePlace(cells));
    });
    connect(&m_map, &MapView::strokeLed, this,
            [this](const QPointF& cells) { leadStroke(framePlace(cells)); });
    connect(&m_map, &MapView::strokeEnded, this, [this](const QPointF& cells) {
        if (m_panel.inHand().picked.empty())
            endStroke(framePlace(cells));
        else
            click(cells);
        Q_EMIT rested();
    });
    connect(&m_map, &MapView::handleMoved, this, &MapHand::moveHandle);
    connect(&m_map, &MapView::handleRested, this, &MapHand::rested);
}

const Relief* MapHand::relief() const {
    // The cards may already be another map's, while that one is computed.
    const bool shown = m_worked != nullptr && m_worked->request.relief.id == m_panel.reliefId();
    return shown ? reliefOf(m_session.project(), m_panel.reliefId()) : nullptr;
}

const Steps& MapHand::operations() const {
    static const Steps none;
    const Relief* there = relief();
    return there != nullptr ? there->operations : none;
}

V2f MapHand::framePlace(const QPointF& cells) const {
    const HeightField& field = m_worked->map->full();
    const auto factor = static_cast<qreal>(m_worked->factor);
    const QPointF own = cells / factor;
    const auto width = static_cast<float>(m_worked->frame.width);
    const auto height = static_cast<float>(m_worked->frame.height);
    if (field.places.empty())
        return {static_cast<float>(own.x()) * width / static_cast<float>(field.width()),
                static_cast<float>(own.y()) * height / static_cast<float>(field.height())};
    return placeOf(field, std::clamp(static_cast<int>(own.x()), 0, field.width() - 1),
                   std::clamp(static_cast<int>(own.y()), 0, field.height() - 1),
                   m_worked->frame.width, m_worked->frame.height);
}

void MapHand::setWorked(const std::shared_ptr<const WorkedRelief>& worked) {
    m_worked = worked;
    refresh();
}

void MapHand::refresh() {
    showHandles();
    showDrawing();
}

void MapHand::showHandles() {
    std::vector<PictureHandle> handles;
    const StepTypes types = operationTypes(reliefCatalogue(), stepCatalogue());
    for (const HandleGroup& group : handleGroups(operations(), types)) {
        // Places of an operation itself are cells of the map, and clicked.
        if (stepOfOwner(group.owner) != m_panel.chosen() || group.owner == m_panel.chosen())
            continue;
        for (const Handle* handle : group.shown(HandleKind::Place)) {
            const V2f cell = cellOf(m_worked->map->full(), std::get<V2f>(group.at(*handle)),
                                    m_worked->frame.width, m_worked->frame.height) *
                             static_cast<float>(m_worked->factor);
            if (std::isfinite(cell.x))
                handles.push_back(
                    {group.owner, handle->id, qstring(handle->label),
                     QPointF(static_cast<qreal>(cell.x), static_cast<qreal>(cell.y))});
        }
    }
    for (const V2f& place : m_clicked)
        handles.push_back({kClicked,
                           {},
                           tr("clicked"),
                           QPointF(static_cast<qreal>(place.x), static_cast<qreal>(place.y))});
    m_map.setHandles(std::move(handles));
}

void MapHand::showDrawing() {
    const Drawing drawing = m_drawing.drawing();
    QString text;
    if (drawing == Drawing::Shape)
        text = tr("Drag it out on the map.");
    else if (drawing == Drawing::Outline)
        text = tr("Click its corners on the map.");
    else if (drawing == Drawing::Brush)
        text = tr("Paint on the map; the right button erases.");
    else if (drawing == Drawing::Pick)
        text = tr("Click things on the map to pick them; a second click drops them.");
    if (!m_panel.inHand().picked.empty())
        text = tr("Click place %1 of %2 on the map.").arg(m_clicked.size() + 1).arg(kPlacesOfPlane);
    qreal brush = 0.0;
    if (drawing == Drawing::Brush && m_worked != nullptr)
        brush = static_cast<qreal>(m_panel.brush().radius) * m_worked->factor *
                m_worked->map->full().width() / std::max(1, m_worked->frame.width);
    m_map.setDrawn(!text.isEmpty(), brush, text);
}

void MapHand::change(const QString& what, const QString& gesture,
                     const std::function<void(Steps&)>& edit) {
    const Relief* there = relief();
    if (there == nullptr)
        return;
    if (!gesture.isEmpty())
        Q_EMIT moves();
    m_session.change(what, gesture,
                     [&, id = there->id](Project& p) { edit(reliefOf(p, id)->operations); });
}

void MapHand::leadStroke(const V2f& to) {
    if (!std::isfinite(to.x))  // a hole has no place in the frame
        return;
    if (std::exchange(m_begun, true))
        m_drawing.lead(to, 1.0F);
    else
        m_drawing.begin(to, m_takesAway, 1.0F);
}

void MapHand::endStroke(const V2f& at) {
    if (std::isfinite(at.x))
        m_drawing.end(at);
}

void MapHand::moveHandle(const std::string& owner, const std::string& handle,
                         const QPointF& cells) {
    const Where* part = criterionOf(operations(), owner);
    const V2f to = framePlace(cells);
    if (part == nullptr || !std::isfinite(to.x))
        return;
    change(tr("%1: where").arg(qstring(stepCatalogue().criterion(part->name).label)),
           QStringLiteral("handle.%1.%2").arg(qstring(owner), qstring(handle)), [&](Steps& steps) {
               noctis::moveHandle(steps, operationTypes(reliefCatalogue(), stepCatalogue()), owner,
                                  handle, to);
           });
}

void MapHand::click(const QPointF& cells) {
    const Relief* there = relief();
    if (there == nullptr)
        return;
    if (m_panel.chosen() == kSourceCard && !std::isfinite(framePlace(cells).x)) {
        Q_EMIT m_session.notified(
            tr("Nothing was seen there: click where the map shows a surface."), true);
        return;
    }
    m_clicked.emplace_back(static_cast<float>(cells.x()), static_cast<float>(cells.y()));
    if (m_clicked.size() < kPlacesOfPlane) {
        refresh();
        return;
    }
    PlaceList places = m_clicked;
    const std::string setting = m_panel.inHand().picked;
    if (m_panel.chosen() == kSourceCard)
        for (V2f& place : places)
            place = framePlace({static_cast<qreal>(place.x), static_cast<qreal>(place.y)});
    for (V2f& place : places)  // a hand isn't more precise, and short numbers are readable
        place = {std::round(place.x * 4.0F) / 4.0F, std::round(place.y * 4.0F) / 4.0F};
    m_panel.setInHand({});
    m_session.change(tr("Click three places"), {}, [&](Project& p) {
        Relief& changed = *reliefOf(p, there->id);
        if (m_panel.chosen() == kSourceCard)
            changed.settings.set(setting, std::move(places));
        else if (Step* operation = findStep(changed.operations, m_panel.chosen()))
            operation->settings.set(setting, std::move(places));
    });
}

}  // namespace noctis
