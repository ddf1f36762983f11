#include "core/settings/keys.h"

#include "core/image/error.h"
#include "core/settings/value_type.h"

#include <algorithm>
#include <cmath>

namespace noctis {

namespace {

float smooth(float t) noexcept { return t * t * (3.0F - 2.0F * t); }

/// A coordinate of a cubic from 0 to 1 with these two inner points.
float cubicAt(float t, float a, float b) noexcept {
    const float s = 1.0F - t;
    return 3.0F * s * s * t * a + 3.0F * s * t * t * b + t * t * t;
}

/// Its height where its width is u; width grows with t, so halving finds it.
float bentAt(const std::array<float, 4>& bend, float u) noexcept {
    float low = 0.0F;
    float high = 1.0F;
    for (int i = 0; i < 24; ++i) {
        const float middle = 0.5F * (low + high);
        (cubicAt(middle, bend[0], bend[2]) < u ? low : high) = middle;
    }
    return cubicAt(0.5F * (low + high), bend[1], bend[3]);
}

/// Between two directions on the great circle; beyond the second for t > 1. Opposite ones turn about any axis.
V3f turned(const V3f& from, const V3f& to, float t) {
    const V3f a = from.normalized();
    const V3f b = to.normalized();
    const float angle = std::acos(std::clamp(a.dot(b), -1.0F, 1.0F));
    if (angle < 1e-4F)
        return from + (to - from) * t;
    V3f side = b - a * a.dot(b);
    if (side.length2() < 1e-10F)
        side = a.cross(std::abs(a.y) < 0.9F ? V3f(0, 1, 0) : V3f(1, 0, 0));
    const float length = from.length() + (to.length() - from.length()) * t;
    return (a * std::cos(angle * t) + side.normalized() * std::sin(angle * t)) * length;
}

/// From -1 to 1, a function of two numbers. Source: the finaliser of MurmurHash3, Appleby 2011.
float scattered(std::uint32_t seed, std::int64_t place) noexcept {
    std::uint64_t h = static_cast<std::uint64_t>(place) * 0x9e3779b97f4a7c15ULL + seed;
    h ^= h >> 33U;
    h *= 0xff51afd7ed558ccdULL;
    h ^= h >> 33U;
    h *= 0xc4ceb9fe1a85ec53ULL;
    h ^= h >> 33U;
    return static_cast<float>(static_cast<double>(h >> 11U) / 4503599627370496.0 - 1.0);
}

/// In the parameter's range, or the other where that can't be.
Value settled(const Parameter& parameter, Value value, const Value& otherwise) {
    if (auto* number = std::get_if<float>(&value))
        *number = std::clamp(*number, parameter.range.min, parameter.range.max);
    if (auto* colour = std::get_if<LinearRgb>(&value))
        *colour = {std::max(colour->r, 0.0F), std::max(colour->g, 0.0F), std::max(colour->b, 0.0F)};
    try {
        return checkedValue(parameter, value);
    } catch (const Error&) {
        return otherwise;
    }
}

}  // namespace

float easedAt(const Key& key, float u, int gap) noexcept {
    switch (key.ease) {
    case Ease::Hold:
        return 0.0F;
    case Ease::Linear:
        return u;
    case Ease::Ease:
        return key.bend ? bentAt(*key.bend, u) : smooth(u);
    case Ease::Settle:
        break;
    }
    const auto all = static_cast<float>(gap);
    const float back = std::min(static_cast<float>(std::max(key.settleFrames, 0)), 0.5F * all);
    const float rests = back / all;  // the part of the way that leads back
    const float past = 1.0F + key.over;
    if (u <= 1.0F - rests)
        return rests < 1.0F ? past * smooth(u / (1.0F - rests)) : 1.0F;
    return past - key.over * smooth((u - (1.0F - rests)) / rests);
}

Value valueAt(const KeyList& keys, double frame, const Parameter& parameter) {
    const auto next =
        std::upper_bound(keys.begin(), keys.end(), frame, [](double at, const Key& key) {
            return at < static_cast<double>(key.frame);
        });
    if (next == keys.begin())
        return keys.front().value;
    const Key& from = *(next - 1);
    if (next == keys.end() || static_cast<double>(from.frame) == frame || from.ease == Ease::Hold)
        return from.value;
    const int gap = next->frame - from.frame;
    const auto u = static_cast<float>((frame - from.frame) / gap);
    const float t = easedAt(from, u, gap);
    if (parameter.type == ValueType::Direction)
        return settled(parameter, turned(std::get<V3f>(from.value), std::get<V3f>(next->value), t),
                       from.value);
    return settled(parameter, mixed(from.value, next->value, t), from.value);
}

float flickerAt(const Flicker& flicker, double seconds) noexcept {
    if (!(flicker.perSecond > 0.0F) || !std::isfinite(seconds))
        return 0.0F;
    // Knots above and below by turns: half of them are the peaks. Each is a little off its beat, and of its own height.
    const double beat = seconds * 2.0 * static_cast<double>(flicker.perSecond);
    const auto knot = [&](std::int64_t i) {
        return static_cast<double>(i) + 0.3 * static_cast<double>(scattered(flicker.seed, 2 * i));
    };
    const auto height = [&](std::int64_t i) {
        const float size = 0.65F + 0.35F * scattered(flicker.seed, 2 * i + 1);
        return i % 2 == 0 ? size : -size;
    };
    auto i = static_cast<std::int64_t>(std::floor(beat));
    while (knot(i) > beat)
        --i;
    while (knot(i + 1) <= beat)
        ++i;
    const auto u = static_cast<float>((beat - knot(i)) / (knot(i + 1) - knot(i)));
    return height(i) + (height(i + 1) - height(i)) * smooth(u);
}

Value flickering(const Value& value, float n, float amount, const Parameter& parameter) {
    const float factor = 1.0F + amount * n;
    if (const auto* number = std::get_if<float>(&value))
        return settled(parameter, *number * factor, value);
    if (const auto* colour = std::get_if<LinearRgb>(&value))
        return settled(parameter,
                       LinearRgb{colour->r * factor, colour->g * factor, colour->b * factor},
                       value);
    return value;
}

void setKey(KeyList& keys, Key key) {
    const auto at = std::ranges::lower_bound(keys, key.frame, {}, &Key::frame);
    if (at != keys.end() && at->frame == key.frame)
        *at = std::move(key);
    else
        keys.insert(at, std::move(key));
}

void keyAt(KeyList& keys, int frame, const Value& value) {
    const auto after = std::ranges::upper_bound(keys, frame, {}, &Key::frame);
    Key key = after == keys.begin() ? Key{} : *(after - 1);
    key.frame = frame;
    key.value = value;
    setKey(keys, std::move(key));
}

KeyList rearranged(const KeyList& keys, const std::vector<int>& frames,
                   const std::function<int(int)>& to, bool copies) {
    KeyList result;
    KeyList moved;
    for (const Key& key : keys) {
        const bool moves = std::ranges::find(frames, key.frame) != frames.end();
        if (moves) {
            moved.push_back(key);
            moved.back().frame = to(key.frame);
        }
        if (!moves || copies)
            result.push_back(key);
    }
    for (Key& key : moved)
        setKey(result, std::move(key));
    return result;
}

}  // namespace noctis
