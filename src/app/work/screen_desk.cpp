// SPDX-License-Identifier: GPL-3.0-or-later
#include "work/screen_desk.h"

#include "base/parallel.h"
#include "kit/moving.h"

namespace zl::app {
namespace {

// The screen px that show a part of the frame, with a px of slack for shared ones.
PixelRect onScreen(const PixelRect& damage, const Mapping& mapping, PixelSize viewport) {
    const RealRect real{static_cast<double>(damage.left), static_cast<double>(damage.top),
                        static_cast<double>(damage.width()), static_cast<double>(damage.height())};
    PixelRect rect = roundOutwards(mapping.onScreen(real));
    rect = {rect.left - 1, rect.top - 1, rect.right + 1, rect.bottom + 1};
    return rect.intersected(PixelRect::of(viewport));
}

bool sameView(const ScreenRequest& a, const ScreenRequest& b) {
    return a.mapping == b.mapping && a.viewport == b.viewport && a.backdrop == b.backdrop &&
           a.surround == b.surround;
}

}  // namespace

ScreenDesk::ScreenDesk(std::shared_ptr<InkStore> inks, QObject* parent)
    : QObject(parent), inks_(std::move(inks)) {}

void ScreenDesk::ask(ScreenRequest request) {
    // Solving a subject takes long, and one that has another stroke by now is of no use.
    std::vector<SubjectCut> subjects;
    if (const Piece* piece = request.kit.piece(request.pieceId))
        for (const Layer& layer : piece->layers)
            if (const PictureLayer* picture = layer.picture())
                for (const Cut& cut : picture->cuts)
                    if (cut.subject()) subjects.push_back(*cut.subject());
    if (subjects != subjects_) job_.cancel();
    subjects_ = std::move(subjects);
    job_.post(
        [this, request = std::move(request)](const std::stop_token& stop) { work(request, stop); });
}

void ScreenDesk::forget() {
    forget_ = true;
}

// The small picture, of which only what was damaged is drawn again.
void ScreenDesk::drawOverview(const ScreenRequest& request, bool whole, const PixelRect& damage) {
    const PixelSize size = request.overview;
    if (size.empty()) {
        overview_ = {};
        return;
    }
    if (overview_.width() != size.width || overview_.height() != size.height) {
        overview_ = QImage(size.width, size.height, QImage::Format_RGB32);
        whole = true;
    }
    const Mapping mapping{static_cast<double>(size.width) / frame_.width(), 0, 0};
    const PixelRect want = whole ? PixelRect::of(size) : onScreen(damage, mapping, size);
    if (want.empty()) return;
    const auto stride = static_cast<int>(overview_.bytesPerLine() / 4);
    showOnScreen(frame_, mapping, request.backdrop, request.surround, want,
                 reinterpret_cast<std::uint32_t*>(overview_.bits()) +
                     static_cast<std::ptrdiff_t>(stride) * want.top + want.left,
                 stride, coreCount());
}

void ScreenDesk::work(const ScreenRequest& request, const std::stop_token& stop) {
    const Piece* asked = request.kit.piece(request.pieceId);
    if (!asked || request.viewport.empty()) return;
    // From here on the piece stands still, as it is at its moment.
    const Piece now =
        atMoment(*asked, request.moment.value_or(tellingMoment(*asked)), *inks_, request.plays);
    const Piece* piece = &now;
    if (forget_.exchange(false)) last_.reset();
    const bool fresh = !last_ || shown_.id != piece->id || frame_.size() != piece->frame;
    if (fresh) frame_ = Straight8(piece->frame);
    const PixelRect damage =
        fresh ? PixelRect::of(piece->frame) : damageBetween(shown_, {*piece, request.kit}, *inks_);
    if (!damage.empty()) {
        if (auto done = renderInto(frame_, damage, {*piece, request.kit}, *inks_, stop); !done) {
            last_.reset();  // the frame is not whole
            const QString sentence = QString::fromStdString(done.error().sentence());
            if (done.error().code != Code::cancelled)
                QMetaObject::invokeMethod(
                    this, [this, sentence] { Q_EMIT refused(sentence); }, Qt::QueuedConnection);
            return;
        }
    }
    drawOverview(request, fresh || !last_ || !(last_->backdrop == request.backdrop), damage);
    const bool whole = fresh || !sameView(*last_, request);
    shown_ = *piece;
    last_ = request;
    const PixelRect want = whole ? PixelRect::of(request.viewport)
                                 : onScreen(damage, request.mapping, request.viewport);
    if (want.empty() && request.overview.empty()) return;
    QImage image(std::max(0, want.width()), std::max(0, want.height()), QImage::Format_RGB32);
    if (!want.empty())
        showOnScreen(frame_, request.mapping, request.backdrop, request.surround, want,
                     reinterpret_cast<std::uint32_t*>(image.bits()),
                     static_cast<int>(image.bytesPerLine() / 4), coreCount());
    const ScreenPatch patch{image, {want.left, want.top}, whole, request.mapping, overview_.copy()};
    QMetaObject::invokeMethod(
        this, [this, patch] { Q_EMIT painted(patch); }, Qt::QueuedConnection);
}

}  // namespace zl::app
