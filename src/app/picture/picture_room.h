#pragma once

#include "app/instruments/instrument.h"
#include "app/picture/player.h"
#include "app/rooms/room.h"
#include "app/session/background.h"
#include "app/session/picture_worker.h"
#include "app/session/session.h"
#include "core/recipe/key_edits.h"

#include <QTimer>
#include <QWidget>

namespace noctis {

class ExportPanel;
class KeyCurves;
class PassPrints;
class PictureBar;
class PictureHand;
class PictureView;
class ReadingPanel;
class RecipePanel;
class StalePasses;
class TimeStrip;

/// The room where the picture is worked: prints, picture, recipe, and the instruments below.
class PictureRoom : public Room {
    Q_OBJECT
public:
    explicit PictureRoom(Session& session, QWidget* parent = nullptr);

    [[nodiscard]] PictureView& view() { return *m_view; }
    [[nodiscard]] RecipePanel& recipe() { return *m_recipe; }
    /// The instrument of that class.
    template <typename Kind> [[nodiscard]] Kind& instrument() const { return *findChild<Kind*>(); }
    [[nodiscard]] PictureWorker& worker() { return m_worker; }
    /// Whether everything shown is as it is asked for.
    [[nodiscard]] bool settled() const {
        return m_worker.idle() && !m_rest.isActive() && !m_measureLater && !m_measuring.running() &&
               !m_showing.running() && !m_session.readingFrame();
    }
    /// Shows a pass in the picture's place; empty: the picture.
    void showPass(const QString& name);
    void showExport();
    /// Writes where a step works, at full size.
    void exportWhere(const std::string& step, const std::filesystem::path& file);
    [[nodiscard]] PictureBar& bar() { return *m_bar; }
    /// The picture is compared with that of the render that was relinked.
    void compareFormer();
    /// Of a render that is going on; empty: none is.
    void setRendering(const QString& progress);

    [[nodiscard]] QString title() const override { return tr("Picture"); }
    [[nodiscard]] QString purpose() const override {
        return tr("The picture: steps, compared, exported.");
    }
    [[nodiscard]] QWidget* foot() const override { return m_foot; }
    [[nodiscard]] std::vector<RoomCommand> commands() override;
    void leave() override { holdBefore(false); }
    void fitPicture() override;
    void showWholePixels() override;
    void holdBefore(bool hold) override;

Q_SIGNALS:
    /// To render passes that are stale, and these even if they were never asked for.
    void renderAsked(const std::vector<noctis::PassName>& passes);
    void stopRenderAsked();
    /// To set up how a pass goes out.
    void exportPassAsked(const QString& pass);

protected:
    void resizeEvent(QResizeEvent*) override;

private:
    QWidget* buildInstruments();
    /// In the picture's place; none: back to below it.
    void enlarge(Instrument* instrument);
    void setNeedle(const Needle& needle);
    void takePasses();
    /// Brings what stands in a pass's place to what is chosen.
    void takeShown(const QString& name, int channel, const QImage& picture,
                   const QStringList& channels);
    /// Offers a ground where something is seen through the picture.
    void showSeenThrough();
    /// Where the ground is dragged.
    void showGroundHandle();
    void takeProject();
    /// What to do first, where there is nothing.
    void showHint();
    void showStates();
    void showTime();
    void connectTime();
    /// What is shown at a frame, as it is asked for while it plays.
    [[nodiscard]] PictureRequest requestAt(const FrameTime& time) const;
    [[nodiscard]] bool isReady(int frame) const;
    void setPlaying(bool plays);
    void showKept();
    /// Shows curves in the instruments' place, or those again.
    void setCurvesShown(bool shown);
    void showCurves();
    void takeTime();
    /// Prints and instruments of the passes.
    void measure();
    /// Half the room's size is enough for what moves.
    [[nodiscard]] int playingFactor() const;
    void ask();
    void setHandMoving(bool moving);
    void probe(const QPointF& picture);
    void takeWhere(const QImage& mask);
    void showChosenPass();
    /// name: what it is of; see PictureBar::setFormer.
    void setFormer(const QImage& former, const QString& name);
    void showBefore();

    Session& m_session;
    QWidget* m_foot;
    PictureWorker m_worker;
    PassPrints* m_prints;
    StalePasses* m_stale;
    TimeStrip* m_time;
    QWidget* m_instrumentRow;
    KeyCurves* m_curves;   ///< in the instruments' place
    TrackPlace m_curveOf;  ///< shown though nothing moves it yet
    PictureView* m_view;
    RecipePanel* m_recipe;
    std::vector<Instrument*> m_instruments;
    PictureHand* m_hand;
    ReadingPanel* m_reading;
    ExportPanel* m_export;
    PictureBar* m_bar;
    LookGround m_ground;
    std::string m_shownKey;  ///< of a pass that is read from a file
    QString m_shownPass;     ///< empty: the picture
    int m_shownChannel = -1;
    QImage m_picture;
    QImage m_former;  ///< of the render that another took the place of, or of another frame
    QString m_formerName;
    QImage m_whereMask;
    bool m_handMoves = false;
    bool m_measureLater = false;  ///< what was played over isn't measured yet
    QTimer m_rest;
    Player m_player;
    ViewTransform m_beforeView = ViewTransform::SoftShoulder;
    float m_beforeExposure = 0.0F;
    // Last, as they use the above.
    Background m_exporting{this};
    Latest m_measuring{this};
    Latest m_showing{this};
};

}  // namespace noctis
