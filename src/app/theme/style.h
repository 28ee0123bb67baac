#pragma once

class QStyle;

namespace ferro::app {

/// The style below our style sheet: Fusion, with the one icon it would load at every start drawn by us when it is
/// needed, which is when the menu bar is too narrow for its menus.
[[nodiscard]] QStyle* madeStyle();

} // namespace ferro::app
