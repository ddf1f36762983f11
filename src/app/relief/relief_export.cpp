#include "app/relief/relief_export.h"

#include "app/controls/file_dialog.h"
#include "app/controls/switch_box.h"
#include "app/controls/value_bar.h"
#include "app/controls/wrap_line.h"
#include "app/look/picture_paint.h"
#include "app/look/theme.h"
#include "core/dispatch/job.h"
#include "core/relief/derived_maps.h"
#include "core/relief/relief_mesh.h"
#include "core/settings/counted.h"

#include <QComboBox>
#include <QDir>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>

namespace noctis {

namespace {

constexpr int kBetween = 10;     // px
constexpr int kLeastPath = 160;  // px

SampleType typeOf(int bits) {
    return bits == 8 ? SampleType::Byte : bits == 16 ? SampleType::Short : SampleType::Float;
}

}  // namespace

ReliefExport::ReliefExport(Session& session, QWidget* parent)
    : QWidget(parent), m_session(session) {
    setObjectName("relief-export");
    auto* both = new QVBoxLayout(this);
    both->setContentsMargins(14, 8, 14, 8);
    both->setSpacing(4);
    m_what = new QComboBox;
    m_what->setAccessibleName(tr("What to write"));
    m_what->setObjectName("export-what");
    m_what->addItem(tr("Heights"), qstring(kHeightsWritten));
    for (const DerivedMap& map : derivedMaps())
        m_what->addItem(qstring(map.label), qstring(map.id));
    m_what->addItem(tr("Solid"), qstring(kSolidWritten));
    m_path = new QLineEdit;
    m_path->setObjectName("export-path");
    m_path->setAccessibleName(tr("File to write"));
    m_path->setToolTip(tr("The extension sets the format: .tif and .png have 8 or 16 bits, .exr "
                          "and .tif floats; solids are .glb, .ply, .obj or .stl."));
    m_bits = new QComboBox;
    m_bits->setObjectName("export-bits");
    m_bits->setAccessibleName(tr("Bit depth"));
    m_bits->setToolTip(tr("How many bits store a height."));
    m_dither = new SwitchBox(tr("Dither"));
    m_dither->setCheckable(true);
    m_dither->setToolTip(tr("Hides the steps of 8 bits in fine noise."));
    m_ditherText = new QLabel(tr("dither"));
    m_ditherText->setProperty("role", "quiet");
    m_base = new ValueBar(tr("Base"), Unit::Metre, {0.0F, 10.0F, 0.05F});
    m_base->setFixedWidth(150);
    m_base->setToolTip(
        tr("How far the floor of a closed solid lies below its lowest point; 0 leaves it open."));
    m_error = new ValueBar(tr("Within"), Unit::Metre, {0.0F, 1.0F, 0.002F});
    m_error->setFixedWidth(150);
    m_error->setToolTip(
        tr("How far the simplified solid may deviate from the map; 0 keeps every cell."));
    auto* choose = new QPushButton(tr("Choose…"));
    choose->setToolTip(tr("Picks the file to write."));
    m_write = new QPushButton(tr("Write"));
    m_write->setObjectName("write-now");
    m_write->setProperty("role", "main");
    m_write->setToolTip(tr("Queues the file at the map's full size, before all that waits."));
    auto* close = new QPushButton(theme::icon("x"), {});
    close->setProperty("role", "icon");
    close->setAccessibleName(tr("Close"));
    close->setToolTip(tr("Closes this strip."));
    m_note = new QLabel;
    m_note->setObjectName("export-note");
    m_note->setProperty("role", "quiet");
    m_path->setMinimumWidth(kLeastPath);
    both->addWidget(new WrapLine(
        lineGroup({m_what, m_path, choose}, kBetween, m_path),
        lineGroup({m_bits, m_dither, m_ditherText, m_base, m_error, m_write, close}, kBetween)));
    both->addWidget(m_note);
    m_base->setValue(0.005F);
    m_error->setValue(0.0F);
    connect(m_base, &ValueBar::moved, m_base, &ValueBar::setValue);
    connect(m_error, &ValueBar::moved, m_error, &ValueBar::setValue);
    connect(m_what, &QComboBox::currentIndexChanged, this, &ReliefExport::updateFormats);
    connect(m_path, &QLineEdit::textChanged, this, &ReliefExport::updateFormats);
    connect(m_path, &QLineEdit::returnPressed, this, &ReliefExport::write);
    // The name was another work's, whose file must not be replaced.
    connect(&session, &Session::opened, this, [this] {
        m_path->clear();
        if (isVisible())
            Q_EMIT closed();
    });
    connect(m_bits, &QComboBox::currentIndexChanged, this, &ReliefExport::updateNote);
    connect(m_write, &QPushButton::clicked, this, &ReliefExport::write);
    connect(&session, &Session::notified, this, &ReliefExport::updateNote);  // a file may be there
    connect(close, &QPushButton::clicked, this, &ReliefExport::closed);
    connect(choose, &QPushButton::clicked, this, [this] {
        const QString file =
            askFileToWrite(this, tr("Write the heights"), m_path->text(),
                           tr("Maps and solids (*.tif *.png *.exr *.glb *.ply *.obj *.stl)"));
        if (!file.isEmpty())
            m_path->setText(file);
    });
}

void ReliefExport::setWorked(const std::shared_ptr<const WorkedRelief>& worked) {
    m_worked = worked;
    updateNote();
}

void ReliefExport::present() {
    if (m_path->text().isEmpty() || m_path->text() == m_offered) {
        const QString map = m_worked ? qstring(m_worked->request.relief.name) : tr("height");
        m_path->setText(m_offered =
                            m_session.freeFile(QStringLiteral("%1 %2").arg(m_session.title(), map),
                                               QStringLiteral(".tif")));
    }
    updateFormats();
    show();
    m_path->setFocus();
    m_path->selectAll();
}

void ReliefExport::updateFormats() {
    const bool solid = m_what->currentData().toString() == qstring(kSolidWritten);
    const QFileInfo file(m_path->text());
    const QString ending = QStringLiteral(".") + file.suffix().toLower();
    const auto& solids = meshEndings();
    const bool endsAsSolid =
        std::find(solids.begin(), solids.end(), ending.toStdString()) != solids.end();
    if (solid != endsAsSolid && !file.fileName().isEmpty()) {
        const QSignalBlocker quiet(m_path);
        const bool offered = m_path->text() == m_offered;
        m_path->setText(
            QDir(file.path()).filePath(file.completeBaseName() + (solid ? ".glb" : ".tif")));
        if (offered)
            m_offered = m_path->text();
    }
    m_bits->setVisible(!solid);
    m_base->setVisible(solid);
    m_error->setVisible(solid);
    const QString now = QFileInfo(m_path->text()).suffix().toLower();
    const int before = m_bits->currentData().toInt();
    {
        const QSignalBlocker quiet(m_bits);
        m_bits->clear();
        if (now != "exr") {
            m_bits->addItem(tr("16 bits"), 16);
            m_bits->addItem(tr("8 bits"), 8);
        }
        if (now != "png")
            m_bits->addItem(tr("float"), 32);
        m_bits->setCurrentIndex(std::max(0, m_bits->findData(before)));
    }
    updateNote();
}

void ReliefExport::updateNote() {
    const QString what = m_what->currentData().toString();
    const int bits = m_bits->currentData().toInt();
    const bool heights = what == qstring(kHeightsWritten);
    m_dither->setVisible(heights && bits == 8);
    m_ditherText->setVisible(heights && bits == 8);
    if (!m_worked) {
        m_note->setText(tr("The map is not ready yet."));
        return;
    }
    const auto metres = [](float v) { return qstring(lengthText(static_cast<double>(v))); };
    m_note->setProperty("role", heights && bits == 8 ? "warning" : "quiet");
    m_note->style()->unpolish(m_note);
    m_note->style()->polish(m_note);
    QString text;
    if (heights) {
        const HeightReport report = reportOf(m_worked->map->full(), typeOf(bits));
        text = bits == 32
                   ? tr("Floats in metres above %1.").arg(qstring(m_worked->map->full().level))
                   : tr("A step is %1. In other programs: %2 from black to white, height 0 is grey "
                        "%3.%4")
                         .arg(metres(report.step), metres(report.blackToWhite()))
                         .arg(static_cast<double>(report.greyOfZero()), 0, 'f', 4)
                         .arg(bits == 8 ? tr(" 8 bits show as bands.") : QString());
    } else if (what == qstring(kSolidWritten)) {
        text = tr("In metres, closed with walls and a floor where it has a base.");
    } else {
        text = qstring(derivedMap(what.toStdString()).help);
    }
    std::error_code unknown;
    if (std::filesystem::is_regular_file(m_session.fileNamed(m_path->text()), unknown))
        text += QStringLiteral(" ") + tr("Replaces the file of that name.");
    m_note->setText(text);
}

void ReliefExport::write() {
    if (!m_worked)
        return;
    Job job;
    job.kind = JobKind::Relief;
    job.to = m_session.fileNamed(m_path->text());
    job.settings.picture.bits = m_bits->currentData().toInt();
    job.settings.picture.dither = m_dither->isVisible() && m_dither->isChecked();
    job.settings.relief.ids = {m_worked->request.relief.id};
    job.settings.relief.as = m_what->currentData().toString().toStdString();
    job.settings.relief.base = m_base->value();
    job.settings.relief.within = m_error->value();
    Q_EMIT m_session.jobAsked(job, {}, true);
}

void ReliefExport::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape)
        Q_EMIT closed();
    else
        QWidget::keyPressEvent(event);
}

}  // namespace noctis
