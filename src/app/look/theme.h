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
inline constexpr QColor kDisabled{0x90, 0x8e, 0x89};  ///< text
inline constexpr QColor kField{0x15, 0x16, 0x17};     ///< where something is typed
inline constexpr QColor kSelected{0x2f, 0x3a, 0x38};  ///< behind the row that is chosen
inline constexpr QColor kAxis{0x6a, 0x6a, 0x67};      ///< lines of instruments
inline constexpr QColor kOff{0x55, 0x56, 0x55};       ///< curves of what is switched off
inline constexpr QColor kAccent{0x62, 0xa9, 0x97};
inline constexpr QColor kAccentText{0x9c, 0xd0, 0xc2};  ///< the same, small and over a picture
inline constexpr QColor kNear{0xc8, 0xa2, 0x5a};
inline constexpr QColor kFar{0x65, 0x70, 0xbd};
inline constexpr QColor kFarText{0x7f, 0x89, 0xcc};  ///< the same where it is read
inline constexpr QColor kWarning{0xd9, 0x76, 0x5f};

/// Type of the shipped family, in pixels at 1x.
QFont font(int pixels = 13, QFont::Weight weight = QFont::Normal);

/// A line icon in the text's colour.
QIcon icon(const QString& name, const QColor& colour = kQuiet);

/// Sets palette, type and style of the whole application.
void apply(QApplication& application);

}  // namespace noctis::theme
