#include "cli/verbs.h"
#include "job/job_file.h"
#include "plan/selection.h"
#include "support/jobs.h"
#include "support/sound.h"
#include "toolpath/toolpath.h"

using namespace ferro;
using namespace ferro::test;

namespace {

/// Verbs with made-up words: sizes and places that make sense, and some that do not.
class Words {
public:
    explicit Words(unsigned seed) : random_(seed) {}

    std::vector<std::string> next(const job::Job& job) {
        const auto items = some(job);
        const auto at = [&] { return number(-20, 320); };
        const std::string layer = pick("cut", "holes", "fold", "panel");
        switch (random_() % 30) {
        case 0: return {"rectangle", at(), at(), number(1, 90), number(1, 90), layer};
        case 1: return {"circle", at(), at(), number(0.2, 60), layer};
        case 2: return {"path", "M0 0H40V40H0Z M10 10H20V20H10Z M5 60Q20 90 40 60", layer, "frame"};
        case 3:
            return {"shape",         pick("star", "slot", "ellipse", "polygon", "arc"), at(), at(), at(), at(),
                    "layer=" + layer};
        case 4: return {"text", pick("BOB", "Ähre", "8", ""), number(2, 30), at(), at(), "layer=" + layer};
        case 5: return {"text-change", pick("3", "9", "15"), pick("WAVE", "i"), "height=" + number(2, 30)};
        case 6: return {"move", items, number(-30, 30), number(-30, 30)};
        case 7: return {"size", items, number(0, 90), number(0, 90)};
        case 8: return {"scale", items, number(-10, 220)};
        case 9: return {"turn", items, number(-200, 200)};
        case 10: return {"mirror", items, pick("x", "y")};
        case 11: return {"original-size", items};
        case 12: return {"duplicate", items, number(-40, 40), number(-40, 40)};
        case 13: return {"group", items, "set"};
        case 14: return {"ungroup", items};
        case 15: return {"layer", items, layer};
        case 16: return {pick("lock", "hide"), items, pick("on", "off")};
        case 17: return {"combine", items, pick("join", "take-away", "overlap", "split")};
        case 18: return {"offset", items, number(-6, 6), pick("round", "sharp", "flat")};
        case 19: return {"widen", items, number(0.2, 5), pick("round", "flat", "square")};
        case 20: return {"negative", items, number(0, 12)};
        case 21: return {"true-up", items, number(0.05, 2)};
        case 22: return {"thin", items, number(0.001, 0.5)};
        case 23: return {"outlines", items, number(0.01, 3)};
        case 24: return {"align", items, pick("left", "centre", "top"), pick("stock", "5")};
        case 25: return {"space", items, pick("across", "upward")};
        case 26: return {"bridge", items, "width=" + number(0.5, 4), "areas=" + pick("fall-out", "stay")};
        case 27: return {"unbridge", pick("3", "7", "12", "21")};
        case 28:
            return {"points", items, pick("0", "1-2", "all"), pick("take-out", "straight", "smooth", "part", "add")};
        default: return {"delete", items};
        }
    }
    unsigned operator()() { return static_cast<unsigned>(random_()); }

private:
    std::string number(double low, double high) {
        return fmt::format("{:.3f}", std::uniform_real_distribution<>(low, high)(random_));
    }
    template<class... Options> std::string pick(Options... options) {
        const char* list[] = {options...};
        return list[random_() % sizeof...(options)];
    }
    std::string some(const job::Job& job) {
        const auto& items = job.artwork->items;
        if (items.empty() || random_() % 8 == 0) return pick("all", "layer:cut", "layer:h*", "name:frame", "99");
        std::string out = std::to_string(items[random_() % items.size()].id.value);
        if (random_() % 2) out += "," + std::to_string(items[random_() % items.size()].id.value);
        return out;
    }
    std::mt19937 random_;
};

} // namespace

TEST_CASE("verbs: anything at all, in any order, leaves a sound job, and a refusal says why", "[property]") {
    const auto shop = book();
    for (unsigned seed = 1; seed <= 6; ++seed) {
        Words words(seed);
        auto job = stepped(fresh(), "outline");
        std::string did;
        std::size_t taken = 0, most = 0;
        for (int i = 0; i < 160; ++i) {
            const auto line = words.next(job);
            std::string text;
            for (const auto& word : line) text += word + " ";
            did += text + "+ ";
            INFO("seed " << seed << ": " << did);
            auto next = cli::applied(job, line, shop);
            if (!next) {
                CHECK(next.problem().what.size() > 8);
                continue;
            }
            if (next->artwork->items.size() > 80) continue; // enough of them
            ++taken;
            job = std::move(*next);
            most = std::max(most, job.artwork->items.size());
            mustBeSound(*job.artwork);
        }
        INFO("seed " << seed << ": " << did);
        CHECK(taken > 60);
        CHECK(most > 10);
        // It is kept as it is, and what was done to it is no hindrance to the next room.
        const auto back = job::fromBytes(*job::toBytes(job));
        REQUIRE(back);
        CHECK(*back == job);
        const auto contours = plan::contoursOf(job.plan, *job.artwork);
        for (const auto& contour : contours) {
            CHECK(artwork::find(*job.artwork, contour.item));
            CHECK(contour.parent < static_cast<int>(contours.size()));
        }
        Progress progress;
        CHECK(toolpath::toolpathOf(job, progress).has_value());
    }
}
