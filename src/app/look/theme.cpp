#include "app/look/theme.h"

#include "app/look/focus_ring.h"
#include "app/look/standard_icons.h"

#include <QApplication>
#include <QFile>
#include <QFontDatabase>
#include <QPainter>
#include <QPalette>
#include <QSvgRenderer>

namespace noctis::theme {

namespace {

QString styleSheet() {
    const QString sheet = QStringLiteral(R"(
QWidget { color: %text; outline: none; }
QToolTip { background: %raised; color: %text; border: 1px solid %line; padding: 4px 8px; }
QScrollArea, QScrollArea > QWidget > QWidget { background: transparent; border: none; }
QScrollBar:vertical { background: transparent; width: 8px; margin: 0; }
QScrollBar::handle:vertical { background: %line; border-radius: 3px; min-height: 24px; margin: 0 1px; }
QScrollBar:horizontal { background: transparent; height: 7px; margin: 0; }
QScrollBar::handle:horizontal { background: %line; border-radius: 3px; min-width: 24px; margin: 1px 0; }
QScrollBar::add-line, QScrollBar::sub-line, QScrollBar::add-page, QScrollBar::sub-page { background: none; height: 0; width: 0; }
QMenu { background: %raised; border: 1px solid %line; padding: 4px 0; }
QMenu::item { padding: 6px 28px 6px 16px; }
QMenu::item:selected { background: %selected; }
QMenu::item:disabled { color: %disabled; }
QMenu::separator { height: 1px; background: %line; margin: 4px 0; }
QLineEdit, QSpinBox, QDoubleSpinBox { background: %field; border: 1px solid %line; border-radius: 3px; padding: 3px 6px; selection-background-color: %accent; selection-color: #101111; }
QLineEdit:focus, QSpinBox:focus, QDoubleSpinBox:focus { border-color: %accent; }
QSpinBox::up-button, QSpinBox::down-button, QDoubleSpinBox::up-button, QDoubleSpinBox::down-button { width: 0; border: none; }
QComboBox { background: %field; border: 1px solid %line; border-radius: 3px; padding: 3px 8px; }
QComboBox::drop-down { border: none; width: 12px; }
QComboBox QAbstractItemView { background: %raised; border: 1px solid %line; selection-background-color: %selected; selection-color: %text; outline: 0; }
QPushButton { background: %raised; border: 1px solid %line; border-radius: 4px; padding: 6px 14px; }
QPushButton:hover { border-color: #4a4d50; }
QPushButton:disabled { color: %disabled; }
QPushButton[role="main"] { background: %accent; color: #0f1413; border-color: %accent; font-weight: 600; }
QPushButton[role="main"]:hover { background: #6fb8a5; }
QPushButton[role="main"]:disabled { background: #2c3a37; color: #a3aca9; border-color: #2c3a37; }
QPushButton[role="link"] { background: transparent; border: 1px solid transparent; color: %accent; padding: 2px 4px; }
QPushButton[role="link"]:hover { color: #86c9b8; }
QPushButton[role="link"]:disabled { color: %disabled; }
QPushButton[role="link"]:checked { color: %text; border-bottom: 2px solid %accent; border-radius: 0; }
QFileDialog QToolButton { background: transparent; border: 1px solid transparent; border-radius: 3px; padding: 3px; }
QFileDialog QToolButton:hover, QFileDialog QToolButton:checked { background: %raised; }
QFileDialog QAbstractItemView { background: %field; border: 1px solid %line; selection-background-color: %selected; selection-color: %text; outline: 0; }
QListWidget { background: %field; border: 1px solid transparent; border-radius: 3px; }
QListWidget:focus { border-color: %accent; }
QListWidget::item:selected { background: %selected; color: %text; }
QHeaderView::section { background: %raised; color: %quiet; border: none; padding: 3px 6px; }
QPushButton[role="tab"] { background: transparent; border: 1px solid transparent; border-bottom: 2px solid transparent; border-radius: 0; color: %quiet; padding: 2px 7px; }
QPushButton[role="tab"]:hover { color: %text; }
QPushButton[role="tab"]:checked { color: %text; border-bottom-color: %accent; }
QPushButton[role="icon"] { background: transparent; border: 1px solid transparent; padding: 2px; }
QPushButton[role="icon"]:hover { background: %raised; }
#notes { background: %raised; border: 1px solid %line; border-left: none; border-bottom: none; }
QLabel[role="heading"] { color: %quiet; font-weight: 500; }
QLabel[role="quiet"] { color: %quiet; }
QLabel[role="warning"] { color: %warning; }
QLabel[role="going"] { color: %accent; }
QLineEdit[role="problem"] { border-color: %warning; }
)");
    QString filled = sheet;
    filled.replace("%text", kText.name())
        .replace("%raised", kRaised.name())
        .replace("%line", kHairline.name());
    filled.replace("%disabled", kDisabled.name())
        .replace("%selected", kSelected.name())
        .replace("%field", kField.name());
    filled.replace("%accent", kAccent.name())
        .replace("%quiet", kQuiet.name())
        .replace("%warning", kWarning.name());
    return filled;
}

}  // namespace

QFont font(int pixels, QFont::Weight weight) {
    QFont made(QStringLiteral("Noctis Sans"));
    made.setPixelSize(pixels);
    made.setWeight(weight);
    return made;
}

QIcon icon(const QString& name, const QColor& colour) {
    QFile file(QStringLiteral(":/icons/%1.svg").arg(name));
    if (!file.open(QIODevice::ReadOnly))
        return {};
    QByteArray svg = file.readAll();
    svg.replace("currentColor", colour.name().toUtf8());
    QSvgRenderer renderer(svg);
    QPixmap pixmap(48, 48);
    pixmap.fill(Qt::transparent);
    QPainter painter(&pixmap);
    renderer.render(&painter);
    painter.end();
    return QIcon(pixmap);
}

void apply(QApplication& application) {
    for (const char* weight : {"Regular", "Medium", "SemiBold"})
        QFontDatabase::addApplicationFont(
            QStringLiteral(":/fonts/NoctisSans-%1.otf").arg(QLatin1String(weight)));
    QApplication::setStyle(new StandardIcons);
    QPalette palette;
    palette.setColor(QPalette::Window, kPanel);
    palette.setColor(QPalette::WindowText, kText);
    palette.setColor(QPalette::Base, kField);
    palette.setColor(QPalette::AlternateBase, kRaised);
    palette.setColor(QPalette::Text, kText);
    palette.setColor(QPalette::Button, kRaised);
    palette.setColor(QPalette::ButtonText, kText);
    palette.setColor(QPalette::Highlight, kAccent);
    palette.setColor(QPalette::HighlightedText, QColor(0x10, 0x11, 0x11));
    palette.setColor(QPalette::PlaceholderText, kQuiet);
    palette.setColor(QPalette::ToolTipBase, kRaised);
    palette.setColor(QPalette::ToolTipText, kText);
    QApplication::setPalette(palette);
    QApplication::setFont(font());
    application.setStyleSheet(styleSheet());
    new FocusRing(&application);
}

}  // namespace noctis::theme
