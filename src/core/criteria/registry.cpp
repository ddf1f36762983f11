#include "core/criteria/criteria.h"

namespace noctis {

std::vector<CriterionType> criterionTypes() {
    std::vector<CriterionType> all;
    const auto add = [&](CriterionFamily family, std::vector<CriterionType> types) {
        for (CriterionType& type : types) {
            type.family = family;
            all.push_back(std::move(type));
        }
    };
    add(CriterionFamily::InScene,
        {depthCriterion(), distanceCriterion(), heightCriterion(), axisCriterion(),
         sphereCriterion(), aroundCriterion(), boxCriterion(), facingCriterion()});
    add(CriterionFamily::ByName,
        {objectsCriterion(), materialsCriterion(), groupsCriterion(), idColourCriterion()});
    add(CriterionFamily::ByValue,
        {luminanceCriterion(), colourCriterion(), occlusionCriterion(), passCriterion()});
    add(CriterionFamily::Drawn, {ellipseCriterion(), rectangleCriterion(), gradientCriterion(),
                                 polygonCriterion(), strokesCriterion()});
    return all;
}

}  // namespace noctis
