// SPDX-License-Identifier: GPL-3.0-or-later
#include "demo/demo_kit.h"

#include <fmt/core.h>
#include <sys/mman.h>
#include <unistd.h>

#include <functional>

#include "demo/cat.h"
#include "demo/film.h"
#include "demo/photos.h"
#include "demo/scene.h"
#include "edit/edits.h"
#include "encode/encode.h"
#include "film/strip.h"
#include "film/take_still.h"
#include "store/kit_file.h"
#include "store/stamp_json.h"

namespace zl::demo {
namespace {

Colour colour(const char* text) {
    return parseColour(text).value_or(Colour{});
}

class Maker {
  public:
    // Draws, encodes and keeps an original under its file name.
    void medium(const std::string& name, const Straight8& raster, const Encoding& encoding = {}) {
        auto bytes = encode(raster, encoding);
        if (!bytes) {
            error_ = bytes.error();
            return;
        }
        made_.media.push_back({name, *bytes});
        Asset asset = makeAsset(std::move(*bytes), name);
        sizes_[name] = {asset.sha256, raster.size()};
        made_.kit = withAsset(made_.kit, std::move(asset));
    }
    PictureLayer picture(const std::string& name, RealRect place) const {
        const auto& [hash, size] = sizes_.at(name);
        return {hash, RealRect::of(size), place};
    }
    // The video goes beside the kit; one frame of it becomes an original.
    void film() {
        if (auto done = addFilm(); !done) error_ = done.error();
        if (auto done = addClimb(); !done) error_ = done.error();
    }
    // A video that moves in a piece.
    PictureLayer clip(const std::string& name, RealRect place) const {
        PictureLayer made = picture(name, place);
        made.clip = clips_.at(name);
        return made;
    }
    PictureLayer still(PixelSize frame) const {
        PictureLayer made = filling(filmName, frame);
        made.still = still_;
        return made;
    }
    PictureLayer filling(const std::string& name, PixelSize frame) const {
        const auto& [hash, size] = sizes_.at(name);
        return fillingFrame(hash, size, frame);
    }
    void piece(Piece piece, std::vector<Layer> layers) {
        for (std::size_t i = 0; i < layers.size(); ++i) layers[i].id = static_cast<int>(i) + 1;
        piece.layers = std::move(layers);
        take(withPiece(made_.kit, std::move(piece)));
    }
    Result<DemoKit> finished() && {
        if (error_) return passOn(*error_);
        return std::move(made_);
    }
    void stamp(const Stamp& stamp) { take(withStamp(made_.kit, stamp)); }
    Kit& kit() { return made_.kit; }
    const PieceVideo& video() const { return video_; }

  private:
    void take(Result<Kit> next) {
        if (next)
            made_.kit = std::move(*next);
        else
            error_ = next.error();
    }
    // The video goes beside the kit; of it is kept what pieces know of it.
    Result<void> addVideo(const char* name, Result<Bytes> bytes,
                          const std::function<Result<void>(Video&, const Path&)>& taken) {
        if (!bytes) return passOn(bytes.error());
        // A file without a name, in memory.
        const int file = ::memfd_create(name, MFD_CLOEXEC);
        if (file < 0 ||
            ::write(file, bytes->data(), bytes->size()) != static_cast<ssize_t>(bytes->size()))
            return fail(Code::unwritable, "There is no memory for the demo's video.");
        const Path path = fmt::format("/proc/self/fd/{}", file);
        auto video = Video::open(path);
        Result<void> done = video ? taken(*video, path) : passOn(video.error());
        ::close(file);
        if (!done) return done;
        made_.media.push_back({name, std::move(*bytes)});
        return {};
    }
    Result<void> takeFrame(Video& video, const Path& path, const char* name, long long number) {
        const auto frame = video.frame(number);
        if (!frame) return passOn(frame.error());
        auto asset = stillOf(*frame, name);
        if (!asset) return passOn(asset.error());
        sizes_[name] = {asset->sha256, frame->pixels.size()};
        Clip& clip = clips_[name];
        clip.file = std::string("media/") + name;
        clip.identity = contentOf(path);
        clip.length = video.facts().duration;
        clip.fps = video.facts().fps;
        clip.sounds = true;
        made_.kit = withAsset(made_.kit, std::move(*asset));
        return {};
    }
    Result<void> addFilm() {
        constexpr long long number = 25;
        return addVideo(filmName, makeFilm(), [&](Video& video, const Path& path) -> Result<void> {
            if (auto done = takeFrame(video, path, filmName, number); !done) return done;
            still_ = {std::string("media/") + filmName, video.timeOf(number), number, filmSize};
            video_ = {still_.file, video.facts().duration};
            return {};
        });
    }
    Result<void> addClimb() {
        return addVideo(climbName, makeClimb(), [&](Video& video, const Path& path) {
            return takeFrame(video, path, climbName, climbFrames - 1);
        });
    }
    DemoKit made_;
    StillFrom still_;
    std::map<std::string, Clip> clips_;
    PieceVideo video_;
    std::map<std::string, std::pair<std::string, PixelSize>> sizes_;
    std::optional<Error> error_;
};

Layer layer(std::string name, std::variant<PictureLayer, LetteringLayer, BarLayer> what,
            std::vector<Finish> finishes = {}, double opacity = 1) {
    Layer made;
    made.name = std::move(name);
    made.opacity = opacity;
    made.what = std::move(what);
    made.finishes = std::move(finishes);
    return made;
}

LetteringLayer letters(RealPoint at, std::string text, double size, const char* fill) {
    LetteringLayer l;
    l.at = at;
    l.text = std::move(text);
    l.size = size;
    l.colour = colour(fill);
    return l;
}

Finish shadow(double dx, double dy, double blur, double strength) {
    Finish made = makeFinish("shadow");
    made.set("dx", dx);
    made.set("dy", dy);
    made.set("blur", blur);
    made.set("opacity", strength);
    return made;
}

BarLayer bar(BarShape shape, RealRect place, const char* fill) {
    BarLayer made;
    made.shape = shape;
    made.place = place;
    made.radius = std::min(place.width, place.height) / 2;
    made.colour = colour(fill);
    return made;
}

void addBannersAndHeaders(Maker& maker, const std::vector<Finish>& titled,
                          const std::vector<Finish>& rimmed) {
    // Somebody stands in the middle of the programme, the words run into the screen's edge.
    LetteringLayer edge = letters({1180, 1004}, "Points, rods and patience", 60, "#FFF6E3");
    maker.piece(
        {"overlay-crowded",
         "Overlay, crowded",
         "stream-overlay",
         {1920, 1080},
         {"mossgate-overlay-crowded"},
         {}},
        {layer("Signal arm in the way", maker.picture("signal-arm.png", {760, 280, 400, 500}),
               rimmed),
         layer("Words at the edge", edge, {outlineOf(3, colour("#10151C"))}),
         layer("Channel mark", maker.picture("mossgate-mark.png", {8, 8, 176, 176}), rimmed)});

    // All that must be seen stands where the narrowest device looks: the middle 1546 x 423.
    constexpr PixelSize banner{2560, 1440};
    LetteringLayer name = letters({850, 606}, "MOSSGATE SIGNALS", 112, "#FFF6E3");
    LetteringLayer about = letters({854, 744}, "two people, one signal box", 66, "#FFC653");
    about.style = "Bold";
    maker.piece(
        {"banner", "Channel banner", "channel-banner", banner, {"mossgate-banner"}, {}},
        {layer("Dusk over the line", maker.filling("dusk-over-the-line.jpg", banner)),
         layer("Channel mark", maker.picture("mossgate-mark.png", {560, 590, 250, 250}), rimmed),
         layer("Channel's name", name, titled),
         layer("What it is about", about, {outlineOf(6, colour("#10151C"))})});
    name.at = {300, 560};
    name.size = 240;
    maker.piece(
        {"banner-wide",
         "Channel banner, too wide",
         "channel-banner",
         banner,
         {"mossgate-banner-wide"},
         {}},
        {layer("Dusk over the line", maker.filling("dusk-over-the-line.jpg", banner)),
         layer("Channel's name", name, titled),
         layer("Channel mark", maker.picture("mossgate-mark.png", {2200, 80, 260, 260}), rimmed)});

    constexpr PixelSize header{970, 150};
    const auto headed = [&](Piece piece, const char* fill, const std::vector<Finish>& finish) {
        LetteringLayer title = letters({150, 24}, "MOSSGATE SIGNALS", 54, "#FFF6E3");
        LetteringLayer ways = letters({152, 96}, "Films      Drawings      Write to us", 26, fill);
        ways.style = "Bold";
        BarLayer ground = bar(BarShape::rectangle, RealRect::of(header), "#2B2140");
        ground.fade = colour("#B4472F");
        maker.piece(std::move(piece),
                    {layer("Ground", ground),
                     layer("Channel mark", maker.picture("mossgate-mark.png", {24, 20, 110, 110})),
                     layer("Channel's name", title, {outlineOf(3, colour("#10151C"))}),
                     layer("Ways on", ways, finish)});
    };
    const std::vector<Finish> thin{outlineOf(2, colour("#10151C"))};
    Piece good{"header", "Page header", "page-header", header, {"mossgate-header"}, {}};
    good.links = {{{148, 92, 232, 130}, "https://example.org/films", "Films"},
                  {{252, 92, 388, 130}, "https://example.org/drawings", "Drawings"},
                  {{408, 92, 560, 130}, "https://example.org/write", "Write to us"}};
    headed(good, "#FFC653", thin);
    // One leads nowhere, two lie on one another, one is too small to hit, one hangs over the edge;
    // the words are dark on dark.
    Piece tangled{"header-tangled", "Page header, tangled",      "page-header",
                  header,           {"mossgate-header-tangled"}, {}};
    tangled.links = {{{148, 92, 300, 130}, "example.org/films", "Films"},
                     {{252, 92, 388, 130}, "https://example.org/drawings", "Drawings"},
                     {{408, 100, 424, 112}, "https://example.org/write", "Write to us"},
                     {{930, 20, 1010, 60}, "https://example.org/search", "Search"}};
    headed(tangled, "#3A2440", {});

    // A page's background with the strip of its header cut out, 22 px under the top.
    constexpr PixelSize page{1920, 1080};
    BarLayer foot = bar(BarShape::rectangle, {0, 0, 1920, 1080}, "#10151C00");
    foot.fade = colour("#10151CF0");
    foot.fadeDegrees = 90;
    Piece background{
        "page-background", "Page background", "free-frame", page, {"mossgate-page"}, {}};
    background.slices = {{"header", {475, 22, 1445, 172}, "page-header"}};
    background.links = {
        {{475, 22, 745, 172}, "https://example.org/", "Mossgate Signals, first page"}};
    maker.piece(std::move(background),
                {layer("Dusk over the line", maker.filling("dusk-over-the-line.jpg", page)),
                 layer("Night below", foot),
                 layer("Channel mark", maker.picture("mossgate-mark.png", {495, 42, 110, 110}))});
}

}  // namespace

namespace {

Stamp lineStamp() {
    Stamp stamp = exampleStamp();
    stamp.name = "Corner line";
    for (StampWhat* what : {&stamp.what, &*stamp.twin})
        std::get<StampText>(*what).letters.text = "© {year} Mossgate Signals";
    stamp.placing.width = {40, true};
    stamp.author = "Mossgate Signals";
    stamp.rights = "© Mossgate Signals";
    stamp.address = "https://example.org/mossgate";
    return stamp;
}

Stamp logoStamp() {
    Stamp stamp;
    stamp.name = "Channel mark";
    stamp.what = StampPiece{"", "corner-mark"};
    stamp.placing.at = StampAt::topRight;
    stamp.placing.width = {14, true};
    stamp.least = 48;
    stamp.opacity = 0.9;
    return stamp;
}

// A recording held upright over a picture, with a title that comes; and a mark laid on the film.
void addMoving(Maker& maker, const std::vector<Finish>& titled) {
    constexpr PixelSize card{1920, 1080};
    PictureLayer ground = maker.filling("dusk-over-the-line.jpg", card);
    ground.tone.brightness = -18;
    LetteringLayer title = letters({110, 330}, "Up the mast", 190, "#FFF6E3"),
                   below = letters({116, 560}, "we are back in a moment", 76, "#FFC653");
    below.style = "Bold";
    Layer first = layer("Title", title, titled),
          second = layer("What comes", below, {outlineOf(5, colour("#10151C"))});
    first.shows = ShowTime{0.2, {}, 0.4};
    second.shows = ShowTime{0.8, {}, 0.4};
    Layer behind = layer("Dusk over the line", ground);
    behind.essential = false;
    Layer climb = layer("Up the mast", maker.clip(climbName, {1400, 220, 360, 640}),
                        {outlineOf(8, colour("#FFF6E3"))});
    climb.essential = false;
    maker.piece({"moving-card", "Moving card", "moving-card", card, {"mossgate-moving-card"}, {}},
                {behind, climb, first, second});

    PictureLayer film = maker.clip(filmName, RealRect::of(filmSize));
    film.clip->out = 4;
    Layer mark = layer("Channel mark", maker.picture("mossgate-mark.png", {1110, 560, 130, 130}),
                       {outlineOf(4, colour("#FFF6E3"))}, 0.9);
    mark.shows = ShowTime{0.5, {}, 0.5};
    Piece marked{"film-with-mark", "The film with the mark", "free-frame",
                 filmSize,         {"the-lever-marked"},     {}};
    marked.video = maker.video();
    maker.piece(std::move(marked), {layer("The lever that stuck", film), mark});
}

// A photograph whose subject is cut out: well, with the title behind it and the ground blurred; and
// carelessly, by a box that is too small and nothing else.
void addSubjects(Maker& maker, const std::vector<Finish>& titled) {
    constexpr PixelSize photo{1280, 720}, frame{1280, 720};
    maker.medium("cat-on-the-boards.png", catOnTheBoards(photo));
    PictureLayer cat = maker.filling("cat-on-the-boards.png", frame);
    PictureLayer ground = cat;
    SubjectCut cut;
    cut.box = catBox(photo);
    cat.cuts = {{cut}};
    cut.part = SubjectPart::filled;
    ground.cuts = {{cut}};
    ground.veils = {{Veil::Kind::blur, RealRect::of(photo), 16}};
    ground.tone.brightness = -14;
    Layer behind = layer("Cat on the boards · ground", ground);
    behind.essential = false;
    const std::vector<Finish> rimmed{outlineOf(6, colour("#FFF6E3"))};
    LetteringLayer first = letters({54, 10}, "THE BOX", 165, "#FFF6E3"),
                   second = letters({54, 140}, "HAS A CAT", 165, "#FFC653");
    maker.piece(
        {"cat-thumbnail", "Thumbnail, ep. 13", "video-thumbnail", frame, {"the-box-has-a-cat"}, {}},
        {behind, layer("Title, first line", first, titled),
         layer("Title, second line", second, titled),
         layer("Cat on the boards · subject", cat, rimmed)});
    SubjectCut careless;
    const RealRect box = catBox(photo);
    careless.box = RealRect{box.x + 20, box.y + 70, box.width - 230, box.height - 150};
    careless.edge = SubjectEdge::tighter;
    PictureLayer cropped = maker.filling("cat-on-the-boards.png", frame);
    cropped.cuts = {{careless}};
    maker.piece({"cat-first-try", "Cat, cut carelessly", "cut-out-object", frame, {"cat-cut"}, {}},
                {layer("Cat on the boards", cropped)});
}

}  // namespace

Result<DemoKit> makeDemoKit() {
    constexpr int grain = 7;
    Maker maker;
    maker.kit().title = "Mossgate Signals";
    for (const char* own : {"#FFF6E3", "#FFC653", "#B4472F", "#10151C", "#12303A"})
        maker.kit().colours.push_back(colour(own));
    maker.film();
    maker.medium("dusk-at-the-box.png", duskAtTheBox({1600, 900}, grain));
    maker.medium("signal-arm.png", signalArm({400, 500}));
    maker.medium("mossgate-mark.png", channelMark({300, 300}));
    maker.medium("mossgate-mark-old.png", carelessMark());
    maker.medium("mossgate-mark-on-white.jpg", markOnWhite({520, 480}),
                 {Content::jpeg, 90, Chroma::half, Effort::release});
    maker.medium("layout-sketch.png", layoutSketch({960, 600}));
    maker.medium("dusk-over-the-line.jpg", duskAtTheBox({2560, 1440}, 2),
                 {Content::jpeg, 90, Chroma::half, Effort::release});

    const std::vector<Finish> titled{outlineOf(11, colour("#10151C")), shadow(0, 5, 8, 55)};
    const std::vector<Finish> rimmed{outlineOf(5, colour("#FFF6E3")), shadow(4, 6, 14, 60)};
    constexpr PixelSize thumbnail{1280, 720};
    PictureLayer dusk = maker.still(thumbnail);
    dusk.tone = {4, 8, 10, 0, 0, 0};
    maker.piece(
        {"thumbnail",
         "Thumbnail, ep. 12",
         "video-thumbnail",
         thumbnail,
         {"the-lever-that-stuck"},
         {},
         {},
         {},
         {},
         {},
         {},
         maker.video()},
        {layer("Dusk at the box", dusk),
         layer("Signal arm, cut out", maker.picture("signal-arm.png", {300, 392, 232, 290}),
               rimmed),
         layer("Title, first line", letters({54, 30}, "THE LEVER", 160, "#FFF6E3"), titled),
         layer("Title, second line", letters({54, 164}, "THAT STUCK", 160, "#FFC653"), titled)});
    Look look = lookOf(layer("", letters({}, "", 160, "#FFC653"), titled), "Episode title");
    maker.kit() = withLook(maker.kit(), look);

    // Stretched and enlarged, the wrong shape, too heavy as a PNG, dark letters on a dark hill
    // under the length's badge, the sketch it was built over left in, names that say nothing.
    maker.piece(
        {"thumbnail-first-try",
         "Thumbnail, first try",
         "video-thumbnail",
         {1920, 1200},
         {"thumbnail-first-try", FormatChoice::png},
         {}},
        {layer("layer 1", maker.picture("dusk-at-the-box.png", {0, 0, 1920, 1200})),
         layer("Screenshot 3", maker.picture("layout-sketch.png", {0, 0, 1920, 1200}), {}, 0.5),
         layer("layer 7", letters({1240, 960}, "it stuck", 190, "#1B1A2B"))});

    // Of one middle tone, which stands out from light and from dark, with a light rim and a dark
    // one round it.
    const std::vector<Finish> twice{outlineOf(4, colour("#FFF6E3")),
                                    outlineOf(3, colour("#10151C"))};
    Layer arm = layer("Arm", bar(BarShape::rounded, {40, 50, 66, 22}, "#FFF6E3"));
    arm.turn.degrees = -24;
    maker.piece(
        {"corner-mark", "Corner mark", "corner-mark", {150, 150}, {"mossgate-corner-mark"}, {}},
        {layer("Disc", bar(BarShape::ellipse, {12, 12, 126, 126}, "#B4472F"), twice), arm,
         layer("Post", bar(BarShape::rounded, {84, 42, 11, 74}, "#FFF6E3"))});
    // Cut out carelessly, its shadow cut off by the frame, and saved without alpha.
    maker.piece(
        {"corner-mark-old",
         "Corner mark, old",
         "corner-mark",
         {150, 150},
         {"mossgate-corner-mark-old", FormatChoice::jpeg, 90, ChromaChoice::best, true,
          colour("#FFFFFF")},
         {}},
        {layer("Channel mark, cut out", maker.picture("mossgate-mark-old.png", {0, 0, 150, 150}),
               {shadow(3, 24, 10, 70)})});
    maker.piece({"corner-mark-on-white",
                 "Corner mark, on white",
                 "corner-mark",
                 {150, 150},
                 {"mossgate-corner-mark-new"},
                 {}},
                {layer("Mark on a white page",
                       maker.picture("mossgate-mark-on-white.jpg", {-6.25, 0, 162.5, 150}))});

    BarLayer lower = bar(BarShape::rounded, {97, 912, 1100, 112}, "#12303AE6");
    lower.radius = 18;
    lower.fade = colour("#12303A00");
    LetteringLayer caption = letters({316, 924}, "Points, rods and patience", 74, "#FFF6E3");
    caption.style = "Bold";
    Piece overlay{"overlay",    "Overlay, lower corner", "stream-overlay",
                  {1920, 1080}, {"mossgate-overlay"},    {}};
    overlay.video = maker.video();
    maker.piece(
        std::move(overlay),
        {layer("Lower bar", lower),
         layer("Channel mark", maker.picture("mossgate-mark.png", {112, 852, 176, 176}), rimmed),
         layer("Caption", caption, {outlineOf(5, colour("#10151C")), shadow(0, 4, 10, 60)})});

    constexpr PixelSize card{1920, 1080};
    LetteringLayer soon = letters({150, 250}, "Back in a moment", 150, "#FFF6E3");
    LetteringLayer next = letters({156, 440}, "next: the frame room", 78, "#FFC653");
    next.style = "Bold";
    next.tracking = 40;
    next.caps = true;
    BarLayer rule = bar(BarShape::line, {156, 424, 420, 8}, "#FFC653");
    BarLayer fromLeft = bar(BarShape::rectangle, {320, 0, 900, 1080}, "#2B2140");
    fromLeft.fade = colour("#2B214000");
    BarLayer veil = bar(BarShape::rectangle, {0, 0, 1920, 1080}, "#10151CE0");
    veil.fade = colour("#10151C00");
    veil.fadeDegrees = 90;
    maker.piece({"card", "Pause card", "stream-card", card, {"mossgate-pause-card"}, {}},
                {layer("Ground", bar(BarShape::rectangle, RealRect::of(card), "#2B2140")),
                 layer("Dusk, at its own size",
                       maker.picture("dusk-at-the-box.png", {320, 180, 1600, 900})),
                 layer("Dusk comes from the left", fromLeft), layer("Night from above", veil),
                 layer("Soon", soon, titled), layer("Rule", rule),
                 layer("Next", next, {outlineOf(5, colour("#10151C"))})});
    addBannersAndHeaders(maker, titled, rimmed);
    addSubjects(maker, titled);
    addMoving(maker, titled);
    for (const Stamp& stamp : {lineStamp(), logoStamp()}) maker.stamp(stamp);
    return std::move(maker).finished();
}

Result<Path> writeDemoKit(const Path& folder, Replace replace) {
    std::error_code error;
    for (const char* part : {"media", "photos"})
        if (!error) std::filesystem::create_directories(folder / part, error);
    if (error)
        return fail(Code::unwritable,
                    fmt::format("The folder {} cannot be made.", (folder / "media").string()),
                    "Choose another folder.");
    const Path file = folder / kitFileName;
    if (replace == Replace::no && std::filesystem::exists(file, error))
        return fail(Code::unwritable, fmt::format("{} stands there already.", file.string()),
                    "Choose another folder, or ask for it to be replaced.");
    const auto made = makeDemoKit();
    if (!made) return passOn(made.error());
    for (const Medium& medium : made->media)
        if (auto done = writeFile(folder / "media" / medium.name, medium.bytes, replace); !done)
            return passOn(done.error());
    const auto photos = makePhotos();
    if (!photos) return passOn(photos.error());
    for (const PhotoFile& photo : *photos)
        if (auto done = writeFile(folder / "photos" / photo.name, photo.bytes, replace); !done)
            return passOn(done.error());
    if (auto done = saveKit(made->kit, file, replace); !done) return passOn(done.error());
    return file;
}

}  // namespace zl::demo
