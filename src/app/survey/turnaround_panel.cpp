#include "app/survey/turnaround_panel.h"

#include "app/controls/file_dialog.h"
#include "app/controls/tab_button.h"
#include "app/controls/wrap_line.h"
#include "app/look/picture_paint.h"
#include "app/look/theme.h"
#include "core/dispatch/job.h"
#include "core/passes/frame_name.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QPushButton>
#include <QSpinBox>

namespace noctis {

namespace {

constexpr int kMostViews = 72;
constexpr int kBetweenFields = 8;  // px

QSpinBox* spin(int from, int to, int value, const QString& suffix, const QString& name,
               const QString& help) {
    auto* box = new QSpinBox;
    box->setRange(from, to);
    box->setValue(value);
    box->setSuffix(suffix);
    box->setAccessibleName(name);
    box->setToolTip(help);
    return box;
}

}  // namespace

TurnaroundPanel::TurnaroundPanel(Session& session, QWidget* parent)
    : QWidget(parent), m_session(session) {
    setObjectName("turnaround");
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(14, 6, 10, 6);
    auto* title = new QLabel(tr("Turnaround of"));
    m_object = new QComboBox;
    m_object->setAccessibleName(tr("Object"));
    m_object->setToolTip(tr("The object that the views go around."));
    m_object->setMinimumContentsLength(14);
    m_count =
        spin(1, kMostViews, 8, tr(" views"), tr("Views"), tr("How many views, evenly spaced."));
    m_start = spin(-180, 180, 0, tr("° first"), tr("First direction"),
                   tr("Where the first view stands: 0° looks along the scene's depth."));
    m_elevation = spin(-89, 89, 12, tr("° up"), tr("Elevation"),
                       tr("How far above the object the camera stands."));
    m_parallel =
        tabButton(tr("Parallel"), tr("Without perspective, so that sizes can be compared."));
    auto* keep = new QPushButton(tr("Keep as views"));
    keep->setObjectName("keep-views");
    keep->setProperty("role", "link");
    keep->setToolTip(tr("Adds them to the views of the project."));
    auto* render = new QPushButton(tr("Render into a folder…"));
    render->setToolTip(tr("Queues a job that renders the passes of every view, one file each."));
    auto* close = new QPushButton(theme::icon("x"), {});
    close->setProperty("role", "icon");
    close->setAccessibleName(tr("Close"));
    close->setToolTip(tr("Closes this strip."));
    layout->addWidget(new WrapLine(
        lineGroup({title, m_object, m_count, m_start, m_elevation, m_parallel}, kBetweenFields),
        lineGroup({keep, render, close}, kBetweenFields)));
    connect(keep, &QPushButton::clicked, this, &TurnaroundPanel::keepViews);
    connect(close, &QPushButton::clicked, this, &TurnaroundPanel::closed);
    connect(render, &QPushButton::clicked, this, [this] {
        const QString folder =
            askFolder(this, tr("Folder for the views"), m_session.folderForFiles());
        if (!folder.isEmpty())
            renderInto(folder.toStdString());
    });
}

void TurnaroundPanel::present(const std::string& object) {
    const auto scene = m_session.scene();
    if (!scene)
        return;
    m_object->clear();
    m_object->addItem(tr("everything"), QString());
    for (const std::string& name : scene->scene.objects)
        if (m_object->findData(qstring(name)) < 0)
            m_object->addItem(qstring(name), qstring(name));
    m_object->setCurrentIndex(std::max(0, m_object->findData(qstring(object))));
    show();
    m_object->setFocus();
}

std::vector<View> TurnaroundPanel::views() const {
    const auto scene = m_session.scene();
    if (!scene || m_object->count() == 0)
        return {};
    const std::string name = m_object->currentText().toStdString();
    const std::string only = m_object->currentData().toString().toStdString();
    const Project& project = m_session.project();
    Turnaround turnaround;
    turnaround.count = m_count->value();
    turnaround.startDegrees = static_cast<float>(m_start->value());
    turnaround.elevationDegrees = static_cast<float>(m_elevation->value());
    turnaround.orthographic = m_parallel->isChecked();
    return turnaroundViews(name, boundsOf(scene->scene, instancesNamed(scene->scene, only)),
                           project.aspect(), turnaround);
}

void TurnaroundPanel::keepViews() {
    const std::vector<View> made = views();
    m_session.change(tr("Turnaround"), {}, [&](Project& p) {
        for (const View& view : made) {
            std::erase_if(p.views, [&](const View& v) { return v.name == view.name; });
            p.views.push_back(view);
        }
        if (!made.empty())
            p.view = made.front();
    });
}

void TurnaroundPanel::renderInto(const std::filesystem::path& folder) {
    const std::vector<View> made = views();
    if (made.empty())
        return;
    Job job;
    job.kind = JobKind::Passes;
    for (const View& view : made)
        job.views.push_back(view.name);
    job.settings.render = JobRender::All;
    // Numbered as frames are, so that they can be opened as a sequence.
    job.to = folder / (fileNameOf(m_object->currentText().toStdString()) + ".##.exr");
    Q_EMIT m_session.jobAsked(job, made, false);
}

void TurnaroundPanel::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape)
        Q_EMIT closed();
    else
        QWidget::keyPressEvent(event);
}

}  // namespace noctis
