#pragma once

#include "app/cards/step_list.h"
#include "app/session/relief_worker.h"

class QGridLayout;
class QLabel;
class QMenu;
class QPushButton;
class QVBoxLayout;

namespace noctis {

/// The right side of the room: source and operations as cards, and what comes out of them in numbers.
class ReliefPanel : public StepList {
    Q_OBJECT
public:
    ReliefPanel(Session& session, NameSource names, QWidget* parent = nullptr);

    void setRelief(const std::string& id);
    void takeProject();
    void setWorked(const WorkedRelief& worked);
    void setProblem(const QString& why);
    /// The relief whose cards these are.
    [[nodiscard]] const std::string& reliefId() const { return m_id; }
    void addOperation(const std::string& type);

Q_SIGNALS:
    void writeAsked();

protected:
    [[nodiscard]] Steps steps() const override;
    [[nodiscard]] StepTypes types() const override;
    [[nodiscard]] CardOffers offersFor(const Step& step) const override;
    void changeSteps(const QString& what, const QString& gesture, const Edit& edit) override;
    void replaceStep(const QString& what, const QString& gesture, const Step& step) override;
    void endGesture() override;
    void layOut() override;

private:
    void buildHead();
    QWidget* buildColumn();
    void buildNumbers();
    void change(const QString& what, const QString& gesture,
                const std::function<void(Relief&)>& edit);
    void setNumber(const char* row, const QString& text);
    /// A remedy that is one click, beside what it mends.
    void offer(const QString& text, const QString& help, std::function<void()> remedy);
    [[nodiscard]] const Relief* relief() const;

    Session& m_session;
    std::string m_id;
    QVBoxLayout* m_layout = nullptr;
    QVBoxLayout* m_cardsLayout = nullptr;
    QMenu* m_add = nullptr;
    QWidget* m_figures = nullptr;  ///< hidden until there is a map
    QGridLayout* m_numbers = nullptr;
    std::map<std::string, QPushButton*> m_values;
    QLabel* m_warnings = nullptr;
    QLabel* m_notes = nullptr;
    QVBoxLayout* m_remedies = nullptr;
    QPushButton* m_write = nullptr;
};

/// The id of the source's card.
inline constexpr const char* kSourceCard = "source";

}  // namespace noctis
