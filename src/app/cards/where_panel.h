#pragma once

#include "app/controls/key_button.h"
#include "app/controls/value_editor.h"
#include "app/hand/shape_drawing.h"
#include "core/recipe/recipe.h"

#include <QWidget>

#include <optional>

class QComboBox;
class QHBoxLayout;
class QLabel;
class QPushButton;
class QVBoxLayout;

namespace noctis {

class SettingsForm;

/// How a step's Where is shown over the picture.
enum class WhereShown { No, Overlay, Matte };

/// Where a step works: criteria, all or any of which must hold, and what is done to their edges.
class WherePanel : public QWidget {
    Q_OBJECT
public:
    explicit WherePanel(NameSource names, std::function<Surroundings()> around = {},
                        QWidget* parent = nullptr);

    void setWhere(const Where& where, const NamedWheres& named);
    void setShown(WhereShown shown);
    /// For a Where that is neither shown over the picture nor shared nor written to a file.
    void leaveOutViews();
    /// Marks the criterion that is drawn: the path to it through the parts; none: none is.
    void setInHand(const std::optional<std::string>& path);
    /// Gives the settings of criteria buttons for their keys.
    void offerKeys();
    /// By the path to a criterion, and the setting.
    void setKeys(const KeyStates& states);

Q_SIGNALS:
    /// Sets or takes a key, or shows the curve, of a criterion's setting.
    void keyAsked(const QString& criterion, const QString& setting);
    void curveAsked(const QString& criterion, const QString& setting);
    /// what: for undo; gesture: the same for all of one drag.
    void edited(const QString& what, const QString& gesture, const noctis::Where& where);
    void rested();
    /// Asks for the Where to be shared under a name.
    void shareAsked(const QString& name);
    void shownAsked(noctis::WhereShown shown);
    /// Asks for it to be written to a file.
    void exportAsked();
    /// Starts or stops drawing a criterion on the picture.
    void inHandAsked(const QString& path, bool on);
    void brushChanged(const noctis::Brush& brush);

private:
    /// A part as it stands in its own row.
    struct Row {
        std::string kind;  ///< what the row was built for
        SettingsForm* form = nullptr;
        QPushButton* turned = nullptr;
        QPushButton* drawn = nullptr;  ///< none where it can't be drawn
    };
    [[nodiscard]] std::string pathTo(std::size_t index) const;
    /// Of a criterion's tracks: "/" is a Where that is one itself.
    [[nodiscard]] std::string trackPathTo(std::size_t index) const;
    void addDrawing(Row& row, QVBoxLayout& layout, QHBoxLayout& head, std::size_t index,
                    const CriterionType& type);
    [[nodiscard]] std::vector<Where> parts() const;
    [[nodiscard]] static std::string kindOf(const Where& part);
    void rebuild();
    void addRow(std::size_t index, const Where& part);
    void refresh();
    void offerCriteria();
    void offerShare();
    void emitParts(const QString& what, const QString& gesture, std::vector<Where> parts);

    NameSource m_names;
    std::function<Surroundings()> m_around;  ///< what a new criterion suits; may be unset
    Where m_where;
    NamedWheres m_named;
    QLabel* m_summary;
    QPushButton* m_add;
    QPushButton* m_share;
    QPushButton* m_overlay;
    QPushButton* m_matte;
    QComboBox* m_mode;
    QVBoxLayout* m_column;
    SettingsForm* m_refinement;
    Brush m_brush;
    std::optional<std::string> m_inHand;
    bool m_hasViews = true;
    bool m_hasKeys = false;
    KeyStates m_keys;
    std::vector<Row> m_rows;
};

}  // namespace noctis
