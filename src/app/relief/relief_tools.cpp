#include "app/relief/relief_tools.h"

#include "app/controls/tab_button.h"
#include "app/controls/wrap_line.h"
#include "app/relief/map_view.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>

#include <tuple>

namespace noctis {

namespace {

constexpr int kBetweenTools = 2;  // px

}  // namespace

ReliefTools::ReliefTools(MapView& map, QWidget* parent) : QWidget(parent) {
    auto* line = new QHBoxLayout(this);
    line->setContentsMargins(14, 4, 14, 4);
    auto* as = new QLabel(tr("Show as"));
    as->setProperty("role", "heading");
    as->setContentsMargins(0, 0, 6, 0);
    std::vector<QWidget*> left{as};
    const std::tuple<MapLook, QString, QString, const char*> looks[] = {
        {MapLook::Grey, tr("Grey"),
         tr("As it is written: black is the lowest of the range, white the highest; what is "
            "clipped is tinted."),
         "look-grey"},
        {MapLook::Ramp, tr("Ramp"), tr("Heights in colours, indigo low and brass high."),
         "look-ramp"},
        {MapLook::Relief, tr("Relief"), tr("Lit by the lamp on the disc."), "look-relief"},
        {MapLook::Slope, tr("Slope"), tr("How steep it is: white is vertical."), "look-slope"},
        {MapLook::Normals, tr("Normals"), tr("Which way it faces."), "look-normals"}};
    for (const auto& [look, text, help, name] : looks) {
        QPushButton* button = tabButton(text, help, QLatin1String(name));
        button->setChecked(look == MapLook::Relief);
        connect(button, &QPushButton::clicked, this, [this, &map, look = look] {
            for (const auto& [each, tab] : m_looks)
                tab->setChecked(each == look);
            map.setLook(look);
        });
        left.push_back(button);
        m_looks.emplace_back(look, button);
    }
    m_contours =
        tabButton(tr("Contours"), tr("Lines of equal height, labelled in the axis's unit."),
                  QStringLiteral("contours"));
    m_contours->setChecked(true);
    connect(m_contours, &QPushButton::toggled, &map, &MapView::setContours);
    QPushButton* tile = tabButton(tr("Tile 3 × 3"), tr("Repeats the map, so that seams show."),
                                  QStringLiteral("tile"));
    connect(tile, &QPushButton::toggled, &map, &MapView::setTiled);
    auto* compare = new QPushButton(tr("Compare"));
    compare->setObjectName("compare");
    compare->setProperty("role", "link");
    compare->setToolTip(tr("Another map beside this one: a wipe, or the difference in metres."));
    connect(compare, &QPushButton::clicked, this, [this, compare] {
        Q_EMIT compareAsked(compare->mapToGlobal(QPoint(0, compare->height())));
    });
    QPushButton* laid = tabButton(tr("Drape the picture"), tr("Lays the picture on the solid."),
                                  QStringLiteral("with-picture"));
    connect(laid, &QPushButton::toggled, this, &ReliefTools::pictureLaid);
    left.insert(left.end(), {m_contours, tile});
    line->addWidget(
        new WrapLine(lineGroup(left, kBetweenTools), lineGroup({compare, laid}, kBetweenTools)));
}

void ReliefTools::setSpacing(const QString& length) {
    m_contours->setText(tr("Contours %1").arg(length));
}

}  // namespace noctis
