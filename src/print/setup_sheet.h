#pragma once

#include "proof/proof.h"

namespace ferro::print {

/// What a program is known by at the machine.
struct ProgramFacts {
    std::string file; ///< name only
    std::string hash; ///< of its text, as shown
    std::size_t lines = 0;

    [[nodiscard]] static ProgramFacts of(std::string file, std::string_view text, std::size_t lines);
};

/// The setup sheet of the sheet at hand, as a PDF (need RU4): its picture with zero and clamps, stock, tools in order
/// with numbers and how far they have to stick out, steps with depth, feed and time, notes and stops, what the proof
/// says, and the program. The same job gives the same bytes. Of a job with a no-go it says so and names no program.
[[nodiscard]] Result<std::string> setupSheet(const job::Job& job, const proof::Proof& proof,
                                             const std::optional<ProgramFacts>& program);

} // namespace ferro::print
