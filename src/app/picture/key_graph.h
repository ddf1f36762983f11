#pragma once

#include "core/recipe/key_edits.h"
#include "core/settings/parameter.h"

#include <QWidget>

#include <optional>
#include <set>
#include <utility>
#include <vector>

namespace noctis {

/// A setting that moves.
struct MovingSetting {
    TrackPlace place;
    QString label;
    Parameter parameter;
    KeyList keys;  ///< none: it stands
    Value value;   ///< as it stands
    std::optional<Flicker> flicker{};

    /// Without its flicker.
    [[nodiscard]] Value at(double frame) const {
        return keys.empty() ? value : valueAt(keys, frame, parameter);
    }
};

/// Values over frames as curves: those of one setting with keys that are dragged, others faintly behind it. Double-click
/// sets a key on the curve, Delete takes those that are chosen; a key that eases has two handles for its bend, one that
/// settles a handle for how far and when it goes past. Two or more chosen keys have a line above them whose ends stretch
/// them in time.
class KeyGraph : public QWidget {
    Q_OBJECT
public:
    explicit KeyGraph(QWidget* parent = nullptr);

    void setSettings(std::vector<MovingSetting> settings);
    /// Which one is dragged.
    void choose(std::size_t index);
    /// rate: frames per second.
    void setFrames(std::pair<int, int> frames, int now, double rate);
    void chooseKeys(std::set<int> frames);
    /// The frames of the keys that are chosen.
    [[nodiscard]] const std::set<int>& chosenKeys() const noexcept { return m_chosenKeys; }
    [[nodiscard]] QPointF placeOf(double frame, float value) const;

Q_SIGNALS:
    void keysChosen();
    /// gesture: whether it is one of a drag, until rested.
    void keysEdited(const QString& what, const noctis::KeyList& keys, bool gesture);
    void rested();
    void frameChosen(int frame);

protected:
    bool event(QEvent* event) override;
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    static constexpr double kLeft = 62.0;  ///< px, of the values' labels
    static constexpr double kTop = 22.0;   ///< of the line that stretches keys

    enum class Grip { None, Frame, Keys, Band, FirstEnd, LastEnd, BendOut, BendIn, Settle };
    /// Values from the bottom to the top.
    struct Range {
        float low = 0.0F;
        float high = 1.0F;
    };
    struct Hit {
        Grip grip = Grip::None;
        int frame = 0;         ///< of the key
        std::size_t part = 0;  ///< of its value
    };

    [[nodiscard]] const MovingSetting* active() const;
    [[nodiscard]] QRectF area() const;
    [[nodiscard]] double frameAt(double x) const;
    [[nodiscard]] float valueAtY(double y) const;
    [[nodiscard]] Range rangeOf(const MovingSetting& setting) const;
    [[nodiscard]] QPointF placeIn(const Range& range, double frame, float value) const;
    [[nodiscard]] const Key* bentKey(const Key** next) const;
    [[nodiscard]] std::optional<QPointF> gripPlace(Grip grip) const;
    [[nodiscard]] Hit hitAt(const QPointF& at) const;
    void paintCurve(QPainter& painter, const MovingSetting& setting, const Range& range,
                    bool faint) const;
    void paintAxes(QPainter& painter) const;
    void paintGrips(QPainter& painter) const;
    void dragKeys(const QPointF& to, bool copies);
    void dragEnd(const QPointF& to);
    void dragBend(const QPointF& to);
    void edit(const QString& what, KeyList keys, bool gesture);
    void shiftChosen(int frames, float values);

    std::vector<MovingSetting> m_settings;
    std::size_t m_active = 0;
    std::pair<int, int> m_frames{1, 1};
    int m_now = 1;
    double m_rate = 24.0;
    std::set<int> m_chosenKeys;
    Range m_range;
    Hit m_hit;
    KeyList m_before;  ///< a drag
    std::set<int> m_chosenBefore;
    QPointF m_pressed;
    std::optional<QRectF> m_band;
};

}  // namespace noctis
