#pragma once

#include "app/picture/picture_view.h"
#include "app/session/look_ground.h"

#include <QWidget>

#include <vector>

class QHBoxLayout;
class QLabel;
class QPushButton;

namespace noctis {

/// The line below the picture: what is under the pointer, channels, comparison, zoom.
class PictureBar : public QWidget {
    Q_OBJECT
public:
    explicit PictureBar(PictureView& view, QWidget* parent = nullptr);

    void setReading(const QString& text, const QString& help);
    /// Of the pass that is shown; none to take them away. chosen: -1 for all.
    void setChannels(const QStringList& names, int chosen);
    /// Choosing the comparison that is on turns it off.
    void setCompare(PictureView::Compare compare);
    /// The picture of a former render, or of another frame, can take the place of the untouched one.
    /// name: "Previous render", "Frame 12"; empty: there is none.
    void setFormer(const QString& name);
    [[nodiscard]] bool comparesFormer() const;
    void compareFormer();
    /// Whether the picture has an alpha that something is seen through.
    void setSeenThrough(bool seen);

    /// px of the full picture, from where it fills it.
    void moveGround(const V2f& by);
    /// Whether the ground can be dragged.
    [[nodiscard]] bool movesGround() const;

Q_SIGNALS:
    void groundChosen(const noctis::LookGround& ground);
    void channelChosen(int channel);
    void formerToggled(bool on);

private:
    void buildCompare(QHBoxLayout& row);
    void offerGrounds();
    void choose(const LookGround& ground);
    void lightCompare(PictureView::Compare compare);

    PictureView& m_view;
    QLabel* m_reading;
    QWidget* m_channels;
    std::vector<std::pair<PictureView::Compare, QPushButton*>> m_compare;
    QPushButton* m_former;
    QPushButton* m_groundButton;
    bool m_movesGround = false;
    LookGround m_ground;
};

}  // namespace noctis
