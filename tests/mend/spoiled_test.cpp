#include "geometry/measure.h"
#include "mend/repair.h"
#include "support/nearness.h"
#include "support/page.h"

using namespace ferro;
using mend::Fault;
using test::between;

namespace {

/// A kit of a dozen outlines as shops get it: some whole, some in loose bits, with small gaps, drawn twice, in part or
/// all, in bits that run past each other; specks beside them; in any order and direction.
class Spoiler {
public:
    explicit Spoiler(unsigned seed) : random_(seed) {
        const auto kinds = test::kinds();
        for (unsigned k = 0; k < 12; ++k) {
            const Vec2 at{60.0 + 110 * (k % 4), 60.0 + 110 * (k / 4)};
            for (auto& path : kinds[(k + seed) % kinds.size()].draw(random_, at, 100, static_cast<int>(k % 6)))
                truth.push_back(path);
        }
        for (const auto& path : truth) spoil(path);
        std::shuffle(spoiled.begin(), spoiled.end(), random_);
    }
    std::vector<Path> truth, spoiled;

private:
    double draw(double low, double high) { return between(random_, low, high); }
    void put(const Path& path) { spoiled.push_back(random_() % 2 ? path : reversed(path)); }
    void spoil(const Path& path) {
        const Ruler ruler(path);
        const double whole = ruler.length();
        const auto bit = [&](double from, double to) { // at most once round
            to = std::min(to, from + whole);
            put({ruler.at(from).point, ruler.stretch(from, to), false});
        };
        const auto bits = [&](double gap, double past) {
            const int parts = 2 + static_cast<int>(random_() % 6);
            const double shift = draw(0, whole);
            std::vector<double> cuts;
            for (int i = 0; i < parts; ++i) cuts.push_back(shift + whole * (i + draw(0, 0.6)) / parts);
            cuts.push_back(cuts[0] + whole);
            for (std::size_t i = 0; i + 1 < cuts.size(); ++i)
                bit(cuts[i] + draw(0, gap / 2), cuts[i + 1] - draw(0, gap / 2) + draw(0, past));
        };
        const double from = draw(0, whole);
        switch (random_() % 7) {
        case 0: put(path); break;
        case 1: bits(0, 0); break;
        case 2: bits(0.15, 0); break;
        case 3: put(path), put(path); break;
        case 4: put(path), bit(from, from + draw(0.1, 0.5) * whole); break;
        case 5: bits(0, 0), bit(from, from + draw(0.05, 0.3) * whole); break;
        default: bits(0, 4);
        }
        if (random_() % 3 == 0) spoiled.push_back(circle(ruler.at(from).point + Vec2{2, 2}, 0.15));
    }
    test::Random random_;
};

} // namespace

TEST_CASE("mend: a spoilt kit comes back as the outlines it was, each once and closed", "[property]") {
    for (unsigned seed = 1; seed <= 16; ++seed) {
        const Spoiler kit(seed);
        std::vector<artwork::NamedPieces> sets;
        for (const auto& path : kit.spoiled) sets.push_back({{{path, {}}}, "kit", "bit", false, {}});
        const auto art = artwork::withAllPieces({}, std::move(sets)).artwork;
        constexpr std::array which{Fault::speck, Fault::stub, Fault::doubled, Fault::gap, Fault::crossing};
        Progress progress;
        const auto out = mend::withAllMended(art, which, {}, {}, progress);
        REQUIRE(out);
        CAPTURE(seed, out->did);
        std::vector<Path> got;
        for (const auto& item : out->artwork.items) {
            const auto piece = artwork::placed(item);
            CHECK(piece.outline.closed);
            CHECK(piece.openings.empty());
            got.push_back(piece.outline);
        }
        CHECK(got.size() == kit.truth.size());
        const auto off = test::offBetween(got, kit.truth, 2, test::Corners::count); // in units of 2 mm
        CHECK(off.largest < 0.05);
        CHECK(off.missed < 0.05);
    }
}
