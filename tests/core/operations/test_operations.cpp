#include "core/image/error.h"
#include "core/operations/registry.h"
#include "support/fields.h"

#include <catch2/catch.hpp>

using namespace noctis;
using namespace noctis::test;

namespace {

HeightField fieldOf(Image heights) {
    HeightField field;
    field.heights = std::move(heights);
    field.metresPerPixel = Waves::kCell;
    return field;
}

HeightField shaped(const HeightField& field, const char* type,
                   const std::vector<std::pair<std::string, Value>>& values = {}) {
    const OperationType& operation = reliefCatalogue().operation(type);
    const ReliefInput none;
    return operation.apply(field, settingsWith(operation, values), {none, 1, {}}, {});
}

const HeightField& wavy() {
    static const HeightField field = fieldOf(heightsBy(Waves{}, 100, 80));
    return field;
}

double rangeOf(const HeightField& field) {
    return static_cast<double>(heightStatisticsOf(field.heights).range());
}

}  // namespace

TEST_CASE("every operation says what it does and suits small and broken fields", "[operation]") {
    for (const OperationType& type : reliefCatalogue().operations) {
        INFO(type.id);
        CHECK_FALSE(type.label.empty());
        CHECK_FALSE(type.help.empty());
        const Settings settings = initialSettings(type.parameters);
        REQUIRE(type.summary);
        CHECK_FALSE(type.summary(settings, {}).empty());
        for (const Parameter& parameter : type.parameters)
            CHECK(parameter.help.size() > 10);
        const ReliefInput none;
        for (const auto& [w, h] : {std::pair{1, 1}, {7, 1}, {1, 7}, {5, 4}})
            for (const bool holes : {false, true}) {
                const HeightField field = fieldOf(filledBy(w, h, [holes = holes](int x, int y) {
                    return holes && x == 0 ? std::nanf("") : 0.01F * static_cast<float>(x + y);
                }));
                try {
                    const HeightField out = type.apply(field, settings, {none, 1, {}}, {});
                    CHECK(out.width() >= 1);
                    CHECK(out.heights.channels() == 1);
                } catch (const Error& error) {
                    CHECK(std::string(error.what()).size() > 20);  // a sentence, and nothing worse
                }
            }
    }
}

TEST_CASE("level takes a tilt off", "[operation]") {
    const HeightField tilted = fieldOf(filledBy(60, 50, [](int x, int y) {
        return Waves{}.at(static_cast<float>(x) * 2.0F, static_cast<float>(y) * 2.56F) +
               0.002F * static_cast<float>(x) - 0.001F * static_cast<float>(y) + 3.0F;
    }));
    const FittedPlane left = planeThrough(shaped(tilted, "level").heights);
    CHECK(std::abs(left.a) < 1e-7);
    CHECK(std::abs(left.b) < 1e-7);
    const PlaceList corners{{2, 2}, {55, 3}, {4, 45}};
    const HeightField by =
        shaped(tilted, "level", {{"by", std::string("points")}, {"points", corners}});
    CHECK(std::abs(by.heights(2, 2, 0)) < 1e-5F);
    CHECK(std::abs(by.heights(55, 3, 0)) < 1e-5F);
    CHECK(std::abs(by.heights(4, 45, 0)) < 1e-5F);
}

TEST_CASE("range says what is black and white and changes no height", "[operation]") {
    const HeightField out = shaped(
        wavy(), "range", {{"by", std::string("heights")}, {"from", 0.004F}, {"to", -0.002F}});
    REQUIRE(out.range);
    CHECK((*out.range)[0] == -0.002F);
    CHECK((*out.range)[1] == 0.004F);
    CHECK(apart(out.heights, wavy().heights) == 0.0);
    CHECK(shaped(wavy(), "range", {{"left_out", 0.1F}}).range.value()[1] < 0.0099F);
}

TEST_CASE("clip, curve and exaggerate work on metres", "[operation]") {
    CHECK(heightStatisticsOf(shaped(wavy(), "clip", {{"heights", Span{-0.005F, 0.002F}}}).heights)
              .highest == 0.002F);
    const HeightField bent =
        shaped(wavy(), "curve", {{"curve", Curve{{{0.0F, 0.5F}, {1.0F, 1.0F}}}}});
    CHECK(rangeOf(bent) == Approx(0.5 * rangeOf(wavy())).epsilon(1e-3));
    const HeightField high = shaped(wavy(), "exaggerate", {{"factor", -3.0F}});
    CHECK(rangeOf(high) == Approx(3.0 * rangeOf(wavy())));
    CHECK(high.exaggeration == -3.0F);
    CHECK(high.heights(10, 20, 0) == Approx(-3.0F * wavy().heights(10, 20, 0)));
}

TEST_CASE("smooth evens out what is low and keeps a step", "[operation]") {
    const HeightField rough = fieldOf(filledBy(80, 80, [](int x, int y) {
        const float noise = 0.0004F * static_cast<float>((x * 7 + y * 13) % 5 - 2);
        return (x < 40 ? 0.0F : 0.05F) + noise;
    }));
    const HeightField out = shaped(rough, "smooth", {{"radius", 0.004F}, {"edge", 0.002F}});
    const auto left = [](int x, int y) { return x < 30 && y > 10 && y < 70 && x > 10; };
    const Image level = filledBy(80, 80, [](int, int) { return 0.0F; });
    CHECK(apart(out.heights, level, left) < 0.3 * apart(rough.heights, level, left));
    CHECK(out.heights(38, 40, 0) < 0.002F);
    CHECK(out.heights(41, 40, 0) > 0.048F);
}

TEST_CASE("despike takes out single cells and leaves the rest bit for bit", "[operation]") {
    HeightField spiked = wavy();
    spiked.heights.editPlane(0)[spiked.heights.rowStride() * 30 + 40] += 0.1F;
    const HeightField out = shaped(spiked, "despike", {{"higher", 0.01F}});
    CHECK(out.heights(40, 30, 0) == Approx(wavy().heights(40, 30, 0)).margin(2e-3));
    CHECK(out.heights(20, 30, 0) == wavy().heights(20, 30, 0));
}

TEST_CASE("holes are filled with what surrounds them", "[operation]") {
    HeightField ramp = fieldOf(filledBy(80, 60, [](int x, int y) {
        return x > 20 && x < 60 && y > 15 && y < 45 ? std::nanf("")
                                                    : 0.001F * static_cast<float>(x);
    }));
    const HeightField filled = shaped(ramp, "fill");
    CHECK(heightStatisticsOf(filled.heights).holes == 0);
    CHECK(filled.heights(40, 30, 0) == Approx(0.040F).margin(0.003));
    CHECK(filled.heights(10, 30, 0) == ramp.heights(10, 30, 0));
    CHECK(shaped(ramp, "fill", {{"by", std::string("lowest")}}).heights(40, 30, 0) == 0.0F);
}

TEST_CASE("detail changes what is finer than its wavelength", "[operation]") {
    Waves fine;
    fine.acrossCells = 10.0F;
    fine.downCells = 1e6F;
    Waves large;
    large.acrossCells = 200.0F;
    large.downCells = 1e6F;
    const HeightField both = fieldOf(filledBy(400, 40, [&](int x, int) {
        return fine.at(static_cast<float>(x), 0.0F) + large.at(static_cast<float>(x), 0.0F);
    }));
    const HeightField out = shaped(both, "detail", {{"wavelength", 0.04F}, {"amount", 0.0F}});
    const auto inside = [](int x, int) { return x > 60 && x < 340; };
    CHECK(apart(out.heights, heightsBy(large, 400, 40), inside) < 0.03 * 0.01);
    CHECK(apart(shaped(both, "detail", {{"wavelength", 0.04F}, {"amount", 1.0F}}).heights,
                both.heights) < 1e-8);
}

TEST_CASE("a tileable map meets itself", "[operation]") {
    const HeightField open = fieldOf(filledBy(90, 70, [](int x, int y) {
        return 0.0004F * static_cast<float>(x) +
               Waves{}.at(static_cast<float>(x) * 1.1F, static_cast<float>(y));
    }));
    const HeightField out = shaped(open, "tileable", {{"seam", 0.01F}});
    const auto seam = [](const Image& h) {
        double most = 0.0;
        for (int y = 0; y < h.height(); ++y)
            most = std::max(most, std::abs(static_cast<double>(h(0, y, 0)) -
                                           static_cast<double>(h(h.width() - 1, y, 0))));
        for (int x = 0; x < h.width(); ++x)
            most = std::max(most, std::abs(static_cast<double>(h(x, 0, 0)) -
                                           static_cast<double>(h(x, h.height() - 1, 0))));
        return most;
    };
    CHECK(seam(open.heights) > 0.02);
    CHECK(seam(out.heights) < 1e-3);
    HeightField holes = open;
    holes.heights.editPlane(0)[3] = std::nanf("");
    CHECK_THROWS_WITH(shaped(holes, "tileable"), Catch::Contains("Fill holes"));
}

TEST_CASE("crop, turn and resample keep every cell's place in the scene", "[operation]") {
    HeightField field = wavy();
    const V3f marked = scenePoint(field, 20.0F, 30.0F, 0.0F);
    const HeightField cropped =
        shaped(field, "crop", {{"left", 0.1F}, {"right", 0.6F}, {"top", 0.25F}, {"bottom", 1.0F}});
    CHECK(cropped.width() == 50);
    CHECK(cropped.height() == 60);
    CHECK(cropped.heights(10, 10, 0) == field.heights(20, 30, 0));
    CHECK((scenePoint(cropped, 10.0F, 10.0F, 0.0F) - marked).length() < 1e-6F);
    const HeightField turned = shaped(field, "turn");
    CHECK(turned.width() == 80);
    CHECK(turned.heights(49, 20, 0) == field.heights(20, 30, 0));
    CHECK((scenePoint(turned, 49.0F, 20.0F, 0.0F) - marked).length() < 1e-6F);
    HeightField round = field;
    for (int i = 0; i < 4; ++i)
        round = shaped(round, "turn");
    CHECK(apart(round.heights, field.heights) == 0.0);
    CHECK((round.plane.origin - field.plane.origin).length() < 1e-6F);
    const HeightField half = shaped(field, "resample", {{"metres_a_pixel", 0.002F}});
    CHECK(half.width() == 50);
    CHECK(half.metresPerPixel == Approx(0.002F));
    CHECK((scenePoint(half, 9.75F, 14.75F, 0.0F) - marked).length() < 1e-6F);
}
