// SPDX-License-Identifier: GPL-3.0-or-later
#include "stamp/run_page.h"

#include <fmt/core.h>

#include "links/links.h"
#include "words/page.h"

namespace zl {
namespace {

std::string pictureTag(const Bytes& jpeg, const std::string& says) {
    if (jpeg.empty()) return {};
    return fmt::format(
        "<figure><img class=\"frame\" alt=\"{0}\" src=\"data:image/jpeg;base64,{1}\">"
        "<figcaption>{0}</figcaption></figure>",
        says, base64(jpeg));
}

std::string rowOf(const RunEntry& entry) {
    const std::string file = escaped(entry.file.filename().string());
    if (entry.state == JobState::failed)
        return fmt::format(
            "<tr><td><span class=\"fail\">◆ not marked</span></td><td>{}</td><td></td>"
            "<td>{}</td></tr>\n",
            file, escaped(entry.error));
    if (entry.state == JobState::leftOut)
        return fmt::format(
            "<tr><td><span class=\"soft\">– left out</span></td><td>{}</td><td></td>"
            "<td></td></tr>\n",
            file);
    std::string says = escaped(entry.says);
    for (const std::string& note : entry.notes)
        says += "<br><span class=\"soft\">" + escaped(note) + "</span>";
    if (entry.keptOutside)
        says += fmt::format(
            "<br><span class=\"soft\">Not encoded again: {} of {} blocks changed.</span>",
            grouped(entry.changed), grouped(entry.blocks));
    return fmt::format(
        "<tr><td>{}</td><td>{}<br><span class=\"soft\">{}, {} × {} px</span></td>"
        "<td>{}{}</td><td>{}</td></tr>\n",
        verdictTag(entry.verdict), file, escaped(entry.target), entry.size.width, entry.size.height,
        pictureTag(entry.beforePicture, "Before"), pictureTag(entry.afterPicture, "After"), says);
}

}  // namespace

std::string pageOf(const RunOutcome& outcome, const std::string& stampName) {
    std::string rows;
    // The worst stand first: what failed, then by their verdict.
    const auto add = [&](const auto& belongs) {
        for (const RunEntry& entry : outcome.entries)
            if (belongs(entry)) rows += rowOf(entry);
    };
    add([](const RunEntry& e) { return e.state == JobState::failed; });
    for (const Verdict verdict :
         {Verdict::fail, Verdict::watch, Verdict::pass, Verdict::notMeasured})
        add([&](const RunEntry& e) { return e.state == JobState::done && e.verdict == verdict; });
    add([](const RunEntry& e) { return e.state == JobState::leftOut; });
    return pageOf(escaped("Stamp run: " + stampName),
                  fmt::format("<p>{} marked, {} not marked, {} left out.</p>\n<section>\n"
                              "<table>\n{}</table>\n</section>\n",
                              outcome.count(JobState::done), outcome.count(JobState::failed),
                              outcome.count(JobState::leftOut), rows));
}

}  // namespace zl
