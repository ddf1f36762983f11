#pragma once

#include <QProxyStyle>

namespace noctis {

/// Fusion with the application's own line icons where dialogs have the style's, as the file dialog does;
/// their buttons have none.
class StandardIcons : public QProxyStyle {
public:
    StandardIcons();
    QIcon standardIcon(StandardPixmap which, const QStyleOption* option,
                       const QWidget* widget) const override;
    int styleHint(StyleHint hint, const QStyleOption* option, const QWidget* widget,
                  QStyleHintReturn* returned) const override;
};

}  // namespace noctis
