#pragma once

#include "app/dispatch/going_out.h"

#include <QScrollArea>

#include <utility>

class QComboBox;
class QLabel;
class QLineEdit;
class QListWidget;
class QSpinBox;
class QVBoxLayout;

namespace noctis {

class NumberBox;
class Session;
class SwitchBox;

/// How something goes out: format, colours, frame, names. Shows the rows that its kind has.
class DispatchForm : public QScrollArea {
    Q_OBJECT
public:
    explicit DispatchForm(Session& session, QWidget* parent = nullptr);

    /// Edits this job; what is open says which views, passes and frames there are.
    void setJob(const Job& job);
    [[nodiscard]] const Job& job() const { return m_job; }
    /// An example of the names, below them; a problem in its place.
    void setExample(const QString& text, bool problem);

Q_SIGNALS:
    void changed();

private:
    /// With its label; hidden while its condition in m_shown doesn't hold.
    QWidget* addRow(const QString& label, const QString& help, QWidget* field);
    void addFormatRows();
    void addContentRows();
    void addFrameRows();
    void addSheetRows();
    void addReliefRows();
    void addNameRows();
    /// Rows that the job has now.
    void showRows();
    void fill();
    void fillFormats();
    void fillDepths();
    void fillList(QListWidget& list, const std::vector<std::pair<QString, bool>>& entries) const;
    void fillViews();
    /// Puts what was edited into the job.
    void take();
    void takeFormat();
    void takeFraming(JobSettings& settings);
    void takeContent(JobSettings& settings);
    [[nodiscard]] bool solid() const;

    Session& m_session;
    Job m_job;
    bool m_filling = false;
    QVBoxLayout* m_rows;
    QComboBox* m_format;
    QComboBox* m_depth;
    QComboBox* m_alpha;
    QComboBox* m_packing;
    QComboBox* m_grey;
    NumberBox* m_nearest;
    NumberBox* m_farthest;
    QComboBox* m_render;
    QComboBox* m_resample;
    QComboBox* m_as;
    QListWidget* m_views;
    QListWidget* m_passes;
    QListWidget* m_reliefs;
    QSpinBox* m_first;
    QSpinBox* m_last;
    QSpinBox* m_columns;
    QSpinBox* m_padding;
    SwitchBox* m_dither;
    SwitchBox* m_bridge;
    SwitchBox* m_trim;
    SwitchBox* m_power;
    NumberBox* m_base;
    NumberBox* m_within;
    QLineEdit* m_sets;
    QLineEdit* m_crop;
    QLineEdit* m_size;
    QLineEdit* m_bars;
    QLineEdit* m_pivot;
    QLineEdit* m_folder;
    QLineEdit* m_name;
    QLabel* m_example;
    std::vector<std::pair<QWidget*, bool (DispatchForm::*)() const>> m_shown;
    [[nodiscard]] bool hasDepths() const;
    [[nodiscard]] bool hasDither() const;
    [[nodiscard]] bool hasAlpha() const;
    [[nodiscard]] bool isPasses() const { return m_job.kind == JobKind::Passes; }
    [[nodiscard]] bool hasGreys() const;
    [[nodiscard]] bool hasSpan() const;
    [[nodiscard]] bool isRelief() const { return m_job.kind == JobKind::Relief; }
    [[nodiscard]] bool isFramed() const { return !isRelief(); }
    [[nodiscard]] bool hasBars() const { return isFramed() && !isPasses(); }
    [[nodiscard]] bool isResampled() const;
    [[nodiscard]] bool isSheet() const { return m_job.kind == JobKind::Sheet; }
    [[nodiscard]] bool hasViews() const;
    [[nodiscard]] bool hasFrames() const { return m_job.frames.has_value(); }
    [[nodiscard]] bool canRender() const;
    [[nodiscard]] bool canSet() const;
};

}  // namespace noctis
