#include "app/survey/frame_bar.h"

#include "app/look/theme.h"
#include "app/session/session.h"

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
constexpr double kSensorWidth = 36.0;  // mm

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
    auto* lens = new QLabel(tr("Lens"));
    lens->setProperty("role", "heading");
    layout->addWidget(lens);
    m_lens = new QDoubleSpinBox;
    m_lens->setAccessibleName(tr("Lens"));
    m_lens->setKeyboardTracking(false);
    m_lens->setFixedWidth(84);
    layout->addWidget(m_lens);
    m_parallel = new QPushButton(tr("Parallel"));
    m_parallel->setProperty("role", "tab");
    m_parallel->setCheckable(true);
    m_parallel->setObjectName("parallel");
    m_parallel->setToolTip(tr("Looks without perspective: things keep their size with distance."));
    layout->addWidget(m_parallel);
    connect(m_lens, &QDoubleSpinBox::valueChanged, this, [this](double value) {
        changeLens([&](Camera& camera) {
            const Project& p = m_session.project();
            if (camera.orthographic())
                camera.orthographicHeight = static_cast<float>(value);
            else
                camera.yfovRadians = static_cast<float>(
                    2.0 * std::atan(kSensorWidth * p.height / p.width / (2.0 * value)));
        });
    });
    connect(m_parallel, &QPushButton::clicked, this, [this](bool on) {
        changeLens([&](Camera& camera) {
            // What lies at the focus of interest, some metres ahead, keeps its size.
            constexpr float kAhead = 8.0F;
            const float high = 2.0F * kAhead * std::tan(0.5F * camera.yfovRadians);
            camera.orthographicHeight = on ? high : 0.0F;
        });
    });
    connect(m_width, &QSpinBox::valueChanged, this, [this] { change(true); });
    connect(m_height, &QSpinBox::valueChanged, this, [this] { change(false); });
    connect(m_lock, &QPushButton::clicked, this, [this](bool on) {
        m_session.change(tr("Keep the aspect"), {}, [&](Project& p) { p.aspectLocked = on; });
    });
    connect(&m_session, &Session::projectChanged, this, &FrameBar::refresh);
    connect(&m_session, &Session::sceneChanged, this, &FrameBar::refresh);
    refresh();
}

void FrameBar::refresh() {
    const QSignalBlocker a(m_width);
    const QSignalBlocker b(m_height);
    const Project& project = m_session.project();
    m_width->setValue(project.width);
    m_height->setValue(project.height);
    m_lock->setChecked(project.aspectLocked);
    const QSignalBlocker c(m_lens);
    const Camera camera = m_session.view().camera;
    m_parallel->setChecked(camera.orthographic());
    if (camera.orthographic()) {
        m_lens->setRange(0.01, 1e5);
        m_lens->setDecimals(2);
        m_lens->setSuffix(tr(" m high"));
        m_lens->setToolTip(tr("How much of the scene the frame holds from top to bottom."));
        m_lens->setValue(static_cast<double>(camera.orthographicHeight));
    } else {
        m_lens->setRange(4.0, 2000.0);
        m_lens->setDecimals(0);
        m_lens->setSuffix(tr(" mm"));
        const double angle = static_cast<double>(camera.yfovRadians);
        m_lens->setToolTip(tr("Focal length on a sensor 36 mm wide; %1° from top to bottom.")
                               .arg(angle * 180.0 / 3.14159265, 0, 'f', 1));
        m_lens->setValue(kSensorWidth * project.height / project.width /
                         (2.0 * std::tan(0.5 * angle)));
    }
    m_lock->setIcon(theme::icon(project.aspectLocked ? "lock" : "lock-open",
                                project.aspectLocked ? theme::kAccent : theme::kQuiet));
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

void FrameBar::changeLens(const std::function<void(Camera&)>& edit) {
    View view = m_session.view();
    edit(view.camera);
    m_session.change(tr("Lens"), QStringLiteral("lens"), [&](Project& p) { p.view = view; });
    m_session.endGesture();
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
