#pragma once

namespace noctis {

/// A band of values: each end rises or falls straight from 0 to 1; perUnit 0 and bias 1 leave it open.
struct BandRow {
    float from;
    float fromPerUnit;
    float fromBias;
    float to;
    float toPerUnit;
    float toBias;
};

/// mask[i]: how far values[i] is in the band, 0..1; not a number is 0.
void bandRow(const BandRow& band, const float* values, float* mask, int count) noexcept;

}  // namespace noctis
