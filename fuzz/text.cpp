// Any words in any of our faces with any settings, or any bytes as a font: what comes out is finite and closed where it
// should be.
#include "artwork/text.h"
#include "base/disk.h"

#include <cstdlib>
#include <cstring>
#include <unistd.h>

extern "C" int LLVMFuzzerTestOneInput(const unsigned char* data, size_t size) {
    using namespace ferro;
    if (size < 12 || size > 60'000) return 0;
    artwork::Lettering lettering;
    const auto& faces = artwork::shippedFaces();
    const unsigned char face = data[0], shape = data[1];
    std::memcpy(&lettering.capHeight, data + 2, sizeof(double));
    if (shape & 1) lettering.capHeight = 1 + data[2];
    lettering.align = static_cast<artwork::Lettering::Align>(shape / 2 % 3);
    lettering.tracking = (data[10] - 128) / 8.0;
    if (shape & 16)
        lettering.along = Path{{0, 0}, {Segment::arc({0, 40}, {40, 40}, true), Segment::line({90, 10})}, false};
    if (shape & 32) lettering.along = circle({0, 0}, data[11]);
    lettering.text = std::string(reinterpret_cast<const char*>(data) + 12, size - 12);
    if (face == 255) { // the bytes are the font, the words are ours
        static const std::string file = [] {
            const char* folder = std::getenv("TMPDIR");
            return std::string(folder ? folder : "/tmp") + "/fuzzed-" + std::to_string(::getpid()) + ".ttf";
        }();
        if (!realDisk().write(file, lettering.text)) return 0;
        lettering.face = file;
        lettering.text = "Mond fähre 12";
    } else {
        lettering.face = faces[face % faces.size()];
        lettering.text.resize(std::min<std::size_t>(lettering.text.size(), 400));
    }
    const auto made = artwork::lettered(lettering);
    if (!made) return 0;
    for (const auto& piece : made->pieces) {
        const Box box = boundsOf(piece);
        if (!box.empty() && (!isFinite(box.low) || !isFinite(box.high))) __builtin_trap();
        if (piece.outline.closed && !(piece.outline.end() == piece.outline.start)) __builtin_trap();
    }
    return 0;
}
