#include "app/controls/value_editor.h"

#include "app/controls/colour_well.h"
#include "app/controls/settings_form.h"
#include "app/controls/switch_box.h"
#include "app/controls/value_bar.h"
#include "app/look/picture_paint.h"
#include "app/look/theme.h"
#include "core/image/error.h"
#include "core/settings/value_type.h"

#include <QComboBox>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>

#include <algorithm>
#include <array>
#include <cmath>

namespace noctis {

namespace {

constexpr int kLabelWidth = 84;
constexpr int kSwitchLabelWidth = 130;

QHBoxLayout* rowOf(QWidget* widget) {
    auto* layout = new QHBoxLayout(widget);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    return layout;
}

QLabel* labelOf(const Parameter& parameter, int width) {
    auto* text = new QLabel(qstring(parameter.label));
    text->setFont(theme::font(12));
    text->setProperty("role", "quiet");
    text->setFixedWidth(width);
    return text;
}

class NumberEditor : public ValueEditor {
public:
    NumberEditor(const Parameter& parameter, const NameSource&, QWidget* parent)
        : ValueEditor(parent),
          m_bar(new ValueBar(qstring(parameter.label), parameter.unit, parameter.range)) {
        m_bar->setObjectName(qstring(parameter.id));
        m_bar->setToolTip(qstring(parameter.help));
        rowOf(this)->addWidget(m_bar);
        connect(m_bar, &ValueBar::moved, this, [this](float v) { Q_EMIT edited(v); });
        connect(m_bar, &ValueBar::rested, this, &ValueEditor::rested);
    }
    void showValue(const Value& value) override { m_bar->setValue(std::get<float>(value)); }

private:
    ValueBar* m_bar;
};

class SwitchEditor : public ValueEditor {
public:
    SwitchEditor(const Parameter& parameter, const NameSource&, QWidget* parent)
        : ValueEditor(parent), m_box(new SwitchBox(qstring(parameter.label))) {
        auto* row = rowOf(this);
        row->addWidget(labelOf(parameter, kSwitchLabelWidth));
        row->addWidget(m_box);
        row->addStretch(1);
        connect(m_box, &SwitchBox::clicked, this, [this](bool on) {
            Q_EMIT edited(on);
            Q_EMIT rested();
        });
    }
    void showValue(const Value& value) override { m_box->setChecked(std::get<bool>(value)); }

private:
    SwitchBox* m_box;
};

class ChoiceEditor : public ValueEditor {
public:
    ChoiceEditor(const Parameter& parameter, const NameSource&, QWidget* parent)
        : ValueEditor(parent), m_box(new QComboBox) {
        m_box->setFont(theme::font(12));
        m_box->setAccessibleName(qstring(parameter.label));
        m_box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
        m_box->setMinimumContentsLength(8);
        for (const Choice& choice : parameter.choices)
            m_box->addItem(qstring(choice.label), qstring(choice.id));
        auto* row = rowOf(this);
        row->addWidget(labelOf(parameter, kLabelWidth));
        row->addWidget(m_box, 1);
        connect(m_box, &QComboBox::currentIndexChanged, this, [this] {
            Q_EMIT edited(m_box->currentData().toString().toStdString());
            Q_EMIT rested();
        });
    }
    void showValue(const Value& value) override {
        const QSignalBlocker quiet(m_box);
        m_box->setCurrentIndex(m_box->findData(qstring(std::get<std::string>(value))));
    }

private:
    QComboBox* m_box;
};

class ColourEditor : public ValueEditor {
public:
    ColourEditor(const Parameter& parameter, const NameSource&, QWidget* parent)
        : ValueEditor(parent), m_well(new ColourWell(qstring(parameter.label))) {
        m_well->setToolTip(qstring(parameter.help));
        rowOf(this)->addWidget(m_well);
        connect(m_well, &ColourWell::moved, this, [this](const LinearRgb& c) { Q_EMIT edited(c); });
        connect(m_well, &ColourWell::rested, this, &ValueEditor::rested);
    }
    void showValue(const Value& value) override { m_well->setColour(std::get<LinearRgb>(value)); }

private:
    ColourWell* m_well;
};

constexpr QLatin1String kNoPlaces("[]");

/// Any value by its text form. What can't be read goes back to what it was, and the tooltip says why.
class LineEditor : public ValueEditor {
public:
    LineEditor(const Parameter& parameter, const NameSource& names, QWidget* parent)
        : ValueEditor(parent), m_parameter(parameter), m_names(names), m_line(new QLineEdit) {
        m_line->setFont(theme::font(12));
        m_line->setAccessibleName(qstring(parameter.label));
        if (parameter.type == ValueType::Places)
            m_line->setPlaceholderText(tr("none yet"));
        if (parameter.use == TextUse::SceneNames)
            m_line->setPlaceholderText(tr("all"));
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
        const QString text = qstring(textFromValue(value));
        m_line->setText(text == kNoPlaces ? QString() : text);
        m_line->setCursorPosition(0);  // a long one shows its beginning
    }
    void offerPicks() override {
        if (m_parameter.type != ValueType::Places || m_clicks != nullptr)
            return;
        m_clicks = new QPushButton(tr("Click"));
        m_clicks->setProperty("role", "link");
        m_clicks->setObjectName("click-places");
        m_clicks->setCheckable(true);
        m_clicks->setToolTip(tr("Click the places one after the other; they replace these."));
        qobject_cast<QHBoxLayout*>(layout())->addWidget(m_clicks);
        connect(m_clicks, &QPushButton::clicked, this, &ValueEditor::picksAsked);
    }
    void setPicked(bool picked) override {
        if (m_clicks != nullptr)
            m_clicks->setChecked(picked);
    }

private:
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
        const QString file = QFileDialog::getOpenFileName(
            this, font ? tr("Pick a font") : tr("Pick a picture"), m_line->text(),
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
            m_line->setText(qstring(textFromValue(m_shown)));
            m_line->setToolTip(QString::fromUtf8(error.what()));
        }
    }

    Parameter m_parameter;
    NameSource m_names;
    QPushButton* m_clicks = nullptr;
    QLineEdit* m_line;
    Value m_shown;
};

/// Two ends, each with a switch that opens it.
class SpanEditor : public ValueEditor {
public:
    SpanEditor(const Parameter& parameter, const NameSource&, QWidget* parent)
        : ValueEditor(parent), m_range(parameter.range) {
        auto* column = new QVBoxLayout(this);
        column->setContentsMargins(0, 0, 0, 0);
        column->setSpacing(2);
        const std::array<QString, 2> names{tr("From"), tr("To")};
        for (std::size_t i = 0; i < 2; ++i) {
            End& end = m_ends[i];
            end.bar = new ValueBar(names[i], parameter.unit, parameter.range);
            end.bar->setObjectName(i == 0 ? "from" : "to");
            end.bar->setToolTip(qstring(parameter.help));
            end.limits = new SwitchBox(tr("%1 limits").arg(names[i]));
            end.limits->setToolTip(tr("Off leaves this end open."));
            auto* row = new QHBoxLayout;
            row->setSpacing(6);
            row->addWidget(end.bar, 1);
            row->addWidget(end.limits);
            column->addLayout(row);
            connect(end.bar, &ValueBar::moved, this, [this, i](float v) { move(i, v); });
            connect(end.bar, &ValueBar::rested, this, &ValueEditor::rested);
            connect(end.limits, &SwitchBox::clicked, this, [this, i](bool on) {
                move(i, on ? closedAt(i) : (i == 0 ? -kOpen : kOpen));
                Q_EMIT rested();
            });
        }
    }
    void showValue(const Value& value) override {
        m_span = std::get<Span>(value);
        const std::array<float, 2> ends{m_span.from, m_span.to};
        for (std::size_t i = 0; i < 2; ++i) {
            const bool limits = std::isfinite(ends[i]);
            m_ends[i].limits->setChecked(limits);
            m_ends[i].bar->setInstead(limits ? QString() : tr("open"));
            m_ends[i].bar->setValue(limits ? ends[i] : closedAt(i));
        }
    }

private:
    static constexpr float kOpen = std::numeric_limits<float>::infinity();
    struct End {
        ValueBar* bar = nullptr;
        SwitchBox* limits = nullptr;
    };
    /// Where an open end is when it is closed.
    [[nodiscard]] float closedAt(std::size_t i) const {
        if (i == 0)
            return std::min(std::max(m_range.min, 0.0F), m_span.to);
        return std::max(m_range.sliderEnd, m_span.from);
    }
    void move(std::size_t i, float to) {
        Span span = m_span;
        (i == 0 ? span.from : span.to) = to;
        if (span.from > span.to)  // one end pushes the other
            (i == 0 ? span.to : span.from) = to;
        Q_EMIT edited(span);
    }

    Range m_range;
    Span m_span;
    std::array<End, 2> m_ends;
};

/// A block of settings for each name there is; what was never touched has its defaults.
class RecordsEditor : public ValueEditor {
public:
    RecordsEditor(const Parameter& parameter, const NameSource& names, QWidget* parent)
        : ValueEditor(parent), m_parameter(parameter), m_names(names) {
        m_column = new QVBoxLayout(this);
        m_column->setContentsMargins(0, 2, 0, 2);
        m_column->setSpacing(2);
    }
    void showValue(const Value& value) override {
        m_records = std::get<RecordList>(value);
        refreshNames();
    }
    void refreshNames() override {
        QStringList wanted;
        for (const QString& name : m_names ? m_names(m_parameter.use).groups : QStringList())
            wanted << name;
        for (const Record& record : m_records)
            if (!wanted.contains(qstring(record.name)))
                wanted << qstring(record.name);
        if (wanted != m_shown)
            rebuild(wanted);
        for (qsizetype i = 0; i < m_shown.size(); ++i)
            m_forms[static_cast<std::size_t>(i)]->setSettings(settingsOf(m_shown[i].toStdString()));
    }

private:
    [[nodiscard]] Settings settingsOf(const std::string& name) const {
        for (const Record& record : m_records)
            if (record.name == name)
                return record.settings;
        return initialSettings(m_parameter.fields);
    }
    void rebuild(const QStringList& names) {
        m_shown = names;
        m_forms.clear();
        while (QLayoutItem* item = m_column->takeAt(0)) {
            if (item->widget() != nullptr)
                item->widget()->deleteLater();
            delete item;
        }
        for (const QString& name : names) {
            auto* heading = new QLabel(name);
            heading->setFont(theme::font(12, QFont::Medium));
            heading->setContentsMargins(0, 4, 0, 0);
            m_column->addWidget(heading);
            auto* form = new SettingsForm(m_parameter.fields, {}, this);
            form->setObjectName(name);
            m_column->addWidget(form);
            m_forms.push_back(form);
            connect(form, &SettingsForm::edited, this,
                    [this, name](const QString& id, const Value& value) {
                        take(name.toStdString(), id.toStdString(), value);
                    });
            connect(form, &SettingsForm::rested, this, &ValueEditor::rested);
        }
        if (names.isEmpty()) {
            auto* none = new QLabel(tr("There is nothing of this kind among the passes yet."));
            none->setProperty("role", "quiet");
            none->setFont(theme::font(12));
            none->setWordWrap(true);
            m_column->addWidget(none);
        }
    }
    void take(const std::string& name, const std::string& id, const Value& value) {
        const auto found = std::find_if(m_records.begin(), m_records.end(),
                                        [&](const Record& r) { return r.name == name; });
        Record& record =
            found != m_records.end()
                ? *found
                : m_records.emplace_back(Record{name, initialSettings(m_parameter.fields)});
        record.settings.set(id, value);
        Q_EMIT edited(Value(m_records));
    }

    Parameter m_parameter;
    NameSource m_names;
    RecordList m_records;
    QStringList m_shown;
    std::vector<SettingsForm*> m_forms;
    QVBoxLayout* m_column;
};

/// Says what is there; it is drawn on the picture.
class CountEditor : public ValueEditor {
public:
    CountEditor(const Parameter& parameter, const NameSource&, QWidget* parent)
        : ValueEditor(parent), m_text(new QLabel) {
        m_text->setFont(theme::font(12));
        auto* row = rowOf(this);
        row->addWidget(labelOf(parameter, kLabelWidth));
        row->addWidget(m_text, 1);
    }
    void showValue(const Value& value) override {
        m_text->setText(tr("%1 strokes").arg(std::get<Strokes>(value).list().size()));
    }

private:
    QLabel* m_text;
};

using Make = ValueEditor* (*)(const Parameter&, const NameSource&, QWidget*);

template <typename Editor>
ValueEditor* make(const Parameter& parameter, const NameSource& names, QWidget* parent) {
    return new Editor(parameter, names, parent);
}

/// In the order of ValueType.
constexpr std::array<Make, 18> kEditors{
    make<NumberEditor>,   // Number
    make<NumberEditor>,   // Whole
    make<SwitchEditor>,   // Switch
    make<ChoiceEditor>,   // Choice
    make<LineEditor>,     // Text
    make<LineEditor>,     // File
    make<ColourEditor>,   // Colour
    make<LineEditor>,     // Point
    make<LineEditor>,     // Direction
    make<LineEditor>,     // Place
    make<LineEditor>,     // Places
    make<SpanEditor>,     // Span
    make<LineEditor>,     // Box
    make<LineEditor>,     // Curve
    make<LineEditor>,     // Gradient
    make<LineEditor>,     // Names
    make<RecordsEditor>,  // Records
    make<CountEditor>,    // Strokes
};
static_assert(kEditors.size() == static_cast<std::size_t>(ValueType::Strokes) + 1);

}  // namespace

ValueEditor* makeValueEditor(const Parameter& parameter, const NameSource& names, QWidget* parent) {
    return kEditors[static_cast<std::size_t>(parameter.type)](parameter, names, parent);
}

}  // namespace noctis
