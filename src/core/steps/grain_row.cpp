#include "core/steps/grain_row.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <vector>

// Compiled once for each instruction set; the best one the machine has is chosen at run time.
#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/steps/grain_row.cpp"
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace noctis::HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;
using D = hn::ScalableTag<float>;
using U = hn::RebindToUnsigned<D>;
using V = hn::Vec<D>;

/// Adds rows of noise of mean 0 and variance 1, each by its weight, at places x, x + 1, ... of them. out: room for count and
/// a vector more.
void addNoiseSimd(const std::uint32_t* seeds, const float* weights, std::size_t rows,
                  std::uint32_t x, float* out, int count) {
    const D d;
    const U u;
    const int lanes = static_cast<int>(hn::Lanes(d));
    // Four bytes are numbers from 0 to 255: their sum has a mean of 510 and a variance of (256^2 - 1) / 3.
    const V perDeviation = hn::Set(d, 0.0067658914F);
    const V mean = hn::Set(d, 510.0F);
    const auto low = hn::Set(u, 0x00FF00FFU);
    for (int i = 0; i < count; i += lanes) {
        const auto place = hn::Iota(u, x + static_cast<std::uint32_t>(i));
        V sum = hn::Zero(d);
        for (std::size_t j = 0; j < rows; ++j) {
            auto h = hn::Add(place, hn::Set(u, seeds[j]));
            h = hn::Xor(h, hn::ShiftRight<16>(h));
            h = hn::Mul(h, hn::Set(u, 0x85EBCA6BU));
            h = hn::Xor(h, hn::ShiftRight<13>(h));
            h = hn::Mul(h, hn::Set(u, 0xC2B2AE35U));
            h = hn::Xor(h, hn::ShiftRight<16>(h));
            const auto pairs = hn::Add(hn::And(h, low), hn::And(hn::ShiftRight<8>(h), low));
            const auto bytes =
                hn::Add(hn::And(pairs, hn::Set(u, 0xFFFFU)), hn::ShiftRight<16>(pairs));
            const V value = hn::ConvertTo(d, hn::BitCast(hn::RebindToSigned<D>(), bytes));
            sum = hn::MulAdd(hn::Sub(value, mean), hn::Set(d, weights[j]), sum);
        }
        hn::StoreU(hn::Mul(sum, perDeviation), d, out + i);
    }
}

/// The weights of a cubic B-spline at places between nodes, scaled so that their squares sum to 1: noise on the nodes
/// keeps its variance.
HWY_INLINE void splineWeights(D d, V t, V (&w)[4]) {
    const V one = hn::Set(d, 1.0F);
    const V s = hn::Sub(one, t);
    const V sixth = hn::Set(d, 1.0F / 6.0F);
    const V cube = hn::Set(d, 3.0F);
    const V two = hn::Set(d, 2.0F);
    const V four = hn::Set(d, 4.0F);
    w[0] = hn::Mul(hn::Mul(s, hn::Mul(s, s)), sixth);
    w[1] = hn::Mul(hn::MulAdd(hn::Mul(cube, hn::Mul(t, t)), hn::Sub(t, two), four), sixth);
    w[2] = hn::Mul(hn::MulAdd(hn::Mul(cube, hn::Mul(s, s)), hn::Sub(s, two), four), sixth);
    w[3] = hn::Mul(hn::Mul(t, hn::Mul(t, t)), sixth);
    V squares = hn::Mul(w[0], w[0]);
    for (int j = 1; j < 4; ++j)
        squares = hn::MulAdd(w[j], w[j], squares);
    const V by = hn::Div(one, hn::Sqrt(squares));
    for (V& each : w)
        each = hn::Mul(each, by);
}

/// Noise at pixels x, x + 1, ... of so many channels from that on their nodes, the first of which is the node `first`; nodes
/// are a pixel apart or more. out: room for count and a vector more; nodes: for two vectors more.
void betweenNodesSimd(const float* const* nodes, int first, float size, int x, float* const* out,
                      int channels, int count) {
    const D d;
    const hn::RebindToSigned<D> whole;
    const int lanes = static_cast<int>(hn::Lanes(d));
    for (int i = 0; i < count; i += lanes) {
        const V pixel = hn::Add(hn::ConvertTo(d, hn::Iota(whole, x + i)), hn::Set(d, 0.5F));
        const V place = hn::Div(pixel, hn::Set(d, size));
        const V left = hn::Floor(place);
        V w[4];
        splineWeights(d, hn::Sub(place, left), w);
        // The nodes of a vector of pixels are within two vectors.
        const auto node = hn::ConvertTo(whole, left);
        const int from = hn::GetLane(node);
        const auto at = hn::Sub(node, hn::Set(whole, from));
        for (int c = 0; c < channels; ++c) {
            const float* own = nodes[c] + (from - 1 - first);
            const V low = hn::LoadU(d, own);
            const V high = hn::LoadU(d, own + lanes);
            V sum = hn::Zero(d);
            for (int j = 0; j < 4; ++j) {
                const auto lane = hn::Add(at, hn::Set(whole, j));
                const auto index = hn::IndicesFromVec(d, hn::And(lane, hn::Set(whole, lanes - 1)));
                const auto beyond = hn::RebindMask(d, hn::Gt(lane, hn::Set(whole, lanes - 1)));
                const V value = hn::IfThenElse(beyond, hn::TableLookupLanes(high, index),
                                               hn::TableLookupLanes(low, index));
                sum = hn::MulAdd(w[j], value, sum);
            }
            hn::StoreU(sum, d, out[c] + i);
        }
    }
}

/// to: with noise of a deviation added; the rows are padded to whole vectors but for to.
void addGrainSimd(const float* noise, const float* deviation, float* to, int count) {
    const D d;
    const int lanes = static_cast<int>(hn::Lanes(d));
    int i = 0;
    for (; i + lanes <= count; i += lanes)
        hn::StoreU(
            hn::MulAdd(hn::LoadU(d, deviation + i), hn::LoadU(d, noise + i), hn::LoadU(d, to + i)),
            d, to + i);
    for (; i < count; ++i)
        to[i] += deviation[i] * noise[i];
}

/// deviation: of each pixel, by its luminance, associated as the colour is.
void deviationSimd(float strength, const float* alpha, const float* r, const float* g,
                   const float* b, float* deviation, int count) {
    const D d;
    const int lanes = static_cast<int>(hn::Lanes(d));
    const auto at = [d](const float* from, int i) { return hn::LoadU(d, from + i); };
    int i = 0;
    for (; i + lanes <= count; i += lanes) {
        V light = hn::MulAdd(
            at(r, i), hn::Set(d, 0.2126F),
            hn::MulAdd(at(g, i), hn::Set(d, 0.7152F), hn::Mul(at(b, i), hn::Set(d, 0.0722F))));
        V covered = hn::Set(d, 1.0F);
        if (alpha != nullptr) {
            covered = at(alpha, i);
            light = hn::Div(light, hn::Max(covered, hn::Set(d, 1e-6F)));
        }
        light = hn::Max(light, hn::Set(d, 0.18F / 1024.0F));
        const V value = hn::Mul(hn::Mul(hn::Set(d, strength), covered),
                                hn::Sqrt(hn::Mul(hn::Set(d, 0.18F), light)));
        hn::StoreU(value, d, deviation + i);
    }
    for (; i < count; ++i) {
        const float covered = alpha != nullptr ? alpha[i] : 1.0F;
        const float light = (0.2126F * r[i] + 0.7152F * g[i] + 0.0722F * b[i]) /
                            (alpha != nullptr ? std::max(covered, 1e-6F) : 1.0F);
        deviation[i] = strength * covered * std::sqrt(0.18F * std::max(light, 0.18F / 1024.0F));
    }
}

}  // namespace noctis::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace noctis {

namespace {

HWY_EXPORT(addNoiseSimd);
HWY_EXPORT(betweenNodesSimd);
HWY_EXPORT(deviationSimd);
HWY_EXPORT(addGrainSimd);

constexpr int kVector = 64;  ///< numbers that no vector has more of

/// Mixes numbers that differ little to ones that differ everywhere.
std::uint32_t scattered(std::uint32_t a, std::uint32_t b) noexcept {
    std::uint64_t h = (std::uint64_t{a} << 32U | b) * 0x9E3779B97F4A7C15ULL;
    h ^= h >> 29U;
    h *= 0xBF58476D1CE4E5B9ULL;
    return static_cast<std::uint32_t>(h >> 32U);
}

/// Rows of nodes that make a row of pixels, with their weights in it.
struct NodeRow {
    int y;
    float weight;
};

/// The same weights as along a row.
std::array<float, 4> splineWeights(float t) noexcept {
    const float s = 1.0F - t;
    std::array<float, 4> w{s * s * s / 6.0F, (4.0F + 3.0F * t * t * (t - 2.0F)) / 6.0F,
                           (4.0F + 3.0F * s * s * (s - 2.0F)) / 6.0F, t * t * t / 6.0F};
    float squares = 0.0F;
    for (const float each : w)
        squares += each * each;
    const float by = 1.0F / std::sqrt(squares);
    for (float& each : w)
        each *= by;
    return w;
}

float placeOf(int pixel, float size) noexcept { return (static_cast<float>(pixel) + 0.5F) / size; }

/// For the mean of the full picture's rows that make one row of this.
std::vector<NodeRow> nodeRows(const GrainRow& grain, int y) {
    std::vector<NodeRow> rows;
    const float part = 1.0F / static_cast<float>(grain.factor);
    for (int j = 0; j < grain.factor; ++j) {
        const int row = y * grain.factor + j;
        if (grain.size <= 1.0F) {
            rows.push_back({row, part});
            continue;
        }
        const float place = placeOf(row, grain.size);
        const int above = static_cast<int>(std::floor(place)) - 1;
        const std::array<float, 4> down = splineWeights(place - std::floor(place));
        for (int k = 0; k < 4; ++k) {
            auto found = std::find_if(rows.begin(), rows.end(),
                                      [&](const NodeRow& each) { return each.y == above + k; });
            if (found == rows.end())
                found = rows.insert(rows.end(), {above + k, 0.0F});
            found->weight += part * down.at(static_cast<std::size_t>(k));
        }
    }
    return rows;
}

/// Three channels of a row.
using Rows = std::array<std::vector<float>, 3>;

/// What a row of noise needs beside its result; a thread keeps it from row to row.
struct Scratch {
    std::vector<std::uint32_t> seeds;  // of the rows of noise that make a row
    std::vector<float> weights;
    Rows nodes;
    Rows full;
    Rows noise;
    std::vector<float> deviation;
};

std::size_t roomFor(int count) { return static_cast<std::size_t>(count + kVector); }

/// The noise of each of so many channels at places x, x + 1, ... of rows.
void addNoise(const GrainRow& grain, const std::vector<NodeRow>& rows, int channels, int x,
              int count, Scratch& scratch, Rows& out) {
    const float shared = std::sqrt(std::max(1.0F - grain.ownShare * grain.ownShare, 0.0F));
    constexpr std::uint32_t kShared = 3;  // the noise that all channels have
    for (std::uint32_t c = 0; c < static_cast<std::uint32_t>(channels); ++c) {
        scratch.seeds.clear();
        scratch.weights.clear();
        const auto take = [&](std::uint32_t of, const NodeRow& row, float share) {
            if (!(share > 0.0F))
                return;
            scratch.seeds.push_back(
                scattered(scattered(grain.seed, of), static_cast<std::uint32_t>(row.y)));
            scratch.weights.push_back(share * row.weight);
        };
        for (const NodeRow& row : rows) {
            take(kShared, row, shared);
            take(c, row, grain.ownShare);
        }
        out.at(c).resize(roomFor(count));
        HWY_DYNAMIC_DISPATCH(addNoiseSimd)
        (scratch.seeds.data(), scratch.weights.data(), scratch.seeds.size(),
         static_cast<std::uint32_t>(x), out.at(c).data(), count);
    }
}

/// Pixels x, x + 1, ... of a row's noise, for so many channels, to scratch.noise.
void noiseOf(const GrainRow& grain, int x, int y, int channels, int count, Scratch& scratch) {
    const int wide = count * grain.factor;
    const int left = x * grain.factor;
    const std::vector<NodeRow> rows = nodeRows(grain, y);
    Rows& full = grain.factor > 1 ? scratch.full : scratch.noise;
    if (grain.size <= 1.0F) {
        addNoise(grain, rows, channels, left, wide, scratch, full);
    } else {
        const int first = static_cast<int>(std::floor(placeOf(left, grain.size))) - 1;
        // The last vector reaches beyond the row, and so do its nodes.
        const int last =
            static_cast<int>(std::floor(placeOf(left + wide + kVector, grain.size))) + kVector;
        addNoise(grain, rows, channels, first, last - first, scratch, scratch.nodes);
        for (std::vector<float>& row : full)
            row.resize(roomFor(wide));
        const float* const nodes[3] = {scratch.nodes[0].data(), scratch.nodes[1].data(),
                                       scratch.nodes[2].data()};
        float* const out[3] = {full[0].data(), full[1].data(), full[2].data()};
        HWY_DYNAMIC_DISPATCH(betweenNodesSimd)
        (nodes, first, grain.size, left, out, channels, wide);
    }
    if (grain.factor == 1)
        return;
    const float part = 1.0F / static_cast<float>(grain.factor);
    for (std::size_t c = 0; c < static_cast<std::size_t>(channels); ++c) {
        scratch.noise[c].resize(roomFor(count));
        const float* from = full[c].data();
        for (int i = 0; i < count; ++i, from += grain.factor) {
            float sum = 0.0F;
            for (int k = 0; k < grain.factor; ++k)
                sum += from[k];
            scratch.noise[c][static_cast<std::size_t>(i)] = part * sum;
        }
    }
}

}  // namespace

void grainRow(const GrainRow& grain, int x, int y, const float* alpha, float* r, float* g, float* b,
              int count) {
    static thread_local Scratch scratch;
    scratch.deviation.resize(roomFor(count));
    HWY_DYNAMIC_DISPATCH(deviationSimd)
    (grain.strength, alpha, r, g, b, scratch.deviation.data(), count);
    // Grey grain is the same in all channels.
    const int channels = grain.ownShare > 0.0F ? 3 : 1;
    noiseOf(grain, x, y, channels, count, scratch);
    float* const to[3] = {r, g, b};
    for (std::size_t c = 0; c < 3; ++c) {
        HWY_DYNAMIC_DISPATCH(addGrainSimd)
        (scratch.noise[channels > 1 ? c : 0].data(), scratch.deviation.data(), to[c], count);
    }
}

}  // namespace noctis
#endif
