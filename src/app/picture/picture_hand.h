#pragma once

#include "app/picture/shape_drawing.h"
#include "app/session/session.h"
#include "core/project/handles.h"

#include <QObject>
#include <QPointF>

#include <functional>
#include <optional>

namespace noctis {

class Bearing;
class PictureView;
class Plan;
class RecipePanel;
class Sounding;

inline V2f toV2f(const QPointF& p) {
    return {static_cast<float>(p.x()), static_cast<float>(p.y())};
}

/// What the instruments show of a frame.
struct MeasuredFrame {
    ShownFrame shown;
    std::optional<Pass> depth;
    Image coarseDepth;   ///< for what is laid over the picture
    Image worldNormals;  ///< empty if there are none
};

/// overview: the frame's passes at a size that instruments need.
/// Threads  any.
MeasuredFrame measuredFrame(const PassSet& overview);

/// Where the hand works on the picture itself and on the instruments: what can be dragged of the recipe is
/// shown there, and what is dragged, clicked and drawn is done to the recipe.
class PictureHand : public QObject {
    Q_OBJECT
public:
    struct Instruments {
        PictureView* view;
        Sounding* sounding;
        Bearing* bearing;
        Plan* plan;
    };
    PictureHand(Session& session, RecipePanel& recipe, const Instruments& on, QObject* parent);

    /// What is asked before a click does anything else; true: it was taken.
    void setTakesFirst(std::function<bool(const QPointF&)> takes) {
        m_takesFirst = std::move(takes);
    }
    /// Shows what the recipe has now.
    void refresh();
    void takeFrame(const MeasuredFrame& frame);

Q_SIGNALS:
    void moves();
    void rested();

private:
    void showPictureHandles();
    void showPlan();
    void moveHandle(const std::string& owner, const std::string& handle, const HandleValue& to);
    void movePictureHandle(const std::string& owner, const std::string& handle,
                           const QPointF& picture);
    void movePlanMark(std::size_t index, const V3f& way);
    void movePlanBox(std::size_t index, const V3f& way);
    void rest();
    /// Tints what is not sharp while the focus moves.
    void showBlur(const std::string& owner);
    /// A click in the picture: for the chosen step, or else for the focus that is on.
    void takeClick(const QPointF& picture, Qt::KeyboardModifiers keys);
    /// Sets the chosen step's light by where its highlight is to fall; false: it has none.
    bool takeHighlight(const Step& step, const QPointF& picture);
    void focusAt(const std::string& step, const QPointF& picture);
    /// What a handle of that kind is moved to by a place in the picture; none where nothing was hit.
    [[nodiscard]] std::optional<HandleValue> valueAt(HandleKind kind, const QPointF& picture) const;
    [[nodiscard]] const HandleGroup* groupOf(const std::string& owner) const;

    // Drawing a criterion of the chosen step's Where.
    void takeDrawing();
    void beginStroke(const QPointF& at, bool takesAway, qreal pressure);
    void leadStroke(const QPointF& to, qreal pressure);
    void endStroke(const QPointF& at);
    /// The type of the criterion in hand; none if there is none.
    [[nodiscard]] const CriterionType* typeInHand() const;
    using SettingsEdit =
        std::function<std::optional<Settings>(const CriterionType&, const Settings&)>;
    void edit(const QString& gesture, const SettingsEdit& by);

    Session& m_session;
    RecipePanel& m_recipe;
    Instruments m_on;
    std::vector<HandleGroup> m_groups;
    std::vector<std::pair<std::string, std::string>> m_planMarks;  ///< owner and handle
    std::vector<std::pair<std::string, std::string>>
        m_planBoxes;  ///< owner, and handle of a corner
    std::optional<QPointF> m_focusMark;
    Image m_coarseDepth;  ///< for tints that follow the hand
    ShapeHand m_shape;
    std::function<bool(const QPointF&)> m_takesFirst;
};

}  // namespace noctis
