// SPDX-License-Identifier: GPL-3.0-or-later
#include "words/words.h"

#include <fmt/args.h>
#include <fmt/format.h>

#include <algorithm>
#include <array>

#include "base/bytes.h"

namespace zl {
namespace {

constexpr auto table = std::to_array<Phrase>({
    {"verdict.pass", "pass"},
    {"verdict.watch", "watch"},
    {"verdict.fail", "fail"},
    {"verdict.n/a", "not measured"},

    {"reading.frame", "Frame"},
    {"reading.weight", "Weight"},
    {"reading.format", "Format"},
    {"reading.stretch", "Stretch"},
    {"reading.enlargement", "Enlargement"},
    {"reading.black-bars", "Black bars"},
    {"reading.naming", "Names"},
    {"reading.zones", "Zones"},
    {"reading.lettering", "Lettering"},
    {"reading.profile", "Profile"},
    {"reading.standing-out", "Standing out"},
    {"reading.length", "Length"},
    {"reading.cut-off", "Cut off"},
    {"reading.margins", "Margins"},
    {"reading.colours", "Colours"},
    {"reading.coverage", "Coverage"},
    {"reading.fringe", "Fringe"},
    {"reading.steps", "Steps"},
    {"reading.specks", "Specks"},
    {"reading.from-video", "From the video"},
    {"reading.hidden-colour", "Hidden colour"},
    {"reading.links", "Links"},
    {"reading.stamped", "Stamped"},

    {"frame.equal", "{0} × {1} px, as the brief asks."},
    {"frame.multiple", "{0} × {1} px, {2} times the brief's frame."},
    {"frame.enough", "{0} × {1} px, at least {2} × {3} and the right shape."},
    {"frame.own-screen", "{0} × {1} px, the size of your own screen; {2} × {3} is the usual one."},
    {"frame.free", "{0} × {1} px; this brief takes any frame."},
    {"frame.larger", "{0} × {1} px has the shape of {2} × {3}, but not its size."},
    {"frame.nearly", "{0} × {1} px is a little less than {2} × {3}."},
    {"frame.wrong-shape",
     "{0} × {1} px is not the brief's shape, {2} × {3}: the destination would stretch or cut it."},
    {"frame.too-small",
     "{0} × {1} px is smaller than {2} × {3}: the destination would enlarge it."},

    {"frame.kept", "A crop to the brief's shape keeps this part, {0} × {1} px."},

    {"weight.under", "{0} bytes of {1} allowed."},
    {"weight.no-limit", "{0} bytes; this brief has no limit."},
    {"weight.binary-only", "{0} bytes fit only if the limit of {1} MB is meant as {2} bytes."},
    {"weight.over", "{0} bytes are {1} over the limit of {2}."},
    {"weight.cannot-fit", "It cannot be encoded under the limit: {0}"},
    {"weight.bound", "At most {0} bytes of {1} allowed; the exact count follows."},

    {"format.gif-alpha",
     "GIF, as the brief accepts; its alpha is all or nothing, so soft edges turn hard."},
    {"format.accepted", "{0}, {1} bit, as the brief accepts."},
    {"format.not-accepted", "It is {0}; the brief accepts {1}."},
    {"format.no-alpha", "{0} without an alpha channel: the see-through part would turn solid."},
    {"format.no-alpha-channel",
     "The brief wants a see-through picture, and the file has no alpha channel."},
    {"format.pages",
     "It holds further pictures (it moves, or has pages); only the first one is kept."},
    {"format.missing", "It shows the picture \"{0}\", which is not in the file; that is left out."},
    {"format.wrong-ending", "The name \"{0}\" does not end as {1} does."},
    {"format.no-ending", "The name \"{0}\" has no ending; {1} ends in {2}."},

    {"stretch.none", "No picture is stretched."},
    {"stretch.no-pictures", "There is no picture to be stretched."},
    {"stretch.most", "\"{0}\" is stretched by {1:.1f} %."},
    {"stretch.layer", "\"{0}\" is {1:.1f} % {2} than its original's shape."},

    {"enlargement.none", "Every picture has at least the pixels it is shown with."},
    {"enlargement.no-pictures", "There is no picture to be enlarged."},
    {"enlargement.most", "\"{0}\" is shown {1:.2f} times as large as its pixels."},
    {"enlargement.held",
     "\"{0}\" holds a picture of pixels, which is shown {1:.2f} times as large as those."},
    {"enlargement.unmeasured",
     "\"{0}\" holds a picture of pixels; whether that has enough of them is not measured."},
    {"enlargement.layer", "\"{0}\" has {1} × {2} px for {3} × {4} px of the frame."},

    {"from-video.unknown", "No video is known that this piece goes with."},
    {"from-video.no-picture", "No picture covers half of the frame, so there is none to look for."},
    {"from-video.gone", "The video {0} is not there any more."},
    {"from-video.unseen", "The video {0} has not been looked through; Film does that."},
    {"from-video.taken", "The main picture is the frame at {1:.2f} s of {0}."},
    {"from-video.found", "The main picture is found at {1:.1f} s of {0}."},
    {"from-video.not-found", "The main picture is nowhere in {0}."},
    {"from-video.layer", "\"{0}\" is not found in the video, which disappoints whoever opens it."},

    {"black-bars.none", "No black bars."},
    {"black-bars.found", "Black bars of {0} and {1} px lie at the {2}."},
    {"black-bars.bar", "A black bar, {0} px."},
    {"black-bars.see-through", "Only opaque briefs are searched for black bars."},

    {"naming.good", "{0} layers, all named."},
    {"naming.one", "1 layer, named."},
    {"naming.nothing", "The piece has no layers."},
    {"naming.count", "{0} names or layers want a look."},
    {"naming.default-name", "\"{0}\" says nothing about what it is."},
    {"naming.no-name", "A layer has no name."},
    {"naming.repeated", "\"{0}\" is the name of {1} layers."},
    {"naming.hidden", "\"{0}\" is hidden."},
    {"naming.empty", "\"{0}\" is empty: nothing of it is drawn."},
    {"naming.outside", "\"{0}\" lies wholly outside the frame."},
    {"naming.file-ending", "The file name \"{0}\" does not end as {1} does."},
    {"naming.file-default", "The file name \"{0}\" says nothing about what it is."},

    {"naming.reference-left-in",
     "\"{0}\" looks like a picture to build over, and would be released."},

    {"zones.none", "This brief has no zones."},
    {"zones.nothing", "Nothing in it is essential: no lettering, no small picture."},
    {"zones.opaque-file",
     "A file without any see-through pixel cannot tell its lettering from its ground."},
    {"zones.good", "All that is essential is seen on every device."},
    {"zones.least", "Of \"{0}\" {1:.1f} % is seen where least is."},
    {"zones.covered", "{1:.1f} % of \"{0}\" lies under: {2}."},
    {"zones.outside", "{1:.1f} % of \"{0}\" lies outside: {2}."},
    {"zones.lost", "{1:.1f} % of \"{0}\" is not shown on: {2}."},
    {"zones.frame",
     "The frame cuts {1:.1f} % of \"{0}\" off; it reaches past it by {2}, {3}, {4} and {5} px: "
     "left, top, right, bottom."},
    {"zones.detail", "{0}: at {2:.2f} s of {3}, {1:.0f} % of what is seen in it is covered."},
    {"zones.allowance", "{0}: {1:.1f} % of it is covered, {2:.0f} % are allowed."},

    {"lettering.none", "There is no lettering."},
    {"lettering.good", "Capitals are {0:.1f} px high at {1} px wide; contrast {2:.1f} : 1."},
    {"lettering.good-video",
     "Capitals are {0:.1f} px high at {1} px wide; over {3} the contrast is {2:.1f} : 1."},
    {"lettering.small",
     "The capitals of \"{0}\" are {1:.1f} px high at {2} px wide; 10 can be read."},
    {"lettering.faint",
     "\"{0}\" has a contrast of {1:.1f} : 1 with what is round it at {2} px wide; 4.5 : 1 can be "
     "read."},
    {"lettering.faint-video",
     "\"{0}\" has a contrast of {1:.1f} : 1 at {2:.2f} s of {3}; 4.5 : 1 can be read."},
    {"lettering.faint-rim",
     "\"{0}\" has a contrast of {1:.1f} : 1 at {2} px wide: its outline is {3:.1f} px there. "
     "{4:.0f} px would carry it."},
    {"lettering.hidden", "{0:.0f} % of \"{1}\" is hidden by what stands over it."},
    {"lettering.share",
     "Lettering covers {0:.0f} % of the frame; over 45 % leaves little else to see."},
    {"lettering.several",
     "Capitals of \"{0}\": {1:.1f} px at {2} px wide. Contrast of \"{3}\": {4:.1f} : 1."},

    {"note.clear", "nothing of it is covered"},
    {"note.covered", "{0} covers {1:.1f} % of \"{2}\""},
    {"note.lost", "{1:.1f} % of \"{2}\" is not shown"},
    {"note.letters", "capitals {0:.1f} px"},
    {"note.no-letters", "no lettering"},

    {"table.exact", "exact and within the limit"},
    {"table.exact-too", "exact, but larger"},
    {"table.nearest", "nearest to the piece of those that fit"},
    {"table.jpegs-job", "grain does not pack: a JPEG's job"},
    {"table.over", "{0} bytes over the limit"},
    {"table.solid", "the see-through part turns solid"},
    {"table.larger", "larger than the exact PNG"},
    {"table.dithered", "256 colours, dithered"},
    {"table.bands", "256 colours: slopes turn to bands"},
    {"table.chroma", "coloured edges bleed"},
    {"table.smaller", "smaller, farther from the piece"},
    {"table.wants-matte", "has no such alpha: choose a matte to lay it on"},
    {"table.cannot", "{0}"},

    {"profile.release", "The release is tagged sRGB, 8 bit."},
    {"profile.srgb", "sRGB, 8 bit: every destination reads it as it was meant."},
    {"profile.cmyk",
     "It is CMYK, made for print: destinations turn its colours in ways of their own."},
    {"profile.other",
     "Its profile is not sRGB: a destination that ignores it shows other colours."},
    {"profile.deep", "It has 16 bit a channel; destinations keep 8."},

    {"length.good", "It lasts {0:.2f} s of the {1:.0f} s that are taken."},
    {"length.no-limit", "It lasts {0:.2f} s; any length is taken."},
    {"length.over", "It lasts {0:.2f} s; {1:.0f} s are taken."},
    {"weight.moving", "Its release is kept under {0} bytes by its quality."},
    {"weight.moving-free", "Its release weighs what its quality asks for; there is no limit."},
    {"format.moving", "{0}, as the brief accepts."},
    {"format.stands-still", "The piece moves, and a {0} stands still: its release is a video."},
    {"standing-out.good", "It stands out from light, dark and busy footage."},
    {"standing-out.least", "Only {0:.0f} % of its edges stand out from {1} footage; 45 % should."},
    {"standing-out.on", "On {0} footage {1:.0f} % of its edges stand out."},
    {"legible.told",
     "It stands out for {0:.0f} % of the time; least at {1:.2f} s, where {2:.0f} % "
     "of its edges do."},
    {"legible.corner",
     "At {0}, it would stand out for {1:.0f} % of the time instead of {2:.0f} %."},
    {"legible.outline",
     "With an outline of {0:.1f} px, it would stand out for {1:.0f} % of the time instead of "
     "{2:.0f} %."},
    {"legible.start",
     "Shown from {0:.2f} s on, it would stand out for {1:.0f} % of that time; now it is {2:.0f} "
     "%."},
    {"standing-out.video-good", "It stands out for the whole of {0}."},
    {"standing-out.video", "It stands out for {0:.0f} % of {1}; 98 % should be."},
    {"standing-out.moment", "At {0:.2f} s only {1:.0f} % of its edges stand out; 45 % should."},
    {"standing-out.nothing", "There is no ink to stand out."},

    {"stamped.good", "The mark stands out along {0:.0f} % of its edges."},
    {"stamped.lost",
     "The mark stands out along {0:.0f} % of its edges only; 45 % should, or it is overlooked."},
    {"stamped.small",
     "Its capitals are {0} px high in a gallery of 600 × 800 px; under 7 px they are hard to "
     "read."},
    {"stamped.head", "It covers {0:.0f} % of a head."},
    {"stamped.made-smaller",
     "The mark would not have fitted on this photograph and was made smaller."},

    {"cut-off.none", "No ink is cut by the frame."},
    {"cut-off.most", "The frame cuts ink along {0} px of its border."},
    {"cut-off.run", "Ink is cut along {0} px here."},
    {"cut-off.side", "Ink spans this whole side, {0} px."},

    {"margins.good", "Empty margins of {0}, {1}, {2} and {3} px: left, top, right, bottom."},
    {"margins.rim", "The {0} margin is empty for {1} px, {2:.0f} % of the side."},
    {"margins.off-centre", "The ink stands {0:.1f} px off the centre."},
    {"margins.nothing", "There is no ink to stand anywhere."},

    {"colours.one", "It has one ink; up to {0} read well."},
    {"colours.few", "It has {0} inks; up to {1} read well."},
    {"colours.many", "It has {0} inks; up to {1} read well as a mark."},
    {"colours.no-plain",
     "Its colours run into each other everywhere; up to {0} plain inks read well as a mark."},
    {"colours.any", "This brief takes any number of colours."},
    {"colours.none", "There is no ink to have a colour."},

    {"coverage.shares",
     "{0:.0f} % of the frame is clear, {1:.0f} % partly covered, {2:.0f} % solid."},
    {"coverage.nothing", "There is no ink: nothing would be seen."},
    {"coverage.opaque", "Nothing is see-through: it would stand as a solid box."},
    {"coverage.as-good-as-opaque",
     "Next to nothing is see-through: it would stand as a solid box."},

    {"fringe.clean", "The edge is clean: no matte is left in it."},
    {"fringe.no-edge", "No picture here has an edge of its own."},
    {"fringe.cannot-tell", "The edge is too short, too soft or too thin to tell."},
    {"fringe.rim", "A {0} rim is left along {1:.0f} % of the edge, {2:.0f} % strong."},
    {"fringe.hard", "A {0} rim is left along {1:.0f} % of the edge, in pixels that are solid."},
    {"fringe.premultiplied",
     "The edge is too dark: its colour was multiplied by alpha and stored as if it was not."},
    {"fringe.unsure",
     "A {0} rim lies along {1:.0f} % of the edge: a matte, or a thin line that is meant. If it is "
     "meant, leave it."},
    {"fringe.left", "The dark rim was left as it is."},
    {"fringe.here", "A {0} rim shows here."},

    {"steps.smooth", "Slanted edges are smooth."},
    {"steps.no-edge", "No picture here has an edge of its own."},
    {"steps.no-slant", "There is no slanted edge to step."},
    {"steps.stepped", "{0:.0f} % of the slanted edges are stair-stepped."},
    {"steps.here", "The edge is stepped here."},

    {"specks.none", "No specks, no pinholes, no haze."},
    {"specks.no-alpha", "No picture here has alpha of its own."},
    {"specks.some", "Specks are left: {0}."},
    {"specks.holes", "Pinholes are left: {1}."},
    {"specks.both", "{0} specks and {1} pinholes are left."},
    {"specks.all", "{0} specks, {1} pinholes, and haze over {2:.2f} % of the area."},
    {"specks.speck", "A speck of {0} px."},
    {"specks.pinhole", "A pinhole of {0} px."},
    {"specks.haze", "Faint haze, far from the ink."},

    {"hidden-colour.good", "What lies under the edge has the ink's colour."},
    {"hidden-colour.flat",
     "One flat colour lies under the edge, as drawing programs leave it: nothing of a picture is "
     "left there."},
    {"hidden-colour.foreign",
     "Under {0:.0f} % of the clear pixels beside the ink lies another colour; a resize would pull "
     "it in."},
    {"hidden-colour.here", "Foreign colour lies under the edge here."},
    {"hidden-colour.opaque", "Nothing is see-through."},

    {"key.see-through",
     "The border is see-through already: there is no background left to take off."},
    {"key.everything",
     "Everything is that near to this colour: nothing would be left. Lower the tolerance, or pick "
     "another colour."},
    {"key.nothing",
     "Nothing of this colour was found there. Pick the background's colour, or raise the "
     "tolerance."},
    {"key.left",
     "{0:.0f} % of the picture has nearly the background's colour and would stay: it has no flat "
     "background."},
    {"key.closed",
     "{0} closed areas of the background's colour are left. Take them, too, if they are holes."},
    {"key.closed-one",
     "One closed area of the background's colour is left. Take it, too, if it is a hole."},
    {"key.spots",
     "{0} spots of nearly the background's colour stand alone and stay. Raise the tolerance if "
     "they "
     "belong to the background."},
    {"key.spot",
     "One spot of nearly the background's colour stands alone and stays. Raise the tolerance if it "
     "belongs to the background."},
    {"key.near", "{0:.1f} % of the picture has nearly the background's colour and stays."},
    {"key.guess",
     "Only {0} % of the border is of one colour: this may not be a flat background. Pick its "
     "colour."},

    {"subject.flat",
     "The ground is flat: a colour key takes it off exactly, and no guess is needed."},
    {"subject.guess",
     "This is a guess, and ways to find the subject do not agree. Draw a box or a stroke."},
    {"subject.none", "No subject was found. Draw a box round it, or a stroke over it."},
    {"subject.fills", "The subject fills the frame: little tells what its ground looks like."},
    {"subject.colours",
     "The subject wears the ground's colours: strokes have to say where it ends."},
    {"subject.soft", "The edge is blurred over {0:.0f} px: its softness is a guess."},
    {"subject.inside",
     "Something inside the box is seen nowhere outside of it: a hole wants a stroke."},

    {"links.none", "No link regions are drawn yet."},
    {"links.good", "All {0} link regions can be hit and lead on."},
    {"links.wrong", "{0} of {1} link regions want mending."},
    {"links.outside", "\"{0}\" reaches past the frame."},
    {"links.small", "\"{0}\" is {1} × {2} px; a finger needs 24 × 24."},
    {"links.address", "{0}"},
    {"links.overlap", "\"{0}\" and \"{1}\" overlap."},

    {"mend.put-links-right", "Put the links right"},
    {"mend.key-background", "Take the background off"},
    {"mend.to-straight", "Put the colour right"},
    {"mend.into-frame", "Move it into the frame"},
    {"mend.leave-rim", "Leave it: it is meant"},
    {"mend.crop-bars", "Crop the bars away"},
    {"mend.fill-bars", "Fill them with a blurred copy"},
    {"mend.take-fringe-off", "Take the fringe off"},
    {"mend.soften-steps", "Soften the steps"},
    {"mend.remove-specks", "Remove the specks"},
    {"mend.fill-pinholes", "Fill the pinholes"},
    {"mend.clear-haze", "Clear the haze"},
    {"mend.bleed-colour", "Bleed the ink's colour under the edge"},
    {"mend.make-room", "Make room inside the frame"},
    {"mend.trim", "Trim the empty rim"},
    {"mend.centre", "Centre the ink"},
    {"mend.pad-to-frame", "Fit into {0} × {1}, with a rim"},
    {"mend.scale-to-source", "Scale to the original's pixels"},
    {"mend.keep-alpha", "Take a format with alpha"},
    {"mend.to-srgb", "Convert to sRGB"},
    {"mend.to-reference", "Keep it out of the release"},
    {"mend.into-zone", "Move into the clear"},
    {"mend.outline-contrast", "Give it an outline"},
    {"mend.outline-contrast.wider", "Widen its outline to {0:.0f} px"},
    {"mend.crop-to-frame", "Crop to {0} × {1}"},
    {"mend.unstretch", "Take the stretch out"},
    {"mend.fit-limit", "Find the best under the limit"},
    {"mend.rename", "Name by content"},

    {"finish.outline", "Outline"},
    {"finish.shadow", "Shadow"},
    {"finish.glow", "Glow"},
    {"finish.bevel", "Bevel"},
    {"finish.px", "Width"},
    {"finish.side", "Side"},
    {"finish.dx", "Right"},
    {"finish.dy", "Down"},
    {"finish.blur", "Blur"},
    {"finish.spread", "Spread"},
    {"finish.opacity", "Strength"},
    {"finish.size", "Width"},
    {"finish.depth", "Depth"},
    {"finish.light", "Light from"},

    {"tone.lifted", "Lifted"},
    {"tone.deep", "Deep"},
    {"tone.lamplight", "Lamplight"},
    {"tone.frost", "Frost"},
    {"tone.faded", "Faded"},
    {"tone.grey", "Grey"},

    {"word.narrower", "narrower"},
    {"word.wider", "wider"},
    {"word.top-and-bottom", "top and bottom"},
    {"word.left-and-right", "left and right"},
});

}  // namespace

std::span<const Phrase> allPhrases() {
    return table;
}

std::string english(const Message& message) {
    if (message.id.empty()) return {};
    const auto row = std::find_if(table.begin(), table.end(),
                                  [&](const Phrase& p) { return p.id == message.id; });
    if (row == table.end()) return message.id;
    fmt::dynamic_format_arg_store<fmt::format_context> numbers;
    for (const MessageValue& value : message.with)
        std::visit(
            [&](const auto& v) {
                // Counts are grouped where they are long enough to be misread: 1,118,204.
                if constexpr (std::is_same_v<std::decay_t<decltype(v)>, long long>)
                    numbers.push_back(v >= 10'000 ? grouped(v) : std::to_string(v));
                else
                    numbers.push_back(v);
            },
            value);
    try {
        return fmt::vformat(fmt::string_view(row->text.data(), row->text.size()), numbers);
    } catch (const fmt::format_error&) {
        return std::string(
            row->id);  // numbers that do not fit the sentence; a test walks the table
    }
}

std::string weightWords(long long bytes) {
    if (bytes >= 1'000'000) return fmt::format("{:.2f} MB", static_cast<double>(bytes) / 1e6);
    if (bytes >= 1'000) return fmt::format("{:.1f} kB", static_cast<double>(bytes) / 1e3);
    return fmt::format("{} bytes", bytes);
}

}  // namespace zl
