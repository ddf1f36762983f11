#pragma once

#include "app/controls/value_editor.h"

namespace noctis {

/// Edits a value of any type as text, with a picker for files and names. Text that can't be read is reset, and
/// the tooltip says why.
ValueEditor* makeLineEditor(const Parameter& parameter, const NameSource& names, QWidget* parent);

}  // namespace noctis
