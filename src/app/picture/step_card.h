#pragma once

#include "app/picture/where_panel.h"
#include "core/recipe/recipe.h"

#include <QFrame>

class QComboBox;
class QHBoxLayout;
class QLabel;
class QMenu;
class QPushButton;
class QVBoxLayout;

namespace noctis {

class AmountBar;
class SettingsForm;
class SwitchBox;

/// A step of the recipe: one line of what it does and where; opened, all its settings.
class StepCard : public QFrame {
    Q_OBJECT
public:
    StepCard(const Step& step, NameSource names, QWidget* parent = nullptr);

    /// frame: that the step works on.
    void setStep(const Step& step, const NamedWheres& wheres, const ShownFrame& frame);
    void setOpen(bool open);
    void setProblem(const QString& text);
    void setSoloed(bool soloed);
    void setWhereShown(WhereShown shown);
    /// See WherePanel::setInHand.
    void setInHand(const std::optional<std::string>& way);
    /// Whether a card for the one serves the other.
    [[nodiscard]] bool isFor(const Step& step) const;

Q_SIGNALS:
    void opened();
    /// what: for undo; gesture: the same for all of one drag.
    void edited(const QString& what, const QString& gesture, const noctis::Step& step);
    void rested();
    void moveAsked(int way);
    void duplicateAsked();
    void removeAsked();
    void soloAsked(bool on);
    void shareWhereAsked(const QString& name);
    void whereShownAsked(noctis::WhereShown shown);
    void exportWhereAsked();
    void inHandAsked(const QString& way, bool on);
    void brushChanged(const noctis::Brush& brush);

protected:
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;
    void paintEvent(QPaintEvent* event) override;

private:
    void buildHead();
    void buildBody();
    [[nodiscard]] QHBoxLayout* buildFoot();
    void addPresets(QMenu& menu);
    void addActions(QMenu& menu);
    void rename();
    void emitEdited(const QString& what, const QString& gesture);

    Step m_step;
    NamedWheres m_wheres;
    ShownFrame m_frame;
    NameSource m_names;
    bool m_open = false;
    bool m_soloed = false;
    QVBoxLayout* m_layout;
    QLabel* m_title;
    QLabel* m_summary;
    QLabel* m_problem;
    SwitchBox* m_on;
    AmountBar* m_amount;
    QWidget* m_body = nullptr;
    SettingsForm* m_form = nullptr;
    WherePanel* m_where = nullptr;
    QComboBox* m_blend = nullptr;
    QPushButton* m_solo = nullptr;
};

}  // namespace noctis
