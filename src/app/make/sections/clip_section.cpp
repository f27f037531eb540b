// SPDX-License-Identifier: GPL-3.0-or-later
#include <QCheckBox>
#include <QPushButton>

#include "film/strip.h"
#include "film/take_still.h"
#include "kit/moving.h"
#include "make/sections/sections.h"
#include "widgets/moment_field.h"
#include "work/film_desk.h"

namespace zl::app {
namespace {

enum class After { stays, goes, again };

}  // namespace

ClipSection::ClipSection(Session& session) : Section(session, tr("Clip")) {
    Form form(body());
    about_ = named(softLabel({}), "clipAbout");
    about_->setWordWrap(true);
    form.wide(about_);
    find_ = named(new QPushButton(tr("Look for the video …")), "clipFind");
    find_->setToolTip(tr("Names the file that this clip is"));
    form.wide(find_);
    const auto seconds = [](const QString& name, const char* id, double most) {
        auto* field = named(new NumberField(name, tr("s")), id);
        field->setRange(0, most, 2);
        return field;
    };
    constexpr double day = 864'000;
    in_ = seconds(tr("Part of the video, from"), "clipIn", day);
    out_ = seconds(tr("Part of the video, to"), "clipOut", day);
    form.row(tr("Part"), in_, out_);
    begins_ = seconds(tr("Begins in the piece at"), "clipBegins", longestPiece);
    form.row(tr("Begins at"), begins_);
    after_ = named(new QComboBox, "clipAfter");
    after_->setAccessibleName(tr("When it has ended"));
    offer<After>(after_, {{tr("its last frame stays"), After::stays},
                          {tr("it is gone"), After::goes},
                          {tr("it begins again"), After::again}});
    form.row(tr("At its end"), after_);
    loudness_ = named(new NumberField(tr("Loudness"), "%"), "clipLoudness");
    loudness_->setRange(0, 200, 0);
    muted_ = named(new QCheckBox(tr("mute")), "clipMuted");
    form.row(tr("Sound"), loudness_, muted_);
    auto* refusal = refusalLine();
    form.wide(refusal);
    for (NumberField* field : {in_, out_, begins_, loudness_}) hear(field, refusal);
    listen();
}

void ClipSection::change(const QString& what, const QString& mergeKey,
                         const std::function<void(Clip&)>& change) {
    edit(what, mergeKey, [&change](Layer& layer) {
        if (PictureLayer* picture = layer.picture(); picture && picture->clip)
            change(*picture->clip);
    });
}

void ClipSection::listen() {
    connect(in_, &NumberField::committed, this, [this](double v) {
        change(tr("Part of the clip"), "clipIn", [v](Clip& c) { c.in = v; });
    });
    connect(out_, &NumberField::committed, this, [this](double v) {
        change(tr("Part of the clip"), "clipOut",
               [v](Clip& c) { c.out = v >= c.length - 5e-3 ? 0 : v; });
    });
    connect(begins_, &NumberField::committed, this, [this](double v) {
        change(tr("Begin of the clip"), "clipBegins", [v](Clip& c) { c.begins = v; });
    });
    connect(after_, &QComboBox::activated, this, [this] {
        const After after = chosenIn<After>(after_);
        change(tr("End of the clip"), {}, [after](Clip& c) {
            c.loops = after == After::again;
            c.holds = after != After::goes;
        });
    });
    connect(loudness_, &NumberField::committed, this, [this](double v) {
        change(tr("Loudness"), "loudness", [v](Clip& c) { c.loudness = v / 100; });
    });
    connect(muted_, &QCheckBox::toggled, this, [this](bool on) {
        change(on ? tr("Mute") : tr("Let it be heard"), {}, [on](Clip& c) { c.muted = on; });
    });
    connect(find_, &QPushButton::clicked, this, &ClipSection::findAsked);
}

void ClipSection::found(const QString& chosen) {
    if (chosen.isEmpty() || !session_.layer()) return;
    const Path file = chosen.toStdString();
    const std::string known = contentOf(file);
    const bool same = session_.picture() && session_.picture()->clip &&
                      session_.picture()->clip->identity == known;
    change(tr("Find the video"), {}, [&](Clip& c) {
        c.file = rememberedAs(file, session_.files().path());
        c.identity = known;
    });
    session_.tell(same ? tr("It is the same video.")
                       : tr("It is another video than the one that was brought in: look whether "
                            "the part that is shown is still the right one."),
                  !same);
}

bool ClipSection::isFor(const Piece&, const Layer* layer) const {
    return layer && layer->picture() && layer->picture()->clip;
}

void ClipSection::fill(const Piece&, const Layer* layer) {
    const Clip& clip = *layer->picture()->clip;
    std::error_code none;
    const Path file = videoAt(clip.file, session_.files().path());
    const bool there = std::filesystem::is_regular_file(file, none);
    const QString name = QString::fromStdString(file.filename().string());
    about_->setText(there ? tr("%1, %2").arg(name, momentWords(clip.length))
                          : tr("%1 is not there: one frame of it stands for it.").arg(name));
    find_->setVisible(!there);
    in_->show(clip.in);
    out_->show(clip.in + clip.shown());
    begins_->show(clip.begins);
    choose(after_, clip.loops ? After::again : clip.holds ? After::stays : After::goes);
    loudness_->show(clip.loudness * 100);
    muted_->setChecked(clip.muted);
    loudness_->setEnabled(clip.sounds && !clip.muted);
    muted_->setEnabled(clip.sounds);
    muted_->setToolTip(clip.sounds ? QString() : tr("The video has no sound."));
}

TimeSection::TimeSection(Session& session) : Section(session, tr("Time")) {
    Form form(body());
    always_ = named(new QCheckBox(tr("seen all the time")), "showsAlways");
    form.wide(always_);
    const auto seconds = [](const QString& name, const char* id) {
        auto* field = named(new NumberField(name, tr("s")), id);
        field->setRange(0, longestPiece, 2);
        return field;
    };
    from_ = seconds(tr("Comes at"), "showsFrom");
    to_ = seconds(tr("Goes at"), "showsTo");
    form.row(tr("Seen from, to"), from_, to_);
    fade_ = seconds(tr("Fades over"), "showsFade");
    form.row(tr("Fades over"), fade_);
    form.wide(refusal_ = refusalLine());
    for (NumberField* field : {from_, to_, fade_}) hear(field, refusal_);
    connect(always_, &QCheckBox::toggled, this, [this](bool on) {
        editAll(on ? tr("Seen all the time") : tr("Showing time"), {}, [on](Layer& layer) {
            layer.shows = on ? std::nullopt : std::optional(ShowTime{});
        });
    });
    connect(from_, &NumberField::committed, this, [this](double v) {
        change(tr("Showing time"), "showsFrom", [v](ShowTime& s) { s.from = v; });
    });
    connect(to_, &NumberField::committed, this, [this](double v) {
        const double length = session_.clock().length();
        change(tr("Showing time"), "showsTo", [v, length](ShowTime& s) {
            s.to = v >= length - 5e-3 ? std::nullopt : std::optional(v);
        });
    });
    connect(fade_, &NumberField::committed, this, [this](double v) {
        change(tr("Fade"), "showsFade", [v](ShowTime& s) { s.fade = v; });
    });
}

void TimeSection::change(const QString& what, const QString& mergeKey,
                         const std::function<void(ShowTime&)>& change) {
    editAll(what, mergeKey, [&change](Layer& layer) {
        ShowTime shows = layer.shows.value_or(ShowTime{});
        change(shows);
        layer.shows = shows;
    });
}

// A piece that can move: it has a clip, or a length of its own.
bool TimeSection::isFor(const Piece& piece, const Layer* layer) const {
    return layer && (moves(piece) || piece.length > 0);
}

void TimeSection::fill(const Piece& piece, const Layer* layer) {
    const double length = lengthOf(piece);
    always_->setChecked(!layer->shows);
    const ShowTime shows = layer->shows.value_or(ShowTime{});
    from_->show(shows.from);
    to_->show(shows.to.value_or(length));
    fade_->show(shows.fade);
    for (NumberField* field : {from_, to_, fade_}) field->setEnabled(layer->shows.has_value());
}

}  // namespace zl::app
