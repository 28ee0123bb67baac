#include "trace/trace.h"
#include "cli/common.h"
#include "cli/trace_words.h"
#include "formats/hairlines.h"

namespace ferro::cli {

void addTrace(Options& app, int& exit) {
    struct Asked {
        std::string picture, out, report, colours, only, patches, find = "areas";
        double width = 0;
        bool json = false;
        trace::Settings settings;
    };
    auto command = app.command("trace", "Turn a picture into outlines.\nExample: ferrograph-cli trace "
                                        "heron.png --width 148 --speck 0.4 -o heron.svg --report heron.json");
    auto o = std::make_shared<Asked>();
    command.option("picture", o->picture).required();
    command.option("-o,--out", o->out, "SVG file, - for standard output");
    command.option("--report", o->report, "JSON file with level, counts and the largest miss");
    command.flag("--json", o->json, "the same on standard output");
    command.option("--width", o->width, "mm; without it the picture's own size").range(0.1, 10000.0);
    command.option("--find", o->find, "areas, rim, strokes, colours or edges")
        .oneOf({trace::findWords.begin(), trace::findWords.end()});
    command.option("--level", o->settings.level, "grey below which is dark, 1 to 255 (default: found)").range(1, 255);
    command.flag("--invert", o->settings.invert, "light shapes on dark");
    command.option("--speck", o->settings.speck, "mm², smaller areas are dropped (default: found)").range(0, 1e6);
    command.option("--corners", o->settings.cornersUnder, "degrees; bends tighter than this stay corners");
    command.option("--follow", o->settings.followWithin,
                   "mm that a curve may leave the outline (0: as near as the pixels tell)");
    command.option("--colours", o->colours, "how many, or which: 4, or #9e3f22,#ffffff (default: found)");
    command.flag("--go-under", o->settings.goUnder, "each colour goes on under those that lie on it");
    command.flag("--paper", o->settings.paper, "the colour round the picture's edge too");
    command.option("--above", o->settings.above, "a band: greys below this are light again").range(0, 255);
    command.option("--only", o->only, "x,y,width,height in mm: nothing else is traced");
    command.option("--line", o->settings.lineWidth, "mm, of edges: what is wider is an area");
    command.option("--step", o->settings.leastStep, "greys, of edges: what differs by less is none");
    command.option("--patches", o->patches, "JSON file: [{\"area\": \"10,10,40,30\", \"find\": \"strokes\"}]");
    command.run([o, &exit] {
        const auto picture = picture::load(o->picture);
        if (!picture) return void(exit = complain(picture.problem()));
        for (const auto& n : picture->notices) notice(n.text);
        double pxPerMm = o->width > 0 ? picture->width / o->width : picture->pxPerMm.value_or(0);
        if (pxPerMm <= 0) {
            pxPerMm = picture->width / 200.0;
            notice("The picture does not say its size; taken as 200 mm wide. Give --width.");
        }
        o->settings.find = *trace::findFrom(o->find);
        if (!o->colours.empty())
            if (auto taken = trace::takeColours(o->colours, o->settings); !taken)
                return void(exit = complain(taken.problem()));
        if (!o->only.empty())
            if (auto taken = takeTraceSetting("only", o->only, Units::mm, o->settings); !taken)
                return void(exit = complain(taken.problem()));
        std::vector<trace::Patch> patches;
        if (!o->patches.empty()) {
            const auto text = realDisk().read(o->patches);
            if (!text) return void(exit = complain(text.problem()));
            auto some = patchesFrom(*text, o->settings);
            if (!some) return void(exit = complain(some.problem().within(o->patches)));
            patches = std::move(*some);
        }
        ShownProgress shown("tracing");
        const auto traced = trace::traced(*picture, pxPerMm, o->settings, shown.progress, patches);
        if (!traced) return void(exit = complain(traced.problem()));
        if (traced->pieces.empty())
            return void(exit = complain({.what = traced->notices.back().text, .where = o->picture, .mend = {}}));
        for (const auto& n : traced->notices) notice(n.text);
        std::size_t openings = 0;
        double area = 0;
        for (const auto& piece : traced->pieces) {
            openings += piece.openings.size();
            area += areaOf(piece.outline);
            for (const auto& opening : piece.openings) area += areaOf(opening);
        }
        std::vector<formats::Hairlines> layers;
        Json colours = Json::array();
        auto next = traced->pieces.begin();
        for (const auto& layer : traced->layers) {
            const auto end = next + static_cast<std::ptrdiff_t>(layer.pieces);
            layers.push_back({layer.name, trace::toText(layer.colour), {next, end}});
            colours.push_back(
                {{"name", layer.name}, {"colour", trace::toText(layer.colour)}, {"pieces", layer.pieces}});
            next = end;
        }
        if (layers.empty() || next != traced->pieces.end())
            layers.push_back({"trace", "#000000", {next, traced->pieces.end()}});
        Json report{{"level", traced->level},
                    {"pieces", traced->pieces.size()},
                    {"openings", openings},
                    {"points", traced->points},
                    {"specksDropped", traced->specksDropped},
                    {"speck", traced->speck},
                    {"largestMiss", traced->largestMiss},
                    {"pxPerMm", pxPerMm},
                    {"area", area},
                    {"quality", picture::wordsFor(picture::qualityOf(picture::greyOf(*picture), pxPerMm))}};
        if (colours.size() > 0) report["colours"] = std::move(colours);
        if (!o->out.empty()) {
            if (auto named = checkedName(o->out, {".svg"}); !named) return void(exit = complain(named.problem()));
            const Box page{{0, 0}, {picture->width / pxPerMm, picture->height / pxPerMm}};
            if (auto done = writeText(o->out, formats::svgOf(layers, page)); !done)
                return void(exit = complain(done.problem()));
        }
        if (!o->report.empty())
            if (auto done = writeText(o->report, report.dump(2) + "\n"); !done)
                return void(exit = complain(done.problem()));
        if (o->json) {
            fmt::print(o->out == "-" ? stderr : stdout, "{}\n", report.dump(2));
        } else if (o->report.empty()) {
            fmt::print(o->out == "-" ? stderr : stdout,
                       "{} pieces · {} points · off by {:.3f} mm at most · level {} · {}\n", traced->pieces.size(),
                       traced->points, traced->largestMiss, traced->level,
                       traced->specksDropped
                           ? fmt::format("{} specks under {:.2g} mm² dropped", traced->specksDropped, traced->speck)
                           : std::string("no speck dropped"));
        }
    });
}

} // namespace ferro::cli
