#include "core/steps/registry.h"

#include "core/steps/depth_of_field.h"
#include "core/steps/fog.h"
#include "core/steps/occlusion.h"

namespace noctis {

const Catalogue& stepCatalogue() {
    static const Catalogue catalogue({
        occlusionStep(),
        fogStep(),
        depthOfFieldStep(),
    });
    return catalogue;
}

}  // namespace noctis
