#include "app/look/theme.h"
#include "app/window/end_signals.h"
#include "app/window/main_window.h"
#include "app/window/shots.h"
#include "app/window/window_place.h"

#include <QApplication>
#include <QCommandLineParser>
#include <QLocale>
#include <QSettings>
#include <QStandardPaths>
#include <QTemporaryDir>

#include <clocale>
#include <cstdio>

int main(int argc, char** argv) {
    QCoreApplication::setApplicationName(QStringLiteral("noctis"));
    QCoreApplication::setApplicationVersion(QStringLiteral(NOCTIS_VERSION));
    QCommandLineParser parser;
    parser.setApplicationDescription(
        QStringLiteral("Noctis: finish pictures from their passes, without rendering again."));
    parser.addHelpOption();
    parser.addVersionOption();
    const QCommandLineOption demo(QStringLiteral("demo"), QStringLiteral("Open the demo."));
    const QCommandLineOption shots(
        QStringLiteral("shots"),
        QStringLiteral("Write pictures of the main views to a folder, then exit."),
        QStringLiteral("DIR"));
    const QCommandLineOption size(
        QStringLiteral("size"),
        QStringLiteral("With --shots: the window's size (1280x800 by default)."),
        QStringLiteral("WxH"), QStringLiteral("1280x800"));
    parser.addOptions({demo, shots, size});
    parser.addPositionalArgument(QStringLiteral("FILE"),
                                 QStringLiteral("A project, a scene, or pass files."),
                                 QStringLiteral("[FILE...]"));
    {
        // Its help and version need no display.
        const QCoreApplication plain(argc, argv);
        if (parser.parse(QCoreApplication::arguments()) &&
            (parser.isSet(QStringLiteral("help")) || parser.isSet(QStringLiteral("version"))))
            parser.process(plain);
    }
    QApplication application(argc, argv);
    // Qt took the system's language: numbers have a point here, as in files and on the command line.
    QLocale::setDefault(QLocale::c());
    std::setlocale(LC_NUMERIC, "C");
    noctis::theme::apply(application);
    parser.process(application);

    const QTemporaryDir scratch;
    const bool touring = parser.isSet(shots);
    const QString data = touring
                             ? scratch.path()
                             : QStandardPaths::writableLocation(QStandardPaths::AppDataLocation);
    noctis::MainWindow window(data.toStdString());
    if (touring) {
        window.openDemo();
        const QStringList sides = parser.value(size).split(QLatin1Char('x'));
        const QSize pixels(sides.value(0).toInt(), sides.value(1).toInt());
        if (pixels.isEmpty()) {
            std::fprintf(stderr, "noctis: --size needs width x height, such as 1280x800\n");
            return 2;
        }
        return noctis::takeShots(window, parser.value(shots), pixels);
    }
    std::vector<std::filesystem::path> files;
    for (const QString& file : parser.positionalArguments())
        files.emplace_back(file.toStdString());
    if (parser.isSet(demo))
        window.openDemo();
    else if (!files.empty())
        window.open(files);
    window.offerRecovery();
    QSettings settings(window.session().settingsFile(), QSettings::IniFormat);
    noctis::placeWindow(window, settings);
    noctis::closeOnSignals(window);
    window.show();
    window.setFocus();  // nothing is chosen yet
    const int status = QApplication::exec();
    noctis::keepWindowPlace(window, settings);
    return status;
}
