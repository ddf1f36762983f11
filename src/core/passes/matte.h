#pragma once

#include "core/passes/pass.h"

#include <cstdint>
#include <string>
#include <string_view>
#include <vector>

namespace noctis {

// ID mattes in the open Cryptomatte layout: pairs of id and coverage, ranked by coverage, two pairs
// to each R G B A layer (objects00, objects01, ...). Source: Friedman and Jones 2015, Fully
// Automatic ID Mattes with Support for Motion Blur and
//         Transparency; Cryptomatte specification 1.2.

/// Appleby's MurmurHash3_x86_32 with seed 0.
std::uint32_t murmurHash3(std::string_view text) noexcept;

/// A name's id: its hash, with exponents changed that would make it a non-finite float.
std::uint32_t matteId(std::string_view name) noexcept;

/// The channels of a matte with this many ranks: objects00.R, .G, .B, .A, objects01.R, ...
std::vector<std::string> matteChannels(std::string_view name, int ranks);

/// "Crate 3" by "0123abcd".
std::map<std::string, std::string> matteManifest(const std::vector<std::string>& names);

/// How much of each pixel a name covers, 0..1.
Image matteOf(const Pass& pass, std::string_view name);

}  // namespace noctis
