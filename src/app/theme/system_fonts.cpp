#include "app/theme/system_fonts.h"

#include <cstdlib>
#include <fontconfig/fontconfig.h>

namespace ferro::app {

void useShortFontConfig() {
    if (std::getenv("FONTCONFIG_FILE") || std::getenv("FONTCONFIG_PATH")) return;
    constexpr const char* lines = R"(<?xml version="1.0"?><!DOCTYPE fontconfig SYSTEM "urn:fontconfig:fonts.dtd">
<fontconfig>
<dir>/usr/share/fonts</dir><dir>/usr/local/share/fonts</dir><dir prefix="xdg">fonts</dir><dir>~/.fonts</dir>
<cachedir>/var/cache/fontconfig</cachedir><cachedir prefix="xdg">fontconfig</cachedir>
<include ignore_missing="yes" prefix="xdg">fontconfig/fonts.conf</include>
<include ignore_missing="yes">/etc/fonts/local.conf</include>
</fontconfig>)";
    FcConfig* config = FcConfigCreate();
    if (!config) return;
    if (FcConfigParseAndLoadFromMemory(config, reinterpret_cast<const FcChar8*>(lines), FcTrue) &&
        FcConfigBuildFonts(config))
        FcConfigSetCurrent(config);
    FcConfigDestroy(config); // the current one is held by the library too
}

} // namespace ferro::app
