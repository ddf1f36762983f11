#pragma once

#include "app/dispatch/dispatch_queue.h"
#include "app/survey/survey_room.h"
#include "app/survey/trace_view.h"
#include "app/window/main_window.h"
#include "support/files.h"
#include "support/windows.h"
#include "support/yard.h"

#include <QPushButton>
#include <QTest>

#include <catch2/catch.hpp>

namespace noctis::test {

/// Survey in a real window with the yard, to be driven as a hand does.
struct Surveyed {
    Folder folder;
    MainWindow window{folder / "data"};
    Session& session = window.session();
    SurveyRoom& room = window.survey();
    /// Waits until the queue's jobs are done.
    bool waitForQueue() {
        return waitFor([&] {
            const auto jobs = window.queue().jobs().jobs();
            return !jobs.empty() && std::ranges::all_of(jobs, [](const QueuedJob& queued) {
                return queued.stage == JobStage::Done;
            });
        });
    }

    Surveyed() {
        window.resize(1280, 800);
        window.show();
        REQUIRE(openAndRead(session, {yardFile(folder)}));
        window.showRoom(window.survey());
        room.show({PassKind::Depth, {}});  // quick to settle
        REQUIRE(waitFor([&] { return session.scene() != nullptr; }));
        session.change({}, {}, [](Project& p) {
            p.width = 160;
            p.height = 90;
            p.view = View{"test", lookingAt(V3f(0, 1.5F, 4), V3f(0, 1.5F, -5), 0.7F)};
            p.passes = {passRequest(PassKind::Depth), passRequest(PassKind::Occlusion)};
            applyPassSetting(p.passes, "occlusion.samples=2");
        });
        session.endGesture();
        settle();
    }
    void settle() {
        QApplication::processEvents();
        REQUIRE(waitFor([&] { return room.view().settled(); }));
        QApplication::processEvents();
    }
    [[nodiscard]] QPoint in(double x, double y) {
        const QRectF f = room.view().frame();
        return QPointF(f.left() + f.width() * x, f.top() + f.height() * y).toPoint();
    }
    void clickAt(double x, double y) {
        QTest::mouseClick(&room.view(), Qt::LeftButton, {}, in(x, y));
    }
    void press(const char* name) {
        auto* button = room.findChild<QPushButton*>(QLatin1String(name));
        REQUIRE(button != nullptr);
        QTest::mouseClick(button, Qt::LeftButton);
    }
    const Project& project() { return session.project(); }
    float passSetting(PassKind kind, const char* id) {
        for (const PassRequest& pass : project().passes)
            if (pass.kind == kind)
                return pass.settings.number(id);
        FAIL("no such pass");
        return 0.0F;
    }
};

/// Where the test camera sees a place: the wall stands 9 m, the post 5 m ahead.
inline constexpr double kPostX = 0.5;
inline constexpr double kMiddleY = 0.5;

}  // namespace noctis::test
