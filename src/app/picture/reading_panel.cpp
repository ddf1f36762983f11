#include "app/picture/reading_panel.h"

#include "app/look/picture_paint.h"
#include "app/look/theme.h"

#include <QComboBox>
#include <QDoubleSpinBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QVBoxLayout>
#include <QtMath>

#include <cmath>

namespace noctis {

namespace {

QDoubleSpinBox* numberBox(const QString& name, const QString& unit, double low, double high,
                          const QString& help) {
    auto* box = new QDoubleSpinBox;
    box->setRange(low, high);
    box->setDecimals(2);
    box->setSuffix(unit);
    box->setAccessibleName(name);
    box->setToolTip(help);
    box->setFixedWidth(unit.size() > 4 ? 128 : 78);
    box->setKeyboardTracking(false);
    return box;
}

QWidget* group(std::initializer_list<QWidget*> parts) {
    auto* box = new QWidget;
    auto* layout = new QHBoxLayout(box);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(6);
    for (QWidget* part : parts)
        layout->addWidget(part);
    return box;
}

QLabel* quiet(const QString& text) {
    auto* label = new QLabel(text);
    label->setProperty("role", "quiet");
    label->setFont(theme::font(12));
    return label;
}

}  // namespace

ReadingPanel::ReadingPanel(QWidget* parent) : QWidget(parent) {
    m_coding = new QComboBox;
    m_coding->setAccessibleName(tr("How depth is coded"));
    m_coding->addItems({tr("Metres"), tr("Normalised"), tr("Inverse"), tr("Projected")});
    m_coding->setToolTip(tr("What the stored numbers mean: lengths; greys between near and far; "
                            "one over the distance; or a graphics card's depth."));
    m_scale = numberBox(tr("Metres a unit"), tr(" m a unit"), -1e6, 1e6,
                        tr("How many metres one unit of the file is: 0.01 for centimetres."));
    m_near = numberBox(tr("Near"), tr(" m"), 0.001, 1e6,
                       tr("The distance of the near end of the greys."));
    m_far =
        numberBox(tr("Far"), tr(" m"), 0.002, 1e6, tr("The distance of the far end of the greys."));
    m_bright = new QComboBox;
    m_bright->setAccessibleName(tr("Bright end"));
    m_bright->addItems({tr("bright is far"), tr("bright is near")});
    m_bright->setToolTip(tr("Which end of the greys is close by."));
    m_measure = new QComboBox;
    m_measure->setAccessibleName(tr("Measured"));
    m_measure->addItems({tr("planar"), tr("radial")});
    m_measure->setToolTip(tr("Whether distances are along the camera's axis, or from its point."));
    m_background =
        numberBox(tr("Background"), QString(), -1e6, 1e12,
                  tr("Stored values from here on are background; 0 for none with lengths."));
    m_background->setSpecialValueText(tr("none"));
    m_scaleBox = group({m_scale});
    m_rangeBox = group({quiet(tr("near")), m_near, quiet(tr("far")), m_far, m_bright});
    for (QComboBox* box : {m_coding, m_bright, m_measure})
        box->setSizeAdjustPolicy(QComboBox::AdjustToContents);
    m_bright->setMinimumWidth(116);
    m_reason = quiet({});
    m_reason->setWordWrap(true);

    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(14, 8, 14, 8);
    layout->setSpacing(6);
    auto* row = new QHBoxLayout;
    row->setSpacing(8);
    auto* title = new QLabel(tr("Reading"));
    title->setFont(theme::font(13, QFont::Medium));
    row->addWidget(title);
    row->addWidget(m_coding);
    row->addWidget(m_scaleBox);
    row->addWidget(m_rangeBox);
    row->addWidget(m_measure);
    row->addWidget(group({quiet(tr("background from")), m_background}));
    row->addStretch(1);
    layout->addLayout(row);
    auto* below = new QHBoxLayout;
    below->setSpacing(12);
    below->addWidget(m_reason, 1);
    m_angle = numberBox(tr("Angle of view"), tr("° high"), 1.0, 170.0,
                        tr("No file tells the camera. How high its view is, from top to bottom: "
                           "places and distances off the middle follow from it."));
    m_angle->setDecimals(1);
    m_angleBox = group({quiet(tr("No camera told; view")), m_angle});
    below->addWidget(m_angleBox, 0, Qt::AlignTop);
    layout->addLayout(below);
    connect(m_angle, &QDoubleSpinBox::valueChanged, this, [this](double degrees) {
        if (!m_filling)
            Q_EMIT angleSet(static_cast<float>(qDegreesToRadians(degrees)));
    });
    for (QComboBox* box : {m_coding, m_bright, m_measure})
        connect(box, &QComboBox::currentIndexChanged, this, &ReadingPanel::collect);
    for (QDoubleSpinBox* box : {m_scale, m_near, m_far, m_background})
        connect(box, &QDoubleSpinBox::valueChanged, this, &ReadingPanel::collect);
}

void ReadingPanel::setPass(const Pass& pass, std::optional<float> assumedAngle) {
    if (!pass.interpretation)
        return;
    const Interpretation& i = *pass.interpretation;
    m_filling = true;
    m_pass = qstring(pass.name);
    m_coding->setCurrentIndex(static_cast<int>(i.coding));
    m_scale->setValue(static_cast<double>(i.scale));
    m_near->setValue(static_cast<double>(i.nearDistance));
    m_far->setValue(static_cast<double>(i.farDistance));
    m_bright->setCurrentIndex(i.nearBright ? 1 : 0);
    m_measure->setCurrentIndex(i.radial ? 1 : 0);
    m_background->setValue(std::isfinite(i.backgroundFrom) ? static_cast<double>(i.backgroundFrom)
                                                           : m_background->minimum());
    m_angleBox->setVisible(assumedAngle.has_value());
    if (assumedAngle)
        m_angle->setValue(qRadiansToDegrees(static_cast<double>(*assumedAngle)));
    QString text = i.reason.empty() ? tr("As told.") : tr("Guessed: %1.").arg(qstring(i.reason));
    for (const std::string& warning : pass.warnings)
        text += QLatin1Char(' ') + qstring(warning);
    m_reason->setText(text);
    arrange();
    m_filling = false;
}

void ReadingPanel::arrange() {
    m_scaleBox->setVisible(m_coding->currentIndex() == 0);
    m_rangeBox->setVisible(m_coding->currentIndex() != 0);
}

void ReadingPanel::collect() {
    arrange();
    if (m_filling)
        return;
    Interpretation i;
    i.coding = static_cast<DepthCoding>(m_coding->currentIndex());
    i.scale = static_cast<float>(m_scale->value());
    i.nearDistance = static_cast<float>(m_near->value());
    i.farDistance = static_cast<float>(m_far->value());
    i.nearBright = m_bright->currentIndex() == 1;
    i.radial = m_measure->currentIndex() == 1;
    if (m_background->value() > m_background->minimum())
        i.backgroundFrom = static_cast<float>(m_background->value());
    Q_EMIT corrected(m_pass, i);
}

}  // namespace noctis
