#include "core/recipe/evaluator.h"
#include "core/recipe/recipe_json.h"
#include "core/steps/registry.h"
#include "disc.h"
#include "harness.h"
#include "quay.h"

#include <algorithm>
#include <cstring>
#include <optional>

#include <fmt/format.h>

namespace bench {

namespace {

using namespace noctis;

/// What one step costs, as a part of some reference.
struct AirCase {
    std::string name;
    std::string step;  ///< with {} where a number makes each run another
    double target;
    int discs;  ///< the reference: discs of radius 32; 0: a copy of four planes
};

const std::vector<AirCase> kCases{
    {"a lamp's light in the air",
     R"({{"step":"airlight","settings":{{"kind":"point","position":[0.48,2.35,-1.15],"density":0.02{0:04}}}}})",
     6.0, 0},
    {"a sun's light in the air",
     R"({{"step":"airlight","settings":{{"kind":"sun","towards":[0.3,0.2,-0.9],"density":0.02{0:04}}}}})",
     6.0, 0},
    {"a spot's light in the air",
     R"({{"step":"airlight","settings":{{"kind":"spot","position":[0.48,2.35,-1.15],"towards":[0.2,0.9,0.1],"density":0.02{0:04}}}}})",
     16.0, 0},
    {"a lamp's light cut by things",
     R"({{"step":"airlight","settings":{{"kind":"point","position":[0.48,2.35,-1.15],"shadow":true,"softness":0,"density":0.02{0:04}}}}})",
     1.0, 2},
    {"a wide lamp's light, cut",
     R"({{"step":"airlight","settings":{{"kind":"point","position":[0.48,2.35,-1.15],"shadow":true,"density":0.02{0:04}}}}})",
     1.0, 2},
    {"a sun's light cut by things",
     R"({{"step":"airlight","settings":{{"kind":"sun","towards":[-0.55,0.22,-1],"shadow":true,"density":0.02{0:04}}}}})",
     1.0, 2},
    {"fog in banks",
     R"({{"step":"fog","settings":{{"banks":true,"bank_size":8,"density":0.02{0:04}}}}})", 1.0, 2},
    {"fog in a layer",
     R"({{"step":"fog","settings":{{"top":2,"soft_top":1,"by_height":true,"density":0.02{0:04}}}}})",
     1.0, 2},
    {"glow, 1 %", R"({{"step":"glow","settings":{{"radius":0.01,"threshold":0.1{0:04}}}}})", 0.5,
     1},
    {"glow, 10 %", R"({{"step":"glow","settings":{{"radius":0.1,"threshold":0.1{0:04}}}}})", 0.5,
     1},
    {"glow, 40 %", R"({{"step":"glow","settings":{{"radius":0.4,"threshold":0.1{0:04}}}}})", 0.5,
     1},
    {"glow of six rays",
     R"({{"step":"glow","settings":{{"radius":0.1,"streaks":6,"threshold":0.1{0:04}}}}})", 0.5, 1}};

/// Copies four planes: three of the picture, and one that it reads.
class FourPlanes {
public:
    void copy() {
        for (int c = 0; c < 4; ++c)
            std::memcpy(m_to.editPlane(c), m_from.plane(c),
                        sizeof(float) * static_cast<std::size_t>(m_from.rowStride() * kQuayHeight));
    }

private:
    Image m_from = Image::filled(kQuayWidth, kQuayHeight, 4, 0.5F);
    Image m_to = Image::filled(kQuayWidth, kQuayHeight, 4, 0.0F);
};

}  // namespace

void air(const Demo& demo, const Filter& wanted, std::vector<Row>& rows) {
    std::optional<PassSet> set;
    for (const AirCase& one : kCases) {
        if (!wanted(one.name))
            continue;
        if (!set)
            set = quay(demo);
        Evaluator evaluator(stepCatalogue(), 1);
        evaluator.setPasses(*set);
        int variant = 0;
        const auto evaluate = [&] {
            return evaluator.evaluate(recipeFromText(
                fmt::format(R"({{"format":"noctis-recipe","version":2,"steps":[{}]}})",
                            fmt::format(fmt::runtime(one.step), ++variant)),
                stepCatalogue()));
        };
        const auto check = [&] {
            const Image out = evaluate();
            const Image& in = set->find(PassKind::Beauty)->image;
            float most = 0.0F;
            for (int y = 0; y < kQuayHeight; y += 10)
                for (int x = 0; x < kQuayWidth; x += 10)
                    most = std::max(most, std::abs(out(x, y, 0) - in(x, y, 0)));
            return std::string(most > 1e-4F ? "" : "the picture stays as it was");
        };
        if (one.discs == 0) {
            FourPlanes planes;
            rows.push_back(run({one.name, check, [&] { (void)evaluate(); }, [&] { planes.copy(); },
                                one.target, false, "copying four planes", 5}));
        } else {
            Disc disc(kQuayWidth, kQuayHeight);
            const auto discs = [&] {
                for (int i = 0; i < one.discs; ++i)
                    disc.filter();
            };
            rows.push_back(
                run({one.name, check, [&] { (void)evaluate(); }, discs, one.target, false,
                     fmt::format("{} of cv::filter2D's discs of radius 32", one.discs), 3}));
        }
    }
}

}  // namespace bench
