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

/// The handles on a picture: drawn, found under the pointer, and held while they are dragged.
class HandleMarks {
public:
    /// False where they are these already.
    bool set(std::vector<PictureHandle> handles);
    [[nodiscard]] bool empty() const { return m_handles.empty(); }
    /// What lies under the pointer is lit; whether there is any.
    bool hover(const QPointF& widget, const Viewport& viewport);
    void leave() { m_over = -1; }
    bool grab(const QPointF& widget, const Viewport& viewport);
    /// The one that is held; none: null.
    [[nodiscard]] const PictureHandle* grabbed() const;
    /// Whether there was one.
    bool release();
    void paint(QPainter& painter, const Viewport& viewport) const;

private:
    [[nodiscard]] int at(const QPointF& widget, const Viewport& viewport) const;

    std::vector<PictureHandle> m_handles;
    int m_grabbed = -1;
    int m_over = -1;
};

}  // namespace noctis
