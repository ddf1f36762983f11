#pragma once

#include "app/instruments/measured_frame.h"
#include "core/project/handles.h"

#include <QPointF>
#include <QWidget>

#include <optional>
#include <string>
#include <vector>

class QPushButton;

namespace noctis {

/// What a surface of the picture says where the pointer is.
struct Needle {
    std::optional<float> metres{};  ///< planar, from the camera
    std::optional<V3f> facing{};    ///< in the world
};

struct HandleRef {
    std::string owner{};
    std::string handle{};
    bool operator==(const HandleRef&) const = default;
};

/// A handle by its owner, and where it is moved to.
struct HandleMove {
    std::string owner;
    std::string handle;
    HandleValue to;
};

/// px that a hand strays while it drags something sideways.
inline constexpr qreal kStrays = 12.0;

/// A direction turned to another's azimuth, at its own elevation; the other where that has no azimuth.
V3f turnedLevel(const V3f& direction, const V3f& towards);

/// A view of things that have handles. It shows the handles of its kinds by their owners' ids, on a frame, and knows
/// nothing else of what they belong to. A new one is added in instruments/registry.cpp.
class Instrument : public QWidget {
    Q_OBJECT
public:
    explicit Instrument(QWidget* parent = nullptr);

    /// Whether it stands in the picture's place for a while.
    void setLarge(bool large);
    /// px at the top right that its button leaves to something else.
    void setHeadRoom(int room);
    virtual void setFrame(const MeasuredFrame& /*frame*/) {}
    /// chosen: a step, or the owner of a group.
    virtual void setGroups(const std::vector<HandleGroup>& groups, const std::string& chosen) = 0;
    virtual void setNeedle(const Needle& /*needle*/) {}
    /// Whether there is something to be done with it; otherwise it makes room for others.
    [[nodiscard]] virtual bool isOfUse() const { return true; }
    /// Whether it takes the width that others leave.
    [[nodiscard]] virtual bool isWide() const { return false; }
    /// Where a handle is, in its own pixels, for tests that drag it; none: it isn't shown.
    [[nodiscard]] virtual std::optional<QPointF> handlePlace(const std::string& owner,
                                                             const std::string& handle) const = 0;

Q_SIGNALS:
    /// A hand moves these together.
    void handlesMoved(const std::vector<noctis::HandleMove>& moves);
    void handlesRested();
    void ownerChosen(const std::string& owner);
    /// The pointer is at a distance, m; 0 when it leaves.
    void distancePointed(float metres);
    /// To stand in the picture's place, or no longer.
    void enlargeAsked();

protected:
    bool event(QEvent* event) override;

private:
    void placeButton();

    QPushButton* m_enlarge;
    int m_headRoom = 0;
};

}  // namespace noctis
