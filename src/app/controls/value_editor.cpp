#include "app/controls/value_editor.h"

#include "app/controls/clear_layout.h"
#include "app/controls/colour_well.h"
#include "app/controls/curve_editor.h"
#include "app/controls/gradient_editor.h"
#include "app/controls/line_editor.h"
#include "app/controls/settings_form.h"
#include "app/controls/switch_box.h"
#include "app/controls/value_bar.h"
#include "app/controls/value_rows.h"
#include "core/image/error.h"
#include "core/settings/counted.h"
#include "core/settings/value_type.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

#include <algorithm>
#include <array>
#include <cmath>

namespace noctis {

namespace {

class NumberEditor : public ValueEditor {
public:
    NumberEditor(const Parameter& parameter, const NameSource&, QWidget* parent)
        : ValueEditor(parent),
          m_bar(new ValueBar(qstring(parameter.label), parameter.unit, parameter.range)) {
        m_bar->setObjectName(qstring(parameter.id));
        m_bar->setToolTip(qstring(parameter.help));
        m_bar->setUnset(qstring(parameter.unset), parameter.unsetAt);
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

/// Two ends, each with a switch that leaves it open.
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
    /// The value of an open end when it is closed.
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

/// A block of settings for each name; untouched ones have their defaults.
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
        clearLayout(*m_column);
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
            auto* none = new QLabel(tr("No pass has names of this kind yet."));
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

/// Shows a summary only; the value is drawn on the picture.
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
        m_text->setText(qstring(counted(std::get<Strokes>(value).list().size(), "stroke")));
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
    makeLineEditor,       // Text
    makeLineEditor,       // File
    make<ColourEditor>,   // Colour
    makeLineEditor,       // Point
    makeLineEditor,       // Direction
    makeLineEditor,       // Place
    makeLineEditor,       // Places
    make<SpanEditor>,     // Span
    makeLineEditor,       // Box
    makeCurveEditor,      // Curve
    makeGradientEditor,   // Gradient
    makeLineEditor,       // Names
    make<RecordsEditor>,  // Records
    make<CountEditor>,    // Strokes
};
static_assert(kEditors.size() == static_cast<std::size_t>(ValueType::Strokes) + 1);

}  // namespace

ValueEditor* makeValueEditor(const Parameter& parameter, const NameSource& names, QWidget* parent) {
    return kEditors[static_cast<std::size_t>(parameter.type)](parameter, names, parent);
}

}  // namespace noctis
