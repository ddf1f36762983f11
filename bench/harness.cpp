#include "harness.h"

#include "core/scene/import.h"

#include <algorithm>
#include <chrono>

namespace bench {

namespace {

double millisecondsOf(const std::function<void()>& work) {
    const auto start = std::chrono::steady_clock::now();
    work();
    return std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - start)
        .count();
}

double medianOf(std::vector<double> values) {
    std::nth_element(values.begin(),
                     values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2), values.end());
    return values[values.size() / 2];
}

}  // namespace

Row run(const Case& c) {
    Row row;
    row.name = c.name;
    row.target = c.target;
    row.higherIsBetter = c.higherIsBetter;
    row.note = c.note;
    row.wrong = c.check ? c.check() : std::string();
    if (!row.wrong.empty())
        return row;
    std::vector<double> ours;
    std::vector<double> reference;
    std::vector<double> ratios;
    c.ours();  // both warm
    c.reference();
    for (int i = 0; i < c.rounds; ++i) {
        ours.push_back(millisecondsOf(c.ours));
        reference.push_back(millisecondsOf(c.reference));
        ratios.push_back(c.higherIsBetter ? reference.back() / ours.back()
                                          : ours.back() / reference.back());
    }
    row.ours = medianOf(ours);
    row.reference = medianOf(reference);
    row.ratio = medianOf(ratios);
    const auto [low, high] = std::minmax_element(ratios.begin(), ratios.end());
    row.spread = (*high - *low) / row.ratio;
    return row;
}

const noctis::Scene& Demo::scene() const {
    static const noctis::Scene read = noctis::importScene(folder / "saltern_quay.gltf");
    return read;
}

}  // namespace bench
