#pragma once

#include <QAbstractButton>

#include <map>
#include <string>

namespace noctis {

/// What a setting has in time.
enum class KeyState {
    None,       ///< it stands still
    Elsewhere,  ///< it has keys, none at this frame
    Here,       ///< it has one at this frame
};

/// By the owner of a setting, and the setting.
using KeyStates = std::map<std::string, std::map<std::string, KeyState>>;

/// Sets or takes a key of a setting at the frame that is shown.
class KeyButton : public QAbstractButton {
    Q_OBJECT
public:
    explicit KeyButton(const QString& setting, QWidget* parent = nullptr);

    void setState(KeyState state);
    [[nodiscard]] KeyState state() const { return m_state; }
    [[nodiscard]] QSize sizeHint() const override { return {14, 24}; }

Q_SIGNALS:
    void curveAsked();

protected:
    void contextMenuEvent(QContextMenuEvent*) override { Q_EMIT curveAsked(); }
    void paintEvent(QPaintEvent*) override;
    void enterEvent(QEnterEvent*) override { update(); }
    void leaveEvent(QEvent*) override { update(); }

private:
    KeyState m_state = KeyState::None;
};

}  // namespace noctis
