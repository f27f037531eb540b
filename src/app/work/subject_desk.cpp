// SPDX-License-Identifier: GPL-3.0-or-later
#include "work/subject_desk.h"

#include "kit/layer_kinds.h"

#include <algorithm>

namespace zl::app {
namespace {

constexpr int guessWidth = 160;  // px of a guess's picture, for the screens that show twice as many

QImage imageOfPixels(const Straight8& pixels) {
    return QImage(pixels.bytes(), pixels.width(), pixels.height(), 4 * pixels.width(),
                  QImage::Format_RGBA8888)
        .convertToFormat(QImage::Format_ARGB32_Premultiplied);
}

// Dark over what is not the subject.
QImage groundOf(const Labels& labels) {
    QImage out(labels.width(), labels.height(), QImage::Format_ARGB32_Premultiplied);
    for (int y = 0; y < labels.height(); ++y) {
        auto* row = reinterpret_cast<QRgb*>(out.scanLine(y));
        for (int x = 0; x < labels.width(); ++x)
            row[x] = labels.at(x, y) == ofSubject ? 0U : qPremultiply(qRgba(20, 24, 28, 190));
    }
    return out;
}

// The same, as soft as alpha is.
QImage groundOf(const Plane& alpha) {
    QImage out(alpha.width(), alpha.height(), QImage::Format_ARGB32_Premultiplied);
    for (int y = 0; y < alpha.height(); ++y) {
        auto* row = reinterpret_cast<QRgb*>(out.scanLine(y));
        for (int x = 0; x < alpha.width(); ++x)
            row[x] = qPremultiply(qRgba(20, 24, 28, static_cast<int>(190 * (1 - alpha.row(y)[x]))));
    }
    return out;
}

// The picture with its ground nearly gone.
QImage guessOf(const Straight8& pixels, const Labels& labels) {
    QImage out(pixels.width(), pixels.height(), QImage::Format_ARGB32);
    for (int y = 0; y < pixels.height(); ++y) {
        auto* row = reinterpret_cast<QRgb*>(out.scanLine(y));
        for (int x = 0; x < pixels.width(); ++x) {
            const std::uint32_t p = pixels.row(y)[x];
            constexpr int faint = 38;
            row[x] =
                qRgba(redOf(p), greenOf(p), blueOf(p), labels.at(x, y) == ofSubject ? 255 : faint);
        }
    }
    return out.scaledToWidth(guessWidth, Qt::SmoothTransformation);
}

// Each of the guesses that are shown, without strokes.
std::vector<QImage> guessPictures(const SubjectStart& start, SubjectEdge edge,
                                  const std::stop_token& stop) {
    std::vector<QImage> guesses;
    const std::size_t count = std::min<std::size_t>(mostGuesses, start.guesses.labels.size());
    for (std::size_t k = 0; k < count && !stop.stop_requested(); ++k) {
        SubjectCut plain;
        plain.guess = static_cast<int>(k);
        plain.edge = edge;
        const auto guess = subjectLabels(start, plain, stop);
        if (guess) guesses.push_back(guessOf(start.working.pixels, *guess));
    }
    return guesses;
}

QImage matteOfPicture(const Straight8& pixels) {
    QImage out(pixels.width(), pixels.height(), QImage::Format_Grayscale8);
    for (int y = 0; y < pixels.height(); ++y) {
        std::uint8_t* row = out.scanLine(y);
        for (int x = 0; x < pixels.width(); ++x)
            row[x] = static_cast<std::uint8_t>(alphaOf(pixels.row(y)[x]));
    }
    const int longest = std::max(out.width(), out.height());
    return longest > mattingSize
               ? out.scaled(mattingSize, mattingSize, Qt::KeepAspectRatio, Qt::SmoothTransformation)
               : out;
}

}  // namespace

struct SubjectDesk::Asked {
    int serial = 0, layer = 0;
    Asset asset;
    std::vector<Cut> cuts;
    std::size_t cut = 0;
    std::shared_ptr<InkStore> inks;
    bool wantsOriginal = false;
};

void SubjectDesk::setLook(SubjectLook look) {
    if (std::exchange(look_, look) != look) Q_EMIT changed();
}

void SubjectDesk::visitNext() {
    if (!state_ || !state_->report || state_->report->places.empty()) return;
    const auto& places = state_->report->places;
    Q_EMIT visited(RealRect::ofPixels(places[next_ % places.size()]));
    next_ = (next_ + 1) % places.size();
}

void SubjectDesk::follow(const Kit& kit, const Layer* layer) {
    const PictureLayer* picture = layer ? layer->picture() : nullptr;
    const Asset* asset = picture ? assetOf(*layer, kit) : nullptr;
    const auto found = asset ? std::find_if(picture->cuts.begin(), picture->cuts.end(),
                                            [](const Cut& c) { return c.subject() && !c.off; })
                             : std::vector<Cut>::const_iterator{};
    if (!asset || found == picture->cuts.end()) {
        job_.cancel();
        ++serial_;
        asked_.reset();
        working_ = false;
        look_ = SubjectLook::cutOut;
        if (std::exchange(state_, std::nullopt)) Q_EMIT changed();
        return;
    }
    const auto index = static_cast<std::size_t>(found - picture->cuts.begin());
    // Only what stands before it, and it itself, change what it does.
    std::vector<Cut> cuts(picture->cuts.begin(), found + 1);
    if (asked_ && asked_->layer == layer->id && asked_->asset == *asset && asked_->cuts == cuts)
        return;
    if (state_ && state_->layer != layer->id) state_.reset();
    const bool another = std::exchange(originalOf_, asset->sha256) != asset->sha256;
    if (another) original_ = {};
    asked_ = std::make_shared<const Asked>(
        Asked{++serial_, layer->id, *asset, std::move(cuts), index, inks_, original_.isNull()});
    working_ = true;
    next_ = 0;
    job_.post([asked = asked_, this](const std::stop_token& stop) { work(*asked, *this, stop); });
    Q_EMIT changed();
}

void SubjectDesk::back(int serial, std::function<void(SubjectDesk&)> act) {
    QMetaObject::invokeMethod(
        this,
        [this, serial, act = std::move(act)] {
            if (serial != serial_) return;
            act(*this);
            Q_EMIT changed();
        },
        Qt::QueuedConnection);
}

void SubjectDesk::work(const Asked& asked, SubjectDesk& desk, const std::stop_token& stop) {
    const SubjectCut& cut = *asked.cuts[asked.cut].subject();
    const auto refuse = [&](const Error& error) {
        if (error.code == Code::cancelled) return;
        desk.back(asked.serial, [sentence = QString::fromStdString(error.sentence())](auto& d) {
            d.working_ = false;
            Q_EMIT d.refused(sentence);
        });
    };
    const auto start = asked.inks->subjectStart(asked.asset, asked.cuts, asked.cut, stop);
    if (!start) return refuse(start.error());
    const auto labels = subjectLabels(**start, cut, stop);
    if (!labels) return refuse(labels.error());
    const SubjectState now{asked.layer, asked.cut, cut, *start, {}, groundOf(*labels), {}, {}, {}};
    QImage original;
    if (asked.wantsOriginal)
        if (const auto picture = asked.inks->picture(asked.asset, stop))
            original = imageOfPixels(workingOf(*(*picture)->pixels, mattingSize, 2).pixels);
    desk.back(asked.serial, [now, original](auto& d) {
        // What takes longer stays as it was until it is there.
        const std::vector<QImage> guesses = d.state_ ? d.state_->guesses : std::vector<QImage>();
        if (!original.isNull()) d.original_ = original;
        d.state_ = now;
        d.state_->original = d.original_;
        if (!now.start->boxed) d.state_->guesses = guesses;
    });
    if (!(*start)->boxed) {
        const std::vector<QImage> guesses = guessPictures(**start, cut.edge, stop);
        if (stop.stop_requested()) return;
        desk.back(asked.serial, [guesses](auto& d) { d.state_->guesses = guesses; });
    }
    auto report = subjectReport(**start, cut, *labels, stop);
    if (!report) return refuse(report.error());
    desk.back(asked.serial, [report = std::move(*report)](auto& d) { d.state_->report = report; });
    // The soft edge of a large picture is seen at a smaller size first.
    if (const PixelSize size = (*start)->size; std::max(size.width, size.height) > previewSize) {
        const auto before =
            asked.inks->cutPicture(asked.asset, {asked.cuts.data(), asked.cut}, stop);
        if (!before) return refuse(before.error());
        const auto preview = subjectMatte(*(*before)->pixels, **start, cut, previewSize, 2, stop);
        if (!preview) return refuse(preview.error());
        desk.back(asked.serial,
                  [ground = groundOf(preview->alpha)](auto& d) { d.state_->ground = ground; });
    }
    const auto picture =
        asked.inks->cutPicture(asked.asset, {asked.cuts.data(), asked.cut + 1}, stop);
    if (!picture) return refuse(picture.error());
    const auto soft = softnessOf(*(*picture)->pixels);
    desk.back(asked.serial, [matte = matteOfPicture(*(*picture)->pixels), soft](auto& d) {
        if (soft) d.state_->report->says.push_back(*soft);
        d.state_->matte = matte;
        d.working_ = false;
    });
}

}  // namespace zl::app
