#pragma once

namespace ferro::app {

/// Makes the machine's fonts known to this process from a configuration of a few lines, before QApplication would read
/// the system's forty files: that is a sixth of the start. The interface has faces of its own; the others serve for
/// signs these lack, so the rules that pick one face for another's name are not needed. What the person or the
/// administrator has set (their fonts.conf, local.conf, FONTCONFIG_FILE) still holds.
void useShortFontConfig();

} // namespace ferro::app
