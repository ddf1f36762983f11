#include "app/relief/relief_room.h"

#include "app/cards/pass_names.h"
#include "app/controls/hairline.h"
#include "app/instruments/height_axis.h"
#include "app/instruments/section.h"
#include "app/look/panel_width.h"
#include "app/look/picture_paint.h"
#include "app/look/theme.h"
#include "app/relief/map_hand.h"
#include "app/relief/relief_export.h"
#include "app/relief/relief_panel.h"
#include "app/relief/relief_strip.h"
#include "app/relief/relief_tools.h"
#include "app/relief/solid_view.h"
#include "core/image/colour.h"
#include "core/operations/registry.h"
#include "core/relief/sources.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QVBoxLayout>

#include <algorithm>
#include <cmath>

namespace noctis {

namespace fs = std::filesystem;

ReliefRoom::ReliefRoom(Session& session, QWidget* parent) : Room(parent), m_session(session) {
    m_strip = new ReliefStrip;
    m_map = new MapView;
    m_axis = new HeightAxis;
    m_section = new Section;
    m_solid = new SolidView;
    m_panel =
        new ReliefPanel(session, [this](TextUse use) { return namesIn(m_session.passes(), use); });
    m_export = new ReliefExport(session);
    m_export->hide();

    auto* left = new QVBoxLayout;
    left->setContentsMargins(0, 6, 0, 0);
    left->setSpacing(2);
    auto* head = new QHBoxLayout;
    head->setContentsMargins(12, 0, 8, 0);
    auto* from = new QLabel(tr("From"));
    from->setProperty("role", "heading");
    head->addWidget(from, 1);
    auto* addButton = new QPushButton(tr("Add"));
    addButton->setObjectName("add-relief");
    addButton->setProperty("role", "link");
    addButton->setToolTip(tr("A height map from the scene, the picture's passes, or a file."));
    m_add = new QMenu(addButton);
    connect(m_add, &QMenu::aboutToShow, this, &ReliefRoom::buildAddMenu);
    connect(addButton, &QPushButton::clicked, this, [this, addButton] {
        m_add->exec(addButton->mapToGlobal(QPoint(0, addButton->height())));
    });
    head->addWidget(addButton);
    left->addLayout(head);
    left->addWidget(m_strip, 1);

    auto* views = new QHBoxLayout;
    views->setSpacing(0);
    views->addWidget(m_axis);
    views->addWidget(m_map, 3);
    views->addSpacing(6);
    views->addWidget(m_solid, 2);
    auto* middle = new QVBoxLayout;
    middle->setSpacing(0);
    m_tools = new ReliefTools(*m_map);
    middle->addWidget(m_tools);
    middle->addLayout(views, 3);
    middle->addWidget(m_export);
    middle->addWidget(hairline(false));
    m_foot = new QWidget;
    auto* below = new QVBoxLayout(m_foot);
    below->setContentsMargins(0, 0, 0, 0);
    below->addWidget(m_section);
    middle->addWidget(m_foot, 1);
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addLayout(left);
    layout->addWidget(hairline(true));
    layout->addLayout(middle, 1);
    layout->addWidget(hairline(true));
    layout->addWidget(m_panel);

    connect(&m_session, &Session::projectChanged, this, &ReliefRoom::takeProject);
    connect(&m_session, &Session::passesChanged, this, &ReliefRoom::takePasses);
    connect(&m_session, &Session::sceneChanged, this, &ReliefRoom::takePasses);
    connect(&m_worker, &ReliefWorker::worked, this, &ReliefRoom::takeWorked);
    connect(&m_worker, &ReliefWorker::busy, this, [this](const QString& what) {
        const Relief* relief = reliefOf(m_session.project(), m_chosen);
        const bool stands = m_worked && relief != nullptr && m_worked->request.relief == *relief;
        if (!m_worker.idle() && !stands)  // otherwise another map's print is being computed
            m_map->setHint(what);
    });
    connect(&m_worker, &ReliefWorker::failed, this, [this](const QString& id, const QString& why) {
        m_strip->setState(id.toStdString(), tr("can't be made"));
        if (const Relief* relief = reliefOf(m_session.project(), id.toStdString()))
            m_printed[relief->id] = *relief;
        fillPrints();
        if (id.toStdString() != m_chosen)
            return;
        m_panel->setProblem(why);
        m_map->setHint(why);
    });
    connect(m_tools, &ReliefTools::compareAsked, this, &ReliefRoom::showCompareMenu);
    connect(m_tools, &ReliefTools::pictureLaid, this, [this](bool on) {
        m_withPicture = on;
        if (m_worked)
            takeWorked(m_worked);
    });
    connect(m_strip, &ReliefStrip::chosen, this, &ReliefRoom::choose);
    connect(m_strip, &ReliefStrip::renamed, this,
            [this](const std::string& id, const QString& name) {
                m_session.change(tr("Rename"), {}, [&](Project& p) {
                    if (Relief* relief = reliefOf(p, id))
                        relief->name = name.toStdString();
                });
            });
    connect(m_strip, &ReliefStrip::removed, this, [this](const std::string& id) {
        m_session.change(tr("Remove a height map"), {}, [&](Project& p) {
            std::erase_if(p.reliefs, [&](const Relief& r) { return r.id == id; });
        });
    });
    connect(m_panel, &ReliefPanel::handMoves, this, [this](bool moves) {
        if (std::exchange(m_moving, moves) && !moves)
            takeProject();
    });
    connect(m_panel, &ReliefPanel::writeAsked, m_export, &ReliefExport::present);
    connect(m_export, &ReliefExport::closed, m_export, &QWidget::hide);
    connect(m_axis, &HeightAxis::heightPointed, m_map, &MapView::setLitHeight);
    connect(m_axis, &HeightAxis::rangeMoved, this, &ReliefRoom::moveRange);
    connect(m_axis, &HeightAxis::rangeRested, this, [this] {
        m_session.endGesture();
        m_editing.clear();
        if (std::exchange(m_moving, false))
            takeProject();
    });
    m_hand = new MapHand(m_session, *m_map, *m_panel, this);
    connect(m_hand, &MapHand::moves, this, [this] { m_moving = true; });
    connect(m_hand, &MapHand::rested, this, [this] {
        m_session.endGesture();
        if (std::exchange(m_moving, false))
            takeProject();
    });
    connect(m_map, &MapView::menuAsked, this, &ReliefRoom::showMapMenu);
    connect(m_map, &MapView::sectionDrawn, this, [this](const QPointF& a, const QPointF& b) {
        m_line = {a, b};
        refreshSection();
    });
    connect(m_section, &Section::pointed, this, [this](float along) {
        m_map->setSectionNeedle(along < 0.0F ? std::nullopt : std::optional(along));
        if (along >= 0.0F && m_line)
            point((*m_line)[0] + ((*m_line)[1] - (*m_line)[0]) * static_cast<qreal>(along));
        else
            point(std::nullopt);
    });
    connect(m_map, &MapView::pointed, this, [this](const QPointF& cells) { point(cells); });
    connect(m_map, &MapView::pointerLeft, this, [this] { point(std::nullopt); });
    connect(m_map, &MapView::lampMoved, m_solid, &SolidView::setLight);
    m_map->setHint(
        tr("No height map yet. Add one: from above in the scene, from the picture's depth "
           "or normals, or from a grey picture."));
}

void ReliefRoom::showCompareMenu(const QPoint& global) {
    QMenu menu;
    menu.addAction(tr("Nothing"), this, [this] { compareWith({}, MapView::Compare::None); });
    for (const auto& [id, worked] : m_last)
        if (const Relief* relief = reliefOf(m_session.project(), id);
            relief != nullptr && id != m_chosen) {
            menu.addAction(tr("Wipe with %1").arg(titleOf(*relief)), this,
                           [this, id = id] { compareWith(id, MapView::Compare::Wipe); });
            menu.addAction(tr("Difference to %1").arg(titleOf(*relief)), this,
                           [this, id = id] { compareWith(id, MapView::Compare::Difference); });
        }
    menu.exec(global);
}

void ReliefRoom::resizeEvent(QResizeEvent*) { m_panel->setFixedWidth(panelWidth(width())); }

std::vector<RoomCommand> ReliefRoom::commands() {
    return {{tr("Height map from above"), {}, [this] { addFromAbove(); }},
            {tr("Write the heights"), {}, [this] { m_export->present(); }}};
}

QString ReliefRoom::headDetail() const {
    const Relief* relief = reliefOf(m_session.project(), m_chosen);
    return relief != nullptr ? titleOf(*relief) : QString();
}

QString ReliefRoom::headSize() const {
    if (!m_worked)
        return QStringLiteral(" ");
    const HeightField& field = m_worked->map->full();
    return tr("%1 × %2    %3 a pixel")
        .arg(field.width() * m_worked->factor)
        .arg(field.height() * m_worked->factor)
        .arg(qstring(lengthText(
            static_cast<double>(field.metresPerPixel / static_cast<float>(m_worked->factor)))));
}

void ReliefRoom::enter() {
    m_entered = true;
    takePasses();
    takeProject();
}

bool ReliefRoom::settled() const {
    const Relief* relief = reliefOf(m_session.project(), m_chosen);
    return m_worker.idle() && m_worked && relief != nullptr &&
           m_worked->request.relief == *relief && !m_worked->request.moving && !m_solid->building();
}

bool ReliefRoom::allPrinted() const {
    const auto& reliefs = m_session.project().reliefs;
    return std::all_of(reliefs.begin(), reliefs.end(), [this](const Relief& relief) {
        return m_printed.find(relief.id) != m_printed.end();
    });
}

void ReliefRoom::choose(const std::string& id) {
    m_chosen = id;
    m_panel->setRelief(id);
    compareWith({}, MapView::Compare::None);
    m_map->setHint({});
    takeProject();
    // As it was last computed, for its print or before: at once.
    const Relief* relief = reliefOf(m_session.project(), m_chosen);
    if (const auto kept = m_last.find(m_chosen);
        relief != nullptr && kept != m_last.end() && kept->second->request.relief == *relief)
        takeWorked(kept->second);
}

void ReliefRoom::takePasses() {
    if (!m_entered)
        return;
    m_views = m_session.views();
    m_worker.setSurroundings(m_session.passes(), m_session.scene(), m_views);
}

void ReliefRoom::takeProject() {
    if (!m_entered)
        return;
    const Project& project = m_session.project();
    if (reliefOf(project, m_chosen) == nullptr) {
        m_chosen = project.reliefs.empty() ? std::string() : project.reliefs.front().id;
        m_panel->setRelief(m_chosen);
        m_map->setHint(project.reliefs.empty()
                           ? tr("No height map yet. Add one: from above in the scene, from the "
                                "picture's depth or normals, or from a grey picture.")
                           : QString());
    }
    if (m_session.views() != m_views)  // a map may be made from a new one
        takePasses();
    m_strip->setReliefs(project.reliefs, m_chosen);
    m_panel->takeProject();
    m_hand->refresh();
    const Relief* relief = reliefOf(project, m_chosen);
    if (relief == nullptr) {
        m_worked.reset();
        m_hand->setWorked(nullptr);
        m_map->setMap(nullptr, 1);
        m_solid->setMap(nullptr, {});
        return;
    }
    m_worker.request({*relief, m_editing.empty() ? m_panel->chosen() : m_editing, m_moving});
    if (m_worked && m_worked->request.relief == *relief && !m_moving)
        fillPrints();  // of maps that were added meanwhile
}

void ReliefRoom::takeWorked(const std::shared_ptr<const WorkedRelief>& worked) {
    const std::string& id = worked->request.relief.id;
    if (id != m_chosen) {
        takePrint(*worked);
        m_last[id] = worked;
        fillPrints();
        return;
    }
    const auto cells = [](const WorkedRelief* w) {
        return w == nullptr ? QSize()
                            : QSize(w->map->full().width(), w->map->full().height()) * w->factor;
    };
    const QSize before = cells(m_worked.get());
    const QSize now = cells(worked.get());
    if (std::abs(before.width() - now.width()) > worked->factor + 8 ||
        std::abs(before.height() - now.height()) > worked->factor + 8)
        m_line.reset();  // it was drawn over another map
    m_worked = worked;
    m_hand->setWorked(worked);
    m_map->setHint({});
    m_map->setRange(worked->report.range);
    m_map->setMap(worked->map, worked->factor);
    m_axis->setHeights(worked->statistics.lowest, worked->statistics.highest, worked->counts);
    m_axis->setRange(worked->report.range);
    m_panel->setWorked(*worked);
    refreshSection();
    if (worked->request.moving)
        return;
    Q_EMIT headChanged();
    m_last[id] = worked;
    m_export->setWorked(worked);
    takePrint(*worked);
    Image picture;
    const bool ofPicture = worked->request.relief.from.files.empty();
    if (const Pass* beauty = m_session.passes().find(PassKind::Beauty);
        m_withPicture && beauty != nullptr && ofPicture)
        picture =
            viewed(beauty->image, m_session.project().viewTransform, m_session.project().exposure);
    m_solid->setMap(worked->map, picture);
    const float spacing = roundSpacing(worked->report.blackToWhite(), 12);
    const auto& range = worked->report.range;
    const LengthUnit unit = lengthUnitFor(std::max(std::abs(range[0]), std::abs(range[1])));
    m_tools->setSpacing(QStringLiteral("%1 %2")
                            .arg(unit.number(spacing), 0, 'g', 3)
                            .arg(QString::fromUtf8(unit.name)));
    fillPrints();
}

void ReliefRoom::takePrint(const WorkedRelief& worked) {
    const Relief& relief = worked.request.relief;
    m_printed[relief.id] = relief;
    m_strip->setState(relief.id, {});
    constexpr float kPrint = 160.0F;
    const HeightField& field = worked.map->full();
    const float cells = static_cast<float>(std::max(field.width(), field.height())) / kPrint;
    const auto pixels = [cells](int size) {
        return std::max(1, static_cast<int>(static_cast<float>(size) / cells));
    };
    MapPainting painting;
    painting.range = worked.report.range;
    m_strip->setPrint(relief.id,
                      toQImage(mapPicture(*worked.map, painting, {0.0F, 0.0F, cells},
                                          pixels(field.width()), pixels(field.height()))));
}

void ReliefRoom::fillPrints() {
    for (const Relief& relief : m_session.project().reliefs)
        if (m_printed.find(relief.id) == m_printed.end()) {
            m_worker.request({relief, {}, false});
            return;
        }
}

void ReliefRoom::compareWith(const std::string& id, MapView::Compare compare) {
    m_other = id;
    const auto found = m_last.find(id);
    m_map->setOther(found == m_last.end() ? nullptr : found->second->map, compare);
    refreshSection();
}

void ReliefRoom::holdBefore(bool hold) {
    // Before anything was done to it.
    const Relief* relief = reliefOf(m_session.project(), m_chosen);
    if (relief == nullptr)
        return;
    Relief shown = *relief;
    if (hold)
        shown.operations.clear();
    m_worker.request({shown, {}, false});
}

}  // namespace noctis
