#include "app/dispatch/queue_card.h"

#include "app/controls/elided_label.h"
#include "app/controls/tab_button.h"
#include "app/dispatch/dispatch_queue.h"
#include "app/look/folder_text.h"
#include "app/look/picture_paint.h"
#include "app/look/role.h"
#include "app/look/theme.h"
#include "app/session/time_left.h"
#include "core/settings/counted.h"

#include <QApplication>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPushButton>

namespace noctis {

namespace {

constexpr int kHeight = 46;
constexpr QRect kPicture{8, 5, 60, 36};
constexpr int kBarHeight = 4;

/// How far a job is, as a line.
class ProgressLine : public QWidget {
public:
    using QWidget::QWidget;
    void setDone(float done, const QColor& colour) {
        m_done = done;
        m_colour = colour;
        update();
    }

protected:
    void paintEvent(QPaintEvent*) override {
        QPainter painter(this);
        painter.setRenderHint(QPainter::Antialiasing);
        painter.setPen(Qt::NoPen);
        QRectF line(0, (height() - kBarHeight) / 2.0, width(), kBarHeight);
        painter.setBrush(theme::kHairline);
        painter.drawRoundedRect(line, kBarHeight / 2.0, kBarHeight / 2.0);
        line.setWidth(line.width() * static_cast<double>(m_done));
        painter.setBrush(m_colour);
        painter.drawRoundedRect(line, kBarHeight / 2.0, kBarHeight / 2.0);
    }

private:
    float m_done = 0.0F;
    QColor m_colour = theme::kAccent;
};

QString framesText(const QueuedJob& queued) {
    const JobState& state = queued.state;
    if (state.pieces == 0)
        return {};
    const int there = state.written + state.kept;
    QString text =
        QObject::tr("%1 of %2")
            .arg(there)
            .arg(qstring(counted(static_cast<std::size_t>(state.pieces),
                                 queued.job.kind == JobKind::Sheet ? "picture" : "frame")));
    if (!state.failures.empty())
        text += QObject::tr(", %1 failed").arg(state.failures.size());
    return text;
}

QString detailOf(const QueuedJob& queued) {
    QStringList parts;
    if (const QString frames = framesText(queued); !frames.isEmpty())
        parts << frames;
    const QString ending = qstring(queued.job.to.extension().string()).mid(1).toUpper();
    parts << QObject::tr("%1 in %2").arg(ending, folderText(queued.job.to.parent_path()));
    return parts.join(QStringLiteral(" · "));
}

QString stateOf(const QueuedJob& queued, bool paused) {
    switch (queued.stage) {
    case JobStage::Waits:
        return paused ? QObject::tr("paused") : QObject::tr("waits");
    case JobStage::Runs: {
        if (queued.job.kind == JobKind::Sheet && queued.progress >= 1.0F)
            return QObject::tr("being put together");
        const QString left = timeLeftText(queued.secondsLeft.value_or(-1.0));
        return left.isEmpty() ? QObject::tr("being written") : left;
    }
    case JobStage::Stopped:
        return QObject::tr("stopped");
    case JobStage::Done:
        return queued.warnings.empty()
                   ? QObject::tr("done")
                   : QObject::tr("done; %1").arg(qstring(queued.warnings.front()));
    case JobStage::Failed:
        break;
    }
    if (!queued.trouble.empty())
        return qstring(queued.trouble);
    if (queued.state.failures.empty())
        return QObject::tr("failed");
    const JobFailure& first = queued.state.failures.front();
    return QObject::tr("%1: %2").arg(
        first.view.empty() ? QObject::tr("frame %1").arg(first.frame)
                           : QObject::tr("%1, frame %2").arg(qstring(first.view)).arg(first.frame),
        qstring(first.reason));
}

QString allOf(const QueuedJob& queued) {
    QStringList lines;
    if (!queued.trouble.empty())
        lines << qstring(queued.trouble);
    for (const JobFailure& failure : queued.state.failures)
        lines << QObject::tr("frame %1: %2").arg(failure.frame).arg(qstring(failure.reason));
    for (const std::string& warning : queued.warnings)
        lines << qstring(warning);
    return lines.join(QLatin1Char('\n'));
}

}  // namespace

QueueCard::QueueCard(std::string id, QWidget* parent) : QWidget(parent), m_id(std::move(id)) {
    setObjectName("queue card");
    setFixedHeight(kHeight);
    setFocusPolicy(Qt::StrongFocus);
    setToolTip(tr("Drag it up or down to change the order, or use Alt with the arrow keys."));
    m_title = new ElidedLabel;
    m_title->setFont(theme::font(13, QFont::Medium));
    m_detail = new ElidedLabel;
    m_detail->setFont(theme::font(12));
    m_detail->setProperty("role", "quiet");
    m_state = new ElidedLabel;
    m_state->setObjectName("job state");
    m_state->setFont(theme::font(12));
    m_bar = new ProgressLine;
    const auto link = [this](const QString& text, const QString& name, const QString& help,
                             void (QueueCard::*asked)()) {
        QPushButton* button = linkButton(text, help);
        button->setObjectName(name);
        connect(button, &QPushButton::clicked, this, asked);
        return button;
    };
    m_stop =
        link(tr("Stop"), QStringLiteral("stop job"),
             tr("Stops it; it can be continued, and what it wrote stays."), &QueueCard::stopAsked);
    m_retry = link(tr("Retry"), QStringLiteral("retry job"),
                   tr("Runs it again. What it wrote and nobody changed is kept."),
                   &QueueCard::retryAsked);
    m_folder = link(tr("Show in folder"), QStringLiteral("show folder"),
                    tr("Opens the folder that it writes into."), &QueueCard::folderAsked);
    m_remove = new QPushButton(theme::icon("x"), {});
    m_remove->setObjectName("remove job");
    m_remove->setProperty("role", "icon");
    m_remove->setAccessibleName(tr("Take it out"));
    m_remove->setToolTip(tr("Takes it out of the queue; what it wrote stays."));
    connect(m_remove, &QPushButton::clicked, this, &QueueCard::removeAsked);
    auto* texts = new QVBoxLayout;
    texts->setSpacing(0);
    texts->addStretch(1);
    texts->addWidget(m_title);
    texts->addWidget(m_detail);
    texts->addStretch(1);
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(kPicture.right() + 13, 2, 8, 2);
    layout->setSpacing(10);
    layout->addLayout(texts, 5);
    layout->addWidget(m_bar, 3);
    layout->addWidget(m_state, 4);
    for (QWidget* each : {m_retry, m_folder, m_stop, m_remove})
        layout->addWidget(each);
}

void QueueCard::showJob(const QueuedJob& queued, bool paused) {
    m_title->setText(DispatchQueue::titleOf(queued.job));
    m_detail->setText(detailOf(queued));
    const bool failed = queued.stage == JobStage::Failed;
    const bool runs = queued.stage == JobStage::Runs;
    m_state->setText(stateOf(queued, paused));
    const QString all = allOf(queued);
    m_state->setToolTip(all);
    setRole(*m_state, failed                                   ? "warning"
                      : runs || queued.stage == JobStage::Done ? "going"
                                                               : "quiet");
    static_cast<ProgressLine*>(m_bar)->setDone(queued.progress,
                                               failed ? theme::kWarning : theme::kAccent);
    m_picture = queued.picture ? toQImage(*queued.picture) : QImage();
    m_stop->setVisible(runs || queued.stage == JobStage::Waits);
    m_retry->setVisible(failed || queued.stage == JobStage::Stopped);
    m_retry->setText(failed ? tr("Retry") : tr("Go on"));
    m_folder->setVisible(queued.state.written + queued.state.kept > 0 && !runs);
    update();
}

void QueueCard::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    painter.setPen(hasFocus() ? QPen(theme::kAccent, 1) : QPen(Qt::NoPen));
    painter.setBrush(m_dragging ? theme::kSelected : theme::kRaised);
    painter.drawRoundedRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5), 4, 4);
    painter.fillRect(kPicture, theme::kField);
    if (m_picture.isNull())
        return;
    const QSize size = m_picture.size().scaled(kPicture.size(), Qt::KeepAspectRatio);
    painter.drawImage(QRect(kPicture.center() - QPoint(size.width() / 2, size.height() / 2), size),
                      m_picture);
}

void QueueCard::mousePressEvent(QMouseEvent* event) {
    m_pressed = event->button() == Qt::LeftButton;
    m_from = event->position().toPoint();
    setFocus(Qt::MouseFocusReason);
}

void QueueCard::mouseMoveEvent(QMouseEvent* event) {
    if (!m_pressed || (!m_dragging && (event->position().toPoint() - m_from).manhattanLength() <
                                          QApplication::startDragDistance()))
        return;
    m_dragging = true;
    Q_EMIT dragged(mapToParent(event->position().toPoint()).y());
    update();
}

void QueueCard::mouseReleaseEvent(QMouseEvent*) {
    m_pressed = false;
    m_dragging = false;
    update();
}

void QueueCard::keyPressEvent(QKeyEvent* event) {
    const bool up = event->key() == Qt::Key_Up;
    if (event->modifiers() == Qt::AltModifier && (up || event->key() == Qt::Key_Down))
        Q_EMIT moveAsked(up ? -1 : 1);
    else if (event->key() == Qt::Key_Delete)
        Q_EMIT removeAsked();
    else
        QWidget::keyPressEvent(event);
}

}  // namespace noctis
