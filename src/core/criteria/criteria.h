#pragma once

#include "core/recipe/criterion_type.h"

namespace noctis {

// Each is in the file of its family; a new one adds its name to registry.cpp.

// bands.cpp
CriterionType depthCriterion();
CriterionType distanceCriterion();
CriterionType heightCriterion();
CriterionType axisCriterion();
// places.cpp
CriterionType sphereCriterion();
CriterionType aroundCriterion();
CriterionType boxCriterion();
CriterionType facingCriterion();
// mattes.cpp
CriterionType objectsCriterion();
CriterionType materialsCriterion();
CriterionType groupsCriterion();
CriterionType idColourCriterion();
// values.cpp
CriterionType luminanceCriterion();
CriterionType colourCriterion();
CriterionType occlusionCriterion();
CriterionType passCriterion();
// shapes.cpp
CriterionType ellipseCriterion();
CriterionType rectangleCriterion();
CriterionType gradientCriterion();
CriterionType polygonCriterion();
CriterionType strokesCriterion();

/// All of them.
std::vector<CriterionType> criterionTypes();

}  // namespace noctis
