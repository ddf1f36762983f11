#pragma once

#include <QScrollArea>

class QPushButton;

namespace noctis {

/// Instruments that collapse to their headings to give the picture their room.
class LowerArea : public QScrollArea {
    Q_OBJECT
public:
    /// Takes ownership of the instruments; heights in pixels.
    LowerArea(QWidget& instruments, int least, int most, QWidget* parent = nullptr);

    [[nodiscard]] bool lowered() const { return m_lowered; }
    void setLowered(bool lowered);
    /// As tall as there is room, for a while.
    void setLarge(bool large);

protected:
    void resizeEvent(QResizeEvent* event) override;

private:
    void placeButton();

    int m_least;
    int m_most;
    bool m_lowered = false;
    QPushButton* m_button;
};

}  // namespace noctis
