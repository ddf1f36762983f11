#pragma once

#include "app/session/relief_worker.h"

#include <QWidget>

#include <memory>

class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;

namespace noctis {

class SwitchBox;
class ValueBar;

/// Queues a map, what derives from it, or its solid, before all that waits.
class ReliefExport : public QWidget {
    Q_OBJECT
public:
    explicit ReliefExport(Session& session, QWidget* parent = nullptr);
    /// The map that is written: the last one worked in full.
    void setWorked(const std::shared_ptr<const WorkedRelief>& worked);
    void present();

Q_SIGNALS:
    void closed();

protected:
    void keyPressEvent(QKeyEvent* event) override;

private:
    void updateFormats();
    void updateNote();
    void write();

    Session& m_session;
    std::shared_ptr<const WorkedRelief> m_worked;
    QComboBox* m_what;
    QLineEdit* m_path;
    QString m_offered;  ///< the file that was offered last
    QComboBox* m_bits;
    SwitchBox* m_dither;
    QLabel* m_ditherText;
    ValueBar* m_base;
    ValueBar* m_error;
    QPushButton* m_write;
    QLabel* m_note;
};

}  // namespace noctis
