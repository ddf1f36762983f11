#pragma once

#include "core/image/run_context.h"

#include <memory>
#include <vector>

namespace noctis {

enum class FieldEdges { Free, Periodic };

/// Solves (L + a) z = f on a whole grid of cells, where L is the five-point negative Laplacian.
///
/// Shape    width x height floats without padding, row by row; any size from 1 x 1.
/// Exact    to float's rounding. With a = 0 the mean of z is 0, and that of f is left out.
/// Threads  all cores; same bits for any number.
/// Source   the cosine transform (free edges) or Fourier's (periodic) by OpenCV's cv::dct and cv::dft, by
///          rows; Buzbee, Golub, Nielson 1970, On Direct Methods for Solving Poisson's Equations.
class PoissonSolver {
public:
    PoissonSolver(int width, int height, FieldEdges edges);
    ~PoissonSolver();
    PoissonSolver(const PoissonSolver&) = delete;
    PoissonSolver& operator=(const PoissonSolver&) = delete;

    /// In place: f becomes z. Left half done when run is stopped.
    void solve(std::vector<float>& f, float a, const RunContext& run = {});

private:
    void solveFree(std::vector<float>& f, float a, const RunContext& run);
    void solvePeriodic(std::vector<float>& f, float a, const RunContext& run);

    int m_width;
    int m_height;
    FieldEdges m_edges;
    std::vector<float> m_turned;    ///< the transposed grid
    std::vector<float> m_spectrum;  ///< periodic: complex, half the columns
    std::vector<double> m_across;   ///< eigenvalues of rows
    std::vector<double> m_down;     ///< and of columns
};

}  // namespace noctis
