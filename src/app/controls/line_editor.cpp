#include "app/controls/line_editor.h"

#include "app/controls/file_dialog.h"
#include "app/controls/value_rows.h"
#include "core/image/error.h"
#include "core/settings/value_type.h"

#include <QLineEdit>
#include <QPushButton>

namespace noctis {

namespace {

constexpr QLatin1String kNoPlaces("[]");

class LineEditor : public ValueEditor {
public:
    LineEditor(const Parameter& parameter, const NameSource& names, QWidget* parent)
        : ValueEditor(parent), m_parameter(parameter), m_names(names), m_line(new QLineEdit) {
        m_line->setFont(theme::font(12));
        m_line->setAccessibleName(qstring(parameter.label));
        if (parameter.type == ValueType::Places)
            m_line->setPlaceholderText(tr("none yet"));
        if (!parameter.unset.empty())
            m_line->setPlaceholderText(qstring(parameter.unset));
        auto* row = rowOf(this);
        QLabel* label = labelOf(parameter, kLabelWidth);
        if (parameter.unit != Unit::None)
            label->setText(tr("%1, %2").arg(label->text(), qstring(unitName(parameter.unit))));
        row->addWidget(label);
        row->addWidget(m_line, 1);
        if (parameter.use != TextUse::Free)
            addPicker(row);
        connect(m_line, &QLineEdit::editingFinished, this, [this] { take(m_line->text()); });
    }
    void showValue(const Value& value) override {
        m_shown = value;
        if (m_line->hasFocus())
            return;
        m_line->setText(shownText());
        m_line->setCursorPosition(0);  // a long one shows its beginning
    }
    void offerPicks() override {
        if (m_parameter.type != ValueType::Places || m_clicks != nullptr)
            return;
        m_clicks = new QPushButton(tr("Click"));
        m_clicks->setProperty("role", "link");
        m_clicks->setObjectName("click-places");
        m_clicks->setCheckable(true);
        m_clicks->setToolTip(
            tr("Click the places one after another; they replace the current ones."));
        qobject_cast<QHBoxLayout*>(layout())->addWidget(m_clicks);
        connect(m_clicks, &QPushButton::clicked, this, &ValueEditor::picksAsked);
    }
    void setPicked(bool picked) override {
        if (m_clicks != nullptr)
            m_clicks->setChecked(picked);
    }

private:
    [[nodiscard]] QString shownText() const {
        const QString text = qstring(textFromValue(m_shown));
        return text == kNoPlaces ? QString() : text;
    }
    void addPicker(QHBoxLayout* row) {
        const bool file =
            m_parameter.use == TextUse::PictureFile || m_parameter.use == TextUse::FontFile;
        auto* pick = new QPushButton(theme::icon(file ? "folder-open" : "plus"), {});
        pick->setProperty("role", "icon");
        pick->setObjectName("pick");
        pick->setAccessibleName(tr("Pick for %1").arg(qstring(m_parameter.label)));
        pick->setToolTip(file ? tr("Pick a file.") : tr("Pick from what there is."));
        row->addWidget(pick);
        connect(pick, &QPushButton::clicked, this,
                [this, file] { file ? pickFile() : pickNames(); });
    }
    void pickNames() {
        auto* picker = new NamesPicker(m_names ? m_names(m_parameter.use) : NameChoices{},
                                       m_line->text(), this);
        connect(picker, &NamesPicker::picked, this, [this](const QString& text) {
            m_line->setText(text);
            take(text);
        });
        picker->presentAt(m_line->mapToGlobal(QPoint(0, m_line->height() + 2)));
    }
    void pickFile() {
        const bool font = m_parameter.use == TextUse::FontFile;
        const QString file =
            askFileToRead(this, font ? tr("Pick a font") : tr("Pick a picture"), m_line->text(),
                          font ? tr("Fonts (*.otf *.ttf)")
                               : tr("Pictures (*.exr *.hdr *.tif *.tiff *.png *.jpg)"));
        if (file.isEmpty())
            return;
        m_line->setText(file);
        take(file);
    }
    void take(const QString& text) {
        try {
            const bool none = text.isEmpty() && m_parameter.type == ValueType::Places;
            const Value value =
                valueFromText(m_parameter, (none ? QString(kNoPlaces) : text).toStdString());
            m_line->setToolTip({});
            if (value == m_shown)
                return;
            m_shown = value;
            Q_EMIT edited(value);
            Q_EMIT rested();
        } catch (const Error& error) {
            m_line->setText(shownText());
            m_line->setToolTip(QString::fromUtf8(error.what()));
        }
    }

    Parameter m_parameter;
    NameSource m_names;
    QPushButton* m_clicks = nullptr;
    QLineEdit* m_line;
    Value m_shown;
};

}  // namespace

ValueEditor* makeLineEditor(const Parameter& parameter, const NameSource& names, QWidget* parent) {
    return new LineEditor(parameter, names, parent);
}

}  // namespace noctis
