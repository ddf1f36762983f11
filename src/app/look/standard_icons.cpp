#include "app/look/standard_icons.h"

#include "app/look/theme.h"

#include <array>
#include <utility>

namespace noctis {

namespace {

constexpr std::array kIcons{
    std::pair{QStyle::SP_ArrowBack, "arrow-left"},
    std::pair{QStyle::SP_FileDialogBack, "arrow-left"},
    std::pair{QStyle::SP_ArrowForward, "arrow-right"},
    std::pair{QStyle::SP_FileDialogToParent, "arrow-up"},
    std::pair{QStyle::SP_FileDialogNewFolder, "folder-plus"},
    std::pair{QStyle::SP_FileDialogListView, "layout-grid"},
    std::pair{QStyle::SP_FileDialogDetailedView, "list"},
    std::pair{QStyle::SP_ComputerIcon, "monitor"},
    std::pair{QStyle::SP_DriveHDIcon, "hard-drive"},
    std::pair{QStyle::SP_DirHomeIcon, "house"},
    std::pair{QStyle::SP_DirIcon, "folder"},
    std::pair{QStyle::SP_DirClosedIcon, "folder"},
    std::pair{QStyle::SP_DirOpenIcon, "folder-open"},
    std::pair{QStyle::SP_DirLinkIcon, "folder"},
    std::pair{QStyle::SP_FileIcon, "file"},
    std::pair{QStyle::SP_FileLinkIcon, "file"},
};

}  // namespace

StandardIcons::StandardIcons() : QProxyStyle(QStringLiteral("Fusion")) {}

QIcon StandardIcons::standardIcon(StandardPixmap which, const QStyleOption* option,
                                  const QWidget* widget) const {
    for (const auto& [pixmap, name] : kIcons)
        if (pixmap == which)
            return theme::icon(QLatin1String(name));
    return QProxyStyle::standardIcon(which, option, widget);
}

int StandardIcons::styleHint(StyleHint hint, const QStyleOption* option, const QWidget* widget,
                             QStyleHintReturn* returned) const {
    if (hint == SH_DialogButtonBox_ButtonsHaveIcons)
        return 0;
    return QProxyStyle::styleHint(hint, option, widget, returned);
}

}  // namespace noctis
