#pragma once

#include "app/session/background.h"
#include "core/image/run_context.h"

#include <QTimer>

#include <atomic>
#include <filesystem>
#include <optional>

class QPushButton;

namespace noctis {

class Session;

/// Writes a file in the background, one at a time, begun and stopped by the same button. Closing Noctis waits for
/// it. Let it be its class's last member.
class FileWriting : public QObject {
    Q_OBJECT
public:
    /// The button keeps its text and tooltip for when nothing is written.
    FileWriting(Session& session, QPushButton* button);

    /// Writes path and says what it wrote; nothing if it was stopped before.
    using Work = std::function<std::optional<QString>(const RunContext& run)>;
    void start(const std::filesystem::path& path, Work work);
    [[nodiscard]] bool running() const noexcept { return m_background.running(); }
    [[nodiscard]] int percent() const noexcept { return m_percent; }

Q_SIGNALS:
    void asked();    ///< the button was pressed to begin
    void changed();  ///< it began, came further or ended

private:
    void show();
    /// Says how it went, in the place of what went wrong before.
    void tell(const QString& text, bool failed);

    Session& m_session;
    QString m_failure;  ///< that is still shown
    QPushButton* m_button;
    QString m_label;
    QString m_help;
    QTimer m_shown;
    std::stop_source m_stop;
    std::atomic<int> m_percent = 0;
    Background m_background{this};
};

}  // namespace noctis
