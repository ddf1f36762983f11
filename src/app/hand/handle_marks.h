#pragma once

#include "app/look/viewport.h"

#include <QPainter>
#include <QString>

#include <string>
#include <vector>

namespace noctis {

/// Something on a picture that can be dragged; see core/settings/handle.h.
struct PictureHandle {
    std::string owner;
    std::string id;
    QString label;
    QPointF at;  ///< px of the full picture
    bool operator==(const PictureHandle&) const = default;
};

/// The handles on a picture: paints them, finds the one under the pointer, and holds it during a drag.
class HandleMarks {
public:
    /// False if nothing changed.
    bool set(std::vector<PictureHandle> handles);
    [[nodiscard]] bool empty() const { return m_handles.empty(); }
    /// Highlights the handle under the pointer; returns whether there is one.
    bool hover(const QPointF& widget, const Viewport& viewport);
    void leave() { m_over = -1; }
    bool grab(const QPointF& widget, const Viewport& viewport);
    /// The handle being dragged; null if none.
    [[nodiscard]] const PictureHandle* grabbed() const;
    /// Whether one was held.
    bool release();
    void paint(QPainter& painter, const Viewport& viewport) const;

private:
    [[nodiscard]] int at(const QPointF& widget, const Viewport& viewport) const;

    std::vector<PictureHandle> m_handles;
    int m_grabbed = -1;
    int m_over = -1;
};

}  // namespace noctis
