#include "core/recipe/declaration.h"

#include "core/settings/value_type.h"

namespace noctis {

Settings settingsWith(const Declaration& declaration,
                      const std::vector<std::pair<std::string, Value>>& values) {
    Settings settings = initialSettings(declaration.parameters);
    for (const auto& [id, value] : values)
        settings.set(id, checkedValue(parameterNamed(declaration.parameters, id), value));
    return settings;
}

}  // namespace noctis
