#pragma once

#include "app/session/picture_worker.h"
#include "app/session/session.h"

#include <QTimer>
#include <QWidget>

class QLabel;
class QPushButton;

namespace noctis {

class ExportPanel;
class PassPrints;
class PictureView;
class ReadingPanel;
class RecipePanel;
class Sounding;

/// The room where the picture is worked: prints, picture, recipe, and the Sounding below.
class PictureRoom : public QWidget {
    Q_OBJECT
public:
    explicit PictureRoom(Session& session, QWidget* parent = nullptr);

    [[nodiscard]] PictureView& view() { return *m_view; }
    [[nodiscard]] RecipePanel& recipe() { return *m_recipe; }
    [[nodiscard]] Sounding& sounding() { return *m_sounding; }
    [[nodiscard]] PictureWorker& worker() { return m_worker; }
    /// Shows a pass in the picture's place; empty: the picture.
    void showPass(const QString& name);
    void showExport();
    void setCompare(int index);
    void holdBefore(bool hold);

private:
    QWidget* buildViewBar();
    QWidget* buildSounding();
    void takePasses();
    void takeProject();
    void ask();
    void setHandMoving(bool moving);
    void probe(const QPointF& picture);
    void setFocusFrom(const QPointF& picture);
    void moveHandle(std::size_t step, std::size_t handle, float metres);
    void showChosenPass();

    Session& m_session;
    PictureWorker m_worker;
    PassPrints* m_prints;
    PictureView* m_view;
    RecipePanel* m_recipe;
    Sounding* m_sounding;
    ReadingPanel* m_reading;
    ExportPanel* m_export;
    QLabel* m_probe;
    QLabel* m_zoom;
    QWidget* m_channels;
    std::vector<QPushButton*> m_compare;
    PassSet m_probeSet;   ///< with the derived passes
    QString m_shownPass;  ///< empty: the picture
    int m_shownChannel = -1;
    QImage m_picture;
    bool m_handMoves = false;
    QTimer m_rest;
    std::optional<QPointF> m_focusMark;
    ViewTransform m_beforeView = ViewTransform::Film;
    float m_beforeExposure = 0.0F;
};

}  // namespace noctis
