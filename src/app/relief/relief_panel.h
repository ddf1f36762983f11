#pragma once

#include "app/picture/shape_drawing.h"
#include "app/relief/shaping_card.h"
#include "app/session/relief_worker.h"

#include <QWidget>

class QGridLayout;
class QLabel;
class QMenu;
class QPushButton;

namespace noctis {

/// The right side of the room: source and shapings as cards, and what comes out of them in numbers.
class ReliefPanel : public QWidget {
    Q_OBJECT
public:
    ReliefPanel(Session& session, NameSource names, QWidget* parent = nullptr);

    void setRelief(const std::string& id);
    void takeProject();
    void setWorked(const WorkedRelief& worked);
    void setProblem(const QString& why);
    /// The shaping whose card is open; empty: none.
    [[nodiscard]] const std::string& editing() const { return m_editing; }
    /// The relief whose cards these are.
    [[nodiscard]] const std::string& reliefId() const { return m_id; }
    /// What of that card is drawn or clicked on the map.
    struct InHand {
        std::optional<std::string> way{};  ///< to a criterion of its Where
        std::string picked{};              ///< a setting that is places
        [[nodiscard]] bool any() const { return way || !picked.empty(); }
    };
    [[nodiscard]] const InHand& inHand() const { return m_inHand; }
    void setInHand(InHand inHand);
    [[nodiscard]] const Brush& brush() const { return m_brush; }
    void addShaping(const std::string& type);
    /// Opens a card, or closes it if it is open.
    void open(const std::string& id);

Q_SIGNALS:
    void handMoves(bool moves);
    void inHandChanged();
    void writeAsked();

private:
    void buildNumbers();
    void rebuildCards();
    void change(const QString& what, const QString& gesture,
                const std::function<void(Relief&)>& edit);
    void setNumber(const char* row, const QString& text);
    /// A remedy that is one click, beside what it mends.
    void offer(const QString& text, const QString& help, std::function<void()> remedy);
    [[nodiscard]] const Relief* relief() const;

    Session& m_session;
    NameSource m_names;
    std::string m_id;
    std::string m_editing;
    InHand m_inHand;
    Brush m_brush;
    QVBoxLayout* m_cardsLayout = nullptr;
    std::vector<ShapingCard*> m_cards;
    QMenu* m_add = nullptr;
    QWidget* m_figures = nullptr;  ///< hidden until there is a map
    QGridLayout* m_numbers = nullptr;
    std::map<std::string, QPushButton*> m_values;
    QLabel* m_warnings = nullptr;
    QLabel* m_notes = nullptr;
    QVBoxLayout* m_remedies = nullptr;
    QPushButton* m_write = nullptr;
};

}  // namespace noctis
