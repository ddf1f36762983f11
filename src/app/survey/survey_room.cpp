#include "app/survey/survey_room.h"

#include "app/controls/hairline.h"
#include "app/controls/instrument_head.h"
#include "app/controls/lower_area.h"
#include "app/controls/tab_button.h"
#include "app/controls/wrap_line.h"
#include "app/instruments/sounding.h"
#include "app/look/panel_width.h"
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

namespace {

constexpr int kPlanWidth = 330;
constexpr int kBesideCollapse = 78;  ///< px, of the button at the right
constexpr int kInstruments = 146;    // the picture gets the rest
constexpr int kTallestInstruments = 300;

}  // namespace

SurveyRoom::SurveyRoom(Session& session, QWidget* parent) : Room(parent), m_session(session) {
    m_view = new TraceView(session);
    m_view->setRender(&m_renderer);
    m_passes = new PassList(session, m_renderer);
    m_measure = new MeasureBar(session);
    m_turnaround = new TurnaroundPanel(session);
    m_turnaround->hide();
    connect(m_turnaround, &TurnaroundPanel::closed, m_turnaround, &QWidget::hide);
    m_frames = new FramesPanel(session);
    m_frames->hide();
    connect(m_frames, &FramesPanel::closed, m_frames, &QWidget::hide);

    auto* tools = new QHBoxLayout;
    tools->setContentsMargins(10, 4, 12, 2);
    tools->addWidget(new WrapLine(buildTabs(), buildTools()));
    auto* middle = new QVBoxLayout;
    middle->setSpacing(0);
    middle->addLayout(tools);
    middle->addWidget(m_turnaround);
    middle->addWidget(m_frames);
    middle->addWidget(m_view, 4);
    middle->addWidget(m_measure);
    middle->addWidget(hairline(false));
    m_foot = buildInstruments();
    middle->addWidget(m_foot, 1);
    auto* right = new QVBoxLayout;
    right->setContentsMargins(0, 6, 0, 0);
    right->setSpacing(0);
    right->addLayout(buildViews());
    right->addWidget(hairline(false));
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
    connect(&m_renderer, &RenderWorker::refined, this, &SurveyRoom::showRendered,
            Qt::QueuedConnection);
}

void SurveyRoom::showRendered(const std::shared_ptr<const PassSet>& set) {
    const Pass* pass = set->find(std::string_view(nameOf(m_view->shown())));
    if (pass == nullptr && !set->passes.empty())
        pass = &set->passes.front();
    if (pass == nullptr || !m_renderer.running())
        return;
    const Project& project = m_session.project();
    m_view->setRendered(toQImage(!passKindInfo(pass->kind).data()
                                     ? viewed(pass->image, project.viewTransform, project.exposure)
                                     : appearanceOf(*pass)),
                        set->view);
}

QVBoxLayout* SurveyRoom::buildViews() {
    auto* strip = new ViewsStrip(m_session);
    auto* heading = new QLabel(tr("Views"));
    heading->setProperty("role", "heading");
    const auto link = [](const QString& text, const char* name, const QString& help) {
        auto* button = new QPushButton(text);
        button->setProperty("role", "link");
        button->setObjectName(QLatin1String(name));
        button->setToolTip(help);
        return button;
    };
    auto* keep =
        link(tr("Keep this view"), "keep-view", tr("Adds what the scene view shows to the strip."));
    connect(keep, &QPushButton::clicked, strip, &ViewsStrip::addView);
    auto* above = link(tr("From above"), "from-above",
                       tr("Looks straight down on the thing you clicked last, or on everything "
                          "that isn't far away."));
    connect(above, &QPushButton::clicked, strip, &ViewsStrip::lookFromAbove);
    auto* around = link(tr("Turnaround"), "turnaround-offer",
                        tr("Views of one thing from all sides, as one job."));
    connect(around, &QPushButton::clicked, m_turnaround, [this, strip] {
        m_frames->hide();
        m_turnaround->present(strip->object().empty() ? m_view->objectAhead() : strip->object());
    });
    auto* frames =
        link(tr("Frames"), "frames-offer", tr("A range of frames of an animated scene."));
    frames->hide();
    connect(frames, &QPushButton::clicked, m_frames, [this] {
        m_turnaround->hide();
        m_frames->present();
    });
    connect(&m_session, &Session::sceneChanged, frames, [this, frames] {
        const auto scene = m_session.scene();
        const bool moves = scene && scene->scene.animation;
        frames->setVisible(moves);
        m_frames->setVisible(moves && m_frames->isVisible());
    });
    connect(m_view, &TraceView::placeClicked, strip,
            [strip](const SeenPlace& place) { strip->setObject(place.object); });

    auto* head = new QHBoxLayout;
    head->setContentsMargins(12, 0, 8, 0);
    head->setSpacing(8);
    head->addWidget(heading, 1);
    head->addWidget(keep);
    auto* more = new QHBoxLayout;
    more->setContentsMargins(7, 0, 8, 4);
    more->setSpacing(8);
    for (QPushButton* each : {above, around, frames})
        more->addWidget(each);
    more->addStretch(1);
    auto* views = new QVBoxLayout;
    views->setSpacing(0);
    views->addLayout(head);
    views->addWidget(strip);
    views->addLayout(more);
    return views;
}

void SurveyRoom::resizeEvent(QResizeEvent*) { m_passes->setFixedWidth(panelWidth(width())); }

QWidget* SurveyRoom::buildTabs() {
    auto* box = new QWidget;
    auto* tabs = new QHBoxLayout(box);
    tabs->setContentsMargins(0, 0, 0, 0);
    tabs->setSpacing(0);
    const std::pair<PassKind, QString> ways[] = {
        {PassKind::Beauty, tr("Light")},        {PassKind::Depth, tr("Depth")},
        {PassKind::Occlusion, tr("Occlusion")}, {PassKind::Normal, tr("Normal")},
        {PassKind::Position, tr("Position")},   {PassKind::Mist, tr("Mist")},
        {PassKind::Objects, tr("Objects")},     {PassKind::Materials, tr("Materials")}};
    for (const auto& [kind, label] : ways) {
        QPushButton* button = tabButton(label, qstring(passKindInfo(kind).meaning),
                                        QStringLiteral("show-") + qstring(passKindInfo(kind).id));
        tabs->addWidget(button);
        button->setChecked(kind == PassKind::Beauty);
        connect(button, &QPushButton::clicked, this, [this, kind = kind] { show({kind, {}}); });
        m_shownAs.emplace_back(kind, button);
    }
    return box;
}

QWidget* SurveyRoom::buildTools() {
    auto* box = new QWidget;
    auto* tools = new QHBoxLayout(box);
    tools->setContentsMargins(0, 0, 0, 0);
    tools->setSpacing(0);
    QPushButton* blur =
        tabButton(tr("Blur"),
                  tr("Tints what is out of focus: brass in front, indigo behind, stronger where "
                     "the blur is wider. It also shows while you drag the focus."),
                  QStringLiteral("blur"));
    connect(blur, &QPushButton::toggled, m_view, &TraceView::setBlurShown);
    QPushButton* cut = tabButton(
        tr("Clipping"),
        tr("Tints what lies outside the depth ramp, nearer than near or farther than far."),
        QStringLiteral("cut"));
    connect(cut, &QPushButton::toggled, m_view, &TraceView::setCutShown);
    QPushButton* crop =
        tabButton(tr("Crop"),
                  tr("Drag out the part of the frame to render; click to render all of it again."),
                  QStringLiteral("crop"));
    for (QPushButton* each : {blur, cut, crop})
        tools->addWidget(each);
    connect(crop, &QPushButton::toggled, m_view, &TraceView::setCropping);
    connect(m_view, &TraceView::cropDrawn, crop, [crop] { crop->setChecked(false); });
    auto* whole = new QPushButton(theme::icon("x"), {});
    whole->setProperty("role", "icon");
    whole->setObjectName("whole-frame");
    whole->setAccessibleName(tr("Whole frame"));
    // The view must not change its size while a crop is drawn.
    QSizePolicy keepsItsPlace = whole->sizePolicy();
    keepsItsPlace.setRetainSizeWhenHidden(true);
    whole->setSizePolicy(keepsItsPlace);
    whole->setToolTip(tr("Removes the crop: the whole frame is rendered again."));
    whole->hide();
    tools->addWidget(whole);
    connect(whole, &QPushButton::clicked, this, [this] {
        m_session.change(tr("No crop"), {}, [](Project& p) { p.crop = {0, 0, 1, 1}; });
    });
    connect(&m_session, &Session::projectChanged, whole,
            [this, whole] { whole->setVisible(cropOf(m_session.project()).has_value()); });
    tools->addWidget(new FrameBar(m_session));
    return box;
}

QWidget* SurveyRoom::buildInstruments() {
    auto* box = new QWidget;
    auto* layout = new QHBoxLayout(box);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    m_sounding = new Sounding;
    m_plan = new SurveyPlan(m_session, *m_view);
    m_plan->setFixedWidth(kPlanWidth);
    m_plan->setHeadRoom(kBesideCollapse);
    layout->addWidget(m_sounding, 1);
    QWidget* between = hairline(true);
    layout->addWidget(between);
    layout->addWidget(m_plan);
    box->setMinimumHeight(kInstruments);
    auto* area = new LowerArea(*box, kInstruments, kTallestInstruments);
    const std::vector<Instrument*> all{m_sounding, m_plan};
    for (Instrument* instrument : all)
        connect(instrument, &Instrument::enlargeAsked, this,
                [this, area, between, all, instrument] {
                    const bool large = !m_view->isHidden();
                    m_view->setHidden(large);
                    m_measure->setHidden(large);
                    between->setHidden(large);
                    area->setLarge(large);
                    for (Instrument* each : all) {
                        each->setVisible(!large || each == instrument);
                        each->setLarge(large && each == instrument);
                    }
                    m_plan->setHeadRoom(large ? 0 : kBesideCollapse);
                    m_plan->setMinimumWidth(kPlanWidth);
                    m_plan->setMaximumWidth(large ? QWIDGETSIZE_MAX : kPlanWidth);
                });

    QPushButton* fit =
        addLink(m_sounding, tr("Range from the picture"),
                tr("Sets near and far from the distances in the picture, ignoring outliers."), 142);
    fit->setObjectName("range-from-picture");
    connect(fit, &QPushButton::clicked, this, [this] {
        m_session.change(tr("Range from the picture"), {}, [](Project& p) { p.ramp = {}; });
    });
    for (Instrument* instrument :
         {static_cast<Instrument*>(m_sounding), static_cast<Instrument*>(m_plan)}) {
        connect(instrument, &Instrument::handlesMoved, this, &SurveyRoom::moveHandles);
        connect(instrument, &Instrument::handlesRested, &m_session, &Session::endGesture);
        connect(instrument, &Instrument::handlesRested, this,
                [this] { m_view->setFocusDragged(false); });
    }
    return area;
}

std::vector<RoomCommand> SurveyRoom::commands() {
    return {
        {tr("Render what is stale"), QKeySequence(Qt::Key_F6), [this] { m_passes->render(false); }},
        {tr("Stop rendering"), {}, [this] { m_renderer.stop(); }}};
}

void SurveyRoom::fitPicture() { m_view->fit(); }

void SurveyRoom::showWholePixels() { m_view->setZoom(1.0, QRectF(m_view->rect()).center()); }

void SurveyRoom::moveHandles(const std::vector<HandleMove>& moves) {
    for (const HandleMove& move : moves) {
        const auto edit = [&](Project& p) {
            moveSurveyHandle(p, m_view->automaticRange(), move.owner, move.handle, move.to);
        };
        const QString gesture =
            QStringLiteral("survey.%1.%2").arg(qstring(move.owner), qstring(move.handle));
        if (isOfScene(move.owner)) {
            const bool turned = move.owner == kSunsOwner;
            m_view->changeMoving((turned ? tr("Turn %1") : tr("Move %1")).arg(qstring(move.handle)),
                                 gesture, edit);
            continue;
        }
        m_view->setFocusDragged(std::ranges::any_of(lanes(), [&](const HandleGroup& lane) {
            return lane.owner == move.owner && lane.isFocus();
        }));
        m_session.change(tr("Drag on the depth axis"), gesture, edit);
    }
}

void SurveyRoom::takeDepth(const std::optional<Pass>& depth) {
    MeasuredFrame frame;
    frame.shown =
        shownFrame(m_session.project(), m_session.view().camera, m_view->automaticRange());
    frame.depth = depth;
    m_sounding->setFrame(frame);
    m_measure->setAutomaticRange(m_view->automaticRange());
    takeProject();
    if (depth) {
        m_plan->setFrame(frame);
        m_passes->setDepth(depth->image);
    }
}

void SurveyRoom::takeProject() {
    const std::vector<HandleGroup> all = lanes();
    m_plan->setGroups(all, {});
    m_sounding->setGroups(all, {});
}

std::vector<HandleGroup> SurveyRoom::lanes() const {
    const Project& project = m_session.project();
    return surveyLanes(project, m_view->automaticRange(),
                       shownFrame(project, m_session.view().camera, m_view->automaticRange()),
                       m_view->shown().kind == PassKind::Mist);
}

void SurveyRoom::show(const PassName& pass) {
    for (const auto& [each, button] : m_shownAs)
        button->setChecked(each == pass.kind);
    m_view->setShown(pass);
    m_passes->setShown(pass);
    takeProject();
}

}  // namespace noctis
