#include "core/criteria/criteria.h"

namespace noctis {

std::vector<CriterionType> criterionTypes() {
    return {
        depthCriterion(),     distanceCriterion(),  heightCriterion(),    axisCriterion(),
        ballCriterion(),      boxCriterion(),       facingCriterion(),    objectsCriterion(),
        materialsCriterion(), groupsCriterion(),    idPictureCriterion(), luminanceCriterion(),
        colourCriterion(),    occlusionCriterion(), passCriterion(),      ellipseCriterion(),
        rectangleCriterion(), gradientCriterion(),  polygonCriterion(),   strokesCriterion(),
    };
}

}  // namespace noctis
