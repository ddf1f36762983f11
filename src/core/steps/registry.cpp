#include "core/steps/registry.h"

#include "core/criteria/criteria.h"

namespace noctis {

#define STEP(name) StepType name##Step();
#include "core/steps/step_list.inc"
#undef STEP

const Catalogue& stepCatalogue() {
    static const Catalogue catalogue(
        {
#define STEP(name) name##Step(),
#include "core/steps/step_list.inc"
#undef STEP
        },
        criterionTypes());
    return catalogue;
}

}  // namespace noctis
