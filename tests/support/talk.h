#pragma once

#include "link/conversation.h"

namespace ferro::test {

/// The conversation that the stand-in speaks unless told otherwise, and the bytes that act at once in it
/// (docs/link.md).
inline const link::Conversation& checkedTalk() {
    static const auto talk = *link::openConversation(realDisk(), "checked");
    return talk;
}
inline constexpr char askStatus = 5, doHold = 3, doResume = 2, doReset = 4;

/// A status as it stands on the line, but for its check.
inline std::optional<link::Status> statusFrom(std::string_view text) {
    const auto answer = checkedTalk().heard(link::checked(text));
    if (!answer || answer->kind != link::Conversation::Answer::Kind::status) return std::nullopt;
    return answer->status;
}

} // namespace ferro::test
