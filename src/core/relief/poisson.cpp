#include "core/relief/poisson.h"

#include "core/image/tiles.h"

#include <cmath>
#include <numbers>

#include <opencv2/core.hpp>

namespace noctis {

namespace {

constexpr int kBlock = 32;

/// to[x * height + y] = from[y * width + x], of items of T.
template <typename T>
void transpose(const T* from, T* to, int width, int height, const RunContext& run) {
    forEachBand(width, kBlock, run, [&](int x0, int x1) {
        for (int y0 = 0; y0 < height; y0 += kBlock)
            for (int x = x0; x < x1; ++x)
                for (int y = y0; y < std::min(y0 + kBlock, height); ++y)
                    to[static_cast<std::size_t>(x) * static_cast<std::size_t>(height) +
                       static_cast<std::size_t>(y)] =
                        from[static_cast<std::size_t>(y) * static_cast<std::size_t>(width) +
                             static_cast<std::size_t>(x)];
    });
}

/// The orthonormal cosine transform (II) of one row of odd length, or back (III): cv::dct takes even ones
/// only. Source: as the Fourier transform of the row and its mirror image (Makhoul 1980).
void oddCosine(float* row, int n, bool back) {
    if (n == 1)
        return;
    const double first = std::sqrt(1.0 / n);
    const double other = std::sqrt(2.0 / n);
    const auto turn = [&](int k) { return std::numbers::pi * k / (2.0 * n); };
    cv::Mat_<cv::Vec2f> spectrum(1, 2 * n);
    cv::Mat_<float> mirrored(1, 2 * n);
    if (!back) {
        for (int i = 0; i < n; ++i)
            mirrored(i) = mirrored(2 * n - 1 - i) = row[i];
        cv::dft(mirrored, spectrum, cv::DFT_COMPLEX_OUTPUT);
        for (int k = 0; k < n; ++k)
            row[k] = static_cast<float>(0.5 * (k == 0 ? first : other) *
                                        (std::cos(turn(k)) * static_cast<double>(spectrum(k)[0]) +
                                         std::sin(turn(k)) * static_cast<double>(spectrum(k)[1])));
        return;
    }
    spectrum = cv::Vec2f(0.0F, 0.0F);
    for (int k = 0; k < n; ++k) {
        const double size = 2.0 * static_cast<double>(row[k]) / (k == 0 ? first : other);
        spectrum(k) = cv::Vec2f(static_cast<float>(size * std::cos(turn(k))),
                                static_cast<float>(size * std::sin(turn(k))));
        if (k > 0)
            spectrum(2 * n - k) = cv::Vec2f(spectrum(k)[0], -spectrum(k)[1]);
    }
    cv::dft(spectrum, mirrored, cv::DFT_INVERSE | cv::DFT_SCALE | cv::DFT_REAL_OUTPUT);
    for (int i = 0; i < n; ++i)
        row[i] = mirrored(i);
}

void cosineRows(float* rows, int width, int height, bool back, const RunContext& run) {
    forEachBand(height, kBandHeight, run, [&](int y0, int y1) {
        float* first = rows + static_cast<std::size_t>(y0) * static_cast<std::size_t>(width);
        if (width % 2 == 1) {
            for (int y = 0; y < y1 - y0; ++y)
                oddCosine(first + static_cast<std::size_t>(y) * static_cast<std::size_t>(width),
                          width, back);
            return;
        }
        cv::Mat band(y1 - y0, width, CV_32F, first);
        cv::dct(band, band, cv::DCT_ROWS | (back ? cv::DCT_INVERSE : 0));
    });
}

std::vector<double> eigenvalues(int n, double turnOfOne) {
    std::vector<double> values(static_cast<std::size_t>(n));
    for (int k = 0; k < n; ++k)
        values[static_cast<std::size_t>(k)] = 2.0 - 2.0 * std::cos(turnOfOne * k);
    return values;
}

/// What a coefficient is multiplied by.
float inverseOf(double eigenvalue) {
    return eigenvalue > 0.0 ? static_cast<float>(1.0 / eigenvalue) : 0.0F;
}

}  // namespace

PoissonSolver::PoissonSolver(int width, int height, FieldEdges edges)
    : m_width(width), m_height(height), m_edges(edges) {
    const bool periodic = edges == FieldEdges::Periodic;
    const double turn = (periodic ? 2.0 : 1.0) * std::numbers::pi;
    m_across = eigenvalues(width, turn / width);
    m_down = eigenvalues(height, turn / height);
}

PoissonSolver::~PoissonSolver() = default;

void PoissonSolver::solve(std::vector<float>& f, float a, const RunContext& run) {
    if (m_edges == FieldEdges::Periodic)
        solvePeriodic(f, a, run);
    else
        solveFree(f, a, run);
}

void PoissonSolver::solveFree(std::vector<float>& f, float a, const RunContext& run) {
    m_turned.resize(f.size());
    cosineRows(f.data(), m_width, m_height, false, run);
    transpose(f.data(), m_turned.data(), m_width, m_height, run);
    // Whole columns fit into the cache: there, forth and back at once.
    forEachBand(m_width, kBandHeight, run, [&](int x0, int x1) {
        float* first =
            m_turned.data() + static_cast<std::size_t>(x0) * static_cast<std::size_t>(m_height);
        cosineRows(first, m_height, x1 - x0, false, {});
        for (int x = x0; x < x1; ++x) {
            float* column =
                m_turned.data() + static_cast<std::size_t>(x) * static_cast<std::size_t>(m_height);
            const double across = m_across[static_cast<std::size_t>(x)] + static_cast<double>(a);
            for (int y = 0; y < m_height; ++y)
                column[y] *= inverseOf(across + m_down[static_cast<std::size_t>(y)]);
        }
        cosineRows(first, m_height, x1 - x0, true, {});
    });
    transpose(m_turned.data(), f.data(), m_height, m_width, run);
    cosineRows(f.data(), m_width, m_height, true, run);
}

void PoissonSolver::solvePeriodic(std::vector<float>& f, float a, const RunContext& run) {
    using Complex = cv::Vec2f;
    const int half = m_width / 2 + 1;
    const std::size_t count = static_cast<std::size_t>(half) * static_cast<std::size_t>(m_height);
    m_spectrum.resize(2 * count);
    m_turned.resize(2 * count);
    auto* spectrum = reinterpret_cast<Complex*>(m_spectrum.data());
    auto* turned = reinterpret_cast<Complex*>(m_turned.data());
    const auto rowsAt = [&](int y0, int y1) {
        return cv::Mat(y1 - y0, m_width, CV_32F,
                       f.data() + static_cast<std::size_t>(y0) * static_cast<std::size_t>(m_width));
    };
    // OpenCV packs the half of a real row's transform that says it all: 0, then pairs, then the middle alone.
    const int pairs = (m_width - 1) / 2;
    forEachBand(m_height, kBandHeight, run, [&](int y0, int y1) {
        cv::Mat rows = rowsAt(y0, y1);
        cv::dft(rows, rows, cv::DFT_ROWS);
        for (int y = y0; y < y1; ++y) {
            const auto* packed = rows.ptr<float>(y - y0);
            Complex* to = spectrum + static_cast<std::size_t>(y) * static_cast<std::size_t>(half);
            to[0] = Complex(packed[0], 0.0F);
            for (int k = 1; k <= pairs; ++k)
                to[k] = Complex(packed[2 * k - 1], packed[2 * k]);
            if (m_width % 2 == 0)
                to[half - 1] = Complex(packed[m_width - 1], 0.0F);
        }
    });
    transpose(spectrum, turned, half, m_height, run);
    forEachBand(half, kBandHeight, run, [&](int x0, int x1) {
        cv::Mat columns(x1 - x0, m_height, CV_32FC2,
                        turned + static_cast<std::size_t>(x0) * static_cast<std::size_t>(m_height));
        cv::dft(columns, columns, cv::DFT_ROWS);
        for (int x = x0; x < x1; ++x)
            for (int y = 0; y < m_height; ++y)
                columns.at<Complex>(x - x0, y) *=
                    inverseOf(m_across[static_cast<std::size_t>(x)] + static_cast<double>(a) +
                              m_down[static_cast<std::size_t>(y)]);
        cv::dft(columns, columns, cv::DFT_ROWS | cv::DFT_INVERSE | cv::DFT_SCALE);
    });
    transpose(turned, spectrum, m_height, half, run);
    forEachBand(m_height, kBandHeight, run, [&](int y0, int y1) {
        cv::Mat rows = rowsAt(y0, y1);
        for (int y = y0; y < y1; ++y) {
            auto* packed = rows.ptr<float>(y - y0);
            const Complex* from =
                spectrum + static_cast<std::size_t>(y) * static_cast<std::size_t>(half);
            packed[0] = from[0][0];
            for (int k = 1; k <= pairs; ++k) {
                packed[2 * k - 1] = from[k][0];
                packed[2 * k] = from[k][1];
            }
            if (m_width % 2 == 0)
                packed[m_width - 1] = from[half - 1][0];
        }
        cv::dft(rows, rows, cv::DFT_ROWS | cv::DFT_INVERSE | cv::DFT_SCALE);
    });
}

}  // namespace noctis
