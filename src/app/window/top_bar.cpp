#include "app/window/top_bar.h"

#include "app/look/picture_paint.h"
#include "app/look/theme.h"
#include "app/window/exposure_field.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QPainter>
#include <QPainterPath>
#include <QPushButton>

namespace noctis {

namespace {

QIcon crescent() {
    QPixmap pixmap(40, 40);
    pixmap.fill(Qt::transparent);
    QPainter painter(&pixmap);
    painter.setRenderHint(QPainter::Antialiasing);
    QPainterPath moon;
    moon.addEllipse(QPointF(20, 20), 16, 16);
    QPainterPath bite;
    bite.addEllipse(QPointF(13, 14), 14, 14);
    painter.fillPath(moon.subtracted(bite), theme::kAccent);
    return QIcon(pixmap);
}

}  // namespace

TopBar::TopBar(Session& session, QMenu* menu, const std::vector<Room*>& allRooms, QWidget* parent)
    : QWidget(parent), m_session(session) {
    setFixedHeight(39);
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(8, 0, 14, 1);
    layout->setSpacing(8);
    m_title = new QPushButton(crescent(), {});
    m_title->setProperty("role", "icon");
    m_title->setFont(theme::font(14, QFont::DemiBold));
    m_title->setIconSize(QSize(20, 20));
    m_title->setToolTip(tr("New, open, save, export and everything else."));
    m_title->setAccessibleName(tr("Menu"));
    m_title->setObjectName("menu");
    connect(m_title, &QPushButton::clicked, this,
            [this, menu] { menu->exec(m_title->mapToGlobal(QPoint(0, m_title->height()))); });
    m_detail = new QLabel;
    m_detail->setProperty("role", "quiet");
    layout->addWidget(m_title);
    layout->addWidget(m_detail);
    layout->addStretch(1);
    m_view = new QComboBox;
    m_view->setAccessibleName(tr("View transform"));
    m_view->setToolTip(tr("How scene-linear light becomes what the screen shows."));
    for (const ViewTransform view : {ViewTransform::Plain, ViewTransform::SoftShoulder})
        m_view->addItem(qstring(viewTransformLabel(view)));
    connect(m_view, &QComboBox::activated, this, [this](int index) {
        m_session.change(tr("View transform"), {},
                         [&](Project& p) { p.viewTransform = static_cast<ViewTransform>(index); });
    });
    layout->addWidget(m_view);
    m_exposure = new ExposureField;
    connect(m_exposure, &ExposureField::moved, this, [this](float stops) {
        m_session.change(tr("Exposure"), QStringLiteral("exposure"),
                         [&](Project& p) { p.exposure = stops; });
    });
    connect(m_exposure, &ExposureField::rested, &m_session, &Session::endGesture);
    layout->addWidget(m_exposure);
    m_size = new QLabel;
    m_size->setProperty("role", "quiet");
    layout->addWidget(m_size);

    m_rooms = new QWidget(this);
    auto* rooms = new QHBoxLayout(m_rooms);
    rooms->setContentsMargins(0, 0, 0, 0);
    rooms->setSpacing(20);
    for (Room* room : allRooms) {
        auto* tab = new QPushButton(room->title());
        tab->setProperty("role", "tab");
        tab->setCheckable(true);
        tab->setFont(theme::font(14, QFont::Medium));
        tab->setFixedHeight(38);
        tab->setToolTip(room->purpose());
        tab->setObjectName(room->title());
        rooms->addWidget(tab);
        connect(tab, &QPushButton::clicked, this, [this, room] { Q_EMIT roomChosen(room); });
        connect(room, &Room::headChanged, this, &TopBar::refresh);
        m_tabs.emplace_back(room, tab);
    }
    connect(&m_session, &Session::projectChanged, this, &TopBar::refresh);
    connect(&m_session, &Session::passesChanged, this, &TopBar::refresh);
    refresh();
}

void TopBar::setRoom(const Room& room) {
    for (const auto& [each, tab] : m_tabs)
        tab->setChecked(each == &room);
    m_room = &room;
    m_looksThroughView = room.looksThroughView();
    refresh();
}

void TopBar::refresh() {
    for (const auto& [room, tab] : m_tabs) {
        const QString detail = room->tabDetail();
        tab->setText(detail.isEmpty() ? room->title()
                                      : QStringLiteral("%1  %2").arg(room->title(), detail));
    }
    placeRooms();
    const Project& project = m_session.project();
    m_title->setText(QLatin1Char(' ') + m_session.title() +
                     (m_session.unsaved() ? QStringLiteral(" •") : QString()));
    // In Survey the view that is shown, elsewhere the one that the frame belongs to.
    const QString view = m_looksThroughView && m_session.scene() ? qstring(m_session.view().name)
                                                                 : qstring(m_session.passes().view);
    m_detail->setText(view.isEmpty() ? QString() : QStringLiteral("· ") + view);
    m_view->setCurrentIndex(static_cast<int>(project.viewTransform));
    m_exposure->setStops(project.exposure);
    const PassSet& set = m_session.passes();
    m_size->setText(QStringLiteral("%1 × %2")
                        .arg(set.empty() ? project.width : set.width)
                        .arg(set.empty() ? project.height : set.height));
    if (m_room == nullptr)
        return;
    m_view->setVisible(m_room->showsLight());
    m_exposure->setVisible(m_room->showsLight());
    if (!m_room->headDetail().isEmpty())
        m_detail->setText(QStringLiteral("· ") + m_room->headDetail());
    if (!m_room->headSize().isEmpty())
        m_size->setText(m_room->headSize());
}

void TopBar::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.fillRect(rect(), theme::kPanel);
    painter.fillRect(QRect(0, height() - 1, width(), 1), theme::kHairline);
}

void TopBar::resizeEvent(QResizeEvent*) { placeRooms(); }

void TopBar::placeRooms() {
    m_rooms->adjustSize();
    m_rooms->move((width() - m_rooms->width()) / 2, 0);
}

}  // namespace noctis
