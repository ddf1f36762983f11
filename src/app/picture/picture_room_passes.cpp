// Which passes Picture shows, and what they say of the place under the pointer.
#include "app/look/picture_paint.h"
#include "app/picture/export_panel.h"
#include "app/picture/pass_prints.h"
#include "app/picture/picture_bar.h"
#include "app/picture/picture_hand.h"
#include "app/picture/picture_room.h"
#include "app/picture/picture_view.h"
#include "app/picture/reading_panel.h"
#include "core/passes/appearance.h"
#include "core/passes/probe.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace noctis {

namespace {

/// Instruments show no more than this many pixels do.
constexpr double kOverviewPixels = 2.2e6;
constexpr std::array kMeasures{PassKind::Depth,        PassKind::Distance, PassKind::Position,
                               PassKind::FacingNormal, PassKind::Normal,   PassKind::Coverage};
constexpr std::array kDerived{PassKind::Depth, PassKind::Position};

/// The passes that instruments are drawn from, at a size that is enough for them.
PassSet overviewOf(const PassSet& set) {
    PassSet measures = set;
    std::erase_if(measures.passes, [](const Pass& pass) {
        return std::find(kMeasures.begin(), kMeasures.end(), pass.kind) == kMeasures.end();
    });
    const double pixels = static_cast<double>(set.width) * set.height;
    return shrink(measures,
                  std::max(1, static_cast<int>(std::ceil(std::sqrt(pixels / kOverviewPixels)))));
}

/// What is derived from the measured passes and stands as a print, too.
std::vector<Pass> derivedOf(const PassSet& set, const PassSet& overview) {
    std::vector<Pass> derived;
    for (const PassKind kind : kDerived)
        if (set.find(kind) == nullptr)
            if (auto pass = tryResolvePass(overview, kind))
                derived.push_back(*std::move(pass));
    return derived;
}

/// The kind of such a pass, by its name.
std::optional<PassKind> derivedNamed(const PassSet& set, const std::string& name) {
    for (const PassKind kind : kDerived)
        if (name == passKindInfo(kind).id && canResolve(set, kind))
            return kind;
    return std::nullopt;
}

bool isThere(const PassSet& set, const std::string& name) {
    return set.find(std::string_view(name)) != nullptr || derivedNamed(set, name).has_value();
}

/// How a pass is looked at.
struct PassSight {
    std::string name;
    int channel = -1;  ///< -1: all
    ViewTransform transform;
    float exposure;
};

QImage pictureOf(const Pass& pass, const PassSight& sight) {
    if (sight.channel >= 0 && sight.channel < pass.image.channels())
        return toQImage(channelAppearance(pass, sight.channel));
    if (pass.kind == PassKind::Beauty || pass.kind == PassKind::Colour)
        return toQImage(viewed(pass.image, sight.transform, sight.exposure));
    return toQImage(appearanceOf(pass));
}

QStringList channelsOf(const Pass& pass) {
    QStringList channels;
    if (pass.image.channels() >= 2 && pass.image.channels() <= 4)
        for (int c = 0; c < pass.image.channels(); ++c)
            channels << qstring(pass.image.channelName(c));
    return channels;
}

}  // namespace

void PictureRoom::measure() {
    m_measureLater = false;
    m_measuring.ask([this, set = m_session.passes(), time = m_session.time()]() -> Latest::Result {
        const PassSet overview = overviewOf(set);
        return [this, frame = measuredFrame(overview, time),
                prints = printsOf(set, derivedOf(set, overview))] {
            m_prints->setPrints(prints);
            m_hand->takeFrame(frame);
        };
    });
}

void PictureRoom::takePasses() {
    showSeenThrough();
    showGroundHandle();
    const PassSet& set = m_session.passes();
    m_worker.setPasses(set, m_session.passesState());
    // Of a sequence, the picture comes first; while it plays, it is all that is seen.
    m_measureLater = m_player.playing() || m_session.passesState() != 0;
    if (!m_measureLater)
        measure();
    if (!isThere(set, m_shownPass.toStdString())) {
        // One that is taken for another kind may have another name.
        const auto same = std::find_if(set.passes.begin(), set.passes.end(), [this](const Pass& p) {
            return !p.key.empty() && p.key == m_shownKey;
        });
        m_shownPass = same == set.passes.end() ? QString() : qstring(same->name);
        m_prints->setChosen(m_shownPass);
    }
    m_beforeExposure = -1e9F;
    takeProject();
    showChosenPass();
}

void PictureRoom::probe(const QPointF& picture) {
    const int x = static_cast<int>(std::floor(picture.x()));
    const int y = static_cast<int>(std::floor(picture.y()));
    const PassSet& set = m_session.passes();
    if (set.empty() || x < 0 || y < 0 || x >= set.width || y >= set.height) {
        m_bar->setReading({}, {});
        setNeedle({});
        return;
    }
    QStringList parts{QStringLiteral("%1, %2").arg(x).arg(y)};
    std::vector<ProbedValue> readings = probeAt(set, x, y);
    for (ProbedValue& derived : derivedAt(set, x, y))
        readings.push_back(std::move(derived));
    const bool sky = std::any_of(readings.begin(), readings.end(), [](const ProbedValue& r) {
        return r.kind == PassKind::Depth && !std::isfinite(r.value.front());
    });
    if (sky)  // of which other passes have their backgrounds alone
        parts << tr("sky");
    Needle needle;
    for (const ProbedValue& reading : readings) {
        if (reading.kind == PassKind::Depth)
            needle.metres = reading.value.front();
        if (reading.kind == PassKind::Normal && reading.value.size() >= 3)
            needle.facing = V3f(reading.value[0], reading.value[1], reading.value[2]);
        const bool repeats =
            reading.kind == PassKind::Distance || reading.kind == PassKind::Coverage;
        if (sky && passKindInfo(reading.kind).data())
            continue;
        if (!reading.meaning.empty() && !repeats && !parts.contains(qstring(reading.meaning)))
            parts << qstring(reading.meaning);
    }
    setNeedle(needle);
    QString all;
    for (const ProbedValue& reading : readings) {
        all += qstring(reading.pass) + QLatin1String(":");
        for (const float v : reading.value)
            all += QStringLiteral(" %1").arg(static_cast<double>(v), 0, 'g', 5);
        all += QLatin1Char(' ') + qstring(reading.unit) + QLatin1Char('\n');
    }
    m_bar->setReading(parts.join(QStringLiteral("    ")), all.trimmed());
}

void PictureRoom::showPass(const QString& name) {
    m_shownPass = name;
    m_shownChannel = -1;
    m_export->setShownPass(name);
    m_prints->setChosen(name);
    showChosenPass();
}

void PictureRoom::showChosenPass() {
    const PassSet& set = m_session.passes();
    const std::string name = m_shownPass.toStdString();
    const Pass* pass = set.find(std::string_view(name));
    const bool readable =
        pass != nullptr && !pass->derived && !pass->key.empty() && !pass->file.empty();
    m_reading->setVisible(readable);
    m_shownKey = readable ? pass->key : std::string();
    if (readable) {
        const Readings& readings = m_session.project().readings;
        m_reading->setPass(*pass, readingOf(readings.passes, pass->key),
                           set.camera ? std::nullopt : std::optional(readings.yfovRadians));
    }
    const std::optional<PassKind> derived =
        pass == nullptr ? derivedNamed(set, name) : std::nullopt;
    if (pass == nullptr && !derived) {
        m_showing.drop();
        m_bar->setChannels({}, -1);
        if (!m_picture.isNull() && !set.empty())
            m_view->setPicture(m_picture, QSize(set.width, set.height));
        return;
    }
    const PassSight sight{name, m_shownChannel, m_session.project().viewTransform,
                          m_session.project().exposure};
    m_showing.ask([this, set, derived, sight]() -> Latest::Result {
        const Pass shown =
            derived ? resolvePass(set, *derived) : *set.find(std::string_view(sight.name));
        return [this, sight, picture = pictureOf(shown, sight), channels = channelsOf(shown)] {
            takeShown(qstring(sight.name), sight.channel, picture, channels);
        };
    });
}

void PictureRoom::takeShown(const QString& name, int channel, const QImage& picture,
                            const QStringList& channels) {
    if (name != m_shownPass || channel != m_shownChannel)
        return;
    m_view->setPicture(picture, QSize(m_session.passes().width, m_session.passes().height));
    m_bar->setChannels(channels, channel);
}

}  // namespace noctis
