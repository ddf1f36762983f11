#pragma once

#include "core/project/project.h"
#include "core/recipe/step_type.h"

#include <filesystem>
#include <string_view>
#include <vector>

#include <nlohmann/json_fwd.hpp>

namespace noctis {

/// Context for reading and writing a field.
struct FieldContext {
    const std::filesystem::path& folder;  ///< base of the relative paths in the file
    const Catalogue& catalogue;
};

/// A field of the project file. A member of Project is declared here once; saving, opening and keeping
/// what is unknown follow.
struct ProjectField {
    std::string_view key;
    nlohmann::json (*write)(const Project&, const FieldContext&);  ///< null: not written
    /// Errors   Error(BadSetting, BadFile), nlohmann::json::exception.
    void (*read)(Project&, const nlohmann::json&, const FieldContext&);
};

const std::vector<ProjectField>& projectFields();

}  // namespace noctis
