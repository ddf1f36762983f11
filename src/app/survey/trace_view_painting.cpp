// How the scene's view is drawn, with what lies on it.
#include "app/look/picture_paint.h"
#include "app/look/theme.h"
#include "app/survey/survey_lanes.h"
#include "app/survey/trace_view.h"
#include "core/passes/appearance.h"

#include <QPainter>

#include <algorithm>
#include <cmath>

namespace noctis {

void TraceView::paintTints(QPainter& painter) const {
    const Project& project = m_session.project();
    if (m_cutShown)
        painter.drawImage(frame(), cutOverlay(m_depth, rampOf(project, m_automatic)));
    if (m_blurShown || m_focusDragged)
        for (const HandleGroup& lane : surveyLanes(
                 project, m_automatic, shownFrame(project, m_session.view().camera, m_automatic)))
            if (lane.isFocus() && lane.on)
                painter.drawImage(frame(), blurOverlay(m_depth, lane));
}

void TraceView::paintPass() {
    update();
    if (!m_pass)
        return;
    const Project& project = m_session.project();
    const PassLook look = passKindInfo(m_pass->kind).look;
    if (look == PassLook::Light)
        m_image = toQImage(viewed(m_pass->image, project.viewTransform, project.exposure));
    else if (look == PassLook::Distance)
        m_image = toQImage(rampPicture(m_pass->image, rampOf(project, m_automatic)));
    else
        m_image = toQImage(appearanceOf(*m_pass));
}

void TraceView::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.fillRect(rect(), theme::kSurround);
    const QRectF place = frame();
    if (!m_session.scene()) {
        painter.setPen(theme::kQuiet);
        painter.drawText(rect().adjusted(40, 40, -40, -40), Qt::AlignCenter | Qt::TextWordWrap,
                         m_session.loadingScene()
                             ? tr("Reading the scene…")
                             : tr("No scene yet. Drop one here, or open one: glTF, OBJ, PLY, STL, "
                                  "OFF, FBX or Collada."));
        return;
    }
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    if (!m_image.isNull())
        painter.drawImage(place, m_image);
    const bool rendering = m_render != nullptr && m_render->running();
    Tags tags(place);
    if (!rendering) {
        if (!m_depth.empty())
            paintTints(painter);
        if (shown().kind == PassKind::Occlusion || shown().kind == PassKind::Bent)
            if (const PassRequest* asked = passAsked(m_session.project(), nameOf(shown())))
                paintReach(painter, this->place(), occlusionSettings(asked->settings).reach,
                           m_ahead, tags);
    }
    const Project& project = m_session.project();
    if (cropOf(project))
        paintCrop(painter, place, project.crop);
    if (!rendering)
        paintPins(painter, this->place(), project.pins, tags);
    paintFrame(painter, place,
               rendering && showsOther() ? tr("%1 is rendered").arg(qstring(m_renderedView))
                                         : frameText());
    if (rendering)
        paintTilesBeingRendered(painter, place, m_render->tiles());
}

QString TraceView::frameText() const {
    const Project& project = m_session.project();
    const Camera camera = m_session.view().camera;
    QString text = camera.orthographic()
                       ? tr("%1 × %2, parallel").arg(project.width).arg(project.height)
                       : tr("%1 × %2, %3 mm")
                             .arg(project.width)
                             .arg(project.height)
                             .arg(static_cast<double>(focalLengthOf(
                                      camera, project.lens.sensorMillimetres, project.aspect())),
                                  0, 'f', 0);
    if (!m_viewport.fitted())
        text += tr(", at %1 %").arg(zoom() * 100.0, 0, 'f', 0);
    return text;
}

}  // namespace noctis
