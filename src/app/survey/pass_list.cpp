#include "app/survey/pass_list.h"

#include "app/controls/file_dialog.h"
#include "app/look/picture_paint.h"
#include "app/look/theme.h"
#include "app/survey/add_pass_menu.h"
#include "app/survey/pass_row.h"
#include "core/tracer/occlusion.h"
#include "core/tracer/pass_warnings.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QProgressBar>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>

#include <algorithm>

namespace noctis {

namespace {

constexpr int kDepthRestMs = 250;
constexpr int kBesideCards = 6;  ///< the scroll bar's room

}  // namespace

PassList::PassList(Session& session, RenderWorker& worker, QWidget* parent)
    : QWidget(parent), m_session(session), m_worker(worker) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(12, 6, 8, 10);
    layout->setSpacing(8);
    auto* head = new QHBoxLayout;
    auto* heading = new QLabel(tr("Passes to render"));
    heading->setProperty("role", "heading");
    auto* add = new QPushButton(tr("Add a pass"));
    add->setProperty("role", "link");
    add->setToolTip(tr("Adds a pass to those that are rendered."));
    head->addWidget(heading, 1);
    head->addWidget(add);
    layout->addLayout(head);
    m_scroll = new QScrollArea;
    m_scroll->setFocusPolicy(Qt::NoFocus);
    m_scroll->setWidgetResizable(true);
    m_scroll->setFrameShape(QFrame::NoFrame);
    m_scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    layout->addWidget(m_scroll, 1);
    m_renderToo = new QPushButton;
    m_renderToo->setProperty("role", "link");
    m_renderToo->setObjectName("render-too");
    m_renderToo->setToolTip(tr("Adds the pass that the view shows to those that are rendered."));
    m_renderToo->hide();
    layout->addWidget(m_renderToo, 0, Qt::AlignLeft);
    connect(m_renderToo, &QPushButton::clicked, this, [this] {
        m_open = nameOf(m_shown);
        m_session.change(tr("Add a pass"), {}, [this](Project& p) { askPass(p, m_shown); });
    });
    m_stale = new QPushButton(tr("Render what is stale"));
    m_stale->setProperty("role", "main");
    m_stale->setObjectName("render");
    m_stale->setToolTip(tr("Renders the passes that are missing or stale."));
    auto* below = new QVBoxLayout;
    below->setContentsMargins(0, 0, kBesideCards, 0);
    below->setSpacing(8);
    layout->addLayout(below);
    below->addWidget(m_stale);
    auto* foot = new QHBoxLayout;
    m_state = new QLabel;
    m_state->setObjectName("render-state");
    m_state->setProperty("role", "quiet");
    m_state->setFont(theme::font(12));
    m_all = new QPushButton(tr("Render all"));
    m_all->setProperty("role", "link");
    m_all->setToolTip(tr("Renders every pass again."));
    m_views = new QPushButton(tr("In all views"));
    m_views->setProperty("role", "link");
    m_views->setObjectName("render-views");
    m_views->setToolTip(tr("Renders the missing and stale passes of every view in the strip, one "
                           "view after another."));
    m_file = new QPushButton(tr("Into a file…"));
    m_file->setProperty("role", "link");
    m_file->setObjectName("into-a-file");
    m_file->setToolTip(tr("Renders every pass straight into an EXR, without keeping it here: for "
                          "frames too large for memory."));
    m_stop = new QPushButton(theme::icon("square", theme::kAccent), tr("Stop"));
    m_stop->setProperty("role", "link");
    m_stop->setObjectName("stop");
    m_stop->setToolTip(tr("Stops at once; the passes stay unchanged."));
    QSizePolicy keepsItsPlace = m_stop->sizePolicy();
    keepsItsPlace.setRetainSizeWhenHidden(true);  // so that nothing jumps under the pointer
    m_stop->setSizePolicy(keepsItsPlace);
    m_stop->hide();
    foot->addWidget(m_all);
    foot->addWidget(m_views);
    foot->addWidget(m_file);
    foot->addStretch(1);
    below->addLayout(foot);
    auto* stateRow = new QHBoxLayout;
    stateRow->addWidget(m_state, 1);
    stateRow->addWidget(m_stop);
    below->addLayout(stateRow);
    m_bar = new QProgressBar;
    m_bar->setTextVisible(false);
    m_bar->setFixedHeight(3);
    m_bar->setRange(0, 1000);
    m_bar->setStyleSheet(QStringLiteral("QProgressBar { background: %1; border: none; } "
                                        "QProgressBar::chunk { background: %2; }")
                             .arg(theme::kHairline.name(), theme::kAccent.name()));
    below->addWidget(m_bar);
    connect(add, &QPushButton::clicked, this, [this, add] {
        AddPassMenu(m_session).exec(add->mapToGlobal(QPoint(0, add->height())));
    });
    connect(m_stale, &QPushButton::clicked, this, [this] { render(false); });
    connect(m_all, &QPushButton::clicked, this, [this] { render(true); });
    connect(m_views, &QPushButton::clicked, this, &PassList::renderViews);
    connect(m_file, &QPushButton::clicked, this, [this] {
        const QString file = askFileToWrite(this, tr("Passes into a file"),
                                            m_session.folderForFiles(), tr("EXR (*.exr)"));
        if (!file.isEmpty())
            renderInto(file.toStdString());
    });
    connect(m_stop, &QPushButton::clicked, this, [this] { m_worker.stop(); });
    connect(&m_worker, &RenderWorker::started, this, [this] {
        showProgress();
        refresh();
    });
    connect(&m_worker, &RenderWorker::progressed, this, &PassList::showProgress,
            Qt::QueuedConnection);
    connect(&m_worker, &RenderWorker::finished, this,
            [this](const std::shared_ptr<const PassSet>& set) {
                m_session.takeRendered(*set, m_crop);
                renderNextView();
                refresh();
            });
    connect(&m_worker, &RenderWorker::stopped, this, [this] {
        Q_EMIT m_session.notified(m_viewCount > 1 ? tr("Stopped; finished views are kept.")
                                                  : tr("Stopped; the passes are unchanged."),
                                  false);
        forgetViews();
        refresh();
    });
    connect(&m_worker, &RenderWorker::failed, this, [this](const QString& text) {
        forgetViews();
        Q_EMIT m_session.notified(text, true);
        refresh();
    });
    m_lookAhead.setSingleShot(true);
    m_lookAhead.setInterval(kDepthRestMs);
    connect(&m_lookAhead, &QTimer::timeout, this, &PassList::lookForWarnings);
    connect(&m_session, &Session::projectChanged, this, &PassList::refresh);
    connect(&m_session, &Session::projectChanged, &m_lookAhead, qOverload<>(&QTimer::start));
    connect(&m_session, &Session::sceneChanged, &m_lookAhead, qOverload<>(&QTimer::start));
    connect(&m_session, &Session::passesChanged, this, &PassList::refresh);
    connect(&m_session, &Session::sceneChanged, this, &PassList::refresh);
    rebuild();
}

WantedFrame PassList::wantedFrame(const View& view) const {
    WantedFrame wanted = m_session.wantedFrame(view);
    if (!m_session.scene() && m_session.passes().camera)
        wanted.view.camera = *m_session.passes().camera;  // nothing to compare it with
    return wanted;
}

std::vector<PassState> PassList::statesOf(const View& view) const {
    if (const PassSet* passes = m_session.passesOf(view))
        return passStates(*passes, wantedFrame(view), m_known);
    // Files without a view's name are of the view that is open.
    return passStates(view == m_session.view() ? m_session.passes() : PassSet{}, wantedFrame(view),
                      m_known);
}

std::vector<View> PassList::views() const {
    const View now = m_session.view();
    std::vector<View> all = m_session.views();
    const auto same =
        std::find_if(all.begin(), all.end(), [&](const View& v) { return v.name == now.name; });
    if (same == all.end())
        all.push_back(now);
    else
        *same = now;
    return all;
}

void PassList::edit(const std::string& pass, const QString& setting, const PassRequest& changed) {
    m_session.change(tr("%1: %2").arg(qstring(labelOf({changed.kind, changed.subject})), setting),
                     QStringLiteral("pass.%1.%2").arg(qstring(pass), setting), [&](Project& p) {
                         for (PassRequest& each : p.passes)
                             if (each.name() == pass)
                                 each = changed;
                     });
}

NameChoices PassList::nameChoices() const {
    NameChoices choices;
    const auto add = [](QStringList& to, const std::string& name) {
        if (!name.empty() && !to.contains(qstring(name)))
            to << qstring(name);
    };
    if (const auto loaded = m_session.scene()) {
        for (const std::string& name : loaded->scene.objects)
            add(choices.objects, name);
        for (const std::string& name : loaded->scene.groups)
            if (!choices.objects.contains(qstring(name)))
                add(choices.groups, name);
        for (const Material& material : loaded->scene.materials)
            add(choices.materials, material.name);
    }
    return choices;
}

void PassList::rebuild() {
    auto* column = new QWidget;
    auto* layout = new QVBoxLayout(column);
    layout->setContentsMargins(0, 0, kBesideCards, 0);
    layout->setSpacing(6);
    m_rows.clear();
    for (const PassRequest& request : m_session.project().passes) {
        auto* row = new PassRow(request, [this] { return nameChoices(); });
        m_rows.push_back(row);
        const std::string name = request.name();
        row->setOpen(m_open == name);
        layout->addWidget(row);
        const PassName pass{request.kind, request.subject};
        connect(row, &PassRow::opened, this, [this, name, pass] {
            m_open = m_open == name ? std::string() : name;
            for (PassRow* each : m_rows)
                each->setOpen(m_open == each->request().name());
            if (!m_open.empty())
                Q_EMIT passChosen(pass);
        });
        connect(row, &PassRow::edited, this,
                [this, name](const QString& setting, const PassRequest& changed) {
                    edit(name, setting, changed);
                });
        connect(row, &PassRow::reachAsked, this, [this, name, row] {
            PassRequest changed = row->request();
            if (m_depth.empty())
                return;
            changed.settings.set("reach", suggestedReach(m_depth));
            edit(name, tr("reach"), changed);
            m_session.endGesture();
        });
        connect(row, &PassRow::rested, &m_session, &Session::endGesture);
        connect(row, &PassRow::removeAsked, this, [this, name, pass] {
            m_session.change(
                tr("Don't render %1").arg(qstring(labelOf(pass))), {}, [&](Project& p) {
                    std::erase_if(p.passes, [&](const PassRequest& r) { return r.name() == name; });
                });
        });
    }
    layout->addStretch(1);
    if (QWidget* old = m_scroll->takeWidget())
        old->deleteLater();
    m_scroll->setWidget(column);
    refresh();
}

void PassList::setShown(const PassName& pass) {
    m_shown = pass;
    refresh();
}

void PassList::lookForWarnings() {
    m_warnings.clear();
    if (const auto loaded = m_session.scene()) {
        const RenderRequest request =
            withMotion(loaded->scene, m_session.renderRequest(m_session.view()));
        for (const PassRequest& pass : request.passes)
            m_warnings[pass.name()] =
                passWarnings(pass, request.light, *loaded->accelerator, tracedFrame(request));
    }
    refresh();
}

std::vector<std::string> PassList::warningsOf(const PassRequest& request,
                                              const PassState& state) const {
    const std::string name = request.name();
    std::vector<std::string> warnings;
    if (const auto found = m_warnings.find(name); found != m_warnings.end())
        warnings = found->second;
    const Pass* pass = m_session.passes().find(std::string_view(name));
    if (pass != nullptr && state.kind == PassState::Kind::Current)
        for (const std::string& warning : pass->warnings)
            if (std::find(warnings.begin(), warnings.end(), warning) == warnings.end())
                warnings.push_back(warning);
    return warnings;
}

void PassList::refresh() {
    const auto& passes = m_session.project().passes;
    bool same = passes.size() == m_rows.size();
    for (std::size_t i = 0; same && i < passes.size(); ++i)
        same = m_rows[i]->request().name() == passes[i].name();
    if (!same) {
        rebuild();
        return;
    }
    const std::vector<PassState> states = statesOf(m_session.view());
    int stale = 0;
    for (std::size_t i = 0; i < passes.size(); ++i) {
        m_rows[i]->setRequest(passes[i], states[i], warningsOf(passes[i], states[i]));
        stale += states[i].kind == PassState::Kind::Current ? 0 : 1;
    }
    m_renderToo->setVisible(passAsked(m_session.project(), nameOf(m_shown)) == nullptr);
    m_renderToo->setText(tr("Also render %1").arg(qstring(labelOf(m_shown)).toLower()));
    const bool running = m_worker.running();
    m_stop->setVisible(running);
    m_stale->setEnabled(!running && m_session.scene() && stale > 0);
    m_all->setEnabled(!running && m_session.scene() != nullptr && !passes.empty());
    m_views->setEnabled(m_all->isEnabled());
    m_file->setEnabled(m_all->isEnabled());
    if (!running) {
        m_bar->setValue(0);
        m_state->setText(
            !m_session.scene() ? tr("No scene")
            : stale == 0
                ? tr("Everything is up to date")
                : tr("%n to render", nullptr, stale).replace("%n", QString::number(stale)));
    }
}

}  // namespace noctis
