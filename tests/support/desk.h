#pragma once

#include "app/cards/step_card.h"
#include "app/controls/value_bar.h"
#include "app/picture/picture_room.h"
#include "app/picture/picture_view.h"
#include "app/picture/recipe_panel.h"
#include "app/window/main_window.h"
#include "core/passes/matte.h"
#include "core/passes/pass_file.h"
#include "support/files.h"
#include "support/frames.h"
#include "support/windows.h"

#include <QApplication>
#include <QLineEdit>
#include <QMenu>
#include <QPushButton>
#include <QTest>
#include <QTimer>

#include <bit>

#include <catch2/catch.hpp>

namespace noctis::test {

inline constexpr int kWidth = 192;
inline constexpr int kHeight = 108;
inline constexpr int kBoatX = 40;
inline constexpr int kCrateX = 150;

/// Left a boat, near, that faces left; right a crate, far, that faces right; lit by a moon and a lantern.
inline PassSet boatAndCrate() {
    const auto isBoat = [](int x) { return x < kWidth / 2; };
    PassSet set = greyFrame(kWidth, kHeight, 0.2F);
    set.put(passOf({PassKind::Depth, {}}, kWidth, kHeight,
                   [&](int x, int, int) { return isBoat(x) ? 5.0F : 40.0F; }));
    set.put(passOf({PassKind::Normal, {}}, kWidth, kHeight, [&](int x, int, int c) {
        return c != 0 ? 0.0F : isBoat(x) ? -1.0F : 1.0F;
    }));
    set.put(
        passOf({PassKind::Light, "moon"}, kWidth, kHeight, [](int, int, int) { return 0.05F; }));
    set.put(passOf({PassKind::Light, "lantern"}, kWidth, kHeight,
                   [](int, int, int c) { return c == 0 ? 0.1F : 0.04F; }));
    Pass objects;
    objects.kind = PassKind::Objects;
    objects.name = nameOf({PassKind::Objects, {}});
    objects.manifest = matteManifest({"boat", "crate"});
    objects.image = Image(kWidth, kHeight, matteChannels("objects", 2));
    for (int y = 0; y < kHeight; ++y)
        for (int x = 0; x < kWidth; ++x) {
            const std::ptrdiff_t at = objects.image.rowStride() * y + x;
            objects.image.editPlane(0)[at] =
                std::bit_cast<float>(matteId(isBoat(x) ? "boat" : "crate"));
            objects.image.editPlane(1)[at] = 1.0F;
        }
    set.put(std::move(objects));
    return set;
}

/// A window with that frame open in Picture, worked by mouse and keys.
class Desk {
public:
    explicit Desk(const PassSet& set = boatAndCrate()) {
        writePasses(m_folder / "frame.exr", set);
        window.resize(1280, 800);
        window.show();
        REQUIRE(openAndRead(window, {m_folder / "frame.exr"}));
        settle();
    }
    void settle() {
        REQUIRE(waitFor([&] { return window.picture().settled(); }));
        QApplication::processEvents();
    }
    /// Clicks a button that opens a menu, and takes an entry of it, or of the menu that another of its entries opens.
    void choose(QPushButton* button, const QString& entry, const QString& inMenu = {}) {
        REQUIRE(button != nullptr);
        bool taken = false;
        QTimer::singleShot(50, [&] {
            auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
            if (menu == nullptr)
                return;
            const QMenu* from = menu;
            for (const QAction* action : menu->actions())
                if (!inMenu.isEmpty() && action->text() == inMenu)
                    from = action->menu();
            for (QAction* action : from->actions())
                if (action->text() == entry) {
                    action->trigger();
                    taken = true;
                }
            menu->close();
        });
        QTest::mouseClick(button, Qt::LeftButton);
        settle();
        REQUIRE(taken);
    }
    /// Adds a step from the menu; its card is open then.
    void add(const QString& label) {
        choose(panel().findChild<QPushButton*>("add step"), label);
        REQUIRE_FALSE(recipe().steps.empty());
        m_card = panel().findChild<StepCard*>(QString::fromStdString(recipe().steps.back().id));
        REQUIRE(m_card != nullptr);
    }
    /// Opens a step's card by a click on its title.
    void open(std::size_t step) {
        m_card = panel().findChild<StepCard*>(QString::fromStdString(recipe().steps[step].id));
        REQUIRE(m_card != nullptr);
        if (button("More") == nullptr)
            QTest::mouseClick(m_card, Qt::LeftButton, {}, QPoint(30, 14));
    }
    [[nodiscard]] StepCard& card() { return *m_card; }
    /// A button of the card by its text.
    QPushButton* button(const QString& text) {
        for (auto* each : m_card->findChildren<QPushButton*>())
            if (each->text() == text && each->isVisible())
                return each;
        return nullptr;
    }
    template <typename Widget> Widget* inCard(const char* name) {
        return in<Widget>(*m_card, name);
    }
    template <typename Widget> Widget* inCard(const char* step, const char* name) {
        auto* card = panel().findChild<StepCard*>(QLatin1String(step));
        REQUIRE(card != nullptr);
        return in<Widget>(*card, name);
    }
    void limitToObjects(const QString& names) {
        choose(inCard<QPushButton>("add-criterion"), "Objects");
        auto* line = inCard<QWidget>("names")->findChild<QLineEdit*>();
        REQUIRE(line != nullptr);
        QTest::mouseClick(line, Qt::LeftButton);
        QTest::keyClicks(line, names);
        QTest::keyClick(line, Qt::Key_Return);
        settle();
    }
    void turnRound() {
        for (auto* button : m_card->findChildren<QPushButton*>())
            if (button->text() == "Not" && button->isVisible())
                QTest::mouseClick(button, Qt::LeftButton);
        settle();
    }
    void type(ValueBar* bar, const QString& number) {
        QTest::keyClick(bar, Qt::Key_Return);
        auto* line = bar->findChild<QLineEdit*>();
        REQUIRE(line != nullptr);
        QTest::keyClicks(line, number);
        QTest::keyClick(line, Qt::Key_Return);
        settle();
    }
    [[nodiscard]] const Recipe& recipe() { return window.session().project().recipe; }
    [[nodiscard]] PictureView& view() { return window.picture().view(); }
    [[nodiscard]] RecipePanel& panel() { return window.picture().recipe(); }
    /// The picture's colour at a place halfway down, as the recipe makes it.
    [[nodiscard]] LinearRgb at(int x) {
        const Image out = finished(window.session().passes(), recipe());
        return {out(x, kHeight / 2, 0), out(x, kHeight / 2, 1), out(x, kHeight / 2, 2)};
    }
    [[nodiscard]] QColor shownAt(int x) {
        return view().grab().toImage().pixelColor(
            view().fromPicture(QPointF(x, kHeight / 2)).toPoint());
    }

private:
    template <typename Widget> static Widget* in(const StepCard& card, const char* name) {
        auto* widget = card.findChild<Widget*>(QLatin1String(name));
        INFO(name);
        REQUIRE(widget != nullptr);
        return widget;
    }

    Folder m_folder;

public:
    MainWindow window{m_folder / "data"};

private:
    StepCard* m_card = nullptr;
};

}  // namespace noctis::test
