#include "app/picture/picture_bar.h"

#include "app/controls/elided_label.h"
#include "app/controls/file_dialog.h"
#include "app/controls/tab_button.h"
#include "app/look/picture_paint.h"
#include "app/look/theme.h"

#include <QHBoxLayout>
#include <QMenu>
#include <QPushButton>

#include <tuple>

namespace noctis {

namespace {

QPushButton* smallTab(const QString& text, const QString& help, const QString& name = {}) {
    QPushButton* button = tabButton(text, help, name);
    button->setFont(theme::font(12));
    return button;
}

}  // namespace

PictureBar::PictureBar(PictureView& view, QWidget* parent) : QWidget(parent), m_view(view) {
    setFixedHeight(30);
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(14, 0, 10, 0);
    layout->setSpacing(4);
    m_reading = new ElidedLabel;
    m_reading->setProperty("role", "quiet");
    m_reading->setFont(theme::font(12));
    m_reading->setObjectName("probe");
    layout->addWidget(m_reading, 1);
    m_channels = new QWidget;
    auto* channels = new QHBoxLayout(m_channels);
    channels->setContentsMargins(0, 0, 8, 0);
    channels->setSpacing(0);
    layout->addWidget(m_channels);
    m_groundButton = smallTab(tr("Ground"),
                              tr("What is seen through the picture's alpha here; it is "
                                 "never written."),
                              QStringLiteral("ground"));
    m_groundButton->setCheckable(false);
    m_groundButton->hide();
    connect(m_groundButton, &QPushButton::clicked, this, &PictureBar::offerGrounds);
    layout->addWidget(m_groundButton);
    layout->addSpacing(6);
    buildCompare(*layout);
    connect(&m_view, &PictureView::beforeHeld, this, [this](bool hold) {
        lightCompare(hold ? PictureView::Compare::Before : m_view.compare());
    });
    layout->addSpacing(10);
    QPushButton* fit = smallTab(tr("Fit"), tr("Shows the whole picture."));
    fit->setCheckable(false);
    connect(fit, &QPushButton::clicked, &m_view, &PictureView::fit);
    QPushButton* full = smallTab(tr("100 %"), tr("Shows one picture pixel per screen pixel."));
    full->setCheckable(false);
    connect(full, &QPushButton::clicked, &m_view, &PictureView::showWholePixels);
    layout->addWidget(fit);
    layout->addWidget(full);
    auto* zoom = new QLabel;
    zoom->setProperty("role", "quiet");
    zoom->setFont(theme::font(12));
    zoom->setFixedWidth(46);
    zoom->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
    layout->addWidget(zoom);
    connect(&m_view, &PictureView::zoomChanged, zoom,
            [this, zoom] { zoom->setText(tr("%1 %").arg(m_view.zoom() * 100.0, 0, 'f', 0)); });
}

void PictureBar::buildCompare(QHBoxLayout& row) {
    using Compare = PictureView::Compare;
    m_former = smallTab({},
                        tr("Compares with the finished picture of the previous render, or of the "
                           "frame that was kept, instead of the picture without the recipe."),
                        QStringLiteral("former"));
    m_former->hide();
    connect(m_former, &QPushButton::toggled, this, &PictureBar::formerToggled);
    row.addWidget(m_former);
    const std::tuple<Compare, QString, QString> ways[] = {
        {Compare::None, tr("Now"), tr("The picture as it is.")},
        {Compare::Wipe, tr("Wipe"), tr("Before and now, with a line to drag.")},
        {Compare::SideBySide, tr("Side by side"), tr("Before and now, side by side.")},
        {Compare::Before, tr("Before"),
         tr("The picture without the recipe. Hold B for a quick look.")}};
    for (const auto& [compare, text, help] : ways) {
        QPushButton* button = smallTab(text, help);
        button->setChecked(compare == Compare::None);
        connect(button, &QPushButton::clicked, this, [this, way = compare] { setCompare(way); });
        row.addWidget(button);
        m_compare.emplace_back(compare, button);
    }
}

void PictureBar::setSeenThrough(bool seen) { m_groundButton->setVisible(seen); }

void PictureBar::offerGrounds() {
    QMenu menu;
    using Kind = LookGround::Kind;
    const std::pair<Kind, QString> plain[] = {
        {Kind::Black, tr("Black")}, {Kind::Light, tr("Light")}, {Kind::Checks, tr("Checks")}};
    const auto add = [&](const QString& text, bool chosen, const std::function<void()>& take) {
        QAction* action = menu.addAction(text, this, take);
        action->setCheckable(true);
        action->setChecked(chosen);
    };
    for (const auto& [kind, text] : plain)
        add(text, m_ground.kind == kind, [this, kind = kind] { choose({kind}); });
    add(tr("A picture…"), m_ground.kind == Kind::Picture, [this] {
        const QString file =
            askFileToRead(this, tr("Ground to look at"), qstring(m_ground.picture.string()));
        if (!file.isEmpty())
            choose({.kind = Kind::Picture, .picture = file.toStdString()});
    });
    if (m_ground.kind == Kind::Picture) {
        menu.addSeparator();
        for (const int percent : {50, 100, 200, 400})
            add(tr("At %1 %").arg(percent), m_ground.scale == static_cast<float>(percent) / 100.0F,
                [this, percent] {
                    LookGround ground = m_ground;
                    ground.scale = static_cast<float>(percent) / 100.0F;
                    choose(ground);
                });
        menu.addSeparator();
        add(tr("Move it"), m_movesGround, [this] {
            m_movesGround = !m_movesGround;
            choose(m_ground);
        });
    }
    menu.exec(m_groundButton->mapToGlobal(QPoint(0, -menu.sizeHint().height())));
}

void PictureBar::choose(const LookGround& ground) {
    m_ground = ground;
    Q_EMIT groundChosen(ground);
}

void PictureBar::moveGround(const V2f& by) {
    m_ground.moved = by;
    choose(m_ground);
}

bool PictureBar::movesGround() const {
    return m_movesGround && m_ground.kind == LookGround::Kind::Picture &&
           !m_groundButton->isHidden();
}

void PictureBar::lightCompare(PictureView::Compare compare) {
    for (const auto& [way, button] : m_compare)
        button->setChecked(way == compare);
}

void PictureBar::setReading(const QString& text, const QString& help) {
    m_reading->setText(text);
    m_reading->setToolTip(help);
}

void PictureBar::setChannels(const QStringList& names, int chosen) {
    for (auto* old : m_channels->findChildren<QPushButton*>())
        old->deleteLater();
    if (names.isEmpty())
        return;
    for (int c = -1; c < names.size(); ++c) {
        QPushButton* button =
            smallTab(c < 0 ? tr("All") : names[c], tr("Shows all channels, or one as grey."));
        button->setChecked(c == chosen);
        connect(button, &QPushButton::clicked, this, [this, c] { Q_EMIT channelChosen(c); });
        m_channels->layout()->addWidget(button);
    }
}

void PictureBar::setCompare(PictureView::Compare compare) {
    if (m_view.compare() == compare)
        compare = PictureView::Compare::None;
    lightCompare(compare);
    m_view.setCompare(compare);
}

void PictureBar::setFormer(const QString& name) {
    m_former->setText(name);
    m_former->setVisible(!name.isEmpty());
    if (name.isEmpty())
        m_former->setChecked(false);
}

bool PictureBar::comparesFormer() const { return m_former->isChecked(); }

void PictureBar::compareFormer() {
    if (m_former->isHidden())
        return;
    m_former->setChecked(true);
    if (m_view.compare() == PictureView::Compare::None)
        setCompare(PictureView::Compare::Wipe);
}

}  // namespace noctis
