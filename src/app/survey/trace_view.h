#pragma once

#include "app/look/viewport.h"
#include "app/session/render_worker.h"
#include "app/session/session.h"
#include "app/survey/live_trace.h"
#include "app/survey/measure_bar.h"
#include "app/survey/view_overlay.h"

#include <QImage>
#include <QWidget>

namespace noctis {

/// The scene ray traced, coarse while it moves and clean when still, shown as light or as any pass.
/// Drag to orbit, with Shift or the middle button to pan, wheel or right button to dolly; with Ctrl the
/// frame is zoomed and moved while the camera stays.
class TraceView : public QWidget {
    Q_OBJECT
public:
    explicit TraceView(Session& session, QWidget* parent = nullptr);

    void setShown(const PassName& pass);
    [[nodiscard]] const PassName& shown() const { return m_live.shown(); }
    /// The running render, drawn over the view with its tiles.
    void setRender(RenderWorker* worker);
    void setRendered(const QImage& image, const std::string& view);
    [[nodiscard]] const QImage& image() const { return m_image; }
    /// The camera of the picture that was traced last; none before the first.
    [[nodiscard]] const std::optional<Camera>& seenFrom() const { return m_seenFrom; }
    /// Whether the view has come to rest at its full quality.
    [[nodiscard]] bool settled() const { return m_live.settled(); }
    /// Where the frame lies in the view; beyond it when zoomed in.
    [[nodiscard]] QRectF frame() const { return m_viewport.frame(); }
    /// Pixels of the screen to one of the frame; 1 is 100 %.
    [[nodiscard]] qreal zoom() const;
    void setZoom(qreal zoom, const QPointF& about);
    void fit();
    /// Moves the view's camera; it is shown coarsely until it rests.
    void changeCamera(const QString& what, const std::function<void(Camera&)>& edit);
    /// Makes a change during a drag, as Session::change does; it is shown coarsely until it rests.
    void changeMoving(const QString& what, const QString& gesture,
                      const std::function<void(Project&)>& edit);
    /// Tints what lies before near and beyond far of the depth ramp.
    void setCutShown(bool shown);
    /// Tints what the recipe's focus leaves unsharp.
    void setBlurShown(bool shown);
    /// As setBlurShown, for as long as the focus is dragged.
    void setFocusDragged(bool dragged);
    /// The next drag draws the part of the frame that is rendered; a click takes it away.
    void setCropping(bool on);
    /// The object in the frame's middle; empty if there is none.
    [[nodiscard]] std::string objectAhead() const;
    [[nodiscard]] const DepthRange& automaticRange() const { return m_automatic; }

Q_SIGNALS:
    void depthSeen(const std::optional<noctis::Pass>& depth);
    void cropDrawn();
    void placeClicked(const noctis::SeenPlace& place);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void resizeEvent(QResizeEvent*) override;
    void showEvent(QShowEvent*) override;

private:
    /// Whether the running render is of another view, and shown.
    [[nodiscard]] bool showsOther() const;
    void restart(bool moving);
    void take(const PassSet& set, bool moving, bool inPart);
    void takeFrameSize();
    [[nodiscard]] LiveTrace::Size tracedSize() const;
    void orbit(const QPointF& way);
    void pan(const QPointF& way);
    void dolly(qreal turns);
    [[nodiscard]] std::optional<SeenPlace> placeUnder(const QPointF& at) const;
    void dragCrop(const QPointF& to);
    void paintPass();
    void paintTints(QPainter& painter) const;
    [[nodiscard]] QString frameText() const;
    [[nodiscard]] ViewPlace place() const { return {frame(), m_session.view().camera}; }

    Session& m_session;
    LiveTrace m_live;
    RenderWorker* m_render = nullptr;
    QImage m_image;
    std::string m_renderedView;  ///< that a running render shows
    Viewport m_viewport;
    QPointF m_last;
    QPointF m_pressed;
    bool m_dragged = false;
    std::optional<Pass> m_pass;  ///< as shown, but for the view's own settings
    std::optional<Camera> m_seenFrom;
    Image m_depth;
    DepthRange m_automatic;
    bool m_cutShown = false;
    bool m_blurShown = false;
    bool m_focusDragged = false;
    bool m_cropping = false;
    V3f m_pivot{0.0F};
    float m_ahead = 5.0F;
};

}  // namespace noctis
