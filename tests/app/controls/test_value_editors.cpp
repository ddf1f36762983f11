#include "app/controls/settings_form.h"

#include "app/controls/switch_box.h"
#include "app/controls/value_bar.h"
#include "app/look/picture_paint.h"
#include "core/settings/settings_builder.h"
#include "core/settings/value_type.h"

#include <QComboBox>
#include <QLineEdit>
#include <QTest>

#include <cmath>
#include <optional>

#include <catch2/catch.hpp>

using namespace noctis;

namespace {

enum class Side { Left, Right };

struct Every {
    int count = 3;
    bool on = false;
    Side side = Side::Left;
    std::string text = "quay";
    V3f point{1.0F, 2.0F, 3.0F};
    V3f direction{0.0F, 1.0F, 0.0F};
    PlaceList places;
    Span span{2.0F, 6.0F};
    NameList names;
    FilePath file;
};

std::vector<Parameter> parameters() {
    SettingsBuilder<Every> b;
    b.whole(&Every::count, "count", "Count", {0.0F, 9.0F, 9.0F}, "How many.")
        .toggle(&Every::on, "on", "On", "Whether.")
        .choice(&Every::side, "side", "Side", {{"left", "At the left"}, {"right", "At the right"}},
                "Which side.")
        .text(&Every::text, "text", "Text", TextUse::Free, "What is written.")
        .position(&Every::point, "point", "Point", "Where.")
        .direction(&Every::direction, "direction", "Direction", "Which way.")
        .places(&Every::places, "places", "Places", "An outline.")
        .span(&Every::span, "span", "Span", Unit::Metre, {0.0F, 100.0F, 10.0F},
              "From where to where.")
        .file(&Every::file, "file", "File", TextUse::PictureFile, "What is read.")
        .names(&Every::names, "names", "Names", TextUse::Objects, "What it is about.");
    return b.parameters();
}

/// A form of all of them, and what was edited in it last.
struct Form {
    SettingsForm form{parameters()};
    QString id;
    std::optional<Value> value;
    int edits = 0;
    int rests = 0;

    Form() {
        form.resize(300, 500);
        form.show();
        QObject::connect(&form, &SettingsForm::edited, [this](const QString& of, const Value& to) {
            id = of;
            value = to;
            ++edits;
        });
        QObject::connect(&form, &SettingsForm::rested, [this] { ++rests; });
    }
    template <typename Widget> Widget* control(const char* row) {
        auto* editor = form.findChild<ValueEditor*>(QLatin1String(row));
        REQUIRE(editor != nullptr);
        auto* widget = editor->findChild<Widget*>();
        REQUIRE(widget != nullptr);
        return widget;
    }
    QLineEdit* type(const char* row, const QString& text) {
        auto* line = control<QLineEdit>(row);
        line->setFocus();
        line->selectAll();
        QTest::keyClicks(line, text);
        QTest::keyClick(line, Qt::Key_Return);
        return line;
    }
};

}  // namespace

TEST_CASE("a value is typed in its text form, and is one edit", "[app][controls][editors]") {
    Form f;
    f.type("text", "north quay");
    CHECK(f.id == "text");
    CHECK(std::get<std::string>(*f.value) == "north quay");
    f.type("point", "4, 5.5, -6");
    CHECK(f.id == "point");
    CHECK(std::get<V3f>(*f.value) == V3f(4.0F, 5.5F, -6.0F));
    f.type("places", "[[1, 2], [30, 4]]");
    CHECK(std::get<PlaceList>(*f.value) == PlaceList{{1.0F, 2.0F}, {30.0F, 4.0F}});
    f.type("names", "crate, boat");
    CHECK(std::get<NameList>(*f.value) == NameList{"crate", "boat"});
    CHECK(f.edits == 4);
    CHECK(f.rests == 4);
    // The same again is no edit.
    f.type("text", "north quay");
    CHECK(f.edits == 4);
}

TEST_CASE(
    "places and directions are shown with units, and stay what they are until they are changed",
    "[app][controls][editors]") {
    Form f;
    Settings settings = initialSettings(parameters());
    settings.set("point", V3f(0.5F, 2.34146F, -0.001F));
    settings.set("direction", V3f(0.4F, 0.7F, 0.6F));
    settings.set("places", PlaceList{{511.7F, 300.2F}, {20.0F, 40.0F}});
    f.form.setSettings(settings);
    const auto text = [&](const char* row) { return f.control<QLineEdit>(row)->text(); };
    CHECK(text("point") == QString::fromUtf8("0.50, 2.34, 0.00\u2009m"));
    CHECK(text("direction") == QString::fromUtf8("34°, 44° up"));
    CHECK(text("places") == QString::fromUtf8("512, 300; 20, 40\u2009px"));
    for (const char* row : {"point", "direction", "places"}) {
        auto* line = f.control<QLineEdit>(row);
        line->setFocus();
        QTest::keyClick(line, Qt::Key_Return);
    }
    CHECK(f.edits == 0);
    f.type("direction", "90, 30 down");
    const auto direction = std::get<V3f>(*f.value);
    CHECK(direction.equalWithAbsError(V3f(0.8660F, -0.5F, 0.0F), 1e-3F));
    f.type("direction", "0,0,2");
    CHECK(std::get<V3f>(*f.value) == V3f(0.0F, 0.0F, 2.0F));
    QTest::keyClick(f.control<QLineEdit>("places"), Qt::Key_A, Qt::ControlModifier);
    QTest::keyClick(f.control<QLineEdit>("places"), Qt::Key_Delete);
    QTest::keyClick(f.control<QLineEdit>("places"), Qt::Key_Return);
    CHECK(std::get<PlaceList>(*f.value).empty());
}

TEST_CASE("a file is shown by its name, and edited with its path", "[app][controls][editors]") {
    Form f;
    Settings settings = initialSettings(parameters());
    settings.set("file", FilePath{"/a/long way/to/quay.exr"});
    f.form.setSettings(settings);
    f.form.activateWindow();
    auto* line = f.control<QLineEdit>("file");
    CHECK(line->text() == "quay.exr");
    CHECK(line->toolTip() == "/a/long way/to/quay.exr");
    line->setFocus();
    REQUIRE(QTest::qWaitFor([&] { return line->hasFocus(); }, 2000));
    CHECK(line->text() == "/a/long way/to/quay.exr");
    QTest::keyClick(line, Qt::Key_Return);
    CHECK(f.edits == 0);
    f.type("file", "/b/reeds.png");
    CHECK(std::get<FilePath>(*f.value).path == "/b/reeds.png");
    f.control<QLineEdit>("text")->setFocus();
    REQUIRE(QTest::qWaitFor([&] { return line->text() == "reeds.png"; }, 2000));
    CHECK(f.edits == 1);
}

TEST_CASE("what can't be read goes back to what it was, and the tooltip says why",
          "[app][controls][editors]") {
    Form f;
    for (const auto& [row, text] : {std::pair{"point", "three metres"},
                                    {"point", "1,2"},
                                    {"direction", "0,0,0"},
                                    {"places", "[[1, 2], 3]"}}) {
        auto* line = f.control<QLineEdit>(row);
        const QString before = line->text();
        line->setToolTip({});
        f.type(row, QLatin1String(text));
        INFO(row << " " << text);
        CHECK(line->text() == before);
        CHECK_FALSE(line->toolTip().isEmpty());
    }
    CHECK(f.edits == 0);
    // What can be read takes the complaint away.
    CHECK(f.type("point", "1,2,4")->toolTip().isEmpty());
    CHECK(f.edits == 1);
}

TEST_CASE("a line that is being typed into is left alone by what changes elsewhere",
          "[app][controls][editors]") {
    Form f;
    auto* line = f.control<QLineEdit>("text");
    f.form.activateWindow();
    line->setFocus();
    REQUIRE(QTest::qWaitFor([&] { return line->hasFocus(); }, 2000));
    line->selectAll();
    QTest::keyClicks(line, "half a wo");
    Settings settings = initialSettings(parameters());
    settings.set("text", std::string("from elsewhere"));
    settings.set("count", 5.0F);
    f.form.setSettings(settings);
    CHECK(line->text() == "half a wo");
    CHECK(f.control<ValueBar>("count")->value() == 5.0F);
    CHECK(f.edits == 0);
}

TEST_CASE("one end of a span pushes the other, and an end can be opened",
          "[app][controls][editors]") {
    Form f;
    auto* from = f.form.findChild<ValueBar*>("from");
    auto* to = f.form.findChild<ValueBar*>("to");
    REQUIRE(from != nullptr);
    REQUIRE(to != nullptr);
    const auto type = [](ValueBar* bar, const QString& number) {
        QTest::keyClick(bar, Qt::Key_Return);
        auto* line = bar->findChild<QLineEdit*>();
        REQUIRE(line != nullptr);
        QTest::keyClicks(line, number);
        QTest::keyClick(line, Qt::Key_Return);
    };
    const auto span = [&] { return std::get<Span>(*f.value); };
    type(from, "8");
    CHECK(span() == Span{8.0F, 8.0F});
    Settings settings = initialSettings(parameters());
    settings.set("span", Span{8.0F, 8.0F});
    f.form.setSettings(settings);
    type(to, "3");
    CHECK(span() == Span{3.0F, 3.0F});
    const auto switches = from->parentWidget()->findChildren<SwitchBox*>();
    REQUIRE(switches.size() == 2);
    QTest::mouseClick(switches[1], Qt::LeftButton);
    CHECK(span().from == 8.0F);
    CHECK(std::isinf(span().to));
    settings.set("span", span());
    f.form.setSettings(settings);
    CHECK_FALSE(switches[1]->isChecked());
    // Closed again it stands at the end of its slider, or at the other end if that is farther.
    QTest::mouseClick(switches[1], Qt::LeftButton);
    CHECK(span() == Span{8.0F, 10.0F});
}

TEST_CASE("switches, choices and whole numbers are set by hand and shown without an edit",
          "[app][controls][editors]") {
    Form f;
    QTest::mouseClick(f.control<SwitchBox>("on"), Qt::LeftButton);
    CHECK(std::get<bool>(*f.value));
    auto* side = f.control<QComboBox>("side");
    side->setFocus();
    QTest::keyClicks(side, "At the r");
    CHECK(f.id == "side");
    CHECK(std::get<std::string>(*f.value) == "right");
    auto* count = f.control<ValueBar>("count");
    QTest::keyClick(count, Qt::Key_Right);
    CHECK(std::get<float>(*f.value) == 4.0F);
    const int edits = f.edits;
    f.form.setSettings(initialSettings(parameters()));
    CHECK(f.edits == edits);
    CHECK(side->currentText() == "At the left");
    CHECK(count->value() == 3.0F);
    CHECK_FALSE(f.control<SwitchBox>("on")->isChecked());
}

TEST_CASE("every row says what its setting does", "[app][controls][editors]") {
    Form f;
    for (const Parameter& parameter : parameters()) {
        auto* row = f.form.findChild<ValueEditor*>(qstring(parameter.id));
        REQUIRE(row != nullptr);
        bool says = row->toolTip().contains(qstring(parameter.help));
        for (const auto* child : row->findChildren<QWidget*>())
            says = says || child->toolTip().contains(qstring(parameter.help));
        INFO(parameter.id);
        CHECK(says);
    }
}
