#include "core/tracer/refinement_progress.h"

#include <catch2/catch.hpp>

using namespace noctis;

namespace {

/// Passes of nothing, whose noise in each tile is given.
class Silent : public RefinedPasses {
public:
    explicit Silent(std::vector<float> noise) : m_noise(std::move(noise)) {}
    [[nodiscard]] PassKind kind() const override { return PassKind::Beauty; }
    [[nodiscard]] int samples() const override { return 100; }
    void trace(const Tile&, int, int) noexcept override {}
    [[nodiscard]] std::vector<Pass> passes(const std::vector<int>& samplesOfTile,
                                           const std::vector<Tile>&) const override {
        Pass pass;
        for (const int samples : samplesOfTile)
            pass.name += std::to_string(samples) + " ";
        return {pass};
    }
    [[nodiscard]] std::optional<float> noiseOf(const Tile& tile, int done) const override {
        return m_noise[static_cast<std::size_t>(tile.x0)] / static_cast<float>(done);
    }

private:
    std::vector<float> m_noise;
};

const std::vector<Tile> kTwo{{0, 0, 1, 1}, {1, 0, 2, 1}};

std::string samplesOf(const Refinement& refinement) { return refinement.current().front().name; }

/// Traces rounds up to a target, each sample of all tiles in so many seconds.
void refine(Refinement& refinement, int target, double secondsASample = 0.0) {
    const Refinement::Round round = refinement.next(target);
    refinement.took(round, secondsASample * (round.to - round.from));
}

}  // namespace

TEST_CASE("without limits all tiles get all samples", "[tracer][refinement]") {
    Refinement refinement(std::make_unique<Silent>(std::vector<float>{0, 0}), kTwo, {});
    CHECK(refinement.foreseen() == 200);
    refine(refinement, 1);
    CHECK(samplesOf(refinement) == "1 1 ");
    refine(refinement, 64);
    CHECK(samplesOf(refinement) == "64 64 ");
    CHECK_FALSE(refinement.finished());
    refine(refinement, 128);
    CHECK(samplesOf(refinement) == "100 100 ");
    CHECK(refinement.finished());
    CHECK(refinement.tracedText().empty());
}

TEST_CASE("a tile that is clean rests, while others go on", "[tracer][refinement]") {
    // Clean to 0.05 with 10 and 40 samples.
    Refinement refinement(std::make_unique<Silent>(std::vector<float>{0.5F, 2.0F}), kTwo,
                          {.noise = 0.05F, .seconds = 0.0F});
    for (const int target : {1, 2, 4, 8, 16, 32})
        refine(refinement, target);
    CHECK(samplesOf(refinement) == "16 32 ");
    CHECK(refinement.foreseen() == 16 + 100);
    refine(refinement, 64);
    CHECK(samplesOf(refinement) == "16 64 ");
    CHECK_FALSE(refinement.finished());
    refine(refinement, 100);
    CHECK(samplesOf(refinement) == "16 64 ");
    CHECK(refinement.finished());
    CHECK(refinement.foreseen() == 16 + 64);
    CHECK(refinement.tracedText() == "16-64");
}

TEST_CASE("a time ends with as many samples as it allows, not with a whole round",
          "[tracer][refinement]") {
    Refinement refinement(std::make_unique<Silent>(std::vector<float>{9, 9}), kTwo,
                          {.noise = 0.0F, .seconds = 2.5F});
    for (const int target : {1, 2, 4, 8, 16})
        refine(refinement, target, 0.125);
    CHECK(samplesOf(refinement) == "16 16 ");
    refine(refinement, 32, 0.125);
    CHECK(samplesOf(refinement) == "20 20 ");
    CHECK(refinement.foreseen() == 40);
    refine(refinement, 64, 0.125);
    CHECK(samplesOf(refinement) == "20 20 ");
    CHECK(refinement.finished());
}

TEST_CASE("a time that is too short still gives one sample", "[tracer][refinement]") {
    Refinement refinement(std::make_unique<Silent>(std::vector<float>{9, 9}), kTwo,
                          {.noise = 0.0F, .seconds = 0.001F});
    for (const int target : {1, 2, 4})
        refine(refinement, target, 1.0);
    CHECK(samplesOf(refinement) == "1 1 ");
    CHECK(refinement.finished());
    CHECK(refinement.tracedText() == "1");
}

TEST_CASE("how far refinements are goes by time, not by samples", "[tracer][refinement]") {
    std::vector<Refinement> both;
    for (int i = 0; i < 2; ++i)
        both.emplace_back(std::make_unique<Silent>(std::vector<float>{0, 0}), kTwo,
                          RefinementLimits{});
    std::vector<float> reports;
    const RunContext run{.stop = {}, .progress = [&](float done) { reports.push_back(done); }};
    RefinementProgress progress(both, 40, run);
    progress.beginMeasuring();
    progress.measured(30, 3.0);
    progress.measured(10, 1.0);
    for (const int target : {1, 2, 4, 8}) {
        refine(both[0], target, 0.01);
        refine(both[1], target, 0.1);
    }
    progress.begin(both[0]);
    REQUIRE(!reports.empty());
    CHECK(reports.back() == Approx((4.0F + 0.88F) / 15.0F));
    for (const int target : {16, 32, 64, 100})
        refine(both[0], target, 0.01);
    progress.begin(both[1]);
    CHECK(reports.back() == Approx((4.0F + 1.0F + 0.8F) / 15.0F));
    progress.add(2 * 8);
    CHECK(reports.back() == Approx((4.0F + 1.0F + 1.6F) / 15.0F));
    progress.finish();
    CHECK(reports.back() == 1.0F);
}
