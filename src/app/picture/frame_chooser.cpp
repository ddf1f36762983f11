#include "app/picture/frame_chooser.h"

#include <QSignalBlocker>

#include <algorithm>

namespace noctis {

FrameChooser::FrameChooser(QWidget* parent) : QSpinBox(parent) {
    setObjectName("frame");
    setPrefix(tr("frame "));
    setKeyboardTracking(false);
    setAccessibleName(tr("Frame"));
    setToolTip(tr("Shows another frame of the sequence; the recipe stays."));
    hide();
    connect(this, &QSpinBox::valueChanged, this, &FrameChooser::frameChosen);
}

void FrameChooser::setFrames(std::vector<int> frames, int current) {
    m_frames = std::move(frames);
    setVisible(m_frames.size() > 1);
    if (m_frames.empty())
        return;
    const QSignalBlocker quiet(this);
    setRange(m_frames.front(), m_frames.back());
    setSuffix(tr(" of %1").arg(m_frames.back()));
    setValue(current);
}

void FrameChooser::stepBy(int steps) {
    const auto here = std::lower_bound(m_frames.begin(), m_frames.end(), value());
    const auto to = (here - m_frames.begin()) + steps;
    const auto last = static_cast<std::ptrdiff_t>(m_frames.size()) - 1;
    if (last >= 0)
        setValue(m_frames[static_cast<std::size_t>(std::clamp<std::ptrdiff_t>(to, 0, last))]);
}

}  // namespace noctis
