#include "app/survey/measure_bar.h"

#include "app/controls/elided_label.h"
#include "app/look/picture_paint.h"
#include "app/look/theme.h"
#include "app/survey/survey_lanes.h"
#include "core/steps/registry.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>

#include <algorithm>

namespace noctis {

namespace {

void focusAt(Project& project, float metres) {
    for (Step& step : project.recipe.steps) {
        if (!step.usable())
            continue;
        const StepType& type = stepCatalogue().type(step.type);
        if (type.focusParameter.empty())
            continue;
        step.settings.set(type.focusParameter, metres);
        return;
    }
    for (const StepType& type : stepCatalogue().types())
        if (!type.focusParameter.empty() && project.recipe.steps.size() < kMostSteps) {
            Step step = stepCatalogue().newStep(type.id, project.recipe);
            step.settings.set(type.focusParameter, metres);
            project.recipe.steps.push_back(step);
            return;
        }
}

void mistFrom(Project& project, float metres) {
    Settings& mist = askPass(project, {PassKind::Mist, {}}).settings;
    moveMistHandle(mist, "begins", metres);
}

}  // namespace

MeasureBar::MeasureBar(Session& session, QWidget* parent) : QWidget(parent), m_session(session) {
    setFixedHeight(30);
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(14, 0, 10, 0);
    layout->setSpacing(4);
    m_text = new ElidedLabel;
    m_text->setProperty("role", "quiet");
    m_text->setFont(theme::font(12));
    m_text->setObjectName("measured");
    layout->addWidget(m_text, 1);
    addAction("near-here", tr("Near here"), tr("The depth ramp begins at this distance."),
              [this](Project& p) {
                  moveSurveyHandle(p, m_automatic, kRampOwner, "near", m_place->depth);
              });
    addAction("far-here", tr("Far here"), tr("The depth ramp ends at this distance."),
              [this](Project& p) {
                  moveSurveyHandle(p, m_automatic, kRampOwner, "far", m_place->depth);
              });
    addAction("focus-here", tr("Focus here"),
              tr("The lens of the recipe focuses at this distance."),
              [this](Project& p) { focusAt(p, m_place->depth); });
    addAction("mist-here", tr("Mist from here"), tr("The mist begins at this distance."),
              [this](Project& p) { mistFrom(p, m_place->depth); });
    addAction("pin", tr("Keep a pin"), tr("Keeps this place marked in the view."),
              [this](Project& p) {
                  p.pins.push_back({m_place->object, m_place->position});
              });
    clear();
    connect(&m_session, &Session::sceneChanged, this, &MeasureBar::clear);
    connect(&m_session, &Session::projectChanged, this, &MeasureBar::followCamera);
}

void MeasureBar::addAction(const QString& id, const QString& label, const QString& help,
                           const std::function<void(Project&)>& edit) {
    auto* button = new QPushButton(label);
    button->setProperty("role", "link");
    button->setFont(theme::font(12));
    button->setObjectName(id);
    button->setToolTip(help);
    button->setEnabled(false);
    connect(button, &QPushButton::clicked, this, [this, label, edit] {
        if (m_place)
            m_session.change(label, {}, edit);
    });
    static_cast<QHBoxLayout*>(layout())->addWidget(button);
}

void MeasureBar::clear() {
    m_place.reset();
    m_before.reset();
    m_text->setText(tr("Click a thing to measure it."));
    for (auto* button : findChildren<QPushButton*>())
        button->setEnabled(false);
}

QString MeasureBar::text() const { return m_text->text(); }

void MeasureBar::setPlace(const SeenPlace& place) {
    m_before = m_place ? std::optional(m_place->position) : std::nullopt;
    m_place = place;
    m_from = m_session.view().camera;
    showText();
    for (auto* button : findChildren<QPushButton*>())
        button->setEnabled(true);
}

void MeasureBar::followCamera() {
    const Camera camera = m_session.view().camera;
    if (!m_place || camera == m_from)
        return;
    m_from = camera;
    m_place->depth = -(m_place->position * camera.cameraToWorld.inverse()).z;
    m_place->distance = (m_place->position - camera.position()).length();
    showText();
}

void MeasureBar::showText() {
    const SeenPlace& place = *m_place;
    QStringList parts{qstring(place.object), tr("%1 deep").arg(metresText(place.depth)),
                      tr("%1 away").arg(metresText(place.distance))};
    if (m_before)
        parts
            << tr("%1 from the last place").arg(metresText((place.position - *m_before).length()));
    m_text->setText(parts.join(QStringLiteral("    ")));
}

}  // namespace noctis
