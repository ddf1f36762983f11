#pragma once

#include "app/session/background.h"
#include "app/session/frame_shelf.h"
#include "app/session/latest.h"
#include "app/session/pass_reader.h"
#include "app/session/pass_rules.h"
#include "app/session/sequence_frames.h"
#include "app/session/unsaved_work.h"
#include "core/passes/diagnosis.h"
#include "core/passes/pass_set.h"
#include "core/project/history.h"
#include "core/recipe/frame_context.h"
#include "core/recipe/surroundings.h"
#include "core/scene/scene.h"
#include "core/tracer/accelerator.h"
#include "core/tracer/pass_state.h"
#include "core/tracer/render.h"

#include <QFileSystemWatcher>
#include <QObject>
#include <QTimer>

#include <filesystem>
#include <map>
#include <memory>
#include <optional>

namespace noctis {

struct Job;

/// A scene made ready to trace.
struct LoadedScene {
    std::filesystem::path file;
    std::filesystem::file_time_type writtenAt;  ///< the file, as it was read
    Scene scene;
    std::unique_ptr<Accelerator> accelerator;
};

/// A still with one key has room to set another.
inline constexpr int kLeastFrames = 48;

/// The open project: the one place that holds it, changes it and announces changes.
class Session : public QObject {
    Q_OBJECT
public:
    explicit Session(std::filesystem::path dataFolder, QObject* parent = nullptr);

    [[nodiscard]] const Project& project() const { return m_history.current(); }
    [[nodiscard]] const History& history() const { return m_history; }
    /// The frame that Picture shows.
    [[nodiscard]] ShownFrame shownFrame() const;
    [[nodiscard]] const PassSet& passes() const { return m_frame.passes; }
    /// What is around something that is added: the passes, and the place of the picture clicked last.
    [[nodiscard]] Surroundings surroundings() const { return {passes(), m_pointed}; }
    void point(const V2f& picture) { m_pointed = picture; }
    /// What the frame's depth shows, m; see ShownFrame.
    void setDepthRange(float nearest, float farthest);
    /// The passes of a view, maybe without their pixels; none if it has none.
    [[nodiscard]] const PassSet* passesOf(const View& of) const;
    /// How the frame's passes are, against what would be rendered now, by their names; empty without a scene.
    [[nodiscard]] std::map<std::string, PassState> passStates() const;
    /// What would be rendered of a view.
    [[nodiscard]] WantedFrame wantedFrame(const View& of) const;
    [[nodiscard]] std::shared_ptr<const LoadedScene> scene() const { return m_scene; }
    /// Empty if it was never saved; see isExample().
    [[nodiscard]] const std::filesystem::path& file() const { return m_file; }
    [[nodiscard]] QString title() const;
    /// Whether there is work, or a rendered frame, that saving would keep.
    [[nodiscard]] bool unsaved() const;
    /// The view to render: as it was left, or the scene's first.
    [[nodiscard]] View view() const;
    /// The scene's views, then the artist's own.
    [[nodiscard]] std::vector<View> views() const;

    /// What the project renders of a view.
    [[nodiscard]] RenderRequest renderRequest(const View& of) const;

    /// Makes a change that can be undone. Changes of one gesture are one undo.
    void change(const QString& what, const QString& gesture,
                const std::function<void(Project&)>& edit);
    void endGesture();
    /// Changes the recipe as it is now in time; see editedAt.
    void changeRecipe(const QString& what, const QString& gesture,
                      const std::function<void(Recipe&)>& edit);
    /// The recipe as it is now in time, without keys.
    [[nodiscard]] Recipe recipeNow() const;

    /// The frame that is shown: state of the window, never of the project.
    [[nodiscard]] FrameTime time() const { return timeOf(m_now); }
    /// When a frame is.
    [[nodiscard]] FrameTime timeOf(int frame) const;
    /// From the first frame to the last one; the same for a still that nothing changes in time.
    [[nodiscard]] std::pair<int, int> frames() const;
    [[nodiscard]] double framesPerSecond() const;
    /// Shows another frame of a still with keys, or of a sequence: at once if it is kept, else when it is read. A frame
    /// that is missing has the passes of the nearest one.
    void goTo(int frame);
    /// Says which passes stand in for those of a frame that is missing.
    void noteGap(int frame);
    /// Of a sequence: the passes of the frame that is shown are still being read.
    [[nodiscard]] bool readingFrame() const;
    /// The frames of numbered pass files; none are of a still.
    [[nodiscard]] SequenceFrames& sequence() { return m_sequence; }
    /// Differs between states of the passes; 0: they are of a still, or were changed since they were read.
    [[nodiscard]] std::uint64_t passesState() const { return m_passesState; }
    void undo();
    void redo();

    void newProject();
    /// Scenes, pass files or a project, by their endings. Pass files are read off this thread, in the order
    /// they were asked for; see reader(). On error all stays as it was.
    void open(const std::vector<std::filesystem::path>& paths);
    /// Pass files that may be of another shot than the frame's: as a frame of their own, or as passes of this one.
    void openAsNew(const std::vector<std::filesystem::path>& files) { readFiles(files, {}, true); }
    void addToFrame(const std::vector<std::filesystem::path>& files) { readFiles(files, {}); }
    /// What reads the pass files.
    [[nodiscard]] PassReader& reader() { return m_reader; }
    /// Drops what is being read and what waits; the frame stays as it is.
    void stopReading();
    /// Unless another program changed the file since it was read or saved: then it is asked about, see
    /// fileIsAnother(), and left as it is.
    bool save(const std::filesystem::path& path);
    /// Whatever is in the file.
    bool saveOver(const std::filesystem::path& path);
    /// Puts passes just rendered into their view's frame; see addRendered.
    void takeRendered(const PassSet& rendered, const std::optional<Tile>& crop = {});
    /// How passes of certain names are read in files that are opened from now on.
    [[nodiscard]] PassRules& rules() { return m_rules; }
    /// How high a frame without a camera is taken to be.
    void setAssumedAngle(float yfovRadians);
    /// Reads a pass in another way; it is named by its key.
    void correctReading(const std::string& pass, const PassReading& reading);
    void repair(const std::string& pass, Repair repair);

    /// The project's pass files, of the frame whose passes are shown.
    [[nodiscard]] std::vector<std::filesystem::path> filesNow() const;
    /// Puts other files in the place of those the frame was read from: a new render. All steps stay, and what
    /// differs is said. The same files are read anew.
    void relink(const std::vector<std::filesystem::path>& files);

    /// Where new files of this work go first: beside the project, its scene or its passes; at home if those are
    /// examples.
    [[nodiscard]] QString folderForFiles() const;
    /// The file that a person's text names: from that folder on, or from home after "~/".
    [[nodiscard]] std::filesystem::path fileNamed(const QString& typed) const;
    /// A file in the folder for files that isn't there yet: of that name, with a number if needed.
    [[nodiscard]] QString freeFile(const QString& baseName, const QString& ending) const;
    /// What is kept from run to run: recent files, the window's place.
    [[nodiscard]] QString settingsFile() const;
    [[nodiscard]] QStringList recentFiles() const;
    /// What earlier runs left unsaved, each until it is returned to or declined.
    [[nodiscard]] const std::vector<UnsavedProject>& earlier() const { return m_unsaved.earlier(); }
    void returnTo(const UnsavedProject& left);
    void decline(const UnsavedProject& left) { m_unsaved.decline(left); }
    /// The project for work elsewhere: its view is that of the frame that is shown, and files hold its frames, but for
    /// those that no file holds yet.
    [[nodiscard]] Project projectElsewhere() const;
    /// The same with every frame in a file. passing: those of its files that just keep what is unsaved, and are gone some
    /// day.
    /// Errors   what keeps a frame from being kept.
    Project projectToSend(std::vector<std::filesystem::path>& passing);
    /// Before the end: keeps what is unsaved for the next run.
    /// Errors   what keeps it from being kept.
    void keepForNextTime();
    /// Or it is not.
    void forgetUnsaved() { m_unsaved.forget(); }
    /// Reads the scene anew; views, settings and passes stay.
    void reloadScene();
    [[nodiscard]] bool loadingScene() const { return m_sceneLoader.running(); }
    void stopReadingScene() { m_sceneLoader.askToStop(); }

Q_SIGNALS:
    void projectChanged();
    /// What the frame's depth shows is known.
    void frameMeasured();
    /// Another frame of the same passes is shown.
    void timeChanged();
    void passesChanged();
    void sceneChanged();
    /// The project's scene begins to be read.
    void sceneReading();
    void notified(const QString& text, bool warning);
    /// A warning about the pass of that key that repair() can settle.
    void repairOffered(const QString& text, const QString& pass, noctis::Repair repair);
    /// Files were opened that seem to be of another shot: openAsNew() or addToFrame(), newFirst: the first is likelier.
    void shotAsked(const QString& text, const std::vector<std::filesystem::path>& files,
                   bool newFirst);
    /// What was reported no longer holds.
    void settled(const QString& text);
    /// Another project was opened while this one was not saved; returnTo() takes it up again.
    void leftUnsaved(const QString& title, const noctis::UnsavedProject& left);
    /// The project's own file was changed by another program, or another window, and was not saved over.
    void fileIsAnother();
    /// Something is to go out of the project, with these views besides its own; the queue takes it. now: before what
    /// waits.
    void jobAsked(const noctis::Job& job, const std::vector<noctis::View>& views, bool now);
    /// The scene's file is another now; reloadScene() takes it.
    void sceneFileChanged();
    /// One of the frame's files is another now; relink() takes it.
    void passFilesChanged();
    /// Another project takes the place of the one before.
    void opened();
    /// What was opened is there, its passes too.
    void loaded();
    /// Other passes of the same project are about to take the frame's place.
    void relinking();
    /// They have. differs: what is not as it was.
    void relinked(const QString& differs);

private:
    /// Calls then when the project is open; not if it can't be.
    void openProjectFile(const std::filesystem::path& path, const std::function<void()>& then);
    void warnOpenedAlone(const std::filesystem::path& path);
    void openScene(const std::filesystem::path& path);
    void openPassFiles(const std::vector<std::filesystem::path>& all);
    /// note: said when they are open; may be empty.
    /// anew: as another frame, even if they would fit this one.
    void readFiles(const std::vector<std::filesystem::path>& paths, const QString& note,
                   bool anew = false);
    /// Asks about files that seem to be of another shot than the frame's; false: they don't.
    bool askedAboutShot(const std::vector<std::filesystem::path>& paths);
    /// Reads files, and adds them to the current frame or makes them a new one.
    PassReader::Work joiningWork(const std::vector<std::filesystem::path>& paths,
                                 const QString& note, bool anew);
    void joinFrame(const std::vector<std::filesystem::path>& paths, PassSet set,
                   const Readings& readings);
    void startWith(const std::vector<std::filesystem::path>& paths, PassSet set,
                   const Readings& readings);
    void noteOpened(const std::vector<std::filesystem::path>& paths, const QString& note);
    void warn(const QString& text) { Q_EMIT notified(text, true); }
    void start(Project project, std::filesystem::path file, PassSet passes);
    void loadScene(const std::filesystem::path& path);
    /// Brings the frame to what the project says of its files since it was changed.
    void followFiles(const Project& before);
    /// Whether the frame is one of numbered files.
    [[nodiscard]] bool isSequence() const;
    /// Looks at the folders of the project's pass files; where it names a frame's, that one is shown.
    void followSequence(bool opened);
    void showSequenceFrame(int way);
    void takeSequenceFrame(int frame, const SequenceFrames::Kept& kept);
    /// The passes aren't as they were read any more, or are of a still.
    void forgetState() { m_passesState = 0; }
    /// Reads the project's pass files as it says now, and what it says by then if that is another.
    void readAgain();
    void takeReadAgain(const std::vector<std::filesystem::path>& files, PassSet fresh);
    void takeRelinked(const std::vector<std::filesystem::path>& files, PassSet fresh);
    /// "shot.exr and 3 more"
    [[nodiscard]] static QString namesOf(const std::vector<std::filesystem::path>& files);
    /// Changes the frame's passes; what was derived of them, and warned of them, follows.
    void editPasses(const std::function<void()>& edit);
    static QString warningText(const Pass& pass, const std::string& warning);
    [[nodiscard]] QStringList passWarnings() const;
    void warnOfPasses();
    /// Brings the frame of the current view into work, where there is one; one that is in files comes
    /// when it is read.
    void followView();
    void readKept(const std::vector<std::filesystem::path>& files,
                  const std::function<void()>& then, const QString& once = {});
    /// Brings the frame's mist to what the project says, soon or at once.
    void deriveMist();
    void deriveMistNow();
    /// What its mist is to be derived from; nothing if it is as it should be.
    struct MistWork {
        Pass depth;
        Settings mist;
        std::map<std::string, std::string> settings;  ///< of the pass
    };
    [[nodiscard]] std::optional<MistWork> mistWork() const;
    [[nodiscard]] static Pass mistOf(const MistWork& work);
    void takeMist(Pass mist);
    void watchFiles();
    void readFrame(const std::vector<std::filesystem::path>& files, PassSet passes);
    void autosave();
    /// The project as it would be opened again: with the files that now hold its frames.
    [[nodiscard]] Project projectWithFrames() const;
    /// Writes rendered frames that no file holds, one after the other.
    void keepFrames();
    /// The same at once, for all.
    void keepNow();
    /// Before another project takes its place.
    /// Errors   where what is unsaved can't be kept; it then stays.
    void leave();
    void remember(const std::filesystem::path& path);

    std::filesystem::path m_dataFolder;
    std::filesystem::path m_file;
    std::string m_onDisk;  ///< what it holds, as far as is known
    History m_history;
    Frame m_frame;
    FrameShelf m_shelf;  ///< frames of other views
    UnsavedWork m_unsaved;
    PassRules m_rules;
    mutable SceneComparisons m_comparisons;
    int m_now = 1;       ///< the frame that is shown
    int m_passesOf = 1;  ///< of a sequence, the frame whose passes are
    std::uint64_t m_passesState = 0;
    std::optional<V2f> m_pointed;  ///< px
    float m_nearest = 0.0F;
    float m_farthest = 0.0F;
    unsigned m_change = 0;   ///< the latest of a frame
    unsigned m_notKept = 0;  ///< one that could not be written, and is not tried again
    std::shared_ptr<const LoadedScene> m_scene;
    std::shared_ptr<PanoramaCache> m_panoramas = std::make_shared<PanoramaCache>();
    QTimer m_autosave;
    QFileSystemWatcher m_watcher;
    QTimer m_filesSettle;  ///< files are often written in several goes
    std::map<std::filesystem::path, std::filesystem::file_time_type>
        m_writtenAt;  ///< as last known
    // Last, as they use all of the above.
    SequenceFrames m_sequence{this};
    Background m_sceneLoader{this};
    PassReader m_reader{this};
    Background m_frameWriter{this};
    Latest m_mist{this};
};

}  // namespace noctis
