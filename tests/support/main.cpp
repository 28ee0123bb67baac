#define CATCH_CONFIG_RUNNER
#include <catch2/catch.hpp>

#include "own_home.h"

int main(int argc, char** argv) {
    const ferro::test::OwnHome home;
    return Catch::Session().run(argc, argv);
}
