#pragma once

#include "core/relief/map_picture.h"

#include <QWidget>

#include <utility>
#include <vector>

class QPushButton;

namespace noctis {

class MapView;

/// The line over the map: how it is shown, and what it is compared with.
class ReliefTools : public QWidget {
    Q_OBJECT
public:
    /// What it says of the map's look goes to the map itself.
    explicit ReliefTools(MapView& map, QWidget* parent = nullptr);

    /// Between contour lines, with its unit.
    void setSpacing(const QString& length);

Q_SIGNALS:
    /// For a menu below that place of the screen.
    void compareAsked(const QPoint& global);
    void pictureLaid(bool on);

private:
    std::vector<std::pair<MapLook, QPushButton*>> m_looks;
    QPushButton* m_contours;
};

}  // namespace noctis
