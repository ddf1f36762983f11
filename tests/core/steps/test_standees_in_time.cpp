#include "core/image/tiles.h"
#include "core/steps/standee.h"
#include "support/files.h"
#include "support/frames.h"
#include "support/worse.h"

#include <cmath>

#include <algorithm>
#include <array>

#include <catch2/catch.hpp>

using namespace noctis;

namespace {

const V3f kRight(1, 0, 0);
const V3f kTowards(0, 0, 1);

std::string embers(const std::string& more) {
    return R"({"step":"standee","settings":{"text":"•","height":0.5,"distance":10,"at":[80,60],)"
           R"("mode":"add","strength":2,"soft":0.01)" +
           more + "}}";
}

double lightOf(const Image& image) {
    double sum = 0.0;
    for (int y = 0; y < image.height(); ++y)
        for (int x = 0; x < image.width(); ++x)
            sum += static_cast<double>(image(x, y, 0));
    return sum;
}

PassSet night(float metres) {
    PassSet set = test::greyFrame(160, 90, 0.0F);
    set.put(test::passOf({PassKind::Depth, {}}, 160, 90, [=](int, int, int) { return metres; }));
    return set;
}

}  // namespace

TEST_CASE("standees stand anywhere within their span, never in rows", "[steps][standee]") {
    StandeeSettings s;
    s.count = 2000;
    s.span = 1.0F;
    for (const int seed : {0, 1, 7}) {
        s.seed = seed;
        CAPTURE(seed);
        // Of a grid of a hundred cells: what is even by chance has a chi-square of 99 +- 14.
        std::array<int, 100> cells{};
        for (const StandeeOne& one : standeesOf(s, 0.0, kRight, kTowards)) {
            const auto part = [](float v) {
                return std::clamp(static_cast<int>(10.0F * (v + 0.5F)), 0, 9);
            };
            ++cells.at(static_cast<std::size_t>(10 * part(one.offset.x) + part(one.offset.z)));
        }
        double chi = 0.0;
        for (const int count : cells)
            chi += (count - 20.0) * (count - 20.0) / 20.0;
        CHECK(chi < 160.0);
        CHECK(chi > 50.0);  // a lattice is too even
        // A row repeats its step: from one to the next, no two are the same way apart.
        const auto all = standeesOf(s, 0.0, kRight, kTowards);
        int repeated = 0;
        for (std::size_t i = 2; i < all.size(); ++i) {
            const V3f step = all[i].offset - all[i - 1].offset;
            const V3f before = all[i - 1].offset - all[i - 2].offset;
            repeated += (step - before).length() < 0.02F ? 1 : 0;
        }
        CHECK(repeated < 10);
    }
}

TEST_CASE("one standee stays as it is, and several differ by their seed alone",
          "[steps][standee]") {
    StandeeSettings s;
    const auto one = standeesOf(s, 3.0, kRight, kTowards);
    REQUIRE(one.size() == 1);
    CHECK(one[0].offset == V3f(0.0F));
    CHECK(one[0].size == 1.0F);
    CHECK(one[0].strength == 1.0F);
    s.count = 50;
    s.span = 4.0F;
    const auto many = standeesOf(s, 3.0, kRight, kTowards);
    const auto again = standeesOf(s, 9.0, kRight, kTowards);
    float nearest = 9.0F;
    float farthest = -9.0F;
    for (std::size_t i = 0; i < many.size(); ++i) {
        CHECK(many[i].offset == again[i].offset);
        CHECK(std::abs(many[i].offset.x) <= 2.0F);
        CHECK(many[i].offset.y == 0.0F);
        nearest = std::min(nearest, many[i].offset.z);
        farthest = std::max(farthest, many[i].offset.z);
    }
    CHECK(nearest < -1.5F);
    CHECK(farthest > 1.5F);
    s.count = 20;
    CHECK(standeesOf(s, 0.0, kRight, kTowards)[19].offset == many[19].offset);
    s.seed = 2;
    CHECK_FALSE(standeesOf(s, 0.0, kRight, kTowards)[3].offset == many[3].offset);
}

TEST_CASE("a standee moves by its velocity and starts again after its life", "[steps][standee]") {
    StandeeSettings s;
    s.velocity = V3f(0, 2, 0);
    CHECK(standeesOf(s, 1.5, kRight, kTowards)[0].offset.y == Approx(3.0F));
    s.life = 1.0F;
    CHECK(standeesOf(s, 1.5, kRight, kTowards)[0].offset.y == Approx(1.0F));
    CHECK(standeesOf(s, 1.5, kRight, kTowards)[0].strength == Approx(1.0F));
    CHECK(standeesOf(s, 2.01, kRight, kTowards)[0].strength < 0.05F);
    const StepType& type = stepCatalogue().type("standee");
    CHECK(type.readsTime(test::recipeOf(embers(R"(,"life":2)")).steps[0].settings));
    CHECK_FALSE(type.readsTime(test::recipeOf(embers("")).steps[0].settings));
}

TEST_CASE("sparks stand before and behind a thing", "[steps][standee]") {
    const std::string many = embers(R"(,"count":40,"span":6)");
    const double before = lightOf(test::finished(night(100.0F), test::recipeOf(many)));
    const double among = lightOf(test::finished(night(10.0F), test::recipeOf(many)));
    const double behind = lightOf(test::finished(night(2.0F), test::recipeOf(many)));
    CHECK(before > 0.0);
    CHECK(among > 0.2 * before);
    CHECK(among < 0.8 * before);
    CHECK(behind == 0.0);
}

TEST_CASE("several before and behind a leaning post are hidden to the pixel's share",
          "[steps][standee]") {
    // Its edge is at 70 px in the picture's first row and leans by less than a quarter of a pixel a row.
    const auto covers = [](int x, int y) {
        float share = 0.0F;
        for (int i = 0; i < 16; ++i) {
            const float edge = 70.0F + 0.23F * (static_cast<float>(y) + static_cast<float>(i) / 16);
            share += std::clamp(edge - static_cast<float>(x), 0.0F, 1.0F) / 16.0F;
        }
        return share;
    };
    PassSet set = test::greyFrame(160, 90, 0.0F);
    set.put(test::passOf({PassKind::Depth, {}}, 160, 90, [](int x, int y, int) {
        const float edge = 70.0F + 0.23F * (static_cast<float>(y) + 0.5F);
        return static_cast<float>(x) + 0.5F < edge ? 7.0F : 50.0F;
    }));
    const std::string cards =
        R"({"step":"standee","settings":{"text":"I","height":6,"at":[80,70],"mode":"add",)"
        R"("soft":0.01,"count":12,"span":3,"seed":4,"distance":)";
    const auto drawn = [&](const PassSet& on, const char* distance) {
        return test::finished(on, test::recipeOf(cards + distance + "}}"));
    };
    PassSet open = set;
    open.put(test::passOf({PassKind::Depth, {}}, 160, 90, [](int, int, int) { return 50.0F; }));
    const Image all = drawn(open, "12");
    const Image behind = drawn(set, "12");
    double off = 0.0;
    double squares = 0.0;
    double light = 0.0;
    int count = 0;
    for (int y = 0; y < 90; ++y)
        for (int x = 0; x < 160; ++x) {
            const float share = covers(x, y);
            const float wanted = all(x, y, 0) * (1.0F - share);
            if (share == 0.0F && x > 90)
                CHECK(behind(x, y, 0) == all(x, y, 0));
            if (share == 1.0F && covers(x + 1, y) == 1.0F)
                CHECK(behind(x, y, 0) == 0.0F);
            if ((covers(x - 2, y) < 1.0F || covers(x + 2, y) > 0.0F) && share == covers(x + 1, y))
                continue;
            if (!(all(x, y, 0) > 0.0F))
                continue;
            const double wrong = static_cast<double>(behind(x, y, 0) - wanted);
            off += wrong;
            squares += wrong * wrong;
            light += static_cast<double>(all(x, y, 0));
            ++count;
        }
    REQUIRE(count > 20);
    // Depths say no more than at their pixels' centres, so that single pixels differ, but not the edge.
    CHECK(std::abs(off) < 0.03 * light);
    CHECK(std::sqrt(squares / count) < 0.2 * light / count);
    CHECK(test::mostApart(drawn(set, "4"), drawn(open, "4")) == 0.0);
}

TEST_CASE(
    "a standee that adds light neither hides nor becomes depth; screened it stays below white",
    "[steps][standee]") {
    PassSet set = test::greyFrame(160, 90, 0.9F);
    set.put(test::passOf({PassKind::Depth, {}}, 160, 90, [](int, int, int) { return 50.0F; }));
    const auto most = [](const Image& image) {
        float value = 0.0F;
        for (int y = 0; y < image.height(); ++y)
            for (int x = 0; x < image.width(); ++x)
                value = std::max(value, image(x, y, 1));
        return value;
    };
    const std::string large =
        R"({"step":"standee","settings":{"text":"I","height":4,"distance":10,)"
        R"("at":[80,70],"soft":0.01,"strength":1)";
    CHECK(most(test::finished(set, test::recipeOf(large + R"(,"mode":"add"}})"))) ==
          Approx(1.9F).margin(0.02));
    CHECK(most(test::finished(set, test::recipeOf(large + R"(,"mode":"screen"}})"))) ==
          Approx(1.0F).margin(0.01));
    const std::string near =
        R"(,{"step":"grade","settings":{"exposure":1},"where":{"by":"depth","to":20}})";
    const auto changed = [&](const char* mode) {
        const std::string step = large + R"(,"mode":")" + mode + "\"}}";
        return lightOf(test::finished(set, test::recipeOf(step + near))) -
               lightOf(test::finished(set, test::recipeOf(step)));
    };
    CHECK(changed("add") == 0.0);
    CHECK(changed("over") > 10.0);
}

TEST_CASE("sparks have the same bits on any number of threads", "[steps][standee]") {
    const Recipe recipe = test::recipeOf(embers(R"(,"count":60,"span":8,"life":2)"));
    const Image all = test::finished(night(12.0F), recipe);
    for (const int threads : {1, 2, 7}) {
        const ThreadLimit limit(threads);
        CHECK(test::sameBits(test::finished(night(12.0F), recipe), all));
    }
}
