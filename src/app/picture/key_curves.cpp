#include "app/picture/key_curves.h"

#include "app/controls/hairline.h"
#include "app/controls/settings_form.h"
#include "app/look/theme.h"
#include "core/settings/settings_builder.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QScrollArea>
#include <QVBoxLayout>

#include <algorithm>

namespace noctis {

namespace {

constexpr int kFormWidth = 264;

/// How chosen keys go on.
struct GoesOn {
    Ease ease = Ease::Linear;
    float over = 0.15F;
    int frames = 10;
};

const SettingsBuilder<GoesOn>& goesOnBuilder() {
    static const auto builder = [] {
        using S = GoesOn;
        SettingsBuilder<S> b;
        b.choice(&S::ease, "ease", "Ease",
                 {{"hold", "Hold"}, {"linear", "Linear"}, {"ease", "Ease"}, {"settle", "Settle"}},
                 "How the chosen keys go to the next one: not at all, straight, gently, or past it "
                 "and back to rest on it.");
        b.number(&S::over, "over", "Overshoot", Unit::Percent, {0.0F, 1.0F, 0.5F},
                 "How far it goes past the next key, as a part of the way.")
            .onlyWhen("ease=settle");
        b.whole(&S::frames, "frames", "Frames", {1.0F, 1000.0F, 48.0F},
                "How many frames before the next key it is farthest past it.")
            .onlyWhen("ease=settle");
        return b;
    }();
    return builder;
}

Settings settingsOf(const GoesOn& s) {
    return {
        {"ease", goesOnBuilder().parameters().front().choices[static_cast<std::size_t>(s.ease)].id},
        {"over", s.over},
        {"frames", static_cast<float>(s.frames)}};
}

struct Flickers {
    float amount = 0.0F;
    float perSecond = 8.0F;
    int seed = 1;
};

const SettingsBuilder<Flickers>& flickersBuilder() {
    static const auto builder = [] {
        using S = Flickers;
        SettingsBuilder<S> b;
        b.number(&S::amount, "amount", "Flicker", Unit::Percent, {0.0F, 1.0F, 1.0F},
                 "How far the value goes up and down about what it is.");
        b.number(&S::perSecond, "per_second", "A second", Unit::Count, {0.01F, 1000.0F, 24.0F},
                 "How many peaks it has in a second.")
            .onlyWhen("amount>0");
        b.whole(&S::seed, "seed", "Seed", {0.0F, 1e6F, 100.0F},
                "Another number is another flicker of the same kind.")
            .onlyWhen("amount>0");
        return b;
    }();
    return builder;
}

Settings settingsOf(const Flickers& s) {
    return {
        {"amount", s.amount}, {"per_second", s.perSecond}, {"seed", static_cast<float>(s.seed)}};
}

}  // namespace

KeyCurves::KeyCurves(QWidget* parent) : QWidget(parent) {
    setObjectName("key-curves");
    m_which = new QComboBox;
    m_which->setAccessibleName(tr("Curve of"));
    m_which->setToolTip(tr("The setting whose keys are dragged; the others are faint behind it."));
    m_ease = new SettingsForm(goesOnBuilder().parameters());
    m_flicker = new SettingsForm(flickersBuilder().parameters());
    m_graph = new KeyGraph;
    auto* column = new QWidget;
    auto* forms = new QVBoxLayout(column);
    forms->setContentsMargins(12, 8, 12, 4);
    forms->setSpacing(6);
    forms->addWidget(m_which);
    m_hint = new QLabel;
    m_hint->setProperty("role", "quiet");
    m_hint->setFont(theme::font(12));
    m_hint->setWordWrap(true);
    forms->addWidget(m_hint);
    forms->addWidget(m_ease);
    forms->addWidget(m_flicker);
    forms->addStretch(1);
    auto* scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setWidget(column);
    scroll->setFixedWidth(kFormWidth);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(0);
    row->addWidget(scroll);
    row->addWidget(hairline(true));
    row->addWidget(m_graph, 1);
    connect(m_which, &QComboBox::activated, this,
            [this](int index) { choose(m_settings.at(static_cast<std::size_t>(index)).place); });
    connect(m_graph, &KeyGraph::keysChosen, this, &KeyCurves::showForms);
    connect(m_graph, &KeyGraph::keysEdited, this,
            [this](const QString& what, const KeyList& keys, bool gesture) {
                Q_EMIT keysEdited(what, gesture ? QStringLiteral("curve") : QString(), m_chosen,
                                  keys);
            });
    connect(m_graph, &KeyGraph::rested, this, &KeyCurves::rested);
    connect(m_graph, &KeyGraph::frameChosen, this, &KeyCurves::frameChosen);
    connect(m_ease, &SettingsForm::edited, this, &KeyCurves::editEase);
    connect(m_ease, &SettingsForm::rested, this, &KeyCurves::rested);
    connect(m_flicker, &SettingsForm::edited, this, [this](const QString& id, const Value& value) {
        const MovingSetting* shown = active();
        if (shown == nullptr)
            return;
        Flickers now;
        if (shown->flicker)
            now = {shown->flicker->amount, shown->flicker->perSecond,
                   static_cast<int>(shown->flicker->seed)};
        Settings settings = settingsOf(now);
        settings.set(id.toStdString(), value);
        now = flickersBuilder().bind(settings);
        Q_EMIT flickerEdited(
            QStringLiteral("flicker.") + id, m_chosen,
            {now.amount, now.perSecond, static_cast<std::uint32_t>(std::max(now.seed, 0))});
    });
    connect(m_flicker, &SettingsForm::rested, this, &KeyCurves::rested);
}

const MovingSetting* KeyCurves::active() const {
    const auto found = std::ranges::find(m_settings, m_chosen, &MovingSetting::place);
    return found == m_settings.end() ? nullptr : &*found;
}

void KeyCurves::setSettings(const std::vector<MovingSetting>& settings) {
    m_settings = settings;
    m_which->clear();
    for (const MovingSetting& setting : m_settings)
        m_which->addItem(setting.label);
    m_graph->setSettings(m_settings);
    choose(active() == nullptr && !m_settings.empty() ? m_settings.front().place : m_chosen);
}

void KeyCurves::choose(const TrackPlace& place) {
    m_chosen = place;
    const auto found = std::ranges::find(m_settings, place, &MovingSetting::place);
    const auto index = static_cast<std::size_t>(found - m_settings.begin());
    m_which->setCurrentIndex(found == m_settings.end() ? -1 : static_cast<int>(index));
    m_graph->choose(index);
    showForms();
}

void KeyCurves::setFrames(std::pair<int, int> frames, int now, double rate) {
    m_graph->setFrames(frames, now, rate);
}

void KeyCurves::showForms() {
    const MovingSetting* shown = active();
    const std::set<int>& frames = m_graph->chosenKeys();
    m_ease->setVisible(shown != nullptr && !frames.empty());
    m_hint->setVisible(shown != nullptr && frames.empty());
    m_hint->setText(shown != nullptr && shown->keys.empty()
                        ? tr("It stands still. Double-click its line to set a key.")
                        : tr("Choose keys to set how they go on."));
    m_flicker->setVisible(shown != nullptr && (shown->parameter.isNumber() ||
                                               shown->parameter.type == ValueType::Colour));
    if (shown == nullptr)
        return;
    const auto key = std::ranges::find_if(
        shown->keys, [&](const Key& each) { return frames.contains(each.frame); });
    if (key != shown->keys.end())
        m_ease->setSettings(settingsOf(GoesOn{key->ease, key->over, key->settleFrames}));
    Flickers now;
    if (shown->flicker)
        now = {shown->flicker->amount, shown->flicker->perSecond,
               static_cast<int>(shown->flicker->seed)};
    m_flicker->setSettings(settingsOf(now));
}

void KeyCurves::editEase(const QString& id, const Value& value) {
    const MovingSetting* shown = active();
    if (shown == nullptr)
        return;
    KeyList keys = shown->keys;
    for (Key& key : keys)
        if (m_graph->chosenKeys().contains(key.frame)) {
            Settings settings = settingsOf(GoesOn{key.ease, key.over, key.settleFrames});
            settings.set(id.toStdString(), value);
            const GoesOn now = goesOnBuilder().bind(settings);
            key.ease = now.ease;
            key.over = now.over;
            key.settleFrames = now.frames;
        }
    Q_EMIT keysEdited(tr("Ease of keys"), id == "ease" ? QString() : QStringLiteral("ease.") + id,
                      m_chosen, keys);
}

}  // namespace noctis
