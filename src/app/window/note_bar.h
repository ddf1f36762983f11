#pragma once

#include <QPointer>
#include <QWidget>

#include <array>
#include <deque>
#include <functional>
#include <vector>

class QLabel;
class QPushButton;
class QTimer;

namespace noctis {

/// What can be done about a note.
struct NoteAction {
    QString label;
    std::function<void()> run;
};

/// What Noctis has to say, one note at a time, in a line of its own at the foot of its parent: what stands there makes
/// room, and everything above stays where it is.
class NoteBar : public QWidget {
    Q_OBJECT
public:
    explicit NoteBar(QWidget* parent);

    /// What makes room; none: the line lies over the foot of the parent.
    void setFoot(QWidget* foot);
    void add(const QString& text, bool warning);
    /// A warning with a remedy.
    void warn(const QString& text, const QString& action, const std::function<void()>& accept);
    void takeBack(const QString& text);
    /// A passing note that something can be done about.
    void mention(const QString& text, const QString& action, const std::function<void()>& accept);
    /// A note that waits for an answer.
    void offer(const QString& text, const QString& action, const std::function<void()>& accept,
               const std::function<void()>& decline);
    /// A warning with several remedies.
    void ask(const QString& text, const std::vector<NoteAction>& actions);
    /// What is being done now, before all notes, once it has taken a moment; empty when it is over.
    void work(const QString& text, const std::function<void()>& stop);
    [[nodiscard]] QString text() const;

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void place();
    /// A passing note gives way to whatever comes next.
    void dropPassing();
    void showFirst();
    [[nodiscard]] bool showsWork() const;
    void act(std::size_t action);

    struct Note {
        QString text;
        bool warning = false;
        bool passing = false;
        std::vector<NoteAction> actions;
        std::function<void()> decline;
    };
    std::deque<Note> m_notes;
    QPointer<QWidget> m_foot;
    Note m_work;          ///< its text is empty if there is none
    QTimer* m_workDelay;  ///< runs while it is not shown yet
    QLabel* m_text;
    QLabel* m_more;
    std::array<QPushButton*, 3> m_actions{};
    QPushButton* m_close;
    QTimer* m_timer;
};

}  // namespace noctis
