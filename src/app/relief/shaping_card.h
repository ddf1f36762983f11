#pragma once

#include "app/controls/value_editor.h"
#include "app/picture/shape_drawing.h"
#include "core/relief/relief.h"

#include <QFrame>

#include <optional>

class QLabel;
class QMenu;
class QVBoxLayout;

namespace noctis {

class SettingsForm;
class SwitchBox;
class WherePanel;

/// A shaping of the relief, or its source: what it does in one line; opened in place by a click.
class ShapingCard : public QFrame {
    Q_OBJECT
public:
    ShapingCard(const Shaping& shaping, NameSource names, QWidget* parent = nullptr);
    /// The source's own settings, without switch, Where and menu.
    ShapingCard(const Relief& relief, NameSource names, QWidget* parent = nullptr);

    [[nodiscard]] const std::string& id() const { return m_shaping.id; }
    [[nodiscard]] const std::string& type() const { return m_shaping.type; }
    void setShaping(const Shaping& shaping);
    void setProblem(const QString& text);
    void setOpen(bool open);
    /// What of it is drawn or clicked on the map: the way to a criterion of its Where, or a setting.
    void setInHand(const std::optional<std::string>& way, const std::string& picked);
    [[nodiscard]] bool isOpen() const { return m_open; }

Q_SIGNALS:
    void opened(const std::string& id);
    /// gesture: the same for all of one drag.
    void edited(const QString& what, const QString& gesture, const noctis::Shaping& shaping);
    void rested();
    /// Starts or stops drawing a criterion of its Where on the map.
    void inHandAsked(const QString& way, bool on);
    void brushChanged(const noctis::Brush& brush);
    /// Starts or stops clicking the places of a setting on the map.
    void picksAsked(const QString& setting, bool on);
    void moved(const std::string& id, int way);
    void removed(const std::string& id);

protected:
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;
    void paintEvent(QPaintEvent* event) override;

private:
    void build(const QString& label, const QString& help);
    void buildBody();
    void showMenu(const QPoint& at);

    Shaping m_shaping;
    const Declaration* m_type;
    bool m_isSource = false;
    NameSource m_names;
    bool m_open = false;
    QVBoxLayout* m_layout = nullptr;
    QLabel* m_title = nullptr;
    QLabel* m_summary = nullptr;
    QLabel* m_problem = nullptr;
    SwitchBox* m_on = nullptr;
    QWidget* m_body = nullptr;
    SettingsForm* m_form = nullptr;
    WherePanel* m_where = nullptr;
};

}  // namespace noctis
