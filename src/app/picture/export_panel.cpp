#include "app/picture/export_panel.h"

#include "app/controls/file_dialog.h"
#include "app/controls/wrap_line.h"
#include "app/look/picture_paint.h"
#include "app/look/theme.h"
#include "app/session/session.h"
#include "core/dispatch/export_format.h"
#include "core/dispatch/job.h"

#include <QComboBox>
#include <QDir>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>

namespace noctis {

namespace {

constexpr int kBetween = 10;     // px
constexpr int kLeastPath = 160;  // px

}  // namespace

ExportPanel::ExportPanel(Session& session, QWidget* parent) : QWidget(parent), m_session(session) {
    setObjectName("export");
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(14, 8, 14, 8);
    layout->setSpacing(4);
    auto* title = new QLabel(tr("Export the picture"));
    title->setFont(theme::font(13, QFont::Medium));
    m_path = new QLineEdit;
    m_path->setAccessibleName(tr("File to write"));
    m_path->setToolTip(tr("The extension sets the format: .exr stays scene-linear, .png and .tif "
                          "are as the view shows it."));
    m_bits = new QComboBox;
    m_bits->setAccessibleName(tr("Bit depth"));
    m_bits->setToolTip(tr("How many bits store a value."));
    auto* choose = new QPushButton(tr("Choose…"));
    choose->setToolTip(tr("Picks the file to write."));
    m_write = new QPushButton(tr("Export"));
    m_write->setObjectName("export now");
    m_write->setProperty("role", "main");
    m_write->setToolTip(tr("Queues the picture at its full size, before all that waits."));
    auto* close = new QPushButton(theme::icon("x"), {});
    close->setProperty("role", "icon");
    close->setAccessibleName(tr("Close"));
    close->setToolTip(tr("Closes this strip."));
    m_state = new QLabel;
    m_state->setObjectName("export state");
    m_state->setProperty("role", "quiet");
    m_state->setWordWrap(true);
    m_path->setMinimumWidth(kLeastPath);
    layout->addWidget(new WrapLine(lineGroup({title, m_path, choose}, kBetween, m_path),
                                   lineGroup({m_bits, m_write, close}, kBetween)));
    layout->addWidget(m_state);
    connect(m_path, &QLineEdit::textChanged, this, &ExportPanel::updateDepths);
    connect(m_path, &QLineEdit::textChanged, this, &ExportPanel::updateState);
    connect(m_bits, &QComboBox::currentIndexChanged, this, &ExportPanel::updateState);
    connect(&session, &Session::passesChanged, this, &ExportPanel::updateState);
    connect(&session, &Session::notified, this, &ExportPanel::updateState);  // a file may be there
    connect(m_path, &QLineEdit::returnPressed, this, &ExportPanel::write);
    connect(m_write, &QPushButton::clicked, this, &ExportPanel::write);
    // The name was another work's, whose file must not be replaced.
    connect(&session, &Session::opened, this, [this] {
        m_path->clear();
        if (isVisible())
            Q_EMIT closed();
    });
    connect(close, &QPushButton::clicked, this, &ExportPanel::closed);
    connect(choose, &QPushButton::clicked, this, [this] {
        const QString file = askFileToWrite(this, tr("Export the picture"), m_path->text(),
                                            tr("Pictures (*.exr *.png *.tif)"));
        if (!file.isEmpty())
            m_path->setText(file);
    });
}

void ExportPanel::present() {
    if (m_path->text().isEmpty() || m_path->text() == m_offered)
        m_path->setText(m_offered = m_session.freeFile(tr("%1 finished").arg(m_session.title()),
                                                       QStringLiteral(".png")));
    updateDepths();
    updateState();
    show();
    m_path->setFocus();
    m_path->selectAll();
}

void ExportPanel::setShownPass(const QString& name) {
    m_shownPass = name;
    updateState();
}

void ExportPanel::updateDepths() {
    const int before = m_bits->currentData().toInt();
    m_bits->clear();
    if (const ExportFormat* format = findExportFormat(m_path->text().toStdString()))
        for (const ExportDepth& depth : format->depths)
            m_bits->addItem(tr(depth.label.data()), depth.bits);
    m_bits->setCurrentIndex(std::max(0, m_bits->findData(before)));
}

void ExportPanel::write() {
    Job job;
    job.to = m_session.fileNamed(m_path->text());
    job.settings.picture.bits = m_bits->currentData().toInt();
    const int now = m_session.time().number;
    if (const auto [first, last] = m_session.frames(); last > first)
        job.frames = FrameRange{now, now};
    Q_EMIT m_session.jobAsked(job, {}, true);
}

void ExportPanel::updateState() {
    const PassSet& passes = m_session.passes();
    const ExportFormat* format = findExportFormat(m_path->text().toStdString());
    const bool linear = format != nullptr && m_bits->currentIndex() >= 0 &&
                        format->depths.at(static_cast<std::size_t>(m_bits->currentIndex())).linear;
    std::error_code unknown;
    const bool replaces =
        std::filesystem::is_regular_file(m_session.fileNamed(m_path->text()), unknown);
    const QString which =
        m_shownPass.isEmpty()
            ? QString()
            : tr(" The finished picture is written, not %1; a pass goes out by its print's menu.")
                  .arg(m_shownPass);
    m_state->setText(tr("%1 × %2 pixels, %3.%4%5")
                         .arg(passes.width)
                         .arg(passes.height)
                         .arg(linear ? tr("scene-linear") : tr("as the view shows it"),
                              replaces ? tr(" Replaces the file of that name.") : QString(),
                              which));
}

void ExportPanel::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape)
        Q_EMIT closed();
    else
        QWidget::keyPressEvent(event);
}

}  // namespace noctis
