// SPDX-License-Identifier: GPL-3.0-or-later
// The surfaces of a rehearsal laid out in the view, by the kind of place.
#include <QHBoxLayout>
#include <QLabel>
#include <QScrollArea>
#include <QTimer>
#include <QToolButton>
#include <QVBoxLayout>
#include <set>

#include "links/links.h"
#include "rehearse/host_words.h"
#include "rehearse/rehearse_view.h"
#include "widgets/panel.h"
#include "widgets/surface_picture.h"

namespace zl::app {
namespace {

// As the brief lists them, whatever themes they have.
std::vector<const Surface*> inOrder(const std::vector<Surface>& surfaces, const Brief& brief) {
    std::vector<const Surface*> all;
    for (const SurfaceSpec& spec : brief.surfaces)
        for (const Surface& surface : surfaces)
            if (surface.spec == spec.id) all.push_back(&surface);
    return all;
}

}  // namespace

// Where one surface is wider than the view, all are shown no wider than half of it, so that they
// stand side by side; one alone has it all.
int RehearseView::mostWidth() const {
    const Rehearsed* now = shown();
    if (!now || truePixels_->isChecked()) return 0;
    const int room = scroll_->width() - 44;
    const auto wide = [&](const Surface& s) {
        return s.picture.width() / devicePixelRatioF() > room;
    };
    const bool tooWide = std::any_of(now->surfaces.begin(), now->surfaces.end(), wide) ||
                         std::any_of(now->slices.begin(), now->slices.end(),
                                     [&](const auto& s) { return wide(s.second); });
    std::set<std::string> places;
    for (const Surface& surface : now->surfaces) places.insert(surface.spec);
    for (const auto& [slice, surface] : now->slices) places.insert(slice.name + " " + surface.spec);
    return tooWide ? static_cast<int>((places.size() == 1 ? room - 4 : (room - 18) / 2) *
                                      devicePixelRatioF())
                   : 0;
}

bool RehearseView::isOfTheme(const std::vector<Surface>& all, const Surface& surface) const {
    const char* theme = dark_->isChecked() ? "dark" : "light";
    return surface.theme == theme || std::none_of(all.begin(), all.end(), [&](const Surface& s) {
               return s.spec == surface.spec && s.theme == theme;
           });
}

void RehearseView::lay(const std::vector<SurfacePicture*>& pictures) {
    const int room = scroll_->width() - 44;
    QHBoxLayout* line = nullptr;
    int used = 0;
    for (SurfacePicture* picture : pictures) {
        const int wide = picture->sizeHint().width();
        if (!line || used + wide > room) {
            auto* row = new QWidget;
            line = new QHBoxLayout(row);
            line->setContentsMargins(0, 0, 0, 0);
            line->setSpacing(14);
            line->addStretch();
            surfaces_->insertWidget(surfaces_->count() - 1, row);
            rows_.push_back(row);
            used = 0;
        }
        line->insertWidget(line->count() - 1, picture, 0, Qt::AlignTop | Qt::AlignLeft);
        used += wide + 14;
    }
}

// By the kind of place; slices after the whole.
void RehearseView::flow() {
    const Rehearsed* now = shown();
    const Piece* piece = session_.piece();
    const Brief* brief = session_.brief();
    if (!brief) return;
    const PieceState* state = desk_.state(piece->id);
    const int most = mostWidth();
    const auto specOf = [&](const Surface& surface) {
        for (const SurfaceSpec& spec : brief->surfaces)
            if (spec.id == surface.spec) return spec;
        return SurfaceSpec{};
    };
    std::vector<std::pair<std::string, std::vector<SurfacePicture*>>> places;
    const auto at = [&](const std::string& place) -> std::vector<SurfacePicture*>& {
        for (auto& [name, pictures] : places)
            if (name == place) return pictures;
        return places.emplace_back(place, std::vector<SurfacePicture*>{}).second;
    };
    for (const Surface* surface : inOrder(now->surfaces, *brief)) {
        if (!isOfTheme(now->surfaces, *surface)) continue;
        const SurfaceSpec spec = specOf(*surface);
        const SurfaceNote* note = nullptr;
        if (state && desk_.isCurrent(piece->id))
            for (const SurfaceNote& one : state->notes)
                if (one.surface == surface->spec) note = &one;
        const bool leads = spec.kind == SurfaceKind::page && !piece->links.empty();
        auto* picture = new SurfacePicture(
            *surface, most, note, leads ? piece->links : std::vector<LinkRegion>{}, piece->frame);
        pictures_[surface->id] = picture;
        at(placeOf(spec)).push_back(picture);
    }
    for (const auto& [slice, surface] : now->slices) {
        std::vector<Surface> alike;
        for (const auto& [other, one] : now->slices)
            if (other == slice) alike.push_back({one.id, one.title, {}, {}, one.spec, one.theme});
        if (!isOfTheme(alike, surface)) continue;
        at(tr("Slice: %1").arg(QString::fromStdString(slice.name)).toStdString())
            .push_back(new SurfacePicture(surface, most, nullptr,
                                          linksWithin(piece->links, slice.place),
                                          slice.place.size()));
    }
    for (const auto& [place, pictures] : places) {
        if (places.size() > 1 || !now->slices.empty()) {
            auto* heading = new QLabel(QString::fromStdString(place));
            heading->setFont(interfaceFont(13, 600));
            surfaces_->insertWidget(surfaces_->count() - 1, heading);
            rows_.push_back(heading);
        }
        lay(pictures);
    }
    // What moves follows the clock, once it stands where it can be seen.
    QTimer::singleShot(0, this, &RehearseView::restage);
}

}  // namespace zl::app
