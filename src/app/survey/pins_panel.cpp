#include "app/survey/pins_panel.h"

#include "app/controls/clear_layout.h"
#include "app/look/picture_paint.h"
#include "app/look/theme.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

namespace noctis {

PinsPanel::PinsPanel(Session& session, QWidget* parent) : QWidget(parent), m_session(session) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(12, 4, 8, 4);
    layout->setSpacing(2);
    auto* heading = new QLabel(tr("Pins"));
    heading->setProperty("role", "heading");
    layout->addWidget(heading);
    m_rows = new QVBoxLayout;
    m_rows->setSpacing(0);
    layout->addLayout(m_rows);
    connect(&m_session, &Session::projectChanged, this, &PinsPanel::refresh);
    connect(&m_session, &Session::sceneChanged, this, &PinsPanel::refresh);
    refresh();
}

void PinsPanel::refresh() {
    const std::vector<Pin>& pins = m_session.project().pins;
    const View view = m_session.view();
    setVisible(!pins.empty());
    if (pins == m_shown && view == m_from)
        return;
    m_shown = pins;
    m_from = view;
    clearLayout(*m_rows);
    const M44f toCamera = view.camera.cameraToWorld.inverse();
    for (std::size_t i = 0; i < pins.size(); ++i) {
        auto* row = new QWidget;
        auto* layout = new QHBoxLayout(row);
        layout->setContentsMargins(0, 0, 0, 0);
        auto* name = new QLabel(qstring(pins[i].name));
        name->setFont(theme::font(12));
        const float depth = -(pins[i].position * toCamera).z;
        const float away = (pins[i].position - view.camera.position()).length();
        auto* far = new QLabel(tr("%1 deep, %2 away").arg(metresText(depth), metresText(away)));
        far->setFont(theme::font(12));
        far->setProperty("role", "quiet");
        auto* remove = new QPushButton(theme::icon("x"), {});
        remove->setProperty("role", "icon");
        remove->setAccessibleName(tr("Remove the pin on %1").arg(qstring(pins[i].name)));
        remove->setToolTip(tr("Removes this pin."));
        connect(remove, &QPushButton::clicked, this, [this, i] {
            m_session.change(tr("Remove a pin"), {}, [&](Project& p) {
                p.pins.erase(p.pins.begin() + static_cast<std::ptrdiff_t>(i));
            });
        });
        layout->addWidget(name, 1);
        layout->addWidget(far);
        layout->addWidget(remove);
        m_rows->addWidget(row);
    }
}

}  // namespace noctis
