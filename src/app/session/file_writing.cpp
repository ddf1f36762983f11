#include "app/session/file_writing.h"

#include "app/look/picture_paint.h"
#include "app/session/session.h"

#include <QPushButton>

namespace noctis {

namespace {

constexpr int kShownEveryMs = 100;

}  // namespace

FileWriting::FileWriting(Session& session, QPushButton* button)
    : m_session(session), m_button(button), m_label(button->text()), m_help(button->toolTip()) {
    m_shown.setInterval(kShownEveryMs);
    connect(&m_shown, &QTimer::timeout, this, &FileWriting::changed);
    connect(button, &QPushButton::clicked, this, [this] {
        if (running())
            m_stop.request_stop();
        else
            Q_EMIT asked();
    });
}

void FileWriting::start(const std::filesystem::path& path, Work work) {
    if (running())
        return;
    m_stop = std::stop_source();
    m_percent = 0;
    const RunContext run{m_stop.get_token(),
                         [this](float done) { m_percent = static_cast<int>(100.0F * done); }};
    // Closing Noctis waits for the file, so the thread's own token isn't used.
    m_background.start(
        [this, path, work = std::move(work), run](const std::stop_token&) -> std::function<void()> {
            const std::optional<QString> wrote = work(run);
            return [this, path, wrote] {
                show();
                const QString name = qstring(path.string());
                tell(wrote ? tr("Wrote %1%2").arg(name, *wrote)
                           : tr("Stopped; %1 wasn't written").arg(name),
                     false);
            };
        },
        [this](const QString& text) {
            show();
            tell(text, true);
        });
    show();
}

void FileWriting::tell(const QString& text, bool failed) {
    if (!m_failure.isEmpty())
        Q_EMIT m_session.settled(m_failure);
    m_failure = failed ? text : QString();
    Q_EMIT m_session.notified(text, failed);
}

void FileWriting::show() {
    const bool writes = running();
    if (writes)
        m_shown.start();
    else
        m_shown.stop();
    m_button->setText(writes ? tr("Stop") : m_label);
    m_button->setToolTip(writes ? tr("Stops writing; the file stays as it is.") : m_help);
    Q_EMIT changed();
}

}  // namespace noctis
