#pragma once

#include <QString>

class QPushButton;

namespace noctis {

/// A checkable button that is underlined when it is on. name: for finding it; none if empty.
QPushButton* tabButton(const QString& text, const QString& help, const QString& name = {});

/// A quiet button that looks like its text.
QPushButton* linkButton(const QString& text, const QString& help);

}  // namespace noctis
