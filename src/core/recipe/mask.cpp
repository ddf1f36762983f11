#include "core/recipe/mask.h"

#include "core/image/plane_matrix.h"
#include "core/image/tiles.h"
#include "core/settings/value_type.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstring>

#include <opencv2/imgproc.hpp>

namespace noctis {

namespace {

constexpr const char* kOnly = "";
constexpr std::array<float, 3> kLuminance{0.2126F, 0.7152F, 0.0722F};
/// Discs are grown in turns of at most this radius, px: a disc grown by a disc is the larger disc.
constexpr int kLargestTurn = 16;

MaskFunction constant(float value) {
    return [value](const MaskRow& row) { std::fill_n(row.mask, row.count, value); };
}

MaskFunction rowsOf(const Image& mask) {
    return [mask](const MaskRow& row) {
        std::memcpy(row.mask, mask.row(std::min(row.channel, mask.channels() - 1), row.y) + row.x,
                    static_cast<std::size_t>(row.count) * sizeof(float));
    };
}

template <typename Combine>
MaskFunction combined(std::vector<MaskFunction> parts, const Combine& combine) {
    return [parts = std::move(parts), combine](const MaskRow& row) {
        alignas(64) float other[kRunLength];
        parts.front()(row);
        MaskRow next = row;
        next.mask = other;
        for (std::size_t i = 1; i < parts.size(); ++i) {
            parts[i](next);
            for (int x = 0; x < row.count; ++x)
                row.mask[x] = combine(row.mask[x], other[x]);
        }
    };
}

MaskFunction withLevels(MaskFunction mask, const MaskRefinement& refinement) {
    if (!refinement.hasLevels())
        return mask;
    const float scale = 1.0F / (refinement.white - refinement.black);
    const float power = 1.0F / refinement.gamma;
    return [mask = std::move(mask), black = refinement.black, scale, power](const MaskRow& row) {
        mask(row);
        for (int x = 0; x < row.count; ++x) {
            const float part = std::clamp((row.mask[x] - black) * scale, 0.0F, 1.0F);
            row.mask[x] = power == 1.0F ? part : std::pow(part, power);
        }
    };
}

/// A mask of these many channels.
Image filled(const MaskFunction& mask, const WorkingFrame& frame, int channels,
             const RunContext& run) {
    const Image& picture = frame.picture();
    std::vector<std::string> names;
    for (int c = 0; c < channels; ++c)
        names.push_back(channels == 1 ? "Y" : picture.channelName(c));
    Image out = Image::unset(picture.width(), picture.height(), std::move(names));
    for (int c = 0; c < channels; ++c) {
        float* to = out.editPlane(c);
        forEachBand(out.height(), kBandHeight, run, [&](int y0, int y1) {
            for (int y = y0; y < y1; ++y)
                for (int x = 0; x < out.width(); x += kRunLength)
                    mask({to + out.rowStride() * y + x, picture.row(0, y) + x,
                          picture.row(1, y) + x, picture.row(2, y) + x, x, y,
                          std::min(kRunLength, out.width() - x), c});
        });
    }
    return out;
}

/// How many channels the masks of a Where have that differ.
int channelsOf(const Where& where, const MaskInput& input) {
    return input.carry && hasPartOfPasses(where, input.catalogue) ? input.frame.picture().channels()
                                                                  : 1;
}

std::uint64_t keyOf(const Where& where, const MaskInput& input) {
    Hash hash(input.passesKey);
    hash.add(std::string_view("mask"))
        .add(static_cast<std::uint64_t>(input.frame.context().factor()));
    if (readsPicture(where, input.catalogue) || channelsOf(where, input) > 1)
        hash.add(input.pictureKey);
    addToHash(hash, where);
    return hash.value();
}

/// Before the lens, where masks of passes are made.
MaskInput beforeLens(const MaskInput& input) {
    MaskInput before = input;
    before.carry = {};
    return before;
}

/// A mask of passes, taken behind the lens.
MaskFunction carriedMask(const Where& where, const MaskInput& input, const RunContext& run) {
    const std::uint64_t key = keyOf(where, input);
    if (const Result* kept = input.cache.recall(key))
        return rowsOf(kept->at(kOnly));
    const MaskInput before = beforeLens(input);
    const Image mask = filled(maskOf(where, before, run), input.frame, 1, run);
    if (run.stopped())
        return constant(0.0F);
    const Image carried = input.carry(mask, keyOf(where, before), run);
    if (run.stopped())
        return constant(0.0F);
    input.cache.keep(key, {{kOnly, carried}});
    return rowsOf(carried);
}

/// The parts of a Where; those of passes go through the lens together.
std::vector<MaskFunction> partsOf(const Where& where, const MaskInput& input,
                                  const RunContext& run) {
    std::vector<MaskFunction> parts;
    Where ofPasses;
    ofPasses.kind = where.kind;
    for (const Where& part : where.parts)
        if (input.carry && where.kind != Where::Kind::Not && isOfPasses(part, input.catalogue))
            ofPasses.parts.push_back(part);
        else
            parts.push_back(maskOf(part, input, run));
    if (!ofPasses.parts.empty())
        parts.push_back(carriedMask(ofPasses, input, run));
    return parts;
}

/// Without what its refinement does to it.
MaskFunction bareMask(const Where& where, const MaskInput& input, const RunContext& run) {
    std::vector<MaskFunction> parts = partsOf(where, input, run);
    switch (where.kind) {
    case Where::Kind::All:
        return parts.empty()
                   ? constant(1.0F)
                   : combined(std::move(parts), [](float a, float b) { return std::min(a, b); });
    case Where::Kind::Any:
        return parts.empty()
                   ? constant(0.0F)
                   : combined(std::move(parts), [](float a, float b) { return std::max(a, b); });
    case Where::Kind::Not:
        return [part = std::move(parts.at(0))](const MaskRow& row) {
            part(row);
            for (int x = 0; x < row.count; ++x)
                row.mask[x] = 1.0F - row.mask[x];
        };
    default:
        break;
    }
    const CriterionType& type = input.catalogue.criterion(where.name);
    if (type.point)
        return type.point(where.settings, input.frame);
    Where bare = where;
    bare.refinement = {};
    const std::uint64_t key = keyOf(bare, input);
    if (const Result* kept = input.cache.recall(key))
        return rowsOf(kept->at(kOnly));
    const Image mask = type.area(where.settings, input.frame, run);
    if (!run.stopped())
        input.cache.keep(key, {{kOnly, mask}});
    return rowsOf(mask);
}

/// Dilated by a disc of a whole radius; eroded for a negative one.
void growBy(cv::Mat& mask, int radius) {
    const bool shrinks = radius < 0;
    // What the corners of several small discs lack adds up; half a pixel more makes up for it.
    const int more = std::abs(radius) > kLargestTurn ? 1 : 0;
    for (int left = std::abs(radius); left > 0;) {
        const int turn = std::min(left, kLargestTurn);
        left -= turn;
        cv::Mat disc(2 * turn + 1, 2 * turn + 1, CV_8UC1, cv::Scalar(0));
        for (int y = -turn; y <= turn; ++y)
            for (int x = -turn; x <= turn; ++x)
                if (x * x + y * y <= turn * (turn + more))
                    disc.at<unsigned char>(y + turn, x + turn) = 1;
        cv::Mat out;
        if (shrinks)
            cv::erode(mask, out, disc, {-1, -1}, 1, cv::BORDER_REPLICATE);
        else
            cv::dilate(mask, out, disc, {-1, -1}, 1, cv::BORDER_REPLICATE);
        mask = out;
    }
}

void refinePlane(Image& out, int channel, float grow, float soften, const RunContext& run) {
    cv::Mat work = matrixOf(out, out.editPlane(channel)).clone();
    const float whole = std::trunc(grow);
    growBy(work, static_cast<int>(whole));
    if (const float rest = std::abs(grow - whole); rest > 0.0F) {
        // Between two whole radii the mask goes straight from one to the other.
        cv::Mat next = work.clone();
        growBy(next, grow > 0.0F ? 1 : -1);
        cv::addWeighted(work, 1.0 - static_cast<double>(rest), next, static_cast<double>(rest), 0.0,
                        work);
    }
    if (soften > 0.0F && !run.stopped()) {
        cv::Mat blurred;
        cv::GaussianBlur(work, blurred, {}, static_cast<double>(soften), 0.0, cv::BORDER_REPLICATE);
        work = blurred;
    }
    work.copyTo(matrixOf(out, out.editPlane(channel)));
}

}  // namespace

bool readsPicture(const Where& where, const Catalogue& catalogue) {
    if (where.kind == Where::Kind::Criterion)
        return catalogue.criterion(where.name).readsInput;
    return std::any_of(where.parts.begin(), where.parts.end(),
                       [&](const Where& part) { return readsPicture(part, catalogue); });
}

bool isOfPasses(const Where& where, const Catalogue& catalogue) {
    if (where.kind == Where::Kind::Criterion) {
        const CriterionType& type = catalogue.criterion(where.name);
        return !type.readsInput && type.family != CriterionFamily::Drawn;
    }
    return !where.parts.empty() &&
           std::all_of(where.parts.begin(), where.parts.end(),
                       [&](const Where& part) { return isOfPasses(part, catalogue); });
}

bool hasPartOfPasses(const Where& where, const Catalogue& catalogue) {
    return isOfPasses(where, catalogue) ||
           std::any_of(where.parts.begin(), where.parts.end(),
                       [&](const Where& part) { return hasPartOfPasses(part, catalogue); });
}

bool needsWholePicture(const Where& where, const Catalogue& catalogue) {
    if (where.refinement.needsSurroundings())
        return readsPicture(where, catalogue);
    return std::any_of(where.parts.begin(), where.parts.end(),
                       [&](const Where& part) { return needsWholePicture(part, catalogue); });
}

MaskFunction maskOf(const Where& where, const MaskInput& input, const RunContext& run) {
    if (input.carry && isOfPasses(where, input.catalogue))
        return carriedMask(where, input, run);
    if (!where.refinement.needsSurroundings())
        return withLevels(bareMask(where, input, run), where.refinement);
    Where shaped = where;
    shaped.refinement.black = 0.0F;  // levels follow by the pixel
    shaped.refinement.white = shaped.refinement.gamma = 1.0F;
    const std::uint64_t key = keyOf(shaped, input);
    const Result* kept = input.cache.recall(key);
    Image mask = kept != nullptr ? kept->at(kOnly) : Image();
    if (mask.empty()) {
        const float scale = input.frame.context().pixelScale();
        mask = grownAndSoftened(
            filled(bareMask(where, input, run), input.frame, channelsOf(where, input), run),
            where.refinement.grow * scale, where.refinement.soften * scale, run);
        if (!run.stopped())
            input.cache.keep(key, {{kOnly, mask}});
    }
    return withLevels(rowsOf(mask), where.refinement);
}

Image maskPlanes(const Where& plain, const MaskInput& input, const RunContext& run) {
    return filled(maskOf(plain, input, run), input.frame, channelsOf(plain, input), run);
}

Image maskImage(const Where& plain, const MaskInput& input, const RunContext& run) {
    Image mask = maskPlanes(plain, input, run);
    if (mask.channels() == 1 || run.stopped())
        return mask.select({0}, {"Y"});
    float* to = mask.editPlane(0);
    for (int y = 0; y < mask.height(); ++y)
        for (int x = 0; x < mask.width(); ++x)
            to[mask.rowStride() * y + x] = kLuminance[0] * mask(x, y, 0) +
                                           kLuminance[1] * mask(x, y, 1) +
                                           kLuminance[2] * mask(x, y, 2);
    return mask.select({0}, {"Y"});
}

Image grownAndSoftened(const Image& mask, float grow, float soften, const RunContext& run) {
    if (run.stopped() || mask.empty())
        return mask;
    Image out = mask;
    for (int c = 0; c < out.channels(); ++c)
        refinePlane(out, c, grow, soften, run);
    return out;
}

void addToHash(Hash& hash, const Where& where) {
    hash.add(static_cast<std::uint64_t>(where.kind)).add(std::string_view(where.name));
    addToHash(hash, where.settings);
    const MaskRefinement& s = where.refinement;
    hash.add(s.grow).add(s.soften).add(s.black).add(s.white).add(s.gamma);
    hash.add(std::uint64_t{where.parts.size()});
    for (const Where& part : where.parts)
        addToHash(hash, part);
}

}  // namespace noctis
