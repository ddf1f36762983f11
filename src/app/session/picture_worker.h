#pragma once

#include "app/session/look_ground.h"
#include "app/session/played_pictures.h"
#include "core/image/colour.h"
#include "core/recipe/evaluator.h"

#include <QElapsedTimer>
#include <QImage>
#include <QMap>
#include <QObject>

#include <condition_variable>
#include <functional>
#include <mutex>
#include <string>
#include <thread>

namespace noctis {

/// What the picture view shows.
struct PictureRequest {
    Recipe recipe;  ///< at that time
    FrameTime time{};
    std::string editing{};  ///< the id of the step being edited
    std::string solo{};     ///< of the only step that is shown
    std::string where{};    ///< of the step whose Where is wanted, too
    ViewTransform view = ViewTransform::SoftShoulder;
    float exposure = 0.0F;
    LookGround ground{};  ///< seen through its alpha
    bool moving = false;  ///< the hand moves: coarse now, full once it rests
    int playing = 0;      ///< it plays: made at 1/playing of the size, and kept; 0: it doesn't
    /// Whether both show the same picture, coarse or full.
    [[nodiscard]] bool sameAs(const PictureRequest& other) const {
        return recipe == other.recipe && time == other.time && solo == other.solo &&
               where == other.where && view == other.view && exposure == other.exposure &&
               ground == other.ground;
    }
    bool operator==(const PictureRequest&) const = default;
};

/// Works pictures on its own thread. The newest request counts: what is being made for an older one is
/// stopped, and a picture that comes too late is dropped. Only a hand that never rests long enough for
/// one coarse picture sees one that is a movement behind, so that it never sees none.
class PictureWorker : public QObject {
    Q_OBJECT
public:
    explicit PictureWorker(QObject* parent = nullptr);
    ~PictureWorker() override;

    /// state: differs between states of passes, so that what was played of them is known again; 0: not known.
    void setPasses(const PassSet& passes, std::uint64_t state = 0);
    void request(const PictureRequest& request);
    [[nodiscard]] bool idle() const;
    /// Whether the picture for a request that plays is kept; state: of the passes, as above; 0: those there are.
    [[nodiscard]] bool isPlayed(const PictureRequest& request, std::uint64_t state = 0) const;
    [[nodiscard]] PlayedPictures& played() { return m_played; }
    /// How many pictures were shown after the hand had moved on; for measuring.
    [[nodiscard]] int shownLate() const { return m_shownLate; }

Q_SIGNALS:
    void pictureReady(const QImage& picture, int factor);
    /// Where the step that was asked for works, as grey; null: it can't be had.
    void whereReady(const QImage& mask);
    void stepProblems(const QMap<QString, QString>& byStep);
    void stepNotices(const QMap<QString, QString>& byStep);

private:
    struct Job {
        PictureRequest request;
        std::optional<PassSet> passes;
        std::uint64_t state = 0;  ///< of the passes
        quint64 serial = 0;
    };
    struct Shown {
        QImage picture;
        QImage mask;
        int factor = 1;
        QMap<QString, QString> problems;
        QMap<QString, QString> notices;
    };
    /// Gives the evaluator the newest passes; false: there are none.
    bool takePasses(Evaluator& evaluator);
    /// As it is viewed, over its ground.
    [[nodiscard]] QImage viewedOf(const Image& picture, const PictureRequest& request,
                                  Shown& shown);
    [[nodiscard]] static EvaluateOptions optionsOf(const PictureRequest& request, int factor,
                                                   Shown& shown);
    void post(const std::function<void(Job&)>& fill);
    void loop(const std::stop_token& stop);
    void work(const Job& job, Evaluator& evaluator, const std::stop_token& stop);
    /// A picture that was played before, or is made, and kept, now.
    [[nodiscard]] Shown playedOf(const Job& job, Evaluator& evaluator, const std::stop_token& stop);
    [[nodiscard]] Shown shownOf(const Job& job, Evaluator& evaluator, int factor,
                                const std::stop_token& stop);
    void adaptScale(double taken);
    void deliver(quint64 serial, bool moving, const Shown& shown);
    [[nodiscard]] bool waitsLong() const;

    mutable std::mutex m_mutex;
    std::condition_variable_any m_wake;
    std::optional<Job> m_waiting;
    PictureRequest m_latest;
    std::stop_source m_inWork;  ///< stops the picture being made
    bool m_drawsMoving = false;
    bool m_working = false;
    quint64 m_serial = 0;       ///< changes with the picture
    std::uint64_t m_state = 0;  ///< of the passes
    PlayedPictures m_played;
    LookGrounds m_grounds;
    std::optional<PassSet> m_newPasses;  ///< of the thread: not with the evaluator yet
    int m_movingFactor = 2;
    int m_shownLate = 0;
    QElapsedTimer
        m_waits;  ///< since the hand moved and saw no picture; invalid when it saw the last
    std::jthread m_thread;  ///< last: it uses all of the above
};

}  // namespace noctis
