#pragma once

#include "app/hand/handle_marks.h"
#include "app/hand/where_hand.h"
#include "app/instruments/instrument.h"
#include "app/session/session.h"

#include <QObject>
#include <QPointF>

#include <functional>
#include <optional>

namespace noctis {

class PictureView;
class RecipePanel;

inline V2f toV2f(const QPointF& p) {
    return {static_cast<float>(p.x()), static_cast<float>(p.y())};
}

/// Where the hand works on the picture itself and on the instruments: what can be dragged of the recipe is
/// shown there, and what is dragged, clicked and drawn is done to the recipe.
class PictureHand : public QObject {
    Q_OBJECT
public:
    PictureHand(Session& session, RecipePanel& recipe, PictureView& view,
                std::vector<Instrument*> instruments, QObject* parent);

    /// What is asked before a click does anything else; true: it was taken.
    void setTakesFirst(std::function<bool(const QPointF&)> takes) {
        m_takesFirst = std::move(takes);
    }
    /// Shows what the recipe has now.
    /// The instrument that stands in the picture's place; none: all stand below it.
    void setLarge(Instrument* instrument);
    [[nodiscard]] const Instrument* large() const { return m_large; }
    void refresh();
    void takeFrame(const MeasuredFrame& frame);
    /// A handle that is no step's; none: there is none.
    void setLoose(std::optional<PictureHandle> handle);
    /// Has a part of the picture drawn; a click, or Escape, calls it off.
    void askPart(const QString& hint, std::function<void(const Tile&)> take);

Q_SIGNALS:
    void moves();
    void rested();
    void looseMoved(const QPointF& picture);

private:
    void showPictureHandles();
    /// As one change, however many.
    void move(const std::vector<HandleMove>& moves);
    void movePictureHandle(const std::string& owner, const std::string& handle,
                           const QPointF& picture);
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

    void endPart(const QPointF& at);
    /// Shows what of the chosen step's Where is drawn.
    void takeDrawing();

    Session& m_session;
    RecipePanel& m_recipe;
    PictureView& m_view;
    std::vector<Instrument*> m_instruments;
    Instrument* m_large = nullptr;
    Recipe m_now;  ///< as it is in time, for what is drawn
    std::vector<HandleGroup> m_groups;
    std::optional<QPointF> m_focusMark;
    Image m_coarseDepth;  ///< for tints that follow the hand
    WhereHand m_drawing;
    std::function<bool(const QPointF&)> m_takesFirst;
    std::optional<PictureHandle> m_loose;
    std::function<void(const Tile&)> m_takePart;  ///< set while a part is drawn
    QPointF m_partFrom;
};

}  // namespace noctis
