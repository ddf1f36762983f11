#pragma once

#include "app/session/session.h"

#include <QMenu>

namespace noctis {

/// All passes that can be rendered of the scene, by what they are about, alone or all of a kind at once.
class AddPassMenu : public QMenu {
    Q_OBJECT
public:
    explicit AddPassMenu(Session& session, QWidget* parent = nullptr);

private:
    enum class Topic { Place, Surface, Light, Names };
    static Topic topicOf(PassKind kind);
    void fill(QMenu* menu, Topic topic);
    void offer(QMenu* menu, const QString& label, const QString& help,
               const std::vector<PassRequest>& requests);
    /// all: the label of what adds them all.
    void offerEach(QMenu* menu, const QString& all, const std::vector<PassRequest>& requests,
                   const std::vector<QString>& labels);
    void add(const std::vector<PassRequest>& requests);

    Session& m_session;
};

}  // namespace noctis
