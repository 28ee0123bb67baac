#pragma once

#include "base/json_members.h"
#include "shop/fields.h"

// How the shop book's things look in JSON; the job file carries them in the same form. Only for .cpp files that write
// or read JSON.
namespace ferro::shop {

using json_members::json;

constexpr const auto& wordsOf(ToolKind) { return toolKindNames; }
constexpr const auto& wordsOf(Process) { return processNames; }

inline json writtenForm(const Processes& all) {
    json j = json::array();
    for (const Process p : all.list()) j.push_back(nameOf(p));
    return j;
}
inline void readFrom(const json& j, Processes& all) {
    std::vector<Process> list;
    json_members::read(j, list);
    all = {};
    for (const Process p : list) all.add(p);
}

template<class Io> void members(Io& io, Machine& m) {
    io("key", m.key)("name", m.name)("processes", m.processes)("bedX", m.bedX)("bedY", m.bedY)("travelZ", m.travelZ);
    io("maxFeed", m.maxFeed)("maxFeedZ", m.maxFeedZ)("rapid", m.rapid)("rapidZ", m.rapidZ);
    io("acceleration", m.acceleration)("accelerationZ", m.accelerationZ)("junction", m.junction);
    io("minSpindle", m.minSpindle)("maxSpindle", m.maxSpindle)("toolChangeSeconds", m.toolChangeSeconds);
    io("holder", m.holder)("hourCost", m.hourCost);
    if (Io::reads || m.does(Process::blade)) io("turnSpeed", m.turnSpeed);
    if (Io::reads || m.does(Process::beam)) io("leastPower", m.leastPower)("mostPower", m.mostPower);
    io("dialect", m.dialect)("dialects", m.dialects)("conversation", m.conversation);
    if constexpr (Io::reads)
        if (const auto* kind = io.member("kind")) { // before machines had processes
            std::string word;
            json_members::read(*kind, word);
            if (word != "router" && word != "laser")
                throw json_members::Fault{fmt::format("“{}” is no kind of machine", word.substr(0, 60)), {"kind"}};
            m.processes = word == "laser" ? Processes{Process::beam} : Processes{Process::rotary};
        }
}
template<class Io> void members(Io& io, Tool& t) {
    io("key", t.key)("name", t.name)("number", t.number)("kind", t.kind)("diameter", t.diameter)("tip", t.tip);
    io("angle", t.angle)("fluteLength", t.fluteLength)("flutes", t.flutes)("shank", t.shank)("stickOut", t.stickOut);
    io("trail", t.trail)("corner", t.corner);
    io("metreCost", t.metreCost);
}
template<class Io> void members(Io& io, Proven& p) {
    io("machine", p.machine)("tool", p.tool)("kind", p.kind)("thickness", p.thickness)("settings", p.settings);
    io("date", p.date)("note", p.note);
}
template<class Io> void members(Io& io, Material& m) {
    io("key", m.key)("name", m.name)("colour", m.colour)("grain", m.grain)("ply", m.ply)("squareCost", m.squareCost);
    io("surfaceSpeed", m.surfaceSpeed);
    io("chipPerDiameter", m.chipPerDiameter)("depthPerDiameter", m.depthPerDiameter)("cutPower", m.cutPower);
    io("cutSpeed", m.cutSpeed)("scribePower", m.scribePower)("scribeSpeed", m.scribeSpeed)("laserDepth", m.laserDepth);
    io("slitSpeed", m.slitSpeed)("slitForce", m.slitForce);
    io("pressFit", m.pressFit)("snugFit", m.snugFit)("looseFit", m.looseFit);
    if (Io::reads || m.fromBack) io("fromBack", m.fromBack);
    if (Io::reads || !m.proven.empty()) io("proven", m.proven);
    if constexpr (Io::reads) io("scorePower", m.scribePower)("scoreSpeed", m.scribeSpeed); // their names before
}
template<class Io> void members(Io& io, Board& b) {
    io("key", b.key)("name", b.name)("material", b.material)("width", b.width)("height", b.height);
    io("thickness", b.thickness)("count", b.count)("cost", b.cost);
    if (Io::reads || !b.outline.empty()) io("outline", b.outline);
}
template<class Io> void members(Io& io, Book& b) {
    io("machines", b.machines)("tools", b.tools)("materials", b.materials);
    if (Io::reads || !b.boards.empty()) io("boards", b.boards);
}

} // namespace ferro::shop
