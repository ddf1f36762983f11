#pragma once

#include "app/controls/names_picker.h"
#include "app/session/render_worker.h"
#include "app/session/session.h"
#include "core/tracer/pass_state.h"

#include <QTimer>
#include <QWidget>

#include <map>

class QLabel;
class QProgressBar;
class QPushButton;
class QScrollArea;

namespace noctis {

class PassRow;

/// The passes to render, each with its settings and state, and what renders them.
class PassList : public QWidget {
    Q_OBJECT
public:
    explicit PassList(Session& session, RenderWorker& worker, QWidget* parent = nullptr);

    /// How the project's passes of a view are, in their order.
    [[nodiscard]] std::vector<PassState> statesOf(const View& view) const;
    /// Renders passes of the current view: those that are missing or stale, or all.
    void render(bool all);
    /// The same with passes that may not be in the list yet.
    void renderAlso(const std::vector<PassName>& passes);
    /// "34 %, 12 s left"; empty while nothing is rendered.
    [[nodiscard]] QString progress() const;
    /// Renders what is missing or stale of every view, one after the other.
    void renderViews();
    /// Renders all passes straight into a file; none of them is kept.
    void renderInto(const std::filesystem::path& file);
    /// What the view shows; one that is not rendered is offered to be.
    void setShown(const PassName& pass);
    /// What the view sees, to suggest settings by.
    void setDepth(const Image& depth) { m_depth = depth; }

Q_SIGNALS:
    void passChosen(const noctis::PassName& pass);

private:
    void rebuild();
    [[nodiscard]] NameChoices nameChoices() const;
    void refresh();
    /// What would be rendered of a view.
    [[nodiscard]] WantedFrame wantedFrame(const View& view) const;
    /// The views to choose from, the one that is looked through as it is now.
    [[nodiscard]] std::vector<View> views() const;
    /// Begins a render, if there is anything to do.
    void renderView(const View& view, bool all);
    void renderNextView();
    void forgetViews();
    /// What users should know about each pass before it is rendered.
    void lookForWarnings();
    [[nodiscard]] std::vector<std::string> warningsOf(const PassRequest& request,
                                                      const PassState& state) const;
    void showProgress();
    void edit(const std::string& pass, const QString& setting, const PassRequest& changed);

    Session& m_session;
    RenderWorker& m_worker;
    QScrollArea* m_scroll;
    std::vector<PassRow*> m_rows;
    PassName m_shown{PassKind::Beauty, {}};
    mutable SceneComparisons m_known;
    QPushButton* m_renderToo;
    QPushButton* m_stale;
    QPushButton* m_all;
    QPushButton* m_views;
    QPushButton* m_file;
    QPushButton* m_stop;
    QLabel* m_state;
    QProgressBar* m_bar;
    Image m_depth;
    std::optional<Tile> m_crop;     ///< of the running render
    std::vector<View> m_nextViews;  ///< to be rendered after it
    std::size_t m_viewCount = 0;    ///< of the job
    QTimer m_lookAhead;             ///< runs out when scene, view and settings have come to rest
    std::map<std::string, std::vector<std::string>> m_warnings;  ///< by pass
    std::string m_open;  ///< name of the pass whose settings are shown; empty for none
};

}  // namespace noctis
