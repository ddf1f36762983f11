// What is shown of what moves in time.
#include "app/session/session.h"
#include "core/passes/frame_name.h"
#include "core/recipe/recipe_at.h"
#include "core/steps/registry.h"

#include <algorithm>

namespace noctis {

double Session::framesPerSecond() const {
    return project().sequence ? project().sequence->rate : project().framesPerSecond;
}

bool Session::isSequence() const {
    return m_sequence.files().isSequence() && !m_frame.unsaved &&
           m_frame.files == m_sequence.files().at(m_passesOf);
}

std::vector<std::filesystem::path> Session::filesNow() const {
    return m_sequence.files().at(m_passesOf);
}

FrameTime Session::timeOf(int frame) const {
    const int first = project().sequence ? project().sequence->first
                      : isSequence()     ? m_sequence.files().first
                                         : 1;
    return {frame, (frame - first) / framesPerSecond()};
}

std::pair<int, int> Session::frames() const {
    if (project().sequence)
        return {project().sequence->first, project().sequence->last};
    if (isSequence())
        return {m_sequence.files().first, m_sequence.files().last};
    if (!moves(project().recipe) && !readsTime(project().recipe, stepCatalogue()))
        return {1, 1};
    const auto keyed = keyedFrames(project().recipe);
    return {std::min(1, keyed ? keyed->first : 1),
            std::max(kLeastFrames, keyed ? keyed->second : 1)};
}

bool Session::readingFrame() const {
    return isSequence() && m_sequence.shownAt(m_now).value_or(m_passesOf) != m_passesOf;
}

void Session::goTo(int frame) {
    const auto [first, last] = frames();
    frame = std::clamp(frame, first, last);
    if (m_now == frame)
        return;
    const int way = frame > m_now ? 1 : -1;
    m_now = frame;
    if (isSequence())
        showSequenceFrame(way);
    Q_EMIT timeChanged();
}

void Session::followSequence(bool opened) {
    FrameFiles files = frameFilesOf(project());
    if (opened)
        m_now = m_passesOf = files.named;
    m_sequence.setSource({std::move(files), project().readings});
}

void Session::showSequenceFrame(int way) {
    const std::optional<int> shown = m_sequence.shownAt(m_now);
    if (!shown)
        return;
    if (m_passesState == 0 && m_sequence.find(m_passesOf) == nullptr)
        m_passesState = m_sequence.put(m_passesOf, m_frame.passes);  // to come back to
    m_sequence.want(*shown, way);
    if (*shown == m_passesOf)
        return;
    if (const SequenceFrames::Kept* kept = m_sequence.find(*shown))
        takeSequenceFrame(*shown, *kept);
}

void Session::takeSequenceFrame(int frame, const SequenceFrames::Kept& kept) {
    m_frame.passes = kept.passes;
    m_passesOf = frame;
    m_frame.files = filesNow();
    m_frame.change = ++m_change;
    m_passesState = kept.state;
    m_filesSettle.start();  // then its files are watched
    deriveMist();
    Q_EMIT passesChanged();
}

void Session::noteGap(int frame) {
    const std::optional<int> shown = m_sequence.shownAt(frame);
    if (isSequence() && shown && *shown != frame)
        Q_EMIT notified(tr("Frame %1 is missing; it is shown with the passes of frame %2.")
                            .arg(frame)
                            .arg(*shown),
                        false);
}

Recipe Session::recipeNow() const { return recipeAt(project().recipe, stepCatalogue(), time()); }

void Session::changeRecipe(const QString& what, const QString& gesture,
                           const std::function<void(Recipe&)>& edit) {
    change(what, gesture,
           [&](Project& p) { p.recipe = editedAt(p.recipe, stepCatalogue(), time(), edit); });
}

}  // namespace noctis
