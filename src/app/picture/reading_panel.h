#pragma once

#include "core/passes/pass.h"

#include <QWidget>

class QComboBox;
class QDoubleSpinBox;
class QLabel;

namespace noctis {

/// How a depth pass of a file is read: the guess with its reason, to be corrected on the spot.
class ReadingPanel : public QWidget {
    Q_OBJECT
public:
    explicit ReadingPanel(QWidget* parent = nullptr);

    void setPass(const Pass& pass);

Q_SIGNALS:
    void corrected(const QString& pass, const noctis::Interpretation& reading);

private:
    void collect();
    void arrange();

    QString m_pass;
    bool m_filling = false;
    QLabel* m_reason;
    QComboBox* m_coding;
    QDoubleSpinBox* m_scale;
    QDoubleSpinBox* m_near;
    QDoubleSpinBox* m_far;
    QComboBox* m_bright;
    QComboBox* m_measure;
    QDoubleSpinBox* m_background;
    QWidget* m_scaleBox;
    QWidget* m_rangeBox;
};

}  // namespace noctis
