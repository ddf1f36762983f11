#include "app/instruments/plan.h"
#include "app/picture/picture_room.h"
#include "app/picture/picture_view.h"
#include "app/picture/recipe_panel.h"
#include "app/window/main_window.h"
#include "core/passes/pass_file.h"
#include "core/steps/registry.h"
#include "support/files.h"
#include "support/windows.h"

#include <QTest>

#include <catch2/catch.hpp>

#include <cmath>

using namespace noctis;
using namespace noctis::test;

namespace {

constexpr int kWidth = 160;
constexpr int kHeight = 90;
const V3f kMiddle{0.0F, 1.0F, -6.0F};

/// A smooth, dark ball that only mirrors, 2 m in radius, seen from 6 m away.
std::filesystem::path ballFile(const Folder& folder) {
    PassSet set;
    set.camera = lookingAt(V3f(0, 1, 0), kMiddle, 0.8F);
    const auto added = [&](PassKind kind, float value) {
        Pass pass;
        pass.kind = kind;
        pass.name = passKindInfo(kind).id;
        pass.image = Image(kWidth, kHeight, passKindInfo(kind).channels, value);
        return pass;
    };
    Pass depth = added(PassKind::Depth, kNothingHit);
    Pass normal = added(PassKind::Normal, 0.0F);
    for (int y = 0; y < kHeight; ++y)
        for (int x = 0; x < kWidth; ++x) {
            const CameraRay ray = cameraRay(*set.camera, static_cast<float>(x) + 0.5F,
                                            static_cast<float>(y) + 0.5F, kWidth, kHeight);
            const V3f from = ray.origin - kMiddle;
            const float b = from.dot(ray.direction);
            const float inside = b * b - from.length2() + 4.0F;
            if (inside < 0.0F)
                continue;
            const float away = -b - std::sqrt(inside);
            const std::ptrdiff_t at = depth.image.rowStride() * y + x;
            depth.image.editPlane(0)[at] = away * ray.planarPerDistance;
            const V3f n = (from + ray.direction * away).normalized();
            for (int c = 0; c < 3; ++c)
                normal.image.editPlane(c)[at] = n[c];
        }
    set.put(added(PassKind::Beauty, 0.0F));
    set.put(added(PassKind::DiffuseColour, 0.0F));
    set.put(added(PassKind::SpecularColour, 0.3F));
    set.put(added(PassKind::Roughness, 0.2F));
    set.put(depth);
    set.put(normal);
    writePasses(folder / "ball.exr", set);
    return folder / "ball.exr";
}

struct Lit {
    Folder folder;
    Folder data;
    MainWindow window{data.path()};
    Lit() {
        window.show();
        REQUIRE(openAndRead(window, {ballFile(folder)}));
        REQUIRE(waitFor([&] { return !window.session().passes().empty(); }));
        settle();
        window.picture().recipe().addStep("relight");
        settle();
    }
    /// Until the picture is shown and lies where it stays: the instruments of a step take room when it is chosen.
    void settle() {
        REQUIRE(waitFor([&] { return window.picture().settled(); }));
        QApplication::processEvents();
    }
    void set(const std::string& name, const Value& value) {
        window.session().change(
            {}, {}, [&](Project& p) { p.recipe.steps.front().settings.set(name, value); });
        QApplication::processEvents();
    }
    template <typename T> T get(const char* name) {
        REQUIRE_FALSE(window.session().project().recipe.steps.empty());
        return window.session().project().recipe.steps.front().settings.get<T>(name);
    }
    void click(const QPointF& picture, Qt::KeyboardModifiers keys = {}) {
        PictureView& view = window.picture().view();
        QTest::mouseClick(&view, Qt::LeftButton, keys, view.fromPicture(picture).toPoint());
        QApplication::processEvents();
    }
    /// Where the light's mirror image is brightest.
    QPointF highlight() {
        Evaluator evaluator(stepCatalogue());
        evaluator.setPasses(window.session().passes());
        const Image lit = evaluator.evaluate(window.session().project().recipe);
        QPointF found;
        float brightest = 0.0F;
        for (int y = 0; y < lit.height(); ++y)
            for (int x = 0; x < lit.width(); ++x)
                if (lit(x, y, 1) > brightest) {
                    brightest = lit(x, y, 1);
                    found = {x + 0.5, y + 0.5};
                }
        return found;
    }
};

double between(const QPointF& a, const QPointF& b) {
    return std::hypot(a.x() - b.x(), a.y() - b.y());
}

}  // namespace

TEST_CASE("a click sets a sun by where its highlight is to fall", "[app][picture-hand]") {
    Lit o;
    o.set("kind", std::string("sun"));
    for (const QPointF at : {QPointF(66, 38), QPointF(90, 55), QPointF(84, 30)}) {
        o.click(at);
        INFO(at.x() << ", " << at.y());
        CHECK(between(o.highlight(), at) < 2.5);
    }
    const V3f there = o.get<V3f>("towards");
    o.window.session().undo();
    CHECK(o.get<V3f>("towards") != there);
}

TEST_CASE("Shift and a click set a lamp by its highlight, as far away as it was",
          "[app][picture-hand]") {
    Lit o;
    o.set("kind", std::string("point"));
    o.set("position", V3f(0.0F, 3.0F, -2.0F));
    const QPointF at(68, 36);
    o.click(at, Qt::ShiftModifier);
    CHECK(between(o.highlight(), at) < 3.0);
    const float away = (o.get<V3f>("position") - kMiddle).length();
    CHECK(away > 3.0F);
    // Without it, the lamp goes near the surface.
    o.click(at);
    CHECK((o.get<V3f>("position") - kMiddle).length() < 2.5F);
    // The sky has no highlight: the lamp stays.
    const V3f before = o.get<V3f>("position");
    o.click({4, 4}, Qt::ShiftModifier);
    CHECK(o.get<V3f>("position") == before);
}

TEST_CASE("a spot turns to where its highlight is to fall", "[app][picture-hand]") {
    Lit o;
    o.set("kind", std::string("spot"));
    o.set("position", V3f(0.0F, 3.0F, -2.0F));
    o.set("outer", 40.0F);
    const QPointF at(92, 40);
    o.click(at, Qt::ShiftModifier);
    CHECK(between(o.highlight(), at) < 3.0);
    o.window.session().undo();  // both its place and its direction
    CHECK(o.get<V3f>("position") == V3f(0.0F, 3.0F, -2.0F));
}

TEST_CASE("a box of a Where is moved whole on the Plan, and by its corners",
          "[app][picture-hand]") {
    Lit o;
    Where box = stepCatalogue().newCriterion("box");
    box.settings.set("min", V3f(-3.0F, 0.0F, -9.0F));
    box.settings.set("max", V3f(3.0F, 2.0F, -4.0F));
    o.window.session().change({}, {}, [&](Project& p) { p.recipe.steps.front().where = box; });
    QApplication::processEvents();
    Plan& plan = o.window.picture().instrument<Plan>();
    REQUIRE(plan.isVisible());
    const auto corner = [&](const char* name) {
        return o.window.session().project().recipe.steps.front().where.settings.get<V3f>(name);
    };
    const auto drag = [&](const QPointF& from, const QPoint& way) {
        QTest::mousePress(&plan, Qt::LeftButton, {}, from.toPoint());
        QTest::mouseMove(&plan, from.toPoint() + way / 2);
        QTest::mouseMove(&plan, from.toPoint() + way);
        QTest::mouseRelease(&plan, Qt::LeftButton, {}, from.toPoint() + way);
        QApplication::processEvents();
    };
    const std::string owner = plan.marks().front().handle.owner;
    const auto placeOf = [&](const char* name) { return plan.handlePlace(owner, name).value(); };
    const QPointF middle = (placeOf("min") + placeOf("max")) / 2.0;
    drag(middle + QPointF(6, 0), QPoint(24, 0));
    const V3f moved = corner("min") - V3f(-3.0F, 0.0F, -9.0F);
    CHECK(moved.x > 0.3F);
    CHECK(moved.y == 0.0F);
    CHECK((corner("max") - V3f(3.0F, 2.0F, -4.0F)).equalWithAbsError(moved, 1e-4F));
    const V3f kept = corner("min");
    drag(placeOf("max"), QPoint(20, 0));
    CHECK(corner("min") == kept);
    CHECK(corner("max").x > 3.3F + moved.x);
    o.window.session().undo();
    o.window.session().undo();
    CHECK(corner("min") == V3f(-3.0F, 0.0F, -9.0F));
}
