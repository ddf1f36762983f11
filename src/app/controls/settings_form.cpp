#include "app/controls/settings_form.h"

#include "app/look/picture_paint.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QVBoxLayout>

namespace noctis {

SettingsForm::SettingsForm(const std::vector<Parameter>& parameters, NameSource names,
                           QWidget* parent)
    : QWidget(parent), m_parameters(parameters) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(2);
    for (const Parameter& parameter : m_parameters) {
        ValueEditor* row = makeValueEditor(parameter, names, this);
        row->setToolTip(qstring(parameter.help));
        row->setObjectName(qstring(parameter.id));
        auto* line = new QHBoxLayout;
        line->setSpacing(2);
        line->addWidget(row, 1);
        layout->addLayout(line);
        m_lines.push_back(line);
        m_rows.push_back(row);
        connect(row, &ValueEditor::edited, this,
                [this, id = qstring(parameter.id)](const Value& value) {
                    if (!m_filling)
                        Q_EMIT edited(id, value);
                });
        connect(row, &ValueEditor::rested, this, &SettingsForm::rested);
        connect(row, &ValueEditor::picksAsked, this,
                [this, id = qstring(parameter.id)](bool on) { Q_EMIT picksAsked(id, on); });
    }
    setSettings(initialSettings(m_parameters));
}

SettingsForm::~SettingsForm() {
    // A line that has the focus ends its edit when it is deleted, which is after this.
    for (ValueEditor* row : m_rows)
        row->disconnect(this);
}

void SettingsForm::setSettings(const Settings& settings) {
    m_filling = true;
    for (std::size_t i = 0; i < m_rows.size(); ++i) {
        const bool shown = isShown(m_parameters[i], settings);
        m_rows[i]->setVisible(shown);
        if (!m_keys.empty() && m_keys[i] != nullptr)
            m_keys[i]->setVisible(shown);
        m_rows[i]->showValue(settings.at(m_parameters[i].id));
    }
    m_filling = false;
}

void SettingsForm::offerPicks() {
    for (ValueEditor* row : m_rows)
        row->offerPicks();
}

void SettingsForm::offerKeys() {
    for (std::size_t i = 0; i < m_rows.size(); ++i) {
        const Parameter& parameter = m_parameters[i];
        m_keys.push_back(nullptr);
        // Members of lists have keys of their own, which files set.
        if (parameter.still || parameter.type == ValueType::Records)
            continue;
        auto* button = m_keys.back() = new KeyButton(qstring(parameter.label), this);
        button->setVisible(!m_rows[i]->isHidden());
        m_lines[i]->addWidget(button, 0, Qt::AlignTop);
        connect(button, &KeyButton::clicked, this,
                [this, id = qstring(parameter.id)] { Q_EMIT keyAsked(id); });
        connect(button, &KeyButton::curveAsked, this,
                [this, id = qstring(parameter.id)] { Q_EMIT curveAsked(id); });
    }
}

void SettingsForm::setKeys(const std::map<std::string, KeyState>& states) {
    for (std::size_t i = 0; i < m_keys.size(); ++i) {
        const auto state = states.find(m_parameters[i].id);
        if (m_keys[i] != nullptr)
            m_keys[i]->setState(state == states.end() ? KeyState::None : state->second);
    }
}

void SettingsForm::keyPressEvent(QKeyEvent* event) {
    const QWidget* focused = focusWidget();
    if (event->key() == Qt::Key_K && event->modifiers() == Qt::NoModifier && focused != nullptr)
        for (std::size_t i = 0; i < m_keys.size(); ++i)
            if (m_keys[i] != nullptr && (m_rows[i] == focused || m_rows[i]->isAncestorOf(focused)))
                return Q_EMIT keyAsked(qstring(m_parameters[i].id));
    QWidget::keyPressEvent(event);
}

void SettingsForm::setPicked(const std::string& id) {
    for (std::size_t i = 0; i < m_rows.size(); ++i)
        m_rows[i]->setPicked(m_parameters[i].id == id);
}

void SettingsForm::refreshNames() {
    for (ValueEditor* row : m_rows)
        row->refreshNames();
}

}  // namespace noctis
