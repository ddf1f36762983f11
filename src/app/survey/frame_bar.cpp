#include "app/survey/frame_bar.h"

#include "app/look/theme.h"
#include "app/session/session.h"
#include "app/survey/lens_control.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QSpinBox>

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
    auto* label = new QLabel(tr("Frame"));
    label->setProperty("role", "heading");
    m_width = sideBox(tr("Width"));
    m_height = sideBox(tr("Height"));
    m_lock = new QPushButton;
    m_lock->setCheckable(true);
    QIcon lock = theme::icon("lock-open");
    lock.addPixmap(theme::icon("lock", theme::kAccent).pixmap(48), QIcon::Normal, QIcon::On);
    m_lock->setIcon(lock);
    m_lock->setProperty("role", "icon");
    m_lock->setAccessibleName(tr("Keep the aspect"));
    m_lock->setToolTip(tr("Keeps the frame's proportion when a side is changed."));
    layout->addWidget(label);
    layout->addWidget(m_width);
    layout->addWidget(m_lock);
    layout->addWidget(m_height);
    layout->addWidget(new QLabel(tr("px")));
    auto* sizes = new QPushButton(tr("Sizes"));
    sizes->setProperty("role", "link");
    sizes->setObjectName("sizes");
    sizes->setToolTip(tr("Usual sizes of a frame."));
    connect(sizes, &QPushButton::clicked, this,
            [this, sizes] { showSizes(sizes->mapToGlobal(QPoint(0, sizes->height()))); });
    layout->addWidget(sizes);
    layout->addSpacing(10);
    layout->addWidget(new LensControl(session));
    connect(m_width, &QSpinBox::valueChanged, this, [this] { change(true); });
    connect(m_height, &QSpinBox::valueChanged, this, [this] { change(false); });
    connect(m_lock, &QPushButton::clicked, this, [this](bool on) {
        m_session.change(tr("Keep the aspect"), {}, [&](Project& p) { p.aspectLocked = on; });
    });
    connect(&m_session, &Session::projectChanged, this, &FrameBar::refresh);
    refresh();
}

void FrameBar::refresh() {
    const QSignalBlocker a(m_width);
    const QSignalBlocker b(m_height);
    const Project& project = m_session.project();
    m_width->setValue(project.width);
    m_height->setValue(project.height);
    m_lock->setChecked(project.aspectLocked);
}

void FrameBar::showSizes(const QPoint& at) {
    const std::tuple<int, int, QString> sizes[] = {
        {1280, 720, tr("small wide")},     {1920, 1080, tr("wide")},
        {3840, 2160, tr("wide, 4K")},      {2048, 858, tr("very wide")},
        {1080, 1080, tr("square")},        {1080, 1920, tr("upright")},
        {2480, 3508, tr("A4 at 300 dpi")}, {4096, 4096, tr("square, 4K")}};
    QMenu menu;
    for (const auto& [w, h, name] : sizes)
        menu.addAction(tr("%1 × %2, %3").arg(w).arg(h).arg(name), this, [this, w = w, h = h] {
            m_session.change(tr("Frame size"), {}, [&](Project& p) {
                p.width = w;
                p.height = h;
            });
        });
    menu.exec(at);
}

void FrameBar::change(bool widthChanged) {
    m_session.change(tr("Frame size"), {}, [&](Project& p) {
        const double aspect = static_cast<double>(p.width) / p.height;
        const auto side = [](double v) {
            return std::clamp(static_cast<int>(std::lround(v)), 16, kLargestFrame);
        };
        if (widthChanged) {
            p.width = m_width->value();
            if (p.aspectLocked)
                p.height = side(p.width / aspect);
        } else {
            p.height = m_height->value();
            if (p.aspectLocked)
                p.width = side(p.height * aspect);
        }
    });
}

}  // namespace noctis
