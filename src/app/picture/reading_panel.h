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

    /// assumedAngle: how high the frame is taken to be, radians; unset where a file told its camera.
    void setPass(const Pass& pass, std::optional<float> assumedAngle);

Q_SIGNALS:
    void corrected(const QString& pass, const noctis::Interpretation& reading);
    void angleSet(float yfovRadians);

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
    QDoubleSpinBox* m_angle;
    QWidget* m_angleBox;
    QWidget* m_scaleBox;
    QWidget* m_rangeBox;
};

}  // namespace noctis
