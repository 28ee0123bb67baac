#include "base/kept.h"
#include "base/parallel.h"

#include <atomic>
#include <catch2/catch.hpp>

using namespace ferro;

TEST_CASE("kept: made once for what it is made of, whoever asks, and made without anything kept") {
    Kept kept;
    std::atomic<int> made = 0;
    const auto square = [&](Kept* by, int n) { return *Kept::of(by, KeptKey(n), [&] { return ++made, n * n; }); };
    for (int n : {3, 4, 3, 3, 4}) CHECK(square(&kept, n) == n * n);
    CHECK(made == 2);
    CHECK(square(nullptr, 3) == 9);
    CHECK(made == 3);
    // Another kind of result of the same is another result; so is what differs in the last bit.
    CHECK(*Kept::of(&kept, KeptKey(3), [] { return 0.5; }) == 0.5);
    CHECK(*Kept::of(&kept, KeptKey(0.1 + 0.2), [] { return 'a'; }) == 'a');
    CHECK(*Kept::of(&kept, KeptKey(0.3), [] { return 'b'; }) == 'b');
    CHECK(kept.size() == 5);
    std::atomic<int> wrong = 0;
    parallelFor(2000, Progress(), [&](std::size_t i) {
        const int n = static_cast<int>(i % 50);
        if (square(&kept, n) != n * n) ++wrong;
    });
    CHECK(wrong == 0);
}

TEST_CASE("kept: what nobody asked for in some turns is forgotten, what is held on to stays") {
    Kept kept;
    const auto ask = [&](int n) { return Kept::of(&kept, KeptKey(n), [n] { return n; }); };
    const auto held = ask(1);
    for (int turn = 0; turn < 5; ++turn) {
        (void)ask(2);
        kept.turn();
    }
    CHECK(kept.size() == 1);
    CHECK(*held == 1);
    int again = 0;
    (void)Kept::of(&kept, KeptKey(1), [&] { return ++again; });
    CHECK(again == 1);
}
