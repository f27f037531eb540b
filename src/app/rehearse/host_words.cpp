// SPDX-License-Identifier: GPL-3.0-or-later
#include "rehearse/host_words.h"

#include <QRegularExpression>

#include "look/theme.h"
#include "rehearse/rehearse_view.h"

namespace zl::app {

QString stateWords(HostState state) {
    switch (state) {
        case HostState::draft:
            return RehearseView::tr("▬ Accepted, a draft");
        case HostState::published:
            return RehearseView::tr("▬ Accepted, published");
        case HostState::draftOverPublished:
            return RehearseView::tr("▬ Accepted, a draft over what is published");
        case HostState::nothing:
            break;
    }
    return RehearseView::tr("–");
}

QString saidAsTable(const HostAnswer& answer) {
    QString said = "<table width='100%' cellspacing='0'>";
    for (const HostSaid& one : answer.said) {
        const QString shape = one.verdict == Verdict::fail    ? "◆"
                              : one.verdict == Verdict::watch ? "◧"
                                                              : "▬";
        said += QString(
                    "<tr><td style='color:%1; padding:0 8px 6px 0'>%2</td><td style='padding:0 8px "
                    "6px 0'>%3<br><span "
                    "style='color:%4'>%5</span></td></tr>")
                    .arg(verdictColour(one.verdict, false).name(), shape,
                         QString::fromStdString(one.what).toHtmlEscaped(),
                         Theme::now()["ink-soft"].name(),
                         QString::fromStdString(one.beside).toHtmlEscaped());
    }
    said += "</table>";
    static const QRegularExpression aroundTimes("([0-9]) (×) ([0-9])");  // a size stays on one line
    said.replace(aroundTimes, "\\1&nbsp;\\2&nbsp;\\3");
    return said;
}

}  // namespace zl::app
