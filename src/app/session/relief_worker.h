#pragma once

#include "app/session/session.h"
#include "core/relief/height_file.h"
#include "core/relief/map_picture.h"
#include "core/relief/relief.h"

#include <QObject>

#include <condition_variable>
#include <map>
#include <memory>
#include <mutex>
#include <thread>

namespace noctis {

/// What the room shows of a relief.
struct ReliefRequest {
    Relief relief;
    std::string editing{};  ///< the operation the hand is at
    bool moving = false;    ///< smaller now, full once the hand rests
    bool operator==(const ReliefRequest&) const = default;
};

/// A relief as it was worked.
struct WorkedRelief {
    ReliefRequest request;
    std::shared_ptr<const FieldPyramid> map;
    HeightReport report;  ///< of 16 bits
    HeightStatistics statistics;
    std::vector<float> counts;  ///< of heights from lowest to highest, 0..1
    int factor = 1;             ///< its size over the full one
    QString source;             ///< where it is from
    FrameSize frame;            ///< that it is made from
    PassSet passes{};           ///< of that frame
};

/// Works reliefs on its own thread; the newest request counts. Inputs that were read or traced are kept
/// by what they are from.
class ReliefWorker : public QObject {
    Q_OBJECT
public:
    explicit ReliefWorker(QObject* parent = nullptr);
    ~ReliefWorker() override;

    /// What is open: the frame in Picture, the scene, its views.
    void setSurroundings(const PassSet& frame, std::shared_ptr<const LoadedScene> scene,
                         std::vector<View> views);
    void request(const ReliefRequest& request);
    [[nodiscard]] bool idle() const;

Q_SIGNALS:
    void worked(const std::shared_ptr<const noctis::WorkedRelief>& relief);
    void failed(const QString& relief, const QString& why);
    /// Something long is read or traced.
    void busy(const QString& what);

private:
    struct Surroundings {
        PassSet frame;
        std::shared_ptr<const LoadedScene> scene;
        std::vector<View> views;
        unsigned serial = 0;
    };
    struct Job {
        ReliefRequest request;
        Surroundings around;
    };
    struct Kept {
        std::string from;
        std::unique_ptr<ReliefEvaluator> evaluator;
    };
    void loop(const std::stop_token& stop);
    void work(const Job& job, const std::stop_token& stop);
    /// None when it was stopped.
    [[nodiscard]] ReliefEvaluator* evaluatorFor(const Job& job, const std::stop_token& stop);
    void post();

    mutable std::mutex m_mutex;
    std::condition_variable_any m_wake;
    std::optional<ReliefRequest> m_waiting;
    std::optional<ReliefRequest> m_latest;
    Surroundings m_around;
    std::stop_source m_inWork;
    bool m_working = false;
    bool m_drawsMoving = false;
    std::vector<Kept> m_kept;  ///< of the thread alone
    std::jthread m_thread;     ///< last: it uses all of the above
};

}  // namespace noctis
