#include "app/picture/stale_passes.h"

#include "app/controls/hairline.h"
#include "app/look/picture_paint.h"
#include "app/look/theme.h"

#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

namespace noctis {

namespace {

constexpr int kWidth = 150;  ///< px, of the prints' column

}  // namespace

StalePasses::StalePasses(QWidget* parent) : QWidget(parent) {
    setFixedWidth(kWidth);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 8);
    layout->setSpacing(6);
    layout->addWidget(hairline(false));
    auto* inside = new QVBoxLayout;
    inside->setContentsMargins(12, 0, 10, 0);
    m_text = new QLabel;
    m_text->setWordWrap(true);
    m_text->setFont(theme::font(12));
    m_button = new QPushButton;
    m_button->setObjectName("render-stale");
    inside->addWidget(m_text);
    inside->addWidget(m_button);
    layout->addLayout(inside);
    connect(m_button, &QPushButton::clicked, this, [this] {
        if (m_rendering.isEmpty())
            Q_EMIT renderAsked(m_passes);
        else
            Q_EMIT stopAsked();
    });
    refresh();
}

void StalePasses::setStates(const std::map<std::string, PassState>& states) {
    int stale = 0;
    QString why;
    bool same = true;
    m_passes.clear();
    for (const auto& [name, state] : states) {
        if (state.kind != PassState::Kind::Stale)
            continue;
        same = stale == 0 || why == qstring(state.why);
        why = qstring(state.why);
        if (const auto pass = passNamed(name))
            m_passes.push_back(*pass);
        ++stale;
    }
    m_stale.clear();
    if (stale > 0)
        m_stale = stale == 1 ? tr("1 pass is stale") : tr("%1 passes are stale").arg(stale);
    if (stale > 0 && same)
        m_stale += QStringLiteral(": ") + why;
    refresh();
}

void StalePasses::setRendering(const QString& progress) {
    m_rendering = progress;
    refresh();
}

void StalePasses::refresh() {
    const bool rendering = !m_rendering.isEmpty();
    setVisible(rendering || !m_stale.isEmpty());
    m_text->setText(rendering ? m_rendering : m_stale);
    m_text->setStyleSheet(
        QStringLiteral("color: %1").arg((rendering ? theme::kQuiet : theme::kWarning).name()));
    m_button->setText(rendering ? tr("Stop") : tr("Render"));
    m_button->setToolTip(rendering ? tr("Stops the render; the passes stay as they are.")
                                   : tr("Renders the stale passes of this view anew."));
}

}  // namespace noctis
