#include "core/relief/relief.h"

#include "core/image/error.h"
#include "core/image/tiles.h"
#include "core/recipe/mask.h"
#include "core/recipe/picture_files.h"
#include "core/relief/sources.h"
#include "core/settings/value_type.h"

#include <algorithm>
#include <cmath>
#include <limits>

#include <fmt/format.h>

namespace noctis {

namespace {

constexpr std::size_t kMaskBudget = std::size_t{64} << 20U;
/// Fields that are kept: sources and what is before the operation being edited, full and small.
constexpr std::size_t kKeptFields = 6;
/// Beyond this the least used goes first; the last one stays, however large.
constexpr std::size_t kKeptBytes = std::size_t{512} * 1024 * 1024;

void addToHash(Hash& hash, const Relief& relief) {
    hash.add(relief.source);
    noctis::addToHash(hash, relief.settings);
}

void addToHash(Hash& hash, const Step& operation) {
    hash.add(operation.type);
    noctis::addToHash(hash, operation.settings);
    addToHash(hash, operation.where);
}

/// What was, and what is where a mask is white.
HeightField mixed(const HeightField& before, HeightField after, const Image& mask) {
    if (!after.heights.sameSize(before.heights))
        throw Error(ErrorCode::BadSetting,
                    "an operation that changes the map's size can't be limited to a part of it");
    float* to = after.heights.editPlane(0);
    for (int y = 0; y < after.height(); ++y)
        for (int x = 0; x < after.width(); ++x) {
            float& value = to[after.heights.rowStride() * y + x];
            const float part = mask(x, y, 0);
            const float was = before.heights(x, y, 0);
            if (!std::isfinite(was) || !std::isfinite(value))
                value = part < 0.5F ? was : value;
            else
                value = was + (value - was) * part;
        }
    return after;
}

}  // namespace

HeightField shrunk(const HeightField& field, int factor) {
    if (factor <= 1)
        return field;
    HeightField small = field;
    const int w = (field.width() + factor - 1) / factor;
    const int h = (field.height() + factor - 1) / factor;
    small.heights = unsetHeights(w, h);
    small.metresPerPixel = field.metresPerPixel * static_cast<float>(factor);
    float* to = small.heights.editPlane(0);
    float* placeX = nullptr;
    float* placeY = nullptr;
    if (!field.places.empty()) {
        small.places = Image::unset(w, h, {"X", "Y"});
        placeX = small.places.editPlane(0);
        placeY = small.places.editPlane(1);
    }
    forEachBand(h, 16, {}, [&](int y0, int y1) {
        for (int y = y0; y < y1; ++y)
            for (int x = 0; x < w; ++x) {
                float sum = 0.0F;
                int known = 0;
                int all = 0;
                for (int v = y * factor; v < std::min((y + 1) * factor, field.height()); ++v)
                    for (int u = x * factor; u < std::min((x + 1) * factor, field.width()); ++u) {
                        ++all;
                        if (const float value = field.heights(u, v, 0); std::isfinite(value)) {
                            sum += value;
                            ++known;
                        }
                    }
                const std::ptrdiff_t i = small.heights.rowStride() * y + x;
                to[i] = 2 * known >= all ? sum / static_cast<float>(known) : kNotKnown;
                if (placeX != nullptr) {
                    const int u = std::min(x * factor + factor / 2, field.width() - 1);
                    const int v = std::min(y * factor + factor / 2, field.height() - 1);
                    placeX[i] = field.places(u, v, 0);
                    placeY[i] = field.places(u, v, 1);
                }
            }
    });
    return small;
}

const OperationType& ReliefCatalogue::operation(std::string_view id) const {
    std::string names;
    for (const OperationType& type : operations) {
        if (type.id == id)
            return type;
        names += (names.empty() ? "" : ", ") + type.id;
    }
    throw Error(ErrorCode::UnknownName,
                fmt::format("there is no operation {}; there are {}", id, names));
}

StepTypes operationTypes(const ReliefCatalogue& operations, const Catalogue& criteria) {
    return {[&operations](std::string_view id) -> const Declaration& {
                return operations.operation(id);
            },
            criteria};
}

std::vector<std::filesystem::path> filesOf(const Relief& relief) {
    std::vector<std::filesystem::path> files = relief.from.files;
    addFilesOf(relief.settings, files);
    addFilesOf(relief.operations, files);
    return files;
}

Relief newRelief(std::string_view source) {
    Relief relief;
    relief.source = source;
    relief.settings = initialSettings(reliefSource(source).parameters);
    return relief;
}

Step newOperation(const ReliefCatalogue& catalogue, std::string_view type, const Relief& relief) {
    Step operation;
    operation.type = type;
    operation.id = freeStepId(relief.operations, operation.type);
    operation.settings = initialSettings(catalogue.operation(type).parameters);
    return operation;
}

void applyOperationSetting(const ReliefCatalogue& catalogue, Relief& relief,
                           const std::string& assignment) {
    const auto dot = assignment.find('.');
    const auto equals = assignment.find('=');
    if (dot == std::string::npos || equals == std::string::npos || equals < dot)
        throw Error(ErrorCode::BadSetting,
                    fmt::format("'{}' must be operation.setting=value", assignment));
    const std::string type = assignment.substr(0, dot);
    const OperationType& operation = catalogue.operation(type);
    const Parameter& parameter =
        parameterNamed(operation.parameters, assignment.substr(dot + 1, equals - dot - 1));
    const Value value = valueFromText(parameter, assignment.substr(equals + 1));
    // A setting that is given again begins another operation of the same kind.
    const auto last = std::find_if(relief.operations.rbegin(), relief.operations.rend(),
                                   [&](const Step& each) { return each.type == type; });
    if (last != relief.operations.rend()) {
        last->settings.set(parameter.id, value);
        return;
    }
    Step added = newOperation(catalogue, type, relief);
    added.settings.set(parameter.id, value);
    relief.operations.push_back(std::move(added));
}

ReliefEvaluator::ReliefEvaluator(const ReliefCatalogue& operations, const Catalogue& steps)
    : m_operations(operations), m_steps(steps), m_masks(kMaskBudget) {}

void ReliefEvaluator::setInput(ReliefInput input) {
    m_input = std::move(input);
    ++m_generation;
    m_kept.clear();
    m_masks.clear();
}

const HeightField* ReliefEvaluator::recall(std::uint64_t key) {
    const auto found = std::find_if(m_kept.begin(), m_kept.end(),
                                    [key](const Kept& kept) { return kept.key == key; });
    if (found == m_kept.end())
        return nullptr;
    std::rotate(found, found + 1, m_kept.end());
    return &m_kept.back().field;
}

void ReliefEvaluator::keep(std::uint64_t key, const HeightField& field) {
    if (recall(key) != nullptr)
        return;
    m_kept.push_back({key, field});
    const auto bytes = [this] {
        std::size_t sum = 0;
        for (const Kept& each : m_kept)
            sum += each.field.heights.bytes() + each.field.places.bytes();
        return sum;
    };
    while (m_kept.size() > kKeptFields || (m_kept.size() > 1 && bytes() > kKeptBytes))
        m_kept.erase(m_kept.begin());
}

/// How much of each cell a Where covers; empty for everywhere.
Image ReliefEvaluator::maskOf(const HeightField& field, const Where& where, const RunContext& run) {
    if (where.everywhere())
        return {};
    PassSet set = m_input.passes;
    const FrameSize size = frameSizeOf(m_input);
    set.width = size.width;  // shapes need no passes
    set.height = size.height;
    PictureFiles files;
    const FrameContext context(set, 1, m_masks, files, m_generation);
    const WorkingFrame frame(context, Image(set.width, set.height, {"R", "G", "B"}));
    const Image mask = maskImage(plainWhere(where, {}),
                                 {m_steps, frame, m_masks, m_generation, m_generation}, run);
    Image cells = Image::unset(field.width(), field.height(), {"Y"});
    float* to = cells.editPlane(0);
    for (int y = 0; y < field.height() && !mask.empty(); ++y)
        for (int x = 0; x < field.width(); ++x) {
            const V2f place = placeOf(field, x, y, set.width, set.height);
            to[cells.rowStride() * y + x] =
                std::isfinite(place.x)
                    ? mask(std::clamp(static_cast<int>(place.x), 0, set.width - 1),
                           std::clamp(static_cast<int>(place.y), 0, set.height - 1), 0)
                    : 0.0F;
        }
    return cells;
}

HeightField ReliefEvaluator::evaluate(const Relief& relief, int factor, const std::string& editing,
                                      const RunContext& run) {
    Hash hash(m_generation);
    addToHash(hash, relief);
    std::uint64_t key = hash.value();
    HeightField field;
    if (const HeightField* kept = recall(key)) {
        field = *kept;
    } else {
        field = reliefSource(relief.source).make(m_input, relief.settings, run);
        if (run.stopped())
            return field;
        keep(key, field);
    }
    int scale = 1;
    for (const Step& operation : relief.operations) {
        if (!operation.on || !operation.usable())
            continue;
        if (factor > 1 && scale == 1 && operation.id == editing) {
            keep(key, field);
            scale = factor;
            hash.add(static_cast<std::uint64_t>(factor));
            key = hash.value();
            const HeightField* small = recall(key);
            field = small != nullptr ? *small : shrunk(field, factor);
            keep(key, field);
        }
        addToHash(hash, operation);
        key = hash.value();
        if (const HeightField* kept = recall(key)) {
            field = *kept;
            continue;
        }
        try {
            const OperationType& type = m_operations.operation(operation.type);
            const Image mask = maskOf(field, operation.where, run);
            HeightField after = type.apply(field, operation.settings, {m_input, scale, mask}, run);
            field = mask.empty() || type.limitsItself ? std::move(after)
                                                      : mixed(field, std::move(after), mask);
        } catch (const Error& error) {
            throw Error(error.code(), fmt::format("{}: {}", operation.id, error.what()));
        }
        if (run.stopped())
            return field;
        if (scale == 1)
            keep(key, field);
    }
    return factor > 1 && scale == 1 ? shrunk(field, factor) : field;
}

}  // namespace noctis
