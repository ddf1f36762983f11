#include "app/session/picture_worker.h"

#include "core/steps/registry.h"
#include "support/windows.h"

#include <QTest>

#include <algorithm>

#include <catch2/catch.hpp>

using namespace noctis;
using test::waitFor;

namespace {

PassSet greyFrame(int width, int height) {
    PassSet set;
    for (const PassKind kind : {PassKind::Beauty, PassKind::Depth}) {
        Pass pass;
        pass.name = passKindInfo(kind).id;
        pass.kind = kind;
        pass.image = Image(width, height, passKindInfo(kind).channels,
                           kind == PassKind::Depth ? 20.0F : 0.5F);
        set.put(std::move(pass));
    }
    return set;
}

/// Fog thick enough that its colour is all there is: red by so much.
PictureRequest redBy(float red, bool moving) {
    Step fog = stepCatalogue().newStep("fog");
    const auto set = [&](const char* id, Value value) { fog.settings.set(id, value); };
    set("density", 10.0F);
    set("colour", LinearRgb{red, 0.0F, 0.0F});
    PictureRequest request;
    request.recipe.steps = {fog};
    request.view = ViewTransform::Plain;
    request.moving = moving;
    return request;
}

}  // namespace

TEST_CASE("the last picture shown is that of the last request, and is full", "[app][worker]") {
    PictureWorker worker;
    worker.setPasses(greyFrame(320, 180));
    std::vector<std::pair<int, int>> shown;  // red, factor
    QObject::connect(&worker, &PictureWorker::pictureReady, &worker,
                     [&](const QImage& picture, int factor) {
                         shown.emplace_back(picture.pixelColor(3, 3).red(), factor);
                     });
    for (int i = 1; i <= 100; ++i) {
        worker.request(redBy(static_cast<float>(i) / 100.0F, true));
        QTest::qWait(3);
    }
    worker.request(redBy(1.0F, false));
    REQUIRE(waitFor([&] { return !shown.empty() && shown.back() == std::pair(255, 1); }));
    QTest::qWait(50);
    CHECK(shown.back() == std::pair(255, 1));
    CHECK(shown.size() > 2);  // a moving hand is followed
    // Never back to an older place of the hand.
    CHECK(std::is_sorted(shown.begin(), shown.end(),
                         [](const auto& a, const auto& b) { return a.first < b.first; }));
}

TEST_CASE("a picture that comes too late is not shown", "[app][worker]") {
    PictureWorker worker;
    worker.setPasses(greyFrame(640, 360));
    std::vector<int> reds;
    QObject::connect(
        &worker, &PictureWorker::pictureReady, &worker,
        [&](const QImage& picture, int) { reds.push_back(picture.pixelColor(3, 3).red()); });
    worker.request(redBy(0.25F, false));
    worker.request(redBy(0.5F, false));
    QTest::qSleep(100);  // the first may be done by now, but nobody has looked
    worker.request(redBy(1.0F, false));
    REQUIRE(waitFor([&] { return !reds.empty() && reds.back() == 255; }));
    CHECK(reds == std::vector<int>{255});
    CHECK(worker.shownLate() == 0);
}

TEST_CASE("a picture that is there already is not made again", "[app][worker]") {
    PictureWorker worker;
    worker.setPasses(greyFrame(320, 180));
    int shown = 0;
    QObject::connect(&worker, &PictureWorker::pictureReady, &worker,
                     [&](const QImage&, int) { ++shown; });
    worker.request(redBy(0.5F, false));
    REQUIRE(waitFor([&] { return worker.idle() && shown > 0; }));
    QTest::qWait(50);
    const int before = shown;
    worker.request(redBy(0.5F, false));
    CHECK(worker.idle());
    worker.request(redBy(0.25F, false));
    CHECK(waitFor([&] { return shown == before + 1; }));
}

TEST_CASE("a recipe that can't run names the step, and there is still a picture", "[app][worker]") {
    PictureWorker worker;
    PassSet noDepth = greyFrame(32, 18);
    noDepth.passes.pop_back();
    worker.setPasses(noDepth);
    QMap<QString, QString> problems;
    QImage shown;
    QObject::connect(&worker, &PictureWorker::stepProblems, &worker,
                     [&](const QMap<QString, QString>& reported) { problems = reported; });
    QObject::connect(&worker, &PictureWorker::pictureReady, &worker,
                     [&](const QImage& picture, int) { shown = picture; });
    worker.request(redBy(1.0F, false));
    REQUIRE(waitFor([&] { return !shown.isNull(); }));
    REQUIRE(problems.size() == 1);
    CHECK(problems.first().contains("distance"));
    CHECK(shown.pixelColor(3, 3).red() == shown.pixelColor(3, 3).green());
}

TEST_CASE("new passes are shown with the recipe that is asked for already", "[app][worker]") {
    PictureWorker worker;
    worker.setPasses(greyFrame(64, 36));
    int red = 0;
    QSize size;
    QObject::connect(&worker, &PictureWorker::pictureReady, &worker,
                     [&](const QImage& picture, int) {
                         red = picture.pixelColor(3, 3).red();
                         size = picture.size();
                     });
    worker.request(redBy(1.0F, false));
    REQUIRE(waitFor([&] { return red == 255; }));
    worker.setPasses(greyFrame(32, 18));
    REQUIRE(waitFor([&] { return size == QSize(32, 18); }));
    CHECK(red == 255);
    worker.request(redBy(1.0F, false));  // the same again
    REQUIRE(waitFor([&] { return worker.idle(); }));
    QTest::qWait(20);
    CHECK(red == 255);
}
