#pragma once

#include <array>
#include <map>
#include <optional>
#include <string>
#include <vector>

namespace noctis {

// The content of a signature's text; for signature.cpp and scene_change.cpp only.

/// Each a sum and its size.
using Sums = std::vector<std::array<double, 2>>;
using Things = std::map<std::string, Sums>;

// Which sums a thing has.
enum ObjectSum : std::size_t { kWhere, kForm, kSurface };
enum MaterialSum : std::size_t { kRelief, kLook };
enum LightSum : std::size_t { kPlace, kShine };

/// By the names of things; motion has one thing, if any.
struct SignatureSums {
    Things objects;
    Things materials;
    Things lights;
    Things motion;
};

std::string textOf(const SignatureSums& sums);
/// None for text that isn't a signature.
std::optional<SignatureSums> signatureFrom(const std::string& text);

}  // namespace noctis
