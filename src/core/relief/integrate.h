#pragma once

#include "core/image/image.h"
#include "core/relief/poisson.h"

namespace noctis {

/// Slopes of a surface, and where they say nothing.
/// Shape    all alike, one channel each.
struct Slopes {
    Image right;  ///< rise per length, to the right; NaN where not known
    Image up;     ///< the same, up the picture
    /// 1 where the surface is torn between a cell and the one to its right, or below; empty: nowhere.
    Image tornRight{};
    Image tornBelow{};
};

struct IntegrationSettings {
    FieldEdges edges = FieldEdges::Free;
    float metresPerPixel = 0.001F;
    Image anchor{};  ///< heights that are known, m; NaN where not; empty: none
    float anchorWavelength =
        0.0F;  ///< m; forms wider than this follow the anchor; 0: 8 times the size
    int mostRounds = 40;
    float tolerance = 2e-4F;  ///< of what is left of the residual
};

/// Heights of the surface whose slopes these are, by least squares over all neighbours between which it
/// is not torn.
///
/// Shape    one channel Y. A cell without a slope is a hole.
/// Units    m. Without an anchor the mean is 0.
/// Exact    slopes are integrated between cells by cubic to quintic polynomials: within 1e-3 of the range for waves
///          of ten cells or longer.
/// Errors   Error(BadFile) where no slope is known.
/// Threads  all cores; same bits for any number.
/// Source   Frankot and Chellappa 1988, A Method for Enforcing Integrability, for the least squares;
///          weights by conjugate gradients preconditioned with the whole grid's solver (Ghiglia and Romero
///          1994, Robust two-dimensional weighted phase unwrapping); Bhat et al. 2008, Fourier Analysis of the 2D
///          Screened Poisson Equation, for the anchor.
Image heightsFromSlopes(const Slopes& slopes, const IntegrationSettings& settings,
                        const RunContext& run = {});

}  // namespace noctis
