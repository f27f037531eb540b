// SPDX-License-Identifier: GPL-3.0-or-later
#include "lettering/pango_part.h"

#include <fontconfig/fontconfig.h>

#include <fontconfig/fcfreetype.h>  // wants the one above
#include <sys/mman.h>
#include <unistd.h>

#include <atomic>
#include <map>

#include <mutex>

#include "base/data_files.h"

namespace zl::pango_part {

void addShippedFonts() {
    static std::once_flag once;
    std::call_once(once, [] {
        if (const auto data = dataFolder())
            FcConfigAppFontAddDir(nullptr,
                                  reinterpret_cast<const FcChar8*>((*data / "fonts").c_str()));
    });
}

namespace {
std::atomic<int> fontsAdded{0};
}

bool addFont(const std::string& hash, const std::vector<unsigned char>& bytes,
             std::vector<std::string>& families) {
    static std::mutex mutex;
    static std::map<std::string, std::vector<std::string>> known;
    const std::scoped_lock lock(mutex);
    if (const auto found = known.find(hash); found != known.end()) {
        families = found->second;
        return !families.empty();
    }
    addShippedFonts();
    // A nameless file in memory: Fontconfig wants a path, and nothing of a kit is left on the disk.
    const int fd = ::memfd_create("font", MFD_CLOEXEC);
    bool good =
        fd >= 0 && ::write(fd, bytes.data(), bytes.size()) == static_cast<ssize_t>(bytes.size());
    const std::string path = "/proc/self/fd/" + std::to_string(fd);
    int faces = 0;
    for (int face = 0; good && (face == 0 || face < faces); ++face) {
        FcPattern* pattern = FcFreeTypeQuery(reinterpret_cast<const FcChar8*>(path.c_str()),
                                             static_cast<unsigned>(face), nullptr, &faces);
        FcChar8* family = nullptr;
        if (pattern && FcPatternGetString(pattern, FC_FAMILY, 0, &family) == FcResultMatch)
            families.emplace_back(reinterpret_cast<const char*>(family));
        if (pattern) FcPatternDestroy(pattern);
    }
    good = good && !families.empty() &&
           FcConfigAppFontAddFile(nullptr, reinterpret_cast<const FcChar8*>(path.c_str()));
    if (!good) {
        families.clear();
        if (fd >= 0) ::close(fd);
        return false;
    }
    known[hash] = families;  // the descriptor stays open as long as the program: fonts are read
                             // when they are used
    ++fontsAdded;
    return true;
}

unsigned fontsSoFar() {
    return static_cast<unsigned>(fontsAdded.load());
}

Owned<PangoFontDescription> fontOf(const std::string& family, const std::string& style,
                                   double sizePx) {
    Owned<PangoFontDescription> font(pango_font_description_from_string(style.c_str()));
    pango_font_description_set_family(font.get(), family.c_str());
    pango_font_description_set_absolute_size(font.get(), sizePx * PANGO_SCALE);
    return font;
}

Owned<PangoLayout> newLayout() {
    addShippedFonts();
    thread_local int seen = 0;
    if (const int now = fontsAdded; seen != now) {
        seen = now;
        pango_cairo_font_map_set_default(
            nullptr);  // this thread's map is made anew, with the fonts that came
    }
    const Owned<PangoContext> context(
        pango_font_map_create_context(pango_cairo_font_map_get_default()));
    cairo_font_options_t* options = cairo_font_options_create();
    cairo_font_options_set_hint_style(options, CAIRO_HINT_STYLE_NONE);
    cairo_font_options_set_hint_metrics(options, CAIRO_HINT_METRICS_OFF);
    cairo_font_options_set_antialias(options, CAIRO_ANTIALIAS_GRAY);
    pango_cairo_context_set_font_options(context.get(), options);
    cairo_font_options_destroy(options);
    pango_cairo_context_set_resolution(context.get(), 96);
    pango_context_set_round_glyph_positions(context.get(), FALSE);
    return Owned<PangoLayout>(pango_layout_new(context.get()));
}

}  // namespace zl::pango_part
