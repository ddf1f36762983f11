#pragma once

#include "core/recipe/recipe.h"
#include "core/relief/relief_type.h"

#include <memory>

#include <nlohmann/json_fwd.hpp>

namespace noctis {

/// A shaping as it stands in a relief. type is an id of the shapings.
struct Shaping {
    std::string id{};  ///< unique in its relief
    std::string type;
    bool on = true;
    Settings settings;
    Where where{};  ///< of the source's frame
    bool operator==(const Shaping&) const = default;
};

/// One height map: its source, and what is done to it, in order.
struct Relief {
    std::string id{};
    std::string name{};
    ReliefFrom from{};
    std::string source = "depth";  ///< an id of the sources
    Settings settings{};
    std::vector<Shaping> shapings{};
    bool operator==(const Relief&) const = default;

    [[nodiscard]] Shaping* find(std::string_view shaping) noexcept;
    [[nodiscard]] const Shaping* find(std::string_view shaping) const noexcept;
    [[nodiscard]] std::string freeId(const std::string& type) const;
};

/// All sources and shapings; callers that evaluate pass it in, like a recipe's catalogue.
struct ReliefCatalogue {
    std::vector<ShapingType> shapings;
    /// Errors   Error(UnknownName), naming those there are.
    [[nodiscard]] const ShapingType& shaping(std::string_view id) const;
};

/// Every file that a relief is made from: its source's, and those that its settings name.
std::vector<std::filesystem::path> filesOf(const Relief& relief);

/// A new relief of that source.
Relief newRelief(std::string_view source);
Shaping newShaping(const ReliefCatalogue& catalogue, std::string_view type, const Relief& relief);

/// Adds "operation.setting=value" to the shaping of that type, or puts a new one at the end.
/// Errors   Error(UnknownName), Error(BadSetting).
void applyShapingSetting(const ReliefCatalogue& catalogue, Relief& relief,
                         const std::string& assignment);

nlohmann::json reliefToJson(const Relief& relief, const std::filesystem::path& folder);
/// Errors   Error(UnknownName, BadSetting, BadFile).
Relief reliefFromJson(const nlohmann::json& json, const ReliefCatalogue& catalogue,
                      const Catalogue& steps, const std::filesystem::path& folder);

/// Evaluates reliefs and caches the input of the shaping being edited.
/// Threads  one at a time.
class ReliefEvaluator {
public:
    ReliefEvaluator(const ReliefCatalogue& shapings, const Catalogue& steps);

    void setInput(ReliefInput input);
    [[nodiscard]] const ReliefInput& input() const noexcept { return m_input; }

    /// The field after all shapings that are on. factor: during a drag, shapings from the edited one on run at
    /// 1/factor of the size.
    /// Errors   what sources and shapings throw, with the shaping's name.
    HeightField evaluate(const Relief& relief, int factor = 1, const std::string& editing = {},
                         const RunContext& run = {});

private:
    struct Kept {
        std::uint64_t key;
        HeightField field;
    };
    /// Null if missing; the pointer is valid until the next keep().
    [[nodiscard]] const HeightField* recall(std::uint64_t key);
    void keep(std::uint64_t key, const HeightField& field);
    [[nodiscard]] Image maskOf(const HeightField& field, const Where& where, const RunContext& run);

    const ReliefCatalogue& m_shapings;
    const Catalogue& m_steps;
    ReliefInput m_input;
    std::uint64_t m_generation = 0;
    std::vector<Kept> m_kept;  ///< the last used last
    ResultCache m_masks;
};

/// A field at 1/factor of its size, for drags; holes stay holes.
HeightField shrunk(const HeightField& field, int factor);

}  // namespace noctis
