#include "cli/verbs.h"

#include "cli/words_internal.h"
#include "shop/own.h"

namespace ferro::cli {

const std::vector<Verb>& verbs() {
    static const auto all = [] {
        auto list = drawingVerbs();
        for (auto part : {itemVerbs(), shapeVerbs(), pointVerbs(), jobVerbs(), sheetVerbs()})
            list.insert(list.end(), part.begin(), part.end());
        return list;
    }();
    return all;
}

Result<Shop> theShop() {
    auto book = shop::openBook(realDisk());
    if (!book) return book.problem();
    auto house = plan::openHouse(realDisk());
    if (!house) return house.problem();
    return Shop(std::move(*book), std::move(*house));
}

Result<Job> applied(const Job& job, const Words& words, const Shop& shop) {
    Job out = job;
    for (std::size_t at = 0; at < words.size();) {
        const auto end = static_cast<std::size_t>(
            std::find(words.begin() + static_cast<std::ptrdiff_t>(at), words.end(), "+") - words.begin());
        const Words arguments(words.begin() + static_cast<std::ptrdiff_t>(std::min(at + 1, end)),
                              words.begin() + static_cast<std::ptrdiff_t>(end));
        const auto verb =
            std::find_if(verbs().begin(), verbs().end(), [&](const Verb& v) { return v.name == words[at]; });
        if (verb == verbs().end())
            return Problem{.what = fmt::format("There is no edit “{}”.", words[at]),
                           .where = {},
                           .mend = "See ferrograph-cli edit --help."};
        if (arguments.size() < verb->least)
            return Problem{.what = fmt::format("{} needs {}.", verb->name, verb->usage), .where = {}, .mend = {}};
        auto next = verb->apply(out, arguments, shop);
        if (!next) return next.problem().within(std::string(verb->name));
        out = std::move(*next);
        at = end + 1;
    }
    return out;
}

} // namespace ferro::cli
