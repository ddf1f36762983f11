#pragma once

#include <QString>

class QPushButton;
class QWidget;

namespace noctis {

/// The name of an instrument, at its top left.
void addHeading(QWidget* instrument, const QString& text);
/// A quiet button beside the name, x pixels from the left.
QPushButton* addLink(QWidget* instrument, const QString& text, const QString& help, int x);

}  // namespace noctis
