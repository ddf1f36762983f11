#include "core/image/safe_write.h"
#include "harness.h"

#include <QApplication>

#include <algorithm>
#include <exception>

#include <CLI/CLI.hpp>
#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace {

void print(const bench::Row& row) {
    if (!row.wrong.empty()) {
        fmt::print("{:<30} WRONG: {}\n", row.name, row.wrong);
        return;
    }
    const std::string target =
        row.target > 0.0
            ? fmt::format("{} {:.2f}", row.higherIsBetter ? "at least" : "at most", row.target)
            : "-";
    fmt::print("{:<30} {:>10.2f} {:>10.2f} {:<3} {:>8.3f} {:>7.0f} %  {:<14} {}\n", row.name,
               row.ours, row.reference, row.unit, row.ratio, row.spread * 100.0, target, row.note);
    std::fflush(stdout);
}

}  // namespace

int main(int argc, char** argv) {
    qputenv("QT_QPA_PLATFORM", "offscreen");
    const QApplication application(argc, argv);
    std::string filter;
    std::string json;
    bench::Demo demo;
    CLI::App options("Measures speed, each case beside its reference in the same run");
    options.add_option("--demo", demo.folder, "The demo's folder")->required();
    options.add_option("--filter", filter, "Only cases with this in their names");
    options.add_option("--json", json, "A file for the results");
    CLI11_PARSE(options, argc, argv);
    const bench::Filter wanted = [&](const std::string& name) {
        return filter.empty() || name.find(filter) != std::string::npos;
    };
    fmt::print("{:<30} {:>10} {:>10}     {:>8} {:>9}  {:<14}\n", "case", "ours", "reference",
               "ratio", "spread", "target");
    std::vector<bench::Row> rows;
    std::size_t shown = 0;
    const auto show = [&] {
        for (; shown < rows.size(); ++shown)
            print(rows[shown]);
    };
    try {
        bench::files(wanted, rows);
        show();
        bench::sceneReading(wanted, rows);
        show();
        bench::pointSteps(wanted, rows);
        show();
        bench::depthOfField(demo, wanted, rows);
        show();
        bench::light(demo, wanted, rows);
        show();
        bench::air(demo, wanted, rows);
        bench::lens(demo, wanted, rows);
        show();
        bench::contact(demo, wanted, rows);
        show();
        bench::occlusion(demo, wanted, rows);
        show();
        bench::tracer(demo, wanted, rows);
        show();
        bench::beauty(demo, wanted, rows);
        show();
        bench::relief(wanted, rows);
        show();
        bench::moving(demo, wanted, rows);
        show();
        bench::orbit(demo, wanted, rows);
        show();
        bench::opening(demo, wanted, rows);
        show();
        bench::drag(demo, wanted, rows);
        bench::time(demo, wanted, rows);
        show();
        bench::dispatch(demo, wanted, rows);
        show();
        if (!json.empty()) {
            nlohmann::json all = nlohmann::json::array();
            for (const bench::Row& row : rows)
                all.push_back({{"name", row.name},
                               {"ours", row.ours},
                               {"reference", row.reference},
                               {"unit", row.unit},
                               {"ratio", row.ratio},
                               {"spread", row.spread},
                               {"target", row.target},
                               {"higher_is_better", row.higherIsBetter},
                               {"note", row.note},
                               {"wrong", row.wrong}});
            noctis::writeTextFile(json, all.dump(2) + "\n");
        }
    } catch (const std::exception& error) {
        fmt::print(stderr, "noctis_bench: {}\n", error.what());
        return 4;
    }
    return std::any_of(rows.begin(), rows.end(),
                       [](const bench::Row& row) { return !row.wrong.empty(); })
               ? 1
               : 0;
}
