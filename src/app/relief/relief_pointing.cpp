// What is pointed at and drawn in the room of height maps: a place, a section, the range.
#include "app/instruments/height_axis.h"
#include "app/instruments/section.h"
#include "app/look/picture_paint.h"
#include "app/relief/relief_room.h"
#include "app/relief/relief_tools.h"
#include "core/operations/registry.h"

#include <QLineF>

#include <cmath>

namespace noctis {

namespace {

constexpr int kSectionSamples = 700;

bool endsWithRange(const Relief& relief) {
    return !relief.operations.empty() && relief.operations.back().type == "range" &&
           relief.operations.back().usable();
}

}  // namespace

void ReliefRoom::refreshSection() {
    if (!m_worked)
        return;
    const HeightField& field = m_worked->map->full();
    const auto factor = static_cast<qreal>(m_worked->factor);
    if (!m_line)  // across the middle, so that there is one to see
        m_line = {QPointF(field.width() * factor * 0.08, field.height() * factor * 0.62),
                  QPointF(field.width() * factor * 0.92, field.height() * factor * 0.38)};
    m_map->setSection(m_line);
    const auto at = [&](const QPointF& p) {
        return V2f(static_cast<float>(p.x() / factor), static_cast<float>(p.y() / factor));
    };
    const float length = static_cast<float>(QLineF((*m_line)[0], (*m_line)[1]).length() / factor) *
                         field.metresPerPixel;
    m_section->setHeights(sectionOf(field, at((*m_line)[0]), at((*m_line)[1]), kSectionSamples),
                          length);
    std::vector<float> behind;
    if (const auto other = m_last.find(m_other); other != m_last.end()) {
        behind = sectionOfOther(other->second->map->full(), field, at((*m_line)[0]),
                                at((*m_line)[1]), kSectionSamples);
    }
    m_section->setOther(std::move(behind));
}

void ReliefRoom::point(const std::optional<QPointF>& cells) {
    if (!m_worked || !cells) {
        m_map->setReading({});
        m_axis->setNeedle(std::nullopt);
        return;
    }
    const HeightField& field = m_worked->map->full();
    const auto factor = static_cast<qreal>(m_worked->factor);
    const auto x = static_cast<float>(cells->x() / factor);
    const auto y = static_cast<float>(cells->y() / factor);
    if (x < 0.0F || y < 0.0F || x >= static_cast<float>(field.width()) ||
        y >= static_cast<float>(field.height())) {
        m_map->setReading({});
        m_axis->setNeedle(std::nullopt);
        return;
    }
    const float height = heightAt(field.heights, x - 0.5F, y - 0.5F);
    const V3f place = scenePoint(field, x - 0.5F, y - 0.5F, std::isfinite(height) ? height : 0.0F);
    const auto metres = [](float v) { return qstring(lengthText(static_cast<double>(v))); };
    m_map->setReading(QStringLiteral("%1, %2   %3   at %4, %5, %6 m")
                          .arg(static_cast<int>(cells->x()))
                          .arg(static_cast<int>(cells->y()))
                          .arg(std::isfinite(height) ? metres(height) : tr("hole"))
                          .arg(static_cast<double>(place.x), 0, 'f', 3)
                          .arg(static_cast<double>(place.y), 0, 'f', 3)
                          .arg(static_cast<double>(place.z), 0, 'f', 3));
    m_axis->setNeedle(std::isfinite(height) ? std::optional(height) : std::nullopt);
}

float ReliefRoom::heightUnder(const QPointF& cells) const {
    const auto factor = static_cast<qreal>(m_worked->factor);
    return heightAt(m_worked->map->full().heights, static_cast<float>(cells.x() / factor) - 0.5F,
                    static_cast<float>(cells.y() / factor) - 0.5F);
}

void ReliefRoom::moveRange(float from, float to) {
    m_moving = true;
    if (const Relief* relief = reliefOf(m_session.project(), m_chosen);
        relief != nullptr && endsWithRange(*relief))
        m_editing = relief->operations.back().id;
    m_session.change(tr("Range"), QStringLiteral("relief.range"), [&](Project& p) {
        Relief* relief = reliefOf(p, m_chosen);
        if (relief == nullptr)
            return;
        if (!endsWithRange(*relief))
            relief->operations.push_back(newOperation(reliefCatalogue(), "range", *relief));
        Settings& settings = relief->operations.back().settings;
        settings.set("by", std::string("heights"));
        settings.set("from", from);
        settings.set("to", to);
    });
}

}  // namespace noctis
