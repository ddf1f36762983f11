#include "core/settings/parameter.h"

#include "core/image/error.h"
#include "core/settings/settings_builder.h"
#include "core/settings/value_type.h"

#include <limits>

#include <catch2/catch.hpp>

using namespace noctis;

namespace {

enum class Mode { Soft, Hard };

struct Sample {
    float size = 2.0F;
    int count = 3;
    bool on = true;
    LinearRgb colour{0.1F, 0.2F, 0.3F};
    Mode mode = Mode::Hard;
};

SettingsBuilder<Sample> builder() {
    SettingsBuilder<Sample> b;
    b.number(&Sample::size, "size", "Size", Unit::Metre, {0.0F, 10.0F, 5.0F}, "How large.");
    b.whole(&Sample::count, "count", "Count", {1.0F, 9.0F, 9.0F}, "How many.");
    b.onlyWhen("mode=hard");
    b.toggle(&Sample::on, "on", "On", "Whether.");
    b.colour(&Sample::colour, "colour", "Colour", "Which.");
    b.choice(&Sample::mode, "mode", "Mode", {{"soft", "Soft"}, {"hard", "Hard"}}, "How.");
    return b;
}

}  // namespace

TEST_CASE("declared settings have the struct's defaults and bind back to it", "[settings]") {
    const auto b = builder();
    Settings settings = initialSettings(b.parameters());
    const Sample same = b.bind(settings);
    CHECK(same.size == 2.0F);
    CHECK(same.mode == Mode::Hard);
    settings.set("size", 4.0F);
    settings.set("count", 7.0F);
    settings.set("mode", std::string("soft"));
    const Sample changed = b.bind(settings);
    CHECK(changed.size == 4.0F);
    CHECK(changed.count == 7);
    CHECK(changed.mode == Mode::Soft);
}

TEST_CASE("values out of range, of another type or no choice are refused", "[settings]") {
    const auto parameters = builder().parameters();
    CHECK_THROWS_AS(checkedValue(parameters[0], 11.0F), Error);
    CHECK_THROWS_AS(checkedValue(parameters[0], std::numeric_limits<float>::quiet_NaN()), Error);
    CHECK_THROWS_AS(checkedValue(parameters[0], true), Error);
    CHECK_THROWS_AS(checkedValue(parameters[4], std::string("medium")), Error);
    CHECK_THROWS_AS(checkedValue(parameters[3], LinearRgb{-1.0F, 0.0F, 0.0F}), Error);
    CHECK(std::get<float>(checkedValue(parameters[1], 2.6F)) == 3.0F);
}

TEST_CASE("values are read from text and written to it", "[settings]") {
    const auto parameters = builder().parameters();
    CHECK(std::get<float>(valueFromText(parameters[0], "2.5")) == 2.5F);
    CHECK(std::get<bool>(valueFromText(parameters[2], "off")) == false);
    CHECK(std::get<LinearRgb>(valueFromText(parameters[3], "1,0.5,0")) ==
          LinearRgb{1.0F, 0.5F, 0.0F});
    for (const char* bad : {"", "two", "2.5x", "1,2"})
        CHECK_THROWS_AS(valueFromText(parameters[0], bad), Error);
    CHECK_THROWS_AS(valueFromText(parameters[3], "1,2"), Error);
    for (std::size_t i = 0; i < parameters.size(); ++i)
        CHECK(valueFromText(parameters[i], textFromValue(parameters[i].initial)) ==
              parameters[i].initial);
}

TEST_CASE("a setting shows only while another has the right value", "[settings]") {
    const auto parameters = builder().parameters();
    Settings settings = initialSettings(parameters);
    CHECK(isShown(parameters[1], settings));
    settings.set("mode", std::string("soft"));
    CHECK_FALSE(isShown(parameters[1], settings));
    CHECK(isShown(parameters[0], settings));
}

TEST_CASE("an unknown setting is refused, naming those there are", "[settings]") {
    CHECK_THROWS_WITH(parameterNamed(builder().parameters(), "colr"),
                      Catch::Contains("size, count, on, colour, mode"));
}

TEST_CASE("numbers are shown with units and a thin space", "[settings]") {
    CHECK(formatNumber(5.8F, Unit::Metre) == "5.80\u2009m");
    CHECK(formatNumber(412.3F, Unit::Metre) == "412\u2009m");
    CHECK(formatNumber(0.004F, Unit::Metre) == "4.00\u2009mm");
    CHECK(formatNumber(-0.0285F, Unit::Metre) == "-28.5\u2009mm");
    CHECK(formatNumber(0.0F, Unit::Metre) == "0.00\u2009m");
    CHECK(formatNumber(-0.0001F, Unit::None) == "0.00");
    CHECK(formatNumber(-0.05F, Unit::None) == "-0.050");
    CHECK(formatNumber(2.0F, Unit::FNumber) == "f/2.0");
    CHECK(formatNumber(0.62F, Unit::Percent) == "62\u2009%");
    CHECK(formatNumber(0.008F, Unit::Percent) == "0.8\u2009%");
    CHECK(formatNumber(0.05F, Unit::Percent) == "5\u2009%");
    CHECK(formatNumber(0.0997F, Unit::Percent) == "10\u2009%");
    CHECK(formatNumber(0.3F, Unit::Stop) == "+0.3\u2009EV");
    CHECK(formatNumber(0.015F, Unit::Extinction) == "200\u2009m");
    CHECK(formatNumber(0.0F, Unit::Extinction) == "clear");
    CHECK(formatNumber(7.0F, Unit::Count) == "7");
}

TEST_CASE("a setting can wait for another to be more than nothing", "[settings]") {
    std::vector<Parameter> parameters(2);
    parameters[0].id = "clean";
    parameters[0].initial = 0.0F;
    parameters[1].id = "keep";
    parameters[1].type = ValueType::Switch;
    parameters[1].initial = false;
    parameters[1].onlyWhen = "clean>0";
    Settings settings = initialSettings(parameters);
    CHECK_FALSE(isShown(parameters[1], settings));
    settings.set("clean", 0.5F);
    CHECK(isShown(parameters[1], settings));
    CHECK(isShown(parameters[0], settings));
}

TEST_CASE("a setting can wait for several others, and for an empty text", "[settings]") {
    std::vector<Parameter> parameters(3);
    parameters[0].id = "light";
    parameters[0].type = ValueType::Text;
    parameters[0].initial = std::string();
    parameters[1].id = "kind";
    parameters[1].type = ValueType::Text;
    parameters[1].initial = std::string("sun");
    parameters[2].id = "inner";
    parameters[2].initial = 1.0F;
    parameters[2].onlyWhen = "light=&kind=spot|sun";
    Settings settings = initialSettings(parameters);
    CHECK(isShown(parameters[2], settings));
    settings.set("kind", std::string("point"));
    CHECK_FALSE(isShown(parameters[2], settings));
    settings.set("kind", std::string("spot"));
    CHECK(isShown(parameters[2], settings));
    settings.set("light", std::string("moon"));
    CHECK_FALSE(isShown(parameters[2], settings));
}
