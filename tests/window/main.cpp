#define CATCH_CONFIG_RUNNER
#include <catch2/catch.hpp>

#include "app/theme/style.h"

#include <QApplication>
#include <csignal>

int main(int argc, char** argv) {
    qputenv("QT_QPA_PLATFORM", "offscreen");
    std::signal(SIGPIPE, SIG_IGN);
    int none = 1; // Catch takes the arguments
    QApplication app(none, argv);
    QApplication::setStyle(ferro::app::madeStyle());
    return Catch::Session().run(argc, argv);
}
