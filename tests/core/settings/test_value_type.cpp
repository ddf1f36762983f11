#include "core/settings/value_type.h"

#include "core/image/error.h"
#include "core/settings/settings_builder.h"

#include <cmath>

#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>

using namespace noctis;
using Json = nlohmann::json;

namespace {

struct Light {
    std::string name;
    float strength = 1.0F;
};

struct All {
    float number = 2.0F;
    int whole = 3;
    bool on = true;
    LinearRgb colour{0.1F, 0.2F, 0.3F};
    std::string text = "a, b";
    FilePath file{"/tmp/a b.png"};
    V3f point{1.0F, 2.0F, 3.0F};
    V3f direction{0.0F, 1.0F, 0.0F};
    V2f place{4.0F, 5.0F};
    PlaceList places{{0.0F, 1.0F}, {2.0F, 3.0F}};
    Span span{1.0F, 9.0F};
    Curve curve{};
    NameList names{"boat", "crate"};
    Strokes strokes{std::make_shared<const std::vector<Stroke>>(
        std::vector<Stroke>{{{{1.0F, 2.0F}}, 8.0F, 0.25F, true}})};
    std::vector<Light> lights;
};

/// One parameter of each type that can be declared.
const std::vector<Parameter>& parameters() {
    static const std::vector<Parameter> all = [] {
        SettingsBuilder<Light> light;
        light.number(&Light::strength, "strength", "Strength", Unit::None, {0.0F, 9.0F, 4.0F}, ".");
        SettingsBuilder<All> b;
        b.number(&All::number, "number", "Number", Unit::Metre, {0.0F, 10.0F, 5.0F}, ".")
            .whole(&All::whole, "whole", "Whole", {0.0F, 9.0F, 9.0F}, ".")
            .toggle(&All::on, "on", "On", ".")
            .colour(&All::colour, "colour", "Colour", ".")
            .text(&All::text, "text", "Text", TextUse::Free, ".")
            .file(&All::file, "file", "File", TextUse::PictureFile, ".")
            .position(&All::point, "point", "Point", ".")
            .direction(&All::direction, "direction", "Direction", ".")
            .place(&All::place, "place", "Place", ".")
            .places(&All::places, "places", "Places", ".")
            .span(&All::span, "span", "Span", Unit::Metre, {0.0F, 10.0F, 10.0F}, ".")
            .curve(&All::curve, "curve", "Curve", ".")
            .names(&All::names, "names", "Names", TextUse::Objects, ".")
            .strokes(&All::strokes, "strokes", "Strokes", ".")
            .records(&All::lights, &Light::name, light.binding(), "lights", "Lights",
                     TextUse::LightGroups, ".");
        std::vector<Parameter> declared = b.parameters();
        declared.back().initial = RecordList{{"moon", {{"strength", 2.0F}}}};
        Parameter box;
        box.id = "box";
        box.type = ValueType::Box;
        box.initial = SceneBox{};
        declared.push_back(box);
        Parameter gradient;
        gradient.id = "gradient";
        gradient.type = ValueType::Gradient;
        gradient.initial = Gradient{};
        declared.push_back(gradient);
        return declared;
    }();
    return all;
}

const Parameter& named(const char* id) { return parameterNamed(parameters(), id); }

std::uint64_t hashOf(const Value& value) {
    Hash hash;
    addToHash(hash, value);
    return hash.value();
}

}  // namespace

TEST_CASE("every type of value survives JSON, and its text form where it has one", "[settings]") {
    for (const Parameter& parameter : parameters()) {
        INFO(parameter.id << " " << valueToJson(parameter.initial).dump());
        CHECK_NOTHROW(checkedValue(parameter, parameter.initial));
        CHECK(valueFromJson(parameter, valueToJson(parameter.initial)) == parameter.initial);
        if (parameter.type != ValueType::Records)
            CHECK(valueFromText(parameter, textFromValue(parameter.initial)) == parameter.initial);
        for (const Json& odd :
             {Json(), Json(true), Json("x y"), Json{1, 2, 3, 4, 5}, Json{{"a", 1}}})
            try {
                (void)valueFromJson(parameter, odd);
            } catch (const Error& error) {
                CHECK((error.code() == ErrorCode::BadSetting ||
                       error.code() == ErrorCode::UnknownName));
            }
    }
}

TEST_CASE("values that differ have other hashes, equal ones the same", "[settings]") {
    for (const Parameter& a : parameters())
        for (const Parameter& b : parameters())
            CHECK((hashOf(a.initial) == hashOf(b.initial)) == (a.initial == b.initial));
    CHECK(hashOf(NameList{"ab", "c"}) != hashOf(NameList{"a", "bc"}));
    const Strokes one{std::make_shared<const std::vector<Stroke>>(1)};
    const Strokes same{std::make_shared<const std::vector<Stroke>>(1)};
    CHECK(one == same);
    CHECK(hashOf(one) == hashOf(same));
}

TEST_CASE("what can't be is refused by type", "[settings]") {
    const auto refused = [](const char* id, const char* json) {
        CHECK_THROWS_AS(valueFromJson(named(id), Json::parse(json)), Error);
    };
    refused("point", "[1, 2]");
    refused("direction", "[0, 0, 0]");
    refused("span", R"({"from": 4, "to": 2})");
    refused("box", R"({"min": [1, 0, 0], "max": [0, 1, 1]})");
    refused("curve", "[[0, 0], [0, 1]]");
    refused("curve", "[]");
    refused("gradient", "[]");
    refused("lights", R"([{"name": "a"}, {"name": "a"}])");
    refused("lights", R"([{"strength": 2}])");
    refused("lights", R"([{"name": "a", "strength": -2}])");
    refused("names", "[1]");
    refused("places", "[[1]]");
    CHECK(std::get<NameList>(valueFromJson(named("names"), "boat")) == NameList{"boat"});
}

TEST_CASE("every type of value goes from one to another in time", "[settings]") {
    for (const Parameter& parameter : parameters()) {
        INFO(parameter.id);
        CHECK(mixed(parameter.initial, parameter.initial, 0.3F) == parameter.initial);
    }
    CHECK(std::get<float>(mixed(2.0F, 4.0F, 0.25F)) == 2.5F);
    CHECK(std::get<V3f>(mixed(V3f(0.0F), V3f(4.0F), 0.5F)) == V3f(2.0F));
    CHECK(std::get<Span>(mixed(Span{.from = 1.0F}, Span{.from = 3.0F}, 0.5F)).from == 2.0F);
    CHECK(std::get<std::string>(mixed(std::string("a"), std::string("b"), 0.9F)) == "a");
    CHECK(std::get<std::string>(mixed(std::string("a"), std::string("b"), 1.0F)) == "b");
    const Value between = mixed(RecordList{{"moon", {{"strength", 2.0F}}}, {"lamp", {}}},
                                RecordList{{"moon", {{"strength", 4.0F}}}}, 0.5F);
    CHECK(std::get<RecordList>(between)[0].settings.number("strength") == 3.0F);
    CHECK(std::get<RecordList>(between).size() == 2);
}

TEST_CASE("a curve goes through its points and never overshoots", "[settings]") {
    const Curve curve{{{0.0F, 0.0F}, {0.2F, 0.8F}, {0.3F, 0.8F}, {1.0F, 1.0F}}};
    for (const V2f& point : curve.points)
        CHECK(curveAt(curve, point.x) == Approx(point.y).margin(1e-6));
    float last = 0.0F;
    for (int i = 0; i <= 1000; ++i) {
        const float y = curveAt(curve, static_cast<float>(i) / 1000.0F);
        CHECK(y >= last - 1e-6F);
        last = y;
    }
    CHECK(curveAt(curve, 0.25F) == Approx(0.8F).margin(1e-6));
    CHECK(curveAt(curve, -5.0F) == 0.0F);
    CHECK(curveAt(curve, std::nanf("")) == 0.0F);
    const Gradient gradient{{{0.0F, {0, 0, 0}}, {0.5F, {1, 0, 0}}, {1.0F, {1, 1, 1}}}};
    CHECK(gradientAt(gradient, 0.25F).r == 0.5F);
    CHECK(gradientAt(gradient, 2.0F) == LinearRgb{1, 1, 1});
}

TEST_CASE("a field is bound whatever the order of declarations", "[settings]") {
    SettingsBuilder<All> b;
    b.number(&All::number, "number", "Number", Unit::None, {0.0F, 10.0F, 5.0F}, ".").alias("size");
    Settings settings = settingsFromJson(b.parameters(), Json{{"size", 7.0}});
    CHECK(b.bind(settings).number == 7.0F);
    CHECK(b.bind({}).number == 2.0F);  // what is left out has its default
}

TEST_CASE("numbers are read with blanks about them, and nothing else", "[settings]") {
    CHECK(std::get<V3f>(valueFromText(named("point"), " 1, 2.5 ,-3 ")) == V3f(1, 2.5F, -3));
    CHECK(std::get<float>(valueFromText(named("number"), " 4 ")) == 4.0F);
    for (const char* text : {"1, ,3", "1 2,3,4", "", " ", "1,2,3,", "1,2,x", "\t1,2,3"}) {
        INFO(text);
        CHECK_THROWS_AS(valueFromText(named("point"), text), Error);
    }
}
