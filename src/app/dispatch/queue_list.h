#pragma once

#include "app/dispatch/dispatch_queue.h"

#include <QScrollArea>

class QVBoxLayout;

namespace noctis {

class QueueCard;

/// The queue's jobs as cards, in their order, which is changed by dragging or with Alt and the arrow keys.
class QueueList : public QScrollArea {
    Q_OBJECT
public:
    explicit QueueList(DispatchQueue& queue, QWidget* parent = nullptr);

    [[nodiscard]] const std::vector<QueueCard*>& cards() const { return m_cards; }

private:
    void refresh();
    void move(const std::string& id, int by);
    void dragTo(const std::string& id, int y);

    DispatchQueue& m_queue;
    QVBoxLayout* m_column;
    QWidget* m_empty;
    std::vector<QueueCard*> m_cards;
};

}  // namespace noctis
