#pragma once

#include "core/recipe/recipe.h"

#include <QFrame>

class QComboBox;
class QLabel;
class QVBoxLayout;

namespace noctis {

class SettingsForm;
class SwitchBox;

/// The amount of a step as a bar along the card's foot.
class AmountBar : public QWidget {
    Q_OBJECT
public:
    explicit AmountBar(QWidget* parent = nullptr);
    void setAmount(float amount, bool on);

Q_SIGNALS:
    void moved(float amount);
    void rested();

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    void moveTo(qreal x);
    float m_amount = 1.0F;
    bool m_on = true;
    bool m_dragging = false;
};

/// A step of the recipe: one line of what it does; opened, all its settings.
class StepCard : public QFrame {
    Q_OBJECT
public:
    explicit StepCard(const Step& step, QWidget* parent = nullptr);

    void setStep(const Step& step);
    void setOpen(bool open);
    void setProblem(const QString& text);
    [[nodiscard]] const std::string& type() const { return m_step.type; }

Q_SIGNALS:
    void opened();
    /// what: for undo; gesture: the same for all of one drag.
    void edited(const QString& what, const QString& gesture, const noctis::Step& step);
    void rested();
    void moveAsked(int way);
    void duplicateAsked();
    void removeAsked();

protected:
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;
    void paintEvent(QPaintEvent* event) override;

private:
    void buildBody();
    void showMenu(const QPoint& at);
    void tell(const QString& what, const QString& gesture);

    Step m_step;
    bool m_open = false;
    QLabel* m_title;
    QLabel* m_summary;
    QLabel* m_problem;
    SwitchBox* m_on;
    AmountBar* m_amount;
    QWidget* m_body = nullptr;
    SettingsForm* m_form = nullptr;
    QComboBox* m_blend = nullptr;
    QVBoxLayout* m_layout;
};

}  // namespace noctis
