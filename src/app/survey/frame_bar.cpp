#include "app/survey/frame_bar.h"

#include "app/look/theme.h"
#include "app/session/session.h"
#include "app/survey/lens_control.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QSignalBlocker>
#include <QSpinBox>
#include <QWidgetAction>

#include <algorithm>
#include <cmath>
#include <tuple>

namespace noctis {

namespace {

constexpr int kLargestFrame = 16384;

QSpinBox* sideBox(const QString& name) {
    auto* box = new QSpinBox;
    box->setRange(16, kLargestFrame);
    box->setAccessibleName(name);
    box->setToolTip(QObject::tr("%1 of the frame, in pixels.").arg(name));
    box->setKeyboardTracking(false);
    box->setFixedWidth(62);
    return box;
}

}  // namespace

FrameBar::FrameBar(Session& session, QWidget* parent) : QWidget(parent), m_session(session) {
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(6);
    m_size = new QPushButton;
    m_size->setProperty("role", "link");
    m_size->setObjectName("sizes");
    m_size->setToolTip(tr("The frame's size in pixels."));
    connect(m_size, &QPushButton::clicked, this,
            [this] { showSizes(m_size->mapToGlobal(QPoint(0, m_size->height()))); });
    layout->addWidget(m_size);
    layout->addWidget(new LensControl(session));
    connect(&m_session, &Session::projectChanged, this, &FrameBar::refresh);
    refresh();
}

void FrameBar::refresh() {
    const Project& project = m_session.project();
    m_size->setText(tr("%1 × %2").arg(project.width).arg(project.height));
    m_size->setAccessibleName(tr("Frame size, %1").arg(m_size->text()));
}

QWidget* FrameBar::sidesRow(QMenu& menu) {
    const Project& project = m_session.project();
    auto* row = new QWidget;
    auto* layout = new QHBoxLayout(row);
    layout->setContentsMargins(16, 6, 16, 6);
    auto* width = sideBox(tr("Width"));
    auto* height = sideBox(tr("Height"));
    width->setValue(project.width);
    height->setValue(project.height);
    auto* lock = new QPushButton;
    lock->setCheckable(true);
    lock->setChecked(project.aspectLocked);
    QIcon icon = theme::icon("lock-open");
    icon.addPixmap(theme::icon("lock", theme::kAccent).pixmap(48), QIcon::Normal, QIcon::On);
    lock->setIcon(icon);
    lock->setProperty("role", "icon");
    lock->setAccessibleName(tr("Keep the aspect"));
    lock->setToolTip(tr("Keeps the proportions when you change one side."));
    layout->addWidget(width);
    layout->addWidget(lock);
    layout->addWidget(height);
    layout->addWidget(new QLabel(tr("px")));
    const auto changed = [this, width, height](bool widthChanged) {
        change(*width, *height, widthChanged);
        const QSignalBlocker a(width);
        const QSignalBlocker b(height);
        width->setValue(m_session.project().width);
        height->setValue(m_session.project().height);
    };
    connect(width, &QSpinBox::valueChanged, &menu, [changed] { changed(true); });
    connect(height, &QSpinBox::valueChanged, &menu, [changed] { changed(false); });
    connect(lock, &QPushButton::clicked, &menu, [this](bool on) {
        m_session.change(tr("Keep the aspect"), {}, [&](Project& p) { p.aspectLocked = on; });
    });
    return row;
}

void FrameBar::showSizes(const QPoint& at) {
    const std::tuple<int, int, QString> sizes[] = {
        {1280, 720, tr("small wide")},     {1920, 1080, tr("wide")},
        {3840, 2160, tr("wide, 4K")},      {2048, 858, tr("very wide")},
        {1080, 1080, tr("square")},        {1080, 1920, tr("upright")},
        {2480, 3508, tr("A4 at 300 dpi")}, {4096, 4096, tr("square, 4K")}};
    QMenu menu;
    auto* sides = new QWidgetAction(&menu);
    sides->setDefaultWidget(sidesRow(menu));
    menu.addAction(sides);
    menu.addSeparator();
    for (const auto& [w, h, name] : sizes)
        menu.addAction(tr("%1 × %2, %3").arg(w).arg(h).arg(name), this, [this, w = w, h = h] {
            m_session.change(tr("Frame size"), {}, [&](Project& p) {
                p.width = w;
                p.height = h;
            });
        });
    menu.exec(at);
}

void FrameBar::change(const QSpinBox& width, const QSpinBox& height, bool widthChanged) {
    m_session.change(tr("Frame size"), {}, [&](Project& p) {
        const double aspect = static_cast<double>(p.width) / p.height;
        const auto side = [](double v) {
            return std::clamp(static_cast<int>(std::lround(v)), 16, kLargestFrame);
        };
        if (widthChanged) {
            p.width = width.value();
            if (p.aspectLocked)
                p.height = side(p.width / aspect);
        } else {
            p.height = height.value();
            if (p.aspectLocked)
                p.width = side(p.height * aspect);
        }
    });
}

}  // namespace noctis
