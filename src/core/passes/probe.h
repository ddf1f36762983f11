#pragma once

#include "core/passes/pass_set.h"

namespace noctis {

/// A pass's value at one pixel.
struct ProbedValue {
    std::string pass;
    PassKind kind = PassKind::Colour;
    std::vector<std::string> channels;
    std::vector<float> value;
    std::string unit;
    std::string meaning;  ///< "12.46 m deep", "faces west, 12° up", "crate 3"
};

/// Every measured pass's value at pixel (x, y).
/// Errors   Error(BadSetting) outside the frame.
std::vector<ProbedValue> probeAt(const PassSet& set, int x, int y);

/// Depth and position at a pixel of the frame where they were not measured but can be derived.
std::vector<ProbedValue> derivedAt(const PassSet& set, int x, int y);

/// The name in a matte that covers most of a pixel; empty for none.
std::string matteNameAt(const Pass& matte, int x, int y);

}  // namespace noctis
