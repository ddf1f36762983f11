#include "app/picture/key_graph.h"

#include "core/settings/value_parts.h"

#include <QKeyEvent>
#include <QLineF>
#include <QMouseEvent>

#include <algorithm>
#include <array>
#include <cmath>

namespace noctis {

namespace {

constexpr double kRight = 16.0;
constexpr double kBottom = 20.0;
constexpr double kKeyReach = 8.0;
constexpr double kStretchLine = 10.0;  ///< from the top
constexpr float kRoom = 0.14F;         ///< above and below the curve, of its height

/// Keys that were copied; they can be pasted into another setting of the same type.
KeyList& copiedKeys() {
    static KeyList keys;
    return keys;
}

float clamped(float value, const Parameter& parameter) {
    if (parameter.isNumber())
        return std::clamp(value, parameter.range.min, parameter.range.max);
    return parameter.type == ValueType::Colour ? std::max(value, 0.0F) : value;
}

}  // namespace

KeyGraph::KeyGraph(QWidget* parent) : QWidget(parent) {
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Curve"));
    setToolTip(tr("Drag keys in time and value, with Ctrl copies of them. Double-click sets a key, "
                  "Delete takes the chosen ones. The line above chosen keys stretches them."));
}

const MovingSetting* KeyGraph::active() const {
    return m_active < m_settings.size() ? &m_settings[m_active] : nullptr;
}

void KeyGraph::setSettings(std::vector<MovingSetting> settings) {
    m_settings = std::move(settings);
    choose(m_active);
}

void KeyGraph::choose(std::size_t index) {
    if (index != m_active)
        m_chosenKeys.clear();
    m_active = index;
    const MovingSetting* shown = active();
    if (shown != nullptr && m_hit.grip == Grip::None)
        m_range = rangeOf(*shown);
    std::set<int> there;
    if (shown != nullptr)
        for (const Key& key : shown->keys)
            if (m_chosenKeys.contains(key.frame))
                there.insert(key.frame);
    m_chosenKeys = std::move(there);
    update();
    Q_EMIT keysChosen();
}

void KeyGraph::setFrames(std::pair<int, int> frames, int now, double rate) {
    m_frames = frames;
    m_now = now;
    m_rate = rate;
    update();
}

QRectF KeyGraph::area() const {
    return {kLeft, kTop, std::max(20.0, width() - kLeft - kRight),
            std::max(20.0, height() - kTop - kBottom)};
}

double KeyGraph::frameAt(double x) const {
    const QRectF in = area();
    return m_frames.first +
           (x - in.left()) / in.width() * std::max(1, m_frames.second - m_frames.first);
}

float KeyGraph::valueAtY(double y) const {
    const QRectF in = area();
    return m_range.low +
           static_cast<float>((in.bottom() - y) / in.height()) * (m_range.high - m_range.low);
}

QPointF KeyGraph::placeIn(const Range& range, double frame, float value) const {
    const QRectF in = area();
    const double along = (frame - m_frames.first) / std::max(1, m_frames.second - m_frames.first);
    return {in.left() + in.width() * along,
            in.bottom() -
                in.height() * static_cast<double>((value - range.low) / (range.high - range.low))};
}

QPointF KeyGraph::placeOf(double frame, float value) const {
    return placeIn(m_range, frame, value);
}

KeyGraph::Range KeyGraph::rangeOf(const MovingSetting& setting) const {
    float low = std::numeric_limits<float>::infinity();
    float high = -low;
    const auto take = [&](const Value& value) {
        for (const float part : partsOf(value)) {
            low = std::min(low, part);
            high = std::max(high, part);
        }
    };
    constexpr int kSamples = 120;
    for (int i = 0; i <= kSamples; ++i)
        take(
            setting.at(m_frames.first + (m_frames.second - m_frames.first) * i / double{kSamples}));
    for (const Key& key : setting.keys)
        take(key.value);
    if (!(low <= high))
        return {};
    // A level curve has room to be dragged: a tenth of the slider, or a fifth of what it is.
    const float least =
        setting.parameter.isNumber()
            ? std::max(std::abs(high) * 0.2F,
                       (setting.parameter.range.sliderEnd - setting.parameter.range.min) * 0.02F)
            : 0.5F;
    const float room = std::max((high - low) * kRoom, high - low < 1e-6F ? least : 0.0F);
    const auto within = [&](float value) {
        return setting.parameter.isNumber()
                   ? std::clamp(value, setting.parameter.range.min, setting.parameter.range.max)
                   : value;
    };
    const Range shown{within(low - room), within(high + room)};
    return shown.low < shown.high ? shown : Range{low - room, high + room};
}

const Key* KeyGraph::bentKey(const Key** next) const {
    const MovingSetting* shown = active();
    if (shown == nullptr || m_chosenKeys.size() != 1 || partsOf(shown->value).size() != 1)
        return nullptr;
    const auto key = std::ranges::find(shown->keys, *m_chosenKeys.begin(), &Key::frame);
    if (key == shown->keys.end() || key + 1 == shown->keys.end())
        return nullptr;
    *next = &*(key + 1);
    return &*key;
}

std::optional<QPointF> KeyGraph::gripPlace(Grip grip) const {
    if (grip == Grip::FirstEnd || grip == Grip::LastEnd) {
        if (m_chosenKeys.size() < 2)
            return std::nullopt;
        const int frame = grip == Grip::FirstEnd ? *m_chosenKeys.begin() : *m_chosenKeys.rbegin();
        return QPointF(placeOf(frame, m_range.low).x(), kStretchLine);
    }
    const Key* next = nullptr;
    const Key* key = bentKey(&next);
    if (key == nullptr)
        return std::nullopt;
    const float from = partsOf(key->value).front();
    const float way = partsOf(next->value).front() - from;
    const int gap = next->frame - key->frame;
    if (key->ease == Ease::Settle && grip == Grip::Settle) {
        const int before = std::min(key->settleFrames, gap / 2);
        return placeOf(next->frame - before, from + way * (1.0F + key->over));
    }
    if (key->ease != Ease::Ease || (grip != Grip::BendOut && grip != Grip::BendIn))
        return std::nullopt;
    const auto bend = key->bend.value_or(std::array{1.0F / 3.0F, 0.0F, 2.0F / 3.0F, 1.0F});
    const std::size_t at = grip == Grip::BendOut ? 0 : 2;
    return placeOf(key->frame + static_cast<double>(bend.at(at)) * gap,
                   from + way * bend.at(at + 1));
}

KeyGraph::Hit KeyGraph::hitAt(const QPointF& at) const {
    const MovingSetting* shown = active();
    if (shown == nullptr)
        return {};
    for (const Grip grip :
         {Grip::BendOut, Grip::BendIn, Grip::Settle, Grip::FirstEnd, Grip::LastEnd})
        if (const auto place = gripPlace(grip); place && QLineF(*place, at).length() < kKeyReach)
            return {grip};
    for (const Key& key : shown->keys) {
        const std::vector<float> parts = partsOf(key.value);
        for (std::size_t part = 0; part < parts.size(); ++part)
            if (QLineF(placeOf(key.frame, parts[part]), at).length() < kKeyReach)
                return {Grip::Keys, key.frame, part};
        if (parts.empty() && std::abs(placeOf(key.frame, 0.0F).x() - at.x()) < kKeyReach)
            return {Grip::Keys, key.frame, 0};
    }
    return {at.y() > area().bottom() || at.y() < kTop ? Grip::Frame : Grip::Band};
}

void KeyGraph::chooseKeys(std::set<int> frames) {
    m_chosenKeys = std::move(frames);
    update();
    Q_EMIT keysChosen();
}

void KeyGraph::edit(const QString& what, KeyList keys, bool gesture) {
    Q_EMIT keysEdited(what, keys, gesture);
}

void KeyGraph::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton)
        return;
    m_pressed = event->position();
    m_hit = hitAt(m_pressed);
    const MovingSetting* shown = active();
    m_before = shown != nullptr ? shown->keys : KeyList();
    if (m_hit.grip == Grip::Frame)
        return mouseMoveEvent(event);
    if (m_hit.grip == Grip::Keys && !m_chosenKeys.contains(m_hit.frame)) {
        std::set<int> chosen;
        if (event->modifiers().testFlag(Qt::ShiftModifier))
            chosen = m_chosenKeys;
        chosen.insert(m_hit.frame);
        chooseKeys(std::move(chosen));
    }
    if (m_hit.grip == Grip::Band && !event->modifiers().testFlag(Qt::ShiftModifier))
        chooseKeys({});
    m_chosenBefore = m_chosenKeys;
}

void KeyGraph::mouseMoveEvent(QMouseEvent* event) {
    const QPointF at = event->position();
    switch (m_hit.grip) {
    case Grip::None:
        return;
    case Grip::Frame:
        return Q_EMIT frameChosen(std::clamp(static_cast<int>(std::lround(frameAt(at.x()))),
                                             m_frames.first, m_frames.second));
    case Grip::Band: {
        m_band = QRectF(m_pressed, at).normalized();
        std::set<int> chosen = m_chosenBefore;
        for (const Key& key : m_before)
            for (const float part : partsOf(key.value))
                if (m_band->contains(placeOf(key.frame, part)))
                    chosen.insert(key.frame);
        return chooseKeys(std::move(chosen));
    }
    case Grip::Keys:
        return dragKeys(at, event->modifiers().testFlag(Qt::ControlModifier));
    case Grip::FirstEnd:
    case Grip::LastEnd:
        return dragEnd(at);
    case Grip::BendOut:
    case Grip::BendIn:
    case Grip::Settle:
        return dragBend(at);
    }
}

void KeyGraph::dragKeys(const QPointF& to, bool copies) {
    const MovingSetting* shown = active();
    if (shown == nullptr)
        return;
    const int by = static_cast<int>(std::lround(frameAt(to.x()) - frameAt(m_pressed.x())));
    const float up = valueAtY(to.y()) - valueAtY(m_pressed.y());
    const std::vector<int> frames(m_chosenBefore.begin(), m_chosenBefore.end());
    KeyList keys = rearranged(
        m_before, frames, [by](int frame) { return frame + by; }, copies);
    std::set<int> chosen;
    for (const int frame : m_chosenBefore)
        chosen.insert(frame + by);
    for (Key& key : keys)
        if (const std::vector<float> parts = partsOf(key.value);
            chosen.contains(key.frame) && m_hit.part < parts.size())
            key.value =
                withPart(key.value, m_hit.part, clamped(parts[m_hit.part] + up, shown->parameter));
    m_chosenKeys = std::move(chosen);
    edit(copies ? tr("Copy keys") : tr("Move keys"), std::move(keys), true);
}

void KeyGraph::dragEnd(const QPointF& to) {
    const int first = *m_chosenBefore.begin();
    const int last = *m_chosenBefore.rbegin();
    const bool ofLast = m_hit.grip == Grip::LastEnd;
    const int still = ofLast ? first : last;
    const double length = std::max(1.0, std::abs(std::round(frameAt(to.x())) - still));
    const double factor = length / (last - first);
    const auto scaled = [&](int frame) {
        return still + static_cast<int>(std::lround((frame - still) * factor));
    };
    m_chosenKeys.clear();
    for (const int frame : m_chosenBefore)
        m_chosenKeys.insert(scaled(frame));
    edit(tr("Stretch keys"),
         rearranged(m_before, {m_chosenBefore.begin(), m_chosenBefore.end()}, scaled), true);
}

void KeyGraph::dragBend(const QPointF& to) {
    const Key* next = nullptr;
    const Key* key = bentKey(&next);
    if (key == nullptr)
        return;
    KeyList keys = m_before;
    const auto edited = std::ranges::find(keys, key->frame, &Key::frame);
    const float from = partsOf(key->value).front();
    const float way = partsOf(next->value).front() - from;
    const int gap = next->frame - key->frame;
    const float along =
        std::clamp(static_cast<float>((frameAt(to.x()) - key->frame) / gap), 0.0F, 1.0F);
    const float part = std::abs(way) < 1e-9F ? 1.0F : (valueAtY(to.y()) - from) / way;
    if (m_hit.grip == Grip::Settle) {
        edited->settleFrames =
            std::clamp(static_cast<int>(std::lround(static_cast<float>(gap) * (1.0F - along))), 1,
                       std::max(1, gap / 2));
        edited->over = std::clamp(part - 1.0F, 0.0F, 1.0F);
    } else {
        auto bend = key->bend.value_or(std::array{1.0F / 3.0F, 0.0F, 2.0F / 3.0F, 1.0F});
        const std::size_t at = m_hit.grip == Grip::BendOut ? 0 : 2;
        bend.at(at) = along;
        bend.at(at + 1) = std::clamp(part, -2.0F, 3.0F);
        edited->bend = bend;
    }
    edit(tr("Bend a curve"), std::move(keys), true);
}

void KeyGraph::mouseReleaseEvent(QMouseEvent*) {
    m_band.reset();
    if (m_hit.grip != Grip::None)
        Q_EMIT rested();
    m_hit = {};
    choose(m_active);
}

void KeyGraph::mouseDoubleClickEvent(QMouseEvent* event) {
    const MovingSetting* shown = active();
    if (shown == nullptr || hitAt(event->position()).grip != Grip::Band)
        return;
    const int frame = static_cast<int>(std::lround(frameAt(event->position().x())));
    KeyList keys = shown->keys;
    keyAt(keys, frame, shown->at(frame));
    m_chosenKeys = {frame};
    edit(tr("Set a key"), std::move(keys), false);
}

void KeyGraph::shiftChosen(int frames, float values) {
    const MovingSetting* shown = active();
    if (shown == nullptr || m_chosenKeys.empty())
        return;
    KeyList keys = rearranged(shown->keys, {m_chosenKeys.begin(), m_chosenKeys.end()},
                              [frames](int frame) { return frame + frames; });
    std::set<int> chosen;
    for (const int frame : m_chosenKeys)
        chosen.insert(frame + frames);
    for (Key& key : keys)
        if (chosen.contains(key.frame) && values != 0.0F) {
            const std::vector<float> parts = partsOf(key.value);
            for (std::size_t part = 0; part < parts.size(); ++part)
                key.value =
                    withPart(key.value, part, clamped(parts[part] + values, shown->parameter));
        }
    m_chosenKeys = std::move(chosen);
    edit(tr("Move keys"), std::move(keys), false);
}

bool KeyGraph::event(QEvent* event) {
    // Keys that the window would take for its own.
    if (event->type() == QEvent::ShortcutOverride) {
        auto* press = static_cast<QKeyEvent*>(event);
        if (press->matches(QKeySequence::Copy) || press->matches(QKeySequence::Paste) ||
            press->matches(QKeySequence::SelectAll) || press->key() == Qt::Key_Delete) {
            event->accept();
            return true;
        }
    }
    return QWidget::event(event);
}

void KeyGraph::keyPressEvent(QKeyEvent* event) {
    const MovingSetting* shown = active();
    if (shown == nullptr)
        return QWidget::keyPressEvent(event);
    if (event->matches(QKeySequence::Copy)) {
        copiedKeys().clear();
        std::ranges::copy_if(shown->keys, std::back_inserter(copiedKeys()),
                             [&](const Key& key) { return m_chosenKeys.contains(key.frame); });
        return;
    }
    if (event->matches(QKeySequence::Paste)) {
        KeyList keys = shown->keys;
        std::set<int> pasted;
        for (Key key : copiedKeys())
            if (key.value.index() == shown->parameter.initial.index()) {
                key.frame += m_now - copiedKeys().front().frame;
                pasted.insert(key.frame);
                setKey(keys, std::move(key));
            }
        if (pasted.empty())
            return;
        m_chosenKeys = std::move(pasted);
        return edit(tr("Paste keys"), std::move(keys), false);
    }
    if (event->matches(QKeySequence::SelectAll)) {
        std::set<int> all;
        for (const Key& key : shown->keys)
            all.insert(key.frame);
        return chooseKeys(std::move(all));
    }
    const float nudge = (m_range.high - m_range.low) / 100.0F;
    switch (event->key()) {
    case Qt::Key_Left:
        return shiftChosen(-1, 0.0F);
    case Qt::Key_Right:
        return shiftChosen(1, 0.0F);
    case Qt::Key_Up:
        return shiftChosen(0, nudge);
    case Qt::Key_Down:
        return shiftChosen(0, -nudge);
    case Qt::Key_Delete:
    case Qt::Key_Backspace: {
        KeyList keys = shown->keys;
        std::erase_if(keys, [&](const Key& key) { return m_chosenKeys.contains(key.frame); });
        m_chosenKeys.clear();
        return edit(tr("Take keys"), std::move(keys), false);
    }
    default:
        QWidget::keyPressEvent(event);
    }
}

}  // namespace noctis
