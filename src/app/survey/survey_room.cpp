#include "app/survey/survey_room.h"

#include "app/controls/hairline.h"
#include "app/instruments/plan.h"
#include "app/instruments/sounding.h"
#include "app/look/picture_paint.h"
#include "app/look/theme.h"
#include "app/survey/frame_bar.h"
#include "app/survey/frames_panel.h"
#include "app/survey/measure_bar.h"
#include "app/survey/pass_list.h"
#include "app/survey/pins_panel.h"
#include "app/survey/survey_lanes.h"
#include "app/survey/trace_view.h"
#include "app/survey/turnaround_panel.h"
#include "app/survey/views_strip.h"
#include "core/passes/appearance.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

namespace noctis {

SurveyRoom::SurveyRoom(Session& session, QWidget* parent) : QWidget(parent), m_session(session) {
    m_view = new TraceView(session);
    m_view->setRender(&m_renderer);
    m_passes = new PassList(session, m_renderer);
    m_measure = new MeasureBar(session);

    auto* top = new QVBoxLayout;
    top->setContentsMargins(0, 6, 0, 4);
    top->setSpacing(2);
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
    auto* frames = offer(nullptr, tr("Frames"), tr("A range of frames of a scene that moves."));
    frames->setObjectName("frames-offer");
    frames->hide();
    bar->addStretch(1);
    bar->addWidget(new FrameBar(session));
    top->addLayout(bar);
    top->addWidget(strip);
    m_turnaround = new TurnaroundPanel(session, m_renderer);
    m_turnaround->hide();
    connect(around, &QPushButton::clicked, m_turnaround,
            [this, strip] { m_turnaround->present(strip->object()); });
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
            [strip](const ClickedPlace& place) { strip->setObject(place.object); });

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
    auto* cut = new QPushButton(tr("Cut"));
    cut->setProperty("role", "tab");
    cut->setCheckable(true);
    cut->setObjectName("cut");
    cut->setToolTip(tr("Tints what lies before near and beyond far of the depth ramp."));
    connect(cut, &QPushButton::toggled, m_view, &TraceView::setCutShown);
    tabs->addWidget(cut);
    auto* crop = new QPushButton(tr("Crop"));
    crop->setProperty("role", "tab");
    crop->setCheckable(true);
    crop->setObjectName("crop");
    crop->setToolTip(tr("Draw the part of the frame that is rendered; a click renders all of it "
                        "again."));
    connect(crop, &QPushButton::toggled, m_view, &TraceView::setCropping);
    connect(m_view, &TraceView::cropDrawn, crop, [crop] { crop->setChecked(false); });
    tabs->addWidget(crop);

    auto* middle = new QVBoxLayout;
    middle->setSpacing(0);
    middle->addLayout(top);
    middle->addWidget(m_turnaround);
    middle->addWidget(m_frames);
    middle->addLayout(tabs);
    middle->addWidget(m_view, 1);
    middle->addWidget(m_measure);
    middle->addWidget(hairline(false));
    middle->addWidget(buildInstruments());
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
                             : appearanceOf(*pass)));
        },
        Qt::QueuedConnection);
}

QWidget* SurveyRoom::buildInstruments() {
    auto* box = new QWidget;
    box->setFixedHeight(214);
    auto* layout = new QHBoxLayout(box);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    m_sounding = new Sounding;
    m_plan = new Plan;
    m_plan->setFixedWidth(330);
    layout->addWidget(m_sounding, 1);
    layout->addWidget(hairline(true));
    layout->addWidget(m_plan);

    const auto heading = [](const QString& text, QWidget* on) {
        auto* label = new QLabel(text, on);
        label->setProperty("role", "heading");
        label->move(16, 8);
    };
    const auto link = [](const QString& text, const QString& help, QWidget* on, int x) {
        auto* button = new QPushButton(text, on);
        button->setProperty("role", "link");
        button->setFont(theme::font(12));
        button->setToolTip(help);
        button->adjustSize();
        button->move(x, 5);
        return button;
    };
    heading(tr("Sounding"), m_sounding);
    heading(tr("Plan"), m_plan);
    auto* fit = link(tr("Range from the picture"),
                     tr("Sets near and far by the distances in the picture, leaving out strays."),
                     m_sounding, 84);
    fit->setObjectName("range-from-picture");
    connect(fit, &QPushButton::clicked, this, [this] {
        m_session.change(tr("Range from the picture"), {}, [](Project& p) { p.ramp = {}; });
    });
    auto* scale =
        link(tr("log"), tr("The axis: logarithmic gives near things room."), m_sounding, 236);
    connect(scale, &QPushButton::clicked, this, [this, scale] {
        const bool log = scale->text() != tr("log");
        scale->setText(log ? tr("log") : tr("linear"));
        scale->adjustSize();
        m_sounding->setLogarithmic(log);
    });
    auto* side =
        link(tr("from above"), tr("Shows the place from above or from the side."), m_plan, 60);
    side->setObjectName("plan-side");
    connect(side, &QPushButton::clicked, this, [this, side] {
        const bool fromSide = side->text() == tr("from above");
        side->setText(fromSide ? tr("from the side") : tr("from above"));
        side->adjustSize();
        m_plan->setFromSide(fromSide);
    });
    connect(m_sounding, &Sounding::handleMoved, this, &SurveyRoom::moveHandle);
    connect(m_sounding, &Sounding::handleRested, &m_session, &Session::endGesture);
    connect(m_plan, &Plan::distanceMoved, this, [this](std::size_t index, float metres) {
        const auto& [owner, handle] = m_planHandles[index];
        moveHandle(owner, handle, metres);
    });
    connect(m_plan, &Plan::cameraMoved, this, [this](const V3f& way) {
        m_view->changeCamera(tr("Move the camera"), [&](Camera& camera) {
            M44f shift;
            shift.setTranslation(way);
            camera.cameraToWorld = camera.cameraToWorld * shift;
        });
    });
    connect(m_plan, &Plan::cameraTurned, this, [this](float radians) {
        const bool tilts = m_plan->isFromSide();
        m_view->changeCamera(tr("Turn the camera"), [&](Camera& camera) {
            const V3f place = camera.position();
            V3f axis(0, 1, 0);
            if (tilts)
                camera.cameraToWorld.multDirMatrix(V3f(1, 0, 0), axis);
            M44f turn;
            turn.setAxisAngle(axis, radians);
            camera.cameraToWorld[3][0] = camera.cameraToWorld[3][1] = camera.cameraToWorld[3][2] =
                0.0F;
            camera.cameraToWorld = camera.cameraToWorld * turn;
            camera.cameraToWorld[3][0] = place.x;
            camera.cameraToWorld[3][1] = place.y;
            camera.cameraToWorld[3][2] = place.z;
        });
    });
    connect(m_plan, &Plan::rested, &m_session, &Session::endGesture);
    return box;
}

void SurveyRoom::moveHandle(std::size_t owner, std::size_t handle, float metres) {
    m_session.change(
        tr("Drag on the depth axis"), QStringLiteral("survey.%1.%2").arg(owner).arg(handle),
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
    const Project& project = m_session.project();
    const std::vector<SoundingLane> lanes = surveyLanes(project, m_view->automaticRange());
    m_plan->setCamera(m_session.view().camera,
                      static_cast<float>(project.width) / static_cast<float>(project.height));
    std::vector<PlanDistance> distances;
    m_planHandles.clear();
    for (const SoundingLane& lane : lanes)
        for (std::size_t h = 0; h < lane.lane->handles.size(); ++h) {
            const DepthHandle& handle = lane.lane->handles[h];
            // Of a span, only its middle stands in the Plan.
            if (lane.lane->shape == DepthLane::Shape::Span && h > 0)
                continue;
            const bool isRamp = lane.owner == 0;
            const QColor colour = !isRamp ? theme::kAccent : h == 0 ? theme::kNear : theme::kFar;
            const QString name =
                isRamp ? qstring(handle.label)
                       : (lane.lane->shape == DepthLane::Shape::Span
                              ? tr("focus")
                              : lane.label.toLower() + QLatin1Char(' ') + qstring(handle.label));
            distances.push_back({name, colour, handle.at(lane.settings)});
            m_planHandles.emplace_back(lane.owner, h);
        }
    m_plan->setDistances(std::move(distances));
    std::vector<PlanMark> marks;
    if (const auto scene = m_session.scene()) {
        for (const Locator& locator : scene->scene.locators)
            marks.push_back({qstring(locator.name), locator.toWorld.translation(), false});
        for (const Light& light : scene->scene.lights)
            if (light.kind != LightKind::Sun)
                marks.push_back({qstring(light.name), light.position, true});
    }
    for (const Pin& pin : project.pins)
        marks.push_back({{}, pin.position, false});
    m_plan->setMarks(std::move(marks));
    m_sounding->setLanes(lanes);
}

void SurveyRoom::show(const PassName& pass) {
    for (const auto& [each, button] : m_shownAs)
        button->setChecked(each == pass.kind);
    m_view->setShown(pass);
}

}  // namespace noctis
