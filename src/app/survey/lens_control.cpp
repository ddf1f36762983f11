#include "app/survey/lens_control.h"

#include "app/controls/number_box.h"
#include "app/controls/tab_button.h"
#include "app/look/theme.h"
#include "app/survey/seen_place.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QSignalBlocker>
#include <QWidgetAction>

#include <cmath>

namespace noctis {

namespace {

constexpr double kDegree = 3.14159265358979 / 180.0;
constexpr float kUnknownAhead = 8.0F;  ///< m, where the view looks at nothing

struct Sensor {
    float millimetres;
    const char* name;
};
constexpr Sensor kSensors[] = {{36.0F, QT_TRANSLATE_NOOP("LensControl", "full frame")},
                               {24.9F, QT_TRANSLATE_NOOP("LensControl", "35 mm film")},
                               {23.5F, QT_TRANSLATE_NOOP("LensControl", "APS-C")},
                               {17.3F, QT_TRANSLATE_NOOP("LensControl", "four thirds")},
                               {13.2F, QT_TRANSLATE_NOOP("LensControl", "one inch")},
                               {53.4F, QT_TRANSLATE_NOOP("LensControl", "medium format")}};

void setKind(QDoubleSpinBox* box, double from, double to, int decimals, const QString& suffix) {
    box->setDecimals(decimals);
    box->setRange(from, to);
    box->setSuffix(suffix);
}

}  // namespace

LensControl::LensControl(Session& session, QWidget* parent) : QWidget(parent), m_session(session) {
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(6);
    m_label = new QPushButton(tr("Lens"));
    m_label->setProperty("role", "link");
    m_label->setObjectName("lens-menu");
    m_label->setToolTip(tr("Set the lens by focal length or by angle, and choose the sensor."));
    m_value = new NumberBox;
    m_value->setAccessibleName(tr("Lens"));
    m_value->setKeyboardTracking(false);
    m_value->setFixedWidth(74);
    m_parallel = tabButton(tr("Parallel"),
                           tr("Looks without perspective: things keep their size at any distance."),
                           QStringLiteral("parallel"));
    for (QWidget* each : std::initializer_list<QWidget*>{m_label, m_value, m_parallel})
        layout->addWidget(each);
    connect(m_label, &QPushButton::clicked, this,
            [this] { showMenu(m_label->mapToGlobal(QPoint(0, m_label->height()))); });
    connect(m_value, &QDoubleSpinBox::valueChanged, this, &LensControl::setValue);
    connect(m_parallel, &QPushButton::clicked, this, &LensControl::setParallel);
    connect(&m_session, &Session::projectChanged, this, &LensControl::refresh);
    connect(&m_session, &Session::sceneChanged, this, &LensControl::refresh);
    refresh();
}

void LensControl::refresh() {
    const QSignalBlocker block(m_value);
    const Project& project = m_session.project();
    const Camera camera = m_session.view().camera;
    const float sensor = project.lens.sensorMillimetres;
    const auto focal = static_cast<double>(focalLengthOf(camera, sensor, project.aspect()));
    const double across = static_cast<double>(xfovOf(camera, project.aspect())) / kDegree;
    const double up = static_cast<double>(camera.yfovRadians) / kDegree;
    m_parallel->setChecked(camera.orthographic());
    m_value->setToolTip(tr("%1 mm on a sensor %2 mm wide; %3° across, %4° from top to bottom.")
                            .arg(focal, 0, 'f', 1)
                            .arg(sensor)
                            .arg(across, 0, 'f', 1)
                            .arg(up, 0, 'f', 1));
    if (camera.orthographic()) {
        const float high = camera.orthographicHeight;
        setKind(m_value, 0.01, 1e5, high < 10.0F ? 2 : high < 100.0F ? 1 : 0, tr(" m high"));
        m_value->setToolTip(tr("How much of the scene the frame holds from top to bottom."));
        m_value->setValue(static_cast<double>(high));
    } else if (project.lens.by == LensReading::By::FocalLength) {
        setKind(m_value, 0.5, 5000.0, focal < 10.0 ? 1 : 0, tr(" mm"));
        m_value->setValue(focal);
    } else if (project.lens.by == LensReading::By::AngleAcross) {
        setKind(m_value, 0.1, 175.0, 1, tr("° wide"));
        m_value->setValue(across);
    } else {
        setKind(m_value, 0.1, 170.0, 1, tr("° high"));
        m_value->setValue(up);
    }
}

void LensControl::setValue(double value) {
    const Project& project = m_session.project();
    const LensReading lens = project.lens;
    const float aspect = project.aspect();
    changeCamera([&](Camera& camera) {
        const auto number = static_cast<float>(value);
        const auto radians = static_cast<float>(value * kDegree);
        if (camera.orthographic())
            camera.orthographicHeight = number;
        else if (lens.by == LensReading::By::FocalLength)
            camera.yfovRadians = yfovFromLens(number, lens.sensorMillimetres, aspect);
        else if (lens.by == LensReading::By::AngleAcross)
            camera.yfovRadians = yfovFromXfov(radians, aspect);
        else
            camera.yfovRadians = radians;
    });
}

float LensControl::ahead() const {
    const auto loaded = m_session.scene();
    if (!loaded)
        return kUnknownAhead;
    const Project& project = m_session.project();
    const CameraRay ray =
        cameraRay(m_session.view().camera, 0.5F * static_cast<float>(project.width),
                  0.5F * static_cast<float>(project.height), project.width, project.height);
    const auto seen = placeAlong(*loaded, ray);
    return seen ? seen->distance : kUnknownAhead;
}

void LensControl::setParallel(bool on) {
    const float distance = ahead();
    changeCamera([&](Camera& camera) {
        // What is looked at keeps its size.
        const float high = 2.0F * distance * std::tan(0.5F * camera.yfovRadians);
        camera.orthographicHeight = on ? high : 0.0F;
    });
}

void LensControl::readBy(LensReading::By by) {
    m_session.change(tr("Set lens by"), {}, [&](Project& p) { p.lens.by = by; });
}

void LensControl::setSensor(double millimetres) {
    View view = m_session.view();
    const Project& project = m_session.project();
    const float focal =
        focalLengthOf(view.camera, project.lens.sensorMillimetres, project.aspect());
    const auto width = static_cast<float>(millimetres);
    if (!view.camera.orthographic())
        view.camera.yfovRadians = yfovFromLens(focal, width, project.aspect());
    m_session.change(tr("Sensor"), QStringLiteral("sensor"), [&](Project& p) {
        p.lens.sensorMillimetres = width;
        p.view = view;
    });
}

void LensControl::addSensors(QMenu& menu) {
    const float now = m_session.project().lens.sensorMillimetres;
    auto* row = new QWidget;
    auto* layout = new QHBoxLayout(row);
    layout->setContentsMargins(16, 4, 16, 4);
    layout->addWidget(new QLabel(tr("Sensor")));
    auto* width = new NumberBox;
    setKind(width, static_cast<double>(kLeastSensor), static_cast<double>(kLargestSensor), 1,
            tr(" mm wide"));
    width->setValue(static_cast<double>(now));
    width->setKeyboardTracking(false);
    width->setAccessibleName(tr("Width of the sensor"));
    width->setToolTip(tr("The focal length stays the same, so a smaller sensor sees less."));
    layout->addWidget(width, 1);
    connect(width, &QDoubleSpinBox::valueChanged, this, &LensControl::setSensor);
    auto* action = new QWidgetAction(&menu);
    action->setDefaultWidget(row);
    menu.addAction(action);
    for (const Sensor& sensor : kSensors) {
        QAction* each =
            menu.addAction(tr("%1 mm, %2").arg(sensor.millimetres).arg(tr(sensor.name)), this,
                           [this, sensor] { setSensor(static_cast<double>(sensor.millimetres)); });
        each->setCheckable(true);
        each->setChecked(std::abs(sensor.millimetres - now) < 0.05F);
    }
}

void LensControl::showMenu(const QPoint& at) {
    QMenu menu;
    const std::pair<LensReading::By, QString> ways[] = {
        {LensReading::By::FocalLength, tr("By focal length")},
        {LensReading::By::AngleAcross, tr("By angle, from side to side")},
        {LensReading::By::AngleUp, tr("By angle, from top to bottom")}};
    for (const auto& [by, label] : ways) {
        QAction* each = menu.addAction(label, this, [this, by = by] { readBy(by); });
        each->setCheckable(true);
        each->setChecked(m_session.project().lens.by == by);
    }
    menu.addSeparator();
    addSensors(menu);
    menu.exec(at);
    m_session.endGesture();
}

void LensControl::changeCamera(const std::function<void(Camera&)>& edit) {
    View view = m_session.view();
    edit(view.camera);
    m_session.change(tr("Lens"), QStringLiteral("lens"), [&](Project& p) { p.view = view; });
    m_session.endGesture();
}

}  // namespace noctis
