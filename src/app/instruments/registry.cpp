#include "app/instruments/registry.h"

#include "app/instruments/bearing.h"
#include "app/instruments/plan.h"
#include "app/instruments/sounding.h"

namespace noctis {

std::vector<Instrument*> makeInstruments(QWidget* parent) {
    return {new Sounding(parent), new Plan(parent), new Bearing(parent)};
}

}  // namespace noctis
