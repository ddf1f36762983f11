#include "app/dispatch/queue_list.h"

#include "app/dispatch/queue_card.h"
#include "app/look/picture_paint.h"
#include "app/look/theme.h"

#include <QDesktopServices>
#include <QLabel>
#include <QUrl>
#include <QVBoxLayout>

#include <algorithm>

namespace noctis {

QueueList::QueueList(DispatchQueue& queue, QWidget* parent) : QScrollArea(parent), m_queue(queue) {
    setObjectName("queue");
    setWidgetResizable(true);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setFrameShape(QFrame::NoFrame);
    setFocusPolicy(Qt::NoFocus);
    auto* body = new QWidget;
    m_column = new QVBoxLayout(body);
    m_column->setContentsMargins(14, 0, 14, 8);
    m_column->setSpacing(6);
    auto* empty =
        new QLabel(tr("Nothing is queued. What you add here is written while you work "
                      "on, also in other rooms, and goes on when Noctis is opened again."));
    empty->setProperty("role", "quiet");
    empty->setWordWrap(true);
    m_empty = empty;
    m_column->addWidget(m_empty);
    m_column->addStretch(1);
    setWidget(body);
    connect(&queue, &DispatchQueue::changed, this, &QueueList::refresh);
    refresh();
}

void QueueList::refresh() {
    const std::vector<QueuedJob> jobs = m_queue.jobs().jobs();
    const bool paused = m_queue.jobs().paused();
    const bool same = std::ranges::equal(
        jobs, m_cards, {}, [](const QueuedJob& queued) { return queued.job.id; },
        [](const QueueCard* card) { return card->id(); });
    if (!same) {
        std::vector<QueueCard*> cards;
        for (const QueuedJob& queued : jobs) {
            const auto known = std::ranges::find_if(
                m_cards, [&](const QueueCard* card) { return card->id() == queued.job.id; });
            if (known != m_cards.end()) {
                cards.push_back(*known);
                continue;
            }
            const std::string id = queued.job.id;
            auto* card = new QueueCard(id);
            connect(card, &QueueCard::stopAsked, this, [this, id] { m_queue.jobs().stop(id); });
            connect(card, &QueueCard::retryAsked, this, [this, id] { m_queue.jobs().retry(id); });
            connect(card, &QueueCard::removeAsked, this, [this, id] { m_queue.jobs().remove(id); });
            connect(card, &QueueCard::folderAsked, this,
                    [folder = qstring(queued.job.to.parent_path().string())] {
                        QDesktopServices::openUrl(QUrl::fromLocalFile(folder));
                    });
            connect(card, &QueueCard::dragged, this, [this, id](int y) { dragTo(id, y); });
            connect(card, &QueueCard::moveAsked, this, [this, id](int by) { move(id, by); });
            cards.push_back(card);
        }
        for (QueueCard* card : m_cards)
            if (std::ranges::find(cards, card) == cards.end()) {
                card->hide();
                card->deleteLater();
            }
        m_cards = cards;
        for (std::size_t i = 0; i < m_cards.size(); ++i)
            m_column->insertWidget(static_cast<int>(i), m_cards[i]);
    }
    for (std::size_t i = 0; i < m_cards.size(); ++i)
        m_cards[i]->showJob(jobs[i], paused);
    m_empty->setVisible(jobs.empty());
    for (QueueCard* card : m_cards)
        card->show();
}

void QueueList::move(const std::string& id, int by) {
    const auto at =
        std::ranges::find_if(m_cards, [&](const QueueCard* card) { return card->id() == id; }) -
        m_cards.begin();
    const auto to = at + by;
    if (to >= 0 && to < static_cast<std::ptrdiff_t>(m_cards.size()))
        m_queue.jobs().move(id, static_cast<std::size_t>(to));
}

void QueueList::dragTo(const std::string& id, int y) {
    std::size_t place = 0;
    for (const QueueCard* card : m_cards)
        if (card->id() != id && card->geometry().center().y() < y)
            ++place;
    if (place >= m_cards.size() || m_cards[place]->id() != id)
        m_queue.jobs().move(id, place);
}

}  // namespace noctis
