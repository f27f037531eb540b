// SPDX-License-Identifier: GPL-3.0-or-later
// Stamping a 24-megapixel JPEG. Reference: libvips' own pipeline of decoding, laying the mark over
// its region and encoding, told to keep the sampling; two photographs at a time on either side.
#include <unistd.h>
#include <vips/vips.h>

#include <QApplication>
#include <QPainter>
#include <QScrollBar>
#include <QtTest>

#include <array>
#include <fstream>
#include <thread>

#include "base/data_files.h"
#include "demo/photos.h"
#include "look/theme.h"
#include "pair.h"
#include "stamp/photo.h"
#include "stamping/photo_grid.h"
#include "store/stamp_json.h"
#include "twelve_layers.h"

namespace zl::bench {
namespace {

// The demo's, with the noise of a real sensor, so that its codes weigh what a camera's do.
const Bytes& largePhoto() {
    static const Bytes photo = [] {
        for (const demo::PhotoFile& file : must(demo::makePhotos()))
            if (file.name == "06-24-megapixels.jpg") {
                Straight8 pixels = must(decode(file.bytes, file.name)).pixels->clone();
                std::uint32_t n = 1;
                for (int y = 0; y < pixels.height(); ++y)
                    for (int x = 0; x < pixels.width(); ++x) {
                        n = n * 1664525u + 1013904223u;
                        const int by = static_cast<int>(n >> 28) - 8;
                        std::uint32_t& p = pixels.row(y)[x];
                        const auto v = [&](int c) { return std::clamp(c + by, 0, 255); };
                        p = packed(v(redOf(p)), v(greenOf(p)), v(blueOf(p)), 255);
                    }
                Encoding how{Content::jpeg, 90, Chroma::half};
                how.effort = Effort::quick;
                return must(encode(pixels, how));
            }
        std::abort();
    }();
    return photo;
}

Stamp stampOf() {
    Stamp stamp = exampleStamp();
    stamp.author.clear();
    stamp.rights.clear();
    stamp.address.clear();
    return stamp;
}

struct Ours {
    InkStore store{60'000'000};
    Stamp stamp = stampOf();
    Marks marks = must(marksOf(stamp, {"p", 1, 1, "2026-01-01"}, {}, store));
    PhotoAsked asked;
    void one() {
        PhotoPointer photo = must(openPhoto(largePhoto(), "p"));
        const PhotoGlance glance = must(glanceOf(*photo));
        benchmark::DoNotOptimize(
            must(marked(*photo, glance, stamp, marks, {}, asked, store)).bytes.size());
    }
};

// What the reference lays over: the mark as pixels, at its place.
struct Reference {
    Ours ours;
    Straight8 mark;
    PixelRect box;
    Reference() {
        PhotoPointer photo = must(openPhoto(largePhoto(), "p"));
        const Laid laid = must(laidOn(sizeOf(*photo), ours.stamp, ours.marks.mark, {}, ours.store));
        const Ink ink = laid.inks.front();
        box = ink.box;
        mark = Straight8::cleared(box.size());
        const Ink here = ink.moved(-box.left, -box.top);
        blendOver({&here, 1}, PixelRect::of(box.size()), mark);
    }
    void one() const {
        const Bytes& photo = largePhoto();
        VipsImage *in = nullptr, *part = nullptr, *over = nullptr, *flat = nullptr, *out = nullptr;
        void* data = nullptr;
        std::size_t size = 0;
        VipsImage* ink =
            vips_image_new_from_memory(mark.bytes(), mark.pixels().size_bytes(), mark.width(),
                                       mark.height(), 4, VIPS_FORMAT_UCHAR);
        VipsImage* tagged = nullptr;
        vips_copy(ink, &tagged, "interpretation", VIPS_INTERPRETATION_sRGB, nullptr);
        in = vips_image_new_from_buffer(photo.data(), photo.size(), "", nullptr);
        VipsImage* memory = vips_image_copy_memory(in);
        vips_extract_area(memory, &part, box.left, box.top, box.width(), box.height(), nullptr);
        vips_composite2(part, tagged, &over, VIPS_BLEND_MODE_OVER, nullptr);
        vips_flatten(over, &flat, nullptr);
        vips_insert(memory, flat, &out, box.left, box.top, nullptr);
        vips_jpegsave_buffer(out, &data, &size, "Q", 90, "subsample_mode",
                             VIPS_FOREIGN_SUBSAMPLE_ON, nullptr);
        benchmark::DoNotOptimize(size);
        g_free(data);
        for (VipsImage* image : {out, flat, over, part, memory, in, tagged, ink})
            if (image) g_object_unref(image);
    }
};

template <class Work>
void twice(const Work& work) {
    std::thread other(work);
    work();
    other.join();
}

// 0: the coefficient path; 1: encoded again.
void stampLarge(benchmark::State& state) {
    vips_concurrency_set(1);
    Reference reference;
    Ours ours;
    if (state.range(0) == 1) ours.asked.quality = 90;
    compare(
        state, [&] { twice([&] { ours.one(); }); }, [&] { twice([&] { reference.one(); }); });
}

// Twin, corner and reading. Reference: decoding it.
void stampGlance(benchmark::State& state) {
    Ours ours;
    PhotoPointer photo = must(openPhoto(largePhoto(), "p"));
    compare(
        state,
        [&] {
            const PhotoGlance glance = must(glanceOf(*photo));
            benchmark::DoNotOptimize(
                must(chosenFor(glance, ours.stamp, ours.marks, {}, ours.store)));
        },
        [&] { benchmark::DoNotOptimize(must(decode(largePhoto(), "p")).pixels->size()); });
}

// A grid of 10,000 photographs, scrolled by a step of the wheel and painted. Reference: Qt's raster
// painter scaling what of them is seen.
void stampGrid(benchmark::State& state) {
    constexpr int count = 10'000, seen = 12;
    const std::filesystem::path folder =
        std::filesystem::temp_directory_path() / ("zinc-grid-" + std::to_string(::getpid()));
    std::filesystem::create_directories(folder);
    std::ofstream(folder / "00000.jpg").write("", 0);
    for (int i = 1; i < count; ++i)
        std::filesystem::create_hard_link(folder / "00000.jpg",
                                          folder / (std::to_string(10'000 + i) + ".jpg"));
    app::Theme::wear(*qApp, "zinc-sheet");
    app::Session session(must(loadBriefs(must(dataFolder()), "/nowhere")));
    app::StampDesk desk(session);
    app::PhotoGrid grid(desk);
    grid.resize(336, 600);
    grid.show();
    desk.add({folder}, false);
    while (desk.photos().size() < count || desk.measuring()) QTest::qWait(50);
    int at = 0;
    const QImage small(288, 192, QImage::Format_RGB32);
    QImage target(336, 600, QImage::Format_RGB32);
    compare(
        state,
        [&] {
            grid.verticalScrollBar()->setValue(at += 120);
            grid.viewport()->repaint();
        },
        [&] {
            QPainter painter(&target);
            painter.setRenderHint(QPainter::SmoothPixmapTransform);
            for (int i = 0; i < seen; ++i)
                painter.drawImage(QRect(i % 2 * 154, i / 2 * 138, 142, 95), small);
        });
    state.counters["frames_a_second"] = 1000 / state.counters["ours_ms"];
    std::filesystem::remove_all(folder);
}

BENCHMARK(stampGrid)->UseManualTime()->Iterations(60)->Unit(benchmark::kMillisecond);
BENCHMARK(stampLarge)
    ->ArgName("again")
    ->Arg(0)
    ->Arg(1)
    ->UseManualTime()
    ->Iterations(7)
    ->Unit(benchmark::kMillisecond);
BENCHMARK(stampGlance)->UseManualTime()->Iterations(7)->Unit(benchmark::kMillisecond);

}  // namespace
}  // namespace zl::bench
