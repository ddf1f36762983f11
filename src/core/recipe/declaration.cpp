#include "core/recipe/declaration.h"

#include "core/settings/value_type.h"

namespace noctis {

Declaration::Declaration() = default;
Declaration::Declaration(const Declaration&) = default;
Declaration::Declaration(Declaration&&) noexcept = default;
Declaration& Declaration::operator=(const Declaration&) = default;
Declaration& Declaration::operator=(Declaration&&) noexcept = default;
Declaration::~Declaration() = default;

Settings settingsWith(const Declaration& declaration,
                      const std::vector<std::pair<std::string, Value>>& values) {
    Settings settings = initialSettings(declaration.parameters);
    for (const auto& [id, value] : values)
        settings.set(id, checkedValue(parameterNamed(declaration.parameters, id), value));
    return settings;
}

}  // namespace noctis
