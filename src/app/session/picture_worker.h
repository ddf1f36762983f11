#pragma once

#include "core/image/colour.h"
#include "core/recipe/evaluator.h"

#include <QElapsedTimer>
#include <QImage>
#include <QObject>

#include <condition_variable>
#include <mutex>
#include <thread>

namespace noctis {

/// What the picture view shows.
struct PictureRequest {
    Recipe recipe;
    std::optional<std::size_t> editing;
    ViewTransform view = ViewTransform::Film;
    float exposure = 0.0F;
    bool moving = false;  ///< the hand moves: coarse now, full once it rests
};

/// Works pictures on a thread of its own. The newest request counts: a full picture gives way to it at
/// once; a coarse one, which takes a few hundredths of a second, is shown if nothing newer has been.
class PictureWorker : public QObject {
    Q_OBJECT
public:
    explicit PictureWorker(QObject* parent = nullptr);
    ~PictureWorker() override;

    void setPasses(const PassSet& passes);
    void request(const PictureRequest& request);
    /// For measuring: milliseconds from a request to its first picture.
    [[nodiscard]] double lastLatencyMs() const { return m_latencyMs; }
    [[nodiscard]] bool idle() const;

Q_SIGNALS:
    void pictureReady(const QImage& picture, int factor);
    void stepProblems(const QStringList& byStep);
    void busy(bool working);

private:
    void loop(const std::stop_token& stop);
    struct Job {
        PictureRequest request;
        std::optional<PassSet> passes;
        quint64 serial = 0;
        qint64 askedAt = 0;
    };
    void work(const Job& job, Evaluator& evaluator, const std::stop_token& stop);
    bool show(const Job& job, Evaluator& evaluator, int factor, const std::stop_token& stop);

    mutable std::mutex m_mutex;
    std::condition_variable_any m_wake;
    std::optional<Job> m_waiting;
    std::stop_source m_full;  ///< stops the full picture in work
    bool m_working = false;
    quint64 m_serial = 0;
    int m_movingFactor = 2;
    double m_latencyMs = 0.0;
    QElapsedTimer m_clock;
    std::jthread m_thread;  ///< last: it uses all of the above
};

}  // namespace noctis
