#pragma once

#include "app/dispatch/dispatch_queue.h"
#include "app/dispatch/going_out.h"
#include "app/dispatch/job_presets.h"
#include "app/dispatch/written_view.h"
#include "app/rooms/room.h"
#include "app/session/latest.h"

#include <map>

class QButtonGroup;
class QLabel;
class QListWidget;
class QPushButton;
class QTimer;
class QVBoxLayout;

namespace noctis {

class DispatchForm;
class QueueList;
class Session;

/// The room of what goes out: what there is, what will be written, how, and the queue.
class DispatchRoom : public Room {
    Q_OBJECT
public:
    DispatchRoom(Session& session, DispatchQueue& queue, QWidget* parent = nullptr);

    [[nodiscard]] QString title() const override { return tr("Dispatch"); }
    [[nodiscard]] QString purpose() const override { return tr("What goes out, and the queue."); }
    [[nodiscard]] std::vector<RoomCommand> commands() override;
    [[nodiscard]] QString headDetail() const override;
    [[nodiscard]] QString headSize() const override;
    [[nodiscard]] QString tabDetail() const override { return m_progress; }
    [[nodiscard]] bool showsLight() const override { return false; }
    void enter() override;
    void fitPicture() override { m_written->fit(); }
    void showWholePixels() override { m_written->showWholePixels(); }

    [[nodiscard]] DispatchForm& form() { return *m_form; }
    [[nodiscard]] WrittenView& written() { return *m_written; }
    [[nodiscard]] QueueList& queueList() { return *m_queueList; }
    [[nodiscard]] const QString& chosen() const { return m_current; }
    /// Nothing is being worked out for the picture.
    [[nodiscard]] bool settled() const;
    /// Chooses what goes out; nothing if there is none of that id.
    void choose(const QString& id);
    /// Sets up one pass alone.
    void choosePass(const QString& name);

protected:
    void resizeEvent(QResizeEvent*) override;

private:
    struct Work;
    struct Shown;

    QWidget* buildLeft();
    QWidget* buildMiddle();
    QWidget* buildRight();
    QWidget* buildQueue();
    void refresh();
    void refreshList();
    void takeJob();
    /// Works out the files' names and the picture of the chosen one, soon.
    void preview();
    void previewNow();
    [[nodiscard]] Work workNow() const;
    static Shown worked(const Work& work);
    void takeShown(const Shown& shown);
    void listFiles(const Shown& shown);
    void offerPresets();
    void chooseGround(int ground);
    void enqueue();
    void showProgress();

    Session& m_session;
    DispatchQueue& m_queue;
    JobPresets m_presets;
    std::vector<GoingOut> m_all;
    std::map<QString, Job> m_edited;  ///< what was set up, by its id
    QString m_current;
    int m_file = 0;  ///< the one that is shown
    QString m_size;
    QString m_progress;  ///< of the job that runs
    QVBoxLayout* m_list;
    WrittenView* m_written;
    QLabel* m_values;
    QListWidget* m_files;
    DispatchForm* m_form;
    QPushButton* m_add;
    QPushButton* m_pause;
    QueueList* m_queueList;
    QWidget* m_right;
    QButtonGroup* m_grounds;
    QTimer* m_soon;
    bool m_stale = true;    ///< the project changed since this was shown
    Latest m_latest{this};  ///< last: its thread uses all of the above
};

}  // namespace noctis
