#pragma once

#include <QWidget>

namespace noctis {

/// How much of a step shows, as a bar along the card's foot.
class AmountBar : public QWidget {
    Q_OBJECT
public:
    /// what: whose amount it is, for its tooltip: "the step".
    explicit AmountBar(const QString& what, QWidget* parent = nullptr);
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
    QString m_what;
    float m_amount = 1.0F;
    bool m_on = true;
    bool m_dragging = false;
};

}  // namespace noctis
