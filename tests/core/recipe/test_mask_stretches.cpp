#include "core/recipe/mask_stretches.h"

#include "support/frames.h"
#include "support/worse.h"

#include <cmath>
#include <vector>

#include <catch2/catch.hpp>
#include <fmt/format.h>

using namespace noctis;
using Covered = Stretch::Covered;

namespace {

/// Whether stretches say of each pixel what the mask has there, without gaps.
bool fits(const std::vector<float>& mask) {
    int next = 0;
    Covered last{};
    for (const Stretch& part : Stretches(mask.data(), static_cast<int>(mask.size()))) {
        if (part.from != next || part.count <= 0 || (next > 0 && part.covered == last))
            return false;
        bool none = true;
        bool all = true;
        for (int i = part.from; i < part.from + part.count; ++i) {
            none &= mask[static_cast<std::size_t>(i)] == 0.0F;
            all &= mask[static_cast<std::size_t>(i)] == 1.0F;
        }
        if ((part.covered == Covered::None && !none) || (part.covered == Covered::All && !all))
            return false;
        last = part.covered;
        next += part.count;
    }
    return next == static_cast<int>(mask.size());
}

PassSet rampFrame(int width, int height) {
    PassSet set = test::greyFrame(width, height, 0.5F);
    for (const PassKind kind : {PassKind::Beauty, PassKind::Depth, PassKind::Distance})
        set.put(test::passOf({kind, {}}, width, height, [&](int x, int y, int c) {
            const auto at = static_cast<float>(x + y);
            return kind == PassKind::Beauty ? 0.1F + 0.3F * static_cast<float>((x + c) % 7)
                                            : 1.0F + 0.05F * at;
        }));
    return set;
}

}  // namespace

TEST_CASE("stretches of a mask cover a run without gaps, whatever its length", "[recipe][mask]") {
    for (const int count : {1, 2, 127, 128, 129, 640, 1023, 1024})
        for (const int from : {0, 1, 100, 128, 300, 1000}) {
            std::vector<float> mask(static_cast<std::size_t>(count));
            for (int i = 0; i < count; ++i)
                mask[static_cast<std::size_t>(i)] =
                    std::clamp(static_cast<float>(i - from) / 150.0F, 0.0F, 1.0F);
            INFO(count << " from " << from);
            CHECK(fits(mask));
        }
}

TEST_CASE("even stretches are found, and one pixel that differs is enough to see each",
          "[recipe][mask]") {
    std::vector<float> mask(1024, 1.0F);
    const auto only = [&] { return Stretches(mask.data(), 1024).begin()->covered; };
    CHECK(only() == Covered::All);
    mask.assign(1024, 0.0F);
    CHECK(only() == Covered::None);
    mask.assign(1024, 0.5F);
    CHECK(only() == Covered::Some);
    for (const int odd : {0, 63, 127, 128, 1023}) {
        mask.assign(1024, 1.0F);
        mask[static_cast<std::size_t>(odd)] = 0.75F;
        int some = 0;
        for (const Stretch& part : Stretches(mask.data(), 1024))
            some += part.covered == Covered::Some ? part.count : 0;
        CHECK(some == 128);
    }
    mask.assign(1024, std::nanf(""));
    CHECK(only() == Covered::Some);
}

TEST_CASE("a limited step is, pixel by pixel, the whole step inside and nothing outside",
          "[recipe][mask]") {
    const PassSet set = rampFrame(2500, 3);
    const std::string grade =
        R"("step":"grade","id":"g","settings":{"exposure":1.5,"saturation":0.4})";
    const Image& before = set.find(PassKind::Beauty)->image;
    for (const char* blend : {"normal", "screen"})
        for (const char* amount : {"1", "0.6"})
            for (const char* soft : {"0", "3", "400"}) {
                const std::string rest = fmt::format(R"(,"blend":"{}","amount":{})", blend, amount);
                const std::string where =
                    fmt::format(R"({{"by":"depth","from":30,"to":90,"soft":{}}})", soft);
                const Image whole = test::finished(set, test::recipeOf("{" + grade + rest + "}"));
                const Image limited = test::finished(
                    set, test::recipeOf("{" + grade + rest + R"(,"where":)" + where + "}"));
                const Image mask = test::whereOf(set, where);
                int inside = 0;
                int outside = 0;
                float worst = 0.0F;
                bool kept = true;
                for (int y = 0; y < 3; ++y)
                    for (int x = 0; x < 2500; ++x) {
                        const float m = mask(x, y, 0);
                        inside += m == 1.0F ? 1 : 0;
                        outside += m == 0.0F ? 1 : 0;
                        for (int c = 0; c < 3; ++c) {
                            const float old = before(x, y, c);
                            kept &= m != 0.0F || limited(x, y, c) == old;
                            const float wanted = old + (whole(x, y, c) - old) * m;
                            worst = test::worse(worst, std::abs(limited(x, y, c) - wanted));
                        }
                    }
                INFO(blend << " " << amount << " " << soft);
                CHECK(kept);
                CHECK(worst < 2e-6F);
                CHECK((std::string(soft) == "400" || (inside > 3000 && outside > 3000)));
            }
}

TEST_CASE("steps that share a Where are mixed by it alike", "[recipe][mask]") {
    const PassSet set = rampFrame(1500, 2);
    const std::string where = R"(,"where":{"by":"depth","from":20,"to":60,"soft":10}})";
    const std::string fog = R"({"step":"fog","settings":{"density":0.05})" + where;
    const std::string grade = R"({"step":"grade","settings":{"exposure":1})" + where;
    EvaluateOptions apart;
    apart.fused = false;
    const Recipe recipe = test::recipeOf(fog + "," + grade + "," + fog);
    const Image fused = test::finished(set, recipe);
    const Image separate = test::finished(set, recipe, apart);
    int differing = 0;
    for (int y = 0; y < 2; ++y)
        for (int x = 0; x < 1500; ++x)
            differing += fused(x, y, 1) != separate(x, y, 1) ? 1 : 0;
    CHECK(differing == 0);
}
