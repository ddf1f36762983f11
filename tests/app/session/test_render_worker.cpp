#include "app/session/render_worker.h"

#include "support/scenes.h"
#include "support/windows.h"

#include <catch2/catch.hpp>

using namespace noctis;
using test::waitFor;

namespace {

std::shared_ptr<const LoadedScene> groundScene() {
    auto loaded = std::make_shared<LoadedScene>();
    test::addGround(loaded->scene, 20.0F);
    loaded->accelerator = std::make_unique<Accelerator>(loaded->scene);
    return loaded;
}

RenderRequest groundSeen(PassKind pass, int side) {
    RenderRequest request;
    request.view = {"test", lookingAt(V3f(0, 2, 5), V3f(0, 0, 0), 0.7F)};
    request.width = request.height = side;
    request.passes = {passRequest(pass)};
    return request;
}

}  // namespace

// Its tiles once went before its thread, which then wrote where they had been; sanitizers see that.
TEST_CASE("a render that nobody waits for any more ends before its worker", "[app][worker]") {
    const auto scene = groundScene();
    for (int i = 0; i < 300; ++i) {
        auto worker = std::make_unique<RenderWorker>();
        worker->render(scene, groundSeen(PassKind::Depth, 256));
        REQUIRE(waitFor([&] { return !worker->tiles().empty() || !worker->running(); }));
        worker.reset();
        CHECK(scene.use_count() == 1);  // its thread has ended, and holds nothing
    }
}

TEST_CASE("a render reports how far it is, its tiles, and what it made", "[app][worker]") {
    RenderWorker worker;
    std::shared_ptr<const PassSet> made;
    float before = 0.0F;
    bool falls = false;
    bool hadTiles = false;
    QObject::connect(&worker, &RenderWorker::progressed, &worker, [&] {
        falls = falls || worker.done() < before;
        before = worker.done();
        for (const QRectF& tile : worker.tiles())
            hadTiles = hadTiles || QRectF(0, 0, 1, 1).contains(tile);
    });
    QObject::connect(&worker, &RenderWorker::finished, &worker,
                     [&](const std::shared_ptr<const PassSet>& set) { made = set; });
    worker.render(groundScene(), groundSeen(PassKind::Occlusion, 96));
    CHECK(worker.running());
    REQUIRE(waitFor([&] { return made != nullptr; }));
    CHECK_FALSE(worker.running());
    CHECK_FALSE(falls);
    CHECK(hadTiles);
    CHECK(worker.tiles().empty());
    CHECK(worker.taken().count() > 0.0);
    REQUIRE(made->find(PassKind::Occlusion) != nullptr);
    // The open ground has nothing above it.
    CHECK(made->find(PassKind::Occlusion)->image(48, 90, 0) == Approx(1.0F).margin(0.01));
}
