#include "cli/common.h"
#include "cli/text_words.h"
#include "formats/hairlines.h"
#include "formats/svg.h"

namespace ferro::cli {

void addText(Options& app, int& exit) {
    struct Asked {
        std::string words, out, along;
        std::vector<std::string> settings;
        bool asJson = false;
    };
    auto command = app.command("text", "Letter words as outlines, or as lines for scribing.\n"
                                       "Example: ferrograph-cli text FERRY height=40 face=stencil -o ferry.svg");
    auto o = std::make_shared<Asked>();
    command.option("words", o->words, "lines parted by \\n").required();
    command.option("settings", o->settings,
                   "height=10 face=sign bold|sign narrow|stencil|single line|FILE tracking= spacing= align= layer=");
    command.option("--along", o->along, "SVG path data in mm, y up, that the letters stand on");
    command.option("-o,--out", o->out, "the drawing to write, .svg or .dxf, or - for SVG on standard output");
    command.flag("--json", o->asJson, "size, letters and points as JSON");
    command.run([o, &exit] {
        std::string layer = "text";
        artwork::Lettering lettering;
        lettering.text = o->words;
        for (std::size_t at; (at = lettering.text.find("\\n")) != std::string::npos;)
            lettering.text.replace(at, 2, "\n");
        job::Job none;
        none.artwork = std::make_shared<const artwork::Artwork>();
        const auto asked = letteringFrom(none, o->settings, lettering, layer);
        if (!asked) return void(exit = complain(asked.problem()));
        lettering = *asked;
        if (!o->along.empty()) {
            const auto line = formats::pathsFromSvgData(o->along);
            if (!line) return void(exit = complain(line.problem().within("--along")));
            if (line->empty())
                return void(exit =
                                complain({.what = "The line is empty.", .where = "--along", .mend = "Write a path."}));
            lettering.along = line->front();
        }
        auto added = artwork::withText({}, lettering, {}, layer);
        if (!added) return void(exit = complain(added.problem()));
        const auto checked = artwork::lettered(lettering);
        if (checked)
            for (const auto& n : checked->notices) notice(n.text);
        const Box box = artwork::boundsOf(added->artwork, added->ids);
        if (!o->out.empty()) {
            const auto lines = formats::hairlinesOf(added->artwork);
            if (!lines) return void(exit = complain(lines.problem()));
            if (auto named = checkedName(o->out, {".svg", ".dxf"}); !named)
                return void(exit = complain(named.problem()));
            const bool dxf = hasEnding(o->out, {".dxf"});
            if (auto done = writeText(o->out, dxf ? formats::dxfOf(*lines) : formats::svgOf(*lines, box)); !done)
                return void(exit = complain(done.problem()));
        }
        if (o->asJson || o->out.empty())
            fmt::print(o->out == "-" ? stderr : stdout, "{}\n",
                       Json{{"pieces", added->ids.size()},
                            {"points", artwork::countsOf(added->artwork).points},
                            {"bounds", jsonOf(box)}}
                           .dump(2));
    });
}

} // namespace ferro::cli
