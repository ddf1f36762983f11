#pragma once

#include <QWidget>

#include <deque>

class QLabel;
class QPushButton;

namespace noctis {

/// What Noctis has to say, at the window's foot: one note at a time, none of them in the way.
class NoteBar : public QWidget {
    Q_OBJECT
public:
    explicit NoteBar(QWidget* parent = nullptr);

    void tell(const QString& text, bool warning);
    void takeBack(const QString& text);
    /// A passing note that something can be done about.
    void mention(const QString& text, const QString& action, const std::function<void()>& accept);
    /// A note that waits for an answer.
    void offer(const QString& text, const QString& action, const std::function<void()>& accept,
               const std::function<void()>& decline);
    [[nodiscard]] QString text() const;

private:
    void showFirst();

    struct Note {
        QString text;
        bool warning = false;
        bool passing = false;
        QString action;
        std::function<void()> accept;
        std::function<void()> decline;
    };
    std::deque<Note> m_notes;
    QLabel* m_text;
    QLabel* m_more;
    QPushButton* m_action;
    QPushButton* m_close;
    class QTimer* m_timer;
};

}  // namespace noctis
