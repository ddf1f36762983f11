#pragma once

#include "core/image/run_context.h"
#include "core/relief/height_field.h"

namespace noctis {

// Filters of heights that know holes: what is not known counts for nothing, and stays unknown.

/// Without forms shorter than a wavelength in cells, of which half the height is left.
/// Source   a Gaussian, exp(-2 pi^2 s^2 / w^2) = 1/2; wide ones at a smaller size.
Image withoutShortForms(const Image& heights, float wavelengthCells);

/// Means over squares of 2 radius + 1 cells; beyond the borders the field is mirrored.
Image boxMean(const Image& heights, int radius);

/// Holes filled with the smoothest surface between what surrounds them; no known height changes.
/// Range    a field without any known height stays as it is.
/// Source   Laplace's equation by relaxation from coarse to fine (a cascade: Bornemann and Deuflhard 1996).
Image withoutHoles(const Image& heights);

/// The same, each hole with the height known nearest to it along rows and columns. Fast, for filters that
/// only must not see a hole.
Image patchedHoles(const Image& heights);

/// The heights with the holes of another field put back.
Image withHolesOf(Image heights, const Image& other);

/// The places of a field's cells, made if they were left out.
Image placesOf(const HeightField& field, int sourceWidth, int sourceHeight);

}  // namespace noctis
