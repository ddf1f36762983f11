#pragma once

#include "core/scene/scene.h"

#include <filesystem>
#include <functional>
#include <string>
#include <vector>

namespace bench {

/// A case: its result is checked first, then it is timed in turn with its reference, A B A B.
/// Google Benchmark runs one case to its end before the next; on a machine whose speed drifts only
/// taking turns compares fairly, so the loop is our own.
struct Case {
    std::string name;
    std::function<std::string()> check;  ///< empty when right, otherwise what is wrong
    std::function<void()> ours;
    std::function<void()> reference;
    double target = 0.0;  ///< of the ratio
    bool higherIsBetter =
        false;  ///< ratio = reference / ours (a speed) instead of ours / reference
    std::string note;
    int rounds = 7;
};

/// What a case gave. Times in milliseconds, the median of the rounds.
struct Row {
    std::string name;
    double ours = 0.0;
    double reference = 0.0;
    double ratio = 0.0;
    double spread = 0.0;  ///< of the rounds' ratios: (largest - smallest) / median
    double target = 0.0;
    bool higherIsBetter = false;
    std::string unit = "ms";
    std::string note;
    std::string wrong;
};

Row run(const Case& c);

/// Folder of the demo data.
struct Demo {
    std::filesystem::path folder;
    /// The scene, read when it is first asked for.
    [[nodiscard]] const noctis::Scene& scene() const;
};

/// Each adds its cases; those that the filter leaves out are not prepared.
using Filter = std::function<bool(const std::string&)>;
void depthOfField(const Demo& demo, const Filter& wanted, std::vector<Row>& rows);
void pointSteps(const Filter& wanted, std::vector<Row>& rows);
void files(const Filter& wanted, std::vector<Row>& rows);
void sceneReading(const Filter& wanted, std::vector<Row>& rows);
void occlusion(const Demo& demo, const Filter& wanted, std::vector<Row>& rows);
void tracer(const Demo& demo, const Filter& wanted, std::vector<Row>& rows);
void beauty(const Demo& demo, const Filter& wanted, std::vector<Row>& rows);
void contact(const Demo& demo, const Filter& wanted, std::vector<Row>& rows);
void air(const Demo& demo, const Filter& wanted, std::vector<Row>& rows);
void lens(const Demo& demo, const Filter& wanted, std::vector<Row>& rows);
void light(const Demo& demo, const Filter& wanted, std::vector<Row>& rows);
void moving(const Demo& demo, const Filter& wanted, std::vector<Row>& rows);
void orbit(const Demo& demo, const Filter& wanted, std::vector<Row>& rows);
void relief(const Filter& wanted, std::vector<Row>& rows);
void opening(const Demo& demo, const Filter& wanted, std::vector<Row>& rows);
void drag(const Demo& demo, const Filter& wanted, std::vector<Row>& rows);
void dispatch(const Demo& demo, const Filter& wanted, std::vector<Row>& rows);
void time(const Demo& demo, const Filter& wanted, std::vector<Row>& rows);

}  // namespace bench
