#include "app/shell/facts.h"

#include <set>

namespace ferro::app {

namespace {

QString counted(std::size_t count, const QString& one, const QString& many) {
    return QStringLiteral("%1 %2").arg(count).arg(count == 1 ? one : many);
}
QString length(const job::Job& job, double value) {
    // Two decimals are enough for a card, in inches too: three sizes have to fit on its line.
    QString text = QString::number(job.units == Units::mm ? value : value / mmPerInch, 'f', 2);
    while (text.contains('.') && (text.endsWith('0') || text.endsWith('.'))) text.chop(1);
    return text;
}

CardFacts sourceCard(const Session& s) {
    const auto counts = artwork::countsOf(*s.job().artwork);
    CardFacts card{QObject::tr("Source"), {}, {}, State::empty, {}};
    if (counts.pictures == 0 && counts.pieces == 0) return card.first = QObject::tr("no artwork yet"), card;
    card.first = QObject::tr("%1 · %2").arg(counted(counts.pictures, QObject::tr("picture"), QObject::tr("pictures")),
                                            counted(counts.pieces, QObject::tr("piece"), QObject::tr("pieces")));
    bool waiting = false;
    for (const auto& item : s.job().artwork->items)
        if (const auto* leaf = artwork::pictureOf(item)) {
            // A long name may be cut short, the number not.
            card.second = QObject::tr("%2 px/mm · %1")
                              .arg(QString::fromStdString(leaf->file))
                              .arg(leaf->picture.width / artwork::boundsOf(item).width(), 0, 'f', 1);
            waiting |= !item.underlay;
        }
    card.state = waiting ? State::underWay : State::ready;
    return card;
}

CardFacts mendCard(const Session& s) {
    const auto counts = artwork::countsOf(*s.job().artwork);
    CardFacts card{QObject::tr("Mend"), QObject::tr("nothing yet"), {}, State::empty, {}};
    if (counts.pieces == 0) return card;
    card.first = QObject::tr("%1 · %2").arg(counted(counts.pieces, QObject::tr("piece"), QObject::tr("pieces")),
                                            counted(counts.points, QObject::tr("point"), QObject::tr("points")));
    card.second = counts.open == 0 ? QObject::tr("all closed")
                                   : counted(counts.open, QObject::tr("open line"), QObject::tr("open lines"));
    card.state = State::ready;
    if (const auto audit = s.auditor().audit(); audit && s.auditor().isFresh() && !audit->flaws.empty())
        card.state = State::look, card.stateWords = QObject::tr("%1 to mend").arg(audit->flaws.size());
    return card;
}

CardFacts sheetCard(const Session& s) {
    const auto& job = s.job();
    const auto& stock = job.sheet().stock;
    constexpr const char* corners[] = {"zero lower left", "zero lower right", "zero upper right", "zero upper left",
                                       "zero in the centre"};
    CardFacts card{QObject::tr("Sheet"),
                   QObject::tr("%1 × %2 × %3 %4")
                       .arg(length(job, stock.width), length(job, stock.height), length(job, stock.thickness),
                            job.units == Units::mm ? "mm" : "in"),
                   QObject::tr("%1 · %2").arg(QString::fromStdString(job::materialOf(job).name).toLower(),
                                              QObject::tr(corners[static_cast<int>(stock.corner)])),
                   State::ready,
                   {}};
    if (const auto& tray = job.sheet().tray) card.first = QObject::tr("%1 of %2").arg(tray->count()).arg(card.first);
    const Box sheet = job::sheetOf(stock);
    std::size_t off = 0;
    for (const auto& item : job.artwork->items)
        if (artwork::shapeOf(item) && !artwork::isHidden(*job.artwork, item) &&
            !sheet.grown(1e-6).contains(artwork::boundsOf(item)))
            ++off;
    if (off) card.state = State::look, card.stateWords = QObject::tr("%1 off the sheet").arg(off);
    return card;
}

CardFacts cutsCard(const Session& s) {
    const auto& plan = s.job().plan;
    CardFacts card{QObject::tr("Cuts"), QObject::tr("no steps"), {}, State::empty, {}};
    if (plan.steps.empty()) return card;
    std::set<std::string> tools;
    for (const auto& step : plan.steps) tools.insert(step.tool);
    card.first = QObject::tr("%1 · %2").arg(counted(plan.steps.size(), QObject::tr("step"), QObject::tr("steps")),
                                            counted(tools.size(), QObject::tr("tool"), QObject::tr("tools")));
    if (s.prover().proof()) card.second = QString::fromStdString(shownTime(s.prover().proof()->timing.total));
    card.state = State::ready;
    if (s.prover().proof() && !s.prover().isFresh())
        card.isOld = true, card.second = QObject::tr("%1 · proofing…").arg(card.second);
    std::size_t looks = 0;
    bool noGo = false;
    if (s.prover().isFresh())
        for (const auto& f : s.prover().proof()->findings) {
            if (!f.step) continue;
            looks += f.verdict == proof::Verdict::look;
            noGo |= f.verdict == proof::Verdict::noGo;
        }
    if (looks) card.state = State::look, card.stateWords = QObject::tr("%1 to look at").arg(looks);
    if (noGo) card.state = State::noGo, card.stateWords.clear();
    return card;
}

CardFacts proofCard(const Session& s) {
    CardFacts card{QObject::tr("Proof"), QObject::tr("nothing to proof"), {}, State::empty, {}};
    if (s.job().plan.steps.empty() || !s.prover().proof()) return card;
    const auto& p = *s.prover().proof();
    const double worst = std::max({p.deviation.cutInto, p.deviation.leftStanding, p.deviation.astray});
    card.first = QObject::tr("deviation %1 mm").arg(worst, 0, 'f', 3);
    if (p.deviation.unreachedArea >= 0.5)
        card.second = QObject::tr("%1 cm² left in corners").arg(p.deviation.unreachedArea / 100, 0, 'f', 2);
    card.state = State::ready;
    if (const auto looks = p.count(proof::Verdict::look))
        card.state = State::look, card.stateWords = QObject::tr("%1 to look at").arg(looks);
    if (const auto noGos = p.count(proof::Verdict::noGo))
        card.state = State::noGo, card.stateWords = QObject::tr("%1 no-go").arg(noGos);
    if (!s.prover().isFresh()) // the figures are of the job as it was
        card.isOld = true, card.state = State::underWay, card.stateWords = QObject::tr("proofing…");
    return card;
}

CardFacts runCard(const Session& s) {
    const auto& run = s.runner().facts();
    CardFacts card{QObject::tr("Run"),
                   QString::fromStdString(s.job().machine.name),
                   QObject::tr("not connected"),
                   State::empty,
                   {}};
    using State_ = link::Streamer::State;
    if (run.connected)
        card.second = QObject::tr("connected · %1").arg(wordOf(run.status.state)), card.state = State::underWay;
    if (run.state == State_::running || run.state == State_::holding || run.state == State_::asking)
        card.second = QObject::tr("line %1 of %2").arg(run.done).arg(run.lines), card.state = State::underWay,
        card.stateWords = run.state == State_::running ? QObject::tr("running") : QObject::tr("waiting");
    const auto rounds = s.runner().rounds();
    if (run.state == State_::finished && rounds.done > 0 && rounds.left > 0)
        card.second = QObject::tr("%1 of %2 runs done").arg(rounds.done).arg(rounds.done + rounds.left),
        card.state = State::underWay;
    else if (run.state == State_::finished)
        card.second = QObject::tr("finished"), card.state = State::ready;
    if (run.state == State_::stopped || run.state == State_::failed)
        card.second = QObject::tr("broken off after line %1").arg(run.done), card.state = State::look;
    return card;
}

} // namespace

std::array<CardFacts, 6> cardsOf(const Session& session) {
    std::array<CardFacts, 6> cards{sourceCard(session), mendCard(session),  sheetCard(session),
                                   cutsCard(session),   proofCard(session), runCard(session)};
    for (auto& card : cards)
        if (card.stateWords.isEmpty()) card.stateWords = wordOf(card.state);
    return cards;
}

std::vector<StepFacts> stepsOf(const Session& session) {
    std::vector<StepFacts> list;
    const auto& job = session.job();
    for (const auto& step : job.plan.steps) {
        const auto* tool = job::toolOf(job, step);
        StepFacts facts{step.id,     QString::fromStdString(step.name), {}, &plan::kindOf(step), step.enabled,
                        State::ready};
        const auto* beam = tool && tool->process() == shop::Process::beam ? plan::beamIn(step) : nullptr;
        const auto* depth = plan::depthIn(step);
        const auto* rates = plan::ratesIn(step);
        QString how;
        if (beam && rates)
            how = QObject::tr("%1 % at %2")
                      .arg(beam->power)
                      .arg(QString::fromStdString(shown(rates->feed, Measure::feed, job.units)));
        else if (depth)
            how = depth->through ? QObject::tr("through") : QObject::tr("%1 deep").arg(length(job, depth->depth));
        else if (const auto& first = facts.kind->fields.front(); true) // what it is told by before all else
            how = QObject::tr("%1 %2").arg(QString::fromStdString(std::string(first.label)).toLower(),
                                           length(job, plan::valueOf(first, step)));
        facts.summary =
            QObject::tr("%1 · %2").arg(tool ? QString::fromStdString(tool->name) : QObject::tr("no tool"), how);
        if (const auto* source = plan::find(job.plan, step.again))
            facts.summary += QObject::tr(" · as “%1”").arg(QString::fromStdString(source->name));
        if (session.prover().isFresh()) {
            std::size_t cuts = 0;
            for (const auto& moves : session.prover().proof()->path.steps)
                if (moves.step == step.id && moves.blank <= 1) {
                    // Each outline or area once, in however many goes it is cut.
                    const bool areas = moves.kind && moves.kind->takes == plan::Takes::areas;
                    std::set<std::size_t> contours;
                    std::size_t others = 0;
                    for (const auto& cut : moves.cuts) {
                        if (areas && cut.intent.side == plan::Side::outside) continue;
                        cut.intent.contour ? void(contours.insert(*cut.intent.contour)) : void(++others);
                    }
                    cuts = contours.empty() ? others : contours.size();
                }
            if (step.enabled) facts.summary = QObject::tr("%1 × %2").arg(cuts).arg(facts.summary);
            for (const auto& f : session.prover().proof()->findings) {
                if (f.step != step.id) continue;
                if (f.verdict == proof::Verdict::noGo)
                    facts.state = State::noGo;
                else if (f.verdict == proof::Verdict::look && facts.state == State::ready)
                    facts.state = State::look;
            }
        } else {
            facts.state = State::underWay;
        }
        if (!step.enabled) facts.state = State::empty;
        list.push_back(std::move(facts));
    }
    return list;
}

StripFacts stripOf(const Session& session) {
    StripFacts strip;
    const auto& job = session.job();
    if (job.plan.steps.empty())
        strip.nothing =
            job.artwork->items.empty()
                ? QObject::tr("No steps yet. Bring in artwork, place it on the sheet, then add the first step in Cuts.")
                : QObject::tr("No steps yet. Add the first step in Cuts.");
    else if (!session.prover().proof() || session.prover().proof()->path.steps.empty())
        strip.nothing = session.prover().isFresh() ? QObject::tr("The steps take no pieces yet.")
                                                   : QObject::tr("Working out the time…");
    if (!strip.nothing.isEmpty()) return strip;
    const auto& proof = *session.prover().proof();
    std::set<std::string> tools;
    for (std::size_t i = 0; i < proof.path.steps.size(); ++i) {
        const auto& step = proof.path.steps[i];
        const auto& time = proof.timing.steps[i];
        tools.insert(step.tool.key);
        strip.blocks.push_back({step.step, QString::fromStdString(step.title()),
                                QString::fromStdString(shownTime(time.motion)), step.kind, time.begin,
                                time.begin + time.change, time.end(), step.toolChange});
    }
    strip.isOld = !session.prover().isFresh();
    strip.total = proof.timing.total;
    strip.playhead = session.prover().playhead();
    strip.canDrag = session.station() >= StationId::proof;
    strip.words = QObject::tr("total %1 · %2")
                      .arg(QString::fromStdString(shownTime(strip.total)),
                           counted(tools.size(), QObject::tr("tool"), QObject::tr("tools")));
    if (strip.isOld) strip.words = QObject::tr("being worked out anew; before: %1").arg(strip.words);
    if (session.station() == StationId::run && session.runner().active())
        strip.playhead = session.prover().timeAt(session.runner().facts().status.clock);
    return strip;
}

} // namespace ferro::app
