#include "app/controls/settings_form.h"

#include "app/controls/colour_well.h"
#include "app/controls/switch_box.h"
#include "app/controls/value_bar.h"
#include "app/look/picture_paint.h"
#include "app/look/theme.h"

#include <QComboBox>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>

namespace noctis {

namespace {

constexpr int kLabelWidth = 84;

QWidget* labelled(const QString& label, QWidget* control, QWidget* parent, bool stretch) {
    auto* row = new QWidget(parent);
    auto* layout = new QHBoxLayout(row);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    auto* text = new QLabel(label, row);
    text->setFont(theme::font(12));
    text->setProperty("role", "quiet");
    text->setFixedWidth(stretch ? kLabelWidth : 130);
    layout->addWidget(text);
    layout->addWidget(control, stretch ? 1 : 0);
    if (!stretch)
        layout->addStretch(1);
    control->setAccessibleName(label);
    return row;
}

}  // namespace

SettingsForm::SettingsForm(const std::vector<Parameter>& parameters, QWidget* parent)
    : QWidget(parent), m_parameters(parameters), m_settings(initialSettings(parameters)) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(2);
    for (std::size_t i = 0; i < parameters.size(); ++i) {
        m_rows.push_back(rowFor(i));
        m_rows.back()->setToolTip(qstring(parameters[i].help));
        m_rows.back()->setObjectName(qstring(parameters[i].id));
        layout->addWidget(m_rows.back());
    }
    setSettings(m_settings);
}

QWidget* SettingsForm::rowFor(std::size_t index) {
    const Parameter& parameter = m_parameters[index];
    const QString label = qstring(parameter.label);
    const auto tell = [this, index](const Value& value) { this->tell(index, value); };
    if (parameter.isNumber()) {
        auto* bar = new ValueBar(label, parameter.unit, parameter.range, this);
        connect(bar, &ValueBar::moved, this, [tell](float v) { tell(v); });
        connect(bar, &ValueBar::rested, this, &SettingsForm::rested);
        return bar;
    }
    if (parameter.isColour()) {
        auto* well = new ColourWell(label, this);
        connect(well, &ColourWell::moved, this, [tell](const LinearRgb& c) { tell(c); });
        connect(well, &ColourWell::rested, this, &SettingsForm::rested);
        return well;
    }
    if (parameter.isSwitch()) {
        auto* box = new SwitchBox(label, this);
        connect(box, &SwitchBox::toggled, this, [this, tell](bool on) {
            tell(on);
            if (!m_filling)
                Q_EMIT rested();
        });
        return labelled(label, box, this, false);
    }
    if (!parameter.choices.empty()) {
        auto* box = new QComboBox(this);
        box->setFont(theme::font(12));
        box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
        box->setMinimumContentsLength(8);
        for (const Choice& choice : parameter.choices)
            box->addItem(qstring(choice.label), qstring(choice.id));
        connect(box, &QComboBox::currentIndexChanged, this, [this, tell, box] {
            tell(box->currentData().toString().toStdString());
            if (!m_filling)
                Q_EMIT rested();
        });
        return labelled(label, box, this, true);
    }
    return textRow(index);
}

QWidget* SettingsForm::textRow(std::size_t index) {
    const Parameter& parameter = m_parameters[index];
    auto* line = new QLineEdit(this);
    line->setFont(theme::font(12));
    connect(line, &QLineEdit::editingFinished, this, [this, index, line] {
        tell(index, line->text().toStdString());
        Q_EMIT rested();
    });
    if (parameter.use == TextUse::SceneNames)
        line->setPlaceholderText(tr("all"));
    QWidget* row = labelled(qstring(parameter.label), line, this, true);
    if (parameter.use == TextUse::Free)
        return row;
    const bool names = parameter.use == TextUse::SceneNames;
    auto* pick = new QPushButton(theme::icon(names ? "plus" : "folder-open"), {}, row);
    pick->setProperty("role", "icon");
    pick->setObjectName("pick");
    pick->setAccessibleName(tr("Pick for %1").arg(qstring(parameter.label)));
    pick->setToolTip(names ? tr("Picks from what is in the scene.") : tr("Picks a file."));
    row->layout()->addWidget(pick);
    connect(pick, &QPushButton::clicked, this, [this, index, line, names] {
        if (names)
            pickNames(index, line);
        else
            pickFile(index, line);
    });
    return row;
}

void SettingsForm::tell(std::size_t index, const Value& value) {
    if (!m_filling)
        Q_EMIT edited(index, value);
}

void SettingsForm::pickNames(std::size_t index, QLineEdit* line) {
    auto* picker = new NamesPicker(m_choices ? m_choices() : NameChoices{}, line->text(), this);
    connect(picker, &NamesPicker::picked, this, [this, index, line](const QString& text) {
        line->setText(text);
        tell(index, text.toStdString());
        Q_EMIT rested();
    });
    picker->presentAt(line->mapToGlobal(QPoint(0, line->height() + 2)));
}

void SettingsForm::pickFile(std::size_t index, QLineEdit* line) {
    const QString file =
        QFileDialog::getOpenFileName(this, tr("Pick a picture"), line->text(),
                                     tr("Pictures (*.exr *.hdr *.tif *.tiff *.png *.jpg)"));
    if (file.isEmpty())
        return;
    line->setText(file);
    tell(index, file.toStdString());
    Q_EMIT rested();
}

void SettingsForm::setSettings(const Settings& settings) {
    m_settings = settings;
    m_filling = true;
    for (std::size_t i = 0; i < m_rows.size(); ++i) {
        QWidget* row = m_rows[i];
        const Value& value = settings[i];
        row->setVisible(isShown(m_parameters[i], m_parameters, settings));
        if (auto* bar = qobject_cast<ValueBar*>(row))
            bar->setValue(std::get<float>(value));
        else if (auto* well = qobject_cast<ColourWell*>(row))
            well->setColour(std::get<LinearRgb>(value));
        else if (auto* box = row->findChild<SwitchBox*>())
            box->setChecked(std::get<bool>(value));
        else if (auto* combo = row->findChild<QComboBox*>())
            combo->setCurrentIndex(combo->findData(qstring(std::get<std::string>(value))));
        else if (auto* line = row->findChild<QLineEdit*>(); line != nullptr && !line->hasFocus())
            line->setText(qstring(std::get<std::string>(value)));
    }
    m_filling = false;
}

}  // namespace noctis
