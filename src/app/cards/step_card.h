#pragma once

#include "app/cards/where_panel.h"
#include "app/controls/key_button.h"
#include "core/recipe/key_edits.h"
#include "core/recipe/recipe.h"

#include <QFrame>

#include <map>
#include <string>

class QComboBox;
class QHBoxLayout;
class QLabel;
class QMenu;
class QPushButton;
class QVBoxLayout;

namespace noctis {

class AmountBar;
class SettingsForm;
class SwitchBox;

/// What a card offers besides the settings.
struct CardOffers {
    bool fixed = false;        ///< always there and on, everywhere: just settings
    bool mixes = true;         ///< amount, blend mode, and the step alone
    bool showsWhere = true;    ///< its Where over the picture, shared, and in a file
    bool picksPlaces = false;  ///< settings that are places are clicked
    bool keys = false;         ///< its settings can move in time
    bool groups = false;       ///< it can be put into a group, or taken out
    QString title{};           ///< in the place of the step's
    /// What a new criterion of its Where suits; unset: nothing is known.
    std::function<Surroundings()> around{};
    /// Has a part of the picture drawn, and hands it over; unset: nothing can be drawn.
    std::function<void(const QString& hint, std::function<void(const Tile&)>)> askPart{};
    std::string kept{};  ///< a setting that presets leave alone; may be empty
};

/// A step of a list: one line of what it does and where; opened, all its settings.
class StepCard : public QFrame {
    Q_OBJECT
public:
    /// type: of the step; none for one that can't be used.
    StepCard(const Step& step, const Declaration* type, CardOffers offers, NameSource names,
             QWidget* parent = nullptr);

    /// frame: that the step works on.
    void setStep(const Step& step, const NamedWheres& wheres, const ShownFrame& frame);
    void setOpen(bool open);
    /// remedy: offered beside it, and asked for by remedyAsked; empty: there is none.
    void setProblem(const QString& text, const QString& remedy = {});
    void setSoloed(bool soloed);
    void setWhereShown(WhereShown shown);
    /// What of it is drawn or clicked: the path to a criterion of its Where, or a setting.
    void setInHand(const std::optional<std::string>& path, const std::string& picked);
    /// Of a group: how many steps it has, and whether they are hidden.
    void setMembers(int count, bool folded);
    /// Of what has keys: by the path to a criterion, empty for the step itself, and the setting.
    void setKeys(const KeyStates& states);
    /// Whether a card for the one serves the other.
    [[nodiscard]] bool isFor(const Step& step) const;
    [[nodiscard]] const Step& step() const { return m_step; }
    [[nodiscard]] QString title() const;

Q_SIGNALS:
    void opened();
    /// what: for undo; gesture: the same for all of one drag.
    void edited(const QString& what, const QString& gesture, const noctis::Step& step);
    void rested();
    void moveAsked(int by);
    void duplicateAsked();
    void removeAsked();
    /// Puts it into a group of its own.
    void groupAsked();
    /// Takes it out of its group; a group: dissolves it.
    void ungroupAsked();
    void foldAsked();
    void remedyAsked();
    void refused(const QString& why);
    /// To add a step of that type with these settings beside this one.
    void companionAsked(const QString& what, const noctis::Step& step);
    /// Sets or takes a key, or shows the curve, of a setting of the step or of a criterion.
    void keyAsked(const noctis::TrackPlace& place);
    void curveAsked(const noctis::TrackPlace& place);
    void soloAsked(bool on);
    void shareWhereAsked(const QString& name);
    void whereShownAsked(noctis::WhereShown shown);
    void exportWhereAsked();
    /// Starts or stops drawing a criterion of its Where.
    void inHandAsked(const QString& path, bool on);
    void brushChanged(const noctis::Brush& brush);
    /// Starts or stops clicking the places of a setting.
    void picksAsked(const QString& setting, bool on);

protected:
    void mousePressEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;
    void paintEvent(QPaintEvent* event) override;

private:
    void buildHead();
    void buildBody();
    void addForm(QVBoxLayout& layout);
    void addOwnActions(QVBoxLayout& layout);
    /// part: that was drawn for it.
    void take(const CardAction& action, const std::optional<Tile>& part = {});
    void addWhere(QVBoxLayout& layout);
    [[nodiscard]] QHBoxLayout* buildFoot();
    void addMix(QHBoxLayout& foot);
    void addMixKeys(QVBoxLayout& layout);
    void addPresets(QMenu& menu);
    void addActions(QMenu& menu);
    void rename();
    void emitEdited(const QString& what, const QString& gesture);
    [[nodiscard]] bool isGroup() const { return m_step.type == kGroup; }
    [[nodiscard]] bool isHead(const QPointF& at) const;

    Step m_step;
    const Declaration* m_type;
    CardOffers m_offers;
    NamedWheres m_wheres;
    ShownFrame m_frame;
    NameSource m_names;
    bool m_open = false;
    bool m_soloed = false;
    std::optional<QPointF> m_pressed;
    QVBoxLayout* m_layout;
    QLabel* m_title;
    QPushButton* m_fold = nullptr;  ///< of a group
    QString m_members;
    KeyStates m_keys;
    std::map<std::string, KeyButton*> m_mixKeys;  ///< of the amount and the switch
    QLabel* m_summary;
    QLabel* m_problem;
    QPushButton* m_remedy;
    SwitchBox* m_on;
    AmountBar* m_amount;
    QWidget* m_body = nullptr;
    SettingsForm* m_form = nullptr;
    WherePanel* m_where = nullptr;
    QComboBox* m_blend = nullptr;
    QPushButton* m_solo = nullptr;
};

}  // namespace noctis
