#include "app/controls/settings_form.h"

#include "app/look/picture_paint.h"

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
        layout->addWidget(row);
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
        m_rows[i]->setVisible(isShown(m_parameters[i], settings));
        m_rows[i]->showValue(settings.at(m_parameters[i].id));
    }
    m_filling = false;
}

void SettingsForm::offerPicks() {
    for (ValueEditor* row : m_rows)
        row->offerPicks();
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
