#pragma once

#include "core/settings/parameter.h"

#include <array>
#include <cstdint>
#include <functional>
#include <map>
#include <optional>
#include <string>
#include <vector>

namespace noctis {

/// How a value goes from one key to the next.
enum class Ease {
    Hold,
    Linear,
    Ease,    ///< 3t^2 - 2t^3, or along a bend
    Settle,  ///< past the next key, and back to rest on it
};

/// A value that a parameter has at a frame.
struct Key {
    int frame = 1;
    Value value;
    Ease ease = Ease::Linear;
    /// Of Ease::Ease: x1, y1, x2, y2 of a cubic from (0, 0) to (1, 1), both x in 0..1.
    std::optional<std::array<float, 4>> bend{};
    float over = 0.15F;     ///< of Ease::Settle: how far past, as a part of the way
    int settleFrames = 10;  ///< and how many frames before the next key, half of the way at most
    bool operator==(const Key&) const = default;
};

/// By rising frame, no two at one.
using KeyList = std::vector<Key>;

/// A value that flickers about what it is: times 1 + amount * n, n smooth from -1 to 1 and 0 in the mean.
struct Flicker {
    float amount = 0.2F;     ///< 0..1
    float perSecond = 8.0F;  ///< peaks
    std::uint32_t seed = 1;
    bool operator==(const Flicker&) const = default;
};

/// What of some settings moves in time, by the ids of their parameters; a member of a list as "groups[NAME].strength".
struct Tracks {
    std::map<std::string, KeyList> keys;
    std::map<std::string, Flicker> flicker;
    bool operator==(const Tracks&) const = default;

    [[nodiscard]] bool empty() const noexcept { return keys.empty() && flicker.empty(); }
};

/// More than any hand or script sets.
inline constexpr std::size_t kMostKeys = 100'000;

/// How far a key has gone to the next one, u from 0 to 1: 0 at the key, 1 at the next, beyond 1 where it goes past.
/// gap: frames between them.
float easedAt(const Key& key, float u, int gap) noexcept;

/// The value of a parameter with keys, at least one, at a frame; the first or last stands beyond them. Numbers, points
/// and colours move as stored, directions on the great circle, curves, gradients and outlines point by point where
/// counts agree; all else holds. What goes past a key stays in the parameter's range.
/// Exact    at a key its value, bit for bit.
Value valueAt(const KeyList& keys, double frame, const Parameter& parameter);

/// n above, at a time in seconds.
float flickerAt(const Flicker& flicker, double seconds) noexcept;

/// A value that flickers: a number or a colour; others don't.
Value flickering(const Value& value, float n, float amount, const Parameter& parameter);

/// Sets a key; one that is at its frame is replaced.
void setKey(KeyList& keys, Key key);
/// Sets one with the ease of the one before it.
void keyAt(KeyList& keys, int frame, const Value& value);

/// Keys of which those at some frames are moved to others, where they replace what is there; copies: they stay, too.
KeyList rearranged(const KeyList& keys, const std::vector<int>& frames,
                   const std::function<int(int)>& to, bool copies = false);

}  // namespace noctis
