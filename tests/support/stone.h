#pragma once

#include "app/controls/switch_box.h"
#include "app/dispatch/dispatch_queue.h"
#include "app/instruments/height_axis.h"
#include "app/relief/relief_room.h"
#include "app/window/main_window.h"
#include "core/passes/pass_file.h"
#include "support/fields.h"
#include "support/files.h"
#include "support/windows.h"

#include <QPushButton>
#include <QTest>

#include <catch2/catch.hpp>

namespace noctis::test {

/// Normals and a parallel depth of waves, as a view from above writes them.
inline std::filesystem::path stoneFile(const Folder& folder) {
    constexpr int kSide = 96;
    PassSet set;
    set.camera = Camera{};
    set.camera->orthographicHeight = kSide * Waves::kCell;
    set.camera->cameraToWorld = M44f(1, 0, 0, 0, 0, 0, -1, 0, 0, 1, 0, 0, 0, 1, 0, 1);
    const Waves waves;
    Pass depth;
    depth.name = "depth";
    depth.kind = PassKind::Depth;
    depth.image = filledBy(kSide, kSide, [&](int x, int y) {
                      return 1.0F - waves.at(static_cast<float>(x), static_cast<float>(y));
                  }).select({0}, {"Z"});
    set.put(std::move(depth));
    Pass normal;
    normal.name = "normal";
    normal.kind = PassKind::Normal;
    normal.space = "camera";
    normal.image = normalsBy(slopesBy(waves, kSide, kSide));
    set.put(std::move(normal));
    writePasses(folder / "stone.exr", set);
    return folder / "stone.exr";
}

/// The room of height maps in a real window, with a stone in it.
struct OpenedRelief {
    Folder folder;
    Folder data;
    MainWindow window{data.path()};
    OpenedRelief() {
        REQUIRE(openAndRead(window, {stoneFile(folder)}));
        window.show();
        REQUIRE(waitFor([&] { return !window.session().passes().empty(); }));
        window.showRoom(room());
        room().addFromFile(folder / "stone.exr");
        settle();
    }
    ReliefRoom& room() { return window.relief(); }
    void settle() {
        QApplication::processEvents();
        REQUIRE(waitFor([&] { return room().settled(); }));
    }
    /// The job that was asked for last is done.
    bool written() {
        return waitFor([&] {
            const auto jobs = window.queue().jobs().jobs();
            return !jobs.empty() && jobs.front().stage == JobStage::Done;
        });
    }
    template <typename T> T* child(const char* name) {
        T* found = room().findChild<T*>(QLatin1String(name));
        REQUIRE(found != nullptr);
        return found;
    }
    void click(const char* name) { QTest::mouseClick(child<QPushButton>(name), Qt::LeftButton); }
};

inline void dragOver(QWidget& widget, const QPoint& from, const QPoint& to) {
    QTest::mousePress(&widget, Qt::LeftButton, {}, from);
    for (int i = 1; i <= 8; ++i)
        QTest::mouseMove(&widget, from + (to - from) * i / 8);
    QTest::mouseRelease(&widget, Qt::LeftButton, {}, to);
}

}  // namespace noctis::test
