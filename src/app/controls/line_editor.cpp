#include "app/controls/line_editor.h"

#include "app/controls/file_dialog.h"
#include "app/controls/place_text.h"
#include "app/controls/value_rows.h"
#include "core/image/error.h"
#include "core/settings/value_type.h"

#include <QEvent>
#include <QLineEdit>
#include <QPushButton>

namespace noctis {

namespace {

class LineEditor : public ValueEditor {
public:
    LineEditor(const Parameter& parameter, const NameSource& names, QWidget* parent)
        : ValueEditor(parent), m_parameter(parameter), m_names(names), m_line(new QLineEdit),
          m_shown(parameter.initial) {
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
        if (parameter.type == ValueType::File)
            m_line->installEventFilter(this);
    }
    void showValue(const Value& value) override {
        m_shown = value;
        if (m_line->hasFocus())
            return;
        m_line->setText(shownText());
        m_line->setCursorPosition(0);  // a long one shows its beginning
        if (m_parameter.type == ValueType::File)
            m_line->setToolTip(qstring(textFromValue(value)));
    }
    /// A file is shown by its name, and edited with its path.
    bool eventFilter(QObject* watched, QEvent* event) override {
        if (event->type() == QEvent::FocusIn)
            m_line->setText(qstring(textFromValue(m_shown)));
        else if (event->type() == QEvent::FocusOut)
            QMetaObject::invokeMethod(
                this, [this] { m_line->setText(shownText()); }, Qt::QueuedConnection);
        return ValueEditor::eventFilter(watched, event);
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
        if (const auto* file = std::get_if<FilePath>(&m_shown))
            return qstring(file->path.filename().string());
        return isPlaced(m_parameter) ? placeText(m_parameter, m_shown)
                                     : qstring(textFromValue(m_shown));
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
        const QString file = askFileToRead(
            this, font ? tr("Pick a font") : tr("Pick a picture"), qstring(textFromValue(m_shown)),
            font ? tr("Fonts (*.otf *.ttf)")
                 : tr("Pictures (*.exr *.hdr *.tif *.tiff *.png *.jpg)"));
        if (file.isEmpty())
            return;
        take(file);
        m_line->setText(shownText());
    }
    void take(const QString& text) {
        // What is shown may be rounded: it changes nothing unless it is changed.
        if (text == shownText() || text == qstring(textFromValue(m_shown)))
            return;
        try {
            const Value value =
                isPlaced(m_parameter)
                    ? checkedValue(m_parameter, valueFromPlaceText(m_parameter, text))
                    : valueFromText(m_parameter, text.toStdString());
            m_line->setToolTip(m_parameter.type == ValueType::File ? text : QString());
            if (value == m_shown)
                return;
            m_shown = value;
            if (!m_line->hasFocus() || isPlaced(m_parameter))
                m_line->setText(shownText());
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
