// SPDX-License-Identifier: GPL-3.0-or-later
#include "rehearsal/rehearse.h"

#include "base/file.h"
#include "encode/encode.h"
#include "picture/decode.h"
#include "release/release.h"

namespace zl {

std::shared_ptr<const Straight8> HostCopies::at(int width) {
    const std::scoped_lock lock(mutex_);
    auto& copy = made_[width];
    if (copy) return copy;
    const auto made = displayCopy(*picture_, width, quality_);
    auto back = made ? decode(*made, "the host's copy") : Result<Picture>(passOn(made.error()));
    if (!back) trouble_ = back.error();
    return copy = back ? back->pixels : nullptr;
}

std::optional<Error> HostCopies::trouble() const {
    const std::scoped_lock lock(mutex_);
    return trouble_;
}

namespace {

// The slices that lie in the picture, each on the surfaces of its own brief.
Result<void> drawSlices(const Errand& errand, Rehearsed& out) {
    for (const auto& [slice, brief] : errand.slices) {
        if (slice.place.intersected(PixelRect::of(out.copies->size())) != slice.place)
            continue;  // the file is of another frame
        const auto whole = out.copies->at(out.copies->size().width);
        if (!whole) continue;
        const auto part = std::make_shared<const Straight8>(partOf(*whole, slice.place));
        auto drawn = drawSurfaces(
            brief, part->size(), [&](int) { return part; }, errand.posted);
        if (!drawn) return passOn(drawn.error());
        for (Surface& surface : *drawn) {
            surface.id = "slice-" + slice.name + "-" + surface.id;
            out.slices.emplace_back(slice, std::move(surface));
        }
    }
    return {};
}

}  // namespace

Result<Rehearsed> rehearse(const Errand& errand, std::stop_token stop,
                           const std::function<void(double)>& progress) {
    return unlessTooLarge(errand.pieceId, [&]() -> Result<Rehearsed> {
        StandInHost host(errand.host, errand.trouble);
        Rehearsed out;
        out.answer.accepted = true;
        if (errand.handOver) {
            const auto bytes = readFile(*errand.handOver);
            if (!bytes) return passOn(bytes.error());
            out.file = errand.handOver->filename().string();
            auto answer =
                host.handOver(*bytes, out.file, errand.pieceId, errand.brief, stop, progress);
            if (!answer) return passOn(answer.error());
            out.answer = std::move(*answer);
        }
        if (errand.publish && out.answer.accepted)
            if (auto done = host.publish(errand.pieceId, errand.brief); !done)
                return passOn(done.error());
        out.state = host.state(errand.pieceId);
        const auto file = out.answer.accepted ? host.accepted(errand.pieceId) : std::nullopt;
        if (!file) return out;
        const auto bytes = readFile(*file);
        if (!bytes) return passOn(bytes.error());
        const auto picture = decode(*bytes, file->filename().string());
        if (!picture) return passOn(picture.error());
        out.copies = std::make_shared<HostCopies>(picture->pixels, host.copyQuality());
        auto surfaces = drawSurfaces(
            errand.brief, out.copies->size(), [&](int width) { return out.copies->at(width); },
            errand.posted);
        if (!surfaces) return passOn(out.copies->trouble().value_or(surfaces.error()));
        out.surfaces = std::move(*surfaces);
        if (auto done = drawSlices(errand, out); !done) return passOn(done.error());
        return out;
    });
}

}  // namespace zl
