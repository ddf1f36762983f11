// What Picture shows of time: the strip, and what plays.
#include "app/look/picture_paint.h"
#include "app/picture/key_curves.h"
#include "app/picture/picture_hand.h"
#include "app/picture/picture_room.h"
#include "app/picture/picture_view.h"
#include "app/picture/recipe_panel.h"
#include "app/picture/time_strip.h"
#include "core/recipe/recipe_at.h"
#include "core/steps/registry.h"

#include <algorithm>

namespace noctis {

void PictureRoom::connectTime() {
    connect(m_time, &TimeStrip::frameChosen, this, [this](int frame) {
        setPlaying(false);
        setHandMoving(true);
        m_session.goTo(frame);
        m_session.noteGap(frame);
    });
    connect(m_time, &TimeStrip::playAsked, this, &PictureRoom::setPlaying);
    connect(m_time, &TimeStrip::partChanged, this, [this] { m_player.setFrames(m_time->part()); });
    connect(m_time, &TimeStrip::afterLastChosen, this,
            [this](AfterLast after) { m_player.setAfterLast(after); });
    connect(m_time, &TimeStrip::keysMoved, this, [this](int from, int to, bool copies) {
        m_session.change(copies ? tr("Copy keys") : tr("Move keys"), QStringLiteral("keys"),
                         [&](Project& p) {
                             if (Step* step = p.recipe.find(m_recipe->chosen()))
                                 moveKeys(*step, from, to, copies);
                         });
    });
    connect(m_time, &TimeStrip::keysRested, &m_session, &Session::endGesture);
    connect(m_time, &TimeStrip::curvesAsked, this, &PictureRoom::setCurvesShown);
    connect(m_recipe, &RecipePanel::curveAsked, this, [this](const TrackPlace& place) {
        m_curveOf = place;
        if (m_recipe->chosen() != place.step)
            m_recipe->choose(place.step);
        setCurvesShown(true);
        m_curves->choose(place);
    });
    connect(m_curves, &KeyCurves::keysEdited, this,
            [this](const QString& what, const QString& gesture, const TrackPlace& place,
                   const KeyList& keys) {
                m_session.change(what, gesture, [&](Project& p) {
                    setKeys(p.recipe, stepCatalogue(), m_session.time(), place, keys);
                });
            });
    connect(m_curves, &KeyCurves::flickerEdited, this,
            [this](const QString& gesture, const TrackPlace& place, const Flicker& flicker) {
                m_session.change(tr("Flicker"), gesture,
                                 [&](Project& p) { setFlicker(p.recipe, place, flicker); });
            });
    connect(m_curves, &KeyCurves::rested, &m_session, &Session::endGesture);
    connect(m_curves, &KeyCurves::frameChosen, m_time, &TimeStrip::frameChosen);
    connect(&m_player, &Player::stopped, this, [this] {
        m_time->setPlaying(std::nullopt);
        if (m_measureLater)
            measure();
        takeTime();
    });
    connect(&m_session, &Session::timeChanged, this, &PictureRoom::takeTime);
    connect(&m_session.sequence(), &SequenceFrames::frameRead, this, &PictureRoom::showKept);
    connect(&m_session.sequence(), &SequenceFrames::frameDamaged, this, &PictureRoom::showKept);
    connect(&m_session, &Session::opened, this, [this] { setPlaying(false); });
}

void PictureRoom::takeTime() {
    m_hand->refresh();
    showTime();
    ask();
}

void PictureRoom::showTime() {
    const auto [first, last] = m_session.frames();
    m_time->setVisible(first < last);
    if (first >= last)
        setPlaying(false);
    m_time->setFrames({first, last}, m_session.framesPerSecond());
    m_time->setFrame(m_session.time().number);
    const Step* chosen = m_session.project().recipe.find(m_recipe->chosen());
    m_time->setKeys(chosen != nullptr ? keyFramesOf(*chosen) : std::vector<int>());
    showCurves();
    m_player.setFrames(m_time->part());
    m_player.setRate(m_session.framesPerSecond());
    showKept();
    if (!m_player.playing())
        return;
    const double shown = m_player.shownPerSecond();
    QStringList parts;
    if (shown > 0.0)
        parts
            << tr("%1 of %2 fps").arg(shown, 0, 'f', 0).arg(m_session.framesPerSecond(), 0, 'g', 4);
    if (m_player.dropped() > 0)
        parts << tr("%1 dropped").arg(m_player.dropped());
    m_time->setPlaying(parts.join(QStringLiteral(", ")));
}

void PictureRoom::setCurvesShown(bool shown) {
    enlarge(nullptr);
    if (!shown)
        m_curveOf = {};
    m_curves->setVisible(shown);
    m_instrumentRow->setVisible(!shown);
    showTime();
}

void PictureRoom::showCurves() {
    const Recipe& recipe = m_session.project().recipe;
    const Step* chosen = recipe.find(m_recipe->chosen());
    const bool shown = m_curves->isVisibleTo(this);
    const bool moves = chosen != nullptr && chosen->usable() && !trackPlacesOf(*chosen).empty();
    m_time->setCurves(shown, moves);
    if (!shown)
        return;
    std::vector<TrackPlace> places;
    if (chosen != nullptr && chosen->usable()) {
        places = trackPlacesOf(*chosen);
        const bool extra = m_curveOf.step == chosen->id && tracksAt(recipe, m_curveOf) != nullptr &&
                           std::ranges::find(places, m_curveOf) == places.end();
        if (extra)
            places.push_back(m_curveOf);
    }
    std::vector<MovingSetting> settings;
    for (const TrackPlace& place : places) {
        const Tracks& tracks = *tracksAt(recipe, place);
        const Parameter& parameter = movingParameter(recipe, stepCatalogue(), place);
        MovingSetting& setting = settings.emplace_back(
            MovingSetting{place, qstring(parameter.label), parameter, {}, {}, {}});
        if (!place.criterion.empty())
            setting.label = tr("Where: %1").arg(setting.label);
        else if (const auto bracket = place.setting.find('['); bracket != std::string::npos)
            setting.label +=
                QLatin1Char(' ') +
                qstring(place.setting.substr(bracket + 1, place.setting.find(']') - bracket - 1));
        if (const auto keys = tracks.keys.find(place.setting); keys != tracks.keys.end())
            setting.keys = keys->second;
        if (const auto flicker = tracks.flicker.find(place.setting);
            flicker != tracks.flicker.end())
            setting.flicker = flicker->second;
        // Flicker is drawn on top.
        Recipe still = recipe;
        tracksAt(still, place)->flicker.erase(place.setting);
        setting.value = valueNow(still, stepCatalogue(), m_session.time(), place);
    }
    m_curves->setFrames(m_session.frames().first < m_session.frames().second
                            ? m_session.frames()
                            : std::pair(1, kLeastFrames),
                        m_session.time().number, m_session.framesPerSecond());
    m_curves->setSettings(settings);
}

void PictureRoom::showKept() {
    const auto [first, last] = m_session.frames();
    if (first >= last)
        return;
    const std::vector<int> kept = m_session.sequence().kept();
    m_time->setKept(kept.empty() ? m_worker.played().frames() : kept, m_session.sequence().gaps());
}

PictureRequest PictureRoom::requestAt(const FrameTime& time) const {
    const Project& project = m_session.project();
    PictureRequest request;
    request.recipe = recipeAt(project.recipe, stepCatalogue(), time);
    request.time = time;
    request.solo = m_recipe->soloed();
    request.view = project.viewTransform;
    request.exposure = project.exposure;
    request.ground = m_ground;
    return request;
}

bool PictureRoom::isReady(int frame) const {
    std::uint64_t state = 0;
    SequenceFrames& sequence = m_session.sequence();
    if (m_session.passesState() != 0) {
        const SequenceFrames::Kept* kept = sequence.find(sequence.shownAt(frame).value_or(frame));
        if (kept == nullptr)
            return false;
        state = kept->state;
    }
    PictureRequest request = requestAt(m_session.timeOf(frame));
    request.playing = playingFactor();
    return m_worker.isPlayed(request, state);
}

int PictureRoom::playingFactor() const {
    const double room = std::max(1.0, m_view->width() * m_view->devicePixelRatioF() / 2.0);
    return std::clamp(static_cast<int>(m_session.passes().width / room), 1, 16);
}

void PictureRoom::setPlaying(bool plays) {
    if (plays == m_player.playing())
        return;
    if (!plays)
        return m_player.stop();
    setHandMoving(false);
    m_time->setPlaying(QString());
    m_player.play(m_session.time().number);
    takeTime();
}

}  // namespace noctis
