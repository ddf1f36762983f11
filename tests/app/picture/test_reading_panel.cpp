#include "app/picture/reading_panel.h"

#include "app/picture/picture_room.h"
#include "app/picture/picture_view.h"
#include "app/picture/recipe_panel.h"
#include "app/session/pass_rules.h"
#include "app/window/main_window.h"
#include "app/window/note_bar.h"
#include "core/passes/pass_file.h"
#include "support/fields.h"
#include "support/files.h"
#include "support/windows.h"

#include <QAbstractButton>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QLabel>
#include <QPushButton>
#include <QTest>

#include <catch2/catch.hpp>

using namespace noctis;
using namespace noctis::test;

// Foreign files, corrected in the window as a hand does it.

namespace {

constexpr int kWidth = 160;
constexpr int kHeight = 90;

float depthAt(int y) {
    return 3.0F / (1.0F - 0.95F * static_cast<float>(kHeight - 1 - y) / kHeight);
}

void write(const std::filesystem::path& path, const Image& image, SampleType type) {
    FilePart part;
    part.image = image;
    part.type = type;
    writeImageFile(path, {part});
}

/// An 8-bit picture, and an inverse depth of 8 bits whose near and far nobody knows.
void writeShot(const Folder& folder) {
    write(folder / "shot.png", Image(kWidth, kHeight, {"R", "G", "B"}, 0.4F), SampleType::Byte);
    Interpretation real;
    real.coding = DepthCoding::Inverse;
    real.nearDistance = 2.0F;
    real.farDistance = 95.0F;
    real.nearBright = true;
    write(folder / "shot_z.png",
          filledBy(kWidth, kHeight, [&](int, int y) { return storedFromDepth(depthAt(y), real); }),
          SampleType::Byte);
}

struct Opened {
    Folder folder;
    Folder data;
    MainWindow window{data.path()};
    Opened() {
        writeShot(folder);
        window.show();
        REQUIRE(openAndRead(window, {folder / "shot.png", folder / "shot_z.png"}));
        REQUIRE(
            waitFor([&] { return window.session().passes().find(PassKind::Depth) != nullptr; }));
        REQUIRE(waitFor([&] { return window.picture().settled(); }));
    }
    template <typename T> T* child(const char* name) {
        T* found = window.picture().findChild<T*>(QLatin1String(name));
        REQUIRE(found != nullptr);
        return found;
    }
    void click(const char* name) {
        QTest::mouseClick(child<QAbstractButton>(name), Qt::LeftButton);
        QApplication::processEvents();
    }
    void clickPicture(int x, int y) {
        PictureView& view = window.picture().view();
        QTest::mouseClick(&view, Qt::LeftButton, {},
                          view.fromPicture({x + 0.5, y + 0.5}).toPoint());
        QApplication::processEvents();
    }
    const Pass& depth() { return *window.session().passes().find(PassKind::Depth); }
};

/// A grey picture and a depth of floats, dropped on the window.
struct Dropped {
    Folder folder;
    Folder data;
    MainWindow window{data.path()};
    explicit Dropped(const Image& stored) {
        write(folder / "shot.png", Image(kWidth, kHeight, {"R", "G", "B"}, 0.4F), SampleType::Byte);
        write(folder / "shot_depth.exr", stored, SampleType::Float);
        window.show();
        REQUIRE(openAndRead(window, {folder / "shot.png", folder / "shot_depth.exr"}));
        REQUIRE(waitFor([&] { return depth() != nullptr; }));
        REQUIRE(waitFor([&] { return window.picture().settled(); }));  // prints come later
        QApplication::processEvents();
    }
    const Pass* depth() { return window.session().passes().find(PassKind::Depth); }
    void click(const char* name) {
        auto* button = window.picture().findChild<QAbstractButton*>(QLatin1String(name));
        REQUIRE(button != nullptr);
        QTest::mouseClick(button, Qt::LeftButton);
        QApplication::processEvents();
    }
};

}  // namespace

TEST_CASE("two clicks on things of known distance bring a foreign depth to metres",
          "[reading-panel]") {
    Opened opened;
    opened.click("depth");
    auto* coding = opened.child<QComboBox>("reading-coding");
    coding->setCurrentIndex(2);
    QApplication::processEvents();
    opened.click("known-0");
    opened.clickPicture(40, 80);
    opened.child<QDoubleSpinBox>("known-metres-0")->setValue(static_cast<double>(depthAt(80)));
    opened.click("known-1");
    opened.clickPicture(40, 12);
    opened.child<QDoubleSpinBox>("known-metres-1")->setValue(static_cast<double>(depthAt(12)));
    QApplication::processEvents();
    const Image& found = opened.depth().image;
    CHECK(found(100, 80, 0) == Approx(depthAt(80)).epsilon(0.02));
    CHECK(found(100, 40, 0) == Approx(depthAt(40)).epsilon(0.03));
    CHECK(found(100, 12, 0) == Approx(depthAt(12)).epsilon(0.02));
    // The clicks set no focus meanwhile, and one undo takes the reading back.
    CHECK(opened.window.session().project().recipe.steps.empty());
    // Stairs are evened out by one click.
    const Image before = opened.depth().image;
    opened.click("remedy-even");
    CHECK(opened.window.session().project().readings.passes.at("depth").evened);
    REQUIRE(waitForReading(opened.window.session()));
    CHECK(apart(opened.depth().image, before) > 0.0);
    opened.window.session().undo();
    REQUIRE(waitForReading(opened.window.session()));
    CHECK(apart(opened.depth().image, before) == 0.0);
}

TEST_CASE("a pass says what it is taken for and why, and is taken for something else",
          "[reading-panel]") {
    Opened opened;
    opened.click("depth");
    const QString reason = opened.child<QLabel>("reading-reason")->text();
    CHECK(reason.contains("from its name"));
    CHECK(reason.contains("shot_z.png"));
    CHECK(reason.contains("8-bit"));
    auto* kind = opened.child<QComboBox>("reading-kind");
    int occlusion = -1;
    for (int i = 0; i < kind->count(); ++i)
        if (passKinds()[static_cast<std::size_t>(i)].kind == PassKind::Occlusion)
            occlusion = i;
    kind->setCurrentIndex(occlusion);
    REQUIRE(waitForReading(opened.window.session()));
    CHECK(opened.window.session().passes().find(PassKind::Depth) == nullptr);
    REQUIRE(opened.window.session().passes().find(PassKind::Occlusion) != nullptr);
    CHECK(opened.child<ReadingPanel>("reading")->isVisible());
    opened.window.session().undo();
    REQUIRE(waitForReading(opened.window.session()));
    CHECK(opened.window.session().passes().find(PassKind::Depth) != nullptr);
}

TEST_CASE("a warning that a reading can settle has the repair on its note", "[reading-panel]") {
    Dropped dropped(filledBy(kWidth, kHeight, [](int x, int y) {
        return x > 40 && x < 60 && y > 30 && y < 50 ? std::numeric_limits<float>::quiet_NaN()
                                                    : depthAt(y);
    }));
    auto* notes = dropped.window.findChild<NoteBar*>();
    REQUIRE(notes->text().contains("no valid number"));
    auto* action = notes->findChild<QPushButton*>("note-action");
    REQUIRE(action->text() == "Fill the gaps");
    QTest::mouseClick(action, Qt::LeftButton);
    REQUIRE(waitFor([&] {
        return dropped.depth() != nullptr && !std::isinf(dropped.depth()->image(50, 40, 0));
    }));
    CHECK_FALSE(notes->text().contains("no valid number"));
    dropped.window.session().undo();
    CHECK(waitFor([&] {
        return dropped.depth() != nullptr && std::isinf(dropped.depth()->image(50, 40, 0));
    }));
}

TEST_CASE("pixels that are no numbers are filled at a click, and undo brings them back",
          "[reading-panel]") {
    Dropped dropped(filledBy(kWidth, kHeight, [](int x, int y) {
        return x > 40 && x < 60 && y > 30 && y < 50 ? std::numeric_limits<float>::quiet_NaN()
                                                    : depthAt(y);
    }));
    MainWindow& window = dropped.window;
    const auto depth = [&] { return dropped.depth(); };
    // Read as background, as the panel says.
    REQUIRE(std::isinf(depth()->image(50, 40, 0)));
    REQUIRE(window.findChild<NoteBar*>()->text().contains("no valid number"));
    dropped.click("depth");
    dropped.click("remedy-fill");
    REQUIRE(waitFor([&] { return depth() != nullptr && !std::isinf(depth()->image(50, 40, 0)); }));
    CHECK(depth()->image(50, 31, 0) == Approx(depthAt(31)).epsilon(0.05));
    CHECK(depth()->image(10, 40, 0) == depthAt(40));
    // What was derived from the gaps and said of them is gone, too.
    const Pass* coverage = window.session().passes().find(PassKind::Coverage);
    CHECK((coverage == nullptr || coverage->image(50, 40, 0) == 1.0F));
    CHECK_FALSE(window.findChild<NoteBar*>()->text().contains("no valid number"));
    // The remedy stays in sight, to be taken back.
    dropped.click("remedy-fill");
    CHECK(waitFor([&] { return depth() != nullptr && std::isinf(depth()->image(50, 40, 0)); }));
    QTest::keyClick(&window, Qt::Key_Z, Qt::ControlModifier);
    CHECK(waitFor([&] { return depth() != nullptr && !std::isinf(depth()->image(50, 40, 0)); }));
}

TEST_CASE("a pass that holds nothing is set aside at a click", "[reading-panel]") {
    Dropped dropped(Image(kWidth, kHeight, {"Y"}, 1.0F));
    MainWindow& window = dropped.window;
    const auto depth = [&] { return dropped.depth(); };
    dropped.click("depth");
    dropped.click("remedy-aside");
    REQUIRE(waitFor([&] { return depth() == nullptr; }));
    QTest::keyClick(&window, Qt::Key_Z, Qt::ControlModifier);
    CHECK(waitFor([&] { return depth() != nullptr; }));
}

TEST_CASE("a reading is kept as a rule for the next files, listed, and removed",
          "[reading-panel]") {
    Opened opened;
    opened.click("depth");
    opened.child<QComboBox>("reading-coding")->setCurrentIndex(2);
    opened.child<QDoubleSpinBox>("reading-far")->setValue(70.0);
    QApplication::processEvents();
    const PassReading set = opened.window.session().project().readings.passes.at("depth");
    opened.click("keep-rule");
    CHECK_FALSE(opened.child<QPushButton>("keep-rule")->isVisible());
    CHECK(opened.child<QPushButton>("list-rules")->text() == "Rules (1)");
    // Another window, another shot of the same maker: the rule is in its project, and is seen.
    {
        MainWindow other(opened.data.path());
        other.show();
        REQUIRE(openAndRead(other, {opened.folder / "shot.png", opened.folder / "shot_z.png"}));
        REQUIRE(waitFor([&] { return other.session().passes().find(PassKind::Depth) != nullptr; }));
        const Pass& depth = *other.session().passes().find(PassKind::Depth);
        CHECK(depth.interpretation->coding == DepthCoding::Inverse);
        CHECK(depth.interpretation->farDistance == 70.0F);
        CHECK(other.session().project().readings.passes.at("depth").depth == set.depth);
    }
    // What Noctis wrote says itself how it is read, whatever the rule for that name.
    {
        PassSet ours;
        Pass depth;
        depth.name = "depth";
        depth.kind = PassKind::Depth;
        depth.image = Image(kWidth, kHeight, {"Z"}, 12.5F);
        ours.put(std::move(depth));
        writePasses(opened.folder / "ours.exr", ours);
        MainWindow other(opened.data.path());
        other.show();
        REQUIRE(openAndRead(other, {opened.folder / "ours.exr"}));
        REQUIRE(waitFor([&] { return other.session().passes().find(PassKind::Depth) != nullptr; }));
        CHECK(other.session().passes().find(PassKind::Depth)->image(3, 3, 0) == 12.5F);
        CHECK(other.session().project().readings.passes.empty());
    }
    opened.window.session().rules().remove("depth");
    CHECK(PassRules(opened.data / "pass-rules.json").all().empty());
}

TEST_CASE("rules survive the session, and a damaged list counts as none", "[reading-panel]") {
    const Folder folder;
    PassReading reading;
    reading.kind = PassKind::Normal;
    reading.normal = NormalReading{NormalAxes::Camera, NormalCoding::Encoded, GreenWay::Down};
    PassRules(folder / "rules.json").keep("Nrm", reading);
    CHECK(PassRules(folder / "rules.json").all().at("Nrm") == reading);
    CHECK(inWords(reading) == "Normal, camera axes, stored 0 to 1, green down");
    folder.write("rules.json", "[1, 2");
    CHECK(PassRules(folder / "rules.json").all().empty());
}
