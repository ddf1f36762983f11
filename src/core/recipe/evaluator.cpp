#include "core/recipe/evaluator.h"

#include "core/image/error.h"
#include "core/image/tiles.h"

#include <algorithm>
#include <array>
#include <cstring>

#include <fmt/format.h>
#include <hwy/cache_control.h>
#include <hwy/highway.h>

namespace noctis {

namespace {

// A run of this many pixels, three channels and a copy, stays in the first-level cache.
constexpr int kRunLength = 1024;
constexpr int kBandHeight = 8;

class Hash {
public:
    explicit Hash(std::uint64_t seed) : m_value(seed ^ 0xcbf29ce484222325ULL) {}
    void add(std::string_view text) {
        for (const char c : text)
            mixIn(static_cast<unsigned char>(c));
        mixIn(0xffU);
    }
    void add(float number) {
        std::uint32_t bits = 0;
        std::memcpy(&bits, &number, sizeof bits);
        for (int i = 0; i < 4; ++i)
            mixIn(bits >> (8 * i) & 0xffU);
    }
    void add(const Step& step) {
        add(step.type);
        add(step.amount);
        add(static_cast<float>(step.blend));
        for (const Value& value : step.settings) {
            if (const auto* number = std::get_if<float>(&value))
                add(*number);
            else if (const auto* colour = std::get_if<LinearRgb>(&value)) {
                add(colour->r);
                add(colour->g);
                add(colour->b);
            } else if (const auto* on = std::get_if<bool>(&value))
                add(*on ? 1.0F : 0.0F);
            else
                add(std::string_view(std::get<std::string>(value)));
        }
    }
    [[nodiscard]] std::uint64_t value() const { return m_value; }

private:
    void mixIn(std::uint64_t byte) { m_value = (m_value ^ byte) * 0x100000001b3ULL; }
    std::uint64_t m_value;
};

/// Writes a run past the caches: nobody reads it again before the whole picture is done.
/// to starts on a 64-byte boundary.
void streamOut(const float* from, float* to, int count) noexcept {
    namespace hn = hwy::HWY_NAMESPACE;
    const hn::ScalableTag<float> d;
    const int lanes = static_cast<int>(hn::Lanes(d));
    int i = 0;
    for (; i + lanes <= count; i += lanes)
        hn::Stream(hn::Load(d, from + i), d, to + i);
    std::copy(from + i, from + std::max(i, count), to + i);
}

Image pictureOf(const PassSet& set) {
    const Pass* picture = set.find(PassKind::Beauty);
    if (picture == nullptr)
        picture = set.find(PassKind::Colour);
    if (picture == nullptr)
        throw Error(ErrorCode::MissingPass,
                    "there is no picture to work on; render beauty or open a file that has it");
    const int last = picture->image.channels() - 1;
    return picture->image.select({0, std::min(1, last), std::min(2, last)}, {"R", "G", "B"});
}

}  // namespace

Evaluator::Evaluator(const Catalogue& catalogue, std::size_t memoryBudget)
    : m_catalogue(catalogue), m_budget(memoryBudget) {}

void Evaluator::setPasses(PassSet passes) {
    m_passes = std::move(passes);
    m_frames.clear();
    m_kept.clear();
    m_uses.clear();
    m_used = 0;
    ++m_generation;
}

const FrameContext& Evaluator::frameAt(int factor) {
    std::unique_ptr<FrameContext>& frame = m_frames[factor];
    if (!frame)
        frame = std::make_unique<FrameContext>(m_passes, factor);
    return *frame;
}

const Image* Evaluator::recall(std::uint64_t key) {
    const auto found = m_kept.find(key);
    if (found == m_kept.end())
        return nullptr;
    m_uses.splice(m_uses.begin(), m_uses, found->second.use);
    return &found->second.image;
}

void Evaluator::keep(std::uint64_t key, const Image& image) {
    if (m_kept.contains(key))
        return;
    m_uses.push_front(key);
    m_kept.emplace(key, Kept{image, m_uses.begin()});
    m_used += image.bytes();
    while (m_used > m_budget && m_uses.size() > 1) {
        const auto oldest = m_kept.find(m_uses.back());
        m_used -= oldest->second.image.bytes();
        m_kept.erase(oldest);
        m_uses.pop_back();
    }
}

Image Evaluator::evaluate(const Recipe& recipe, const EvaluateOptions& options,
                          const RunContext& run) {
    const FrameContext& frame = frameAt(options.factor);
    // Which steps can run, and the hash of everything up to and with each.
    std::vector<std::size_t> order;
    std::vector<std::uint64_t> keys;
    Hash hash(m_generation * 64 + static_cast<std::uint64_t>(options.factor));
    const std::uint64_t startKey = hash.value();
    for (const std::size_t index : m_catalogue.runningOrder(recipe)) {
        const Step& step = recipe.steps[index];
        const StepType& type = m_catalogue.type(step.type);
        try {
            for (const PassKind kind : type.reads(step.settings))
                (void)frame.pass(kind);
        } catch (const Error& error) {
            if (!options.problem)
                throw Error(error.code(), fmt::format("{}: {}", type.label, error.what()));
            options.problem(index, error.what());
            continue;
        }
        hash.add(step);
        order.push_back(index);
        keys.push_back(hash.value());
    }

    std::size_t next = order.size();
    Image image;
    for (; next > 0; --next)
        if (const Image* kept = recall(keys[next - 1])) {
            image = *kept;
            break;
        }
    if (next == 0) {
        if (const Image* kept = recall(startKey)) {
            image = *kept;
        } else {
            image = pictureOf(frame.passes());
            keep(startKey, image);
        }
    }

    while (next < order.size() && !run.stopped()) {
        const Step& first = recipe.steps[order[next]];
        if (m_catalogue.type(first.type).area) {
            image = runArea(image, first, frame, run);
            ++next;
        } else {
            std::vector<Ready> ready;
            for (; next < order.size(); ++next) {
                const Step& step = recipe.steps[order[next]];
                const StepType& type = m_catalogue.type(step.type);
                const bool edited = options.editing && *options.editing == order[next];
                if (type.area || (!ready.empty() && (!options.fused || edited)))
                    break;
                ready.push_back({&step, type.point(step.settings, frame)});
            }
            image = runPoints(image, ready, run);
        }
        if (!run.stopped())
            keep(keys[next - 1], image);
    }
    return run.stopped() ? Image() : image;
}

Image Evaluator::runPoints(const Image& from, const std::vector<Ready>& steps,
                           const RunContext& run) {
    m_stepsRun += steps.size();
    Image out = Image::unset(from.width(), from.height(), {"R", "G", "B"});
    const std::array<float*, 3> to{out.editPlane(0), out.editPlane(1), out.editPlane(2)};
    forEachBand(from.height(), kBandHeight, run, [&](int y0, int y1) {
        alignas(64) float now[3][kRunLength];
        alignas(64) float before[3][kRunLength];
        for (int y = y0; y < y1; ++y)
            for (int x = 0; x < from.width(); x += kRunLength) {
                const int count = std::min(kRunLength, from.width() - x);
                const auto length = static_cast<std::size_t>(count);
                for (int c = 0; c < 3; ++c)
                    std::memcpy(now[c], from.row(c, y) + x, length * sizeof(float));
                for (const Ready& ready : steps) {
                    const Step& step = *ready.step;
                    const bool whole = step.blend == Blend::Normal && step.amount == 1.0F;
                    if (!whole)
                        std::memcpy(before, now, sizeof now);
                    ready.work({now[0], now[1], now[2], x, y, count});
                    if (!whole)
                        for (std::size_t c = 0; c < 3; ++c)
                            blendRow(step.blend, step.amount, before[c], now[c], length);
                }
                for (std::size_t c = 0; c < 3; ++c)
                    streamOut(now[c], to[c] + out.rowStride() * y + x, count);
            }
        hwy::FlushStream();
    });
    return out;
}

Image Evaluator::runArea(const Image& from, const Step& step, const FrameContext& frame,
                         const RunContext& run) {
    ++m_stepsRun;
    Image out = m_catalogue.type(step.type).area(from, step.settings, frame, run);
    if (run.stopped() || (step.blend == Blend::Normal && step.amount == 1.0F))
        return out;
    for (int c = 0; c < 3; ++c) {
        float* to = out.editPlane(c);
        forEachBand(out.height(), kBandHeight, run, [&](int y0, int y1) {
            for (int y = y0; y < y1; ++y)
                blendRow(step.blend, step.amount, from.row(c, y), to + out.rowStride() * y,
                         static_cast<std::size_t>(out.width()));
        });
    }
    return out;
}

}  // namespace noctis
