// SPDX-License-Identifier: GPL-3.0-or-later
#include "cut/cut.h"

#include "base/overloads.h"
#include "cut/clean.h"
#include "cut/subject/subject.h"

namespace zl {

bool changesPixels(const Cut& cut) {
    return !cut.off && !cut.shape();
}

bool changesShape(const Cut& cut) {
    return !cut.off && cut.shape();
}

Result<Straight8> oneCut(const Straight8& picture, const Cut& cut, const SubjectStart* start,
                         int threads, const std::stop_token& stop) {
    return std::visit(
        Overloads{[&](const KeyCut& key) -> Result<Straight8> {
                      return keyed(picture, key, threads, stop);
                  },
                  [&](const CleanCut& clean) -> Result<Straight8> {
                      return cleaned(picture, clean, threads);
                  },
                  [&](const ShapeCut&) -> Result<Straight8> { return picture.clone(); },
                  [&](const SubjectCut& subject) -> Result<Straight8> {
                      if (start) return subjectCut(picture, *start, subject, threads, stop);
                      const auto own = subjectStart(picture, subject.box, threads, stop);
                      if (!own) return passOn(own.error());
                      return subjectCut(picture, **own, subject, threads, stop);
                  }},
        cut.what);
}

Result<Straight8> cutOut(const Straight8& picture, std::span<const Cut> cuts, int threads,
                         const std::stop_token& stop) {
    Straight8 out = picture.clone();
    for (const Cut& cut : cuts) {
        if (stop.stop_requested()) return fail(Code::cancelled, "Cancelled.");
        if (!changesPixels(cut)) continue;
        auto next = oneCut(out, cut, nullptr, threads, stop);
        if (!next) return passOn(next.error());
        out = std::move(*next);
    }
    return out;
}

}  // namespace zl
