// What moves in time.
#include "core/settings/keys.h"

#include "core/image/error.h"
#include "core/settings/keys_json.h"
#include "core/settings/settings_builder.h"
#include "core/settings/value_type.h"

#include <cmath>

#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>

using namespace noctis;
using Json = nlohmann::json;

namespace {

struct Moving {
    float number = 1.0F;
    LinearRgb colour{0.1F, 0.2F, 0.3F};
    V3f direction{0, 1, 0};
    V3f point{0, 0, 0};
    V2f place{0, 0};
    bool on = true;
    Curve curve;
    PlaceList outline{{0, 0}, {4, 0}, {0, 4}};
    float fixed = 0.0F;
};

const std::vector<Parameter>& parameters() {
    static const std::vector<Parameter> all = [] {
        using M = Moving;
        SettingsBuilder<M> b;
        b.number(&M::number, "number", "Number", Unit::None, {0.0F, 10.0F, 10.0F}, ".")
            .colour(&M::colour, "colour", "Colour", ".")
            .direction(&M::direction, "direction", "Direction", ".")
            .position(&M::point, "point", "Point", ".")
            .place(&M::place, "place", "Place", ".")
            .toggle(&M::on, "on", "On", ".")
            .curve(&M::curve, "curve", "Curve", ".")
            .places(&M::outline, "outline", "Outline", ".")
            .number(&M::fixed, "fixed", "Fixed", Unit::None, {0.0F, 1.0F, 1.0F}, ".")
            .still();
        return b.binding().parameters();
    }();
    return all;
}

const Parameter& parameter(const char* id) { return parameterNamed(parameters(), id); }

Key key(int frame, Value value, Ease ease = Ease::Linear) {
    Key made;
    made.frame = frame;
    made.value = std::move(value);
    made.ease = ease;
    return made;
}

float numberAt(const KeyList& keys, double frame) {
    return std::get<float>(valueAt(keys, frame, parameter("number")));
}

Tracks read(const std::string& text) {
    return tracksFromJson(Json::parse(text), [](const std::string& path) -> const Parameter& {
        return movingParameter(parameters(), path);
    });
}

}  // namespace

TEST_CASE("a value stands before the first key and after the last, and is exact at each",
          "[settings][keys]") {
    for (const Ease ease : {Ease::Hold, Ease::Linear, Ease::Ease, Ease::Settle}) {
        const KeyList keys{key(10, 2.0F, ease), key(20, 5.3F, ease), key(25, 4.1F, ease)};
        CHECK(numberAt(keys, -100) == 2.0F);
        CHECK(numberAt(keys, 10) == 2.0F);
        CHECK(numberAt(keys, 20) == 5.3F);
        CHECK(numberAt(keys, 25) == 4.1F);
        CHECK(numberAt(keys, 1e9) == 4.1F);
    }
}

TEST_CASE("eases lead from key to key as they are defined", "[settings][keys]") {
    const auto between = [](const Key& from, double frame) {
        return numberAt({from, key(11, 6.0F)}, frame);
    };
    CHECK(between(key(1, 2.0F, Ease::Hold), 10.9) == 2.0F);
    CHECK(between(key(1, 2.0F), 6) == Approx(4.0F));
    CHECK(between(key(1, 2.0F, Ease::Ease), 6) == Approx(4.0F));
    CHECK(between(key(1, 2.0F, Ease::Ease), 3) == Approx(2.0F + 4.0F * (3 * 0.04F - 2 * 0.008F)));
    Key bent = key(1, 2.0F, Ease::Ease);
    bent.bend = {0.25F, 0.25F, 0.75F, 0.75F};  // a straight line
    CHECK(between(bent, 4) == Approx(2.0F + 4.0F * 0.3F).margin(1e-5));
    bent.bend = {0.0F, 1.0F, 0.0F, 1.0F};  // quickly, then slowly
    CHECK(between(bent, 3) > 4.5F);
    // x(t) = 3(1-t)t^2 + t^3 with both at (1, 0) is u at t where y = t^3.
    bent.bend = {1.0F, 0.0F, 1.0F, 0.0F};
    const float t = 0.5F;
    const float u = 3 * 0.25F * 0.5F + 3 * 0.5F * 0.25F + 0.125F;
    CHECK(between(bent, 1.0 + 10.0 * static_cast<double>(u)) ==
          Approx(2.0F + 4.0F * t * t * t).margin(1e-4));
}

TEST_CASE("a settling value goes past the next key, comes back, and is exact there",
          "[settings][keys]") {
    Key settles = key(0, 2.0F, Ease::Settle);
    settles.over = 0.25F;
    settles.settleFrames = 10;
    const KeyList keys{settles, key(40, 6.0F)};
    CHECK(numberAt(keys, 30) == Approx(7.0F).epsilon(1e-6));  // B + over (B - A)
    CHECK(numberAt(keys, 15) == Approx(4.5F).epsilon(1e-6));  // half-way there
    CHECK(numberAt(keys, 35) == Approx(6.5F).epsilon(1e-6));  // half-way back
    CHECK(numberAt(keys, 39.999999) == Approx(6.0F).epsilon(1e-6));
    CHECK(numberAt(keys, 40) == 6.0F);
    // Never more than half the gap, and never out of the range.
    settles.settleFrames = 100;
    CHECK(numberAt({settles, key(40, 6.0F)}, 20) == Approx(7.0F).epsilon(1e-6));
    settles.over = 3.0F;
    CHECK(numberAt({settles, key(40, 6.0F)}, 20) == 10.0F);
}

TEST_CASE("each type moves as it is, and what can't holds", "[settings][keys]") {
    const auto half = [](const char* id, const Value& a, const Value& b) {
        return valueAt({key(1, a), key(3, b)}, 2, parameter(id));
    };
    CHECK(std::get<LinearRgb>(half("colour", LinearRgb{0, 0, 0}, LinearRgb{1, 0.5F, 2})) ==
          LinearRgb{0.5F, 0.25F, 1});
    CHECK(std::get<V3f>(half("point", V3f(0, 2, 4), V3f(2, 4, 8))) == V3f(1, 3, 6));
    CHECK(std::get<V2f>(half("place", V2f(0, 2), V2f(2, 4))) == V2f(1, 3));
    const auto turned = std::get<V3f>(half("direction", V3f(1, 0, 0), V3f(0, 1, 0)));
    CHECK(turned.equalWithAbsError(V3f(std::sqrt(0.5F), std::sqrt(0.5F), 0), 1e-5F));
    const auto opposite = std::get<V3f>(half("direction", V3f(1, 0, 0), V3f(-1, 0, 0)));
    CHECK(opposite.length() == Approx(1.0F));
    CHECK(opposite.x == Approx(0.0F).margin(1e-5));
    CHECK(std::get<bool>(half("on", true, false)));
    CHECK(std::get<PlaceList>(half("outline", PlaceList{{0, 0}, {4, 0}, {0, 4}},
                                   PlaceList{{2, 2}, {6, 2}, {2, 6}})) ==
          PlaceList{{1, 1}, {5, 1}, {1, 5}});
    const PlaceList four{{0, 0}, {4, 0}, {4, 4}, {0, 4}};
    CHECK(std::get<PlaceList>(half("outline", four, PlaceList{{2, 2}, {6, 2}, {2, 6}})) == four);
    Curve steep;
    steep.points = {{0.0F, 0.0F}, {1.0F, 0.5F}};
    CHECK(std::get<Curve>(half("curve", Curve{}, steep)).points[1].y == Approx(0.75F));
}

TEST_CASE("what flickers is smooth, within its amount, even in the mean, and has its peaks",
          "[settings][keys]") {
    for (const std::uint32_t seed : {1U, 7U, 1234567U}) {
        const Flicker flicker{1.0F, 6.0F, seed};
        constexpr int kSamples = 60'000;
        constexpr double kSeconds = 100.0;
        double sum = 0.0;
        int peaks = 0;
        float before = flickerAt(flicker, -2.0 * kSeconds / kSamples);
        float last = flickerAt(flicker, -kSeconds / kSamples);
        float jump = 0.0F;
        for (int i = 0; i < kSamples; ++i) {
            const float n = flickerAt(flicker, kSeconds * i / kSamples);
            CHECK(std::abs(n) <= 1.0F);
            sum += static_cast<double>(n);
            peaks += last > before && last > n ? 1 : 0;
            jump = std::max(jump, std::abs(n - last));
            before = std::exchange(last, n);
        }
        INFO("seed " << seed);
        CHECK(std::abs(sum / kSamples) < 0.02);
        CHECK(peaks == Approx(600).margin(12));
        CHECK(jump < 0.2F);
        CHECK(flickerAt(flicker, 3.25) == flickerAt(Flicker{0.1F, 6.0F, seed}, 3.25));
    }
    CHECK(flickerAt({1.0F, 6.0F, 1}, 0.3) != flickerAt({1.0F, 6.0F, 2}, 0.3));
    CHECK(flickerAt({1.0F, 0.0F, 1}, 0.3) == 0.0F);
    CHECK(std::get<float>(flickering(4.0F, 0.5F, 0.2F, parameter("number"))) == Approx(4.4F));
    CHECK(std::get<float>(flickering(9.9F, 1.0F, 0.5F, parameter("number"))) == 10.0F);
    CHECK(std::get<bool>(flickering(true, 1.0F, 0.5F, parameter("on"))));
}

TEST_CASE("keys are read in any order, written as they are, and refused with their path",
          "[settings][keys][json]") {
    const Tracks tracks = read(
        R"({"keys":{"number":[{"frame":20,"value":3},{"frame":1,"value":2,"ease":"settle",
            "settle":{"over":0.3,"frames":6}},{"frame":20,"value":4,"ease":"ease",
            "bend":[0.1,0,0.9,1]}],"on":[{"frame":5,"value":false}]},
            "flicker":{"colour":{"amount":0.5,"per_second":3,"seed":9}}})");
    const KeyList& keys = tracks.keys.at("number");
    REQUIRE(keys.size() == 2);
    CHECK(keys[0].frame == 1);
    CHECK(keys[0].over == 0.3F);
    CHECK(keys[0].settleFrames == 6);
    CHECK(std::get<float>(keys[1].value) == 4.0F);
    CHECK(keys[1].bend == std::array<float, 4>{0.1F, 0, 0.9F, 1});
    CHECK(tracks.flicker.at("colour") == Flicker{0.5F, 3.0F, 9});
    Json json = Json::object();
    addTracks(json, tracks);
    CHECK(read(json.dump()) == tracks);
    for (const char* bad :
         {R"({"keys":[]})", R"({"keys":{"none":[{"frame":1,"value":1}]}})",
          R"({"keys":{"fixed":[{"frame":1,"value":1}]}})", R"({"keys":{"number":[]}})",
          R"({"keys":{"number":[{"value":1}]}})", R"({"keys":{"number":[{"frame":1}]}})",
          R"({"keys":{"number":[{"frame":1.5,"value":1}]}})",
          R"({"keys":{"number":[{"frame":1e18,"value":1}]}})",
          R"({"keys":{"number":[{"frame":1,"value":"much"}]}})",
          R"({"keys":{"number":[{"frame":1,"value":99}]}})",
          R"({"keys":{"number":[{"frame":1,"value":1,"ease":"bounce"}]}})",
          R"({"keys":{"number":[{"frame":1,"value":1,"bend":[2,0,0,1]}]}})",
          R"({"keys":{"number":[{"frame":1,"value":1,"mood":1}]}})",
          R"({"keys":{"number":[{"frame":1,"value":1,"settle":{"over":-1}}]}})",
          R"({"flicker":{"number":{"amount":2}}})", R"({"flicker":{"number":7}})"}) {
        INFO(bad);
        CHECK_THROWS_AS(read(bad), Error);
    }
}

TEST_CASE("2,000 keys are found as quickly as few", "[settings][keys]") {
    KeyList keys;
    for (int i = 1999; i >= 0; --i)
        setKey(keys, key(2 * i, static_cast<float>(i % 10)));
    REQUIRE(keys.size() == 2000);
    for (int i = 0; i + 1 < 2000; ++i)
        CHECK(numberAt(keys, 2 * i + 1) ==
              Approx(0.5F * static_cast<float>(i % 10 + (i + 1) % 10)));
    setKey(keys, key(10, 9.0F));
    CHECK(keys.size() == 2000);
    CHECK(numberAt(keys, 10) == 9.0F);
}
