#pragma once

#include "app/controls/value_editor.h"

namespace noctis {

/// The editor of a value of any type by its text form, with a picker for files and names. What can't be read goes back
/// to what it was, and the tooltip says why.
ValueEditor* makeLineEditor(const Parameter& parameter, const NameSource& names, QWidget* parent);

}  // namespace noctis
