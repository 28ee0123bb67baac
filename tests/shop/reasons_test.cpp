#include "shop/own.h"
#include "shop/reasons.h"
#include "support/own_home.h"

using namespace ferro;

TEST_CASE("reasons: of every tool, material and machine they say the numbers that steps begin with", "[property]") {
    const auto book = *shop::openBook(realDisk());
    std::size_t told = 0, held = 0;
    for (const auto& machine : book.machines)
        for (const auto& tool : book.tools)
            for (const auto& material : book.materials)
                for (const auto work : {shop::Work::cut, shop::Work::scribe, shop::Work::drill}) {
                    CAPTURE(machine.key, tool.key, material.key, static_cast<int>(work));
                    const auto start = shop::startFor(tool, material, machine, work, 6);
                    auto why = shop::reasonsFor(tool, material, machine, work, 6);
                    const auto says = [&](const char* setting, double value) {
                        CAPTURE(setting, why[setting]);
                        CHECK(why[setting].find(fmt::format("{:g}", value)) != std::string::npos);
                        held += why[setting].find("held to") != std::string::npos;
                        ++told;
                    };
                    if (tool.process() == shop::Process::rotary) {
                        says("feed", start.feed);
                        if (work != shop::Work::drill) says("spindle", start.spindle);
                        CHECK_FALSE(why["plunge"].empty());
                        CHECK_FALSE(why["depthPerPass"].empty());
                    } else if (tool.process() == shop::Process::beam) {
                        CHECK(why["power"].find(material.name) != std::string::npos);
                        CHECK(why["feed"].find(material.name) != std::string::npos);
                        CHECK(why.contains("passes") == (work == shop::Work::cut));
                    } else {
                        CHECK(why["force"].find(material.name) != std::string::npos);
                    }
                }
    CHECK(told > 100);
    CHECK(held > 10); // some machine is always slower than the book would have it
}
