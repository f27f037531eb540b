// SPDX-License-Identifier: GPL-3.0-or-later
#include <QHBoxLayout>
#include <QMenu>
#include <QPainter>
#include <QPainterPath>
#include <QPushButton>
#include <QSlider>
#include <QToolButton>
#include <QVBoxLayout>
#include <cmath>

#include "look/theme.h"
#include "make/sections/sections.h"
#include "words/words.h"

namespace zl::app {

HistogramView::HistogramView(QWidget* parent) : QWidget(parent) {
    setObjectName("histogram");
    setAccessibleName(tr("How often each lightness occurs"));
    setFixedHeight(56);
}

void HistogramView::show(const Histogram& histogram) {
    histogram_ = histogram;
    update();
}

void HistogramView::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Theme& theme = Theme::now();
    painter.fillRect(rect(), theme["sheet-raised"]);
    const auto& luma = histogram_.counts[3];
    long long most = 1;
    for (std::size_t i = 1; i + 1 < luma.size(); ++i) most = std::max(most, luma[i]);
    painter.setRenderHint(QPainter::Antialiasing);
    QPainterPath hill(QPointF(0, height()));
    for (std::size_t i = 0; i < luma.size(); ++i)
        // Square roots, so that what is rare is seen, too.
        hill.lineTo(
            static_cast<double>(i) / 255 * width(),
            height() - 4 -
                std::sqrt(std::min(1.0, static_cast<double>(luma[i]) / static_cast<double>(most))) *
                    (height() - 10));
    hill.lineTo(width(), height());
    hill.closeSubpath();
    painter.fillPath(hill, theme["ink-soft"]);
    // The clipped ends: a bar each, as high as their share of the pixels, at least to be seen.
    const auto end = [&](double share, double left) {
        if (share < 0.001) return;
        const double high = std::max(6.0, share * height());
        painter.fillRect(QRectF(left, height() - high, 4, high), theme["fail"]);
    };
    end(histogram_.clippedLow, 0);
    end(histogram_.clippedHigh, width() - 4);
    painter.setPen(theme["seam-strong"]);
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5));
}

ToneSection::ToneSection(Session& session) : KindSection(session, tr("Tone")) {
    Form form(body());
    histogram_ = new HistogramView;
    form.wide(histogram_);
    clipped_ = named(new QLabel, "clipped");
    clipped_->setProperty("soft", true);
    clipped_->setFont(interfaceFont(11));
    form.wide(clipped_);
    const std::tuple<QString, const char*, double Tone::*> settings[] = {
        {tr("Brightness"), "brightness", &Tone::brightness},
        {tr("Contrast"), "contrast", &Tone::contrast},
        {tr("Saturation"), "saturation", &Tone::saturation},
        {tr("Warmth"), "warmth", &Tone::warmth},
        {tr("Tint"), "tint", &Tone::tint},
        {tr("Clarity"), "clarity", &Tone::clarity}};
    refusal_ = refusalLine();
    for (const auto& [name, id, member] : settings) buildSetting(form, name, id, member);
    form.wide(refusal_);
    QWidget* starts = buildStarts();
    auto* reset = named(new QPushButton(tr("Neutral")), "toneNeutral");
    connect(reset, &QPushButton::clicked, this,
            [this] { editEach(tr("Neutral tone"), {}, [](PictureLayer& p) { p.tone = {}; }); });
    before_ = named(new QPushButton(tr("Before")), "toneBefore");
    before_->setCheckable(true);
    before_->setToolTip(tr("Shows the picture without its tone; press again for after"));
    connect(before_, &QPushButton::toggled, this, &ToneSection::beforeAsked);
    QToolButton* veil =
        menuButton(tr("Hide  ▾"), "addVeil",
                   tr("A number plate, a name in a chat: in coarse pixels or blurred"));
    auto* kinds = new QMenu(veil);
    kinds->addAction(tr("In coarse pixels"), this, [this] { addVeil(Veil::Kind::coarse); })
        ->setObjectName("veilCoarse");
    kinds->addAction(tr("Blurred"), this, [this] { addVeil(Veil::Kind::blur); })
        ->setObjectName("veilBlur");
    veil->setMenu(kinds);
    form.wide(sideBySide({starts, veil}));
    form.wide(sideBySide({reset, before_}));
    veils_ = new QWidget;
    veilRows_ = new QVBoxLayout(veils_);
    veilRows_->setContentsMargins(0, 0, 0, 0);
    veilRows_->setSpacing(6);
    form.wide(veils_);
}

void ToneSection::buildSetting(Form& form, const QString& name, const char* id,
                               double Tone::*member) {
    auto* slider = named(new QSlider(Qt::Horizontal), (std::string(id) + "Slider").c_str());
    slider->setRange(-100, 100);
    slider->setAccessibleName(name);
    auto* field = named(new NumberField(name, ""), id);
    field->setRange(-100, 100, 0);
    field->setFixedWidth(52);
    field->setMinimumWidth(52);
    auto* pair = new QWidget;
    auto* row = new QHBoxLayout(pair);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(8);
    row->addWidget(slider, 1);
    row->addWidget(field);
    form.row(name, pair);
    hear(field, refusal_);
    const auto set = [this, n = name, m = member](double v) {
        editEach(n, "tone " + n, [&](PictureLayer& p) { p.tone.*m = v; });
    };
    connect(slider, &QSlider::valueChanged, this, [set](int v) { set(v); });
    connect(field, &NumberField::committed, this, [set](double v) { set(v); });
    rows_.push_back({member, slider, field});
}

QWidget* ToneSection::buildStarts() {
    QToolButton* starts = menuButton(tr("Start from  ▾"), "toneStarts");
    auto* menu = new QMenu(starts);
    for (const ToneStart& start : toneStarts()) {
        QAction* action =
            menu->addAction(QString::fromStdString(english({"tone." + std::string(start.id), {}})));
        action->setObjectName(QString("tone-%1").arg(
            QString::fromUtf8(start.id.data(), static_cast<int>(start.id.size()))));
        connect(action, &QAction::triggered, this, [this, tone = start.tone] {
            editEach(tr("Tone"), {}, [tone](PictureLayer& p) { p.tone = tone; });
        });
    }
    starts->setMenu(menu);
    return starts;
}

void ToneSection::fillFrom(const PictureLayer& picture, const Layer&, const Piece&) {
    const Tone& tone = picture.tone;
    for (const Row& row : rows_) {
        row.slider->setValue(static_cast<int>(std::lround(tone.*row.member)));
        row.field->show(tone.*row.member);
    }
    before_->setEnabled(!tone.neutral());
    if (tone.neutral() && before_->isChecked()) before_->setChecked(false);
    fillVeils(picture);
    count(picture);
}

// The histogram is of the picture as its tone leaves it, counted aside.
void ToneSection::count(const PictureLayer& shown) {
    const Asset* asset = session_.kit().asset(shown.source);
    if (!asset) return;
    // A picture that only moved has the same histogram.
    if (countedOf_ == asset->sha256 && countedTone_ == shown.tone) return;
    countedOf_ = asset->sha256;
    countedTone_ = shown.tone;
    counting_.post([this, inks = session_.inks(), asset = *asset,
                    tone = shown.tone](const std::stop_token& stop) {
        const auto picture = inks->picture(asset);
        if (!picture || stop.stop_requested()) return;
        const Histogram histogram = tone.neutral()
                                        ? histogramOf(*(*picture)->pixels)
                                        : histogramOf(toned(*(*picture)->pixels, tone, 1, stop));
        if (stop.stop_requested()) return;
        QMetaObject::invokeMethod(
            this,
            [this, histogram] {
                histogram_->show(histogram);
                const auto share = [](double v) {
                    return QString::number(v * 100, 'f', v < 0.0995 ? 1 : 0);
                };
                clipped_->setText(
                    histogram.clippedLow < 0.001 && histogram.clippedHigh < 0.001
                        ? tr("nothing clipped")
                        : tr("clipped: %1 % dark, %2 % light")
                              .arg(share(histogram.clippedLow), share(histogram.clippedHigh)));
            },
            Qt::QueuedConnection);
    });
}

void ToneSection::addVeil(Veil::Kind kind) {
    editOne(tr("Hide a region"), {}, [kind](PictureLayer& p) {
        // A quarter as wide as what is seen, in its middle.
        const RealRect& c = p.crop;
        p.veils.push_back({kind,
                           {std::round(c.x + c.width * 3 / 8), std::round(c.y + c.height * 3 / 8),
                            std::round(c.width / 4), std::round(c.height / 4)},
                           std::clamp(std::round(c.width / 40), 4.0, 400.0)});
    });
}

// One row of fields for each region, in px of the original.
void ToneSection::fillVeils(const PictureLayer& picture) {
    if (picture.veils == veilsShown_) return;
    const bool alike = picture.veils.size() == veilsShown_.size();
    veilsShown_ = picture.veils;
    if (alike) {
        for (std::size_t i = 0; i < picture.veils.size(); ++i) {
            const Veil& v = picture.veils[i];
            const double values[] = {v.region.x, v.region.y, v.region.width, v.region.height, v.px};
            for (int k = 0; k < 5; ++k)
                veils_->findChild<NumberField*>(QString("veil-%1-%2").arg(i).arg(k))
                    ->show(values[k]);
        }
        return;
    }
    while (QLayoutItem* item = veilRows_->takeAt(0)) {
        item->widget()->hide();
        item->widget()->deleteLater();
        delete item;
    }
    for (std::size_t i = 0; i < picture.veils.size(); ++i) addVeilRow(i, picture.veils[i]);
}

void ToneSection::addVeilRow(std::size_t i, const Veil& v) {
    auto* row = new QWidget;
    auto* grid = new QGridLayout(row);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setSpacing(4);
    auto* title = softLabel(v.kind == Veil::Kind::coarse ? tr("Coarse region %1").arg(i + 1)
                                                         : tr("Blurred region %1").arg(i + 1));
    grid->addWidget(title, 0, 0, 1, 2);
    auto* remove = iconButton("close", QString("veil-%1-remove").arg(i).toUtf8().constData(),
                              tr("Show region %1 again").arg(i + 1));
    connect(remove, &QToolButton::clicked, this, [this, i] {
        editOne(tr("Show a region again"), {}, [i](PictureLayer& p) {
            auto& veils = p.veils;
            if (i < veils.size()) veils.erase(veils.begin() + static_cast<std::ptrdiff_t>(i));
        });
    });
    auto* place = iconButton("place", QString("veil-%1-place").arg(i).toUtf8().constData(),
                             tr("Place region %1 on the picture").arg(i + 1));
    connect(place, &QToolButton::clicked, this,
            [this, i] { Q_EMIT placeVeilAsked(static_cast<int>(i)); });
    grid->addWidget(sideBySide({place, remove}), 0, 2, Qt::AlignRight);
    const QString names[] = {tr("Left"), tr("Top"), tr("Width"), tr("Height"), tr("Coarseness")};
    const double values[] = {v.region.x, v.region.y, v.region.width, v.region.height, v.px};
    for (int k = 0; k < 5; ++k) {
        auto* field = named(new NumberField(tr("Region %1: %2").arg(i + 1).arg(names[k].toLower()),
                                            k == 0   ? tr("left")
                                            : k == 1 ? tr("top")
                                            : k == 2 ? tr("wide")
                                            : k == 3 ? tr("high")
                                                     : tr("px")),
                            QString("veil-%1-%2").arg(i).arg(k).toUtf8().constData());
        field->setRange(k < 2 ? -100'000 : 1, k == 4 ? 400 : 100'000, 0);
        field->show(values[k]);
        hear(field, refusal_);
        connect(field, &NumberField::committed, this, [this, i, k](double value) {
            editOne(tr("Hide a region"), QString("veil %1 %2").arg(i).arg(k), [&](auto& p) {
                if (i >= p.veils.size()) return;
                Veil& veil = p.veils[i];
                double* const parts[] = {&veil.region.x, &veil.region.y, &veil.region.width,
                                         &veil.region.height, &veil.px};
                *parts[k] = value;
            });
        });
        grid->addWidget(field, 1 + k / 2, k % 2 == 0 ? 0 : 1, 1, 1);
    }
    veilRows_->addWidget(row);
    row->show();
}

}  // namespace zl::app
