#include "base/hash.h"
#include "base/parallel.h"

#include <atomic>
#include <catch2/catch.hpp>
#include <vector>

using namespace ferro;

TEST_CASE("parallel: every index once, slices cover all, cancelling stops early") {
    Progress progress;
    std::vector<std::atomic<int>> hit(10'000);
    parallelFor(hit.size(), progress, [&](std::size_t i) { ++hit[i]; });
    for (const auto& h : hit) REQUIRE(h == 1);
    for (const std::size_t grain : {1, 7, 20'000}) {
        for (auto& h : hit) h = 0;
        parallelSlices(hit.size(), grain, [&](std::size_t begin, std::size_t end) {
            for (std::size_t i = begin; i < end; ++i) ++hit[i];
        });
        for (const auto& h : hit) REQUIRE(h == 1);
    }
    parallelFor(0, progress, [](std::size_t) { FAIL("nothing to do"); });
    std::atomic<int> done = 0;
    Progress stopped;
    parallelFor(100'000, stopped, [&](std::size_t) {
        if (++done > 50) stopped.cancel();
    });
    CHECK(done < 50'000);
}

TEST_CASE("progress: stages fill their part of the whole, and the teller hears it") {
    std::vector<double> told;
    Progress progress([&](double f) { told.push_back(f); });
    progress.stage(0, 0.5);
    progress.at(1, 2);
    CHECK(progress.fraction() == Approx(0.25));
    progress.stage(0.5, 1);
    progress.at(1.0);
    CHECK(progress.fraction() == Approx(1));
    progress.at(0, 0); // nothing of nothing is all
    CHECK(told.size() == 3);
    CHECK_FALSE(progress.cancelled());
}

TEST_CASE("hash: the same content the same value, any change another") {
    const std::string text(1000, 'h');
    const auto base = Hash()(text).value();
    CHECK(Hash()(text).value() == base);
    for (std::size_t i = 0; i < text.size(); i += 37) {
        auto other = text;
        other[i] ^= 1;
        CHECK(Hash()(other).value() != base);
    }
    CHECK(Hash()(text + 'h').value() != base);
    CHECK(Hash()(1.0)(2.0).value() != Hash()(2.0)(1.0).value());
}
