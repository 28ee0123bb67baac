#define CATCH_CONFIG_RUNNER
#include <catch2/catch.hpp>

#include "app/theme/style.h"
#include "support/own_home.h"

#include <QApplication>
#include <csignal>

int main(int argc, char** argv) {
    const ferro::test::OwnHome home;
    qputenv("QT_QPA_PLATFORM", "offscreen");
    qputenv("QT_LOGGING_RULES", "qt.qpa.*=false");
    std::signal(SIGPIPE, SIG_IGN);
    int none = 1; // Catch takes the arguments
    QApplication app(none, argv);
    QApplication::setStyle(ferro::app::madeStyle());
    return Catch::Session().run(argc, argv);
}
