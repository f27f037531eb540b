// SPDX-License-Identifier: GPL-3.0-or-later
// `from-video`: whether the main picture is found in the video that the piece goes with (common
// practice, no source: a picture of what the video does not hold disappoints).
#include <fmt/core.h>

#include "readings/reading.h"

namespace zl {

Reading measureFromVideo(const Subject& subject) {
    using Origin = FilmFacts::Origin;
    Reading reading;
    reading.unit = "s";
    if (!subject.film) {
        reading.says = {"from-video.unknown", {}};
        return reading;
    }
    const FilmFacts& film = *subject.film;
    switch (film.origin) {
        case Origin::noPicture:
            reading.says = {"from-video.no-picture", {}};
            return reading;
        case Origin::videoGone:
            reading.says = {"from-video.gone", {film.video}};
            return reading;
        case Origin::notLookedThrough:
            reading.says = {"from-video.unseen", {film.video}};
            return reading;
        case Origin::taken:
        case Origin::found:
            reading.verdict = Verdict::pass;
            reading.value = film.time;
            reading.shown = fmt::format("{:.1f} s", film.time);
            reading.shownBeside = "of the video";
            reading.says = {film.origin == Origin::taken ? "from-video.taken" : "from-video.found",
                            {film.video, film.time}};
            return reading;
        case Origin::notFound:
            break;
    }
    reading.verdict = Verdict::watch;
    reading.shown = "not found";
    reading.says = {"from-video.not-found", {film.video}};
    const Layer* layer = subject.piece->layer(film.layer);
    reading.findings.push_back({PixelRect::of(subject.piece->frame),
                                film.layer,
                                {"from-video.layer", {layer ? layer->name : std::string()}}});
    return reading;
}

}  // namespace zl
