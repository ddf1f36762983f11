#include "app/survey/survey_room.h"

#include "app/controls/hairline.h"
#include "app/controls/instrument_head.h"
#include "app/instruments/sounding.h"
#include "app/look/picture_paint.h"
#include "app/look/theme.h"
#include "app/survey/frame_bar.h"
#include "app/survey/frames_panel.h"
#include "app/survey/measure_bar.h"
#include "app/survey/pass_list.h"
#include "app/survey/pins_panel.h"
#include "app/survey/survey_lanes.h"
#include "app/survey/survey_plan.h"
#include "app/survey/trace_view.h"
#include "app/survey/turnaround_panel.h"
#include "app/survey/views_strip.h"
#include "core/passes/appearance.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

namespace noctis {

SurveyRoom::SurveyRoom(Session& session, QWidget* parent) : Room(parent), m_session(session) {
    m_view = new TraceView(session);
    m_view->setRender(&m_renderer);
    m_passes = new PassList(session, m_renderer);
    m_measure = new MeasureBar(session);

    auto* top = new QVBoxLayout;
    top->setContentsMargins(0, 4, 0, 0);
    top->setSpacing(0);
    auto* bar = new QHBoxLayout;
    bar->setContentsMargins(14, 0, 14, 0);
    auto* views = new QLabel(tr("Views"));
    views->setProperty("role", "heading");
    bar->addWidget(views);
    auto* strip = new ViewsStrip(session);
    const auto offer = [bar](const char* icon, const QString& text, const QString& help) {
        auto* button = new QPushButton(text);
        if (icon != nullptr)
            button->setIcon(theme::icon(QLatin1String(icon), theme::kAccent));
        button->setProperty("role", "link");
        button->setToolTip(help);
        bar->addWidget(button);
        return button;
    };
    bar->addSpacing(8);
    connect(offer("plus", tr("Keep this view"),
                  tr("Keeps what the scene view shows now as a view of its own.")),
            &QPushButton::clicked, strip, &ViewsStrip::addView);
    connect(offer(nullptr, tr("From above"),
                  tr("Looks straight down on the thing clicked last, or on everything.")),
            &QPushButton::clicked, strip, &ViewsStrip::lookFromAbove);
    auto* around =
        offer(nullptr, tr("Turnaround"), tr("Views of one thing from all sides, as one job."));
    around->setObjectName("turnaround-offer");
    auto* frames = offer(nullptr, tr("Frames"), tr("A range of frames of a scene that moves."));
    frames->setObjectName("frames-offer");
    frames->hide();
    bar->addStretch(1);
    bar->addWidget(new FrameBar(session));
    top->addLayout(bar);
    top->addWidget(strip);
    m_turnaround = new TurnaroundPanel(session, m_renderer);
    m_turnaround->hide();
    connect(around, &QPushButton::clicked, m_turnaround, [this, strip] {
        m_turnaround->present(strip->object().empty() ? m_view->objectAhead() : strip->object());
    });
    connect(m_turnaround, &TurnaroundPanel::closed, m_turnaround, &QWidget::hide);
    m_frames = new FramesPanel(session, m_renderer);
    m_frames->hide();
    connect(frames, &QPushButton::clicked, m_frames, &FramesPanel::present);
    connect(m_frames, &FramesPanel::closed, m_frames, &QWidget::hide);
    connect(&m_session, &Session::sceneChanged, frames, [this, frames] {
        const auto scene = m_session.scene();
        const bool moves = scene && scene->scene.animation;
        frames->setVisible(moves);
        m_frames->setVisible(moves && m_frames->isVisible());
    });
    connect(m_view, &TraceView::placeClicked, strip,
            [strip](const SeenPlace& place) { strip->setObject(place.object); });

    auto* middle = new QVBoxLayout;
    middle->setSpacing(0);
    middle->addLayout(top);
    middle->addWidget(m_turnaround);
    middle->addWidget(m_frames);
    middle->addLayout(buildTabs());
    middle->addWidget(m_view, 3);
    middle->addWidget(m_measure);
    middle->addWidget(hairline(false));
    middle->addWidget(buildInstruments(), 1);
    auto* right = new QVBoxLayout;
    right->setSpacing(0);
    right->addWidget(new PinsPanel(session));
    right->addWidget(m_passes, 1);
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addLayout(middle, 1);
    layout->addWidget(hairline(true));
    layout->addLayout(right);

    connect(m_view, &TraceView::depthSeen, this, &SurveyRoom::takeDepth);
    connect(m_view, &TraceView::placeClicked, m_measure, &MeasureBar::setPlace);
    connect(&m_session, &Session::projectChanged, this, &SurveyRoom::takeProject);
    connect(&m_session, &Session::sceneChanged, this, &SurveyRoom::takeProject);
    connect(m_passes, &PassList::passChosen, this, &SurveyRoom::show);
    connect(&m_renderer, &RenderWorker::progressed, m_view, qOverload<>(&QWidget::update),
            Qt::QueuedConnection);
    connect(
        &m_renderer, &RenderWorker::refined, this,
        [this](const std::shared_ptr<const PassSet>& set) {
            const Pass* pass = set->find(std::string_view(nameOf(m_view->shown())));
            if (pass == nullptr && !set->passes.empty())
                pass = &set->passes.front();
            if (pass == nullptr || !m_renderer.running())
                return;
            const Project& project = m_session.project();
            m_view->setRendered(
                toQImage(!passKindInfo(pass->kind).data()
                             ? viewed(pass->image, project.viewTransform, project.exposure)
                             : appearanceOf(*pass)),
                set->view);
        },
        Qt::QueuedConnection);
}

QHBoxLayout* SurveyRoom::buildTabs() {
    auto* tabs = new QHBoxLayout;
    tabs->setContentsMargins(14, 0, 14, 0);
    tabs->setSpacing(4);
    auto* as = new QLabel(tr("Show as"));
    as->setProperty("role", "heading");
    tabs->addWidget(as);
    tabs->addSpacing(8);
    const std::pair<PassKind, QString> ways[] = {
        {PassKind::Beauty, tr("Light")},        {PassKind::Depth, tr("Depth")},
        {PassKind::Occlusion, tr("Occlusion")}, {PassKind::Normal, tr("Normal")},
        {PassKind::Position, tr("Position")},   {PassKind::Mist, tr("Mist")},
        {PassKind::Objects, tr("Objects")},     {PassKind::Materials, tr("Materials")}};
    for (const auto& [kind, label] : ways) {
        auto* button = new QPushButton(label);
        button->setProperty("role", "tab");
        button->setCheckable(true);
        button->setChecked(kind == PassKind::Beauty);
        button->setToolTip(qstring(passKindInfo(kind).meaning));
        connect(button, &QPushButton::clicked, this, [this, kind = kind] { show({kind, {}}); });
        tabs->addWidget(button);
        m_shownAs.emplace_back(kind, button);
    }
    tabs->addStretch(1);
    const auto toggle = [tabs](const QString& text, const QString& name, const QString& help) {
        auto* button = new QPushButton(text);
        button->setProperty("role", "tab");
        button->setCheckable(true);
        button->setObjectName(name);
        button->setToolTip(help);
        tabs->addWidget(button);
        return button;
    };
    auto* blur = toggle(tr("Blur"), QStringLiteral("blur"),
                        tr("Tints what the recipe's focus leaves unsharp: brass before it, indigo "
                           "behind it, the stronger the wider the blur. It also shows while the "
                           "focus is dragged."));
    connect(blur, &QPushButton::toggled, m_view, &TraceView::setBlurShown);
    auto* cut = toggle(tr("Cut"), QStringLiteral("cut"),
                       tr("Tints what lies before near and beyond far of the depth ramp."));
    connect(cut, &QPushButton::toggled, m_view, &TraceView::setCutShown);
    auto* crop = toggle(tr("Crop"), QStringLiteral("crop"),
                        tr("Draw the part of the frame that is rendered; a click renders all of it "
                           "again."));
    connect(crop, &QPushButton::toggled, m_view, &TraceView::setCropping);
    connect(m_view, &TraceView::cropDrawn, crop, [crop] { crop->setChecked(false); });
    return tabs;
}

QWidget* SurveyRoom::buildInstruments() {
    auto* box = new QWidget;
    box->setMinimumHeight(204);  // in a small window the picture has what is left
    box->setMaximumHeight(320);
    auto* layout = new QHBoxLayout(box);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    m_sounding = new Sounding;
    m_plan = new SurveyPlan(m_session, *m_view);
    m_plan->setFixedWidth(330);
    layout->addWidget(m_sounding, 1);
    layout->addWidget(hairline(true));
    layout->addWidget(m_plan);

    QPushButton* fit =
        addLink(m_sounding, tr("Range from the picture"),
                tr("Sets near and far by the distances in the picture, leaving out strays."), 142);
    fit->setObjectName("range-from-picture");
    connect(fit, &QPushButton::clicked, this, [this] {
        m_session.change(tr("Range from the picture"), {}, [](Project& p) { p.ramp = {}; });
    });
    connect(m_sounding, &Sounding::handleMoved, this, &SurveyRoom::moveHandle);
    connect(m_sounding, &Sounding::handleRested, &m_session, &Session::endGesture);
    connect(m_plan, &SurveyPlan::handleMoved, this, &SurveyRoom::moveHandle);
    const auto rest = [this] { m_view->setFocusDragged(false); };
    connect(m_sounding, &Sounding::handleRested, this, rest);
    connect(m_plan, &Plan::rested, this, rest);
    return box;
}

std::vector<RoomCommand> SurveyRoom::commands() {
    return {
        {tr("Render what is stale"), QKeySequence(Qt::Key_F6), [this] { m_passes->render(false); }},
        {tr("Stop rendering"), {}, [this] { m_renderer.stop(); }}};
}

void SurveyRoom::fitPicture() { m_view->fit(); }

void SurveyRoom::showWholePixels() { m_view->setZoom(1.0, QRectF(m_view->rect()).center()); }

void SurveyRoom::moveHandle(const std::string& owner, const std::string& handle, float metres) {
    m_view->setFocusDragged(isFocusLane(owner));
    m_session.change(
        tr("Drag on the depth axis"),
        QStringLiteral("survey.%1.%2").arg(qstring(owner), qstring(handle)),
        [&](Project& p) { moveSurveyHandle(p, m_view->automaticRange(), owner, handle, metres); });
}

void SurveyRoom::takeDepth(const std::optional<Pass>& depth) {
    m_sounding->setDepth(depth);
    m_measure->setAutomaticRange(m_view->automaticRange());
    takeProject();
    if (depth) {
        m_plan->setDepth(depth->image);
        m_passes->setDepth(depth->image);
    }
}

void SurveyRoom::takeProject() {
    const std::vector<HandleGroup> lanes = surveyLanes(
        m_session.project(), m_view->automaticRange(), m_view->shown().kind == PassKind::Mist);
    m_plan->refresh(lanes);
    m_sounding->setLanes(lanes);
}

void SurveyRoom::show(const PassName& pass) {
    for (const auto& [each, button] : m_shownAs)
        button->setChecked(each == pass.kind);
    m_view->setShown(pass);
    m_passes->setShown(pass);
    takeProject();
}

}  // namespace noctis
