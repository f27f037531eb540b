// SPDX-License-Identifier: GPL-3.0-or-later
#include "words/page.h"

#include <fmt/core.h>

#include <array>

#include "words/words.h"

namespace zl {
namespace {

constexpr std::string_view style = R"(
body { margin: 32px auto; max-width: 1100px;
  padding: 0 20px; font: 14px/1.45 sans-serif; color: #1D2327; background: #E3E6E8; }
h1 { font-size: 22px; }
h2 { font-size: 17px; margin: 0 0 4px; }
h3 { font-size: 13px; margin: 16px 0 6px; color: #58636B; }
section { background: #F1F3F4; border: 1px solid #BFC5C9;
  border-radius: 4px; padding: 16px 20px; margin: 16px 0; }
table { border-collapse: collapse; width: 100%; }
td { padding: 4px 12px 4px 0; vertical-align: top; border-top: 1px solid #E3E6E8; }
td.value { font-variant-numeric: tabular-nums; white-space: nowrap; } .soft { color: #58636B; }
.pass { color: #2F6B49; }
.watch { color: #8A5A00; }
.fail { color: #A8321F; }
.frame { background: #8F9497; max-width: 100%; }
figure { display: inline-block; margin: 0 14px 14px 0; vertical-align: top; }
figcaption { font-size: 11px; color: #58636B; }
)";

}  // namespace

std::string pageOf(const std::string& title, const std::string& body) {
    return fmt::format(
        "<!DOCTYPE html>\n<html lang=\"en\">\n<head>\n<meta "
        "charset=\"utf-8\">\n<title>{0}</title>\n<style>{1}</style>\n</head>\n<body>\n"
        "<h1>{0}</h1>\n{2}</body>\n</html>\n",
        title, style, body);
}

std::string verdictTag(Verdict verdict) {
    constexpr std::array<const char*, 4> shapes{"–", "▬", "◧", "◆"},
        classes{"soft", "pass", "watch", "fail"}, words{"n/a", "pass", "watch", "fail"};
    const auto i = static_cast<std::size_t>(verdict);
    return fmt::format("<span class=\"{}\">{} {}</span>", classes[i], shapes[i],
                       english({fmt::format("verdict.{}", words[i]), {}}));
}

}  // namespace zl
