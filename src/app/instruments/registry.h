#pragma once

#include "app/instruments/instrument.h"

namespace noctis {

/// The instruments that show what a recipe works on, in the order they stand side by side.
std::vector<Instrument*> makeInstruments(QWidget* parent);

}  // namespace noctis
