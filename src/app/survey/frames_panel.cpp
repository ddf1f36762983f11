#include "app/survey/frames_panel.h"

#include "app/controls/file_dialog.h"
#include "app/controls/number_box.h"
#include "app/controls/wrap_line.h"
#include "app/look/picture_paint.h"
#include "app/look/theme.h"
#include "core/dispatch/job.h"
#include "core/passes/frame_name.h"
#include "core/scene/animation.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QPushButton>
#include <QSpinBox>

#include <algorithm>

namespace noctis {

namespace {

constexpr int kLastFrame = 100'000;
constexpr int kBetween = 8;  // px

/// Shows 24 as 24, and 23.976 as it is.
class SpeedBox : public NumberBox {
public:
    [[nodiscard]] QString textFromValue(double value) const override {
        return locale().toString(value, 'g', 7);
    }
};

QSpinBox* frameBox(const QString& prefix, const QString& name, const QString& help) {
    auto* box = new QSpinBox;
    box->setRange(0, kLastFrame);
    box->setPrefix(prefix);
    box->setAccessibleName(name);
    box->setToolTip(help);
    box->setKeyboardTracking(false);
    return box;
}

}  // namespace

FramesPanel::FramesPanel(Session& session, QWidget* parent) : QWidget(parent), m_session(session) {
    setObjectName("frames");
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(14, 6, 10, 6);
    m_title = new QLabel;
    m_first = frameBox(tr("from "), tr("First frame"), tr("The first frame that is rendered."));
    m_last = frameBox(tr("to "), tr("Last frame"), tr("The last frame that is rendered."));
    m_speed = new SpeedBox;
    m_speed->setDecimals(3);
    m_speed->setRange(kSlowest, kFastest);
    m_speed->setSuffix(tr(" frames per second"));
    m_speed->setStepType(QAbstractSpinBox::AdaptiveDecimalStepType);
    m_speed->setKeyboardTracking(false);
    m_speed->setAccessibleName(tr("Frames per second"));
    m_speed->setToolTip(
        tr("How fast the scene moves from frame to frame; 23.976 is film on video."));
    m_layout = new QComboBox;
    m_layout->setAccessibleName(tr("Files"));
    m_layout->setToolTip(tr("Whether all passes of a frame go into one EXR, or each pass into "
                            "its own folder."));
    m_layout->addItem(tr("one file per frame"), QVariant::fromValue(PassPacking::OneFile));
    m_layout->addItem(tr("one folder per pass"), QVariant::fromValue(PassPacking::FolderEach));
    auto* render = new QPushButton(tr("Render into a folder…"));
    render->setToolTip(tr("Queues a job that renders the passes of every frame. One that is "
                          "stopped goes on where it was."));
    auto* close = new QPushButton(theme::icon("x"), {});
    close->setProperty("role", "icon");
    close->setAccessibleName(tr("Close"));
    close->setToolTip(tr("Closes this strip."));
    layout->addWidget(
        new WrapLine(lineGroup({m_title, m_first, m_last, m_speed, m_layout}, kBetween),
                     lineGroup({render, close}, kBetween)));
    connect(m_first, &QSpinBox::valueChanged, this, &FramesPanel::keepRange);
    connect(m_last, &QSpinBox::valueChanged, this, &FramesPanel::keepRange);
    connect(m_speed, &QDoubleSpinBox::valueChanged, this, [this](double speed) {
        m_session.change(tr("Frames per second"), {},
                         [&](Project& p) { p.framesPerSecond = speed; });
    });
    connect(close, &QPushButton::clicked, this, &FramesPanel::closed);
    connect(render, &QPushButton::clicked, this, [this] {
        const QString folder =
            askFolder(this, tr("Folder for the frames"), m_session.folderForFiles());
        if (!folder.isEmpty())
            renderInto(folder.toStdString());
    });
    connect(&m_session, &Session::projectChanged, this, &FramesPanel::refresh);
    connect(&m_session, &Session::sceneChanged, this, &FramesPanel::refresh);
}

void FramesPanel::present() {
    refresh();
    show();
    m_first->setFocus();
}

void FramesPanel::refresh() {
    const QSignalBlocker a(m_first);
    const QSignalBlocker b(m_last);
    const QSignalBlocker c(m_speed);
    const double speed = m_session.project().framesPerSecond;
    m_speed->setValue(speed);
    const std::string view = m_session.view().name;
    m_title->setText(tr("Frames of %1").arg(qstring(view)));
    const auto& ranges = m_session.project().frameRanges;
    const auto kept = ranges.find(view);
    const auto scene = m_session.scene();
    const FrameRange range = kept != ranges.end() ? kept->second
                             : scene              ? FrameRange{1, lastFrame(scene->scene, speed)}
                                                  : FrameRange{};
    m_first->setValue(range.first);
    m_last->setValue(range.last);
}

void FramesPanel::keepRange() {
    const FrameRange range{m_first->value(), std::max(m_first->value(), m_last->value())};
    m_session.change(tr("Range of frames"), {},
                     [&](Project& p) { p.frameRanges[m_session.view().name] = range; });
}

void FramesPanel::renderInto(const std::filesystem::path& folder) {
    if (!m_session.scene())
        return;
    const View view = m_session.view();
    Job job;
    job.kind = JobKind::Passes;
    job.views = {view.name};
    job.frames = FrameRange{m_first->value(), std::max(m_first->value(), m_last->value())};
    job.settings.render = JobRender::All;
    job.settings.packing = m_layout->currentData().value<PassPacking>();
    job.to = folder / (fileNameOf(view.name) + ".####.exr");
    // A view that the scene moves stays the scene's own.
    const auto& own = m_session.scene()->scene.views;
    const bool moves = std::ranges::any_of(own, [&](const View& v) { return v == view; });
    Q_EMIT m_session.jobAsked(job, moves ? std::vector<View>() : std::vector{view}, false);
}

void FramesPanel::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape)
        Q_EMIT closed();
    else
        QWidget::keyPressEvent(event);
}

}  // namespace noctis
