#pragma once

#include "plan/settings.h"

namespace ferro::plan {

struct Kind;

/// How far into an inner corner a round tool cuts, so that a square one fits in: not at all, into the corner itself, or
/// off along the longer or the shorter of its two edges.
enum class Relief { none, corner, longer, shorter };

/// How it comes to the outline: round by a quarter circle, or straight at 45°.
enum class LeadBy { arc, straight };

/// Cuts beside or along outlines: what parts are cut out with.
struct Outline {
    Depth depth;
    Rates rates;
    Beam beam;
    Side side = Side::automatic;
    Direction direction = Direction::climb;
    Entry entry = Entry::ramp;
    double rampAngle = 5; ///< degrees
    LeadBy leadBy = LeadBy::arc;
    double lead = 2;      ///< mm, radius of the arc into the cut, or length of the line; 0: none, nor out of it
    bool leadsOut = true; ///< and out of the cut
    double leadOut = 0;   ///< mm, of the one out; 0: as the one into it
    double allowance = 0; ///< mm left on the part
    Hold hold = Hold::tabs;
    double tabWidth = 8, tabHeight = 2.5, tabSpacing = 180;
    double tabCount = 0;     ///< on each outline; 0: by their spacing
    bool tabsSloped = false; ///< up onto them and down at the ramp angle instead of upright
    double skin = 0.3;       ///< mm left below what is held by a skin
    double skinUnder = 0;    ///< mm: parts smaller than this are held by a skin whatever the others are held by
    double skinFeed = 0;     ///< mm/min at which skins are cut through when all else is done; 0: they stay
    double floor = 0;        ///< mm left on the floor where it does not go through
    double finish = 0;       ///< mm that all passes but a last one at full depth leave beside the part
    double finishFeed = 0;   ///< mm/min of that last one; 0: as the others
    double overlap = 0;      ///< mm that it runs on past its start in the end
    Relief relief = Relief::none;
    bool wear = false;             ///< the controller makes up for the tool's wear, by a table of its own
    bool shared = false;           ///< parts as far apart as the tool is wide have the cut between them in common
    std::vector<EdgePlace> tabs;   ///< outlines with a tab here have only these
    std::vector<EdgePlace> starts; ///< where outlines are begun, at most once each; others where it suits

    static const Kind& kind();
    friend bool operator==(const Outline&, const Outline&) = default;
};

} // namespace ferro::plan
