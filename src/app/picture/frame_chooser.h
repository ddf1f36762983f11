#pragma once

#include <QSpinBox>

#include <vector>

namespace noctis {

/// Goes through the frames of a sequence by number; hidden where there is just one.
class FrameChooser : public QSpinBox {
    Q_OBJECT
public:
    explicit FrameChooser(QWidget* parent = nullptr);

    /// frames: those there are, in their order.
    void setFrames(std::vector<int> frames, int current);
    /// To the next frame there is.
    void stepBy(int steps) override;

Q_SIGNALS:
    void frameChosen(int frame);

private:
    std::vector<int> m_frames;
};

}  // namespace noctis
