#include "app/picture/reading_panel.h"

#include "app/controls/endless_box.h"
#include "app/controls/number_box.h"
#include "app/look/picture_paint.h"
#include "app/look/theme.h"
#include "app/session/pass_rules.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QVBoxLayout>
#include <QtMath>

#include <algorithm>
#include <cmath>

namespace noctis {

namespace {

QDoubleSpinBox* numberBox(const QString& name, const QString& unit, double low, double high,
                          const QString& help, QDoubleSpinBox* box = new NumberBox) {
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

QComboBox* choiceBox(const QString& name, const QStringList& choices, const QString& help) {
    auto* box = new QComboBox;
    box->setAccessibleName(name);
    box->addItems(choices);
    box->setToolTip(help);
    box->setSizeAdjustPolicy(QComboBox::AdjustToContents);
    return box;
}

}  // namespace

ReadingPanel::ReadingPanel(QWidget* parent) : QWidget(parent) {
    setObjectName("reading");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(14, 8, 14, 8);
    column->setSpacing(6);
    buildFirstRow(*column);
    buildKnown(*column);
    buildReason(*column);
    for (QComboBox* box : {m_kind, m_coding, m_bright, m_measure, m_axes, m_normalCoding, m_green})
        connect(box, &QComboBox::currentIndexChanged, this, &ReadingPanel::collect);
    for (QDoubleSpinBox* box : {m_scale, m_near, m_far, m_background})
        connect(box, &QDoubleSpinBox::valueChanged, this, &ReadingPanel::collect);
}

void ReadingPanel::buildFirstRow(QVBoxLayout& column) {
    QStringList kinds;
    for (const PassKindInfo& info : passKinds())
        kinds << qstring(info.label);
    m_kind = choiceBox(tr("What it is"), kinds,
                       tr("What this pass is read as. Change it where the guess is wrong."));
    m_kind->setObjectName("reading-kind");
    m_coding = choiceBox(tr("How depth is encoded"),
                         {tr("Metres"), tr("Normalised"), tr("Inverse"), tr("Projected")},
                         tr("What the stored numbers mean: lengths; greys between near and far; "
                            "one over the distance; or a graphics card's depth."));
    m_coding->setObjectName("reading-coding");
    m_scale =
        numberBox(tr("Metres per unit"), tr(" m per unit"), -1e6, 1e6,
                  tr("How many metres one unit of the file stands for: 0.01 for centimetres."));
    m_near = numberBox(tr("Near"), tr(" m"), -1e6, 1e7,
                       tr("The distance at the near end of the greys."));
    m_near->setObjectName("reading-near");
    m_far = numberBox(tr("Far"), tr(" m"), 0.002, 1e7,
                      tr("The distance at the far end of the greys."), new EndlessBox);
    m_far->setFixedWidth(100);
    m_far->setObjectName("reading-far");
    m_bright = choiceBox(tr("Bright end"), {tr("bright is far"), tr("bright is near")},
                         tr("Which end of the greys is near the camera."));
    m_bright->setMinimumWidth(116);
    m_measure =
        choiceBox(tr("Measured"), {tr("planar"), tr("radial")},
                  tr("Whether distances run along the camera's axis or straight from the camera."));
    m_background = numberBox(
        tr("Background"), QString(), -1e6, 1e12,
        tr("Stored values from here on count as background; with lengths, 0 means none."));
    m_background->setSpecialValueText(tr("none"));
    m_axes = choiceBox(tr("Space"), {tr("from its values"), tr("camera, tangent"), tr("world")},
                       tr("Which axes the directions are in."));
    m_axes->setObjectName("reading-space");
    m_normalCoding = choiceBox(tr("Coding"), {tr("from its values"), tr("-1 to 1"), tr("0 to 1")},
                               tr("How directions are stored."));
    m_green = choiceBox(tr("Green"), {tr("from its values"), tr("green up"), tr("green down")},
                        tr("Which way the second axis runs."));
    m_green->setObjectName("reading-green");
    m_scaleBox = group({m_scale});
    m_rangeBox = group({quiet(tr("near")), m_near, quiet(tr("far")), m_far});
    m_depthBox = group({m_coding, m_scaleBox, m_rangeBox, m_measure});
    m_normalBox = group({m_axes, m_normalCoding, m_green});
    auto* row = new QHBoxLayout;
    row->setSpacing(8);
    auto* title = new QLabel(tr("Read as"));
    title->setFont(theme::font(13, QFont::Medium));
    row->addWidget(title);
    row->addWidget(m_kind);
    row->addWidget(m_depthBox);
    row->addWidget(m_normalBox);
    row->addStretch(1);
    column.addLayout(row);
    m_angle = numberBox(tr("Angle of view"), tr("° high"), 1.0, 170.0,
                        tr("No camera in these files. Set its angle of view from top to bottom: "
                           "positions and off-centre distances depend on it."));
    m_angle->setDecimals(1);
    connect(m_angle, &QDoubleSpinBox::valueChanged, this, [this](double degrees) {
        if (!m_filling)
            Q_EMIT angleSet(static_cast<float>(qDegreesToRadians(degrees)));
    });
    m_angleBox = group({quiet(tr("No camera. Angle of view")), m_angle});
    m_detailBox = new QWidget;
    auto* details = new QHBoxLayout(m_detailBox);
    details->setContentsMargins(0, 0, 0, 0);
    details->setSpacing(12);
    details->addWidget(m_bright);
    details->addWidget(group({quiet(tr("background from")), m_background}));
    details->addWidget(m_angleBox);
    details->addStretch(1);
    column.addWidget(m_detailBox);
    m_keepRule = new QPushButton;
    m_keepRule->setProperty("role", "link");
    m_keepRule->setObjectName("keep-rule");
    connect(m_keepRule, &QPushButton::clicked, this,
            [this] { Q_EMIT ruleKept(qstring(m_pass.key), asRule()); });
    m_listRules = new QPushButton;
    m_listRules->setProperty("role", "link");
    m_listRules->setObjectName("list-rules");
    m_listRules->setToolTip(tr("Rules for reading passes in the files you open."));
    connect(m_listRules, &QPushButton::clicked, this,
            [this] { showRules(m_listRules->mapToGlobal(QPoint(0, m_listRules->height()))); });
}

PassReading ReadingPanel::asRule() const {
    PassReading rule = m_reading;
    rule.kind = m_pass.kind;
    return rule;
}

void ReadingPanel::setRules(const ReadingMap& rules) {
    m_rules = rules;
    refreshRules();
}

void ReadingPanel::refreshRules() {
    const auto own = m_rules.find(m_pass.key);
    const bool kept = own != m_rules.end() && own->second == asRule();
    m_keepRule->setText(own == m_rules.end() ? tr("Keep as a rule") : tr("Change the rule"));
    m_keepRule->setToolTip(
        tr("Reads every pass named %1 like this in files you open from now on: %2.")
            .arg(qstring(m_pass.key), qstring(inWords(asRule()))));
    // A file that states how it is read needs none.
    m_keepRule->setVisible(!kept && !m_pass.key.empty() && (!m_told || !m_reading.empty()));
    m_listRules->setText(tr("Rules (%1)").arg(m_rules.size()));
    m_listRules->setVisible(!m_rules.empty());
}

void ReadingPanel::showRules(const QPoint& at) {
    QMenu menu;
    for (const auto& [key, reading] : m_rules) {
        QMenu* each = menu.addMenu(tr("%1: %2").arg(qstring(key), qstring(inWords(reading))));
        each->addAction(tr("Remove"), this,
                        [this, key = key] { Q_EMIT ruleRemoved(qstring(key)); });
    }
    menu.exec(at);
}

void ReadingPanel::buildKnown(QVBoxLayout& column) {
    m_knownBox = new QWidget;
    auto* row = new QHBoxLayout(m_knownBox);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(8);
    row->addWidget(quiet(tr("Two known distances")));
    for (int i = 0; i < 2; ++i) {
        Known& known = m_known[static_cast<std::size_t>(i)];
        known.pick = new QPushButton(tr("Click a place"));
        known.pick->setObjectName(QStringLiteral("known-%1").arg(i));
        known.pick->setProperty("role", "link");
        known.pick->setCheckable(true);
        known.pick->setToolTip(tr("Then click the thing in the picture."));
        known.metres =
            numberBox(tr("Its distance"), tr(" m"), 0.0, 1e6, tr("How far away that thing is."));
        known.metres->setSpecialValueText(tr("how far?"));
        known.metres->setObjectName(QStringLiteral("known-metres-%1").arg(i));
        row->addWidget(known.pick);
        row->addWidget(quiet(tr("is at")));
        row->addWidget(known.metres);
        connect(known.pick, &QPushButton::clicked, this, [this, i](bool on) {
            m_picking = on ? i : -1;
            m_known[static_cast<std::size_t>(1 - i)].pick->setChecked(false);
        });
        connect(known.metres, &QDoubleSpinBox::valueChanged, this, &ReadingPanel::settleByKnown);
    }
    row->addStretch(1);
    column.addWidget(m_knownBox);
}

void ReadingPanel::buildReason(QVBoxLayout& column) {
    m_reason = quiet({});
    m_reason->setObjectName("reading-reason");
    m_reason->setWordWrap(true);
    column.addWidget(m_reason);
    auto* below = new QHBoxLayout;
    below->setSpacing(12);
    m_remedies = new QHBoxLayout;
    below->addLayout(m_remedies, 1);
    below->addWidget(m_keepRule);
    below->addWidget(m_listRules);
    column.addLayout(below);
}

void ReadingPanel::fitReason() {
    const QMargins margins = layout()->contentsMargins();
    m_reason->setMinimumHeight(
        std::max(0, m_reason->heightForWidth(width() - margins.left() - margins.right())));
}

void ReadingPanel::resizeEvent(QResizeEvent*) { fitReason(); }

void ReadingPanel::setPass(const Pass& pass, const PassReading& reading,
                           std::optional<float> assumedAngle) {
    m_filling = true;
    if (pass.key != m_pass.key || pass.file != m_pass.file)
        for (Known& known : m_known) {
            known.place.reset();
            known.pick->setText(tr("Click a place"));
            known.pick->setChecked(false);
            known.metres->setValue(0.0);
            m_picking = -1;
        }
    m_pass = pass;
    m_reading = reading;
    m_told = saysItself(pass) && !reading.depth;
    const auto& kinds = passKinds();
    m_kind->setCurrentIndex(static_cast<int>(
        std::find_if(kinds.begin(), kinds.end(),
                     [&](const PassKindInfo& info) { return info.kind == pass.kind; }) -
        kinds.begin()));
    const Interpretation i = pass.interpretation.value_or(Interpretation{});
    m_coding->setCurrentIndex(static_cast<int>(i.coding));
    m_scale->setValue(static_cast<double>(i.scale));
    m_near->setValue(static_cast<double>(i.nearDistance));
    m_far->setDecimals(i.farDistance < 1000.0F ? 2 : 0);  // nothing may be cut off
    m_far->setValue(static_cast<double>(i.farDistance));
    m_bright->setCurrentIndex(i.nearBright ? 1 : 0);
    m_measure->setCurrentIndex(i.radial ? 1 : 0);
    m_background->setValue(std::isfinite(i.backgroundFrom) ? static_cast<double>(i.backgroundFrom)
                                                           : m_background->minimum());
    const NormalReading n = reading.normal.value_or(NormalReading{});
    m_axes->setCurrentIndex(static_cast<int>(n.axes));
    m_normalCoding->setCurrentIndex(static_cast<int>(n.coding));
    m_green->setCurrentIndex(static_cast<int>(n.green));
    m_angleBox->setVisible(assumedAngle.has_value() && pass.interpretation.has_value());
    if (assumedAngle)
        m_angle->setValue(qRadiansToDegrees(static_cast<double>(*assumedAngle)));
    QString text = tr("Read as %1: %2.")
                       .arg(qstring(passKindInfo(pass.kind).label).toLower(), qstring(pass.why));
    if (pass.interpretation)
        text += !i.reason.empty() ? tr(" Guessed: %1.").arg(qstring(i.reason))
                : m_told          ? QString()
                                  : tr(" Read the way you set it.");
    QStringList channels;
    for (const std::string& channel : pass.fileChannels)
        channels << qstring(channel);
    text += tr(" From %1, %2 of %3.")
                .arg(qstring(pass.file.filename().string()), channels.join(QStringLiteral(", ")),
                     qstring(sampleTypeName(pass.type)));
    for (const std::string& warning : pass.warnings)
        text += QLatin1Char(' ') + qstring(warning);
    m_reason->setText(text);
    fitReason();
    showRemedies(pass);
    refreshRules();
    arrange();
    m_filling = false;
}

void ReadingPanel::arrange() {
    m_scaleBox->setVisible(m_coding->currentIndex() == 0);
    m_rangeBox->setVisible(m_coding->currentIndex() != 0);
    const bool depth = m_pass.interpretation.has_value();
    m_depthBox->setVisible(depth);
    m_detailBox->setVisible(depth);
    m_bright->setVisible(m_coding->currentIndex() != 0);
    m_knownBox->setVisible(depth && !m_pass.raw.empty() && !m_told);
    m_normalBox->setVisible(passKindInfo(m_pass.kind).look == PassLook::Direction);
}

void ReadingPanel::collect() {
    arrange();
    if (m_filling)
        return;
    PassReading reading = m_reading;
    const PassKind kind = passKinds()[static_cast<std::size_t>(m_kind->currentIndex())].kind;
    if (kind != m_pass.kind)
        reading.kind = kind;
    if (m_pass.interpretation && sender() != m_kind) {
        Interpretation i;
        i.coding = static_cast<DepthCoding>(m_coding->currentIndex());
        i.scale = static_cast<float>(m_scale->value());
        i.nearDistance = static_cast<float>(m_near->value());
        i.farDistance = static_cast<float>(m_far->value());
        i.nearBright = m_bright->currentIndex() == 1;
        i.radial = m_measure->currentIndex() == 1;
        if (m_background->value() > m_background->minimum())
            i.backgroundFrom = static_cast<float>(m_background->value());
        reading.depth = i;
    }
    const NormalReading normal{static_cast<NormalAxes>(m_axes->currentIndex()),
                               static_cast<NormalCoding>(m_normalCoding->currentIndex()),
                               static_cast<GreenWay>(m_green->currentIndex())};
    if (m_normalBox->isVisibleTo(this) && sender() != m_kind)
        reading.normal = normal == NormalReading{} ? std::nullopt : std::optional(normal);
    Q_EMIT corrected(qstring(m_pass.key), reading);
}

bool ReadingPanel::takeClick(int x, int y) {
    if (m_picking < 0 || !isVisible())
        return false;
    if (x < 0 || y < 0 || x >= m_pass.image.width() || y >= m_pass.image.height() ||
        !std::isfinite(m_pass.image(x, y, 0))) {
        Q_EMIT refused(tr("Only sky there. Click a thing whose distance you know."));
        return true;
    }
    Known& known = m_known[static_cast<std::size_t>(m_picking)];
    known.place = KnownDistance{x, y, 0.0F};
    known.pick->setText(tr("%1, %2").arg(x).arg(y));
    known.pick->setChecked(false);
    m_picking = -1;
    known.metres->setFocus();
    known.metres->selectAll();
    settleByKnown();
    return true;
}

void ReadingPanel::settleByKnown() {
    const bool known = std::ranges::all_of(m_known, [](const Known& each) {
        return each.place && each.metres->value() > each.metres->minimum();
    });
    if (m_filling || !known || !m_pass.interpretation)
        return;
    for (Known& each : m_known)
        each.place->metres = static_cast<float>(each.metres->value());
    try {
        PassReading reading = m_reading;
        reading.depth = readingThrough(m_pass.raw, *m_pass.interpretation, *m_known[0].place,
                                       *m_known[1].place);
        Q_EMIT corrected(qstring(m_pass.key), reading);
    } catch (const std::exception& error) {
        Q_EMIT refused(QString::fromUtf8(error.what()));
    }
}

}  // namespace noctis
