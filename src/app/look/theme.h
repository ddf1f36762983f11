#pragma once

#include <QColor>
#include <QFont>
#include <QIcon>
#include <QString>

class QApplication;

namespace noctis::theme {

// The few colours of Noctis; nothing else is used.
inline constexpr QColor kSurround{0x22, 0x22, 0x22};
inline constexpr QColor kPanel{0x1a, 0x1b, 0x1c};
inline constexpr QColor kRaised{0x24, 0x26, 0x27};
inline constexpr QColor kHairline{0x32, 0x34, 0x36};
inline constexpr QColor kText{0xdc, 0xda, 0xd5};
inline constexpr QColor kQuiet{0x9a, 0x98, 0x92};
inline constexpr QColor kAccent{0x62, 0xa9, 0x97};
inline constexpr QColor kNear{0xc8, 0xa2, 0x5a};
inline constexpr QColor kFar{0x65, 0x70, 0xbd};
inline constexpr QColor kWarning{0xd9, 0x76, 0x5f};

/// Type of the shipped family, in pixels at 1x.
QFont font(int pixels = 13, QFont::Weight weight = QFont::Normal);

/// A line icon in the text's colour.
QIcon icon(const QString& name, const QColor& colour = kQuiet);

/// Sets palette, type and style of the whole application.
void apply(QApplication& application);

}  // namespace noctis::theme
