#include "core/image/tiles.h"
#include "core/operations/registry.h"
#include "core/relief/derived_maps.h"
#include "core/relief/height_file.h"
#include "core/relief/integrate.h"
#include "core/relief/relief.h"
#include "core/relief/solid_picture.h"
#include "core/steps/registry.h"
#include "harness.h"

#include <chrono>
#include <cmath>

#include <fmt/format.h>
#include <opencv2/core.hpp>

namespace bench {

namespace {

using namespace noctis;

constexpr int kSide = 2048;
constexpr float kCell = 0.0005F;
constexpr float kTurn = 6.2831853F;

float heightOf(int x, int y) {
    return 0.01F * std::sin(kTurn * static_cast<float>(x) / 64.0F) *
           std::cos(kTurn * static_cast<float>(y) / 128.0F);
}

template <typename Work> Image filled(int side, const Work& work) {
    Image image = unsetHeights(side, side);
    float* to = image.editPlane(0);
    forEachBand(side, 32, {}, [&](int y0, int y1) {
        for (int y = y0; y < y1; ++y)
            for (int x = 0; x < side; ++x)
                to[image.rowStride() * y + x] = work(x, y);
    });
    return image;
}

Slopes slopesOf(bool holes) {
    const auto isHole = [holes](int x, int y) {
        return holes && x > 400 && x < 1048 && y > 700 && y < 1348;  // a tenth of the area
    };
    return {filled(kSide,
                   [&](int x, int y) {
                       if (isHole(x, y))
                           return std::nanf("");
                       return 0.01F * kTurn / (64.0F * kCell) *
                              std::cos(kTurn * static_cast<float>(x) / 64.0F) *
                              std::cos(kTurn * static_cast<float>(y) / 128.0F);
                   }),
            filled(kSide, [&](int x, int y) {
                return 0.01F * kTurn / (128.0F * kCell) *
                       std::sin(kTurn * static_cast<float>(x) / 64.0F) *
                       std::sin(kTurn * static_cast<float>(y) / 128.0F);
            })};
}

/// A wavy step down the middle.
bool isRight(int x, int y) {
    return static_cast<float>(x) > 1400.0F + 100.0F * std::sin(static_cast<float>(y) * 0.01F);
}

std::string offBy(const Image& found, double allowed, bool torn) {
    double worst = 0.0;
    for (int side = 0; side < (torn ? 2 : 1); ++side) {
        double sum = 0.0;
        double squares = 0.0;
        double count = 0.0;
        for (int y = 0; y < kSide; ++y)
            for (int x = 0; x < kSide; ++x) {
                if (!std::isfinite(found(x, y, 0)) || (torn && isRight(x, y) != (side == 1)))
                    continue;
                const auto d =
                    static_cast<double>(found(x, y, 0)) - static_cast<double>(heightOf(x, y));
                sum += d;
                squares += d * d;
                count += 1.0;
            }
        worst = std::max(worst, std::sqrt(squares / count - sum * sum / (count * count)) / 0.02);
    }
    return worst < allowed ? std::string() : fmt::format("off by {:.4f} of the range", worst);
}

void transforms(bool fourier) {
    static cv::Mat field = [] {
        cv::Mat made(kSide, kSide, CV_32F);
        cv::randu(made, 0.0, 1.0);
        return made;
    }();
    cv::Mat there;
    cv::Mat back;
    if (fourier) {
        cv::dft(field, there);
        cv::dft(there, back, cv::DFT_INVERSE | cv::DFT_SCALE);
    } else {
        cv::dct(field, there);
        cv::idct(there, back);
    }
}

void integration(const Filter& wanted, std::vector<Row>& rows) {
    for (const bool periodic : {false, true}) {
        const std::string name = periodic ? "relief normals repeating" : "relief normals free";
        if (!wanted(name))
            continue;
        const Slopes slopes = slopesOf(false);
        IntegrationSettings how;
        how.metresPerPixel = kCell;
        how.edges = periodic ? FieldEdges::Periodic : FieldEdges::Free;
        Image found;
        rows.push_back(
            run({.name = name,
                 .check =
                     [&] {
                         found = heightsFromSlopes(slopes, how);
                         return offBy(found, 1e-3, false);
                     },
                 .ours = [&] { found = heightsFromSlopes(slopes, how); },
                 .reference = [periodic] { transforms(periodic); },
                 .target = 1.5,
                 .note = periodic ? "cv::dft there and back" : "cv::dct there and back"}));
    }
    if (const std::string name = "relief normals torn"; wanted(name)) {
        Slopes slopes = slopesOf(true);
        slopes.tornRight = filled(kSide, [](int x, int y) {
            return x + 1 < kSide && isRight(x, y) != isRight(x + 1, y) ? 1.0F : 0.0F;
        });
        slopes.tornBelow = filled(kSide, [](int x, int y) {
            return y + 1 < kSide && isRight(x, y) != isRight(x, y + 1) ? 1.0F : 0.0F;
        });
        IntegrationSettings how;
        how.metresPerPixel = kCell;
        Image found;
        rows.push_back(run({.name = name,
                            .check =
                                [&] {
                                    found = heightsFromSlopes(slopes, how);
                                    return offBy(found, 5e-3, true);
                                },
                            .ours = [&] { found = heightsFromSlopes(slopes, how); },
                            .reference = [] { transforms(false); },
                            .target = 15.0,
                            .note = "cv::dct there and back",
                            .rounds = 3}));
    }
}

HeightField fieldOf(int side) {
    HeightField field;
    field.metresPerPixel = kCell;
    field.heights = filled(side, heightOf);
    return field;
}

/// Time by the cells of four times as many cells: 1 where it is proportional to them.
void horizons(const Filter& wanted, std::vector<Row>& rows) {
    const std::string name = "relief occlusion";
    if (!wanted(name))
        return;
    const HeightField large = fieldOf(kSide);
    const HeightField small = fieldOf(kSide / 2);
    Image open;
    rows.push_back(run({.name = name,
                        .check =
                            [&] {
                                open = openPartOf(large);
                                return open(5, 5, 0) > 0.0F ? std::string() : std::string("dark");
                            },
                        .ours = [&] { open = openPartOf(large); },
                        .reference =
                            [&] {
                                for (int i = 0; i < 4; ++i)
                                    open = openPartOf(small);
                            },
                        .target = 1.25,
                        .note = "the same on four fields of a quarter of the cells",
                        .rounds = 3}));
}

/// A slider of the last operation moves: beside one of 50 ms that only waits.
void dragged(const Filter& wanted, std::vector<Row>& rows) {
    const std::string name = "relief drag";
    if (!wanted(name))
        return;
    ReliefInput input;
    input.stored = filled(kSide, [](int x, int y) { return 0.5F + 20.0F * heightOf(x, y); });
    input.passes.width = kSide;
    input.passes.height = kSide;
    ReliefEvaluator evaluator(reliefCatalogue(), stepCatalogue());
    evaluator.setInput(std::move(input));
    Relief relief = newRelief("grey");
    for (const char* type : {"level", "detail", "smooth"})
        relief.operations.push_back(newOperation(reliefCatalogue(), type, relief));
    int turn = 0;
    HeightField field;
    const auto move = [&] {
        relief.operations.back().settings.set("radius",
                                              0.002F + 1e-5F * static_cast<float>(++turn % 50));
        field = evaluator.evaluate(relief, 4, "smooth");
        (void)reportOf(field, SampleType::Short);
    };
    move();
    rows.push_back(run({.name = name,
                        .check = [&] { return field.width() == kSide / 4 ? "" : "not small"; },
                        .ours = move,
                        .reference =
                            [] {
                                const auto end = std::chrono::steady_clock::now() +
                                                 std::chrono::milliseconds(50);
                                while (std::chrono::steady_clock::now() < end) {
                                }
                            },
                        .target = 1.0,
                        .note = "50 ms"}));
}

void solid(const Filter& wanted, std::vector<Row>& rows) {
    const std::string name = "relief solid orbit";
    if (!wanted(name))
        return;
    const Solid made(fieldOf(kSide));
    float turn = 0.0F;
    Image seen;
    const auto orbit = [&] {
        turn += 3.0F;
        seen = made.seen(made.camera(turn, 38.0F, 1.0F), V3f(-0.6F, 0.6F, 0.5F), 480, 440);
    };
    rows.push_back(run({.name = name,
                        .check =
                            [&] {
                                orbit();
                                return seen.width() == 480 ? "" : "no picture";
                            },
                        .ours = orbit,
                        .reference =
                            [] {
                                const auto end = std::chrono::steady_clock::now() +
                                                 std::chrono::milliseconds(50);
                                while (std::chrono::steady_clock::now() < end) {
                                }
                            },
                        .target = 1.0,
                        .note = "50 ms, 20 pictures a second, 480 wide"}));
}

}  // namespace

void relief(const Filter& wanted, std::vector<Row>& rows) {
    integration(wanted, rows);
    horizons(wanted, rows);
    dragged(wanted, rows);
    solid(wanted, rows);
}

}  // namespace bench
