#pragma once

#include <QKeySequence>
#include <QString>
#include <QWidget>

#include <functional>
#include <vector>

namespace noctis {

/// Something a room can do, found in the menu of commands and run by its keys from anywhere.
struct RoomCommand {
    QString text;
    QKeySequence keys{};
    std::function<void()> run;
    bool inMenu = false;
};

/// A room of the window. The window knows a list of them and nothing else of what they show.
class Room : public QWidget {
    Q_OBJECT
public:
    using QWidget::QWidget;

    [[nodiscard]] virtual QString title() const = 0;
    /// What is done in it, in one line.
    [[nodiscard]] virtual QString purpose() const = 0;
    /// Its own commands; the room is shown before one runs.
    [[nodiscard]] virtual std::vector<RoomCommand> commands() { return {}; }
    /// It is shown, or another takes its place.
    virtual void enter() {}
    virtual void leave() {}

    /// The picture in its middle: fitted, at 100 %, and as it was before while a key is held.
    virtual void fitPicture() {}
    virtual void showWholePixels() {}
    virtual void holdBefore(bool /*hold*/) {}
    /// What stands at its foot and makes room for notes there; none: they lie over it.
    [[nodiscard]] virtual QWidget* foot() const { return nullptr; }
    /// What the head shows in the place of the frame's view and size; empty: just those.
    [[nodiscard]] virtual QString headDetail() const { return {}; }
    [[nodiscard]] virtual QString headSize() const { return {}; }
    /// What its tab says besides the title: how far work is that goes on in it.
    [[nodiscard]] virtual QString tabDetail() const { return {}; }
    /// Whether view transform and exposure change what it shows.
    [[nodiscard]] virtual bool showsLight() const { return true; }
    /// Whether the head shows the view that is looked through, not that of the current frame.
    [[nodiscard]] virtual bool looksThroughView() const { return false; }

Q_SIGNALS:
    void headChanged();
};

}  // namespace noctis
