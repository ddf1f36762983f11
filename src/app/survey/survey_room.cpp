#include "app/survey/survey_room.h"

#include "app/instruments/sounding.h"
#include "app/look/picture_paint.h"
#include "app/look/theme.h"
#include "app/survey/frame_bar.h"
#include "app/survey/pass_list.h"
#include "app/survey/trace_view.h"
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
    m_sounding = new Sounding;
    m_sounding->setFixedHeight(150);
    auto* heading = new QLabel(tr("Sounding"), m_sounding);
    heading->setProperty("role", "heading");
    heading->move(16, 8);

    auto* top = new QVBoxLayout;
    top->setContentsMargins(0, 6, 0, 4);
    top->setSpacing(2);
    auto* bar = new QHBoxLayout;
    bar->setContentsMargins(14, 0, 14, 0);
    auto* views = new QLabel(tr("Views"));
    views->setProperty("role", "heading");
    bar->addWidget(views);
    bar->addStretch(1);
    bar->addWidget(new FrameBar(session));
    top->addLayout(bar);
    top->addWidget(new ViewsStrip(session));

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

    auto* middle = new QVBoxLayout;
    middle->setSpacing(0);
    middle->addLayout(top);
    middle->addLayout(tabs);
    middle->addWidget(m_view, 1);
    middle->addWidget(m_sounding);
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addLayout(middle, 1);
    layout->addWidget(m_passes);

    connect(m_view, &TraceView::depthSeen, m_sounding, &Sounding::setDepth);
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

void SurveyRoom::show(const PassName& pass) {
    for (const auto& [each, button] : m_shownAs)
        button->setChecked(each == pass.kind);
    m_view->setShown(pass);
}

}  // namespace noctis
