// What can be repaired about a pass, a click each.
#include "app/controls/clear_layout.h"
#include "app/look/picture_paint.h"
#include "app/picture/reading_panel.h"
#include "app/session/repair_label.h"
#include "core/passes/statistics.h"

#include <QHBoxLayout>
#include <QPushButton>

#include <cmath>

namespace noctis {

void ReadingPanel::showRemedies(const Pass& pass) {
    clearLayout(*m_remedies);
    const auto offer = [&](const QString& text, const QString& help, const char* name, bool on,
                           auto set) {
        auto* button = new QPushButton(text);
        button->setProperty("role", "link");
        button->setObjectName(QLatin1String(name));
        button->setCheckable(true);
        button->setChecked(on);
        button->setToolTip(help);
        m_remedies->addWidget(button);
        connect(button, &QPushButton::clicked, this, [this, set](bool now) {
            set(m_reading, now);
            Q_EMIT corrected(qstring(m_pass.key), m_reading);
        });
    };
    if (pass.interpretation && pass.type == SampleType::Byte)
        offer(repairLabel(Repair::Bands),
              tr("Smooths the bands of 8 bits by no more than half a step; edges stay."),
              "remedy-even", m_reading.evened, [](PassReading& r, bool now) { r.evened = now; });
    if (pass.interpretation && (pass.sampling == Sampling::Filtered || m_reading.snapped))
        offer(repairLabel(Repair::BlendedEdges),
              tr("Gives each pixel that mixes two distances one of the two."), "remedy-snap",
              m_reading.snapped, [](PassReading& r, bool now) { r.snapped = now; });
    const Statistics stored = statisticsOf(pass.raw.empty() ? pass.image : pass.raw, 0);
    const bool setAside = m_reading.kind == PassKind::Colour;
    if (stored.constant() && pass.image.channels() == 1 && (setAside || !pass.warnings.empty()))
        offer(tr("Set it aside"),
              tr("Steps ignore this pass, or derive it from others where they can."),
              "remedy-aside", setAside, [](PassReading& r, bool now) {
                  r.kind = now ? std::optional(PassKind::Colour) : std::nullopt;
              });
    if (m_reading.filled || stored.notANumber > 0)
        offer(repairLabel(Repair::Gaps),
              tr("Fills pixels without a valid number from those around them."), "remedy-fill",
              m_reading.filled, [](PassReading& r, bool now) { r.filled = now; });
    if (pass.interpretation && !pass.raw.empty() &&
        pass.interpretation->coding != DepthCoding::Metres)
        offer(tr("Swap near and far"), tr("Swaps bright and dark."), "remedy-turn", false,
              [this](PassReading& r, bool) {
                  Interpretation turned = *m_pass.interpretation;
                  turned.nearBright = !turned.nearBright;
                  if (std::isfinite(turned.backgroundFrom))
                      turned.backgroundFrom = turned.nearBright ? 0.0F : 1.0F;
                  turned.reason.clear();
                  r.depth = turned;
              });
    if (!passKindInfo(pass.kind).data() && pass.image.channels() == 4)
        offer(tr("Alpha is straight"),
              tr("Reads alpha as straight, for files whose edges come out too dark or too bright."),
              "remedy-straight", m_reading.straight.value_or(false),
              [](PassReading& r, bool now) { r.straight = now; });
    m_remedies->addStretch(1);
}

}  // namespace noctis
