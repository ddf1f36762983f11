#include "app/controls/colour_well.h"
#include "app/controls/settings_form.h"
#include "app/controls/switch_box.h"
#include "app/controls/undo_keys.h"
#include "app/controls/value_bar.h"
#include "app/instruments/depth_axis.h"
#include "app/window/exposure_field.h"
#include "core/image/colour.h"
#include "core/settings/settings_builder.h"

#include <QApplication>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QKeyEvent>
#include <QLineEdit>
#include <QPushButton>
#include <QTest>

#include <catch2/catch.hpp>

using namespace noctis;

namespace {

enum class Mode { Soft, Hard };

struct Sample {
    float size = 2.0F;
    bool on = false;
    LinearRgb colour{0.2F, 0.2F, 0.2F};
    Mode mode = Mode::Soft;
    float detail = 0.5F;
};

const std::vector<Parameter>& parameters() {
    static const auto builder = [] {
        SettingsBuilder<Sample> b;
        b.number(&Sample::size, "size", "Size", Unit::Metre, {0.0F, 1000.0F, 10.0F}, "How large.");
        b.toggle(&Sample::on, "on", "On", "Whether.");
        b.colour(&Sample::colour, "colour", "Colour", "Which.");
        b.choice(&Sample::mode, "mode", "Mode", {{"soft", "Soft"}, {"hard", "Hard"}}, "How.");
        b.number(&Sample::detail, "detail", "Detail", Unit::Percent, {0.0F, 1.0F, 1.0F},
                 "How fine.");
        b.onlyWhen("mode=hard");
        return b;
    }();
    return builder.parameters();
}

}  // namespace

TEST_CASE("the axis turns metres into places and back, both ways", "[app][axis]") {
    for (const bool logarithmic : {true, false}) {
        const DepthAxis axis{logarithmic ? 0.5F : 0.0F, 400.0F, logarithmic, 100.0, 700.0};
        for (const float metres : {0.7F, 3.0F, 50.0F, 390.0F})
            CHECK(axis.metresAt(axis.at(metres)) == Approx(metres).epsilon(1e-3));
        CHECK(axis.at(400.0F) == Approx(700.0));
        CHECK(axis.metresAt(-50.0) == Approx(axis.nearest).margin(1e-6));
        CHECK(axis.metresAt(9000.0) == Approx(400.0F));
    }
}

TEST_CASE("ticks are round, in order and never too close", "[app][axis]") {
    for (const bool logarithmic : {true, false})
        for (const float farthest : {3.0F, 80.0F, 2000.0F}) {
            const DepthAxis axis{logarithmic ? 0.3F : 0.0F, farthest, logarithmic, 0.0, 500.0};
            const std::vector<float> ticks = axis.ticks(40.0);
            CHECK(ticks.size() >= 2);
            CHECK(ticks.size() <= 14);
            for (std::size_t i = 1; i < ticks.size(); ++i)
                CHECK(axis.at(ticks[i]) - axis.at(ticks[i - 1]) >= 39.0);
        }
}

TEST_CASE("a bar keeps to its range, moves finely with Shift, and leaves the wheel to the panel",
          "[app][controls]") {
    ValueBar bar("Size", Unit::Metre, {0.0F, 50.0F, 10.0F});
    bar.resize(240, 24);
    bar.show();
    float last = -1.0F;
    int rests = 0;
    QObject::connect(&bar, &ValueBar::moved, &bar, [&](float v) { last = v; });
    QObject::connect(&bar, &ValueBar::rested, &bar, [&] { ++rests; });
    const QPoint middle = bar.track().center();
    QTest::mousePress(&bar, Qt::LeftButton, {}, middle);
    QTest::mouseMove(&bar, middle + QPoint(4000, 0));
    CHECK(last == 10.0F);
    QTest::mouseMove(&bar, middle - QPoint(4000, 0));
    CHECK(last == 0.0F);
    QTest::mouseRelease(&bar, Qt::LeftButton, {}, middle);
    CHECK(rests == 1);

    QTest::keyClick(&bar, Qt::Key_Return);
    QTest::keyClicks(bar.findChild<QLineEdit*>(), "37,5 m");
    QTest::keyClick(bar.findChild<QLineEdit*>(), Qt::Key_Return);
    CHECK(last == 37.5F);  // beyond the bar, within the range
    QTest::keyClick(&bar, Qt::Key_Return);
    QTest::keyClicks(bar.findChild<QLineEdit*>(), "a lot");
    QTest::keyClick(bar.findChild<QLineEdit*>(), Qt::Key_Return);
    CHECK(bar.value() == 37.5F);

    bar.setValue(5.0F);
    QTest::keyClick(&bar, Qt::Key_Right);
    const float coarse = bar.value() - 5.0F;
    bar.setValue(5.0F);
    QTest::keyClick(&bar, Qt::Key_Right, Qt::ShiftModifier);
    CHECK(bar.value() - 5.0F < coarse / 5.0F);
    CHECK(bar.value() > 5.0F);
}

TEST_CASE("a bar shows what 0 stands for, and reads it", "[app][controls]") {
    ValueBar bar("Reach", Unit::Metre, {0.0F, 50.0F, 10.0F});
    bar.resize(240, 24);
    bar.show();
    bar.setUnset("endless", 0.0F);
    CHECK(bar.text() == "endless");
    bar.setValue(2.0F);
    CHECK(bar.text().startsWith("2.00"));
    QTest::keyClick(&bar, Qt::Key_Return);
    QTest::keyClicks(bar.findChild<QLineEdit*>(), "Endless");
    QTest::keyClick(bar.findChild<QLineEdit*>(), Qt::Key_Return);
    CHECK(bar.value() == 0.0F);
    CHECK(bar.text() == "endless");
}

TEST_CASE("what is typed into a bar is taken when the focus goes, and dropped by Escape",
          "[app][controls]") {
    QWidget panel;
    ValueBar bar("Skip", Unit::Metre, {0.0F, 50.0F, 10.0F}, &panel);
    QPushButton other("other", &panel);
    bar.resize(240, 24);
    other.move(0, 40);
    panel.resize(260, 80);
    panel.show();
    REQUIRE(QTest::qWaitForWindowActive(&panel));
    bar.setValue(0.294488F);
    int moves = 0;
    QObject::connect(&bar, &ValueBar::moved, &bar, [&] { ++moves; });
    const auto line = [&] { return bar.findChild<QLineEdit*>(); };
    const auto type = [&](const char* text) {
        QTest::mouseClick(&bar, Qt::LeftButton, {}, QPoint(230, 12));
        REQUIRE(line() != nullptr);
        QTest::keyClicks(line(), text);
    };
    const auto gone = [&] {
        QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
        return line() == nullptr;
    };
    type("");
    CHECK(line()->width() - 20 >= line()->fontMetrics().horizontalAdvance("0.294488"));
    other.setFocus();
    CHECK(gone());
    CHECK(moves == 0);  // nothing was typed
    type("3");
    QTest::keyClick(line(), Qt::Key_Escape);
    CHECK(gone());
    CHECK(bar.hasFocus());
    CHECK(moves == 0);
    type("4");
    other.setFocus();
    CHECK(gone());
    CHECK(bar.value() == 4.0F);
    CHECK(other.hasFocus());
}

TEST_CASE("whole numbers step by one", "[app][controls]") {
    ValueBar bar("Blades", Unit::Count, {0.0F, 16.0F, 12.0F});
    bar.resize(240, 24);
    bar.show();
    bar.setValue(5.0F);
    QTest::keyClick(&bar, Qt::Key_Right);
    CHECK(bar.value() == 6.0F);
    QTest::keyClick(&bar, Qt::Key_Left);
    QTest::keyClick(&bar, Qt::Key_Left);
    CHECK(bar.value() == 4.0F);
}

TEST_CASE("a colour set is the colour given, and dragging its lightness keeps the hue",
          "[app][controls]") {
    ColourWell well("Tint");
    well.resize(280, 24);
    well.show();
    const LinearRgb tint{0.30F, 0.12F, 0.05F};
    well.setColour(tint);
    CHECK(well.colour() == tint);
    well.setFocus();
    QTest::keyClick(&well, Qt::Key_Right);
    const LinearRgb lighter = well.colour();
    CHECK(lighter.r > tint.r);
    CHECK(lighter.r > lighter.g);
    CHECK(lighter.g > lighter.b);
    for (int i = 0; i < 80; ++i)
        QTest::keyClick(&well, Qt::Key_Left);
    CHECK(well.colour().r == 0.0F);
    // By hand: the middle of the uppermost bar is six tenths of white, and of the lowest half strength.
    QTest::mouseClick(&well, Qt::LeftButton, {}, QPoint(84 + (280 - 84 - 48) / 2, 28));
    CHECK(srgbFromLinear(well.colour().r) == Approx(0.6F).margin(0.01));
    QTest::mouseClick(&well, Qt::LeftButton, {}, QPoint(84 + (280 - 84 - 48) / 2, 64));
    const float most = std::max({well.colour().r, well.colour().g, well.colour().b});
    const float least = std::min({well.colour().r, well.colour().g, well.colour().b});
    CHECK(srgbFromLinear(least) == Approx(0.5F * srgbFromLinear(most)).margin(0.01));
}

TEST_CASE(
    "a form shows a row for each setting, says what is edited, and hides what does not matter",
    "[app][controls]") {
    SettingsForm form(parameters());
    form.resize(280, 200);
    form.show();
    std::vector<std::pair<QString, Value>> edits;
    QObject::connect(&form, &SettingsForm::edited, &form,
                     [&](const QString& id, const Value& v) { edits.emplace_back(id, v); });
    Settings settings = initialSettings(parameters());
    form.setSettings(settings);
    CHECK(edits.empty());  // being filled is no edit
    auto* detail = form.findChild<QWidget*>("detail");
    REQUIRE(detail != nullptr);
    CHECK_FALSE(detail->isVisible());

    auto* mode = form.findChild<QComboBox*>();
    mode->setFocus();
    QTest::keyClick(mode, Qt::Key_Down);
    REQUIRE(edits.size() == 1);
    CHECK(edits[0].first == "mode");
    CHECK(std::get<std::string>(edits[0].second) == "hard");
    settings.set("mode", std::string("hard"));
    form.setSettings(settings);
    CHECK(detail->isVisible());

    QTest::mouseClick(form.findChild<SwitchBox*>(), Qt::LeftButton);
    CHECK(edits.back().first == "on");
    CHECK(std::get<bool>(edits.back().second));
    for (auto* bar : form.findChildren<ValueBar*>())
        CHECK_FALSE(bar->toolTip().isEmpty());
}

TEST_CASE("exposure is dragged in twentieths of a stop and reset by a double click",
          "[app][controls]") {
    ExposureField field;
    field.show();
    float stops = 0.0F;
    QObject::connect(&field, &ExposureField::moved, &field, [&](float v) {
        stops = v;
        field.setStops(v);
    });
    QTest::mousePress(&field, Qt::LeftButton, {}, QPoint(10, 10));
    QTest::mouseMove(&field, QPoint(60, 10));
    QTest::mouseRelease(&field, Qt::LeftButton, {}, QPoint(60, 10));
    CHECK(stops == Approx(1.0F));
    QTest::mouseDClick(&field, Qt::LeftButton, {}, QPoint(20, 10));
    CHECK(stops == 0.0F);
}

TEST_CASE("undo stays with a number that is being typed, and is the project's when it was taken",
          "[app][controls]") {
    UndoKeys keys;
    qApp->installEventFilter(&keys);
    QDoubleSpinBox box;
    box.setRange(0, 100);
    box.setKeyboardTracking(false);
    box.show();
    box.setFocus();
    box.selectAll();
    const auto claims = [&] {
        QKeyEvent event(QEvent::ShortcutOverride, Qt::Key_Z, Qt::ControlModifier);
        event.ignore();
        QApplication::sendEvent(&box, &event);
        return event.isAccepted();
    };
    QTest::keyClicks(&box, "40");
    CHECK(claims());
    QTest::keyClick(&box, Qt::Key_Return);
    CHECK(box.value() == 40.0);
    CHECK_FALSE(claims());
}
