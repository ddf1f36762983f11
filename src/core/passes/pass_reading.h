#pragma once

#include "core/passes/interpretation.h"
#include "core/passes/normal_reading.h"
#include "core/passes/pass.h"

#include <map>
#include <optional>
#include <string>

namespace noctis {

/// How to read a pass whose file is wrong or silent. Unset members are as the file says, or guessed.
struct PassReading {
    std::optional<PassKind> kind{};
    std::optional<Interpretation> depth{};  ///< of depth and distance
    std::optional<NormalReading> normal{};
    bool evened = false;             ///< the bands of few bits are smoothed
    bool snapped = false;            ///< edges blended by a filter are snapped to one side
    bool filled = false;             ///< invalid numbers are filled from their neighbours
    std::optional<bool> straight{};  ///< colours are not multiplied by alpha
    bool operator==(const PassReading&) const = default;
    [[nodiscard]] bool empty() const { return *this == PassReading{}; }
};

/// Corrections, by the key of the pass: its name as its file has it.
using ReadingMap = std::map<std::string, PassReading>;

/// Those of a pass; none if there are none.
PassReading readingOf(const ReadingMap& corrections, const std::string& key);

/// Pass::why of a pass whose own file says what it is, as Noctis's files do.
inline constexpr const char* kFileSaysSo = "the file says so";
/// Whether the pass's own file says what it is, so that nothing was guessed.
bool saysItself(const Pass& pass);

/// To JSON and back. Also reads what earlier versions wrote, a bare Interpretation.
std::string textFromReading(const PassReading& reading);
std::optional<PassReading> readingFromText(const std::string& text);

/// A place of a depth pass, px, whose distance is known, m.
struct KnownDistance {
    int x = 0;
    int y = 0;
    float metres = 1.0F;
};

/// The reading that puts two places of a stored depth pass at these distances: the scale of metres, or near and
/// far of the other codings, including which end is bright. Each place counts with the median around it.
/// Errors   Error(BadSetting) if there is none: the same value at both, a place outside, no distance.
Interpretation readingThrough(const Image& stored, const Interpretation& coding,
                              const KnownDistance& one, const KnownDistance& other);

/// One correction as it is written on the command line: PASS=WORD[,WORD...], where a word is a coding (metres,
/// normalised, inverse, projected), radial, planar, bright (near is bright), dark, near=M, far=M, scale=M, background=V, M@X,Y for near and
/// far alike (near=4@320,200), kind=KIND, space=camera|world, encoded, plain, green=up|down, even, snap, fill, straight, associated.
struct ReadRequest {
    std::string pass;
    PassReading reading;
    bool setsDepth = false;
    std::optional<KnownDistance> nearPlace{};
    std::optional<KnownDistance> farPlace{};
};
/// Errors   Error(BadSetting), saying which word.
ReadRequest readRequestFromText(const std::string& text);

}  // namespace noctis
