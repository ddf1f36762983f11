#include "app/picture/export_panel.h"

#include "app/controls/file_dialog.h"
#include "app/controls/wrap_line.h"
#include "app/look/picture_paint.h"
#include "app/look/theme.h"
#include "app/session/session.h"
#include "core/project/finish.h"
#include "core/steps/registry.h"

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
constexpr int kShownEveryMs = 100;

}  // namespace

ExportPanel::ExportPanel(Session& session, QWidget* parent) : QWidget(parent), m_session(session) {
    setObjectName("export");
    m_shown.setInterval(kShownEveryMs);
    connect(&m_shown, &QTimer::timeout, this, &ExportPanel::updateState);
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
    m_write->setToolTip(tr("Writes the picture at its full size."));
    auto* close = new QPushButton(theme::icon("x"), {});
    close->setProperty("role", "icon");
    close->setAccessibleName(tr("Close"));
    close->setToolTip(tr("Closes this strip."));
    m_state = new QLabel;
    m_state->setObjectName("export state");
    m_state->setProperty("role", "quiet");
    m_path->setMinimumWidth(kLeastPath);
    layout->addWidget(new WrapLine(lineGroup({title, m_path, choose}, kBetween, m_path),
                                   lineGroup({m_bits, m_write, close}, kBetween)));
    layout->addWidget(m_state);
    connect(m_path, &QLineEdit::textChanged, this, &ExportPanel::updateDepths);
    connect(m_path, &QLineEdit::textChanged, this, &ExportPanel::updateState);
    connect(m_bits, &QComboBox::currentIndexChanged, this, &ExportPanel::updateState);
    connect(&session, &Session::passesChanged, this, &ExportPanel::updateState);
    connect(m_path, &QLineEdit::returnPressed, this, &ExportPanel::write);
    connect(m_write, &QPushButton::clicked, this, [this] {
        if (m_background.running())
            m_stop.request_stop();
        else
            write();
    });
    // The name was another work's, whose file must not be replaced.
    connect(&session, &Session::opened, m_path, &QLineEdit::clear);
    connect(&session, &Session::opened, this, &ExportPanel::closed);
    connect(close, &QPushButton::clicked, this, &ExportPanel::closed);
    connect(choose, &QPushButton::clicked, this, [this] {
        const QString file = askFileToWrite(this, tr("Export the picture"), m_path->text(),
                                            tr("Pictures (*.exr *.png *.tif)"));
        if (!file.isEmpty())
            m_path->setText(file);
    });
}

void ExportPanel::present() {
    if (m_path->text().isEmpty())
        m_path->setText(
            QDir(m_session.folderForFiles()).filePath(m_session.title() + QStringLiteral(".png")));
    updateDepths();
    updateState();
    show();
    m_path->setFocus();
    m_path->selectAll();
}

void ExportPanel::updateDepths() {
    const QString ending = m_path->text().section('.', -1).toLower();
    const int before = m_bits->currentData().toInt();
    m_bits->clear();
    if (ending == "exr") {
        m_bits->addItem(tr("half float"), 16);
        m_bits->addItem(tr("float"), 32);
    } else {
        m_bits->addItem(tr("16 bits"), 16);
        m_bits->addItem(tr("8 bits"), 8);
        if (ending.startsWith("tif"))
            m_bits->addItem(tr("float, linear"), 32);
    }
    m_bits->setCurrentIndex(std::max(0, m_bits->findData(before)));
}

void ExportPanel::write() {
    if (m_background.running())
        return;
    const std::filesystem::path path = m_session.fileNamed(m_path->text());
    const int bits = m_bits->currentData().toInt();
    m_stop = std::stop_source();
    m_progress = 0;
    // Closing Noctis waits for the picture, so the thread's own token isn't used.
    m_background.start(
        [this, path, bits, project = m_session.project(), passes = m_session.passes(),
         stop = m_stop.get_token()](const std::stop_token&) -> std::function<void()> {
            requireExportable(path, project, bits);
            Evaluator evaluator(stepCatalogue());
            evaluator.setPasses(passes);
            const Image picture = evaluator.evaluate(
                project.recipe, {},
                {stop, [this](float done) { m_progress = static_cast<int>(100.0F * done); }});
            if (!stop.stop_requested())
                exportPicture(path, picture, project, bits);
            return [this, path, stopped = stop.stop_requested()] {
                updateState();
                const QString name = qstring(path.string());
                Q_EMIT m_session.notified(stopped
                                              ? tr("Export stopped; %1 wasn't written").arg(name)
                                              : tr("Wrote %1").arg(name),
                                          false);
            };
        },
        [this](const QString& text) {
            updateState();
            Q_EMIT m_session.notified(text, true);
        });
    m_shown.start();
    updateState();
}

void ExportPanel::updateState() {
    const bool writing = m_background.running();
    if (!writing)
        m_shown.stop();
    m_write->setText(writing ? tr("Stop") : tr("Export"));
    m_write->setToolTip(writing ? tr("Stops the export; the file stays as it is.")
                                : tr("Writes the picture at its full size."));
    if (writing) {
        m_state->setText(tr("Writing, %1 %").arg(m_progress.load()));
        return;
    }
    const PassSet& passes = m_session.passes();
    const bool linear = m_bits->currentData().toInt() == 32 ||
                        m_path->text().endsWith(QLatin1String(".exr"), Qt::CaseInsensitive);
    std::error_code unknown;
    const bool replaces =
        std::filesystem::is_regular_file(m_session.fileNamed(m_path->text()), unknown);
    m_state->setText(tr("%1 × %2 pixels, %3.%4")
                         .arg(passes.width)
                         .arg(passes.height)
                         .arg(linear ? tr("scene-linear") : tr("as the view shows it"),
                              replaces ? tr(" Replaces the file of that name.") : QString()));
}

void ExportPanel::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape)
        Q_EMIT closed();
    else
        QWidget::keyPressEvent(event);
}

}  // namespace noctis
