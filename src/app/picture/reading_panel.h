#pragma once

#include "core/passes/pass_reading.h"

#include <QWidget>

#include <array>

class QComboBox;
class QDoubleSpinBox;
class QHBoxLayout;
class QLabel;
class QPushButton;
class QVBoxLayout;

namespace noctis {

/// What a pass of a file is taken for and why, where it comes from, what is wrong with it, and how it is read instead:
/// to be corrected on the spot.
class ReadingPanel : public QWidget {
    Q_OBJECT
public:
    explicit ReadingPanel(QWidget* parent = nullptr);

    /// reading: the corrections so far. assumedAngle: how high the frame is taken to be, radians; unset where a
    /// file has a camera.
    void setPass(const Pass& pass, const PassReading& reading, std::optional<float> assumedAngle);
    /// What passes of certain names are read as in files to come.
    void setRules(const ReadingMap& rules);
    /// A place of the picture was clicked, px: whether it was one of the two known distances.
    bool takeClick(int x, int y);

Q_SIGNALS:
    void corrected(const QString& key, const noctis::PassReading& reading);
    void angleSet(float yfovRadians);
    void refused(const QString& why);
    void ruleKept(const QString& key, const noctis::PassReading& reading);
    void ruleRemoved(const QString& key);

protected:
    void resizeEvent(QResizeEvent*) override;

private:
    struct Known {
        QPushButton* pick = nullptr;
        QDoubleSpinBox* metres = nullptr;
        std::optional<KnownDistance> place;
    };
    void buildFirstRow(QVBoxLayout& column);
    void buildKnown(QVBoxLayout& column);
    void buildReason(QVBoxLayout& column);
    void collect();
    void arrange();
    /// All lines of the reason, whatever the width.
    void fitReason();
    void settleByKnown();
    void showRemedies(const Pass& pass);
    void showRules(const QPoint& at);
    void refreshRules();
    [[nodiscard]] PassReading asRule() const;

    Pass m_pass;  ///< shares its pixels
    PassReading m_reading;
    bool m_filling = false;
    bool m_told = false;  ///< the file itself says how it is read
    QLabel* m_reason;
    QHBoxLayout* m_remedies;
    ReadingMap m_rules;
    QPushButton* m_keepRule;
    QPushButton* m_listRules;
    QComboBox* m_kind;
    QComboBox* m_coding;
    QDoubleSpinBox* m_scale;
    QDoubleSpinBox* m_near;
    QDoubleSpinBox* m_far;
    QComboBox* m_bright;
    QComboBox* m_measure;
    QDoubleSpinBox* m_background;
    QComboBox* m_axes;
    QComboBox* m_normalCoding;
    QComboBox* m_green;
    QDoubleSpinBox* m_angle;
    QWidget* m_angleBox;
    QWidget* m_scaleBox;
    QWidget* m_rangeBox;
    QWidget* m_depthBox;
    QWidget* m_normalBox;
    QWidget* m_detailBox;
    QWidget* m_knownBox;
    std::array<Known, 2> m_known;
    int m_picking = -1;
};

}  // namespace noctis
