#include "app/dispatch/dispatch_room.h"

#include "app/controls/clear_layout.h"
#include "app/controls/elided_label.h"
#include "app/controls/file_dialog.h"
#include "app/controls/hairline.h"
#include "app/controls/tab_button.h"
#include "app/dispatch/dispatch_form.h"
#include "app/dispatch/queue_list.h"
#include "app/look/panel_width.h"
#include "app/look/picture_paint.h"
#include "app/look/theme.h"
#include "app/session/session.h"
#include "core/dispatch/job_inputs.h"
#include "core/passes/picture_pass.h"

#include <QAbstractButton>
#include <QButtonGroup>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QMenu>
#include <QPainter>
#include <QPushButton>
#include <QTimer>
#include <QVBoxLayout>
#include <QWidgetAction>

#include <algorithm>

namespace noctis {

namespace fs = std::filesystem;

namespace {

constexpr int kListWidth = 190;
constexpr int kQueueHeight = 196;
constexpr int kFilesHeight = 76;
constexpr int kSoonMs = 120;
constexpr int kMostListed = 200;

/// One of the things that can go out.
class GoingOutRow : public QAbstractButton {
public:
    explicit GoingOutRow(const GoingOut& what) : m_detail(what.detail) {
        setText(what.title);
        setObjectName(QStringLiteral("out ") + what.id);
        setToolTip(what.help);
        setCheckable(true);
        setAutoExclusive(true);
        setFocusPolicy(Qt::StrongFocus);
        setFixedHeight(48);
    }

protected:
    void paintEvent(QPaintEvent*) override {
        QPainter painter(this);
        painter.setRenderHint(QPainter::Antialiasing);
        const QRectF box = QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5);
        if (isChecked() || underMouse()) {
            painter.setPen(isChecked() ? QPen(theme::kAccent, 1) : QPen(Qt::NoPen));
            painter.setBrush(isChecked() ? theme::kRaised : QColor(theme::kField));
            painter.drawRoundedRect(box, 4, 4);
        }
        const QRect text = rect().adjusted(10, 6, -8, -6);
        painter.setPen(theme::kText);
        painter.setFont(theme::font(13, QFont::Medium));
        painter.drawText(text, Qt::AlignTop | Qt::AlignLeft, this->text());
        painter.setPen(theme::kQuiet);
        painter.setFont(theme::font(12));
        painter.drawText(text, Qt::AlignBottom | Qt::AlignLeft,
                         painter.fontMetrics().elidedText(m_detail, Qt::ElideRight, text.width()));
    }

private:
    QString m_detail;
};

QLabel* heading(const QString& text) {
    auto* label = new QLabel(text);
    label->setProperty("role", "heading");
    return label;
}

}  // namespace

/// What a picture of what will be written is made from.
struct DispatchRoom::Work {
    Job job;
    Project project;
    int file = 0;
    PassSet shown;  ///< the frame that Picture shows
    int shownFrame = 1;
    bool still = true;  ///< its passes are those of every frame
    std::vector<std::string> passes;
    std::shared_ptr<const LoadedScene> scene;
    std::vector<View> views;
};

struct DispatchRoom::Shown {
    std::vector<JobFile> files;
    std::vector<bool> exists;
    int file = 0;
    JobPreview preview;
    QString problem;  ///< why nothing can be written
    QString instead;  ///< in the place of a picture
};

DispatchRoom::DispatchRoom(Session& session, DispatchQueue& queue, QWidget* parent)
    : Room(parent), m_session(session), m_queue(queue),
      m_presets(fs::path(session.settingsFile().toStdString()).parent_path() / "presets") {
    setObjectName("dispatch");
    m_soon = new QTimer(this);
    m_soon->setSingleShot(true);
    m_soon->setInterval(kSoonMs);
    auto* upper = new QHBoxLayout;
    upper->setSpacing(0);
    upper->addWidget(buildLeft());
    upper->addWidget(hairline(true));
    upper->addWidget(buildMiddle(), 1);
    upper->addWidget(hairline(true));
    upper->addWidget(buildRight());
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addLayout(upper, 1);
    layout->addWidget(hairline(false));
    layout->addWidget(buildQueue());
    connect(m_soon, &QTimer::timeout, this, &DispatchRoom::previewNow);
    const auto changed = [this] {
        m_stale = true;
        if (isVisible())
            refresh();
    };
    connect(&session, &Session::passesChanged, this, changed);
    connect(&session, &Session::projectChanged, this, changed);
    connect(&session, &Session::sceneChanged, this, changed);
    connect(&session, &Session::opened, this, [this] {
        m_edited.clear();  // names and folders were another work's
        m_current.clear();
    });
    // Files that a job has just written exist now.
    connect(&queue, &DispatchQueue::changed, this, [this] {
        m_pause->setText(m_queue.jobs().paused() ? tr("Go on") : tr("Pause all"));
        showProgress();
        if (isVisible() && !m_latest.running())
            preview();
    });
}

QWidget* DispatchRoom::buildLeft() {
    auto* left = new QWidget;
    left->setFixedWidth(kListWidth);
    auto* layout = new QVBoxLayout(left);
    layout->setContentsMargins(10, 10, 8, 8);
    layout->setSpacing(6);
    layout->addWidget(heading(tr("What goes out")));
    m_list = new QVBoxLayout;
    m_list->setSpacing(4);
    layout->addLayout(m_list);
    layout->addStretch(1);
    return left;
}

QWidget* DispatchRoom::buildMiddle() {
    auto* middle = new QWidget;
    auto* layout = new QVBoxLayout(middle);
    layout->setContentsMargins(16, 8, 14, 6);
    layout->setSpacing(6);
    auto* head = new QHBoxLayout;
    head->addWidget(heading(tr("What will be written")));
    head->addStretch(1);
    m_grounds = new QButtonGroup(this);
    const std::pair<QString, QString> grounds[]{
        {tr("Checker"), tr("Shows what is transparent on a checker.")},
        {tr("Light"), tr("Shows it on a light ground.")},
        {tr("Dark"), tr("Shows it on a dark ground.")},
        {tr("Picture…"), tr("Shows it on a picture of your choice.")}};
    int id = 0;
    for (const auto& [text, help] : grounds) {
        QPushButton* button = tabButton(text, help);
        m_grounds->addButton(button, id++);
        head->addWidget(button);
    }
    m_grounds->button(0)->setChecked(true);
    connect(m_grounds, &QButtonGroup::idClicked, this, &DispatchRoom::chooseGround);
    m_written = new WrittenView;
    m_values = new QLabel;
    m_values->setObjectName("values");
    m_values->setFont(theme::font(12));
    m_values->setProperty("role", "quiet");
    m_values->setMinimumHeight(18);
    m_files = new QListWidget;
    m_files->setObjectName("files");
    m_files->setAccessibleName(tr("Files that will be written"));
    m_files->setToolTip(tr("The files, in their order. Click one to see what it will hold."));
    m_files->setFixedHeight(kFilesHeight);
    m_files->setFrameShape(QFrame::NoFrame);
    m_files->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    m_files->setUniformItemSizes(true);
    layout->addLayout(head);
    layout->addWidget(m_written, 1);
    layout->addWidget(m_values);
    layout->addWidget(m_files);
    connect(m_written, &WrittenView::pointed, this, [this](const QString& values) {
        m_values->setText(values.isEmpty() ? m_size : values);
    });
    connect(m_files, &QListWidget::currentRowChanged, this, [this](int row) {
        if (row < 0 || row == m_file)
            return;
        m_file = row;
        previewNow();
    });
    return middle;
}

QWidget* DispatchRoom::buildRight() {
    m_right = new QWidget;
    auto* layout = new QVBoxLayout(m_right);
    layout->setContentsMargins(0, 10, 0, 10);
    layout->setSpacing(6);
    auto* head = new QHBoxLayout;
    head->setContentsMargins(14, 0, 10, 0);
    head->addWidget(heading(tr("Format")));
    head->addStretch(1);
    QPushButton* presets = linkButton(
        tr("Presets"), tr("Settings that were kept under a name, and these ones to be kept."));
    presets->setObjectName("presets");
    head->addWidget(presets);
    layout->addLayout(head);
    m_form = new DispatchForm(m_session);
    layout->addWidget(m_form, 1);
    m_add = new QPushButton(tr("Add to the queue"));
    m_add->setObjectName("add to queue");
    m_add->setProperty("role", "main");
    m_add->setToolTip(tr("Queues it as it is now: later changes of the project don't change it."));
    auto* foot = new QHBoxLayout;
    foot->setContentsMargins(14, 0, 14, 0);
    foot->addWidget(m_add);
    layout->addLayout(foot);
    connect(m_form, &DispatchForm::changed, this, &DispatchRoom::takeJob);
    connect(m_add, &QPushButton::clicked, this, &DispatchRoom::enqueue);
    connect(presets, &QPushButton::clicked, this, &DispatchRoom::offerPresets);
    return m_right;
}

QWidget* DispatchRoom::buildQueue() {
    auto* queue = new QWidget;
    queue->setFixedHeight(kQueueHeight);
    auto* layout = new QVBoxLayout(queue);
    layout->setContentsMargins(0, 8, 0, 0);
    layout->setSpacing(4);
    auto* head = new QHBoxLayout;
    head->setContentsMargins(14, 0, 14, 0);
    head->addWidget(heading(tr("Queue")));
    head->addStretch(1);
    m_pause = linkButton(m_queue.jobs().paused() ? tr("Go on") : tr("Pause all"),
                         tr("Pauses the whole queue; what is being written goes on from there."));
    m_pause->setObjectName("pause all");
    head->addWidget(m_pause);
    layout->addLayout(head);
    m_queueList = new QueueList(m_queue);
    layout->addWidget(m_queueList, 1);
    connect(m_pause, &QPushButton::clicked, this,
            [this] { m_queue.jobs().pause(!m_queue.jobs().paused()); });
    return queue;
}

std::vector<RoomCommand> DispatchRoom::commands() {
    return {{tr("Add what is set up to the queue"), {}, [this] { enqueue(); }},
            {tr("Pause the queue, or let it go on"), {}, [this] { m_pause->click(); }}};
}

QString DispatchRoom::headDetail() const {
    const auto found =
        std::ranges::find_if(m_all, [&](const GoingOut& each) { return each.id == m_current; });
    return found == m_all.end() ? QString() : found->title.toLower();
}

QString DispatchRoom::headSize() const { return m_size; }

void DispatchRoom::enter() {
    if (m_stale || m_all.empty())
        refresh();
    else
        preview();
}

bool DispatchRoom::settled() const {
    return !m_stale && !m_soon->isActive() && !m_latest.running() && !m_latest.waits();
}

void DispatchRoom::resizeEvent(QResizeEvent*) { m_right->setFixedWidth(panelWidth(width())); }

void DispatchRoom::refresh() {
    m_stale = false;
    m_all = whatGoesOut(m_session);
    const bool there =
        std::ranges::any_of(m_all, [&](const GoingOut& each) { return each.id == m_current; });
    if (!there)
        m_current = m_all.empty() ? QString() : m_all.front().id;
    refreshList();
    m_form->setVisible(!m_all.empty());
    m_add->setEnabled(!m_all.empty());
    if (m_all.empty()) {
        m_files->clear();
        m_size.clear();
        m_values->clear();
        m_written->setInstead(tr("Open or render something; what can go out is listed here then."));
        return;
    }
    choose(m_current);
}

void DispatchRoom::refreshList() {
    clearLayout(*m_list);
    for (const GoingOut& each : m_all) {
        auto* row = new GoingOutRow(each);
        row->setChecked(each.id == m_current);
        connect(row, &QAbstractButton::clicked, this, [this, id = each.id] { choose(id); });
        m_list->addWidget(row);
    }
}

void DispatchRoom::choose(const QString& id) {
    const auto found =
        std::ranges::find_if(m_all, [&](const GoingOut& each) { return each.id == id; });
    if (found == m_all.end())
        return;
    if (m_current != id)
        m_file = 0;
    m_current = id;
    for (int i = 0; i < m_list->count(); ++i)
        if (auto* row = qobject_cast<QAbstractButton*>(m_list->itemAt(i)->widget()))
            row->setChecked(row->objectName() == QStringLiteral("out ") + id);
    const auto edited = m_edited.find(id);
    m_form->setJob(edited != m_edited.end() ? edited->second : found->job);
    Q_EMIT headChanged();
    previewNow();
}

void DispatchRoom::choosePass(const QString& name) {
    refresh();
    const auto found = std::ranges::find_if(
        m_all, [](const GoingOut& each) { return each.id == QLatin1String("passes"); });
    if (found == m_all.end())
        return;
    Job job = found->job;
    job.settings.passes = {name.toStdString()};
    job.settings.packing = PassPacking::FileEach;
    job.settings.render = JobRender::None;
    job.to.replace_filename("{project} {pass}.exr");
    m_edited[found->id] = job;
    choose(found->id);
}

void DispatchRoom::takeJob() {
    m_edited[m_current] = m_form->job();
    preview();
}

void DispatchRoom::preview() { m_soon->start(); }

DispatchRoom::Work DispatchRoom::workNow() const {
    Work work;
    work.job = m_form->job();
    work.job.project = projectNameOf(m_session);
    work.project = m_session.projectElsewhere();
    work.file = m_file;
    work.shown = m_session.passes();
    work.shownFrame = m_session.time().number;
    work.still = m_session.sequence().files().there.size() <= 1;
    work.passes = passesGoingOut(m_session);
    work.scene = m_session.scene();
    work.views = m_session.views();
    return work;
}

DispatchRoom::Shown DispatchRoom::worked(const Work& work) {
    Shown shown;
    try {
        const std::vector<JobPiece> pieces = piecesOf(work.job, work.project);
        shown.files = filesOfJob(work.job, pieces, work.passes);
        for (const JobFile& file : shown.files) {
            std::error_code unknown;
            shown.exists.push_back(fs::exists(file.path, unknown));
        }
        if (shown.files.empty()) {
            shown.problem = tr("Nothing is chosen to be written.");
            return shown;
        }
        shown.file = std::clamp(work.file, 0, static_cast<int>(shown.files.size()) - 1);
        const JobFile& file = shown.files[static_cast<std::size_t>(shown.file)];
        const JobPiece& piece = pieces[file.piece];
        JobInputs inputs(work.job, work.project);
        const auto passesOf = [&](const JobPiece& each) -> PassSet {
            const bool own = each.view.empty() || each.view == work.shown.view;
            if (own && !each.rendered && (work.still || each.frame.number == work.shownFrame))
                return work.shown;
            if (each.rendered)
                return {};
            return inputs.passesOf(each, [](const std::string&) {}, {});
        };
        const RunContext run;
        if (work.job.kind == JobKind::Sheet) {
            shown.preview = sheetPreview(work.job, work.project, pieces, passesOf, run);
        } else if (work.job.kind == JobKind::Relief) {
            ReliefSurroundings around;
            around.frame = &work.shown;
            if (work.scene) {
                around.scene = &work.scene->scene;
                around.accelerator = work.scene->accelerator.get();
            }
            around.views = work.views;
            shown.preview = reliefPreview(work.job, work.project, piece, around, run);
        } else if (piece.rendered) {
            shown.instead = tr("The job renders this from the scene; there is nothing to see yet.");
        } else if (work.job.kind == JobKind::Passes) {
            const PassSet passes = passesOf(piece);
            const Pass* picture = picturePass(passes);
            const std::string name = !file.pass.empty()   ? file.pass
                                     : picture != nullptr ? picture->name
                                     : passes.empty()     ? std::string()
                                                          : passes.passes.front().name;
            shown.preview = passPreview(work.job, work.project, passes, piece, name);
        } else {
            shown.preview = finishedPreview(work.job, work.project, passesOf(piece), piece, run);
        }
    } catch (const std::exception& error) {
        shown.problem = QString::fromUtf8(error.what());
    }
    return shown;
}

void DispatchRoom::previewNow() {
    m_soon->stop();
    if (m_all.empty())
        return;
    m_latest.ask([this, work = workNow()]() -> Latest::Result {
        auto shown = std::make_shared<Shown>(worked(work));
        return [this, shown] { takeShown(*shown); };
    });
}

void DispatchRoom::takeShown(const Shown& shown) {
    m_file = shown.file;
    listFiles(shown);
    m_add->setEnabled(shown.problem.isEmpty());
    if (!shown.problem.isEmpty()) {
        m_written->setInstead(shown.problem);
        m_form->setExample(shown.problem, true);
        m_size.clear();
    } else {
        m_form->setExample(qstring(shown.files.front().path.filename().string()), false);
        if (shown.preview.seen.empty())
            m_written->setInstead(shown.instead);
        else
            m_written->setPreview(shown.preview);
        const JobPreview& preview = shown.preview;
        // A sheet is worked out from smaller pictures.
        const bool exact = preview.width == preview.values.width();
        m_size = preview.width == 0 ? QString()
                                    : (exact ? tr("%1 × %2") : tr("about %1 × %2"))
                                          .arg(preview.width)
                                          .arg(preview.height);
    }
    m_values->setText(m_size);
    Q_EMIT headChanged();
}

void DispatchRoom::listFiles(const Shown& shown) {
    const QSignalBlocker quiet(m_files);
    m_files->clear();
    const int listed = std::min(static_cast<int>(shown.files.size()), kMostListed);
    for (int i = 0; i < listed; ++i) {
        const fs::path& path = shown.files[static_cast<std::size_t>(i)].path;
        const fs::path folder = m_form->job().to.parent_path();
        const fs::path relative = path.lexically_relative(folder);
        QString text = qstring(relative.empty() ? path.string() : relative.string());
        auto* item = new QListWidgetItem(m_files);
        if (shown.exists[static_cast<std::size_t>(i)]) {
            text += tr("   exists, will be replaced");
            item->setForeground(theme::kWarning);
        }
        item->setText(text);
        item->setToolTip(qstring(path.string()));
    }
    if (listed < static_cast<int>(shown.files.size())) {
        auto* more = new QListWidgetItem(
            tr("… and %1 more").arg(static_cast<int>(shown.files.size()) - listed), m_files);
        more->setFlags(Qt::NoItemFlags);
    }
    m_files->setCurrentRow(shown.file);
}

void DispatchRoom::offerPresets() {
    QMenu menu;
    const Job& job = m_form->job();
    for (const QString& name : m_presets.names(job.kind)) {
        QMenu* each = menu.addMenu(name);
        each->addAction(tr("Use"), this, [this, name] {
            Job changed = m_form->job();
            try {
                m_presets.putInto(changed, name);
            } catch (const std::exception& error) {
                Q_EMIT m_session.notified(QString::fromUtf8(error.what()), true);
                return;
            }
            m_form->setJob(changed);
            takeJob();
        });
        each->addAction(tr("Forget"), this,
                        [this, kind = job.kind, name] { m_presets.remove(kind, name); });
    }
    if (!menu.isEmpty())
        menu.addSeparator();
    auto* name = new QLineEdit;
    name->setObjectName("preset name");
    name->setPlaceholderText(tr("Keep these settings as…"));
    name->setMinimumWidth(190);
    auto* holder = new QWidgetAction(&menu);
    holder->setDefaultWidget(name);
    menu.addAction(holder);
    connect(name, &QLineEdit::returnPressed, &menu, [this, name, &menu] {
        if (name->text().trimmed().isEmpty())
            return;
        try {
            m_presets.keep(m_form->job(), name->text().trimmed());
        } catch (const std::exception& error) {
            Q_EMIT m_session.notified(QString::fromUtf8(error.what()), true);
        }
        menu.close();
    });
    auto* button = findChild<QPushButton*>(QStringLiteral("presets"));
    name->setFocus();
    menu.exec(button->mapToGlobal(QPoint(0, button->height())));
}

void DispatchRoom::chooseGround(int ground) {
    if (static_cast<WrittenView::Ground>(ground) != WrittenView::Ground::Picture) {
        m_written->setGround(static_cast<WrittenView::Ground>(ground));
        return;
    }
    const QString file = askFileToRead(this, tr("Picture behind it"), m_session.folderForFiles());
    if (file.isEmpty()) {
        m_grounds->button(0)->setChecked(true);
        m_written->setGround(WrittenView::Ground::Checker);
        return;
    }
    try {
        m_written->setGroundPicture(
            toQImage(viewed(readPicture(file.toStdString()), m_session.project().viewTransform,
                            m_session.project().exposure)));
    } catch (const std::exception& error) {
        Q_EMIT m_session.notified(QString::fromUtf8(error.what()), true);
    }
}

void DispatchRoom::showProgress() {
    QString progress;
    for (const QueuedJob& queued : m_queue.jobs().jobs())
        if (queued.stage == JobStage::Runs)
            progress = tr("%1 %").arg(static_cast<int>(100.0F * queued.progress));
    if (progress == m_progress)
        return;
    m_progress = progress;
    Q_EMIT headChanged();
}

void DispatchRoom::enqueue() {
    if (m_all.empty() || !m_add->isEnabled())
        return;
    m_queue.add(m_form->job());
}

}  // namespace noctis
