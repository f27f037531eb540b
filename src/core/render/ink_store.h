// SPDX-License-Identifier: GPL-3.0-or-later
// Decoded originals, drawn inks and what was measured of them, kept while there is room. Safe from
// any thread; one is shared by everything that shows the same kit.
#pragma once

#include <any>
#include <memory>
#include <optional>
#include <span>
#include <stop_token>
#include <typeindex>

#include "base/cache.h"
#include "kit/kit.h"
#include "picture/clip_source.h"
#include "picture/decode.h"
#include "raster/over.h"

namespace zl {

class KnownFilms;     // film/known_films.h
struct KeyReport;     // cut/cut.h
struct SubjectStart;  // cut/subject/subject.h

// An original with what was done to it before it was placed; all neutral: as it was decoded.
struct PictureKey {
    std::string sha256;
    int times = 1;            // an SVG is drawn so many times as large as its own size
    std::vector<Cut> cuts{};  // those that change pixels
    std::vector<Veil> veils{};
    Tone tone{};
    int quarters = 0;
    bool flipX = false, flipY = false;
    bool operator==(const PictureKey&) const = default;
};

// What a subject begins with on a picture.
struct SubjectKey {
    PictureKey picture;
    std::optional<RealRect> box;
    bool operator==(const SubjectKey&) const = default;
};

// What an ink was drawn of, with the whole px of its place taken out.
struct InkKey {
    LayerWhat what;
    Turn turn{};
    std::vector<Finish> finishes{};
    PixelRect want;      // what of it was drawn
    unsigned fonts = 0;  // of what says something: which fonts there were
    bool operator==(const InkKey&) const = default;
};

// A measure of some pixels, of those of one ink; pixels that are gone are like no others.
struct MeasureKey {
    std::weak_ptr<const void> pixels;
    int fromX = 0, fromY = 0;
    PixelSize size;
    std::type_index what = typeid(void);
    bool operator==(const MeasureKey& o) const {
        return !pixels.owner_before(o.pixels) && !o.pixels.owner_before(pixels) &&
               fromX == o.fromX && fromY == o.fromY && size == o.size && what == o.what;
    }
};

struct StoreHash {
    std::size_t operator()(const PictureKey& key) const;
    std::size_t operator()(const SubjectKey& key) const;
    std::size_t operator()(const InkKey& key) const;
    std::size_t operator()(const MeasureKey& key) const;
};

// Whether an original is drawn as large as its layer shows it: an SVG that is neither cut nor
// veiled.
bool isDrawnToSize(const PictureLayer& layer, const Asset& asset);

class InkStore {
  public:
    // What a store may keep beyond what is in use, in bytes of pixels; `moments`: of that which
    // frames of clips come to, which are seldom asked for twice.
    explicit InkStore(std::size_t room = 700'000'000, std::size_t moments = 100'000'000)
        : InkStore(std::make_shared<CacheRoom>(room), moments) {}

    [[nodiscard]] Result<std::shared_ptr<const Picture>> picture(const Asset& asset,
                                                                 const std::stop_token& stop = {});
    // Size and kind of an original without decoding it.
    [[nodiscard]] Result<PictureFacts> facts(const Asset& asset);
    // How many times as large as its own size an original is drawn for a layer: one that is drawn
    // to size in doublings, until it has the pixels that its place shows or 40 megapixels; any
    // other 1.
    [[nodiscard]] Result<int> timesDrawn(const PictureLayer& layer, const Asset& asset,
                                         const std::stop_token& stop = {});
    // The layer's ink in frame px, with its opacity. Empty box: nothing to draw.
    [[nodiscard]] Result<Ink> ink(const Layer& layer, const Kit& kit, PixelSize frame,
                                  std::stop_token stop = {});
    // The same, only when it is kept already: never draws, so that the interface thread may ask.
    std::optional<Ink> keptInk(const Layer& layer, PixelSize frame);
    // What the subject cut `cuts[index]` begins with, on what the cuts before it leave.
    [[nodiscard]] Result<std::shared_ptr<const SubjectStart>> subjectStart(
        const Asset& asset, std::span<const Cut> cuts, std::size_t index,
        const std::stop_token& stop = {});
    // What the key `cuts[index]` would do on what the cuts before it leave.
    [[nodiscard]] Result<KeyReport> keyReport(const Asset& asset, std::span<const Cut> cuts,
                                              std::size_t index, const std::stop_token& stop = {});
    // The original with those of the cuts that change pixels.
    [[nodiscard]] Result<std::shared_ptr<const Picture>> cutPicture(
        const Asset& asset, std::span<const Cut> cuts, const std::stop_token& stop = {});
    // What was measured of an ink's pixels, wherever they stand: made once, kept as long as the
    // pixels are. `make()` gives a std::shared_ptr<const T>.
    template <class T, class Make>
    std::shared_ptr<const T> measured(const Ink& ink, const Make& make);
    // Forgets the pixels that nothing uses.
    void clear();
    // What is known of the videos of its kit; nothing: none is looked into. Said before it is
    // shared.
    void knowFilms(std::shared_ptr<const KnownFilms> films) { films_ = std::move(films); }
    const KnownFilms* films() const { return films_.get(); }
    // Where the frames of clips come from; nothing: their posters stand for them. Said before it is
    // shared.
    void knowClips(std::shared_ptr<ClipSource> clips) { clips_ = std::move(clips); }
    ClipSource* clips() const { return clips_.get(); }

  private:
    explicit InkStore(const std::shared_ptr<CacheRoom>& room, std::size_t moments)
        : pictures_(room),
          subjects_(room),
          sights_(room, 2),
          inks_(room),
          momentPictures_(moments * 2 / 5),
          momentInks_(moments * 3 / 5) {}
    // An SVG so many times as large as its own size.
    Result<std::shared_ptr<const Picture>> drawn(const Asset& asset, int times,
                                                 const std::stop_token& stop);
    // The original, so many times as large, with its cuts, its veils, its tone, its mirrors and
    // quarter turns.
    Result<std::shared_ptr<const Picture>> prepared(const Asset& asset, const PictureLayer& layer,
                                                    int times, int quarters, const Turn& turn,
                                                    const std::stop_token& stop);
    Result<Ink> pictureInk(const PictureLayer& layer, const Turn& turn, const Kit& kit,
                           PixelRect want, const std::stop_token& stop);
    Result<Ink> bareInk(const InkKey& key, const Kit& kit, const std::stop_token& stop);

    Result<std::shared_ptr<const SubjectStart>> startOf(const PictureKey& key,
                                                        const Picture& picture,
                                                        const SubjectCut& cut,
                                                        const std::string& name,
                                                        const std::stop_token& stop);

    // A key that looks at a picture, which stays with it.
    struct Sight;
    Result<std::shared_ptr<const Sight>> sightOf(const PictureKey& key,
                                                 const std::shared_ptr<const Picture>& picture,
                                                 const std::string& name,
                                                 const std::stop_token& stop);
    Result<std::shared_ptr<const Picture>> keyedPicture(
        const PictureKey& before, const Cut& cut, const std::shared_ptr<const Picture>& picture,
        const std::string& name, const std::stop_token& stop);

    static std::shared_ptr<const void> pixelsOf(const Ink& ink) {
        return ink.eight ? std::shared_ptr<const void>(ink.eight)
                         : std::shared_ptr<const void>(ink.sixteen);
    }

    // Frames of clips come and go: what is made of them never takes the room of what stays.
    template <class Key>
    static bool passes(const Key& key);
    template <class Make>
    Result<std::shared_ptr<const Picture>> kept(const PictureKey& key, const std::string& name,
                                                const std::stop_token& stop, const Make& make);
    template <class Make>
    Result<Ink> kept(const InkKey& key, const std::string& name, const std::stop_token& stop,
                     const Make& make);

    std::shared_ptr<const KnownFilms> films_;
    std::shared_ptr<ClipSource> clips_;
    Cache<PictureKey, std::shared_ptr<const Picture>, StoreHash> pictures_;
    Cache<SubjectKey, std::shared_ptr<const SubjectStart>, StoreHash> subjects_;
    Cache<PictureKey, std::shared_ptr<const Sight>, StoreHash> sights_;  // of the last two keys
    Cache<InkKey, Ink, StoreHash> inks_;
    Cache<PictureKey, std::shared_ptr<const Picture>, StoreHash> momentPictures_;
    Cache<InkKey, Ink, StoreHash> momentInks_;
    Cache<MeasureKey, std::any, StoreHash> measures_{100'000'000};
};

template <class T, class Make>
std::shared_ptr<const T> InkStore::measured(const Ink& ink, const Make& make) {
    using Shared = std::shared_ptr<const T>;
    measures_.forgetIf([](const MeasureKey& key, const std::any&) { return key.pixels.expired(); });
    const MeasureKey key{pixelsOf(ink), ink.fromX, ink.fromY, ink.box.size(), typeid(T)};
    const auto made = measures_.get(
        key, "A layer", {}, [&]() -> Result<std::any> { return std::any(Shared(make())); },
        [](const std::any&) { return std::size_t{10'000}; });
    return made ? std::any_cast<Shared>(*made) : Shared(make());
}

}  // namespace zl
