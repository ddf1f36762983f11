#include "app/controls/gradient_editor.h"

#include "app/controls/colour_well.h"
#include "app/controls/settings_form.h"
#include "core/steps/registry.h"

#include <QTest>

#include <catch2/catch.hpp>

using namespace noctis;

namespace {

const Gradient kThree{{{0.0F, {1, 0, 0}}, {0.5F, {0, 1, 0}}, {1.0F, {0, 0, 1}}}};

struct Shown {
    GradientBar bar;
    Gradient reported;
    int rests = 0;
    Shown() {
        bar.resize(240, bar.height());
        bar.setGradient(kThree);
        bar.show();
        QObject::connect(&bar, &GradientBar::moved, [this](const Gradient& g) { reported = g; });
        QObject::connect(&bar, &GradientBar::rested, [this] { ++rests; });
    }
    [[nodiscard]] QPoint at(float place) const { return bar.fromPlace(place).toPoint(); }
    void drag(float from, float to) {
        QTest::mousePress(&bar, Qt::LeftButton, {}, at(from));
        for (int i = 1; i <= 6; ++i)
            QTest::mouseMove(&bar, at(from) + QPoint((at(to).x() - at(from).x()) * i / 6, 0));
        QTest::mouseRelease(&bar, Qt::LeftButton, {}, at(to));
    }
};

}  // namespace

TEST_CASE("stops of a gradient are dragged, added and taken away", "[app][gradient]") {
    Shown shown;
    shown.drag(0.5F, 0.7F);
    REQUIRE(shown.reported.stops.size() == 3);
    CHECK(shown.reported.stops[1].at == Approx(0.7F).margin(0.01));
    CHECK(shown.rests == 1);
    // A stop stays between its neighbours.
    shown.drag(0.7F, 0.0F);
    CHECK(shown.reported.stops[1].at == 0.0F);
    shown.drag(1.0F, 0.9F);
    CHECK(shown.reported.stops[2].at == Approx(0.9F).margin(0.01));
    // A new one has the colour that is there, so that adding changes nothing.
    const LinearRgb there = gradientAt(shown.reported, 0.5F);
    QTest::mouseClick(&shown.bar, Qt::LeftButton, {}, shown.at(0.5F));
    REQUIRE(shown.reported.stops.size() == 4);
    CHECK(shown.bar.chosen() == 2);
    CHECK(shown.reported.stops[2].colour.b == Approx(there.b).margin(0.01));
    QTest::mouseClick(&shown.bar, Qt::RightButton, {}, shown.at(0.5F));
    CHECK(shown.reported.stops.size() == 3);
    // One colour is still a gradient; none is not.
    QTest::mouseClick(&shown.bar, Qt::RightButton, {}, shown.at(0.9F));
    QTest::mouseClick(&shown.bar, Qt::RightButton, {}, shown.at(0.0F));
    QTest::mouseClick(&shown.bar, Qt::RightButton, {}, shown.at(0.0F));
    CHECK(shown.reported.stops.size() == 1);
    CHECK(shown.bar.chosen() == 0);
}

TEST_CASE("a gradient is edited by keys alone", "[app][gradient]") {
    Shown shown;
    shown.bar.setFocus();
    QTest::keyClick(&shown.bar, Qt::Key_PageDown);
    CHECK(shown.bar.chosen() == 1);
    QTest::keyClick(&shown.bar, Qt::Key_Right);
    CHECK(shown.reported.stops[1].at == Approx(0.51F));
    QTest::keyClick(&shown.bar, Qt::Key_Left);
    QTest::keyClick(&shown.bar, Qt::Key_Left);
    CHECK(shown.reported.stops[1].at == Approx(0.49F));
    QTest::keyClick(&shown.bar, Qt::Key_Delete);
    CHECK(shown.reported.stops.size() == 2);
    QTest::keyClick(&shown.bar, Qt::Key_PageUp);
    QTest::keyClick(&shown.bar, Qt::Key_Left);
    CHECK(shown.bar.chosen() == 0);
    CHECK(shown.reported.stops[0].at == 0.0F);
}

TEST_CASE("a setting that is a gradient has its bar, and a well for the chosen stop",
          "[app][gradient]") {
    const auto& parameters = stepCatalogue().type("distance_tint").parameters;
    SettingsForm form(parameters);
    form.resize(280, 300);
    form.show();
    auto* bar = form.findChild<GradientBar*>("gradient-bar");
    auto* well = form.findChild<ColourWell*>();
    REQUIRE(bar != nullptr);
    REQUIRE(well != nullptr);
    std::optional<Value> edited;
    int rests = 0;
    QObject::connect(&form, &SettingsForm::edited,
                     [&](const QString&, const Value& value) { edited = value; });
    QObject::connect(&form, &SettingsForm::rested, [&] { ++rests; });
    const Gradient initial = bar->gradient();
    CHECK(well->colour() == initial.stops[0].colour);
    QTest::mouseClick(bar, Qt::LeftButton, {}, bar->fromPlace(1.0F).toPoint());
    CHECK(well->colour() == initial.stops.back().colour);
    // The lightness bar, at its dark end: the chosen stop is black, the others as they were.
    QTest::mouseClick(well, Qt::LeftButton, {}, QPoint(86, 28));
    REQUIRE(edited);
    const auto changed = std::get<Gradient>(*edited);
    CHECK(changed.stops.back().colour.r < 0.01F);
    CHECK(changed.stops.front() == initial.stops.front());
    CHECK(rests == 2);
    // An undo elsewhere shows here.
    form.setSettings(initialSettings(parameters));
    CHECK(bar->gradient() == initial);
    CHECK(well->colour() == initial.stops.back().colour);
}
