// SPDX-License-Identifier: GPL-3.0-or-later
#include "lettering/fonts.h"

#include <fmt/core.h>
#include <fontconfig/fontconfig.h>

#include <fontconfig/fcfreetype.h>  // wants the one above
#include <pango/pangofc-fontmap.h>
#include <sys/mman.h>
#include <unistd.h>

#include <algorithm>
#include <map>
#include <sstream>

#include "base/data_files.h"
#include "base/guarded.h"
#include "lettering/pango_part.h"

namespace zl {
namespace {

using pango_part::Owned;

// A font's bytes as a nameless file in memory: Fontconfig wants a path, and nothing of a kit is
// left on the disk.
class FontFile {
  public:
    explicit FontFile(const Bytes& bytes) : fd_(::memfd_create("font", MFD_CLOEXEC)) {
        if (fd_ >= 0 &&
            ::write(fd_, bytes.data(), bytes.size()) == static_cast<ssize_t>(bytes.size()))
            path_ = fmt::format("/proc/self/fd/{}", fd_);
    }
    ~FontFile() {
        if (fd_ >= 0) ::close(fd_);
    }
    FontFile(const FontFile&) = delete;
    FontFile& operator=(const FontFile&) = delete;
    const FcChar8* path() const { return reinterpret_cast<const FcChar8*>(path_.c_str()); }
    std::vector<std::string> families() const {
        std::vector<std::string> all;
        int faces = 0;
        for (int face = 0; !path_.empty() && (face == 0 || face < faces); ++face) {
            FcPattern* pattern =
                FcFreeTypeQuery(path(), static_cast<unsigned>(face), nullptr, &faces);
            FcChar8* family = nullptr;
            if (pattern && FcPatternGetString(pattern, FC_FAMILY, 0, &family) == FcResultMatch)
                all.emplace_back(reinterpret_cast<const char*>(family));
            if (pattern) FcPatternDestroy(pattern);
        }
        return all;
    }

  private:
    int fd_;
    std::string path_;
};

// The shipped fonts, the system's, and those of one kit. The files stay open as long as the set:
// fonts are read when they are used.
struct FontSet {
    unsigned number = 0;
    FcConfig* config = nullptr;
    std::vector<std::unique_ptr<const FontFile>> own;
    FontSet() = default;
    ~FontSet() {
        if (config) FcConfigDestroy(config);
    }
    FontSet(const FontSet&) = delete;
    FontSet& operator=(const FontSet&) = delete;
};

using FontNames = std::vector<std::string>;  // the SHA-256 of each of a kit's own fonts

std::shared_ptr<const FontSet> made(const Kit* kit, unsigned number) {
    auto set = std::make_shared<FontSet>();
    set->number = number;
    set->config = FcInitLoadConfigAndFonts();
    if (const auto data = dataFolder())
        FcConfigAppFontAddDir(set->config,
                              reinterpret_cast<const FcChar8*>((*data / "fonts").c_str()));
    if (!kit) return set;
    for (const std::string& hash : kit->fonts) {
        const Asset* font = kit->asset(hash);
        if (!font || !font->bytes) continue;
        auto file = std::make_unique<const FontFile>(*font->bytes);
        if (!file->families().empty() && FcConfigAppFontAddFile(set->config, file->path()))
            set->own.push_back(std::move(file));
    }
    return set;
}

// Sets that are in use are shared by all threads; a set that was used before gets the same number.
std::shared_ptr<const FontSet> setFor(const FontNames& names, const Kit* kit) {
    struct Known {
        unsigned number = 0;
        std::weak_ptr<const FontSet> set;
    };
    static Mutex mutex;
    static std::map<FontNames, Known> known;
    static std::shared_ptr<const FontSet> usual;  // without fonts of a kit's own; it stays
    const Lock lock(mutex);
    Known& it =
        known.try_emplace(names, Known{static_cast<unsigned>(known.size()), {}}).first->second;
    auto set = it.set.lock();
    if (!set) it.set = set = made(kit, it.number);
    if (names.empty()) usual = set;
    return set;
}

// What this thread sets lettering with.
struct InUse {
    FontNames names;
    std::shared_ptr<const FontSet> set;
    Owned<PangoFontMap> map;
};

InUse& inUse() {
    thread_local InUse use;
    return use;
}

void use(const FontNames& names, const Kit* kit) {
    InUse& now = inUse();
    if (now.set && now.names == names) return;
    now.map.reset();
    now.names = names;
    now.set = setFor(names, kit);
    now.map.reset(pango_cairo_font_map_new_for_font_type(CAIRO_FONT_TYPE_FT));
    pango_fc_font_map_set_config(PANGO_FC_FONT_MAP(now.map.get()), now.set->config);
}

// Pango's words for a style as fonts' own menus write them: "Ultra-Bold" -> "ExtraBold"
// (OpenType 1.9, usWeightClass). Pango reads them back, hyphens or not.
std::string styleName(std::string words) {
    if (words == "Normal") return "Regular";
    if (const auto at = words.find("Ultra-"); at != std::string::npos)
        words.replace(at, 6, "Extra-");
    std::erase(words, '-');
    return words;
}

}  // namespace

namespace pango_part {

PangoFontMap* fontMap() {
    if (!inUse().set) use({}, nullptr);
    return inUse().map.get();
}

}  // namespace pango_part

void useFontsOf(const Kit& kit) {
    use(kit.fonts, &kit);
}

unsigned fontsInUse() {
    return inUse().set ? inUse().set->number : 0;
}

Result<std::vector<std::string>> familiesIn(const Asset& font) {
    auto families = font.bytes ? FontFile(*font.bytes).families() : FontNames{};
    if (families.empty())
        return fail(Code::unreadable, fmt::format("{} is not a font that can be used.", font.name),
                    "Bring an OpenType or TrueType font.");
    return families;
}

std::vector<FontFamily> fontFamilies() {
    PangoFontFamily** families = nullptr;
    int count = 0;
    pango_font_map_list_families(pango_part::fontMap(), &families, &count);
    std::vector<FontFamily> all;
    for (int i = 0; i < count; ++i) {
        FontFamily family{pango_font_family_get_name(families[i]), {}};
        PangoFontFace** faces = nullptr;
        int faceCount = 0;
        pango_font_family_list_faces(families[i], &faces, &faceCount);
        std::vector<std::pair<int, std::string>> styles;
        for (int f = 0; f < faceCount; ++f) {
            if (pango_font_face_is_synthesized(faces[f])) continue;
            const Owned<PangoFontDescription> font(pango_font_face_describe(faces[f]));
            pango_font_description_unset_fields(
                font.get(),
                static_cast<PangoFontMask>(PANGO_FONT_MASK_FAMILY | PANGO_FONT_MASK_SIZE));
            char* words = pango_font_description_to_string(font.get());
            const std::string style = *words ? words : "Regular";
            g_free(words);
            styles.emplace_back(
                static_cast<int>(pango_font_description_get_weight(font.get())) * 10 +
                    pango_font_description_get_style(font.get()),
                styleName(style));
        }
        g_free(faces);
        std::sort(styles.begin(), styles.end());
        styles.erase(std::unique(styles.begin(), styles.end()), styles.end());
        for (auto& [weight, style] : styles) family.styles.push_back(std::move(style));
        if (!family.styles.empty()) all.push_back(std::move(family));
    }
    g_free(families);
    const auto shipped = [](const FontFamily& f) {
        return f.name == "League Spartan" ? 0 : f.name == "Zinc Sans" ? 1 : 2;
    };
    std::sort(all.begin(), all.end(), [&](const FontFamily& a, const FontFamily& b) {
        return shipped(a) != shipped(b) ? shipped(a) < shipped(b) : a.name < b.name;
    });
    return all;
}

namespace {

constexpr std::string_view leanings[] = {"Italic", "Oblique"};

// A style without its leaning: "Bold" of "Bold Italic", nothing of "Italic".
std::string uprightPart(const std::string& style) {
    std::istringstream words(style);
    std::string kept, word;
    while (words >> word)
        if (std::find(std::begin(leanings), std::end(leanings), word) == std::end(leanings))
            kept += (kept.empty() ? "" : " ") + word;
    return kept;
}

}  // namespace

bool leans(const std::string& style) {
    std::istringstream words(style);
    std::string word;
    while (words >> word)
        if (std::find(std::begin(leanings), std::end(leanings), word) != std::end(leanings))
            return true;
    return false;
}

std::string withLean(const std::string& style, bool lean, const std::vector<std::string>& styles) {
    const auto there = [&](const std::string& one) {
        return std::find(styles.begin(), styles.end(), one) != styles.end();
    };
    const std::string upright = uprightPart(style);
    const bool plain = upright.empty() || upright == "Regular";
    if (!lean) return plain ? "Regular" : upright;
    for (const std::string_view leaning : leanings)
        for (const std::string& one : {plain ? "" : upright + " ", upright + " "})
            if (there(one + std::string(leaning))) return one + std::string(leaning);
    return (plain ? "" : upright + " ") + std::string(leanings[0]);
}

}  // namespace zl
