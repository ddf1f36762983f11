#pragma once

#include "core/passes/pass.h"
#include "core/relief/height_field.h"

#include <algorithm>
#include <filesystem>
#include <string>
#include <vector>

namespace noctis {

/// How heights are stored.
struct HeightFileOptions {
    SampleType type = SampleType::Short;  ///< Byte, Short or Float
    bool dithered = false;                ///< noise of one step before rounding, for 8 bits
    std::string source{};                 ///< where the map is from, in a few words
};

/// What a file of these heights holds, and what to type elsewhere.
struct HeightReport {
    std::array<float, 2> range{};       ///< of black and white, m
    float step = 0.0F;                  ///< m a code; 0 for floats
    double clipped = 0.0;               ///< the part of what is known that lies beyond the range
    double holes = 0.0;                 ///< the part that is not known
    std::vector<std::string> notes;     ///< what was guessed
    std::vector<std::string> warnings;  ///< what is wrong, each with its remedy

    /// From black to white, m.
    [[nodiscard]] float blackToWhite() const noexcept { return range[1] - range[0]; }
    /// The grey, 0..1, that is to stay where the surface is: the level's, or black or white where the level lies
    /// beyond them.
    [[nodiscard]] float greyOfZero() const noexcept {
        return blackToWhite() > 0.0F ? std::clamp(-range[0] / blackToWhite() + 0.0F, 0.0F, 1.0F)
                                     : 0.0F;
    }
};
HeightReport reportOf(const HeightField& field, SampleType type);

/// The files that writeHeights writes: the map, and its sidecar.
/// Errors   Error(BadSetting) if the sidecar's name belongs to another file.
std::vector<std::filesystem::path> filesOfHeights(const std::filesystem::path& path);

/// Writes .png (8, 16 bits), .tif (8, 16, float) or .exr (float). Range, metres a pixel, level and source
/// stand in the file and in a JSON beside it, and readPasses brings the heights back to metres.
/// Holes are NaN in floats; in integers code 0 is kept for them, and the lowest height has code 1.
/// Errors   as writeImageFile; Error(BadSetting) for a type the format can't hold.
void writeHeights(const std::filesystem::path& path, const HeightField& field,
                  const HeightFileOptions& options);

/// A height pass of a file that writeHeights wrote; holes and scale as they were.
HeightField heightFieldOf(const Pass& pass);

/// Writes a map of 1 or 3 channels from 0 to 1 with 8 or 16 bits, or as it is with floats.
void writeMap(const std::filesystem::path& path, const Image& map, SampleType type,
              const std::string& what, const HeightField& field);

}  // namespace noctis
