#pragma once

#include "core/dispatch/framing.h"

#include <string>

#include <CLI/App.hpp>

namespace noctis {

/// --crop and --size as they were typed.
struct FramingTexts {
    std::string crop;
    std::string size;
};

void addFramingOptions(CLI::App& command, FramingTexts& texts);
/// Errors   as cropFromText and sizeFromText.
Framing framingOf(const FramingTexts& texts);

}  // namespace noctis
