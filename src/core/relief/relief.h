#pragma once

#include "core/recipe/recipe.h"
#include "core/relief/relief_type.h"

#include <memory>

#include <nlohmann/json_fwd.hpp>

namespace noctis {

/// One height map: its source, and what is done to it, in order.
struct Relief {
    std::string id{};
    std::string name{};
    ReliefFrom from{};
    std::string source = "depth";  ///< an id of the sources
    Settings settings{};
    Steps operations{};  ///< their Wheres are of the source's frame
    bool operator==(const Relief&) const = default;
};

/// All sources and operations; callers that evaluate pass it in, like a recipe's catalogue.
struct ReliefCatalogue {
    std::vector<OperationType> operations;
    /// Errors   Error(UnknownName), naming those there are.
    [[nodiscard]] const OperationType& operation(std::string_view id) const;
};

/// The declarations of operations, and of criteria, which both outlive this.
StepTypes operationTypes(const ReliefCatalogue& operations, const Catalogue& criteria);

/// Every file that a relief is made from: its source's, and those that its settings name.
std::vector<std::filesystem::path> filesOf(const Relief& relief);

/// A new relief of that source.
Relief newRelief(std::string_view source);
Step newOperation(const ReliefCatalogue& catalogue, std::string_view type, const Relief& relief);

/// Adds "operation.setting=value" to the operation of that type, or puts a new one at the end.
/// Errors   Error(UnknownName), Error(BadSetting).
void applyOperationSetting(const ReliefCatalogue& catalogue, Relief& relief,
                           const std::string& assignment);

/// {"id", "name", "from": SOURCE, "settings", "files", "view", "size", "operations": [...]}; operations as in
/// recipe/step_json.h, with the key "operation".
nlohmann::json reliefToJson(const Relief& relief, const StepTypes& operations,
                            const std::filesystem::path& folder);
/// Operations that can't be used are kept, as steps are.
/// Errors   Error(UnknownName, BadSetting, BadFile) for a source that can't be used.
Relief reliefFromJson(const nlohmann::json& json, const StepTypes& operations,
                      const std::filesystem::path& folder);

/// Evaluates reliefs and caches the input of the operation being edited.
/// Threads  one at a time.
class ReliefEvaluator {
public:
    ReliefEvaluator(const ReliefCatalogue& operations, const Catalogue& steps);

    void setInput(ReliefInput input);
    [[nodiscard]] const ReliefInput& input() const noexcept { return m_input; }

    /// The field after all operations that are on. factor: during a drag, operations from the edited one on run at
    /// 1/factor of the size.
    /// Errors   what sources and operations throw, with the operation's name.
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

    const ReliefCatalogue& m_operations;
    const Catalogue& m_steps;
    ReliefInput m_input;
    std::uint64_t m_generation = 0;
    std::vector<Kept> m_kept;  ///< the last used last
    ResultCache m_masks;
};

/// A field at 1/factor of its size, for drags; holes stay holes.
HeightField shrunk(const HeightField& field, int factor);

}  // namespace noctis
