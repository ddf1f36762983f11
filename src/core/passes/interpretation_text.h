#pragma once

#include "core/passes/interpretation.h"

#include <optional>
#include <string>

namespace noctis {

/// A reading as JSON text, as it stands in files' metadata, sidecars and projects. Its reason is not kept.
std::string textFromInterpretation(const Interpretation& interpretation);

/// Nothing where the text gives no reading.
std::optional<Interpretation> interpretationFromText(const std::string& text);

}  // namespace noctis
