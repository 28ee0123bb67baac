#include "picture/pixel_work.h"

#include <dlfcn.h>
#include <filesystem>

namespace ferro::picture {

Result<const PixelWork*> pixelWork() {
    // Once and for all threads; it stays for the life of the program. Beside the program, or in the library folder of
    // an installation; by its whole path, because a search path is not everyone's (the sanitizers look by their own).
    static const auto found = []() -> Result<const PixelWork*> {
        std::error_code none;
        const auto folder = std::filesystem::read_symlink("/proc/self/exe", none).parent_path();
        std::string why;
        for (const char* place : {"ferro-pixels.so", "../lib/ferrograph/ferro-pixels.so"}) {
            const auto file = folder / place;
            void* module = dlopen(file.c_str(), RTLD_NOW | RTLD_LOCAL);
            const auto entry =
                module ? reinterpret_cast<const PixelWork* (*)()>(dlsym(module, "ferroPixelWork")) : nullptr;
            if (entry) return entry();
            if (const char* said = dlerror(); said && why.empty()) why = said;
        }
        return Problem{.what = fmt::format("The picture operations could not be loaded ({}).", why),
                       .where = "ferro-pixels.so",
                       .mend = "Install Ferrograph anew: this file belongs to it."};
    }();
    return found;
}

Result<Cleaned> cleaned(const Picture& original, const std::vector<CleanStep>& steps, double pxPerMm,
                        Progress& progress) {
    const auto work = pixelWork();
    return work ? (*work)->cleaned(original, steps, pxPerMm, progress) : work.problem();
}

Result<Reduced> reduced(const Picture& picture, double pxPerMm, std::size_t pixels) {
    if (picture.count() <= pixels) return Reduced{picture, pxPerMm};
    const auto work = pixelWork();
    return work ? Result<Reduced>((*work)->reduced(picture, pxPerMm, pixels)) : work.problem();
}

Result<std::vector<std::uint8_t>> areaMap(int width, int height, const Rings& areas) {
    const auto work = pixelWork();
    return work ? Result<std::vector<std::uint8_t>>((*work)->areaMap(width, height, areas)) : work.problem();
}

Result<DrawnApart> drawnApart(const Grey& grey, double widest, double least) {
    const auto work = pixelWork();
    return work ? Result<DrawnApart>((*work)->drawnApart(grey, widest, least)) : work.problem();
}

} // namespace ferro::picture
